#pragma once
#include "core/bar/frame.h"
#include "core/bar/textbook.h"
#include "core/bar/travel.h"
#include "core/car/car.h"
#include "core/job/job.h"

/// From what was measured to what is computed: the job's parts as values of bar:: and car::.
namespace dervish::job {

/// The bar's centreline with its mounts and eyes, however it was measured. Throws BadInput with the path inside the
/// assembly ("bar/walk/2/radius").
bar::Laid to_laid(const Assembly& assembly);

/// The bar of an assembly as the steps of a walk, and as points: what is laid now, with sizes of the usual spread of
/// their source, to go on from. Throw BadInput as to_laid().
std::vector<StepData> walk_of(const Assembly& assembly);
std::vector<PointData> points_of(const Assembly& assembly);

/// The bar of an assembly with links in their direction at ride height. Throws BadInput with the path inside the
/// assembly ("bar/wall").
bar::Bar to_bar(const Assembly& assembly);

/// The bar of an assembly solved; throws BadInput as to_bar().
bar::Solution solve(const Assembly& assembly, double longest = 1e9);

/// The links, or the trailing arms of a clamped bar, as large travel takes them.
bar::Pull to_pull(const Assembly& assembly, const bar::Bar& bar);

/// The bar as the hand formulas see it, with the left eye's arm: a plain U of the same width and arm.
bar::PlainU to_plain_u(const Assembly& assembly, const bar::Laid& laid);

/// From the mounts' axis to an eye, square to it, m. For clamped bars the trailing arm to the wheel.
double arm_to(const Assembly& assembly, const bar::Laid& laid, bool left, int eye);

/// The car with the given bar stiffnesses where its axles take them (at the wheels, or at the links of a solid axle),
/// N/m (zero: no bar). Loads aboard are added.
car::Car to_car(const Vehicle& vehicle, const Eigen::Matrix2d& front_bar, const Eigen::Matrix2d& rear_bar);

/// From the links' far ends to where the car's axle takes the bar: MR² at the wheels, or 1 at the links of a solid
/// axle and for a bar clamped to trailing arms, whose travel is the wheel's.
double at_axle(const AxleData& axle, Held held = Held::Links);

/// From the bar's rate at the links to roll stiffness of the body on the axle, m²: K_φ = k × this. t²/2 MR²
/// (independent), b²/2 (solid).
double roll_lever(const AxleData& axle, Held held = Held::Links);

/// Travel of the links' far ends (left, right) when the body leans by `roll`, right side down, m.
Eigen::Vector2d link_travel(const AxleData& axle, Held held, double roll);

/// Travel of the links' far ends per wheel travel, wheels opposite.
double link_per_wheel(const AxleData& axle, Held held);

/// Roll-mode rate at the wheel per rate at the links. MR² (independent); (b/t)² (solid, felt at the wheels).
double at_wheel(const AxleData& axle, Held held = Held::Links);

} // namespace dervish::job
