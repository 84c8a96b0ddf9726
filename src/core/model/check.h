#pragma once
#include "core/job/job.h"

namespace dervish::model {
using namespace job;

/// Throws BadInput, with the field's path, at the first thing in the job that cannot be: a range, sizes that do not
/// fit together, a car that cannot stand.
void check(const Job& job);
/// The same of the sizes together alone, where every number is known to be within its range. A bar that is as it was
/// `before`, on an axle that is, was checked then.
void check_cars(const Job& job, const Job* before = nullptr);

} // namespace dervish::model
