#pragma once
#include "core/job/job.h"

/// How long a job takes by the shop's own record.
namespace dervish::book {
using namespace job;

/// From the sheets that were ticked before and whose minutes were said.
struct Minutes {
    double least, most;
    int sheets;
};
/// Of a sheet with these steps: of each earlier sheet that shares at least half of all steps of the two, its minutes
/// times how many more steps this one has. Nothing where the book has none.
/// Example: minutes_of(job, {"stands", "front/links off", "front/links on"}).
std::optional<Minutes> minutes_of(const Job& job, const std::vector<std::string>& steps);

} // namespace dervish::book
