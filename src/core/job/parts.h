#pragma once
#include "core/job/measured.h"
#include "core/num/once.h"
#include "core/terms/terms.h"

#include <limits>
#include <string>
#include <type_traits>
#include <vector>

/// What is fitted to a car, or lies beside it: every kind of part, where it stands, and how to go through them all.
namespace dervish::job {

/// What a part is called and where it is from, whichever setup it stands in. Parts of equal id are one part: the same
/// everywhere (edit/parts.h keeps them so).
struct Part {
    std::string id, name, origin, notes;
    double price = 0; ///< in the owner's money; 0: not said
    double mass = 0;  ///< as weighed, kg; 0: not said
    bool operator==(const Part&) const = default;
};

/// A spring's force beyond its static one at a travel, bump positive.
struct SpringPoint {
    Measured travel, force;
    bool operator==(const SpringPoint&) const = default;
};

/// An axle's springs; rates at the wheel (independent) or of one spring (solid).
struct SpringData : Part {
    Measured rate;
    bool captive = false;            ///< cannot come loose of their seats
    std::vector<SpringPoint> points; ///< by rising travel, in place of the rate: air, rubber
    bool operator==(const SpringData&) const = default;
};

/// An axle's dampers. Their end of travel is the droop stop. 0 for damping: the usual quarter of critical.
struct DamperData : Part {
    Measured droop_gap, droop_k;
    Measured bump_damping, rebound_damping;
    Measured bump_clicks, rebound_clicks; ///< that there are, from fully open; 0: not adjustable
    Measured click;                       ///< what one adds to the damping, as a share of it; 0: not known
    Measured bump_set, rebound_set;       ///< clicks at which the damping was measured, from fully open
    bool operator==(const DamperData&) const = default;
};

/// An axle's tyres, on their wheels. 0 for `nominal_load`: one kind of tyre on the whole car, at the mean of its wheels
/// as weighed; for sizes: not known.
struct TyreData : Part {
    Measured rate;
    Measured nominal_load, grip{1, 0.15}, grip_fall{0.12, 0.04}, stiffness{16, 4}, stiffness_load{1.8, 0.3};
    Measured camber_thrust{0.12, 0.05}, camber_loss{10, 5},
        best_camber{units::as_filed(-1.5 * units::deg, units::Quantity::Angle), units::deg};
    Measured relaxation{0.5, 0.15}, best_pressure{1, 0.1}, pressure_loss{0.5, 0.25};
    Measured diameter, rim_width, rim_offset;
    bool operator==(const TyreData&) const = default;
};

/// What holds the frame against twist, beside the frame itself.
struct BraceData : Part {
    Measured torsion; ///< added, N·m/rad
    bool operator==(const BraceData&) const = default;
};

/// What raises or lowers the car: longer or shorter springs leave the stops where they are, spacers take them along,
/// other tyres lift axle and body alike.
enum class LiftBy { Springs, Spacers, Tyres };

/// How an axle's wheels and dampers stand, which a tuner sets without changing a part.
struct StandData {
    LiftBy lift_by = LiftBy::Springs;
    Measured lift; ///< of the body over the ground at this axle from where the car was measured, up positive, m
    Measured pressure{1, 0};
    Measured left_grip{1, 0.03}, left_pressure{1, 0.02}; ///< the left tyre's over the right one's
    Measured camber, toe;
    Measured bump_click, rebound_click; ///< of the dampers' clicks, from fully open
    Differential differential = Differential::Open;
    bool operator==(const StandData&) const = default;
};

struct Eye {
    Measured arm_length; ///< square to the bar's axis
    bool operator==(const Eye&) const = default;
};

/// A step of a walk along the bar, and a point of one measured in space: bar::Step and bar::Spot as measured. A size of
/// 0 for `outer_diameter` is the bar's own, for `taper_to` none.
struct StepData {
    Measured length, bend, plane, radius, outer_diameter, wall, taper_to;
    Mark mark = Mark::Bend;
    bool operator==(const StepData&) const = default;
};
struct PointData {
    Measured x, y, z, radius, outer_diameter, wall;
    Mark mark = Mark::Bend;
    bool operator==(const PointData&) const = default;
};

enum class Form { Sizes, Walk, Points };    ///< how the bar was measured
enum class Arms { OfTheBar, Round, Blade }; ///< what its arms are

struct BarData : Part {
    Form form = Form::Sizes;
    Measured outer_diameter, wall, centre_length, arm_end, splay, drop, bend_radius;
    Measured kink_outer, kink_inner, kink_forward, kink_up;
    std::vector<Eye> eyes; ///< outermost first, the same on both arms
    Arms arms = Arms::OfTheBar;
    Measured arm_diameter, arm_wall, blade_width, blade_thickness, blade_rotation;
    std::vector<StepData> walk;    ///< from the middle to the left end
    std::vector<PointData> points; ///< left to right
    Measured youngs_modulus, shear_modulus, density, yield_strength;
    Measured bent; ///< right eye above the left one with the bar flat on a table, m
    DERVISH_COMPILED_ONCE(BarData);
    bool operator==(const BarData&) const;
};

enum class BushKind { Unsaid, Rubber, Urethane, Metal };
enum class JointKind { Unsaid, Ball, Rubber, Urethane, RodEnd };

enum class CarriedBy { Body, Axle }; ///< what the bar is mounted on

struct MountData : Part {
    BushKind kind = BushKind::Unsaid;
    CarriedBy on = CarriedBy::Body;
    Measured height; ///< of the bar's axis above the ground at ride height, m; 0: unknown
    Measured spacing, vertical, fore_aft, axial, torsional, bracket;
    Measured rate_left{1, 0};            ///< what wear has left of the bushes' rates along and across the bar, 1: sound
    Measured bore_friction, out_of_line; ///< coefficient of the bore; right mount above the left one's line, m
    Measured capacity;                   ///< what a bracket may bear, N; 0: unknown
    bool operator==(const MountData&) const = default;
};

enum class LinkEnd { Below, Above }; ///< where the link's other end is, seen from the eye

/// Where the links' other ends are on the axle: under the eyes of the bar as it lies, until it is tried with another
/// hole, link or bar (edit::hold_pickups); or at places of their own.
enum class PickupRule { UnderEyes, Placed };
struct PickupData {
    PickupRule rule = PickupRule::UnderEyes;
    LinkEnd end = LinkEnd::Below;
    Measured forward, outward; ///< under the eyes
    Spot at;                   ///< placed
    bool operator==(const PickupData&) const = default;
};

enum class Adjust { No, OneEnd, Opposite }; ///< by a thread at one end, or a buckle with opposite threads

struct LinkData : Part {
    JointKind joints = JointKind::Unsaid;
    Measured length, right_longer, body, joint, play, capacity;
    Adjust adjust = Adjust::No;
    Measured pitch, thread, engaged, shortest; ///< of a thread; each end's length in use; screwed right in
    Stud eye_stud = Stud::Sideways, pickup_stud = Stud::Sideways;
    Measured tilt{units::pi, 0}; ///< that the joints allow, rad; a half turn: not known
    Measured thickness;          ///< of the link's body, m
    bool operator==(const LinkData&) const = default;
};

enum class Held { Links, Clamped }; ///< by mounts and links, or clamped at its ends to trailing arms

/// The arms that a clamped bar joins, from their pivots.
struct TrailingArms {
    Measured to_bar, to_wheel;
    bool operator==(const TrailingArms&) const = default;
};

/// What the links are planned for.
struct PlanData {
    Measured off_square{55 * units::deg, 0}; ///< at most, at full droop, rad
    Measured preload;                        ///< load that the bar is to add to the left wheel at rest, N
    bool operator==(const PlanData&) const = default;
};

/// A bar with what holds it and what it pulls on: what is bought, fitted, or lies on the shelf.
struct Assembly {
    bool fitted = false;
    bool connected = true;
    Held held = Held::Links;
    BarData bar;
    MountData mounts;
    LinkData links;
    PickupData pickups;
    TrailingArms trailing_arms;
    PlanData plan;
    int left_eye = 0, right_eye = 0;
    DERVISH_COMPILED_ONCE(Assembly);
    bool operator==(const Assembly&) const;
};

/// What is on an axle, and how it stands.
struct AxleSetup : Assembly {
    SpringData springs;
    DamperData dampers;
    TyreData tyres;
    StandData stand;
    DERVISH_COMPILED_ONCE(AxleSetup);
    bool operator==(const AxleSetup&) const;
};

/// All that a tuner changes from one run to the next.
struct Setup : PerAxle<AxleSetup> {
    std::string name;
    BraceData brace;
    Measured bias_ratio{2, 0.5};     ///< of a limited slip differential
    std::vector<std::string> aboard; ///< ids of the vehicle's loads
    bool stability_aid = false;      ///< left on
    DERVISH_COMPILED_ONCE(Setup);
    bool operator==(const Setup&) const;
};

/// Parts that are at hand and stand in no setup, other than bars kept with what holds them (the shelf).
struct Spares {
    std::vector<BarData> bars;
    std::vector<MountData> mounts;
    std::vector<LinkData> links;
    std::vector<SpringData> springs;
    std::vector<DamperData> dampers;
    std::vector<TyreData> tyres;
    std::vector<BraceData> braces;
    DERVISH_COMPILED_ONCE(Spares);
    bool operator==(const Spares&) const;
};

/// A setup always has a part of each kind; what it has none of does nothing.
inline bool is_there(const Part&) { return true; }
inline bool is_there(const BraceData& brace) { return brace.torsion.value > 0; }

/// Calls f(kind, spares) for each kind of part: the key under which the job file has it, and where those at hand are.
template <class F> void each_kind(F&& f) {
    f("bar", &Spares::bars);
    f("mounts", &Spares::mounts);
    f("links", &Spares::links);
    f("springs", &Spares::springs);
    f("dampers", &Spares::dampers);
    f("tyres", &Spares::tyres);
    f("brace", &Spares::braces);
}

/// Calls f(kind, part) for each of a bar with what holds it.
template <class A, class F> void each_bar_part(A& assembly, F&& f) {
    f("bar", assembly.bar);
    f("mounts", assembly.mounts);
    f("links", assembly.links);
}

/// The same for all parts on an axle.
template <class A, class F> void each_axle_part(A& axle, F&& f) {
    each_bar_part(axle, f);
    f("springs", axle.springs);
    f("dampers", axle.dampers);
    f("tyres", axle.tyres);
}

/// The same for all parts of a setup that stand on no axle.
template <class S, class F> void each_body_part(S& setup, F&& f) { f("brace", setup.brace); }

/// The same for all parts of a setup.
template <class S, class F> void each_part(S& setup, F&& f) {
    each_axle_part(setup.front, f);
    each_axle_part(setup.rear, f);
    each_body_part(setup, f);
}

/// The same for all spares.
template <class P, class F> void each_spare(P& spares, F&& f) {
    each_kind([&](const char* kind, auto at) {
        for (auto& part : spares.*at) f(kind, part);
    });
}

/// The same for every part of a job that can still be changed: of all setups, the shelf and the spares, not of
/// snapshots.
template <class J, class F> void each_part_of_job(J& job, F&& f) {
    each_part(job.fitted, f);
    each_part(job.trial, f);
    each_part(job.standard, f);
    for (auto& setup : job.kept) each_part(setup, f);
    for (auto& assembly : job.shelf) each_bar_part(assembly, f);
    each_spare(job.spares, f);
}

struct Job;

/// An id that no part of the job has: "springs-3".
std::string fresh_id(const Job& job, const std::string& kind);

/// Gives an id to every part of the setups that has none: equal ones of a kind on the same axle share one. Front and
/// rear ones are two, however alike.
void name_parts(Job& job);

/// Where a spare of its kind is kept.
template <class P> std::vector<P>& of_kind(Spares& spares, const P&) {
    std::vector<P>* out = nullptr;
    each_kind([&]<class Q>(const char*, std::vector<Q> Spares::*at) {
        if constexpr (std::is_same_v<P, Q>) out = &(spares.*at);
    });
    return *out;
}

} // namespace dervish::job
