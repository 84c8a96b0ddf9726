#pragma once
#include "core/book/story.h"

/// What is to be done again and again, and when it is due.
namespace dervish::book {

enum class When { Later, Soon, Due }; ///< soon: within a tenth of the interval

struct Due {
    std::size_t upkeep = 0; ///< its place in the job's list
    When when = When::Later;
    std::optional<double> metres, days; ///< left until it is due by distance, by time; below 0: overdue
    bool by_use = false;                ///< a day of the use after which it is due lies behind
    int last = -1;                      ///< entry by which it was done last
};
/// Of every upkeep in the job's order, at a day and a distance. Done by the last service of its id that was not struck
/// out, else counted from where it began.
std::vector<Due> due(const Job& job, const Now& now);

/// How many are due.
int count_due(const std::vector<Due>& all);

/// The usual upkeep of the parts that are on the car, of our own guess: the maker's book goes before it. From `now` on.
/// Ids are fresh in `job`.
std::vector<Upkeep> usual_upkeep(const Job& job, const Now& now);

/// An id that no upkeep of the job and of its book has: "upkeep-4".
std::string fresh_upkeep_id(const Job& job);

} // namespace dervish::book
