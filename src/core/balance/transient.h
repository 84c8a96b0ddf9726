#pragma once
#include "core/balance/steady.h"

#include <memory>

/// A car steered in time. docs/model.md, "Manoeuvres".
namespace dervish::balance {

enum class Manoeuvre {
    Step,
    SlipRoad,
    LaneChange,
    DoubleLaneChange,
    Slalom,
    SBend,
    Gust,
    BrakeReleased,
    ThrottleLifted,
    Kerb,
    Pothole,
    Patch,
    WindGap
};
inline constexpr Manoeuvre all_manoeuvres[] = {
    Manoeuvre::Step,    Manoeuvre::SlipRoad, Manoeuvre::LaneChange,    Manoeuvre::DoubleLaneChange, Manoeuvre::Slalom,
    Manoeuvre::SBend,   Manoeuvre::Gust,     Manoeuvre::BrakeReleased, Manoeuvre::ThrottleLifted,   Manoeuvre::Kerb,
    Manoeuvre::Pothole, Manoeuvre::Patch,    Manoeuvre::WindGap};
const char* name_of(Manoeuvre manoeuvre);
/// Begins in a steady bend, or held straight in a wind, with the steering left as it was from then on: what the car
/// does by itself is what the driver must correct.
constexpr bool disturbs(Manoeuvre m) { return m >= Manoeuvre::BrakeReleased; }
constexpr bool blows(Manoeuvre m) { return m == Manoeuvre::Gust || m == Manoeuvre::WindGap; }
constexpr bool bumps(Manoeuvre m) { return m == Manoeuvre::Kerb || m == Manoeuvre::Pothole; }

struct Drive {
    Manoeuvre manoeuvre = Manoeuvre::Step;
    double speed = 20;  ///< m/s; kept, but by brakes and a lifted throttle
    double lateral = 4; ///< the steady lateral acceleration that the steering's height asks for, m/s²
    /// Gust: side wind on the body from the left, held for 2 s, the steering kept straight. WindGap: the car held
    /// straight in that wind, which is away for 0.8 s. N, m, m (x ahead of the front axle positive). The others: none.
    double wind = 0, wind_height = 1, wind_x = 0;
    /// Kerb: its height under the inner wheels, 4 m long; pothole: its depth under the outer wheels, 0.6 m long, m.
    double bump = 0.05;
    /// Patch: what the ground there makes of the tyres more than the rest does, 10 m long under the outer wheels.
    Surface patch{0.75, 0.9, 1.1};
    double within = 0; ///< s, followed no longer than this; 0: as long as the manoeuvre is
    /// LaneChange, DoubleLaneChange, Slalom, SBend: their steering in so many times their own time (a lane change and
    /// each wave of a slalom in 2 s, 2.2 s from bend to bend).
    double stretch = 1;
    double size = 1; ///< times the lengths of kerb, pothole and patch and of their edges
    bool operator==(const Drive&) const = default;
};

/// A moment of a run.
struct Moment {
    double time, steer;         ///< s, rad at the wheels, left positive
    double lateral, yaw, slide; ///< m/s², rad/s, sideways speed at the body's centre of mass, m/s
    double roll, roll_rate;     ///< right side down positive, rad, rad/s
    double x, y, heading;       ///< of the path, m, rad
    double speed;               ///< m/s
    double seat, head;          ///< beside the middle up and down, at a head sideways by the roll, m/s²
    double aside = 0;           ///< off the path that the disturbed car was on: outwards, straight on to the right, m
    double turned = 0;          ///< heading off that path, further into the bend positive, straight on left, rad
    PerWheel<double> load;      ///< N
    PerWheel<double> used;      ///< of each wheel's grip, 0 to 1
};

struct Run {
    std::vector<Moment> moments; ///< every 10 ms, over bumps every 2.5 ms
    bool stands = true;          ///< false: the run ended where both wheels of a side had been in the air for 0.2 s
    bool followed = true;        ///< false: too quick to be followed (a roll inertia too small for its stiffness)
    bool holds = true; ///< false: more is asked than a steady bend holds, or an axle slid past its peak for good
    std::optional<double> slower; ///< m/s: the car can be steered so only below this, its critical_speed(); not begun
    bool done() const { return stands && followed && holds && !slower; } ///< else its figures are of no run
    std::optional<double> yaw_90, lateral_90; ///< step: from half of the steering to 90 % of what follows, s
    double roll_peak = 0;                     ///< rad
    std::optional<double> roll_overshoot;     ///< step: peak over what it settles to, less 1
    double lowest_load = 0;                   ///< N
    int lowest_wheel = 0;
    double side_difference = 0; ///< of the roll peaks to the two sides, rad
    double in_air = 0;          ///< the longest that a wheel is off the ground, s
    double seat = 0, head = 0;  ///< the most of each either way, m/s²
    struct Correct {
        double aside, turned; ///< at the end, as a Moment has them
        double after_1s;      ///< aside 1 s after it began, about when a driver who was not ready answers, m
        double yaw;           ///< the most turning beyond (below 0: less than) the path's own, rad/s
    };
    std::optional<Correct> correct; ///< of a run that disturbs()
};

/// Damping ratio of the body's roll on springs, bars and dampers about ride height; nothing for a car that cannot
/// settle or whose lean does not change in a turn.
std::optional<double> roll_damping(const Model& model);

/// The speed from which on more lateral acceleration, up to this one, asks for no more steering but for less, so that
/// the car is not held in the turn by steering it: √(L/−(dδ/da)) where it oversteers most; nothing where it never does.
std::optional<double> critical_speed(const Model& model, double lateral);

/// The equations of moving.h followed in time. Steady, a run is the corner() of its lateral acceleration. Dormand &
/// Prince 1980 with its own step, relative error 1e-5 (Boost.Odeint).
/// A car that cannot settle does not stand, with one empty moment, as one beyond its critical speed; a run takes at
/// most 5000 steps.
Run drive(const Model& model, const Drive& what);

/// A drive of one car and of others near it: the first is driven; of the others follows how far off its run they are,
/// to first order, by the derivatives of the first's equations along it. Copies share the first.
class DriveNear {
public:
    /// The first call's car is the first one. `near`: this one differs little from it; else it is driven itself, as
    /// where the drive is another than the first's, the first's is not done, or an edge in the road is over in under
    /// six steps of 30 ms (over bumps 7.5 ms).
    /// Example: DriveNear d; d.of(model, step, false).roll_peak; d.of(softer, step, true).roll_peak.
    Run of(const Model& model, const Drive& what, bool near);

private:
    struct First;
    std::shared_ptr<First> first_;
};

/// The same line at another speed: lateral acceleration as the speed squared, the steering stretched.
Drive same_line(Drive what, double speed);
/// The highest speed, m/s, within a hundredth, at which a car that cannot do a drive (Run::done()) does its line;
/// nothing where it does not at a fifth of it either. Takes some ten runs.
/// Example: fastest_on_line(model, {Manoeuvre::LaneChange, 30, 8}).
std::optional<double> fastest_on_line(const Model& model, const Drive& what);

} // namespace dervish::balance
