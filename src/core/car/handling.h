#pragma once
#include "core/car/equilibrium.h"

#include <optional>
#include <utility>

namespace dervish::car {

/// What the steady corner says of a car, from the equilibrium alone.
struct Handling {
    double roll_gradient; ///< lean per lateral acceleration, rad per m/s², between ±0.3 g
    double front_share;   ///< front share of lateral load transfer by moments, between ±0.3 g
    double first_lift; ///< lateral acceleration at which the first inside wheel lifts, m/s²; infinite when none does
                       ///< below 2 g
    int first_wheel;   ///< which (left turn), −1 when none
};

/// Front share by moments: t_f (F_R − F_L)_f / Σ t (F_R − F_L).
double front_share_of_load_transfer(const Car& car, const State& state);

/// Σ t (F_R − F_L)/2: the moment the ground puts on the car about x, N·m.
double load_transfer_moment(const Car& car, const State& state);

/// The first two figures of Handling alone. `near`: the settled turns left and right of a car much like this one, to
/// start from; with those of this one in it afterwards.
struct Turns {
    State left, right;
};
std::pair<double, double> roll_and_share(const Car& car, std::optional<Turns>* near = nullptr);

/// Roll gradient, front share and first lift of `car` as loaded.
Handling handling(const Car& car);

/// The smallest lateral acceleration (left turn, up to 2 g) at which a left wheel's load reaches zero or the car tips.
struct Lift {
    double acceleration;
    int wheel;
    State state;
};
std::optional<Lift> first_lift(const Car& car);

/// Lateral acceleration at which both left wheels are off the ground or the car no longer stands, m/s²; none below 2 g.
std::optional<double> rollover_threshold(const Car& car);

} // namespace dervish::car
