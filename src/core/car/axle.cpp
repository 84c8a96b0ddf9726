#include "core/car/axle.h"

#include <cmath>

namespace dervish::car {
namespace {

/// A scalar that depends on the five unknowns, with its derivatives.
struct Scalar {
    double value = 0;
    Vector5 gradient = Vector5::Zero();
    Matrix5 hessian = Matrix5::Zero();
};

/// A potential of one scalar: value, slope, curvature.
struct Potential {
    double value, slope, curvature;
};

void add(AxleEnergy& out, const Potential& p, const Scalar& s) {
    out.value += p.value;
    out.gradient.noalias() += p.slope * s.gradient;
    if (out.curved) out.hessian.noalias() += p.curvature * s.gradient * s.gradient.transpose() + p.slope * s.hessian;
}

Potential linear(double factor, double value) { return {factor * value, factor, 0}; }

/// Sines and cosines of pitch, roll, a solid axle's own roll, and both rolls.
struct Angles {
    double st, ct, sp, cp, sa = 0, ca = 1, ss = 0, cs = 1;
    Angles(const AxleFrame& f, const Vector5& q)
        : st(std::sin(q[1])), ct(std::cos(q[1])), sp(std::sin(q[2])), cp(std::cos(q[2])) {
        if (f.axle->kind != AxleKind::Solid) return;
        sa = std::sin(q[4]);
        ca = std::cos(q[4]);
        ss = sp * ca + cp * sa;
        cs = cp * ca - sp * sa;
    }
};

/// Height of a point fixed to the body at (dx, dy, h) from the centre of mass, moved up the body's z by unknown `up`,
/// plus an arm (p, r) that turns with roll plus axle roll: z = Z + c_z − dx sinθ + cosθ (dy sinφ + (h+s) cosφ + p sinψ
/// + r cosψ), ψ = φ + α. `up` is the index of s; a solid axle's α is unknown 4. `curved`: its second derivatives too.
Scalar height(const AxleFrame& f, const Vector5& q, const Angles& turned, double dy, double h, int up, double p,
              double r, bool curved) {
    const bool solid = f.axle->kind == AxleKind::Solid;
    const auto [st, ct, sp, cp, sa, ca, ss, cs] = turned;
    const double hs = h + q[up];
    double a = dy * sp + hs * cp, b = dy * cp - hs * sp; // and its derivative by φ
    double arm = 0, arm1 = 0;
    if (solid) {
        arm = p * ss + r * cs;
        arm1 = p * cs - r * ss;
    }
    Scalar z;
    z.value = q[0] + f.cz - f.dx * st + ct * (a + arm);
    z.gradient[0] = 1;
    z.gradient[1] = -f.dx * ct - st * (a + arm);
    z.gradient[2] = ct * (b + arm1);
    z.gradient[up] += ct * cp;
    if (solid) z.gradient[4] = ct * arm1;
    if (!curved) return z;
    auto set = [&](int i, int j, double v) { z.hessian(i, j) = z.hessian(j, i) = v; };
    set(1, 1, f.dx * st - ct * (a + arm));
    set(1, 2, -st * (b + arm1));
    set(2, 2, -ct * (a + arm));
    set(1, up, -st * cp);
    set(2, up, -ct * sp);
    if (solid) {
        set(1, 4, -st * arm1);
        set(2, 4, -ct * arm);
        set(4, 4, -ct * arm);
    }
    return z;
}

Scalar contact(const AxleFrame& f, const Vector5& q, const Angles& turned, int side, bool curved = false) {
    const Axle& a = *f.axle;
    const double sign = side == 0 ? 1 : -1;
    if (a.kind == AxleKind::Solid)
        return height(f, q, turned, -f.cy, a.roll_centre_height - f.cz, 3, sign * a.track / 2, -a.roll_centre_height,
                      curved);
    Scalar z = height(f, q, turned, sign * a.track / 2 - f.cy, a.roll_centre_height - f.cz, 3 + side, 0, 0, curved);
    z.value -= a.roll_centre_height;
    return z;
}

/// Height of a solid axle's own mass.
Scalar axle_middle(const AxleFrame& f, const Vector5& q, const Angles& turned, bool curved = false) {
    const Axle& a = *f.axle;
    return height(f, q, turned, -f.cy, a.roll_centre_height - f.cz, 3, 0, a.unsprung_height - a.roll_centre_height,
                  curved);
}

/// Travel of a point on the axle `out` to the left of its middle (solid), or of the wheel (independent).
Scalar travel(const AxleFrame& f, const Vector5& q, const Angles& turned, int side, double base) {
    Scalar s;
    if (f.axle->kind == AxleKind::Independent) {
        s.value = q[3 + side];
        s.gradient[3 + side] = 1;
        return s;
    }
    const double out = (side == 0 ? 1 : -1) * base / 2;
    s.value = q[3] + out * turned.sa;
    s.gradient[3] = 1;
    s.gradient[4] = out * turned.ca;
    s.hessian(4, 4) = -out * turned.sa;
    return s;
}

/// Force added to the static one by a table of points, with its slope and its integral from zero travel.
Potential tabled(const std::vector<ForcePoint>& table, double s) {
    const auto force = [&](double at) {
        std::size_t i = 1;
        while (i + 1 < table.size() && at > table[i].travel) ++i;
        const ForcePoint &a = table[i - 1], &b = table[i];
        const double slope = (b.force - a.force) / (b.travel - a.travel);
        return std::pair{a.force + slope * (at - a.travel), slope};
    };
    // Piecewise linear, so the trapezium between kinks is exact.
    double integral = 0, from = std::min(0.0, s);
    const double end = std::max(0.0, s);
    for (const ForcePoint& p : table)
        if (p.travel > from && p.travel < end) {
            integral += (p.travel - from) * (force(from).first + force(p.travel).first) / 2;
            from = p.travel;
        }
    integral += (end - from) * (force(from).first + force(end).first) / 2;
    const auto [f, slope] = force(s);
    return {s < 0 ? -integral : integral, f, slope};
}

/// The spring alone, from its static force on.
Potential rate_of(const Axle& a, double s) {
    if (a.spring_table.size() > 1) return tabled(a.spring_table, s);
    return {a.spring_rate * s * s / 2, a.spring_rate * s, a.spring_rate};
}

/// Spring and stops of one side at spring travel s.
Potential springing(const Axle& a, std::size_t side, double statically, double s) {
    Potential p{0, 0, 0};
    const Potential rate = rate_of(a, s);
    if (a.captive_springs || statically + rate.slope > 0) {
        p = {statically * s + rate.value, statically + rate.slope, rate.curvature};
    } else if (a.spring_table.size() < 2) {
        p.value = -statically * statically / (2 * a.spring_rate);
    }
    if (const double e = s - a.bump_room(side); e > 0) {
        p.value += a.bump_k1 * e * e / 2 + a.bump_k3 * e * e * e * e / 4;
        p.slope += a.bump_k1 * e + a.bump_k3 * e * e * e;
        p.curvature += a.bump_k1 + 3 * a.bump_k3 * e * e;
    }
    if (const double e = -s - a.droop_room(side); e > 0) {
        p.value += a.droop_k * e * e / 2;
        p.slope -= a.droop_k * e;
        p.curvature += a.droop_k;
    }
    return p;
}

double squeeze(const AxleFrame& f, int side, double contact_height) {
    return f.tyre_static[side] + f.ground[side] - contact_height;
}

void add_bar(AxleEnergy& out, const AxleFrame& f, const Vector5& q, const Angles& turned) {
    const Axle& a = *f.axle;
    if (!a.linkage && a.bar.isZero()) return;
    const double base = a.linkage ? a.track : a.bar_base;
    const Scalar l = travel(f, q, turned, 0, base), r = travel(f, q, turned, 1, base);
    const Eigen::Vector2d d(l.value, r.value);
    linkage::Answer bar;
    if (a.linkage) {
        const bool known = f.known_bar && f.known_bar->travel == d && f.known_bar->law == a.linkage;
        bar = known ? f.known_bar->answer : (*a.linkage)(d);
    } else {
        bar.force = a.bar * d;
        bar.energy = d.dot(bar.force) / 2;
        bar.rate = a.bar;
    }
    out.value += bar.energy;
    const double between = a.kind == AxleKind::Solid ? base : a.track;
    out.bar_roll = between * between / 4 * (bar.rate(0, 0) + bar.rate(1, 1) - bar.rate(0, 1) - bar.rate(1, 0));
    Eigen::Matrix<double, 5, 2> j;
    j << l.gradient, r.gradient;
    out.gradient.noalias() += j * bar.force;
    if (!out.curved) return;
    out.hessian.noalias() += j * bar.rate * j.transpose() + bar.force[0] * l.hessian + bar.force[1] * r.hessian;
}

void add_parasitic(AxleEnergy& out, const AxleFrame& f, const Vector5& q) {
    const double k = f.axle->parasitic_roll_stiffness;
    if (k == 0) return;
    Scalar roll;
    if (f.axle->kind == AxleKind::Solid) {
        roll.value = q[4];
        roll.gradient[4] = 1;
    } else {
        roll.value = (q[3] - q[4]) / f.axle->track;
        roll.gradient[3] = 1 / f.axle->track;
        roll.gradient[4] = -roll.gradient[3];
    }
    add(out, {k * roll.value * roll.value / 2, k * roll.value, k}, roll);
}

/// Lateral forces: a moment on the body about the roll centre, and the couple that the ground takes at the wheels.
void add_lateral(AxleEnergy& out, const AxleFrame& f, const Vector5& q, const Scalar& left, const Scalar& right) {
    const Axle& a = *f.axle;
    const double body = f.sprung_mass * f.lateral,
                 moment = body * (f.cz - a.roll_centre_height) + f.wind * (f.wind_height - a.roll_centre_height);
    out.value -= moment * std::sin(q[2]);
    out.gradient[2] -= moment * std::cos(q[2]);
    out.hessian(2, 2) += moment * std::sin(q[2]);

    const double unsprung = a.unsprung_mass * f.lateral, force = body + unsprung + f.wind;
    double couple = (body + f.wind) * a.roll_centre_height + unsprung * a.unsprung_height;
    couple += (f.sprung_mass + a.unsprung_mass) * f.g * force / a.lateral_tyre_rate;
    add(out, linear(-couple / a.track, left.value), left);
    add(out, linear(couple / a.track, right.value), right);
}
} // namespace

AxleEnergy energy(const AxleFrame& f, const Vector5& q, bool curved) {
    const Axle& a = *f.axle;
    AxleEnergy out;
    out.curved = curved;
    const Angles turned(f, q);
    const std::array<Scalar, 2> z{contact(f, q, turned, 0, curved), contact(f, q, turned, 1, curved)};
    for (int side = 0; side < 2; ++side) {
        if (const double d = squeeze(f, side, z[side].value); d > 0 || f.held[static_cast<std::size_t>(side)])
            add(out, {a.tyre_rate * d * d / 2, -a.tyre_rate * d, a.tyre_rate}, z[side]);
        const Scalar s = travel(f, q, turned, side, a.spring_base);
        add(out, springing(a, static_cast<std::size_t>(side), f.spring_static[side], s.value), s);
    }
    if (a.kind == AxleKind::Solid) {
        const Scalar middle = axle_middle(f, q, turned, curved);
        add(out, linear(a.unsprung_mass * f.g, middle.value), middle);
        out.value -= f.torque * q[4];
        out.gradient[4] -= f.torque;
    } else {
        for (const Scalar& side : z) add(out, linear(a.unsprung_mass * f.g / 2, side.value), side);
    }
    add_bar(out, f, q, turned);
    add_parasitic(out, f, q);
    add_lateral(out, f, q, z[0], z[1]);
    return out;
}

AxleMotion motion(const AxleFrame& f, const Vector5& q) {
    const Axle& a = *f.axle;
    const Angles turned(f, q);
    AxleMotion out;
    for (int side = 0; side < 2; ++side) {
        out.contact[side] = contact(f, q, turned, side).gradient;
        out.spring[side] = travel(f, q, turned, side, a.spring_base).gradient;
        out.travel[side] = travel(f, q, turned, side, a.track).gradient;
    }
    if (a.kind == AxleKind::Solid) {
        out.middle = axle_middle(f, q, turned).gradient;
        out.turn[2] = out.turn[4] = 1;
    }
    return out;
}

KnownBar known_bar(const AxleFrame& f, const Vector5& q) {
    const Angles turned(f, q);
    const Eigen::Vector2d d(travel(f, q, turned, 0, f.axle->track).value, travel(f, q, turned, 1, f.axle->track).value);
    return {f.axle->linkage, d, f.axle->linkage ? (*f.axle->linkage)(d) : linkage::Answer()};
}

PerSide<Wheel> wheels(const AxleFrame& f, const Vector5& q) {
    const Axle& a = *f.axle;
    PerSide<Wheel> out;
    const Angles turned(f, q);
    for (int side = 0; side < 2; ++side) {
        const double d = squeeze(f, side, contact(f, q, turned, side).value);
        const double spring = travel(f, q, turned, side, a.spring_base).value;
        Wheel& w = out[side];
        const bool stands = d > 0 || f.held[static_cast<std::size_t>(side)];
        w.load = stands ? a.tyre_rate * d : 0;
        w.gap = stands ? 0 : -d;
        w.travel = travel(f, q, turned, side, a.track).value;
        w.room_bump = a.bump_room(static_cast<std::size_t>(side)) - spring;
        w.room_droop = a.droop_room(static_cast<std::size_t>(side)) + spring;
        w.stop = w.room_bump < 0 ? Stop::Bump : w.room_droop < 0 ? Stop::Droop : Stop::Free;
        w.spring = f.spring_static[side] + rate_of(a, spring).slope;
    }
    return out;
}

} // namespace dervish::car
