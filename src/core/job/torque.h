#pragma once
#include "core/job/book.h"

namespace dervish::job {

/// What a wrench is set to, N·m, so that the fastener gets the torque through an adapter: T·L/(L + a·cos θ), L from the
/// wrench's head to the middle of the grip, a from there to the fastener, θ between the two. Throws BadInput at
/// "wrench", "adapter" or "angle" for lengths below 0, an adapter without a wrench, or one that folds back on it.
double wrench_setting(const Torque& torque);

/// Throws BadInput at "of", "source", "moment", "count" or as wrench_setting() for fasteners that say nothing: a torque
/// has its source, and without a torque there is a spanner's size.
void check_fastener(const Torque& torque);

} // namespace dervish::job
