#pragma once
#include "core/car/equilibrium.h"

#include <optional>
#include <utility>

namespace dervish::car {

/// What the steady corner says of a car, from the equilibrium alone.
struct Handling {
    double roll_gradient; ///< lean per lateral acceleration, rad per m/s², between ±0.3 g; infinite: it tips before
    double front_share;   ///< front share of lateral load transfer by moments, between ±0.3 g; infinite likewise
    double first_lift; ///< lateral acceleration, of turns to either side, at which the first inside wheel lifts, m/s²;
                       ///< infinite when none does below 2 g
    int first_wheel;   ///< which: a left one in a left turn; −1 when none
};

/// Front share by moments: t_f (F_R − F_L)_f / Σ t (F_R − F_L).
double front_share_of_load_transfer(const Car& car, const State& state);

/// Σ t (F_R − F_L)/2: the moment the ground puts on the car about x, N·m.
double load_transfer_moment(const Car& car, const State& state);

/// The settled turns at ±0.3 g. `near`: those of a car much like this one, to start from.
struct Turns {
    State left, right;
};
Turns turns(const Car& car, const Turns* near = nullptr);
/// The turn itself, left or right.
Situation turn(bool left);

/// The first two figures of Handling alone; both infinite where the car tips before 0.3 g to either side.
std::pair<double, double> roll_and_share(const Car& car, const Turns& turns);
std::pair<double, double> roll_and_share(const Car& car);

/// Roll gradient, front share and first lift of `car` as loaded.
Handling handling(const Car& car);

/// The smallest lateral acceleration (to either side, up to 2 g) at which an inside wheel's load reaches zero or the
/// car tips. A left wheel: in a left turn.
struct Lift {
    double acceleration; ///< m/s², above 0 whichever way it turns
    int wheel;
    State state;
};
std::optional<Lift> first_lift(const Car& car);

/// "turning left" for a left wheel.
inline const char* turn_that_lifts(int wheel) { return wheel % 2 == 0 ? "turning left" : "turning right"; }

/// The smallest, to either side, at which both inside wheels are off the ground or the car no longer stands; none below
/// 2 g. `wheel`: the last that lifts.
std::optional<Lift> rollover_threshold(const Car& car);

} // namespace dervish::car
