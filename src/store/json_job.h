#pragma once
#include "core/job/job.h"
#include "core/model/check.h"

#include <array>
#include <nlohmann/json.hpp>

namespace dervish::store {

using Json = nlohmann::ordered_json;

/// The format's version that this program writes: the newest that the description or a migration tells of. Older ones
/// are migrated on reading.
int job_version();

/// What the file calls the units that a draft was typed in, by units::System.
inline constexpr std::array<const char*, 3> unit_systems{"metric", "inch", "inch_metric_rates"};

/// What the file calls where a number is from, by job::Source.
inline constexpr std::array<const char*, 3> sources{"measured", "quoted", "assumed"};

/// The job as docs/job-format.md has it.
Json to_json(const job::Job& job);

/// Reads and checks the shape of a job of any known version. Throws BadInput with the place in the file for anything
/// missing, unknown, of the wrong type or not finite. Values are not judged here: model::check does that.
job::Job from_json(Json json);

/// The JSON schema of the format, made from the same description that reads and writes it.
Json schema();

} // namespace dervish::store
