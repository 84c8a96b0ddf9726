#pragma once
#include "core/job/job.h"

#include <string_view>

/// What a job may hold at most: entry, reader and writer all ask here, so that what one of them takes the others do.
/// Thread-safe; a check walks the whole job once, about a millisecond for a book of twenty years.
namespace dervish::job {

/// Bytes of the text at a key of the description: a name is short, what is told is as long as a person writes.
std::size_t longest_text(std::string_view key);
/// Bytes of any text in a file: one from before names had a length is still opened.
inline constexpr std::size_t longest_in_file = 100'000;
/// Entries of the list at a key: of loads and torques, whose number is felt in every sum, as many as a car could have.
std::size_t most_entries(std::string_view key);
/// The largest plain number (one that is no field with a range of its own) of a quantity, SI, to both sides.
double most_of(units::Quantity quantity);
bool is_spread(std::string_view key); ///< a plain number that is a spread, and not below 0
inline constexpr int lowest_index = -1, highest_index = 20'000;

/// Throws BadInput with the place ("book/3/reason", "vehicle/loads") at the first thing of `job` that is beyond these
/// limits, or not a number. With `before`: what was beyond them in it already may stay.
void check_limits(const Job& job, const Job* before = nullptr);

} // namespace dervish::job
