#include "core/bar/bend_table.h"

#include "core/units/units.h"

#include <Eigen/Geometry>
#include <cmath>

namespace dervish::bar {

BendTable bend_table(const Centreline& line) {
    (void)cut(line); // throws where a bend does not fit
    constexpr double straight_enough = 1e-3 * units::deg;
    BendTable out;
    Eigen::Vector3d last_normal = Eigen::Vector3d::Zero(); // of the last bend's plane
    double spent = 0;                                      // of the straight that leads here, by the bend before it
    for (std::size_t i = 1; i < line.points.size(); ++i) {
        const Eigen::Vector3d in = line.points[i] - line.points[i - 1];
        const double leg = in.norm();
        const bool end = i + 1 == line.points.size();
        const Eigen::Vector3d along = in / leg;
        const Eigen::Vector3d on = end ? along : Eigen::Vector3d((line.points[i + 1] - line.points[i]).normalized());
        const Eigen::Vector3d normal = along.cross(on);
        const double angle = std::atan2(normal.norm(), along.dot(on));
        if (end || angle < straight_enough) { // goes straight on: its length belongs to the next
            out.last_straight += leg - spent;
            spent = 0;
            continue;
        }
        const double radius = line.bend_radius.empty() ? 0 : line.bend_radius[i],
                     tangent = radius * std::tan(angle / 2);
        Bend bend{out.last_straight + leg - spent - tangent, 0, angle, radius, radius * angle};
        const Eigen::Vector3d n = normal.normalized();
        if (!out.bends.empty()) bend.turn = std::atan2(along.dot(last_normal.cross(n)), last_normal.dot(n));
        last_normal = n;
        out.last_straight = 0;
        out.cut_length += bend.straight + bend.arc;
        out.bends.push_back(bend);
        spent = tangent;
    }
    out.cut_length += out.last_straight;
    return out;
}

} // namespace dervish::bar
