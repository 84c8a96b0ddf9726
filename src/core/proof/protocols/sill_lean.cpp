#include "core/proof/asking.h"
#include "core/study/outside.h"

namespace dervish::proof {

Protocol sill_lean() {
    using enum units::Quantity;
    return {"sill_lean",
            "Somebody on the sill",
            Sort::Standing,
            "How far the car leans under a person who stands on its sill: roll stiffness without a drive.",
            {{{"person", "Person's mass", Mass, Tool::Scale, 0, 1000, "usual: the car's own entry", "usual", 0}, 0},
             {{"out", "From the car's middle", Length, Tool::Tape, 0, 3, "usual: over the wheels", "usual", 0}, 0},
             {{"side", "On the", Number, Tool::Test, 0, 1}, 1, {"left", "right"}}},
            {{{"lean", "Lean", Angle, Tool::AngleGauge, -0.2, 0.6}, 0.05 * units::deg, 0, 0.05 * units::deg}},
            {"a person who has been weighed", "angle gauge across the body"},
            {"Brake off, out of gear, wheels chocked loosely; rock the car, gauge to nought.",
             "Person up, holding on without a push; rock the car, read; down again and read nought."},
            "The gauge is still.",
            "Wheels chocked; step off before anybody leans in.",
            {},
            [](const Settings& s) {
                return of_car([s](const Asked& asked, const car::Car& car) {
                    study::Outside push = study::outside(asked.vehicle);
                    if (s.at("person") > 0) push.person = s.at("person");
                    if (s.at("out") > 0) push.out = s.at("out");
                    const bool right = s.at("side") > 0.5;
                    if (!right) push.out = -push.out;
                    const double lean = study::lean_by_person(car, push).value_or(std::nan(""));
                    return std::vector{right ? lean : -lean};
                });
            }};
}

} // namespace dervish::proof
