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
    return s.stiffness * t.stiffness * t.nominal_load *
           std::sin(2 * std::atan(load / (t.stiffness_load * t.nominal_load)));
}
} // namespace

double peak_grip(const Tyre& tyre, const Surface& s, double load, double into) {
    return grip_of(at_pressure(tyre), s, load, into);
}

double lateral_force(const Tyre& tyre, const Surface& s, double load, double slip, double camber, double along) {
    if (!(load > 0)) return 0;
    const Tyre t = at_pressure(tyre);
    const double turned = slip + t.camber_thrust * camber; // the force, and so the turn, is to this side
    const double most = grip_of(t, s, load, turned < 0 ? -camber : camber) * load, spent = along / most;
    if (std::abs(spent) >= 1) return 0;
    const double b = stiffness_of(t, s, load) / (t.shape * most), x = b * turned;
    return most * std::sqrt(1 - spent * spent) * std::sin(t.shape * std::atan(x - t.bend * (x - std::atan(x))));
}

double lateral_force(const Tyre& tyre, const Surface& s, const WheelLoad& load, double slip, double camber,
                     double along) {
    return mean_over(load, [&](double now) { return lateral_force(tyre, s, now, slip, camber, along); });
}

double peak_force(const Tyre& tyre, const Surface& s, const WheelLoad& load, double into) {
    return mean_over(load, [&](double now) { return now > 0 ? peak_grip(tyre, s, now, into) * now : 0; });
}

double cornering_stiffness(const Tyre& t, const Surface& s, double load) {
    return load > 0 ? stiffness_of(at_pressure(t), s, load) : 0;
}

double rate_at_pressure(double pressure) { return 0.15 + 0.85 * pressure; }

} // namespace dervish::balance
