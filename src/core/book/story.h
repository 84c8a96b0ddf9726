#pragma once
#include "core/job/dates.h"
#include "core/proof/verdict.h"

#include <string>
#include <vector>

/// The car's story as the book has it: what stood when, what happened, in the order of time. docs/model.md, "Book".
namespace dervish::book {
using namespace job;

enum class Lane { Fitted, Tests, Decided, Broke, Upkeep, Notes };
inline constexpr int lane_count = 6;
/// Among notes: what was removed, and a line of what is fitted that does not tell how the car stands (struck out, or of
/// an older file).
Lane lane_of(const Entry& entry);

/// Something that happened: an entry of the book or a test. A day or a distance that nobody said lies between those of
/// its neighbours in time (a straight line between what is known), or where the nearest known one is.
struct Moment {
    Lane lane;
    int entry = -1, test = -1;                    ///< its place in the job's list; the other is -1
    double day = 0;                               ///< since 1970
    double odometer = 0;                          ///< m
    bool day_said = false, odometer_said = false; ///< a line that was struck out says no distance
    bool struck = false;
};
/// In the order of days, those of one day as they happened: entries as they stand in the job, how the car was first
/// found before all, a test before the lines that were written after it was planned.
std::vector<Moment> moments(const Job& job);

/// Up to where the story goes: today, and the distance driven.
struct Now {
    double day, odometer;
};
/// The furthest of what the book has that was not struck out, and `today` (2026-11-27) where that is later.
Now now_of(const std::vector<Moment>& all, const std::string& today = {});

/// One setup on the car, from its entry to the next.
struct Span {
    int entry;
    double day, day_end, odometer, odometer_end;
    std::string name;
};
/// Of entries that tell how the car stands and were not struck out; the last ends `now`.
std::vector<Span> spans(const Job& job, const std::vector<Moment>& all, const Now& now);

/// A stretch in which the car ran without what it has at other times, or with something broken.
struct Gap {
    enum class What { WithoutBar, Broken } what;
    End end = End::Front; ///< of WithoutBar
    int entry;            ///< that it begins with (of Broken: that tells it)
    double day, day_end, odometer, odometer_end;
};
std::vector<Gap> gaps(const Job& job, const std::vector<Moment>& all, const Now& now);

/// The entry that tells how the car stood at this place of moments(); -1: none does.
int stood_by(const Job& job, const std::vector<Moment>& all, std::size_t moment);

/// What is looked for. Empty: everything.
struct Wanted {
    std::string words;  ///< each of them somewhere in the entry or test, whatever the case
    std::string part;   ///< id
    std::string person; ///< as in words
};
bool is_wanted(const Job& job, const Moment& moment, const Wanted& wanted);

/// Everybody who is named in the book, in tests and among people, each once, as written first.
std::vector<std::string> people_of(const Job& job);

} // namespace dervish::book
