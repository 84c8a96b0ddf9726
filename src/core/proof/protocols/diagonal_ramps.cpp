#include "core/proof/asking.h"

namespace dervish::proof {

Protocol diagonal_ramps() {
    using enum units::Quantity;
    const auto of = [](const Settings& s) {
        return flex::Protocol{.raised = raised_of(s), .highest = s.at("ramp_height")};
    };
    Protocol p{"diagonal_ramps",
               "Diagonal ramps",
               Sort::Ramps,
               "How far front and rear follow a twisted track before a wheel goes light.",
               {raised_setting("Raised"), {{"ramp_height", "They end at", Length, Tool::Tape, 0, 3}, 0.8}},
               with_travels({{{"height", "Height when a wheel goes light", Length, Tool::Tape, -0.2, 3},
                              5e-3,
                              0,
                              4e-3,
                              false,
                              "ramp_height"}}),
               {"two ramps that cannot slip", "blocks or a jack that raises them by steps", "tape",
                "paper to draw from under a tyre"},
               {"Park on firm level ground, brake off, in gear, one person guiding.",
                "Raise both ramps by equal steps; let the car settle by rocking it.",
                "Read the height at which paper slips from under a tyre, and each wheel's travel."},
               "The first tyre from under which paper slips; or the ramps end: type \"> height\".",
               ramp_caution,
               {},
               [of](const Settings& s) { return reach_and_travels(of(s)); }};
    p.light_wheel = light_wheel_of(of);
    return p;
}

} // namespace dervish::proof
