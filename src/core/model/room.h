#pragma once
#include "core/linkage/limits.h"
#include "core/model/model.h"

namespace dervish::model {
using namespace job;

/// Where the wheels can go and what is near the links, at one end (0 left). Throws BadInput inside the assembly.
linkage::Room to_room(const AxleSetup& assembly, const AxleData& axle, std::size_t end);

/// How far an axle's wheels go, for its links: droop until its stop or strap holds, bump until the bump stop carries as
/// much as the spring gained on the way to it, since ramps and holes go beyond the contact. The unlike side's more.
linkage::Room to_room(const AxleSetup& setup, const AxleData& axle);
/// The tightest of the angles over all travels of `room`, to_room(setup, axle), both ends; angles need no obstacles.
linkage::Margin tightest_angle(const PerSide<linkage::BarEnd>& ends, const Assembly& assembly,
                               const linkage::Room& room);
/// The same angle at the same place as `known`, the tightest of a car that differs little (linkage::same_angle).
linkage::Margin same_angle(const linkage::Margin& known, const PerSide<linkage::BarEnd>& ends,
                           const linkage::Room& room);

} // namespace dervish::model
