#include "core/bar/centreline.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <string>

namespace dervish::bar {
namespace {
using Eigen::Vector3d;

constexpr double farthest = 100; // m: what is further out is no bar, and would be cut into elements without end
constexpr std::size_t most_points = 10000;

/// The arc that replaces a corner: how far back along each leg it starts, and how far it turns.
struct Fillet {
    double setback = 0, turn = 0;
};

Fillet fillet(const Vector3d& in, const Vector3d& out, double radius) {
    if (!(radius > 0)) return {};
    const double turn = std::atan2(in.cross(out).norm(), in.dot(out));
    return {radius * std::tan(turn / 2), turn};
}

void check_sizes(const Centreline& line) {
    const auto n = line.points.size();
    if (n < 2) throw BadInput("points", std::to_string(n) + " points make no bar", "give at least 2");
    if (n > most_points)
        throw BadInput("points", std::to_string(n) + " points", "give at most " + std::to_string(most_points));
    if (line.sections.size() != n - 1)
        throw BadInput("sections",
                       std::to_string(line.sections.size()) + " sections for " + std::to_string(n) + " points",
                       "give one for each stretch between points");
    if (!line.bend_radius.empty() && line.bend_radius.size() != n)
        throw BadInput("bend_radius",
                       std::to_string(line.bend_radius.size()) + " radii for " + std::to_string(n) + " points",
                       "give one a point, 0 where the corner is sharp");
    for (std::size_t i = 0; i < n; ++i) {
        if (!line.points[i].allFinite())
            throw BadInput("points/" + std::to_string(i), "not a number", "give three lengths");
        if (line.points[i].norm() > farthest)
            throw BadInput("points/" + std::to_string(i), units::in_mm(line.points[i].norm()) + " away",
                           "give at most " + units::in_mm(farthest));
        if (!line.bend_radius.empty() && !(line.bend_radius[i] >= 0 && line.bend_radius[i] <= farthest))
            throw BadInput("bend_radius/" + std::to_string(i), units::in_mm(line.bend_radius[i]) + " is not a radius",
                           "give 0 or more");
    }
}

void add_straight(Path& path, const Vector3d& from, const Vector3d& to, std::size_t section, double longest) {
    const double length = (to - from).norm();
    const int pieces = std::max(1, static_cast<int>(std::ceil(length / longest - 1e-9)));
    const Vector3d step = (to - from) / pieces;
    const Vector3d tangent = step / step.norm();
    for (int k = 0; k < pieces; ++k)
        path.stretches.push_back({from + k * step, k + 1 == pieces ? to : Vector3d(from + (k + 1) * step), tangent,
                                  Vector3d::Zero(), length / pieces, 0, section});
}

/// The arc from section `before` to section `after`, which meet at its middle; `halve`: with a node there.
void add_arc(Path& path, const Vector3d& from, const Vector3d& in, const Vector3d& out, double radius, double turn,
             std::size_t before, std::size_t after, bool halve, double longest) {
    const Vector3d to_centre = (out - in * in.dot(out)).normalized();
    // Quarter turns at most: the quadrature over one arc is exact to rounding there.
    int pieces = std::max({1, static_cast<int>(std::ceil(turn / (units::pi / 2) - 1e-9)),
                           static_cast<int>(std::ceil(radius * turn / longest - 1e-9))});
    if (halve) pieces += pieces % 2;
    const Stretch whole{from, from, in, to_centre, radius * turn, radius, before, radius * turn};
    for (int k = 0; k < pieces; ++k) {
        const double s0 = whole.length * k / pieces, s1 = whole.length * (k + 1) / pieces;
        const Vector3d toward = to_centre * std::cos(s0 / radius) - in * std::sin(s0 / radius);
        const Stretch::At start = whole.at(s0);
        path.stretches.push_back({start.point, whole.at(s1).point, start.tangent, toward, s1 - s0, radius,
                                  halve && 2 * k >= pieces ? after : before, whole.length});
    }
}
} // namespace

Stretch::At Stretch::at(double s) const {
    if (radius == 0) return {from + s * tangent, tangent};
    const double sine = std::sin(s / radius), cosine = std::cos(s / radius);
    return {from + radius * (sine * tangent + (1 - cosine) * to_centre), cosine * tangent + sine * to_centre};
}

Path cut(const Centreline& line, double longest, const std::vector<std::size_t>& held) {
    check_sizes(line);
    const auto n = line.points.size();
    std::vector<Vector3d> along(n - 1);
    for (std::size_t i = 0; i + 1 < n; ++i) {
        along[i] = line.points[i + 1] - line.points[i];
        if (!(along[i].norm() > 1e-9))
            throw BadInput("points/" + std::to_string(i + 1), "the same place as the point before",
                           "leave one of them out");
        along[i].normalize();
    }
    std::vector<Fillet> fillets(n);
    for (std::size_t i = 1; i + 1 < n; ++i)
        if (!line.bend_radius.empty()) fillets[i] = fillet(along[i - 1], along[i], line.bend_radius[i]);

    Path path;
    path.stretches.reserve(3 * n);
    path.node_of_point.assign(n, Path::no_node);
    Vector3d here = line.points[0];
    path.node_of_point[0] = 0;
    for (std::size_t i = 0; i + 1 < n; ++i) {
        const double whole = (line.points[i + 1] - line.points[i]).norm();
        const double straight = whole - fillets[i].setback - fillets[i + 1].setback;
        if (straight < -1e-9)
            throw BadInput("bend_radius/" + std::to_string(fillets[i + 1].setback > 0 ? i + 1 : i),
                           "the bends at both ends of stretch " + std::to_string(i) + " take " +
                               units::in_mm(fillets[i].setback + fillets[i + 1].setback) + " of its " +
                               units::in_mm(whole),
                           "give a smaller bend radius or a longer stretch");
        const Vector3d end = line.points[i + 1] - along[i] * fillets[i + 1].setback;
        if (straight > 1e-9) add_straight(path, here, end, i, longest);
        here = end;
        if (fillets[i + 1].turn > 1e-9) {
            const bool is_held = std::find(held.begin(), held.end(), i + 1) != held.end();
            const bool halve = is_held || !(line.sections[i] == line.sections[i + 1]);
            const std::size_t first = path.stretches.size();
            add_arc(path, here, along[i], along[i + 1], line.bend_radius[i + 1], fillets[i + 1].turn, i, i + 1, halve,
                    longest);
            if (is_held) path.node_of_point[i + 1] = first + (path.stretches.size() - first) / 2;
            here = path.stretches.back().to;
        } else {
            path.node_of_point[i + 1] = path.stretches.size();
        }
    }
    return path;
}

Laid lay(const Shape& shape) {
    const double half = shape.centre_length / 2, mount = shape.mount_spacing / 2;
    if (!(half > 0))
        throw BadInput("centre_length", units::in_mm(shape.centre_length) + " is no length", "give more than 0");
    if (shape.arm_length.empty())
        throw BadInput("arm_length", "no eye is given", "give the arm length to at least one eye");
    for (std::size_t i = 0; i < shape.arm_length.size(); ++i)
        if (!(shape.arm_length[i] > 0) || (i > 0 && shape.arm_length[i] >= shape.arm_length[i - 1]))
            throw BadInput("arm_length/" + std::to_string(i), units::in_mm(shape.arm_length[i]) + " is out of order",
                           "give the outermost eye first, each next one nearer to the axis, all above 0");
    const double end = shape.arm_end > 0 ? shape.arm_end : shape.arm_length.front();
    if (shape.arm_length.front() > end + 1e-9)
        throw BadInput("arm_length/0",
                       "an eye " + units::in_mm(shape.arm_length.front()) + " from the axis lies beyond the arm's end",
                       "give at most the arm's length, " + units::in_mm(end));
    if (const Round* round = std::get_if<Round>(&shape.section);
        round && shape.bend_radius > 0 && shape.bend_radius < round->outer_diameter / 2)
        throw BadInput("bend_radius",
                       units::in_mm(shape.bend_radius) + " is tighter than half the bar's " +
                           units::in_mm(round->outer_diameter),
                       "give the radius to the bar's middle, more than half its thickness, or 0 for a sharp corner");
    const bool overhang = end > shape.arm_length.front() + 1e-9;
    const double bend = shape.bend_radius * std::tan((units::pi / 2 - shape.splay) / 2);
    const double room = half - (shape.bend_radius > 0 ? bend : 0);
    if (!(mount > 0) || mount > room + 1e-9)
        throw BadInput("mount_spacing",
                       "mounts " + units::in_mm(shape.mount_spacing) + " apart lie outside the straight of the bar",
                       "give more than 0 and at most " + units::in_mm(2 * room));
    const bool kinked = shape.kink_inner > 0 || shape.kink_outer > 0;
    if (kinked && !(shape.kink_inner < shape.kink_outer && shape.kink_outer <= shape.mount_spacing + 1e-9 &&
                    shape.kink_inner > 0))
        throw BadInput("kink_outer",
                       "a kink from " + units::in_mm(shape.kink_outer) + " to " + units::in_mm(shape.kink_inner) +
                           " cannot be laid",
                       "give the inner length below the outer, and the outer no wider than the mounts, " +
                           units::in_mm(shape.mount_spacing));

    Laid laid;
    const auto add = [&](double x, double y, double z, double radius) {
        laid.line.points.emplace_back(x, y, z);
        laid.line.bend_radius.push_back(radius);
        return laid.line.points.size() - 1;
    };
    const auto side = [&](double sign) { // the points of one half, from the arm's end to the inside
        const double out = std::tan(shape.splay), down = std::tan(shape.drop);
        if (overhang) add(-end, sign * (half + end * out), -end * down, 0);
        for (double a : shape.arm_length) add(-a, sign * (half + a * out), -a * down, 0);
        add(0, sign * half, 0, shape.bend_radius);
        add(0, sign * mount, 0, 0);
        if (kinked) {
            if (shape.kink_outer < shape.mount_spacing - 1e-9) add(0, sign * shape.kink_outer / 2, 0, 0);
            add(shape.kink_forward, sign * shape.kink_inner / 2, shape.kink_up, 0);
        }
    };
    side(+1);
    const std::size_t first = overhang ? 1 : 0, eyes = shape.arm_length.size(), per_side = laid.line.points.size();
    side(-1);
    std::reverse(laid.line.points.begin() + static_cast<std::ptrdiff_t>(per_side), laid.line.points.end());
    std::reverse(laid.line.bend_radius.begin() + static_cast<std::ptrdiff_t>(per_side), laid.line.bend_radius.end());
    const auto last = laid.line.points.size() - 1;
    for (std::size_t e = 0; e < eyes; ++e) {
        laid.left_eye.push_back(first + e);
        laid.right_eye.push_back(last - first - e);
    }
    laid.mounts = {first + eyes + 1, last - (first + eyes + 1)};
    for (std::size_t i = 0; i + 1 < laid.line.points.size(); ++i)
        laid.line.sections.push_back(i < first + eyes || i + 1 > last - first - eyes ? shape.arm_section
                                                                                     : shape.section);
    return laid;
}

} // namespace dervish::bar
