#pragma once
#include "core/balance/steady.h"
#include "core/model/model.h"

namespace dervish::model {
using namespace job;

/// The car with tyres on a ground; `car` as assess() or car_with() make it. What is "usual" is worked out here:
/// nominal load from the wheels' loads, dampers a quarter of critical, yaw inertia m a b, roll inertia of a body of
/// radius of gyration a third of the track about its roll axis.
balance::Model to_model(const Vehicle& vehicle, const Setup& setup, const car::Car& car,
                        balance::Ground ground = balance::Ground::Dry);

} // namespace dervish::model
