#include "core/balance/tyre.h"
#include "core/model/lie.h"
#include "core/model/stand.h"

#include "core/car/equilibrium.h"

#include <Eigen/Geometry>
#include <algorithm>

namespace dervish::model {
namespace {
bar::Section own_section(const BarData& b) { return bar::Round{b.outer_diameter.value, b.wall.value}; }

/// A step's own section where it has a diameter, else the bar's.
bar::Section section_of(const BarData& b, const Measured& diameter, const Measured& wall) {
    return diameter.value > 0 ? bar::Section(bar::Round{diameter.value, wall.value}) : own_section(b);
}

bar::Section arm_section(const BarData& b) {
    switch (b.arms) {
    case Arms::Round:
        return bar::Round{b.arm_diameter.value, b.arm_wall.value};
    case Arms::Blade:
        return bar::Blade{b.blade_width.value, b.blade_thickness.value, b.blade_rotation.value};
    case Arms::OfTheBar:
        break;
    }
    return own_section(b);
}

bar::Laid from_sizes(const BarData& b, double mount_spacing) {
    bar::Shape shape{.centre_length = b.centre_length.value,
                     .arm_length = {},
                     .arm_end = b.arm_end.value,
                     .splay = b.splay.value,
                     .drop = b.drop.value,
                     .bend_radius = b.bend_radius.value,
                     .mount_spacing = mount_spacing,
                     .kink_outer = b.kink_outer.value,
                     .kink_inner = b.kink_inner.value,
                     .kink_forward = b.kink_forward.value,
                     .kink_up = b.kink_up.value,
                     .section = own_section(b),
                     .arm_section = arm_section(b)};
    for (const Eye& eye : b.eyes) shape.arm_length.push_back(eye.arm_length.value);
    return bar::lay(shape);
}

bar::Laid from_walk(const BarData& b, double mount_spacing) {
    std::vector<bar::Step> steps;
    for (const StepData& s : b.walk)
        steps.push_back({s.length.value, s.bend.value, s.plane.value, s.radius.value,
                         section_of(b, s.outer_diameter, s.wall), s.taper_to.value, s.mark});
    return bar::walk(steps, mount_spacing);
}

bar::Laid from_points(const BarData& b, double mount_spacing) {
    std::vector<bar::Spot> spots;
    for (const PointData& p : b.points)
        spots.push_back(
            {{p.x.value, p.y.value, p.z.value}, p.radius.value, section_of(b, p.outer_diameter, p.wall), p.mark});
    return bar::through(spots, mount_spacing);
}

/// A straight bar between two trailing arms.
bar::Laid between_arms(const BarData& b) {
    bar::Laid out;
    const double half = b.centre_length.value / 2;
    out.line.points = {{0, half, 0}, {0, -half, 0}};
    out.line.sections = {own_section(b)};
    out.left_eye = {0};
    out.right_eye = {1};
    return out;
}

} // namespace

bar::Laid lay_out(const Assembly& a) {
    if (a.held == Held::Clamped && a.bar.form == Form::Sizes) return between_arms(a.bar);
    const double spacing = a.held == Held::Clamped ? 0 : a.mounts.spacing.value;
    switch (a.bar.form) {
    case Form::Walk:
        return from_walk(a.bar, spacing);
    case Form::Points:
        return from_points(a.bar, spacing);
    case Form::Sizes:
        break;
    }
    return from_sizes(a.bar, spacing);
}

namespace {
car::Axle to_axle(const AxleData& a, const AxleSetup& s, const Acting& bar) {
    const TravelData& t = a.travel;
    const Raised up = raised(s.stand);
    const StopGaps gaps = stop_gaps(s, a);
    std::vector<car::ForcePoint> springs;
    springs.reserve(s.springs.points.size());
    for (const SpringPoint& p : s.springs.points) springs.push_back({p.travel.value, p.force.value});
    return {.kind = a.kind,
            .track = a.track.value,
            .unsprung_mass = a.unsprung_mass.value,
            .unsprung_height = a.unsprung_height.value + up.hubs,
            .tyre_rate = tyres_a_side(a) * s.tyres.rate.value *
                         balance::rate_at_pressure(s.stand.pressure.value * (1 + s.stand.left_pressure.value) / 2),
            .spring_rate = s.springs.rate.value,
            .spring_base = a.spring_base.value,
            .bar_base = bar.base,
            .bump_gap = gaps.bump,
            .bump_k1 = a.bump_k1.value,
            .bump_k3 = a.bump_k3.value,
            .droop_gap = gaps.droop,
            .droop_k = s.dampers.droop_k.value,
            .left_bump = t.left_bump.value,
            .left_droop = t.left_droop.value,
            .roll_centre_height = a.roll_centre_height.value + up.hubs + a.wheels.roll_centre_moves.value * up.body,
            .parasitic_roll_stiffness = a.parasitic_roll_stiffness.value,
            .captive_springs = s.springs.captive,
            .spring_table = std::move(springs),
            .bar = bar.plain,
            .linkage = bar.linkage,
            .bar_in_bushes = bar.in_bushes};
}

} // namespace

bar::Laid to_laid(const Assembly& a) {
    return told_in_assembly(a, [&] { return lay_out(a); });
}

namespace {
Measured taken_over(double value, units::Quantity quantity, double sigma) {
    const double filed = units::as_filed(value, quantity);
    return {filed, filed == 0 ? 0 : sigma, Source::Assumed};
}

/// Diameter and wall of a section where they are not the bar's own.
std::pair<Measured, Measured> own_sizes(const BarData& b, const bar::Section& s) {
    const bar::Round* round = std::get_if<bar::Round>(&s);
    if (!round || bar::Section(*round) == own_section(b)) return {};
    return {taken_over(round->outer_diameter, units::Quantity::Length, 0.05 * units::mm),
            taken_over(round->wall, units::Quantity::Length, 0.05 * units::mm)};
}
constexpr double tape = 1.5 * units::mm, gauge = 0.2 * units::deg;
} // namespace

std::vector<StepData> walk_of(const Assembly& a) {
    using units::Quantity;
    std::vector<StepData> out;
    for (const bar::Step& s : bar::to_walk(to_laid(a))) {
        const auto [diameter, wall] = own_sizes(a.bar, s.section);
        out.push_back({taken_over(s.length, Quantity::Length, tape),
                       taken_over(s.bend, Quantity::Angle, gauge),
                       taken_over(s.plane, Quantity::Angle, gauge),
                       taken_over(s.radius, Quantity::Length, tape),
                       diameter,
                       wall,
                       {},
                       s.mark});
    }
    return out;
}

std::vector<PointData> points_of(const Assembly& a) {
    using units::Quantity;
    const bar::Laid laid = to_laid(a);
    std::vector<PointData> out;
    for (std::size_t i = 0; i < laid.line.points.size(); ++i) {
        if (std::find(laid.mounts.begin(), laid.mounts.end(), i) != laid.mounts.end()) continue; // by their spacing
        const Eigen::Vector3d& p = laid.line.points[i];
        const auto [diameter, wall] = own_sizes(a.bar, laid.line.sections[std::min(i, laid.line.sections.size() - 1)]);
        const auto is = [&](const std::vector<std::size_t>& eyes) {
            return std::find(eyes.begin(), eyes.end(), i) != eyes.end();
        };
        const bool end = i == 0 || i + 1 == laid.line.points.size();
        out.push_back({taken_over(p.x(), Quantity::Length, tape), taken_over(p.y(), Quantity::Length, tape),
                       taken_over(p.z(), Quantity::Length, tape),
                       taken_over(laid.line.bend_radius.empty() ? 0 : laid.line.bend_radius[i], Quantity::Length, tape),
                       diameter, wall,
                       is(laid.left_eye) || is(laid.right_eye) ? Mark::Eye
                       : end                                   ? Mark::End
                                                               : Mark::Bend});
    }
    return out;
}

namespace {
/// `lie`: of a bar held by links.
bar::Bar laid_bar(const Assembly& a, bar::Laid laid, const std::optional<Lie>& lie) {
    return told_in_assembly(a, [&] {
        const bar::Material material{a.bar.youngs_modulus.value, a.bar.shear_modulus.value, a.bar.density.value,
                                     a.bar.yield_strength.value};
        bar::constants(own_section(a.bar), material);
        if (lie)
            if (const double turn = turn_at_rest(a, *lie); turn != 0) {
                const Eigen::AngleAxisd by(turn, (lie->axis[1] - lie->axis[0]).normalized());
                for (Eigen::Vector3d& p : laid.line.points) p = lie->middle + by * (p - lie->middle);
            }
        bar::Bar out;
        const bool clamped = a.held == Held::Clamped; // at its ends, whatever eyes it has
        out.eyes = {eye_at(laid.left_eye, clamped ? 0 : a.left_eye, "left_eye"),
                    eye_at(laid.right_eye, clamped ? 0 : a.right_eye, "right_eye")};
        out.line = std::move(laid.line);
        out.material = material;
        if (clamped) {
            // Each metre of wheel travel turns the arm by 1/R about y and lifts the bar's end by its share of it.
            const double reach = a.trailing_arms.to_wheel.value, share = a.trailing_arms.to_bar.value / reach;
            bar::Vector6 way;
            way << 0, 0, share, 0, 1 / reach, 0;
            out.clamped = {way, way};
            return out;
        }
        const double left = a.mounts.rate_left.value;
        for (std::size_t point : laid.mounts)
            out.mounts.push_back({point, left * a.mounts.vertical.value, left * a.mounts.fore_aft.value,
                                  left * a.mounts.axial.value, a.mounts.torsional.value, a.mounts.bracket.value});
        for (std::size_t e = 0; e < 2; ++e) {
            const Eigen::Vector3d down = lie->pickup[e] - out.line.points[out.eyes[e]];
            out.links[e] = {(down.z() < 0 ? -1 : 1) * down.normalized(), a.links.body.value, a.links.joint.value / 2};
        }
        return out;
    });
}

} // namespace

bar::Bar to_bar(const Assembly& a) {
    bar::Laid laid = to_laid(a);
    std::optional<Lie> lie;
    if (a.held == Held::Links) lie = told_in_assembly(a, [&] { return lie_of(a, laid); });
    return laid_bar(a, std::move(laid), lie);
}

bar::Bar to_bar(const AxleSetup& a, const AxleData& axle) {
    bar::Laid laid = to_laid(a);
    std::optional<Lie> lie;
    if (a.held == Held::Links) lie = lie_where_it_stands(a, axle, laid);
    return laid_bar(a, std::move(laid), lie);
}

bar::Solution solve(const Assembly& a) {
    bar::Bar bar = to_bar(a);
    return told_in_assembly(a, [&] { return bar::solve(std::move(bar)); });
}

bar::Solution solve(const AxleSetup& a, const AxleData& axle, double longest) {
    bar::Bar bar = to_bar(a, axle);
    return told_in_assembly(a, [&] { return bar::solve(std::move(bar), longest); });
}

bar::Pull to_pull(const AxleSetup& a, const AxleData& axle, const bar::Bar& bar) {
    const bool moved = raised(a.stand).body != 0 && a.held == Held::Links;
    std::optional<Lie> lie;
    if (moved || (a.held == Held::Links && a.pickups.rule == PickupRule::Placed))
        lie = lie_where_it_stands(a, axle, to_laid(a));
    bar::Pull out;
    for (std::size_t e = 0; e < 2; ++e) {
        if (a.held == Held::Clamped) {
            const Eigen::Vector3d ahead(a.trailing_arms.to_bar.value, 0, 0);
            out.arms[e] = bar::Swing{bar.line.points[bar.eyes[e]] + ahead, a.trailing_arms.to_wheel.value};
            continue;
        }
        const Eigen::Vector3d eye = bar.line.points[bar.eyes[e]];
        const Eigen::Vector3d pickup = lie ? lie->pickup[e] : eye + under_eye(a, e == 0);
        // At ride height both links are taken as just the length that leaves the bar straight.
        out.rods[e] = bar::Rod{bar::upward(pickup), (pickup - eye).norm(), rod_rate(bar.links[e])};
    }
    return out;
}

double arm_to(const Assembly& a, const bar::Laid& laid, bool left, int eye) {
    if (a.held == Held::Clamped) return a.trailing_arms.to_wheel.value;
    if (a.bar.form == Form::Sizes) return a.bar.eyes[static_cast<std::size_t>(eye)].arm_length.value;
    const auto& eyes = left ? laid.left_eye : laid.right_eye;
    const Eigen::Vector3d from = laid.line.points[laid.mounts[left ? 0 : 1]],
                          to = laid.line.points[eyes[static_cast<std::size_t>(eye)]];
    return std::hypot(to.x() - from.x(), to.z() - from.z());
}

bar::PlainU to_plain_u(const Assembly& a, const bar::Laid& laid) {
    const double half = a.bar.form == Form::Sizes
                            ? a.bar.centre_length.value / 2
                            : std::abs(laid.line.points[laid.left_eye[static_cast<std::size_t>(a.left_eye)]].y());
    return {half, arm_to(a, laid, true, a.left_eye), a.mounts.spacing.value / 2};
}

car::Car to_car(const Vehicle& v, const Setup& setup, const PerAxle<Acting>& bars) {
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
    for (const End end : both_ends) out[end] = to_axle(v[end], setup[end], bars[end]);
    const auto rise = [&](double behind) { // of the body there
        const Raised front = raised(setup.front.stand), rear = raised(setup.rear.stand);
        return front.body + front.hubs + behind / out.wheelbase * (rear.body + rear.hubs - front.body - front.hubs);
    };
    out.cg_height += rise(out.cg_behind_front_axle);
    out.chassis_torsion = v.chassis_torsion.value + setup.brace.torsion.value;
    for (const Load& l : v.loads)
        if (is_aboard(l, setup))
            out.loads.push_back({l.mass.value, -l.behind_front_axle.value, l.left.value,
                                 l.height.value + rise(l.behind_front_axle.value)});
    return out;
}

} // namespace dervish::model
