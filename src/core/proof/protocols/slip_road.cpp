#include "core/proof/asking.h"

namespace dervish::proof {

Protocol slip_road() {
    using enum units::Quantity;
    return {"slip_road",
            "Slip road",
            Sort::Driving,
            "The lean as a bend tightens steadily, as on a slip road.",
            {{{"speed", "Speed", units::Quantity::Speed, Tool::Test, 2, 60}, 16},
             {{"lateral", "Tightest, in g", Number, Tool::Test, 0.05, 1.5}, 0.4},
             ground_setting()},
            {{{"lean", "Most lean", Angle, Tool::AngleGauge, -0.2, 0.6},
              0.2 * units::deg,
              0,
              0.15 * units::deg,
              false,
              nullptr,
              0.04}},
            {"a closed bend that tightens", "gauge that keeps its most, or a camera"},
            {"Enter at the speed, throttle steady, steering on over three seconds.", "Read the most lean."},
            "The tightest part is passed.",
            course_caution,
            {},
            [](const Settings& s) {
                return of_car(
                    balance::DriveNear(), [s](const Asked& asked, const car::Car& car, balance::DriveNear& drives) {
                        const balance::Run run = drives.of(
                            to_model(asked.vehicle, asked.setup, car, ground_of(s)),
                            {balance::Manoeuvre::SlipRoad, s.at("speed"), s.at("lateral") * units::g}, asked.part < 1);
                        return std::vector{most_lean(run)};
                    });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
