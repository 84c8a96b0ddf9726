#pragma once
#include "core/balance/steady.h"
#include "core/model/model.h"

namespace dervish::model {
using namespace job;

/// What a ground makes of the tyres.
balance::Surface surface_of(const GroundData& ground);
/// What a patch of the wet ground is to a tyre that comes from `on`: the one's factors over the other's; 1 where that
/// is as slippery itself.
balance::Surface wet_patch(const PerGround<GroundData>& grounds, Ground on);
/// Its road at the speed that one drives there.
balance::Road road_of(const GroundData& ground);

/// Loss factor of rubber bushes at the body's roll: filled natural rubber 0.05 to 0.2; assumed for every car.
inline constexpr double bush_loss = 0.1;

/// The car with tyres on a ground of the vehicle's; `car` as assess() or car_with() make it. What is "usual" is worked
/// out here: nominal load from the wheels' loads, dampers a quarter of critical, yaw inertia m a b, roll inertia of a
/// body of radius of gyration a third of the track about its roll axis.
balance::Model to_model(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground = Ground::Dry);

} // namespace dervish::model
