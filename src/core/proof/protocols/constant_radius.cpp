#include "core/proof/asking.h"

namespace dervish::proof {

Protocol constant_radius() {
    using enum units::Quantity;
    return {"constant_radius",
            "Circle of constant radius",
            Sort::Driving,
            "What the car holds on a circle, and how much more steering it wants on the way there.",
            {{{"radius", "Circle's radius", Length, Tool::Tape, 2, 500}, 20},
             {{"steady_speed", "Steering read at", units::Quantity::Speed, Tool::Test, 1, 60}, 8},
             {{"ratio", "Steering's ratio", Number, Tool::Test, 1, 40,
               "turn of the steering wheel per turn of the road wheels"},
              16},
             ground_setting()},
            {{{"speed", "Highest steady speed", units::Quantity::Speed, Tool::Test, 0, 100},
              0.15,
              0,
              0.1,
              false,
              nullptr,
              0.02},
             {{"lap", "Time of a lap, s", Number, Tool::Test, 0, 1000}, 0.15, 0, 0.1, false, nullptr, 0.02},
             {{"steering", "Steering wheel at the steady speed", Angle, Tool::AngleGauge, -10, 20},
              3 * units::deg,
              0,
              2 * units::deg,
              false,
              nullptr,
              0.05}},
            {"a marked circle on a closed place", "stop watch", "tape on the steering wheel's rim"},
            {"Warm up. Drive the circle at the steady speed, read the steering wheel; both ways round.",
             "Go faster by steps until the line cannot be held; time the last clean lap."},
            "The line is lost at either end.",
            "A closed course with room to slide, within the driver's skill, never a public road. Nobody outside the "
            "circle.",
            {},
            [](const Settings& s) {
                return of_car(std::optional<balance::Limit>(), [s](const Asked& asked, const car::Car& car,
                                                                   std::optional<balance::Limit>& first) {
                    const balance::Model model = to_model(asked.vehicle, asked.setup, car, ground_of(s));
                    const balance::Limit limit = balance::outright_limit(model, first ? &*first : nullptr);
                    if (!first) first = limit;
                    const double radius = s.at("radius"), speed = std::sqrt(limit.lateral * radius),
                                 slow = s.at("steady_speed");
                    const balance::Corner c = balance::corner(model, slow * slow / radius);
                    return std::vector{speed, 2 * units::pi * radius / speed,
                                       c.holds ? s.at("ratio") * (model.car.wheelbase / radius + c.steer)
                                               : std::nan("")};
                });
            },
            bears_on_drives};
}

} // namespace dervish::proof
