#pragma once
#include "core/bar/frame.h"
#include "core/bar/textbook.h"
#include "core/car/car.h"
#include "core/job/job.h"

/// From what was measured to what is computed: the job's parts as values of bar:: and car::.
namespace dervish::job {

/// The bar of an assembly, links upright. Throws BadInput with the path inside the assembly ("bar/wall").
bar::Bar to_bar(const Assembly& assembly);

/// The same assembly with other eyes, for ladders.
bar::Bar to_bar(const Assembly& assembly, int left_eye, int right_eye);

/// The bar as the hand formulas see it, with the left eye's arm.
bar::PlainU to_plain_u(const Assembly& assembly);

/// The car with the given bar stiffnesses between the links' far ends, N/m (zero: no bar). Loads aboard are added.
car::Car to_car(const Vehicle& vehicle, const Eigen::Matrix2d& front_bar, const Eigen::Matrix2d& rear_bar);

/// From the links' far ends to where the car's axle takes the bar: MR² at the wheels, or 1 at the links of a solid
/// axle.
double at_axle(const AxleData& axle);

/// From the bar's rate at the links to roll stiffness of the body on the axle, m²: K_φ = k × this. t²/2 MR²
/// (independent), b²/2 (solid).
double roll_lever(const AxleData& axle);

/// Roll-mode rate at the wheel per rate at the links. MR² (independent); (b/t)² (solid, felt at the wheels).
double at_wheel(const AxleData& axle);

} // namespace dervish::job
