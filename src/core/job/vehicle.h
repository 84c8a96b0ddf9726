#pragma once
#include "core/job/measured.h"
#include "core/num/once.h"
#include "core/terms/terms.h"

#include <string>
#include <vector>

/// The car as it is without what a tuner fits to it.
namespace dervish::job {

/// Where the pick-up has gone at a wheel travel, measured against ride height.
struct PathPoint {
    Measured travel, up, out, back;
    bool operator==(const PathPoint&) const = default;
};

/// What a link or the bar must stay clear of, on both sides alike: a part of some roundness, a tube that runs across
/// the car, or a wheel with its tyre by its inner face.
enum class ObstacleKind { Part, Tube, Wheel };
enum class Carrier { Body, Wheel };
struct ObstacleData {
    std::string name;
    ObstacleKind kind = ObstacleKind::Part;
    Carrier moves = Carrier::Wheel;
    Spot at;
    Measured radius;
    Measured keep; ///< clearance wanted
    bool operator==(const ObstacleData&) const = default;
};

enum class PathKind { Straight, Arm, Points }; ///< how the pick-up of independent suspension moves

/// How an axle moves its links' pick-ups, and what is near them.
struct LinkageData {
    PathKind path = PathKind::Straight;
    Spot arm_front, arm_rear, ball_joint; ///< the control arm's inner axis and what it lifts the wheel by
    std::vector<PathPoint> points;        ///< by rising travel
    bool steers = false;                  ///< the pick-up turns with the wheel
    Measured lock, kingpin_behind, kingpin_out;
    std::vector<ObstacleData> obstacles;
    bool operator==(const LinkageData&) const = default;
};

/// What an axle's wheels do with lean, side force and the height of the body.
struct WheelData {
    Measured camber_kept{0.3, 0.15}, roll_steer, side_steer, trail_steer;
    Measured roll_centre_moves; ///< roll centre's rise per rise of the body
    Measured camber_moves;      ///< camber per 100 mm that the body rises
    bool operator==(const WheelData&) const = default;
};

/// The suspension as it is beyond its rates: side to side, what holds it short, what it holds on to.
struct TravelData {
    Measured left_bump, left_droop; ///< the left side's travels beyond the right's, m
    Measured strap, hose, body;     ///< wheel travel at which each is reached; 0: none, unknown, clear
    bool operator==(const TravelData&) const = default;
};

enum class WheelsASide { One, Two };

/// An axle as measured, whatever is fitted to it; gaps at the wheel (independent) or per spring (solid).
struct AxleData {
    AxleKind kind = AxleKind::Independent;
    WheelsASide wheels_a_side = WheelsASide::One; ///< two: a pair shares its side's load, the track is to its middle
    Measured track, unsprung_mass, unsprung_height, spring_base, motion_ratio;
    Measured bump_gap, bump_k1, bump_k3, roll_centre_height, parasitic_roll_stiffness;
    Measured inertia; ///< of a solid axle in roll, about its own centre; 0: the usual
    TravelData travel;
    LinkageData linkage;
    WheelData wheels;
    DERVISH_COMPILED_ONCE(AxleData);
    bool operator==(const AxleData&) const;
};

inline int tyres_a_side(const AxleData& axle) { return axle.wheels_a_side == WheelsASide::Two ? 2 : 1; }

/// Something that is carried, or left behind: which is said by a setup.
struct Load {
    std::string id, name;
    Measured mass, behind_front_axle, left, height;
    bool operator==(const Load&) const = default;
};

enum class Driven { Front, Rear, All };
enum class Turns { Clockwise, Anticlockwise }; ///< the propshaft, seen from behind

/// How the whole car turns and is driven. Inertias of 0: the usual for its masses and sizes.
struct HandlingData {
    Measured yaw_inertia, roll_inertia, front_braking;   ///< 0: the usual, the ideal split
    Measured pitch_inertia;                              ///< of the body; 0: the usual
    Measured roll_radius{0.38, 0.03};                    ///< of gyration of the body, over the track
    Measured braking{0.2, 0.1}, pull{0.12, 0.05};        ///< into and out of a bend, g
    Measured launch{0.4, 0.05}, axle_ratio{4, 0.3};      ///< g along; propshaft turns per wheel turn
    Measured person, person_out, side_area, wind{25, 5}; ///< kg, m, m², m/s; 0: the usual of a car this size
    Measured rear_grip{1, 0.04}; ///< of the rear axle's grip over the front's, beyond what is told of their tyres
    Driven driven = Driven::Rear;
    Turns propshaft = Turns::Anticlockwise;
    bool operator==(const HandlingData&) const = default;
};

/// A ground that the car is driven on: what it makes of the tyres' figures, how rough it is, how fast one drives there.
struct GroundData {
    Measured grip, stiffness, fall; ///< factors on grip, cornering stiffness, and the fall of grip with load
    Measured roughness;             ///< 10⁻⁶ m³ at 0.1 per metre (ISO 8608); 0: a plane
    Measured speed;                 ///< m/s
    Measured ripple, ripple_length; ///< of about one length on top: standard deviation of their height, m; m
    Measured ripple_alike;          ///< correlation of left and right
    bool operator==(const GroundData&) const = default;
};
/// Where a ground's figures stand: "vehicle/grounds/dry_patched/".
std::string path_of(Ground ground);
/// What is usual of each, assumed: our own round figures with their spreads.
PerGround<GroundData> usual_grounds();

/// What the car is for: which lean, balance and ride are right depends on it.
enum class Use { Road, Loaded, Towing, Sport, RaceSmooth, RaceRough, Sprint, Trail, Rocks, Launch, Model };
inline constexpr double by_use = -1; ///< what a use wants, left to what is usual of it (study/use.h)
struct UseData {
    Use use = Use::Road;
    Measured lean_least{by_use}, lean_most{by_use};       ///< rad per m/s²
    Measured balance_least{by_use}, balance_most{by_use}; ///< rear nearer to giving up above 0, share
    Measured head_most{by_use};                           ///< tossed sideways there, m/s²
    Measured reserve_least{by_use};                       ///< from the limit to tipping over, g
    bool operator==(const UseData&) const = default;
};

/// The car as weighed on its four wheels, without the loads listed.
struct Vehicle : PerAxle<AxleData> {
    std::string name;
    Measured wheelbase, front_left_load, front_right_load, rear_left_load, rear_right_load, cg_height, chassis_torsion;
    HandlingData handling;
    std::vector<Load> loads;
    PerGround<GroundData> grounds = usual_grounds();
    UseData use;
    DERVISH_COMPILED_ONCE(Vehicle);
    bool operator==(const Vehicle&) const;
};

/// A person's mass as the vehicle has it; unsaid 80 kg, or a tenth of a small car, kg.
double person_of(const Vehicle& vehicle);

} // namespace dervish::job
