#pragma once
#include "core/car/equilibrium.h"
#include "core/terms/terms.h"
#include "core/units/units.h"

#include <optional>
#include <string>
#include <vector>

/// Ramps, forks, holes and slopes: protocols on the one equilibrium. docs/model.md, "Flex".
namespace dervish::flex {

enum class Kind {
    Diagonal, ///< two wheels of a diagonal rise together
    Ramp,     ///< one wheel drives up a ramp
    Lift,     ///< one wheel is lifted by a fork or jack
    Holes,    ///< two wheels of a diagonal sink
    Slope     ///< the ground tilts sideways, with or without an obstacle under an uphill wheel
};

/// A ground that changes by one number, its reach: metres of height or depth, of a slope radians.
struct Protocol {
    Kind kind = Kind::Diagonal;
    Diagonal raised = Diagonal::FrontLeftRearRight; ///< Diagonal: the wheels that rise; Holes: that sink
    int wheel = car::front_left;                    ///< Ramp, Lift; Slope: the obstacle's, its side is uphill
    double second = 1;                              ///< Diagonal, Holes: of the rear wheel's reach over the front's
    double angle = 20 * units::deg;                 ///< of a Ramp
    double obstacle = 0;                            ///< Slope: under the uphill wheel, m
    double threshold_load = 0;                      ///< a wheel is light at this load or less, N
    double highest = 0.8;                           ///< where the reach ends
};

/// Of the wheels' ground heights and the slope at a reach.
car::Situation situation(const Protocol& protocol, double reach);
/// The wheels that may go light: those left low, those in holes, the other three, the uphill ones.
std::vector<int> watched(const Protocol& protocol);

struct Ascent {
    double height;   ///< reach at which a wheel went light, or the protocol's end
    bool lifted;     ///< it went light, or on a slope the car tipped; false: the ramps ended first: "more than"
    int light_wheel; ///< the wheel that went light, or is lightest
    car::State state;
    double front_travel, rear_travel; ///< between left and right wheel of the axle, m
    double slope = 0;                 ///< of the light wheel's load over reach there
};

std::array<int, 2> raised_wheels(Diagonal d);
std::array<int, 2> low_wheels(Diagonal d);

/// The car at a reach, reached by steps from level ground, so that what depends on the way there is the same however
/// far one looks at once.
car::State at_reach(const car::Car& car, const Protocol& protocol, double reach);

/// Goes on until a watched wheel's load falls to the threshold. `near`: the ascent of a car that differs little, from
/// which this one's is reached by Newton's method (car::settle_light) where that leads there.
/// Example: climb(car, {}).height is the lift height on diagonal ramps.
Ascent climb(const car::Car& car, const Protocol& protocol, const Ascent* near = nullptr);

/// The ascents of cars that differ little from one whose ascent is known, to first order (car::Nearby).
class NearbyAscents {
public:
    NearbyAscents(const car::Car& car, const Protocol& protocol, const Ascent& known);
    /// Nothing where a stop, a loose spring, another wheel or the protocol's end lies between it and cars `times` as
    /// unlike, to this side and the other: climb() near it then.
    std::optional<Ascent> of(const car::Car& other, double times = 1) const;

private:
    car::Situation there(double reach) const;
    Protocol protocol_;
    std::vector<int> watched_;
    Ascent known_;
    car::Nearby nearby_;
    Eigen::Matrix<double, 8, 1> along_ = Eigen::Matrix<double, 8, 1>::Zero(); ///< of the unknowns, per unit of reach
};

/// Side slope at which both uphill wheels are light or the car no longer stands, rad; nothing below 60°.
std::optional<double> tipping_slope(const car::Car& car, bool left_uphill);

/// Distance up a ramp over the wheelbase, times 1000.
double ramp_index(const Protocol& protocol, double wheelbase, double height);

/// Gap under the low wheel that hangs the highest (0: both stand) on ramps of `height`, m; reached by raising them.
struct FixedRamps {
    double gap;
    int wheel;
    car::State state;
    double front_travel, rear_travel;
};
FixedRamps on_fixed_ramps(const car::Car& car, Diagonal raised, double height);

} // namespace dervish::flex
