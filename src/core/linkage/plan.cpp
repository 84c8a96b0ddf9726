#include "core/linkage/plan.h"

#include "core/linkage/circle.h"

#include <algorithm>

namespace dervish::linkage {
namespace {
BarEnd with_link(const BarEnd& end, double length) {
    BarEnd out = end;
    out.link = length;
    return out;
}
} // namespace

std::optional<Length> with_length(const BarEnd& end, double length, const Stance& stance) {
    const BarEnd tried = with_link(end, length);
    const auto branch = length > 0 ? branch_at_rest(tried) : std::nullopt;
    if (!branch) return {};
    const auto rest = at(tried, *branch, {stance.ride, stance.ride});
    if (!rest) return {};
    const auto low = at(tried, *branch, {-stance.droop, -stance.droop});
    // A linkage that closes there may still have been over centre on the way.
    const bool follows = low && !over_centre(tried, Mode::Bump, -stance.droop);
    return Length{length, attitude(tried, rest->turn), follows ? low->off_square : units::pi / 2};
}

std::optional<double> level_length(const BarEnd& end, double travel) {
    return length_for(end, level_turn(end), {travel, travel});
}

std::optional<Length> length_for_droop(const BarEnd& end, const Stance& stance, double off_square) {
    const auto level = level_length(end, stance.ride);
    if (!level) return {};
    const auto good = [&](double length) {
        const auto l = with_length(end, length, stance);
        return l && l->off_square <= off_square;
    };
    if (good(*level)) return with_length(end, *level, stance);
    constexpr double step = 0.5e-3, most = 0.15;
    for (double by = step; by <= most; by += step)
        for (const double side : {1.0, -1.0}) {
            const double length = *level + side * by;
            if (!good(length)) continue;
            double bad = length - side * step, found = length;
            while (std::abs(found - bad) > 1e-5) {
                const double middle = (found + bad) / 2;
                (good(middle) ? found : bad) = middle;
            }
            return with_length(end, found, stance);
        }
    return {};
}

Shift mounts_for_upright(const BarEnd& end) {
    const auto to = pickup(end.path, {});
    if (!to) return {0, 0};
    const Vector3d eye = Circle(end.mounts, end.eye).at(Turn(level_turn(end))), off = to->place - eye;
    return {off.x(), eye.y() < 0 ? -off.y() : off.y()};
}

LiftFound lift_found(double left, double right, double link_per_contact, bool links_below) {
    const double mismatch = (links_below ? 1 : -1) * link_per_contact * (left - right) / 2;
    return {mismatch, link_per_contact * (left + right) / 2, mismatch / 2};
}

PerSide<double> lift_readings(double right_longer, double slack, double link_per_contact, bool links_below) {
    const double mismatch = links_below ? right_longer : -right_longer;
    return {(slack + mismatch) / link_per_contact, (slack - mismatch) / link_per_contact};
}

} // namespace dervish::linkage
