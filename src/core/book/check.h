#pragma once
#include "core/job/job.h"

namespace dervish::book {

/// Throws BadInput with the place ("torques/0/wrench") at the first thing of the book that cannot be: a torque that no
/// wrench is set to, an interval below nought, a mark beyond its scale, a look that is none, a weight of nobody.
void check(const job::Job& job);

} // namespace dervish::book
