#include "core/model/room.h"
#include "core/num/root.h"

#include "core/car/equilibrium.h"
#include "core/model/lie.h"
#include "core/model/stand.h"

#include <algorithm>

namespace dervish::model {
namespace {
constexpr int looked_at = 9; // travels of each wheel, for the tightest angle
bool mirrored(const Assembly& a) { return a.links.right_longer.value == 0 && a.left_eye == a.right_eye; }
} // namespace

linkage::Room to_room(const AxleSetup& setup, const AxleData& axle) {
    linkage::Room out;
    const StopGaps gaps = stop_gaps(setup, axle);
    const double gained = setup.springs.rate.value * gaps.bump, k1 = axle.bump_k1.value, k3 = axle.bump_k3.value;
    const auto short_of = [&](double x) { return (k1 + k3 * x * x) * x - gained; };
    constexpr double most = 0.1; // of a stop that hardly is one, m
    const double into = short_of(most) <= 0 ? most : root_between(short_of, 0, most, short_of(0), short_of(most), 1e-5);
    out.bump = gaps.bump + into + std::max(0.0, axle.travel.left_bump.value);
    out.droop = gaps.strapped ? gaps.droop : gaps.droop + std::max(0.0, axle.travel.left_droop.value);
    out.coupled = axle.kind == AxleKind::Solid;
    out.spread = out.coupled ? axle.track.value / axle.spring_base.value : 1;
    out.lock = axle.linkage.lock.value;
    return out;
}

linkage::Room to_room(const AxleSetup& a, const AxleData& axle, std::size_t end) {
    return told_in_assembly(a, [&] {
        const bar::Laid laid = lay_out(a);
        const Lie lie = lie_of(a, laid);
        const bool left = end == 0;
        linkage::Room out = to_room(a, axle);
        const Spot pin{axle.linkage.kingpin_behind, axle.linkage.kingpin_out, {}};
        out.kingpin[0] = placed(lie.middle, pin, left);
        out.kingpin[1] = out.kingpin[0] + Eigen::Vector3d::UnitZ();
        const Raised up = raised(a.stand);
        const bool on_body = a.mounts.on == CarriedBy::Body;
        for (const ObstacleData& o : axle.linkage.obstacles) { // seen from the bar
            const double down = (o.moves == Carrier::Body) == on_body ? 0 : on_body ? up.body : -up.body;
            out.obstacles.push_back({o.name, static_cast<linkage::Obstacle::Kind>(o.kind), o.moves == Carrier::Body,
                                     placed(lie.middle, o.at, left) - Eigen::Vector3d(0, 0, down), o.radius.value,
                                     o.keep.value});
        }
        if (a.mounts.height.value > 0)
            out.ground = lie.middle.z() - a.mounts.height.value - up.hubs - (on_body ? up.body : 0);
        out.link_radius = a.links.thickness.value / 2;
        out.bar_radius = a.bar.outer_diameter.value / 2;
        const double side = left ? 1 : -1;
        const auto& points = laid.line.points;
        for (std::size_t i = 0; i < points.size(); ++i) {
            if (i > 0 && points[i].y() * points[i - 1].y() < 0) { // where it crosses the car's middle
                const double part = points[i - 1].y() / (points[i - 1].y() - points[i].y());
                out.bar.push_back(points[i - 1] + part * (points[i] - points[i - 1]));
            }
            if (side * points[i].y() >= -1e-9) out.bar.push_back(points[i]);
        }
        return out;
    });
}

linkage::Margin tightest_angle(const PerSide<linkage::BarEnd>& ends, const Assembly& a, const linkage::Room& room) {
    const auto of = [&](std::size_t e) {
        return linkage::angle_margins(ends[e], linkage::branch_needed(ends[e], e == 0), room, e, looked_at).front();
    };
    const linkage::Margin left = of(0);
    if (mirrored(a)) return left;
    const linkage::Margin right = of(1);
    return left.left <= right.left ? left : right;
}

linkage::Margin same_angle(const linkage::Margin& known, const PerSide<linkage::BarEnd>& ends,
                           const linkage::Room& room) {
    const linkage::BarEnd& end = ends[known.end];
    return linkage::same_angle(known, end, linkage::branch_needed(end, known.end == 0), room, looked_at);
}

} // namespace dervish::model
