#pragma once
#include "core/car/equilibrium.h"

#include <optional>

/// Where the parts of a settled car are in space, for a picture that is the model's own. Level ground coordinates: x
/// forward, y left, z up, origin on the ground between the front wheels at rest.
namespace dervish::flex {

using Eigen::Vector3d;

/// A point fixed to the body, given where it is on the level car; between the axles a frame that twists is in between.
Vector3d on_body(const car::Car& car, const car::State& state, const Vector3d& level);

struct WheelPlace {
    Vector3d centre, up; ///< of the hub; unit vector in the wheel's plane, upwards
    double radius;       ///< as high as the hub is at rest, m
    double lowest() const { return centre.z() - radius * up.z(); }
};
/// Of an axle's bar with links: the ends of its middle part, its eyes, and the links' other ends, left and right.
struct BarPlace {
    PerSide<Vector3d> mount, eye, pickup;
};
struct Scene {
    PerWheel<WheelPlace> wheel;
    PerAxle<PerSide<Vector3d>> seat;            ///< of the springs on the body, by axle and side
    PerAxle<PerSide<Vector3d>> foot;            ///< and at the wheels or axle
    std::array<std::optional<BarPlace>, 2> bar; ///< its own shape and twist; its place along the car as it fits
    PerAxle<PerSide<Vector3d>> inner;           ///< ends of the suspension arms on the body; a solid axle's wheels
};
Scene scene(const car::Car& car, const car::State& state);

} // namespace dervish::flex
