#pragma once
#include "core/linkage/law.h"

/// Ends of bars that tests of the linkage share.
namespace dervish::linkage::examples {

inline constexpr double mm = 1e-3, deg = units::deg;

inline BarEnd mirrored(BarEnd e) {
    const auto over = [](Vector3d& v) { v.y() = -v.y(); };
    over(e.eye);
    if (Arm* arm = std::get_if<Arm>(&e.path))
        for (Vector3d* v : {&arm->axis[0], &arm->axis[1], &arm->pickup, &arm->wheel}) over(*v);
    if (Straight* straight = std::get_if<Straight>(&e.path)) over(straight->pickup);
    return e;
}

/// A front end: bar ahead, arms 250 mm back, links 180 mm down to control arms.
inline PerSide<BarEnd> front_ends() {
    BarEnd left;
    left.mounts = {Vector3d(0, -0.35, 0), Vector3d(0, 0.35, 0)};
    left.eye = {-0.25, 0.48, 0};
    left.path =
        Arm{{Vector3d(-0.05, 0.3, -0.17), Vector3d(-0.4, 0.3, -0.16)}, {-0.24, 0.5, -0.18}, {-0.25, 0.72, -0.19}};
    left.link = (left.eye - std::get<Arm>(left.path).pickup).norm();
    return {left, mirrored(left)};
}

/// In the plane: an arm of 250 mm, level, and an upright link whose pick-up rises as far as the wheel.
inline BarEnd plain_end(double link = 180 * mm) {
    BarEnd e;
    e.mounts = {Vector3d(0, -0.35, 0), Vector3d(0, 0.35, 0)};
    e.eye = {-0.25, 0.5, 0};
    e.link = link;
    e.path = Straight{{-0.25, 0.5, -link}, {0, 0, 1}, {}};
    return e;
}

inline Springs free_bar() {
    Springs s;
    s.bar << 30e3, -30e3, -30e3, 30e3;
    s.link = {2e6, 2e6};
    return s;
}

} // namespace dervish::linkage::examples
