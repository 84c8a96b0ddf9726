#include "core/proof/asking.h"

namespace dervish::proof {

Protocol corner_scales() {
    using enum units::Quantity;
    std::vector<Channel> loads;
    static constexpr const char* keys[] = {"front_left", "front_right", "rear_left", "rear_right"};
    static constexpr const char* labels[] = {"Front left scale", "Front right scale", "Rear left scale",
                                             "Rear right scale"};
    for (std::size_t w = 0; w < 4; ++w)
        loads.push_back({{keys[w], labels[w], Mass, Tool::Scale, 0, 5000}, 0, 0.004, 0});
    return {"corner_scales",
            "Corner scales",
            Sort::Standing,
            "What each wheel carries; with and without the links, what the bar puts on a wheel at rest.",
            {},
            loads,
            {"four scales on one level", "the people and the load that are aboard in the setup"},
            {"Scales level to a millimetre, tyres at their pressures, brake off, out of gear.",
             "Roll on and off, rock the car, read all four; with and without the links as two states."},
            "The scales are still.",
            "Chock the scales; loosen links with both wheels at equal height: a bar under twist holds energy.",
            {},
            [](const Settings&) {
                return of_car([](const Asked&, const car::Car& car) {
                    const car::State still = car::settle(car, {});
                    std::vector<double> out;
                    for (const car::Wheel& w : still.wheels)
                        out.push_back(still.converged ? w.load / units::g : std::nan(""));
                    return out;
                });
            }};
}

} // namespace dervish::proof
