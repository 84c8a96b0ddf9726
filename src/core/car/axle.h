#pragma once
#include "core/car/car.h"

namespace dervish::car {

/// An axle's own five unknowns: heave, pitch, roll of its end of the body, then the wheels' travels left and right
/// (independent) or heave and roll of the axle against the body (solid).
using Vector5 = Eigen::Matrix<double, 5, 1>;
using Matrix5 = Eigen::Matrix<double, 5, 5>;

/// Energy of an axle with its share of the body, and its first and second derivatives by the five unknowns.
struct AxleEnergy {
    double value = 0;
    Vector5 gradient = Vector5::Zero();
    Matrix5 hessian = Matrix5::Zero();
    double bar_roll = 0; ///< of the axle's roll stiffness, what the bar gives at q, N·m/rad
    bool curved = true;  ///< the hessian is there
};

/// A bar's answer at a travel, not to be worked out twice.
struct KnownBar {
    std::optional<linkage::Law> law;
    Eigen::Vector2d travel;
    linkage::Answer answer;
};

/// What an axle needs to know of the rest of the car. Built once for a solve.
struct AxleFrame {
    const Axle* axle;
    double dx, cy, cz;                          ///< axle plane ahead of the centre of mass; the centre's y and height
    double sprung_mass;                         ///< its share of the loaded sprung mass
    PerSide<double> spring_static, tyre_static; ///< static spring force N and tyre deflection m, left and right
    double g, lateral;                          ///< m/s², already turned by a side slope
    double wind;                                ///< its share of the wind's side force, N, at wind_height
    double wind_height;
    PerSide<double> ground;              ///< under left and right wheel, m
    double torque;                       ///< of the propshaft between body and solid axle, N·m
    PerSide<bool> held{};                ///< the tyre pulls too (Situation::held)
    const KnownBar* known_bar = nullptr; ///< of a bar held by links
    bool operator==(const AxleFrame&) const = default;
};

/// Without `curved` the second derivatives are left out.
AxleEnergy energy(const AxleFrame& frame, const Vector5& q, bool curved = true);

/// How what moves with an axle moves with the five unknowns, at q: heights of the two contacts, travel at the springs
/// and at the wheels, height of a solid axle's middle and its roll.
struct AxleMotion {
    PerSide<Vector5> contact, spring, travel;
    Vector5 middle = Vector5::Zero(), turn = Vector5::Zero();
};
AxleMotion motion(const AxleFrame& frame, const Vector5& q);

/// What a bar held by links answers at q.
KnownBar known_bar(const AxleFrame& frame, const Vector5& q);

/// Loads, gaps, travels and stops of the axle's two wheels at q.
PerSide<Wheel> wheels(const AxleFrame& frame, const Vector5& q);

} // namespace dervish::car
