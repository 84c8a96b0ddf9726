#include "core/model/lie.h"

#include <algorithm>

namespace dervish::model {

BadInput in_assembly(const Assembly& a, const BadInput& e) {
    std::string where = e.where();
    const std::string list = a.bar.form == Form::Walk ? "walk" : "points"; // of the bar's own points
    if (where.starts_with("links/") || where.starts_with("stand/") || where == "left_eye" || where == "right_eye")
        return e; // already the assembly's own
    if (where.starts_with("arm_length/"))
        where = "bar/eyes/" + where.substr(11) + "/arm_length";
    else if (where == "mount_spacing")
        where = "mounts/spacing";
    else if (where == "mounts")
        where = "mounts/axial";
    else if (where == "eyes")
        where = a.bar.form == Form::Sizes ? "bar/eyes" : "bar/" + list;
    else if (where.starts_with("bend_radius"))
        where = a.bar.form == Form::Sizes ? "bar/bend_radius" : "bar/" + list;
    else if (where == "sections")
        where = "bar/" + list;
    else
        where = "bar/" + where;
    return {where, e.problem(), e.accepted()};
}

std::size_t eye_at(const std::vector<std::size_t>& eyes, int eye, const char* which) {
    if (eye < 0 || eye >= static_cast<int>(eyes.size()))
        throw BadInput(which, "eye " + std::to_string(eye + 1) + " is not on the arm",
                       "choose one of the " + std::to_string(eyes.size()) + " eyes");
    return eyes[static_cast<std::size_t>(eye)];
}

Eigen::Vector3d under_eye(const Assembly& a, bool left) {
    const PickupData& p = a.pickups;
    const double forward = p.forward.value, outward = (left ? 1 : -1) * p.outward.value, length = a.links.length.value;
    const double rest = length * length - forward * forward - outward * outward;
    if (!(rest > 0))
        throw BadInput("links/length", "the link leans further than it is long",
                       "give a longer link, or how far its other end really is from upright");
    return {forward, outward, (p.end == LinkEnd::Below ? -1 : 1) * std::sqrt(rest)};
}

Eigen::Vector3d placed(const Eigen::Vector3d& middle, const Spot& s, bool left) {
    return middle + Eigen::Vector3d(-s.behind.value, (left ? 1 : -1) * s.out.value, -s.below.value);
}

void place_pickups(Assembly& a) {
    if (a.held != Held::Links || a.pickups.rule == PickupRule::Placed) return;
    const Lie lie = told_in_assembly(a, [&] { return lie_of(a, lay_out(a)); });
    const Eigen::Vector3d from_middle = lie.pickup[0] - lie.middle;
    const auto guess = [](double value) {
        return Measured{units::as_filed(value, units::Quantity::Length), 10 * units::mm, Source::Assumed};
    };
    a.pickups.at = {guess(-from_middle.x()), guess(from_middle.y()), guess(-from_middle.z())};
    a.pickups.rule = PickupRule::Placed;
}

Lie lie_of(const Assembly& a, const bar::Laid& laid) {
    Lie out;
    out.axis = {laid.line.points[laid.mounts.back()], laid.line.points[laid.mounts.front()]};
    out.middle = (out.axis[0] + out.axis[1]) / 2;
    for (std::size_t e = 0; e < 2; ++e) {
        const bool left = e == 0;
        out.eye[e] = laid.line.points[eye_at(left ? laid.left_eye : laid.right_eye, left ? a.left_eye : a.right_eye,
                                             left ? "left_eye" : "right_eye")];
        out.pickup[e] = a.pickups.rule == PickupRule::Placed ? placed(out.middle, a.pickups.at, left)
                                                             : out.eye[e] + under_eye(a, left);
    }
    return out;
}

namespace {
double link_length(const Assembly& a, std::size_t end) {
    return a.links.length.value + (end == 1 ? a.links.right_longer.value : 0);
}
} // namespace

linkage::BarEnd still_end(const Assembly& a, const Lie& lie, std::size_t e) {
    linkage::BarEnd out{lie.axis, lie.eye[e], link_length(a, e), linkage::Straight{lie.pickup[e], {0, 0, 1}}};
    out.joints = {linkage::Joint{a.links.eye_stud, a.links.tilt.value},
                  linkage::Joint{a.links.pickup_stud, a.links.tilt.value}};
    return out;
}

double turn_at_rest(const Assembly& a, const Lie& lie) {
    if (a.pickups.rule == PickupRule::UnderEyes && !lie.moved) return 0;
    double turn = 0;
    for (std::size_t e = 0; e < 2; ++e) {
        const linkage::BarEnd end = still_end(a, lie, e);
        turn += linkage::at(end, linkage::branch_needed(end, e == 0), {})->turn / 2;
    }
    return turn;
}

/// A rigid link is as stiff as the arithmetic bears: a thousand times any bar.
double rod_rate(const bar::Link& link) { return std::min(link.stiffness(), 1e9); }

} // namespace dervish::model
