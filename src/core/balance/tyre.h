#pragma once
#include "core/balance/ground.h"
#include "core/units/units.h"

#include <array>
#include <cmath>
#include <utility>

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
    double relaxation = 0.5;               ///< length rolled until 63 % of the force is there, at nominal load, m
    double pressure = 1;                   ///< over nominal
    double best_pressure = 1;              ///< over nominal, at which it grips most
    double pressure_loss = 0.5;            ///< of the peak grip, per pressure squared off the best one
};

/// Peak force over load, no longitudinal force; `into`: lean of the wheel's top into the turn, rad.
double peak_grip(const Tyre& tyre, const Surface& surface, double load, double into);

/// How a wheel's load swings on rough ground: about Gaussian.
struct LoadSwing {
    double spread = 0;  ///< standard deviation, N
    double changes = 0; ///< how fast, against the tyre's own lag: what its force follows of a small swing is
                        ///< 1/(1 + changes · relaxation_at()) of it; 1/m
};
struct WheelLoad {
    double mean = 0; ///< N
    LoadSwing swing{};
};

/// Of a load's variance and of what of it a contact follows that lags by `relaxation`, N².
inline LoadSwing load_swing(double variance, double followed, double relaxation) {
    return {std::sqrt(variance), variance > followed ? (variance - followed) / (followed * relaxation) : 0};
}

/// Length that the contact lags by under a load: in proportion to the cornering stiffness there, m.
double relaxation_at(const Tyre& tyre, const Surface& surface, double load);

/// The side force of a tyre under a load, a camber and a longitudinal force, by its slip angle alone: where the load
/// swings the mean, with what the contact's lag costs. `camber`: lean of the wheel's top to the side that the slip
/// points to, rad; `along`: longitudinal force shared with it (ellipse), N. 0 where the wheel carries nothing.
/// Pacejka 2012, 4.3.2 (magic formula with D, BCD by load); camber as equivalent slip angle; the lag docs/model.md,
/// "Grip on rough ground".
/// Example: SideForce({}, {}, {4000}, 0, 0).at(0.05) is what a nominal tyre gives at 2.9°, N.
class SideForce {
public:
    SideForce(const Tyre& tyre, const Surface& surface, const WheelLoad& load, double camber, double along);
    double at(double slip) const;    ///< N, towards the side that the slip points to
    double slope(double slip) const; ///< N/rad
    /// Slip angles, up to `furthest`, between which the most force is; {furthest, 0} where the wheel carries nothing.
    std::pair<double, double> most_between(double furthest) const;
    /// The most at any slip to the side of a positive one, N.
    double most() const;

private:
    struct Part {                // at one load
        double reach, steepness; ///< N, weighted; B
    };

    const std::array<Part, 5>& parts(double turned) const { return parts_[turned < 0]; }
    std::array<std::array<Part, 5>, 2> parts_; ///< turned to the other side the camber helps where it hurt
    std::array<double, 5> slips_{};            ///< slip of the contact at each load over that of the wheel
    int count_ = 0;
    double shape_, bend_, shift_; ///< rad that the camber is worth
};

/// SideForce::at() for once.
inline double lateral_force(const Tyre& tyre, const Surface& surface, const WheelLoad& load, double slip, double camber,
                            double along = 0) {
    return SideForce(tyre, surface, load, camber, along).at(slip);
}
inline double lateral_force(const Tyre& tyre, const Surface& surface, double load, double slip, double camber,
                            double along = 0) {
    return SideForce(tyre, surface, {load, {}}, camber, along).at(slip);
}
/// The most there is without longitudinal force, N; `into` as of peak_grip().
double peak_force(const Tyre& tyre, const Surface& surface, const WheelLoad& load, double into);

/// ∂force/∂slip at no slip, N/rad.
double cornering_stiffness(const Tyre& tyre, const Surface& surface, double load);

/// Vertical rate over that at nominal pressure: most of a tyre's spring is its air.
double rate_at_pressure(double pressure);

} // namespace dervish::balance
