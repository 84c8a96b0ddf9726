#pragma once
#include "core/car/car.h"

namespace dervish::car {

/// The one equilibrium: the state of least energy of `car` in `situation`, by Newton's method with a line search from
/// `start` (the level car when null). Energy, gradient and Hessian: docs/model.md, "The car". The result's `converged`
/// is false when no equilibrium was found (a car that has tipped over); it is never an exception.
/// Throws BadInput when the car cannot be (mass, track or rate not positive).
State settle(const Car& car, const Situation& situation, const State* start = nullptr);

/// V(q) of the same model at the state's q, J: for tests that compare it with the gradient.
double energy(const Car& car, const Situation& situation, const Eigen::Matrix<double, 8, 1>& q);

/// Throws BadInput at the offending value's name ("front/track", "sprung_mass").
void check(const Car& car);

/// Loaded sprung mass and its centre (x negative: behind the front axle).
struct Loaded {
    double mass, x, y, z;
    std::array<double, 2> share; ///< of the mass at front and rear, kg
};
Loaded loaded(const Car& car);

} // namespace dervish::car
