#pragma once
#include "core/balance/tyre.h"
#include "core/car/equilibrium.h"
#include "core/terms/terms.h"

#include <optional>
#include <string>
#include <vector>

/// Steady cornering on the one equilibrium: who gives up first. docs/model.md, "Grip".
namespace dervish::balance {

/// What an axle's wheels do with the body's lean and with side force.
struct AxleGrip {
    PerSide<Tyre> tyre;       ///< left, right
    double camber = 0;        ///< static, of each wheel; top inwards negative, rad
    double camber_kept = 0.3; ///< share of the body's roll that the suspension keeps from the wheels; solid: 1
    double roll_steer = 0;    ///< per roll, towards understeer, rad/rad
    double side_steer = 0;    ///< per side force of the axle, towards understeer, rad/N
    double trail_steer = 0;   ///< aligning moment on the steering's give, per side force, rad/N
    double bump_damping = 1500, rebound_damping = 2500; ///< low speed, at the wheel (solid: per damper), N·s/m
};

struct Model {
    car::Car car;
    PerAxle<AxleGrip> axle; ///< front, rear
    Surface surface;
    Road road;                                     ///< as it is usual on that ground
    PerWheel<LoadSwing> swing{};                   ///< of each wheel's load there (Ride::swing)
    double bush_loss = 0;                          ///< loss factor of the suspension's and the bars' bushes
    double yaw_inertia = 2000, roll_inertia = 500; ///< kg·m², of the whole car about z, of the body about the roll axis
    double pitch_inertia = 2000;                   ///< kg·m², of the body about its own centre
    PerAxle<double> axle_inertia{0, 0};            ///< kg·m², of a solid axle about its own centre, in roll
    PerAxle<double> drive{0, 1};                   ///< share of the drive at each axle
    PerAxle<Differential> differential{Differential::Open, Differential::Open};
    double bias_ratio = 2;           ///< of a limited differential
    double front_braking = 0;        ///< front share of the brakes; 0: the ideal one, by what the axles then carry
    double braking = 0.2 * units::g; ///< along, into a bend, m/s²
    double pull = 0.12 * units::g;   ///< along, out of it, m/s²
};

enum class Gives { Front, Rear, Tips, Nothing }; ///< who gives up first; nothing: not below 2 g

/// What the driver does with the pedals in a corner.
enum class Phase { Entry, Middle, Exit, Lifted };
inline constexpr Phase all_phases[] = {Phase::Entry, Phase::Middle, Phase::Exit, Phase::Lifted};
const char* name_of(Phase phase);
/// Longitudinal acceleration of each, m/s²: that of the model into a bend and out of it, 0, −0.08 g.
double pedal(const Model& model, Phase phase);

/// A turn at a lateral acceleration. Forces, slips and steer are positive towards its inside, whichever side that is.
struct Corner {
    double lateral; ///< m/s², below 0 to the right
    car::State state;
    PerAxle<double> need{};   ///< side force of the axle, N
    PerAxle<double> most{};   ///< that it could give, N
    PerAxle<double> slip{};   ///< rad; of the most where it cannot give what is needed
    PerWheel<double> force{}; ///< of the wheels, sideways, N
    PerWheel<double> along{}; ///< and forwards, N
    PerWheel<double> used{};  ///< of the grip of each, 0 to 1; 1 sliding
    double steer = 0;         ///< beyond what the bend itself asks, rad
    int spins = -1;           ///< the driven wheel that cannot take its share of the pull; −1: none
    bool holds = false;       ///< both axles give what is needed and the car stands
    double lean() const { return (state.roll[0] + state.roll[1]) / 2; }
};
Corner corner(const Model& model, double lateral, Phase phase = Phase::Middle, const car::State* start = nullptr);
/// The same with any pull (above 0) or braking along, m/s². What drive and brakes do unlike left and right turns the
/// car: that moment is in the balance of the axles' side forces.
Corner corner_along(const Model& model, double lateral, double longitudinal, const car::State* start = nullptr);
/// The same of a car that is known to settle so.
Corner corner_settled(const Model& model, double lateral, double longitudinal, const car::State& state);

/// The most pull at a lateral acceleration: beyond it a driven wheel spins or an axle slides. Both are told.
struct Pull {
    double longitudinal; ///< m/s²; 0 where the car does not hold the turn at all
    int spins;           ///< the wheel that would spin; −1: an axle slides, or the car tips, first
    Gives gives;         ///< that axle; Nothing where a wheel spins, or where 1 g along is held
};
enum class Turn { Left, Right };

/// Corners at even steps up to the limit, which is the last.
struct Curve {
    std::vector<Corner> points;
};

/// The most that the car corners at.
struct Limit {
    double lateral; ///< m/s², above 0 whichever way it turns
    Gives first;
    double left; ///< of its grip at the axle that does not give up first: most over need, less 1
    Corner at;   ///< just inside
    Turn turn = Turn::Left;
};
Limit limit(const Model& model, Phase phase = Phase::Middle, Turn turn = Turn::Left);
/// The limit of a car much like the one that `near` (in the middle of a bend) is of, in the same turn, by secants from
/// it; limit() where they do not lead there.
Limit limit_near(const Model& model, const Limit& near);
/// The lower of both turns' limits; the left one where they are alike. `near`, of a car much like it in the middle of
/// the bend, is where to begin.
Limit outright_limit(const Model& model, const Limit* near = nullptr);
Limit outright_limit(const Model& model, Phase phase);
/// The outright limits of cars that differ little from one whose limit is known, in the same turn, to first order
/// (car::Nearby): by how much the axle that gives up first then has left, over how fast that falls with the turn.
class NearbyLimits {
public:
    NearbyLimits(const Model& model, const Limit& known);
    /// Nothing where a stop, a loose spring, a wheel's lift or the other axle's giving up first lies between it and
    /// cars `times` as unlike, to this side and the other, or where no axle gives up first: outright_limit() then.
    std::optional<Limit> of(const Model& other, double times = 1) const;

private:
    std::optional<Corner> there(const Model& other, double lateral, double times) const;
    Limit known_;
    Corner at_; ///< the known limit
    double slope_ = 0;
    std::optional<car::Nearby> nearby_;
};
Pull most_pull(const Model& model, double lateral);
Curve handling_curve(const Model& model, int points, Phase phase = Phase::Middle);

/// Understeer gradient at 0.3 g, rad per m/s², and the terms that it is the sum of.
struct Understeer {
    double whole;
    double masses_and_tyres, load_transfer, camber, roll_steer, side_steer, aligning;
};
/// Nothing where the car does not hold that on its surface.
std::optional<Understeer> understeer(const Model& model);

/// Lean of the two wheels' tops towards a left turn at a roll of the body (right side down), rad.
PerSide<double> camber_at(const AxleGrip& axle, double roll);

/// Longitudinal force of each wheel for an acceleration, N, and the driven wheel that spins (−1: none).
struct Along {
    PerWheel<double> force{};
    int spins = -1;
};
/// A wheel takes its drive up to all its grip, before side force (which the ellipse then takes away). `into`: lean of
/// each into the turn, rad.
Along along(const Model& model, double longitudinal, const PerWheel<WheelLoad>& load,
            const PerWheel<double>& into = {});

} // namespace dervish::balance
