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

Loads looked_at(const WheelLoad& load) {
    if (!(load.mean > 0)) return {};
    if (!(load.spread > 0)) return {1, {load.mean}, {1}};
    static constexpr double place[] = {-2.8569700138728056, -1.3556261799742659, 0, 1.3556261799742659,
                                       2.8569700138728056},
                            weight[] = {0.011257411327720689, 0.22207592200561266, 0.5333333333333333,
                                        0.22207592200561266, 0.011257411327720689};
    double carried = 0;
    for (int i = 0; i < 5; ++i) carried += weight[i] * std::max(0.0, load.mean + place[i] * load.spread);
    Loads out;
    for (int i = 0; i < 5; ++i) {
        const double now = (load.mean + place[i] * load.spread) * load.mean / carried;
        if (!(now > 0)) continue;
        const auto at = static_cast<std::size_t>(out.count++);
        out.load[at] = now;
        out.weight[at] = weight[i];
    }
    return out;
}

SideForce::SideForce(const Tyre& tyre, const Surface& s, const WheelLoad& load, double camber, double along)
    : shape_(tyre.shape), bend_(tyre.bend), shift_(tyre.camber_thrust * camber) {
    const Tyre t = at_pressure(tyre);
    const Loads loads = looked_at(load);
    count_ = loads.count;
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
    const double turned = slip + shift_;
    double out = 0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const auto [reach, steepness] = parts(turned)[i];
        const double x = steepness * turned;
        out += reach * std::sin(shape_ * std::atan(x - bend_ * (x - std::atan(x))));
    }
    return out;
}

double SideForce::slope(double slip) const {
    const double turned = slip + shift_;
    double out = 0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(count_); ++i) {
        const auto [reach, steepness] = parts(turned)[i];
        const double x = steepness * turned, bent = x - bend_ * (x - std::atan(x));
        out += reach * std::cos(shape_ * std::atan(bent)) * shape_ / (1 + bent * bent) *
               (1 - bend_ * x * x / (1 + x * x)) * steepness;
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
        const double there = std::clamp(x / parts_[0][i].steepness - shift_, 0.0, furthest);
        least = std::min(least, there);
        most = std::max(most, there);
    }
    return {least, most};
}

double peak_force(const Tyre& tyre, const Surface& s, const WheelLoad& load, double into) {
    const Loads loads = looked_at(load);
    double out = 0;
    for (std::size_t i = 0; i < static_cast<std::size_t>(loads.count); ++i)
        out += loads.weight[i] * peak_grip(tyre, s, loads.load[i], into) * loads.load[i];
    return out;
}

double cornering_stiffness(const Tyre& t, const Surface& s, double load) {
    return load > 0 ? stiffness_of(at_pressure(t), s, load) : 0;
}

double rate_at_pressure(double pressure) { return 0.15 + 0.85 * pressure; }

} // namespace dervish::balance
