#pragma once
#include "core/balance/ground.h"
#include "core/units/units.h"

#include <algorithm>

/// How a tyre grips. docs/model.md, "Grip".
namespace dervish::balance {

/// One tyre on its nominal surface at its nominal pressure. Values of its character, not of any make.
struct Tyre {
    double nominal_load = 4000;            ///< N
    double grip = 1.0;                     ///< peak lateral force over load, at nominal load
    double grip_fall = 0.12;               ///< of the peak grip, per nominal load more
    double stiffness = 16;                 ///< most cornering stiffness over nominal load, 1/rad
    double stiffness_load = 1.8;           ///< load over nominal at which that is reached
    double shape = 1.35;                   ///< C of the force's curve
    double bend = -0.6;                    ///< E
    double camber_thrust = 0.12;           ///< slip angle that camber is worth
    double camber_loss = 10;               ///< of the peak grip, per rad² off the best camber
    double best_camber = 1.5 * units::deg; ///< lean into the turn at which it grips most, rad
    double relaxation = 0.5;               ///< length rolled until 63 % of the force is there, m
    double pressure = 1;                   ///< over nominal
    double best_pressure = 1;              ///< over nominal, at which it grips most
    double pressure_loss = 0.5;            ///< of the peak grip, per pressure squared off the best one
};

/// Peak force over load, no longitudinal force; `into`: lean of the wheel's top into the turn, rad.
double peak_grip(const Tyre& tyre, const Surface& surface, double load, double into);

/// Lateral force, N, towards the side that `slip` points to. `camber`: lean of the wheel's top to that side, rad;
/// `along`: longitudinal force shared with it (ellipse), N. 0 where the wheel carries nothing.
/// Pacejka 2012, 4.3.2 (magic formula with D, BCD by load); camber as equivalent slip angle.
/// Example: lateral_force({}, {}, 4000, 0.05, 0) is what a nominal tyre gives at 2.9°.
double lateral_force(const Tyre& tyre, const Surface& surface, double load, double slip, double camber,
                     double along = 0);

/// The load of a wheel on rough ground, as far as its tyre's side force follows it: about Gaussian.
struct WheelLoad {
    double mean = 0, spread = 0; ///< N
};

/// Mean of what depends on a wheel's load, by five-point Gauss-Hermite sums; below zero the tyre is off the ground, and
/// the rest carries what it then does not. `of` takes a load, N. Without a spread it is of(mean).
template <class F> double mean_over(const WheelLoad& load, F&& of) {
    if (!(load.spread > 0) || !(load.mean > 0)) return of(load.mean);
    static constexpr double place[] = {-2.8569700138728056, -1.3556261799742659, 0, 1.3556261799742659,
                                       2.8569700138728056},
                            weight[] = {0.011257411327720689, 0.22207592200561266, 0.5333333333333333,
                                        0.22207592200561266, 0.011257411327720689};
    double carried = 0, out = 0;
    for (int i = 0; i < 5; ++i) carried += weight[i] * std::max(0.0, load.mean + place[i] * load.spread);
    for (int i = 0; i < 5; ++i) {
        const double now = (load.mean + place[i] * load.spread) * load.mean / carried;
        if (now > 0) out += weight[i] * of(now);
    }
    return out;
}

/// Means over the load of the lateral force, and of the most there is without longitudinal force, N.
double lateral_force(const Tyre& tyre, const Surface& surface, const WheelLoad& load, double slip, double camber,
                     double along = 0);
double peak_force(const Tyre& tyre, const Surface& surface, const WheelLoad& load, double into);

/// ∂force/∂slip at no slip, N/rad.
double cornering_stiffness(const Tyre& tyre, const Surface& surface, double load);

/// Vertical rate over that at nominal pressure: most of a tyre's spring is its air.
double rate_at_pressure(double pressure);

} // namespace dervish::balance
