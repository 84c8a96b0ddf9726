#pragma once
#include "core/study/balance.h"

/// Straight off the line on a driven solid axle: the propshaft leans it, and a preloaded bar can lean it back.
namespace dervish::study {
using namespace model;

/// What the propshaft does to the driven solid axle at the vehicle's launch acceleration: driving force × wheel radius
/// / final drive.
struct PropshaftTorque {
    End end;
    double torque; ///< N·m, pressing the axle's right wheel down where positive
};
/// Nothing where no driven axle is solid.
std::optional<PropshaftTorque> propshaft_torque(const Vehicle& vehicle, const car::Car& car);

struct Launch : PropshaftTorque {
    PerWheel<double> load; ///< N
    double estimate;       ///< of what each of its wheels gains or loses: T K_other/(K_f + K_r)/t, N
    double lean;           ///< of the body, rad
    double preload;        ///< moment of the bar that takes out what the torque does, N·m: the torque itself
    /// The right link longer than the left one by this takes out what the torque adds, m, and nothing of what stands
    /// unlike without it; nothing without such a bar or within 60 mm.
    std::optional<double> longer;
};

/// At the vehicle's launch acceleration, longitudinal transfer inside the equilibrium. Nothing where no driven axle is
/// solid.
std::optional<Launch> launch(const Vehicle& vehicle, const Setup& setup);

} // namespace dervish::study
