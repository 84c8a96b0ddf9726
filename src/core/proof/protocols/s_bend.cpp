#include "core/proof/asking.h"

namespace dervish::proof {

Protocol s_bend() {
    using enum units::Quantity;
    return {"s_bend",
            "S-bend",
            Sort::Driving,
            "The highest entry speed through two bends of unlike hand, the lean, and how slow the car is to take a set "
            "as the bend reverses.",
            {{{"radius", "Bends' radius", Length, Tool::Tape, 2, 500}, 40},
             {{"length", "From bend to bend", Length, Tool::Tape, 2, 300}, 35},
             {{"speed", "Lean read at", units::Quantity::Speed, Tool::Test, 1, 60}, 13},
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
              0.05},
             {{"time", "Time, s", Number, Tool::Test, 0, 200, "from the first bend to the end of the second"},
              0.15,
              0,
              0.1,
              false,
              nullptr,
              0.04}},
            {"cones or a closed piece of road", "stop watch", "gauge that keeps its most, or a camera"},
            {"Enter at a steady speed and keep it; faster by small steps until the line is lost.",
             "The last clean speed and its time; the lean at the set speed."},
            "The line is lost twice at one speed.",
            course_caution,
            {},
            [](const Settings& s) {
                const Course course{balance::Manoeuvre::SBend, s.at("length"), s.at("radius")};
                return of_car(CleanAndLean{CleanSpeeds(course)},
                              [s, course](const Asked& asked, const car::Car& car, CleanAndLean& of) {
                                  const balance::Model model = to_model(asked.vehicle, asked.setup, car, ground_of(s));
                                  const auto speed = of.clean.of(model, asked.part);
                                  if (!speed) return std::vector<double>();
                                  const balance::Run run = of.lean.of(model, course.at(s.at("speed")), asked.part < 1);
                                  return std::vector{*speed, most_lean(run), 2 * s.at("length") / *speed};
                              });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
