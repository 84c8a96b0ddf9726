#include "core/job/model.h"

#include "core/car/equilibrium.h"

namespace dervish::job {
namespace {
/// The core's names for what may be wrong, as paths in an assembly.
BadInput in_assembly(const BadInput& e) {
    std::string where = e.where();
    if (where.starts_with("arm_length/"))
        where = "bar/eyes/" + where.substr(11) + "/arm_length";
    else if (where.starts_with("bend_radius"))
        where = "bar/bend_radius";
    else if (where == "mount_spacing")
        where = "mounts/spacing";
    else if (where == "mounts")
        where = "mounts/axial";
    else if (where == "eyes")
        where = "bar/eyes";
    else
        where = "bar/" + where;
    return {where, e.problem(), e.accepted()};
}

bar::Shape to_shape(const BarData& b, const MountData& m) {
    const bar::Round round{b.outer_diameter.value, b.wall.value};
    bar::Shape shape{.centre_length = b.centre_length.value,
                     .arm_length = {},
                     .arm_end = b.arm_end.value,
                     .splay = b.splay.value,
                     .drop = b.drop.value,
                     .bend_radius = b.bend_radius.value,
                     .mount_spacing = m.spacing.value,
                     .kink_outer = b.kink_outer.value,
                     .kink_inner = b.kink_inner.value,
                     .kink_forward = b.kink_forward.value,
                     .kink_up = b.kink_up.value,
                     .section = round,
                     .arm_section = round};
    for (const Eye& eye : b.eyes) shape.arm_length.push_back(eye.arm_length.value);
    return shape;
}

car::Axle to_axle(const AxleData& a, const Eigen::Matrix2d& bar) {
    return {.kind = a.kind,
            .track = a.track.value,
            .unsprung_mass = a.unsprung_mass.value,
            .unsprung_height = a.unsprung_height.value,
            .tyre_rate = a.tyre_rate.value,
            .spring_rate = a.spring_rate.value,
            .spring_base = a.spring_base.value,
            .bar_base = a.bar_base.value,
            .bump_gap = a.bump_gap.value,
            .bump_k1 = a.bump_k1.value,
            .bump_k3 = a.bump_k3.value,
            .droop_gap = a.droop_gap.value,
            .droop_k = a.droop_k.value,
            .roll_centre_height = a.roll_centre_height.value,
            .parasitic_roll_stiffness = a.parasitic_roll_stiffness.value,
            .spring_table = {},
            .bar = at_axle(a) * bar};
}

const Eye& eye_at(const BarData& bar, int eye, const char* which) {
    if (eye < 0 || eye >= static_cast<int>(bar.eyes.size()))
        throw BadInput(which, "eye " + std::to_string(eye + 1) + " is not on the arm",
                       "choose one of the " + std::to_string(bar.eyes.size()) + " eyes");
    return bar.eyes[static_cast<std::size_t>(eye)];
}
} // namespace

bar::Bar to_bar(const Assembly& a, int left_eye, int right_eye) {
    eye_at(a.bar, left_eye, "left_eye");
    eye_at(a.bar, right_eye, "right_eye");
    try {
        const bar::Material material{a.bar.youngs_modulus.value, a.bar.shear_modulus.value, a.bar.density.value,
                                     a.bar.yield_strength.value};
        bar::constants(bar::Round{a.bar.outer_diameter.value, a.bar.wall.value}, material);
        bar::Laid laid = bar::lay(to_shape(a.bar, a.mounts));
        bar::Bar out;
        out.line = std::move(laid.line);
        out.material = material;
        for (std::size_t point : {laid.left_mount, laid.right_mount})
            out.mounts.push_back({point, a.mounts.vertical.value, a.mounts.fore_aft.value, a.mounts.axial.value,
                                  a.mounts.torsional.value, a.mounts.bracket.value});
        out.eyes = {laid.left_eye[static_cast<std::size_t>(left_eye)],
                    laid.right_eye[static_cast<std::size_t>(right_eye)]};
        for (bar::Link& link : out.links) {
            link.body = a.links.body.value;
            link.joints = a.links.joint.value / 2;
        }
        return out;
    } catch (const BadInput& e) {
        throw in_assembly(e);
    }
}

bar::Bar to_bar(const Assembly& a) { return to_bar(a, a.left_eye, a.right_eye); }

bar::PlainU to_plain_u(const Assembly& a) {
    return {a.bar.centre_length.value / 2, eye_at(a.bar, a.left_eye, "left_eye").arm_length.value,
            a.mounts.spacing.value / 2};
}

car::Car to_car(const Vehicle& v, const Eigen::Matrix2d& front_bar, const Eigen::Matrix2d& rear_bar) {
    const double fl = v.front_left_load.value, fr = v.front_right_load.value;
    const double rl = v.rear_left_load.value, rr = v.rear_right_load.value;
    const double uf = v.front.unsprung_mass.value, ur = v.rear.unsprung_mass.value;
    const double total = fl + fr + rl + rr;
    const std::pair<double, const char*> sprung[] = {{fl + fr - uf, "front"}, {rl + rr - ur, "rear"}};
    for (const auto& [mass, end] : sprung)
        if (!(mass > 0))
            throw BadInput(std::string(end) + "/unsprung_mass", "more than the whole axle weighs on the scales",
                           "give less than the two wheels' readings together");

    car::Car out;
    out.wheelbase = v.wheelbase.value;
    out.sprung_mass = total - uf - ur;
    out.cg_behind_front_axle = out.wheelbase * sprung[1].first / out.sprung_mass;
    out.cg_height =
        (total * v.cg_height.value - uf * v.front.unsprung_height.value - ur * v.rear.unsprung_height.value) /
        out.sprung_mass;
    if (!(out.cg_height > 0))
        throw BadInput("cg_height", "lower than the wheels alone allow",
                       "give the height of the whole car's centre of mass");
    const double front_moment = (fl - fr) * v.front.track.value / 2, rear_moment = (rl - rr) * v.rear.track.value / 2;
    out.cg_left = (front_moment + rear_moment) / out.sprung_mass;
    out.twist = units::g * (front_moment - sprung[0].first * out.cg_left);
    out.front = to_axle(v.front, front_bar);
    out.rear = to_axle(v.rear, rear_bar);
    out.chassis_torsion = v.chassis_torsion.value;
    for (const Load& l : v.loads)
        if (l.aboard) out.loads.push_back({l.mass.value, -l.behind_front_axle.value, l.left.value, l.height.value});
    return out;
}

double at_axle(const AxleData& a) {
    return a.kind == car::AxleKind::Solid ? 1 : a.motion_ratio.value * a.motion_ratio.value;
}

double roll_lever(const AxleData& a) {
    const double base = a.kind == car::AxleKind::Solid ? a.bar_base.value : a.track.value;
    return at_axle(a) * base * base / 2;
}

double at_wheel(const AxleData& a) { return 2 * roll_lever(a) / (a.track.value * a.track.value); }

} // namespace dervish::job
