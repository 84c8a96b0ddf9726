#pragma once
#include "core/car/equilibrium.h"

#include <string>

/// Ramps and posts: protocols on the one equilibrium.
namespace dervish::flex {

enum class Diagonal { FrontLeftRearRight, FrontRightRearLeft };

/// Two wheels on a diagonal raised together until one of the other two goes light.
struct DiagonalRamps {
    Diagonal raised = Diagonal::FrontLeftRearRight;
    double threshold_load = 0; ///< a wheel is light at this load or less, N
    double highest = 0.8;      ///< where the ramps end, m
};

struct Ascent {
    double height;   ///< at which a wheel went light, or the ramps' end, m
    bool lifted;     ///< false: the ramps ended first, the result is "more than"
    int light_wheel; ///< the wheel that went light, or is lightest
    car::State state;
    double front_travel, rear_travel; ///< between left and right wheel of the axle, m
    double slope = 0;                 ///< of the light wheel's load over ramp height there, N/m
};

std::array<int, 2> raised_wheels(Diagonal d);
std::array<int, 2> low_wheels(Diagonal d);

/// The car on diagonal ramps of the given height, m. `start` as in car::settle.
car::State on_ramps(const car::Car& car, Diagonal raised, double height, const car::State* start = nullptr);

/// Raises the ramps until a low wheel's load falls to the threshold. `near`: the ascent of a car that differs little,
/// from which this one's is reached by secants (to 1e-6 m) where they lead there.
Ascent climb(const car::Car& car, const DiagonalRamps& ramps, const Ascent* near = nullptr);

/// Gap under the low wheel that hangs the highest (0: both stand) on ramps of `height`, m; reached by raising them.
struct FixedRamps {
    double gap;
    int wheel;
    car::State state;
    double front_travel, rear_travel;
};
FixedRamps on_fixed_ramps(const car::Car& car, Diagonal raised, double height);

/// What ends the travel of a wheel: "bump stop", "damper out", "free, 12 mm to the bump stop".
std::string limit_of(const car::Wheel& wheel);

} // namespace dervish::flex
