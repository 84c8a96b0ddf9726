#pragma once
#include "core/bar/section.h"

#include <Eigen/Core>
#include <cstddef>
#include <vector>

namespace dervish::bar {

/// A bar's centreline as measured: corner points (m, car axes: x forward, y left, z up), the radius of the arc that
/// replaces the corner at each point (0: sharp), and the section of each stretch between points.
struct Centreline {
    std::vector<Eigen::Vector3d> points;
    std::vector<double> bend_radius; ///< one a point, or empty for all sharp
    std::vector<Section> sections;   ///< points − 1
};

/// One straight or circular piece of a bar between two nodes.
struct Stretch {
    Eigen::Vector3d from, to;
    Eigen::Vector3d tangent;   ///< at `from`, unit
    Eigen::Vector3d to_centre; ///< arc: unit, from `from` to the arc's centre; unused when straight
    double length = 0;
    double radius = 0;       ///< 0: straight
    std::size_t section = 0; ///< index into Centreline::sections
    double bend = 0;         ///< length of the whole bend that an arc is a piece of, m

    struct At {
        Eigen::Vector3d point, tangent;
    };
    At at(double s) const;
};

/// A centreline cut into stretches, with the node at which each of its corner points sits (a filleted corner has none:
/// `no_node`, or the arc's middle where something is held). Node i joins stretches i − 1 and i.
struct Path {
    static constexpr std::size_t no_node = static_cast<std::size_t>(-1);
    std::vector<Stretch> stretches;
    std::vector<std::size_t> node_of_point;
};

/// Cuts `line` into stretches; straights are divided evenly to at most `longest` m. A point of `held` that is a bend
/// gets its node in the middle of the arc, where a mount or an eye on it sits. Throws BadInput at "points",
/// "bend_radius" or "sections" with the point's number when a bend does not fit or points coincide.
Path cut(const Centreline& line, double longest = 1e9, const std::vector<std::size_t>& held = {});

/// The usual bar by the sizes one measures on a bench. Arms trail the centre (towards −x).
struct Shape {
    double centre_length;           ///< between the arms' planes at the axis, m
    std::vector<double> arm_length; ///< to each eye, square to the axis, outermost first, m
    double arm_end = 0;             ///< to the arm's end, square to the axis, m; 0: at the outermost eye
    double splay = 0;               ///< arm turned outwards from square, rad
    double drop = 0;                ///< arm turned downwards, rad
    double bend_radius = 0;         ///< to the bar's centreline, m
    double mount_spacing = 0;       ///< between the mounts' middles, m
    /// A jog of the middle of the centre section, to clear a sump or an axle: between the inner points the bar runs
    /// offset forward and up; it leaves the axis at the outer points. Lengths are between left and right points.
    double kink_outer = 0, kink_inner = 0, kink_forward = 0, kink_up = 0;
    Section section;
    Section arm_section;
};

/// A shape's centreline with the points that matter, left (y > 0) to right.
struct Laid {
    Centreline line;
    std::vector<std::size_t> left_eye, right_eye; ///< point of each eye, outermost first
    std::vector<std::size_t> mounts;              ///< left to right
};

/// Throws BadInput at "centre_length", "arm_length", "bend_radius", "mount_spacing" or "kink".
/// Example: lay({.centre_length = 1.0, .arm_length = {0.25}, .mount_spacing = 0.8, .section = Round{0.024},
/// .arm_section = Round{0.024}}) is a 24 mm U, 1 m wide.
Laid lay(const Shape& shape);

} // namespace dervish::bar
