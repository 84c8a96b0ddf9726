#pragma once
#include "store/json_job.h"

namespace dervish::store {

/// Turns a job of an older `version`, from 1 on, into one of today's, one version at a time; see docs/job-format.md.
/// What is not as that version had it is left for the reader to refuse.
void migrate(Json& job, int version);

/// The newest version that a migration leads to.
int last_migrated();

/// One to each file from here on: a job of version 8 into one of version 9.
void from_version_8(Json& job);
void from_version_9(Json& job);
void from_version_13(Json& job);
void from_version_14(Json& job);
void from_version_17(Json& job);

/// What a new job of version 8 had: its standard, and of the car handling, grip and travel. Older versions begin what
/// they never asked with it.
const Json& blank_8();

} // namespace dervish::store
