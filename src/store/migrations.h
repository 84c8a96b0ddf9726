#pragma once
#include "store/json_job.h"

namespace dervish::store {

/// Turns a job of an older `version`, from 1 on, into one of today's, one version at a time; see docs/job-format.md.
/// What is not as that version had it is left for the reader to refuse.
void migrate(Json& job, int version);

} // namespace dervish::store
