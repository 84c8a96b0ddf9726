#pragma once
#include "core/units/units.h"

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

/// What the road does to it: factors on grip, cornering stiffness, and the fall of grip with load.
struct Surface {
    double grip = 1, stiffness = 1, fall = 1;
};
enum class Ground { Dry, Wet, Gravel, Mud, Snow };
inline constexpr Ground all_grounds[] = {Ground::Dry, Ground::Wet, Ground::Gravel, Ground::Mud, Ground::Snow};
const char* name_of(Ground ground);
/// Our own round figures, assumed: dry 1, wet 0.75, gravel 0.6, mud 0.4, snow 0.3 of the grip.
Surface surface_of(Ground ground);

/// Peak force over load, no longitudinal force; `into`: lean of the wheel's top into the turn, rad.
double peak_grip(const Tyre& tyre, const Surface& surface, double load, double into);

/// Lateral force, N, towards the side that `slip` points to. `camber`: lean of the wheel's top to that side, rad;
/// `along`: longitudinal force shared with it (ellipse), N. 0 where the wheel carries nothing.
/// Pacejka 2012, 4.3.2 (magic formula with D, BCD by load); camber as equivalent slip angle.
/// Example: lateral_force({}, {}, 4000, 0.05, 0) is what a nominal tyre gives at 2.9°.
double lateral_force(const Tyre& tyre, const Surface& surface, double load, double slip, double camber,
                     double along = 0);

/// ∂force/∂slip at no slip, N/rad.
double cornering_stiffness(const Tyre& tyre, const Surface& surface, double load);

/// Vertical rate over that at nominal pressure: most of a tyre's spring is its air.
double rate_at_pressure(double pressure);

} // namespace dervish::balance
