#pragma once
#include "core/linkage/law.h"
#include "core/terms/terms.h"

#include <Eigen/Core>
#include <array>
#include <limits>
#include <string>
#include <vector>

/// The car of docs/model.md, section "The car". SI; x forward, y left, z up; origin on the ground between the front
/// wheels.
namespace dervish::car {

/// A spring's force at a travel, for springs that a rate does not describe. Straight lines between the points.
struct ForcePoint {
    double travel, force;
    bool operator==(const ForcePoint&) const = default;
};

/// One axle. Rates and gaps are at the wheel for an independent axle, per spring at ± spring_base/2 for a solid one.
struct Axle {
    AxleKind kind = AxleKind::Independent;
    double track = 0;
    double unsprung_mass = 0;
    double unsprung_height = 0;
    double tyre_rate = 0;
    double spring_rate = 0;
    double spring_base = 0; ///< solid axle only
    double bar_base = 0;    ///< solid axle only: between the bar's links
    double bump_gap = 0, bump_k1 = 0, bump_k3 = 0;
    double droop_gap = 0, droop_k = 0;
    double left_bump = 0, left_droop = 0; ///< the left side's gaps beyond those above, m
    double roll_centre_height = 0;
    double parasitic_roll_stiffness = 0;                                ///< N·m/rad
    double lateral_tyre_rate = std::numeric_limits<double>::infinity(); ///< both tyres together, N/m
    double bump_room(std::size_t side) const { return bump_gap + (side == 0 ? left_bump : 0); }
    double droop_room(std::size_t side) const { return droop_gap + (side == 0 ? left_droop : 0); }
    bool captive_springs = false;         ///< springs that may pull
    PerSide<double> stuck{};              ///< by how much friction at rest holds a side's spring off its own force, N
    std::vector<ForcePoint> spring_table; ///< replaces spring_rate when not empty; force added to the static one
    Eigen::Matrix2d bar = Eigen::Matrix2d::Zero(); ///< at the wheels, or at ± bar_base/2
    std::optional<linkage::Law> linkage;           ///< in its place: the bar through its links, at the wheels
    double bar_in_bushes = 0; ///< of the bar's energy, the share in its bushes and its links' joints
    bool operator==(const Axle&) const = default;
};

struct PointMass {
    double mass, x, y, z;
};

/// The car as weighed, and what is loaded on it since.
struct Car : PerAxle<Axle> {
    double wheelbase = 0;
    double sprung_mass = 0;
    double cg_behind_front_axle = 0;
    double cg_height = 0;
    double cg_left = 0; ///< of the sprung mass, towards y
    double twist =
        0; ///< moment about x by which the front springs push the left side up and the rear ones down at rest, N·m
    double chassis_torsion = std::numeric_limits<double>::infinity(); ///< N·m/rad; infinite: one stiff body
    std::vector<PointMass> loads;
    bool relevelled = false; ///< springs reset after loading: static forces are those of the loaded car
};

/// What acts on it and what it stands on. Wheels: front left, front right, rear left, rear right.
struct Situation {
    double lateral_acceleration = 0;                    ///< towards y, m/s² (left turn > 0)
    double longitudinal_acceleration = 0;               ///< forwards, m/s²; no anti-dive
    double side_slope = 0;                              ///< right side down, rad
    double wind_force = 0, wind_height = 0, wind_x = 0; ///< side force towards −y (as if turning left), N
    PerWheel<double> wheel_height{};
    /// Propshaft's torque on a solid axle, front and rear, about x: pressing its right wheel down, N·m.
    PerAxle<double> axle_torque{};
    /// A wheel whose tyre would pull too, so that nothing kinks where it lifts; −1: none. Its load may be below zero.
    int held = -1;
};

inline constexpr int front_left = 0, front_right = 1, rear_left = 2, rear_right = 3;
inline const PerWheel<const char*> wheel_names{"front left", "front right", "rear left", "rear right"};

enum class Stop { Free, Bump, Droop };

struct Wheel {
    double load;                  ///< N
    double gap;                   ///< under the tyre when it hangs, m
    double travel;                ///< bump positive, m
    Stop stop;                    ///< the stop its spring is on
    double room_bump, room_droop; ///< spring travel left before the stop; negative: into it, m
    double spring = 0;            ///< load on its spring, N; a loose one's is not above zero
};

struct State {
    double heave = 0, pitch = 0;
    PerAxle<double> roll{};
    PerWheel<Wheel> wheels{};
    double residual = 0; ///< largest out-of-balance force, divided by the car's weight
    bool converged = false;
    Eigen::Matrix<double, 8, 1> q = Eigen::Matrix<double, 8, 1>::Zero(); ///< for warm starts
};

} // namespace dervish::car
