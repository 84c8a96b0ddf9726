#pragma once
#include "core/car/equilibrium.h"
#include "core/job/job.h"

namespace dervish::study {
using namespace job;

/// What pushes a parked car from outside, as the vehicle says it or as is usual for its size: a person of 80 kg, or a
/// tenth of a small car's mass, over its wheels; a side wind's pressure (air of 1.2 kg/m³, a side's coefficient of 1)
/// on a side of 1.4 wheelbases by 1.9 heights of the centre of mass, a third above it. Round figures, assumed.
struct Outside {
    double person;       ///< kg
    double out;          ///< of the car's middle, m
    double wind, height; ///< N and m above the ground
};
Outside outside(const Vehicle& vehicle);

/// Steady lean of the car, rad, more than it has at rest: with the person on its right, hub high, middle of the
/// wheelbase; in the side wind. Nothing where it would not stand.
std::optional<double> lean_by_person(const car::Car& car, const Outside& push);
std::optional<double> lean_in_wind(const car::Car& car, const Outside& push);

} // namespace dervish::study
