#pragma once
#include "core/balance/steady.h"

/// A car steered in time. docs/model.md, "Manoeuvres".
namespace dervish::balance {

enum class Manoeuvre { Step, SlipRoad, LaneChange, DoubleLaneChange, Slalom, SBend, Gust };
inline constexpr Manoeuvre all_manoeuvres[] = {
    Manoeuvre::Step,   Manoeuvre::SlipRoad, Manoeuvre::LaneChange, Manoeuvre::DoubleLaneChange,
    Manoeuvre::Slalom, Manoeuvre::SBend,    Manoeuvre::Gust};
const char* name_of(Manoeuvre manoeuvre);

struct Drive {
    Manoeuvre manoeuvre = Manoeuvre::Step;
    double speed = 20;  ///< m/s, kept
    double lateral = 4; ///< the steady lateral acceleration that the steering's height asks for, m/s²
    /// Gust: side wind on the body from the left, held for 2 s, the steering kept straight; N, m, m (x ahead of the
    /// front axle positive). The others: no wind.
    double wind = 0, wind_height = 1, wind_x = 0;
};

/// A moment of a run.
struct Moment {
    double time, steer;         ///< s, rad at the wheels, left positive
    double lateral, yaw, slide; ///< m/s², rad/s, sideways speed at the centre of mass, m/s
    double roll, roll_rate;     ///< right side down positive, rad, rad/s
    double x, y, heading;       ///< of the path, m, rad
    PerWheel<double> load;      ///< N
    PerWheel<double> used;      ///< of each wheel's grip, 0 to 1
};

struct Run {
    std::vector<Moment> moments; ///< every 10 ms
    bool stands = true;          ///< false: the run ended where both wheels of a side were off the ground
    bool followed = true;        ///< false: too quick to be followed (a roll inertia too small for its stiffness)
    bool holds = true;           ///< false: an axle slid past the peak of its tyres for good (the slip kept growing)
    std::optional<double> yaw_90, lateral_90; ///< step: from half of the steering to 90 % of what follows, s
    double roll_peak = 0;                     ///< rad
    std::optional<double> roll_overshoot;     ///< step: peak over what it settles to, less 1
    double lowest_load = 0;                   ///< N
    int lowest_wheel = 0;
    double side_difference = 0; ///< of the roll peaks to the two sides, rad
};

/// Damping ratio of the body's roll on springs, bars and dampers about ride height; nothing for a car that cannot
/// settle or whose lean does not change in a turn.
std::optional<double> roll_damping(const Model& model);

/// Sideways speed, yaw and roll with tyres that lag by their relaxation length; loads split by bars, springs and
/// dampers at each moment. Steady, it is the corner() of its lateral acceleration. Dormand & Prince 1980 with its own
/// step, relative error 1e-6 (Boost.Odeint).
/// A car that cannot settle does not stand, with one empty moment; a run takes at most 5000 steps.
Run drive(const Model& model, const Drive& what);

} // namespace dervish::balance
