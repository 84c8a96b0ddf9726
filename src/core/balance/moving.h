#pragma once
#include "core/balance/steady.h"

#include <Eigen/LU>

/// A car's equations of motion on the road, for what follows it in time: the body on its wheels held by the
/// equilibrium's own forces, sideways speed, yaw, and tyres whose contacts lag by their relaxation length.
/// docs/model.md, "Manoeuvres".
namespace dervish::balance {

/// What moves: the equilibrium's unknowns in car::SmallMotion's order and their rates; sideways speed of the body's
/// centre of mass, yaw rate, speed; sideways deflection of each contact over its tyre's relaxation length; path and
/// heading.
using MotionState = std::array<double, 26>;
enum MotionPlace : std::size_t {
    at_body = 0,
    at_rate = 8,
    at_slide = 16,
    at_yaw = 17,
    at_speed = 18,
    at_deflection = 19,
    at_x = 23,
    at_y = 24,
    at_heading = 25
};

/// What the driver, the road and the wind do at a moment.
struct Inputs {
    double steer = 0;            ///< at the wheels, left positive, rad
    double along = 0;            ///< asked of engine and brakes, m/s²; 0: the speed is kept
    double wind = 0;             ///< side force towards the right on the body, N,
    double wind_height = 0;      ///< at this height, m,
    double wind_x = 0;           ///< and this far ahead of the front axle, m
    PerWheel<double> ground{};   ///< height under each wheel, m
    PerWheel<Surface> surface{}; ///< factors on the model's own under each
};

/// What acts and follows at a moment.
struct Instant {
    PerWheel<double> load, side, along; ///< of the ground on each wheel, N
    PerWheel<double> contact;           ///< slip of each contact, which lags behind the wheel's, rad
    PerWheel<double> used;              ///< of each wheel's grip, 0 to 1
    PerAxle<double> slip;               ///< towards y, rad
    Eigen::Matrix<double, 8, 1> body;   ///< accelerations in SmallMotion's order
    double lateral;                     ///< of the whole car's centre of mass, m/s²
    double across, yaw;                 ///< of the body's centre sideways, m/s², and in yaw, rad/s²
    double forward;                     ///< m/s²
};

/// Keeps `model`, which must outlive it.
class Moving {
public:
    explicit Moving(const Model& model);
    const Model& model() const { return model_; }
    const car::State& still() const { return still_; }
    double mass() const { return mass_; }
    Eigen::Index count() const { return motion_.count; } ///< of the body's unknowns
    /// A corner's steady state; its steering goes to `steer`. `more`: factors on the slips.
    MotionState steady(const Corner& corner, double speed, double& steer, const PerAxle<double>& more = {1, 1}) const;
    /// Held straight in a side wind; nothing where the tyres cannot.
    std::optional<MotionState> steady_in_wind(Inputs& wind, double speed) const;

    Instant now(const MotionState& q, const Inputs& in) const;
    MotionState rate(const MotionState& q, const Instant& now) const;
    void operator()(const MotionState& q, MotionState& dq, const Inputs& in) const { dq = rate(q, now(q, in)); }
    /// An end slides: with less slip its two tyres would give more.
    bool slides(End end, const Instant& now, const MotionState& q) const;
    PerAxle<double> end_roll(const MotionState& q) const {
        return {q[at_body + 2], q[at_body + static_cast<std::size_t>(motion_.rear_roll)]};
    }
    double roll(const MotionState& q) const { return (end_roll(q).front + end_roll(q).rear) / 2; }
    double roll_rate(const MotionState& q) const {
        return (q[at_rate + 2] + q[at_rate + static_cast<std::size_t>(motion_.rear_roll)]) / 2;
    }

private:
    using Vector8 = Eigen::Matrix<double, 8, 1>;
    MotionState steady(const car::State& s, double lateral, const PerAxle<double>& slip, double speed, double& steer,
                       const PerWheel<double>& along) const;
    PerAxle<double> turned(const PerAxle<double>& roll, const PerAxle<double>& side) const;
    const Model& model_;
    car::State still_;
    car::SmallMotion motion_;
    car::InMotion forces_;
    PerAxle<double> ahead_;  ///< of the body's centre of mass, m
    PerAxle<Vector8> shift_; ///< of the body's centre sideways against the wheels', by the unknowns
    double mass_, height_, frame_damping_;
    PerAxle<double> bush_damping_;
    Eigen::Matrix<double, 10, 10> inverse_inertia_; ///< of the unknowns, sideways, yaw
};

} // namespace dervish::balance
