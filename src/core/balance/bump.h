#pragma once
#include "core/car/equilibrium.h"

/// A bump under one wheel: what the bars pass on to the body. docs/model.md, "One wheel over a bump".
namespace dervish::balance {

inline constexpr double bump_height = 0.01; ///< that the bars are asked over, m

/// One axle's answer. Frequencies are of the body on springs and tyres, that axle alone, undamped.
struct Bump {
    double wheel_rate;     ///< both wheels together, each, at the wheel, N/m
    double one_wheel_rate; ///< felt by one wheel, the other still, N/m
    double harshness;      ///< one_wheel_rate over wheel_rate: 1 without a bar or parasitic stiffness
    double ride;           ///< frequency of both wheels together, Hz
    double one_wheel;      ///< of the body's corner on one wheel's rate, Hz
};

/// Springs and parasitic stiffness at ride height, stops as they carry there, bars over bump_height. Independent: k +
/// the bar's force on the wheel moved; solid axle: k (1 + b²/t²)/2 and the bar's likewise, from where its links are.
/// `sprung`: mass that the axle carries, kg. `stops`: what stops add to each spring, N/m.
Bump bump(const car::Axle& axle, double sprung, double stops = 0);
/// Of both axles of a car that stands so, with the stops that carry there.
PerAxle<Bump> bumps(const car::Car& car, const car::State& still);

} // namespace dervish::balance
