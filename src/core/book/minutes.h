#pragma once
#include "core/job/job.h"

/// How long a job takes by the shop's own record.
namespace dervish::book {
using namespace job;

/// A sheet that was ticked, and the minutes it took.
struct Took {
    std::string date;
    double minutes;
    std::vector<std::string> steps;
    bool operator==(const Took&) const = default;
};
/// Those that a job's book has, without what was struck out.
std::vector<Took> took(const Job& job);

struct Minutes {
    double least, most;
    int sheets;
};
/// Of a sheet with these steps: of each earlier sheet that shares at least half of all steps of the two, its minutes
/// times how many more steps this one has. Nothing where there is none. Example:
/// minutes_of(took(job), {"stands", "front/links off", "front/links on"}).
std::optional<Minutes> minutes_of(const std::vector<Took>& before, const std::vector<std::string>& steps);

} // namespace dervish::book
