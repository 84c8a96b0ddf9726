#pragma once
#include "core/edit/edits.h"
#include "core/job/fields.h"
#include "store/job_file.h"

namespace dervish::store {

/// Every figure and sentence that the core has for Trial of the job, a line each in a fixed order: "name<tab>numbers",
/// SI, or "name: words". A question that the job cannot answer is a line with its error.
std::string answers(const job::Job& job);

/// How a few hundred typed texts are read, in every quantity and system of units.
std::string typed_answers();

} // namespace dervish::store
