#include "core/proof/asking.h"

namespace dervish::proof {

Protocol steering_step() {
    using enum units::Quantity;
    return {"steering_step",
            "Step of the steering",
            Sort::Driving,
            "How soon the car answers the steering and how it takes its set.",
            {{{"speed", "Speed", units::Quantity::Speed, Tool::Test, 2, 60}, 20},
             {{"lateral", "Up to, in g", Number, Tool::Test, 0.05, 1.2}, 0.4},
             ground_setting()},
            {{{"lean", "Most lean", Angle, Tool::AngleGauge, -0.2, 0.6},
              0.2 * units::deg,
              0,
              0.15 * units::deg,
              false,
              nullptr,
              0.05},
             {{"answer", "Turning at 90 % after, s", Number, Tool::Test, 0, 5}, 0.02, 0, 0.02, false, nullptr, 0.05}},
            {"a closed place as wide as long", "logger or camera with a clock"},
            {"Straight at the speed, then the steering wheel at once to a mark and held.",
             "Read the most lean and when the turning has come up to nine tenths."},
            "Two seconds after the step.",
            "A closed course with room on both sides, within the driver's skill, never a public road.",
            {},
            [](const Settings& s) {
                return of_car(balance::DriveNear(),
                              [s](const Asked& asked, const car::Car& car, balance::DriveNear& drives) {
                                  const balance::Run run =
                                      drives.of(to_model(asked.vehicle, asked.setup, car, ground_of(s)),
                                                {balance::Manoeuvre::Step, s.at("speed"), s.at("lateral") * units::g},
                                                asked.part < 1);
                                  std::vector<double> out(2, std::nan(""));
                                  if (!run.done()) return out;
                                  out[0] = run.roll_peak;
                                  if (run.yaw_90) out[1] = *run.yaw_90;
                                  return out;
                              });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
