#pragma once
#include "core/terms/terms.h"
#include "core/units/units.h"

#include <Eigen/Core>
#include <array>
#include <optional>
#include <variant>
#include <vector>

/// The rigid linkage of one end of a bar: its eye on a circle, the link, and the path of the link's other end.
/// Axes as the car's, m, rad. docs/model.md, "The linkage".
namespace dervish::linkage {

using Eigen::Vector3d;

/// A control arm that swings about a fixed axis and carries the pick-up; wheel travel is the rise of `wheel`.
struct Arm {
    std::array<Vector3d, 2> axis; ///< two points on it
    Vector3d pickup, wheel;       ///< at ride height
    bool operator==(const Arm&) const = default;
};

/// The pick-up moves straight on, by `per_travel` for each metre of wheel travel (on a damper or an upright), and turns
/// with the steering about a kingpin where it has one.
struct Straight {
    Vector3d pickup, per_travel;
    std::optional<std::array<Vector3d, 2>> kingpin = {}; ///< two points, the upper one second
    bool operator==(const Straight&) const = default;
};

/// The pick-up on a solid axle, which rises by the mean of the wheels' travels and leans by their difference. Where the
/// axle carries the bar, the pick-up is on the body: seen from the bar it does the reverse.
struct OnAxle {
    Vector3d pickup; ///< at ride height
    Vector3d middle; ///< about which the axle leans: its roll centre
    double track;
    bool bar_on_axle = false;
    bool operator==(const OnAxle&) const = default;
};

/// Measured places of the pick-up at rising wheel travels; between them a cubic through both with their mean slopes.
struct Measured {
    struct Point {
        double travel;
        Vector3d pickup;
        bool operator==(const Point&) const = default;
    };
    std::vector<Point> points; ///< at least two
    bool operator==(const Measured&) const = default;
};

using Path = std::variant<Arm, Straight, OnAxle, Measured>;

/// Wheel travels of an axle, bump positive: this end's wheel and the other one's; and the steering, rad to the left.
struct Travel {
    double own = 0, other = 0, steer = 0;
};

/// Place of the pick-up, and its first and second derivatives by the two wheels' travels.
struct Pickup {
    Vector3d place = Vector3d::Zero();
    std::array<Vector3d, 2> rate{Vector3d::Zero(), Vector3d::Zero()}; ///< by own, by other
    std::array<Vector3d, 3> bend{Vector3d::Zero(), Vector3d::Zero(),
                                 Vector3d::Zero()}; ///< by own twice, own and other, other twice, 1/m
    /// Per metre of this wheel's travel with the other wheel moving `other_rate` metres.
    Vector3d rate_with(double other_rate) const { return rate[0] + other_rate * rate[1]; }
};

/// Nothing beyond what an arm can reach.
std::optional<Pickup> pickup(const Path& path, const Travel& travel);

/// The same path told from where both wheels are at `travel`: pickup(*from(path, t), {w, w}) is pickup(path, {t + w, t
/// + w}). Nothing where it does not go that far.
std::optional<Path> from(const Path& path, double travel);

/// A ball or rod-end joint swings freely about its stud, and tilts no further than `limit` from square to it.
struct Joint {
    Stud stud = Stud::Sideways;
    double limit = units::pi; ///< rad; a half turn: not known
    bool operator==(const Joint&) const = default;
};

/// One end of the bar. The eye turns about the mounts' axis; `eye` is where it is at zero turn (as laid out).
struct BarEnd {
    std::array<Vector3d, 2> mounts; ///< two points of the bar's axis
    Vector3d eye;
    double link; ///< centre to centre
    Path path;
    std::array<Joint, 2> joints = {}; ///< at the eye, at the pick-up
    bool operator==(const BarEnd&) const = default;
};

/// Two ways to close eye and pick-up with a link: the side of the line from the axis to the pick-up.
enum class Branch { First, Second };

/// branch_at_rest(); throws BadInput at "links/length" where the link does not reach, with the nearest length that
/// does.
Branch branch_needed(const BarEnd& end, bool left);

/// The linkage at a travel.
struct Position {
    double turn; ///< of the arm about the mounts' axis from `BarEnd::eye`, towards bump positive where the arm trails
    Vector3d eye, pickup;
    double off_square;   ///< between the link and the eye's direction of motion: 0 best, 90° the dead line
    double off_pickup;   ///< between the link and the pick-up's motion: at 90° the bar stops following
    double motion_ratio; ///< pick-up's travel along the link, per wheel travel (signed as the link is pushed towards
                         ///< the eye)
    double turn_rate;    ///< of the arm, per wheel travel, rad/m
};

/// The branch that lies nearer to the bar as laid out, at ride height; nothing when the link cannot reach there.
std::optional<Branch> branch_at_rest(const BarEnd& end);

/// How far each joint (eye, pick-up) is tilted from square to its stud, rad. The pick-up's stud goes round with what
/// carries it.
std::array<double, 2> joint_angles(const BarEnd& end, const Position& position, const Travel& travel);

/// Angle of the arm to the ground, the eye above the mounts positive, rad.
double attitude(const BarEnd& end, double turn);

/// The turn at which the arm lies level: the eye at the height of the mounts' axis.
double level_turn(const BarEnd& end);

/// Closed form: A cosθ + B sinθ = K from |eye − pick-up| = link. Nothing over centre or out of reach.
std::optional<Position> at(const BarEnd& end, Branch branch, const Travel& travel, double other_rate = 0);

/// How far the link is from over centre at a travel: the length it would still have to change before the eye's circle
/// no longer meets it, m; below 0 it does not meet.
double reach_left(const BarEnd& end, const Travel& travel);

/// How the other wheel follows: opposite, together, or still.
enum class Mode { Roll, Bump, OneWheel };
Travel in_mode(Mode mode, double own);

/// The travel nearest to ride height, up to `far` (its sign says the direction), at which the branches meet or the path
/// ends; nothing when there is none. Found to 1e-9 m, also where the branches only just touch between two steps.
std::optional<double> over_centre(const BarEnd& end, Mode mode, double far);

/// Positions at equal steps from `from` to `to`; ends where the linkage does.
std::vector<Position> sweep(const BarEnd& end, Branch branch, Mode mode, double from, double to, int count);

/// Length of the link that puts the arm at `turn` at a travel (ride height: the length that levels the bar).
std::optional<double> length_for(const BarEnd& end, double turn, const Travel& travel = {});

} // namespace dervish::linkage
