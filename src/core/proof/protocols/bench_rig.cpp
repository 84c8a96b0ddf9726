#include "core/proof/asking.h"
#include "core/proof/rig_check.h"

namespace dervish::proof {

Protocol bench_rig() {
    using enum units::Quantity;
    return {"bench_rig",
            "Bar on the bench",
            Sort::Bench,
            "The bar's own give, without the car: a mass on one eye, the other held.",
            {end_setting(),
             {{"mass", "Mass", Mass, Tool::Scale, 0.01, 300}, 20},
             {{"both", "Loaded", Number, Tool::Test, 0, 1}, 0, {"one arm held", "both pulled apart"}},
             {{"blocks", "Held in", Number, Tool::Test, 0, 1}, 0, {"its own mounts", "rigid blocks"}}},
            {{{"dial", "Dial at the eye", Length, Tool::Calliper, -0.3, 0.3}, 0.05e-3, 0.005, 0.05e-3}},
            {"a bench that does not give", "dial gauge", "a mass that is known to half a per cent"},
            {"Links off, mounts as on the car or rigid blocks, other eye held.",
             "Dial to nought, mass on, read; mass off and read again: what does not come back is rubbing."},
            "The dial is still.",
            "A bar under load holds energy: keep hands and face out of its way, take the mass off before any clamp.",
            {},
            [](const Settings& s) -> Answers {
                RigCheck rig;
                rig.both_arms = s.at("both") > 0.5;
                rig.blocks = s.at("blocks") > 0.5;
                return [rig, end = end_of_setting(s), mass = s.at("mass")](const Asked& asked) {
                    const Assembly& a = asked.setup[end];
                    if (!a.fitted || a.held == Held::Clamped) return std::vector{std::nan("")};
                    return std::vector{rig_dial(a, rig, mass / asked.bar_scale)};
                };
            }};
}

} // namespace dervish::proof
