#pragma once
#include "core/balance/steady.h"

/// How a car goes over its limit. docs/model.md, "Letting go".
namespace dervish::balance {

struct LettingGo {
    double steer, slide, lean;    ///< how much more of each from 90 % of the limit to the limit, rad
    double growth;                ///< of what is off its path just beyond the limit, 1/s; below 0 it dies away
    std::optional<double> shakes; ///< Hz of a wheel's or the body's motion that does not die away there, faster than it
    /// Steering eased from just beyond to that of 80 % of the limit: until it follows again, s; nothing: not in 4 s.
    std::optional<double> back;
    /// The throttle lifted there instead (Phase::Lifted), the steering held: until neither end slides any more, s;
    /// nothing: not in 6 s, and whether it then has turned round (a slide of over 0.3 of the speed) or ploughs on.
    std::optional<double> back_lifted;
    bool spins_lifted;
    /// What is off doubles within a second, or easing the steering does not bring it back.
    bool sudden() const;
};

/// At a speed, m/s. Growth is the largest real part of the motions that turn the car (a fifth or more of them sideways
/// speed and yaw) of the equations of motion linearised where the axle that gives up first slips a tenth more than at
/// its most; the throttle is left as it is but for `back_lifted`. Nothing where no axle gives up first, or where its
/// lean tells nothing of the turn.
std::optional<LettingGo> letting_go(const Model& model, const Limit& limit, double speed);
/// Its sudden() alone, for a good third of the time.
std::optional<bool> lets_go_suddenly(const Model& model, const Limit& limit, double speed);

} // namespace dervish::balance
