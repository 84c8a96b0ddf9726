#pragma once
#include "app/bar/bar_drawing.h"

#include <array>

namespace dervish::app {

/// A bar laid out for drawing: its centreline moved, and where its parts are.
struct BarDrawing::Shape {
    struct Point {
        Eigen::Vector3d place;
        double stress; ///< Pa
        double along;  ///< m from the left end
    };
    std::vector<Point> line;
    double diameter;
    std::vector<Eigen::Vector3d> mounts, left_eyes, right_eyes, link_ends;
    PerSide<int> eye;
    bool clamped;
    Eigen::Vector3d worst;
    double worst_stress; ///< Pa
    Eigen::Vector2d link_force;
};

} // namespace dervish::app
