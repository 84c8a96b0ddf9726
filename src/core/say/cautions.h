#pragma once
#include "core/job/job.h"
#include "core/units/units.h"

namespace dervish::say {
using namespace job;

/// What could hurt somebody with this setup on the car, a sentence each: links that go over centre or touch within the
/// wheels' travel, a bar that yields within it, a car that tips before its tyres let go on dry ground, a wheel that
/// lifts before they do. Empty where nothing of that is known, and where there is no such car. Example:
/// cautions(job.vehicle, job.trial, units::System::Metric).
std::vector<std::string> cautions(const Vehicle& vehicle, const Setup& setup, units::System system);

} // namespace dervish::say
