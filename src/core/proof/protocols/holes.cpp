#include "core/proof/asking.h"

namespace dervish::proof {

Protocol holes() {
    using enum units::Quantity;
    const auto of = [](const Settings& s) {
        return flex::Protocol{.kind = flex::Kind::Holes, .raised = raised_of(s), .highest = s.at("deepest")};
    };
    Protocol p{
        "holes",
        "Cross-axle holes",
        Sort::Ramps,
        "How deep two holes on a diagonal may be before a wheel over them hangs.",
        {raised_setting("Over holes"), {{"deepest", "They end at", Length, Tool::Tape, 0.01, 3}, 0.8}},
        with_travels(
            {{{"depth", "Depth when a wheel goes light", Length, Tool::Tape, 0, 3}, 10e-3, 0, 8e-3, false, "deepest"}}),
        {"two holes, or boards under the other two wheels", "tape"},
        {"Deepen both holes, or raise the boards, by equal steps.",
         "Read the depth at which a tyre over a hole goes light, and each wheel's travel."},
        "A tyre over a hole goes light; or it is deep enough: type \"> depth\".",
        "Firm edges that cannot break away, low gear, one person guiding. Nobody beside the car. Stop when a "
        "tyre, hose or link touches.",
        {},
        [of](const Settings& s) { return reach_and_travels(of(s)); }};
    p.light_wheel = light_wheel_of(of);
    return p;
}

} // namespace dervish::proof
