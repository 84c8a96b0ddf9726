#include "core/proof/asking.h"

namespace dervish::proof {

Protocol side_slope() {
    using enum units::Quantity;
    return {
        "side_slope",
        "Side slope",
        Sort::Ramps,
        "How much the body leans further than the ground on a slope that is well within what the car bears.",
        {{{"slope", "Slope", Angle, Tool::AngleGauge, 1 * units::deg, 30 * units::deg}, 10 * units::deg},
         {{"uphill", "Uphill", Number, Tool::Test, 0, 1}, 0, {"left side", "right side"}}},
        {{{"lean", "Body's lean beyond the slope", Angle, Tool::AngleGauge, -0.2, 0.6},
          0.15 * units::deg,
          0,
          0.1 * units::deg}},
        {"a paved slope of known angle", "angle gauge on the body's sill and on the ground"},
        {"Read the gauge on the sill on level ground: that is nought.",
         "Drive on to the slope along it, brake off, rock the car, read sill and ground."},
        "The car stands still on the slope.",
        "Far below the slope at which the car would tip: see Flex, side slope. A roof load, a lift and a bar off each "
        "lower that, together more so. Nobody on the downhill side.",
        {},
        [](const Settings& s) {
            return of_car([angle = (s.at("uphill") < 0.5 ? 1 : -1) * s.at("slope")](const Asked&, const car::Car& car) {
                const double lean = more_lean(car, car::settle(car, {.side_slope = angle}));
                return std::vector{angle > 0 ? lean : -lean};
            });
        }};
}

} // namespace dervish::proof
