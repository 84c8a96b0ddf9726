#include "core/balance/tyre.h"

#include <algorithm>
#include <cmath>

namespace dervish::balance {
namespace {
/// Off its best pressure a tyre loses grip either way; harder, it is stiffer under much load and softer under little.
/// The powers are round figures, assumed.
Tyre at_pressure(const Tyre& t) {
    Tyre out = t;
    const double off = t.pressure - t.best_pressure;
    if (off != 0) out.grip *= std::max(0.3, 1 - t.pressure_loss * off * off);
    if (t.pressure == 1) return out;
    out.stiffness *= std::pow(t.pressure, 0.1);
    out.stiffness_load *= std::pow(t.pressure, 0.5);
    return out;
}

double grip_of(const Tyre& t, const Surface& s, double load, double into) {
    const double by_load = 1 - t.grip_fall * s.fall * (load / t.nominal_load - 1), off = into - t.best_camber;
    const double by_camber = 1 - t.camber_loss * off * off;
    return t.grip * s.grip * std::max(by_load, 0.2) * std::max(by_camber, 0.3);
}

double stiffness_of(const Tyre& t, const Surface& s, double load) {
    const double part = load / (t.stiffness_load * t.nominal_load);
    return s.stiffness * t.stiffness * t.nominal_load * 2 * part / (1 + part * part); // sin(2 atan part)
}
} // namespace

double peak_grip(const Tyre& tyre, const Surface& s, double load, double into) {
    return grip_of(at_pressure(tyre), s, load, into);
}

namespace {
double lag_of(const Tyre& t, const Surface& s, double load) {
    return t.relaxation * stiffness_of(t, s, std::max(0.0, load)) / stiffness_of(t, {}, t.nominal_load);
}

/// The loads at which five-point Gauss-Hermite sums look, and their weights; below zero the tyre is off the ground, and
/// the rest carries what it then does not. Without a spread one, the mean.
struct Loads {
    int count = 0;
    std::array<double, 5> load{}, weight{}, slips{};
};

/// A deflection v of the contact with v' = V (α − v/s(F)), while the load F goes to another one at random, `often` a
/// metre: v/s over α is q(F)/mean of q, q = 1/(1 + often · s(F)). A swing's size changes slowly beside the swing: its
/// mean is over a sine of that size, whose square is the load's own offset's and that of a normal offset a quarter
/// turn away.
Loads looked_at(const Tyre& t, const Surface& s, const WheelLoad& load) {
    if (!(load.mean > 0)) return {};
    const double spread = load.swing.spread;
    if (!(spread > 0)) return {1, {load.mean}, {1}, {1}};
    static constexpr double place[] = {-2.8569700138728056, -1.3556261799742659, 0, 1.3556261799742659,
                                       2.8569700138728056},
                            weight[] = {0.011257411327720689, 0.22207592200561266, 0.5333333333333333,
                                        0.22207592200561266, 0.011257411327720689};
    // Four-point Gauss-Hermite and eight Chebyshev points a turn, of which half are the mirror of the others.
    static constexpr std::pair<double, double> away[] = {{0.7419637843027258, 0.9082482904638630},
                                                         {2.3344142183389773, 0.0917517095361369}};
    static constexpr double turn[] = {0.9238795325112867, 0.3826834323650898};
    double carried = 0;
    for (int i = 0; i < 5; ++i) carried += weight[i] * std::max(0.0, load.mean + place[i] * spread);
    const double share = load.mean / carried, part = spread / load.mean;
    // Deep swings pass low loads quicker: fitted to runs in time (tests/core/ride.cpp).
    const double often = load.swing.changes / (1 + part * part);
    const double per = often * lag_of(t, s, load.mean) / stiffness_of(t, s, load.mean);
    const auto follows = [&](double offset) {
        return 1 / (1 + per * stiffness_of(t, s, std::max(0.0, load.mean + offset * spread) * share));
    };
    double slips[3]; // of places 0, 1 and 2 from the middle
    for (int i = 0; i < 3; ++i) {
        slips[i] = 0;
        for (const auto& [other, weighs] : away) {
            const double size = std::hypot(place[i + 2], other);
            double mean = 0;
            for (const double at : turn) mean += (follows(size * at) + follows(-size * at)) / 4;
            slips[i] += weighs / mean;
        }
    }
    Loads out;
    for (int i = 0; i < 5; ++i) {
        const double now = (load.mean + place[i] * spread) * share;
        if (!(now > 0)) continue;
        const auto at = static_cast<std::size_t>(out.count++);
        out.load[at] = now;
        out.weight[at] = weight[i];
        out.slips[at] = slips[std::abs(i - 2)] * follows(place[i]);
    }
    return out;
}
} // namespace

double relaxation_at(const Tyre& tyre, const Surface& s, double load) { return lag_of(at_pressure(tyre), s, load); }

SideForce::SideForce(const Tyre& tyre, const Surface& s, const WheelLoad& load, double camber, double along)
    : shape_(tyre.shape), bend_(tyre.bend), shift_(tyre.camber_thrust * camber) {
    const Tyre t = at_pressure(tyre);
    const Loads loads = looked_at(t, s, load);
    count_ = loads.count;
    slips_ = loads.slips;
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const double now = loads.load[i], stiffness = stiffness_of(t, s, now);
        for (const std::size_t other : {0, 1}) {
            const double most = grip_of(t, s, now, other ? -camber : camber) * now, spent = along / most;
            parts_[other][i] = {std::abs(spent) < 1 ? loads.weight[i] * most * std::sqrt(1 - spent * spent) : 0,
                                stiffness / (t.shape * most)};
        }
    }
}

double SideForce::at(double slip) const {
    double out = 0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const double turned = slips_[i] * slip + shift_;
        const auto [reach, steepness] = parts(turned)[i];
        const double x = steepness * turned;
        out += reach * std::sin(shape_ * std::atan(x - bend_ * (x - std::atan(x))));
    }
    return out;
}

double SideForce::slope(double slip) const {
    double out = 0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const double turned = slips_[i] * slip + shift_;
        const auto [reach, steepness] = parts(turned)[i];
        const double x = steepness * turned, bent = x - bend_ * (x - std::atan(x));
        out += reach * std::cos(shape_ * std::atan(bent)) * shape_ / (1 + bent * bent) *
               (1 - bend_ * x * x / (1 + x * x)) * steepness * slips_[i];
    }
    return out;
}

std::pair<double, double> SideForce::most_between(double furthest) const {
    double least = furthest, most = 0;
    if (!(shape_ > 1)) return {furthest, furthest};
    // Where the bent slip reaches tan(π/2C), by Newton; from far out it comes down to it.
    const double wanted = std::tan(units::pi / (2 * shape_));
    double x = wanted;
    for (int i = 0; i < 50; ++i) {
        const double step = (x - bend_ * (x - std::atan(x)) - wanted) / (1 - bend_ * x * x / (1 + x * x));
        x -= step;
        if (std::abs(step) < 1e-9 * std::abs(x)) break;
    }
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const double there = std::clamp((x / parts_[0][i].steepness - shift_) / slips_[i], 0.0, furthest);
        least = std::min(least, there);
        most = std::max(most, there);
    }
    return {least, most};
}

double SideForce::most() const {
    if (count_ == 1) return parts_[0][0].reach;
    // Flat about its top: the best of some between the loads' own.
    const auto [least, most] = most_between(1.5);
    double out = 0;
    for (int i = 0; i <= 8; ++i) out = std::max(out, at(least + i / 8.0 * (most - least)));
    return out;
}

double peak_force(const Tyre& tyre, const Surface& s, const WheelLoad& load, double into) {
    return SideForce(tyre, s, load, into, 0).most();
}

double cornering_stiffness(const Tyre& t, const Surface& s, double load) {
    return load > 0 ? stiffness_of(at_pressure(t), s, load) : 0;
}

double rate_at_pressure(double pressure) { return 0.15 + 0.85 * pressure; }

} // namespace dervish::balance
