#include "core/proof/asking.h"
#include "core/study/outside.h"

namespace dervish::proof {

Protocol side_push() {
    using enum units::Quantity;
    return {"side_push",
            "Push at the side",
            Sort::Standing,
            "How far the body leans under a push of known force at a known height.",
            {{{"force", "Force", Force, Tool::Test, 1, 20000}, 300},
             {{"height", "At a height of", Length, Tool::Tape, 0.05, 4}, 1.2}},
            {{{"lean", "Lean", Angle, Tool::AngleGauge, -0.2, 0.6}, 0.05 * units::deg, 0, 0.05 * units::deg}},
            {"spring balance or a weight over a pulley", "strap to a strong point of the body", "angle gauge"},
            {"Wheels chocked, midway between the axles; rock the car, gauge to nought.",
             "Pull level and square to the car with the force; rock, read; let off and read nought."},
            "The gauge is still.",
            "Nobody in line with the strap. Far below what would tip the car.",
            {},
            [](const Settings& s) {
                return of_car([s](const Asked&, const car::Car& car) {
                    return std::vector{
                        study::lean_in_wind(car, {0, 0, s.at("force"), s.at("height")}).value_or(std::nan(""))};
                });
            }};
}

} // namespace dervish::proof
