#pragma once
#include "core/linkage/limits.h"
#include "core/linkage/plan.h"
#include "core/model/room.h"
#include "core/study/assess.h"

#include <functional>

/// The links of one axle: where they stand, what ends their freedom, how long they should be, what they carry at rest.
namespace dervish::study {
using namespace model;

/// One end's link as it stands at ride height.
struct LinkSide {
    linkage::BarEnd end;
    linkage::Branch branch;
    linkage::Room room;
    linkage::Position rest;
    double attitude; ///< of the arm, eye above the mounts positive, rad
};
/// Nothing without a bar held by links. Throws BadInput inside the assembly.
std::optional<PerSide<LinkSide>> link_sides(const AxleSetup& assembly, const AxleData& axle);

/// Through travel, one wheel's own from full droop to full bump. The force is the bar's at that wheel.
struct LinkPoint {
    double travel; ///< m
    linkage::Position at;
    double attitude, force, aside; ///< rad, N, sideways between eye and pick-up against ride height, m
};
std::vector<LinkPoint> through_travel(const LinkSide& side, std::size_t end, const linkage::Law& law,
                                      linkage::Mode mode, int count);

/// What limits a link through travel and steer. Margins tightest first.
struct LinkLimits {
    std::vector<linkage::Margin> angles, distances;
    std::optional<linkage::FirstLimit> in_droop; ///< of both wheels, from the damper's end
    std::optional<double> over_centre[2];        ///< both wheels down, wheels opposite: the wheel's travel, m
    /// "0.021 m longer": how far below the damper's end the link still follows; nothing within 200 mm.
    std::optional<double> damper_longer() const { return in_droop ? std::optional(in_droop->travel) : std::nullopt; }
};
LinkLimits link_limits(const LinkSide& side, std::size_t end);

/// A link's thread at a length, where it has one.
std::optional<linkage::Thread> thread_of(const LinkData& links, double length);

/// A link's length for what the assembly's plan asks, where the car stands.
struct LinkPlan {
    linkage::Stance stance;                    ///< as the car stands
    std::optional<linkage::Length> now;        ///< as it is, there; nothing: it would not reach
    std::optional<linkage::Length> level;      ///< that levels the bar there
    std::optional<linkage::Length> kept;       ///< that keeps the off-square angle asked for at full droop
    std::optional<linkage::Thread> thread;     ///< of an adjustable link
    std::optional<linkage::Length> turned;     ///< as it is, one turn longer
    std::vector<std::optional<double>> by_eye; ///< level length on each eye of the arm, m
    linkage::Shift upright;                    ///< of the mounts
};
LinkPlan link_plan(const AxleSetup& assembly, const AxleData& axle, std::size_t end);

/// The bar at rest: the car settled on its wheels, level ground.
struct RestState {
    Eigen::Vector2d link;    ///< forces in the links, left and right, tension positive, N
    PerWheel<double> change; ///< of the wheels' loads by this bar, N
    /// Added to the right link it takes the twist out, m; nothing where no length does.
    std::optional<double> correction;
};
/// Nothing without a connected bar held by links. Throws BadInput as assess().
std::optional<RestState> rest_state(const Vehicle& vehicle, const Setup& setup, End end);

/// What the right link must be longer than the left one by, so that the bar adds `change` to the left wheel's load of
/// its axle (deliberate preload); nothing where no length within 60 mm does.
std::optional<double> longer_for_load(const Vehicle& vehicle, const Setup& setup, End end, double change);

/// By how much the right link must be longer than the left one for f (of that) to be 0, by secants from the present;
/// nothing within 60 mm of it. What f throws passes through.
std::optional<double> solved_longer(const Setup& setup, End end, const std::function<double(double)>& f);

} // namespace dervish::study
