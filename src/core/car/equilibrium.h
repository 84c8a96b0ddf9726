#pragma once
#include "core/car/car.h"

#include <functional>
#include <memory>
#include <optional>

namespace dervish::car {

/// The one equilibrium: the state of least energy of `car` in `situation`, by Newton's method with a line search from
/// `start` (the level car when null). Energy, gradient and Hessian: docs/model.md, "The car". The result's `converged`
/// is false when no equilibrium was found (a car that has tipped over); it is never an exception.
/// Throws BadInput when the car cannot be (mass, track or rate not positive).
State settle(const Car& car, const Situation& situation, const State* start = nullptr);

/// Settled states of cars that differ little from a settled one, to first order: q − H⁻¹ ∂V'/∂q, V' the other car's
/// energy, with one factorisation for all of them (implicit function theorem).
/// Example: Nearby(car, corner, settle(car, corner)).of(softer, corner).roll.
class Nearby {
public:
    /// `settled`: what settle(car, situation) found.
    Nearby(const Car& car, const Situation& situation, const State& settled);
    /// `converged` where cars `times` as unlike, to this side and the other, would still stand and hang on the same
    /// wheels, stops and springs as the first one: no kink lies between. Throws BadInput as settle().
    State of(const Car& other, const Situation& situation, double times = 1) const;
    /// Its unknowns alone, and the state where they are known.
    Eigen::Matrix<double, 8, 1> unknowns(const Car& other, const Situation& situation) const;
    State at(const Eigen::Matrix<double, 8, 1>& q, const Car& other, const Situation& situation,
             double times = 1) const;

private:
    State settled_;
    struct Axles; ///< of the settled car, with what they answered: where another car has the same it is not asked again
    std::shared_ptr<const Axles> axles_;
    Eigen::Matrix<double, 8, 8> compliance_; ///< H⁻¹
    bool stands_;                            ///< the settled car does, and firmly
};

/// Along a path of situations, where a wheel's load falls to `load`: Newton's method in the state and the place on the
/// path together, the wheel's tyre held so that nothing kinks there. From near: nothing where it does not lead there.
struct Light {
    double at, slope; ///< of the load over the path there, N per unit of the path
    State state;
};
std::optional<Light> settle_light(const Car& car, const std::function<Situation(double)>& path, int wheel, double load,
                                  double at, const State& start);

/// Small motion about a settled state, in the car's unknowns: heave, pitch, roll of the body, and each axle's two. A
/// stiff body has one roll and seven unknowns: the last row is then held still (stiffness 1, all else 0).
struct SmallMotion {
    using Matrix = Eigen::Matrix<double, 8, 8>;
    using PerWheelOf = Eigen::Matrix<double, 8, 4>;
    using Vector = Eigen::Matrix<double, 8, 1>;
    Eigen::Index count;                 ///< of the unknowns
    Eigen::Index rear_roll;             ///< place of the rear's roll: 2 where the body is stiff
    Matrix stiffness;                   ///< ∂²V/∂q²
    PerWheelOf contact, spring, travel; ///< ∂/∂q of each contact's height, each spring's and each wheel's travel
    Eigen::Matrix<double, 8, 2> middle, turn; ///< of solid axles: their middle's height, roll
    Eigen::Vector4d tyre_rate;                ///< N/m; 0 under a wheel that hangs
    PerAxle<double> bar_roll;                 ///< of each axle's roll stiffness, what its bar gives, N·m/rad
};
SmallMotion small_motion(const Car& car, const Situation& situation, const State& settled);

/// The equilibrium's own forces on a car that moves: springs, bars, stops, tyres that touch and weights, at any place
/// of its unknowns. The axles' masses are not accelerated here; what the ground pushes them sideways by reaches the
/// body by the roll centres. `car` must outlive it.
class InMotion {
public:
    explicit InMotion(const Car& car);
    ~InMotion();
    InMotion(InMotion&&) noexcept;
    /// −∂V/∂q, N and N·m; `q` and that in SmallMotion's order. `side`: of the ground on each axle, towards y, N;
    /// `longitudinal`, m/s²; `ground`: its height under each wheel, m.
    Eigen::Matrix<double, 8, 1> force(const Eigen::Matrix<double, 8, 1>& q, const PerAxle<double>& side,
                                      double longitudinal, const PerWheel<double>& ground) const;
    /// N; whatever the side forces.
    PerWheel<double> loads(const Eigen::Matrix<double, 8, 1>& q, const PerWheel<double>& ground) const;
    /// A settled state's unknowns in that order.
    Eigen::Matrix<double, 8, 1> place_of(const State& state) const;

private:
    struct Posed;
    std::unique_ptr<Posed> posed_;
};

/// V(q) of the same model at the state's q, J: for tests that compare it with the gradient.
double energy(const Car& car, const Situation& situation, const Eigen::Matrix<double, 8, 1>& q);

/// Throws BadInput at the offending value's name ("front/track", "sprung_mass").
void check(const Car& car);

/// Loaded sprung mass and its centre (x negative: behind the front axle).
struct Loaded {
    double mass, x, y, z;
    PerAxle<double> share; ///< of the mass, kg
};
Loaded loaded(const Car& car);
/// How much higher the body stands over each axle than at ride height, m.
PerAxle<double> rises(const Car& car, const State& settled);

} // namespace dervish::car
