#include "core/model/stand.h"
#include "core/num/root.h"
#include "core/proof/asking.h"
#include "core/study/links.h"

namespace dervish::proof {

namespace {
/// How far both wheels hang where a link goes over centre, m; nothing down to `droop`.
std::optional<double> over_centre(const linkage::BarEnd& end, linkage::Branch branch, double droop) {
    const auto left = [&](double down) { return linkage::reach_left(end, {-down, -down}); };
    constexpr int steps = 40;
    for (int i = 1; i <= steps; ++i) {
        const double from = droop * (i - 1) / steps, to = droop * i / steps;
        if (linkage::at(end, branch, {-to, -to})) continue;
        const double before = left(from), after = left(to);
        return before > 0 && after < 0 ? root_between(left, from, to, before, after, 1e-6) : to;
    }
    return {};
}
} // namespace

Protocol hang_check() {
    using enum units::Quantity;
    const FieldSpec left{"left", "Bend left between link and arm, left", Angle, Tool::AngleGauge, 0, 90 * units::deg},
        right{"right", "Bend left between link and arm, right", Angle, Tool::AngleGauge, 0, 90 * units::deg},
        over_left{"over_left", "Goes over centre at, left", Length, Tool::Tape, 0, 1, "droop of the wheels"},
        over_right{"over_right", "Goes over centre at, right", Length, Tool::Tape, 0, 1, "droop of the wheels"};
    return {
        "hang_check",
        "Hang check",
        Sort::Standing,
        "How far link and arm are from one line with the suspension hanging (0 is about to go over centre), or how far "
        "down "
        "they go over it.",
        {end_setting()},
        {{left, 1 * units::deg, 0, 0.5 * units::deg},
         {right, 1 * units::deg, 0, 0.5 * units::deg},
         {over_left, 5e-3, 0, 3e-3},
         {over_right, 5e-3, 0, 3e-3}},
        {"stands on firm ground", "angle gauge"},
        {"Car on stands, axle lowered slowly to full droop, hands clear.",
         "Read the bend left between link and arm on each side; look at hoses and joints there too.",
         "Where link and arm come into one line before the dampers are out, stop there and read how far the wheel "
         "hangs."},
        "The dampers are fully out.",
        "Stands on firm ground, wheels chocked, never under a car on a jack. Hands clear while the axle goes down: a "
        "bar that goes over centre snaps.",
        {},
        [](const Settings& s) -> Answers {
            return [end = end_of_setting(s)](const Asked& asked) {
                std::vector<double> out(4, std::nan(""));
                const AxleSetup& a = asked.setup[end];
                const auto sides = a.fitted && a.connected ? link_sides(a, asked.vehicle[end]) : std::nullopt;
                if (!sides) return out;
                const double droop = stop_gaps(a, asked.vehicle[end]).droop;
                for (std::size_t side = 0; side < 2; ++side) {
                    const linkage::BarEnd& bar = (*sides)[side].end;
                    const linkage::Branch branch = (*sides)[side].branch;
                    if (const auto over = over_centre(bar, branch, droop))
                        out[2 + side] = *over;
                    else if (const auto at = linkage::at(bar, branch, {-droop, -droop}))
                        out[side] = units::pi / 2 - at->off_square;
                }
                return out;
            };
        }};
}

} // namespace dervish::proof
