#pragma once
#include "core/book/shelf.h"
#include "core/book/upkeep.h"

/// The book in words.
namespace dervish::say {
using namespace job;

std::string words_of(EntryKind kind); ///< "found so"
std::string words_of(Wears use);      ///< "a day of rocks"
std::string words_of(Whereabouts at); ///< "drawn up"
/// What is looked at on a used part: "straight on a flat table".
const char* look_words(int which);

/// "front mounts, rubber, as delivered": what a thing is, by its place where it is on the car.
std::string words_of(const book::Thing& thing);
/// "on the car", "on the shelf; one thing bad".
std::string standing_words(const book::Thing& thing);

/// "41 200 km"; empty for a distance that nobody said.
std::string distance_words(double metres, units::System system);
/// "42 days", "8 months", "2 years".
std::string time_words(double days);

/// "4,200 km without the rear bar"; in days where the clock was not read.
std::string words_of(const Job& job, const book::Gap& gap, units::System system);

/// "front links"; empty: nothing single.
std::string place_words(const Upkeep& upkeep);
/// "every 10,000 km, every year, after each day of water".
std::string interval_words(const Upkeep& upkeep, units::System system);
/// "in 400 km", "overdue by 12 days", "due: a day of rocks lies behind it".
std::string words_of(const Job& job, const book::Due& due, units::System system);

/// "41,200 to 43,900 km · 2031-04-02 to 2031-09-12 · 5 setups, 7 tests, 4 decisions, 2 failures".
std::string story_words(const Job& job, const std::vector<book::Moment>& all, units::System system);

/// The tests whose first reading was wrong, agreed or could not tell: the worst of a test's states.
proof::Agreement agreement_of_all(const PlannedTest& test);

} // namespace dervish::say
