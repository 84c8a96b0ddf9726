#pragma once
#include "core/linkage/linkage.h"

#include <string>

/// What ends a link's freedom through travel and steer. docs/model.md, "Limits of the links".
namespace dervish::linkage {

inline constexpr double caution_off_square = 55 * units::deg, stop_off_square = 70 * units::deg;

/// A part that the link and the bar keep clear of, at ride height, on the side it is given for.
struct Obstacle {
    enum class Kind { Part, Tube, Wheel }; ///< a ball; a tube across the car; a wheel by its inner face
    std::string name;
    Kind kind = Kind::Part;
    bool on_body = false; ///< else it rises with the wheel (on a solid axle: leans with it), and a wheel steers
    Vector3d at = Vector3d::Zero(); ///< of a wheel: the middle of its inner face
    double radius = 0, keep = 0;    ///< keep: clearance wanted, m
    bool operator==(const Obstacle&) const = default;
};

/// How far the wheels go, and what is near one end.
struct Room {
    double bump = 0, droop = 0; ///< the furthest looked at, both positive, m; of the springs on a solid axle
    double spread = 1;    ///< wheel travel per spring travel, sides opposite: track over spring base; 1: independent
    bool coupled = false; ///< the other wheel's travel counts (a solid axle)
    double lock = 0;      ///< steering each way, rad
    std::array<Vector3d, 2> kingpin{Vector3d::Zero(), Vector3d::UnitZ()};
    std::vector<Obstacle> obstacles;
    std::optional<double> ground; ///< height of the ground at ride height, m
    double link_radius = 0, bar_radius = 0;
    std::vector<Vector3d> bar; ///< this side's part of the bar as laid out, m
    bool operator==(const Room&) const = default;
};

/// How much is left of one limit, and where that is. Angles are rad, distances m.
struct Margin {
    enum class Kind { OffSquare, OffPickup, EyeJoint, PickupJoint, Clearance, Hanging, Ground };
    Kind kind;
    std::string what; ///< "link off square", "winter wheel to bar"
    double value;     ///< the angle or the distance itself
    double left;      ///< to the stop or the clearance wanted; below 0: past it
    Travel at;
    std::size_t end;       ///< 0 left, 1 right
    std::size_t place = 0; ///< of an angle: which of the travels looked at, steered ones too
    bool angle() const { return kind <= Kind::PickupJoint; }
};

/// How far this end's wheel goes in a mode, both positive, m: on a solid axle leaning takes a wheel further than its
/// spring.
struct Reach {
    double bump, droop;
};
Reach wheel_reach(const Room& room, Mode mode);

/// The travels of an end that are looked at: both wheels together, one alone, opposite, and crossed to the stops.
std::vector<Travel> travels(const Room& room, int count);

/// The least of each angle's margins over `travels`, the tightest first; without the joints whose limits are unknown.
std::vector<Margin> angle_margins(const BarEnd& end, Branch branch, const Room& room, std::size_t which,
                                  int count = 17);

/// The angle `known`, found so among `count` travels, of a linkage that differs little, at its own place: for a
/// derivative, since the least of many changes as the one that is the least.
Margin same_angle(const Margin& known, const BarEnd& end, Branch branch, const Room& room, int count = 17);

/// As angle_margins() of the distances, steered too, and with a wheel being put on while the suspension hangs.
std::vector<Margin> clearances(const BarEnd& end, Branch branch, const Room& room, std::size_t which, int count = 17);

/// Where an obstacle's middle is at a travel.
Vector3d obstacle_at(const BarEnd& end, const Room& room, const Obstacle& obstacle, const Travel& travel);

/// Distances at one travel, for a drawing: what, from, to.
struct Gap {
    const Obstacle* obstacle; ///< null: the ground
    bool of_bar;              ///< else of the link
    double distance;          ///< between surfaces, m
    Vector3d from, to;        ///< on the link's or bar's line, and on the obstacle
};
std::vector<Gap> gaps(const BarEnd& end, const Position& position, const Room& room, const Travel& travel);

/// The first limit that droop would meet beyond the damper's end (both wheels), and how much longer the damper may be
/// at the wheel; nothing within `most`.
struct FirstLimit {
    double travel; ///< beyond the damper's end; below 0: within its travel, m
    std::string what;
};
std::optional<FirstLimit> first_in_droop(const BarEnd& end, Branch branch, const Room& room, double most = 0.2);

} // namespace dervish::linkage
