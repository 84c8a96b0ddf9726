#include "core/proof/asking.h"

namespace dervish::proof {

Protocol slalom() {
    using enum units::Quantity;
    return {"slalom",
            "Slalom",
            Sort::Driving,
            "The highest speed at which the car still goes round cones in a row, and the time that it takes.",
            {{{"spacing", "Cone to cone", Length, Tool::Tape, 1, 60}, 18},
             {{"aside", "Line to each side", Length, Tool::Tape, 0.1, 5}, 1.3},
             {{"cones", "Cones", Number, Tool::Test, 3, 30}, 8},
             ground_setting()},
            {{{"clean", "Highest clean speed", units::Quantity::Speed, Tool::Test, 0, 100},
              0.3,
              0,
              0.2,
              false,
              nullptr,
              0.04},
             {{"time", "Time, s", Number, Tool::Test, 0, 200}, 0.15, 0, 0.1, false, nullptr, 0.04}},
            {"cones in a row", "closed place", "stop watch"},
            {"Enter at a steady speed and keep it; faster by small steps until a cone falls.",
             "The last clean speed, and the time from the first cone to the last."},
            "A cone falls twice at one speed.",
            course_caution,
            {},
            [](const Settings& s) {
                const double way = (s.at("cones") - 1) * s.at("spacing");
                return of_car(CleanSpeeds({balance::Manoeuvre::Slalom, 2 * s.at("spacing"), s.at("aside")}),
                              [s, way](const Asked& asked, const car::Car& car, CleanSpeeds& speeds) {
                                  const auto speed =
                                      speeds.of(to_model(asked.vehicle, asked.setup, car, ground_of(s)), asked.part);
                                  return speed ? std::vector{*speed, way / *speed} : std::vector<double>();
                              });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
