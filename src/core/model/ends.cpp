#include "core/model/lie.h"
#include "core/model/stand.h"

#include <Eigen/Geometry>
#include <algorithm>

/// Links and pick-ups of the job as the linkage and the car take them.
namespace dervish::model {

namespace {
/// Where the car was measured. Throws BadInput as to_ends().
PerSide<linkage::BarEnd> measured_ends(const AxleSetup& a, const AxleData& axle, const Lie& lie) {
    return told_in_assembly(a, [&] {
        PerSide<linkage::BarEnd> out{still_end(a, lie, 0), still_end(a, lie, 1)};
        const LinkageData& data = axle.linkage;
        for (std::size_t e = 0; e < 2; ++e) {
            const bool left = e == 0;
            const double sign = left ? 1 : -1;
            const Eigen::Vector3d& place = lie.pickup[e];
            if (axle.kind == AxleKind::Solid) {
                const double up = a.mounts.height.value > 0
                                      ? axle.roll_centre_height.value - a.mounts.height.value + lie.middle.z()
                                      : place.z();
                out[e].path = linkage::OnAxle{place, {0, 0, up}, axle.track.value, a.mounts.on == CarriedBy::Axle};
                continue;
            }
            switch (data.path) {
            case PathKind::Straight: {
                linkage::Straight path{place, {0, 0, axle.motion_ratio.value}, {}};
                if (data.steers) {
                    const Eigen::Vector3d pin =
                        lie.middle + Eigen::Vector3d(-data.kingpin_behind.value, sign * data.kingpin_out.value, 0);
                    path.kingpin = {pin, pin + Eigen::Vector3d::UnitZ()};
                }
                out[e].path = path;
                break;
            }
            case PathKind::Arm:
                out[e].path =
                    linkage::Arm{{placed(lie.middle, data.arm_front, left), placed(lie.middle, data.arm_rear, left)},
                                 place,
                                 placed(lie.middle, data.ball_joint, left)};
                break;
            case PathKind::Points: {
                linkage::Measured path;
                for (const PathPoint& p : data.points) {
                    if (!path.points.empty() && p.travel.value <= path.points.back().travel)
                        throw BadInput("links/length", "the pick-up's path has its points out of order",
                                       "measure its points by rising wheel travel");
                    path.points.push_back(
                        {p.travel.value, place + Eigen::Vector3d(-p.back.value, sign * p.out.value, p.up.value)});
                }
                if (path.points.size() < 2 || path.points.front().travel > 0 || path.points.back().travel < 0)
                    throw BadInput("links/length", "the pick-up's path is not known at ride height",
                                   "measure two points of it or more, below and above ride height");
                out[e].path = path;
                break;
            }
            }
        }
        return out;
    });
}

PerSide<linkage::BarEnd> ends_of(const AxleSetup& a, const AxleData& axle, const Lie& lie) {
    PerSide<linkage::BarEnd> out = measured_ends(a, axle, lie);
    if (const double up = raised(a.stand).body; up != 0)
        for (linkage::BarEnd& end : out) {
            const auto moved = linkage::from(end.path, -up);
            if (!moved)
                throw BadInput("stand/lift", "the pick-up's path does not go that far",
                               "lift or lower it less, or measure the path further");
            end.path = *moved;
        }
    return out;
}
} // namespace

PerSide<linkage::BarEnd> to_ends(const AxleSetup& a, const AxleData& axle) {
    return ends_of(a, axle, told_in_assembly(a, [&] { return lie_of(a, lay_out(a)); }));
}

Lie lie_where_it_stands(const AxleSetup& a, const AxleData& axle, const bar::Laid& laid) {
    Lie out = told_in_assembly(a, [&] { return lie_of(a, laid); });
    if (raised(a.stand).body == 0) return out;
    const PerSide<linkage::BarEnd> ends = ends_of(a, axle, out);
    for (std::size_t e = 0; e < 2; ++e) out.pickup[e] = linkage::pickup(ends[e].path, {})->place;
    out.moved = true;
    return out;
}

linkage::Law to_law(const AxleSetup& a, const AxleData& axle, const bar::Solution& solution, double scale) {
    return to_law(a, to_ends(a, axle), solution, scale);
}

linkage::Law to_law(const Assembly& a, const PerSide<linkage::BarEnd>& ends, const bar::Solution& solution,
                    double scale) {
    linkage::Springs springs;
    Eigen::Vector2d along, turn;
    for (std::size_t e = 0; e < 2; ++e) {
        const linkage::BarEnd& end = ends[e];
        const auto rest = linkage::at(end, linkage::branch_needed(end, e == 0), {});
        const Eigen::Vector3d axis = (end.mounts[1] - end.mounts[0]).normalized(),
                              way = axis.cross(rest->eye - end.mounts[0]).normalized();
        // K was solved along the links of the bar as it lies straight; the eyes go round their circles.
        along[static_cast<int>(e)] = way.dot(solution.bar.links[e].direction);
        turn[static_cast<int>(e)] = rest->turn;
        springs.link[e] = rod_rate(solution.bar.links[e]);
        springs.play[e] = a.links.play.value / 2;
        springs.unstrained[e] =
            (e == 0 ? -0.5 : 0.5) * a.bar.bent.value / (way.z() * (rest->eye - end.mounts[0]).cross(axis).norm());
    }
    springs.bar = scale * along.asDiagonal() * solution.at_eyes * along.asDiagonal();
    for (double& u : springs.unstrained) u += turn.mean();
    return {ends, springs};
}

double gear(const PerSide<linkage::BarEnd>& ends) {
    double out = 0;
    for (std::size_t e = 0; e < 2; ++e)
        out += std::abs(linkage::at(ends[e], linkage::branch_needed(ends[e], e == 0), {}, -1)->motion_ratio) / 2;
    return out;
}

double clamped_base(const Assembly& a) {
    const bar::Laid laid = to_laid(a);
    return std::abs(laid.line.points[laid.left_eye[0]].y() - laid.line.points[laid.right_eye[0]].y());
}

double link_per_wheel(const AxleSetup& a, const AxleData& axle) {
    if (a.held == Held::Clamped) return axle.kind == AxleKind::Solid ? clamped_base(a) / axle.track.value : 1;
    return gear(to_ends(a, axle));
}

double roll_lever(const AxleSetup& a, const AxleData& axle) {
    const double lever = link_per_wheel(a, axle) * axle.track.value;
    return lever * lever / 2;
}

Eigen::Vector2d link_travel(const AxleSetup& a, const AxleData& axle, double roll) {
    const double out = link_per_wheel(a, axle) * axle.track.value / 2 * std::tan(roll);
    return {-out, out};
}

} // namespace dervish::model
