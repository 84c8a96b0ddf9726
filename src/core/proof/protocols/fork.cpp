#include "core/proof/asking.h"

namespace dervish::proof {

Protocol fork() {
    using enum units::Quantity;
    const auto of = [](const Settings& s) {
        return flex::Protocol{.kind = flex::Kind::Lift, .wheel = wheel_of(s), .highest = s.at("highest")};
    };
    Protocol p{"fork",
               "Fork or jack under one wheel",
               Sort::Ramps,
               "How high one wheel goes before another leaves the ground.",
               {wheel_setting("Lifted", 0), {{"highest", "It goes up to", Length, Tool::Tape, 0.01, 3}, 0.8}},
               with_travels({{{"height", "Height when another wheel goes light", Length, Tool::Tape, 0, 3},
                              5e-3,
                              0,
                              4e-3,
                              false,
                              "highest"}}),
               {"fork lift or trolley jack with a pad under the tyre", "chocks", "tape"},
               {"Chock the other wheels; lift under the tyre, not under the body, by steps.",
                "Read the height at which another tyre goes light, and each wheel's travel."},
               "Another tyre goes light; or the fork ends: type \"> height\".",
               "Lift only under the tyre, on firm ground, wheels chocked both ways. Nobody under or beside the car. "
               "Never under a car on a jack. Lower slowly.",
               {},
               [of](const Settings& s) { return reach_and_travels(of(s)); }};
    p.light_wheel = light_wheel_of(of);
    return p;
}

} // namespace dervish::proof
