#include "core/proof/asking.h"

namespace dervish::proof {

Protocol corner_lean() {
    using enum units::Quantity;
    return {"corner_lean",
            "Lean in a bend",
            Sort::Driving,
            "How far the body leans in a steady bend, by a gauge aboard or from a picture.",
            {{{"radius", "Bend's radius", Length, Tool::Tape, 2, 1000}, 30},
             {{"speed", "Speed", units::Quantity::Speed, Tool::Test, 1, 80}, 11},
             {{"bend", "Bend", Number, Tool::Test, 0, 1}, 0, {"left-hand", "right-hand"}},
             ground_setting()},
            {{{"lean", "Lean", Angle, Tool::AngleGauge, -0.2, 0.6},
              0.2 * units::deg,
              0,
              0.15 * units::deg,
              false,
              nullptr,
              0.04}},
            {"a circle or wide bend of known radius",
             "pictures from behind, level in the frame, or a gauge corrected for the bend"},
            {"Drive the bend at one speed, throttle steady; three pictures a run.",
             "Read the lean against the horizon, less what the car has at rest."},
            "Three pictures at one speed.",
            course_caution,
            {},
            [](const Settings& s) {
                return of_car([s](const Asked& asked, const car::Car& car) {
                    const double way = s.at("bend") < 0.5 ? 1 : -1;
                    const balance::Corner c = balance::corner(to_model(asked.vehicle, asked.setup, car, ground_of(s)),
                                                              way * s.at("speed") * s.at("speed") / s.at("radius"));
                    return std::vector{c.holds ? way * more_lean(car, c.state) : std::nan("")};
                });
            },
            bears_on_drives};
}

} // namespace dervish::proof
