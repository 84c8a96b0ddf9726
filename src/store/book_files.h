#pragma once
#include "core/book/upkeep.h"
#include "core/units/units.h"

#include <string>

/// The book in open formats for whoever keeps it elsewhere.
namespace dervish::store {

/// A line an entry or test, in the order of time: date, km driven (empty: not said), what, words, person, parts, what
/// was noticed, driven so, struck out, written on. Distances in km whatever the window's units.
std::string book_csv(const job::Job& job);

/// What is due by date, and what is to be asked again, as all-day events of a calendar (iCalendar, RFC 5545). Upkeep
/// that is due by distance or use alone stands on the day of `now` once it is due. `stamp`: "20261127T120000Z".
std::string calendar(const job::Job& job, const book::Now& now, const std::string& stamp);

} // namespace dervish::store
