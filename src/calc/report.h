#pragma once
#include "core/job/balance.h"
#include "core/job/draws.h"
#include "store/json_job.h"

namespace dervish::calc {

/// The figures of a job as JSON; keys carry units. `setup` as in job::setup_named.
store::Json tally(const job::Job& job, const std::string& setup);
store::Json bar(const job::Job& job, const std::string& setup, const std::string& axle);
store::Json bands(const job::Job& job, const std::string& setup, int draws, unsigned seed);
store::Json links(const job::Job& job, const std::string& setup, const std::string& axle);
store::Json balance(const job::Job& job, const std::string& setup, balance::Ground ground);
store::Json diagonal(const job::Job& job, const std::string& setup, double highest);

} // namespace dervish::calc
