#include "core/linkage/plan.h"
#include "core/proof/asking.h"
#include "core/study/links.h"

namespace dervish::proof {

Protocol left_right() {
    using enum units::Quantity;
    return {
        "left_right",
        "Left against right",
        Sort::Standing,
        "Whether the links are as long left and right as they are meant to be.",
        {end_setting()},
        {{{"difference", "Left lift less right lift", Length, Tool::Tape, -0.5, 0.5, "when the other arm just moves"},
          1.5e-3,
          0,
          1e-3}},
        {"trolley jack with a pad", "tape or height gauge", "stands"},
        {"On level ground lift one wheel slowly until the other side's arm just starts to move; note the height.",
         "The same at the other side's contact point. What is read is left less right."},
        "The other side's arm starts to move.",
        "Stands under the car, wheels chocked; nobody under it on a jack.",
        {},
        [](const Settings& s) -> Answers {
            return [end = end_of_setting(s)](const Asked& asked) {
                const AxleSetup& a = asked.setup[end];
                if (!a.fitted || !a.connected || a.held == Held::Clamped) return std::vector{std::nan("")};
                const auto sides = link_sides(a, asked.vehicle[end]);
                if (!sides) return std::vector{std::nan("")};
                const bool below = (*sides)[0].rest.pickup.z() < (*sides)[0].rest.eye.z();
                const auto read =
                    linkage::lift_readings(a.links.right_longer.value, 0, link_per_wheel(a, asked.vehicle[end]), below);
                return std::vector{read[0] - read[1]};
            };
        }};
}

} // namespace dervish::proof
