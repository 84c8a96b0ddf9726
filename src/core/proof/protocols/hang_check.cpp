#include "core/model/stand.h"
#include "core/proof/asking.h"
#include "core/study/links.h"

namespace dervish::proof {

Protocol hang_check() {
    using enum units::Quantity;
    const FieldSpec left{"left", "Bend left between link and arm, left", Angle, Tool::AngleGauge, 0, 90 * units::deg},
        right{"right", "Bend left between link and arm, right", Angle, Tool::AngleGauge, 0, 90 * units::deg};
    return {
        "hang_check",
        "Hang check",
        Sort::Standing,
        "How far link and arm are from one line with the suspension hanging: 0 is about to go over centre.",
        {end_setting()},
        {{left, 1 * units::deg, 0, 0.5 * units::deg}, {right, 1 * units::deg, 0, 0.5 * units::deg}},
        {"stands on firm ground", "angle gauge"},
        {"Car on stands, axle lowered slowly to full droop, hands clear.",
         "Read the bend left between link and arm on each side; look at hoses and joints there too."},
        "The dampers are fully out.",
        "Stands on firm ground, wheels chocked, never under a car on a jack. Hands clear while the axle goes down: a "
        "bar that goes over centre snaps.",
        {},
        [](const Settings& s) -> Answers {
            return [end = end_of_setting(s)](const Asked& asked) {
                std::vector<double> out(2, std::nan(""));
                const AxleSetup& a = asked.setup[end];
                const auto sides = a.fitted && a.connected ? link_sides(a, asked.vehicle[end]) : std::nullopt;
                if (!sides) return out;
                const double droop = stop_gaps(a, asked.vehicle[end]).droop;
                for (std::size_t side = 0; side < 2; ++side)
                    if (const auto at = linkage::at((*sides)[side].end, (*sides)[side].branch, {-droop, -droop}))
                        out[side] = units::pi / 2 - at->off_square;
                return out;
            };
        }};
}

} // namespace dervish::proof
