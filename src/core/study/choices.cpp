#include "core/study/choices.h"
#include "core/job/usual.h"

#include "core/job/fields.h"
#include "core/model/model.h"
#include "core/num/root.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <sstream>

namespace dervish::study {
namespace {
double eye_rate(const Assembly& a) { return bar::roll_rate(solve(a).at_eyes); }

/// A link this far from square pulls along the arm: what follows is stretching, not turning.
constexpr double last_off_square = 80 * units::deg;

/// Link travels at which substitutes are compared: 20 mm each way.
const Eigen::Vector2d compared(-0.02, 0.02);

Assembly with_size(Assembly a, double diameter, double wall) {
    a.bar.outer_diameter.value = diameter;
    a.bar.wall.value = wall;
    return a;
}

Substitute substitute(const Assembly& a, double diameter, double wall, double stress_now) {
    const bar::Solution s = solve(with_size(a, diameter, wall));
    return {diameter, wall, bar::roll_rate(s.at_eyes), bar::mass(s.bar),
            bar::worst(bar::stress(s, compared)).von_mises / stress_now};
}

/// A size and what the rate there is off by.
struct Tried {
    double size, off;
};
/// The furthest from `from`, which can be made, up to `to` that can (tight bends hold large ones off).
template <class F> Tried furthest(F&& off, double from, double to) {
    Tried out{to, off(to)};
    if (std::isfinite(out.off)) return out;
    double cannot = to;
    out = {from, off(from)};
    for (int i = 0; i < 16; ++i)
        if (const double middle = (out.size + cannot) / 2, at = off(middle); std::isfinite(at))
            out = {middle, at};
        else
            cannot = middle;
    return out;
}

double stress_of(const Assembly& a) { return bar::worst(bar::stress(solve(a), compared)).von_mises; }
} // namespace

TravelCurve travel_curve(const AxleSetup& a, const AxleData& axle, double wheel_travel, int steps) {
    TravelCurve out{{}, {}, 0, 0, 0, {}, {}};
    out.link_per_wheel = link_per_wheel(a, axle);
    const bar::Solution solution = solve(a, axle, 0.12);
    const bar::Mesh mesh = bar::mesh(solution);
    const bar::Pull pull = to_pull(a, axle, solution.bar);
    const double far = wheel_travel * out.link_per_wheel;
    out.roll = bar::sweep(mesh, pull, {-far, far}, steps);
    out.one_side = bar::sweep(mesh, pull, {0, far}, steps);
    if (static_cast<int>(out.roll.size()) <= steps)
        out.ends_at = out.roll.empty() ? 0 : out.roll.back().travel[1] / out.link_per_wheel;
    for (const bar::TravelPoint& p : out.roll)
        if (p.off_square > last_off_square) {
            out.ends_at = p.travel[1] / out.link_per_wheel;
            break;
        }
    const auto rate = [&](std::size_t i) {
        const bar::TravelPoint &from = out.roll[i], &to = out.roll[i + 1];
        return -(to.force[1] - from.force[1]) / (to.travel[1] - from.travel[1]);
    };
    if (out.roll.size() > 2) {
        out.rate_at_rest = rate(0);
        out.rate_at_end = rate(out.roll.size() - 2);
    }
    const double yield = a.bar.yield_strength.value;
    for (std::size_t i = 1; i < out.roll.size() && !out.yields_at; ++i) {
        const double before = out.roll[i - 1].worst.von_mises, now = out.roll[i].worst.von_mises;
        if (now < yield) continue;
        const double part = (yield - before) / (now - before);
        out.yields_at = (out.roll[i - 1].travel[1] + part * (out.roll[i].travel[1] - out.roll[i - 1].travel[1])) /
                        out.link_per_wheel;
    }
    return out;
}

std::vector<Worth> worths(const AxleSetup& a, const AxleData& axle, double step) {
    using Change = Worth::Change;
    std::vector<Worth> out;
    const auto add = [&](Change what, auto&& change, BushKind bushes = BushKind::Unsaid) {
        AxleSetup tried = a;
        place_pickups(tried);
        change(tried);
        try {
            out.push_back({what, bushes, step, bar::roll_rate(solve(tried, axle).at_eyes)});
        } catch (const BadInput&) { // not on this bar
        }
    };
    add(Change::Thicker, [&](Assembly& t) { t.bar.outer_diameter.value += step; });
    add(Change::Thinner, [&](Assembly& t) { t.bar.outer_diameter.value -= step; });
    const int last = static_cast<int>(to_laid(a).left_eye.size()) - 1;
    if (a.left_eye > 0 && a.right_eye > 0) add(Change::EyeOut, [](Assembly& t) { --t.left_eye, --t.right_eye; });
    if (a.left_eye < last && a.right_eye < last) add(Change::EyeIn, [](Assembly& t) { ++t.left_eye, ++t.right_eye; });
    if (a.held == Held::Clamped) return out;
    const auto scaled = [](double f) {
        return [f](Assembly& t) {
            for (Measured* k : {&t.mounts.vertical, &t.mounts.fore_aft}) k->value *= f;
        };
    };
    if (a.mounts.kind == BushKind::Unsaid) {
        add(Change::Stiffer, scaled(2));
        add(Change::Softer, scaled(0.5));
    }
    const double now = usual_mounts(a.mounts.kind).vertical.value;
    for (const BushKind kind : {BushKind::Rubber, BushKind::Urethane, BushKind::Metal})
        if (a.mounts.kind != BushKind::Unsaid && kind != a.mounts.kind)
            add(Change::Bushes, scaled(usual_mounts(kind).vertical.value / now), kind);
    if (a.mounts.rate_left.value < 1) add(Change::SoundBushes, [](Assembly& t) { t.mounts.rate_left.value = 1; });
    add(Change::RigidMounts, [](Assembly& t) {
        for (Measured* k : {&t.mounts.vertical, &t.mounts.fore_aft}) k->value = 1e11;
        t.mounts.bracket.value = bar::rigid;
    });
    return out;
}

std::vector<Substitute> equal_rate_tubes(const Assembly& a, const std::vector<double>& walls) {
    std::vector<Substitute> out;
    const double wanted = eye_rate(a), now = stress_of(a), d = a.bar.outer_diameter.value;
    const double w = a.bar.wall.value, inner = w > 0 ? d - 2 * w : 0, fourth = std::pow(d, 4) - std::pow(inner, 4);
    for (const double wall : walls) {
        const auto off = [&](double D) {
            try {
                return eye_rate(with_size(a, D, wall)) - wanted;
            } catch (const BadInput&) {
                return std::nan("");
            }
        };
        const double low = std::max(2 * wall, std::pow(fourth, 0.25)), at_low = off(low);
        if (!(at_low <= 0)) continue; // a thinner bar than this wall allows
        const Tried high = furthest(off, low, 0.1);
        if (!(high.off > 0)) continue; // none that large, or none that goes round its bends
        const double D = root_between(off, low, high.size, at_low, high.off, 1e-7);
        out.push_back(substitute(a, D, wall, now));
    }
    return out;
}

std::optional<Assembly> with_rate(const Assembly& a, double factor) {
    Assembly out = a;
    if (factor <= 0) {
        out.connected = false;
        return out;
    }
    const double wanted = factor * eye_rate(a), d = a.bar.outer_diameter.value;
    const auto off = [&](double D) {
        try {
            return eye_rate(with_size(a, D, a.bar.wall.value)) - wanted;
        } catch (const BadInput&) {
            return std::nan("");
        }
    };
    const Tried end = furthest(off, d, factor > 1 ? 0.1 : std::max(2.01 * a.bar.wall.value, 0.05 * d));
    const double here = off(d);
    if (!std::isfinite(end.off) || (here > 0) == (end.off > 0)) return {};
    Measured& size = out.bar.outer_diameter;
    size.value = root_between(off, d, end.size, here, end.off, 1e-7);
    size.source = Source::Assumed;
    return out;
}

std::vector<Substitute> from_stock(const Assembly& a, const std::vector<StockSize>& stock) {
    std::vector<Substitute> out;
    const double wanted = eye_rate(a), now = stress_of(a);
    for (const StockSize& s : stock) {
        try {
            out.push_back(substitute(a, s.outer_diameter, s.wall, now));
        } catch (const BadInput&) { // does not go round this bar's bends
        }
    }
    std::erase_if(out, [&](const Substitute& s) { return std::abs(std::log(s.rate / wanted)) > std::log(2); });
    std::stable_sort(out.begin(), out.end(), [&](const Substitute& x, const Substitute& y) {
        return std::abs(std::log(x.rate / wanted)) < std::abs(std::log(y.rate / wanted));
    });
    return out;
}

Friction friction(const Assembly& a, const BarFigures& f, const Eigen::Vector2d& travel) {
    Friction out{0, 0, 0};
    const double mu = a.mounts.bore_friction.value;
    if (a.held == Held::Clamped || !(mu > 0) || a.mounts.torsional.value > 0) return out; // bonded bushes do not slide
    const bar::Moved at = bar::moved(f.solution, travel);
    const double radius = a.bar.outer_diameter.value / 2, arm = arm_to(a, f.laid, true, a.left_eye);
    double torque = 0;
    for (const Eigen::Vector3d& force : bar::mount_forces(f.solution, at))
        torque += mu * radius * std::hypot(force.x(), force.z());
    double bind = 0;
    if (a.mounts.out_of_line.value != 0) {
        const double span = a.mounts.spacing.value,
                     ei = f.solution.bar.material.youngs_modulus *
                          bar::constants(bar::Round{a.bar.outer_diameter.value, a.bar.wall.value},
                                         f.solution.bar.material)
                              .bend_y;
        // The bar meets two points freely; what resists is the tilt out_of_line/span against each bush's own length,
        // taken as twice the diameter: a bush of rate k spread over it resists tilt by k length²/12, in series with the
        // bar's end turning under two moments of one sense, span/(6 EI).
        const double length = 4 * radius,
                     tilt = a.mounts.rate_left.value * a.mounts.vertical.value * length * length / 12;
        const double moment = std::abs(a.mounts.out_of_line.value) / span / (1 / tilt + span / (6 * ei));
        // A moment spreads a pressure of 3 M/length in all over a bush, and 2 M/span of force between the two.
        bind = 2 * mu * radius * moment * (3 / length + 2 / span);
    }
    out.band = (torque + bind) / (2 * arm);
    out.from_bind = bind / (2 * arm);
    const double force = at.force.cwiseAbs().maxCoeff();
    out.share = force > 0 ? out.band / force : 0;
    return out;
}

Hysteresis hysteresis(const TravelCurve& curve, const Assembly& a, const BarFigures& f) {
    Hysteresis out{{}, a.held == Held::Clamped ? 0 : a.links.play.value / 2 / curve.link_per_wheel};
    if (curve.roll.empty()) return out;
    const double reference = 0.01;
    const Friction at = friction(a, f, {-reference, reference});
    const double force = std::abs((f.solution.at_links * Eigen::Vector2d(-reference, reference))[1]);
    const double share = force > 0 ? (at.band - at.from_bind) / force : 0;
    for (const bar::TravelPoint& p : curve.roll) {
        const double clean = std::abs(p.force[1]), rub = share * clean + at.from_bind;
        out.points.push_back({p.travel[1] / curve.link_per_wheel + out.slack, clean + rub, std::max(0.0, clean - rub)});
    }
    return out;
}

std::vector<Reserve> reserves(const Assembly& a, const BarFigures& f, const Eigen::Vector2d& travel) {
    const bar::Moved at = bar::moved(f.solution, travel);
    std::vector<Reserve> out{
        {"bar", bar::worst(bar::stress(f.solution, at.end)).von_mises, a.bar.yield_strength.value}};
    if (a.held == Held::Links) {
        if (a.links.capacity.value > 0) out.push_back({"link", at.force.cwiseAbs().maxCoeff(), a.links.capacity.value});
        double bracket = 0;
        for (const Eigen::Vector3d& force : bar::mount_forces(f.solution, at))
            bracket = std::max(bracket, std::hypot(force.x(), force.z()));
        if (a.mounts.capacity.value > 0) out.push_back({"bracket", bracket, a.mounts.capacity.value});
    }
    std::stable_sort(out.begin(), out.end(),
                     [](const Reserve& x, const Reserve& y) { return x.reserve() < y.reserve(); });
    return out;
}

std::vector<Duty> duties(const AxleSetup& a, const AxleData& axle, const BarFigures& f) {
    std::vector<Duty> out;
    const double limit = 0.4 * a.bar.yield_strength.value, per = link_per_wheel(a, axle);
    for (const auto& [surface, travel] :
         {std::pair{"smooth road", 0.012}, {"rough road", 0.03}, {"track", 0.04}, {"rocks", 0.08}}) {
        const double stress = bar::worst(bar::stress(f.solution, {-travel * per, travel * per})).von_mises;
        out.push_back({surface, travel, stress, stress > 0 ? limit / stress : 99});
    }
    return out;
}

} // namespace dervish::study
