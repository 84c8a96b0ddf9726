#include "core/proof/asking.h"

namespace dervish::proof {

Protocol lane_change() {
    using enum units::Quantity;
    return {"lane_change",
            "Lane change",
            Sort::Driving,
            "The highest speed at which the car still changes lane between cones, and how it leans on the way.",
            {{{"length", "Length between gates", Length, Tool::Tape, 2, 100}, 25},
             {{"aside", "Lane aside", Length, Tool::Tape, 0.1, 10}, 3.5},
             {{"speed", "Lean read at", units::Quantity::Speed, Tool::Test, 1, 60}, 12},
             ground_setting()},
            {{{"clean", "Highest clean speed", units::Quantity::Speed, Tool::Test, 0, 100},
              0.3,
              0,
              0.2,
              false,
              nullptr,
              0.04},
             {{"lean", "Most lean", Angle, Tool::AngleGauge, -0.2, 0.6},
              0.2 * units::deg,
              0,
              0.15 * units::deg,
              false,
              nullptr,
              0.05}},
            {"cones for two gates", "closed place", "gauge that keeps its most, or a camera"},
            {"Enter at a steady speed, throttle lifted at the first gate, no brake.",
             "Faster by small steps until a cone falls; the last clean speed counts. Lean at the set speed."},
            "A cone falls twice at one speed.",
            course_caution,
            {},
            [](const Settings& s) {
                const Course course{balance::Manoeuvre::LaneChange, s.at("length"), s.at("aside")};
                return of_car(CleanAndLean{CleanSpeeds(course)},
                              [s, course](const Asked& asked, const car::Car& car, CleanAndLean& of) {
                                  const balance::Model model = to_model(asked.vehicle, asked.setup, car, ground_of(s));
                                  const balance::Run run = of.lean.of(model, course.at(s.at("speed")), asked.part < 1);
                                  const auto clean = of.clean.of(model, asked.part);
                                  return clean ? std::vector{*clean, most_lean(run)} : std::vector<double>();
                              });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
