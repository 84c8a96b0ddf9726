#pragma once
#include "core/book/link_change.h"
#include "core/book/minutes.h"
#include "core/study/difference.h"
#include "core/units/units.h"

/// The sheet under the car: what is done, in the order in which it is done, to bring one setup to another.
namespace dervish::say {
using namespace job;

/// A number that is read on the way and goes into the set-up checks.
struct SheetReading {
    End end;
    std::optional<double> SetupChecks::*value;
    FieldSpec spec;
    std::optional<double> wanted; ///< SI; nothing: what is found
};

struct SheetStep {
    std::string key;                ///< "front/off": stays the same while the setups do
    std::string title;              ///< what to do
    std::vector<std::string> lines; ///< how, how much, which way
    std::string caution;            ///< where it can hurt; empty: none beyond the sheet's own
    std::vector<SheetReading> readings;
};

struct JobSheet {
    std::string from, to;
    std::vector<std::string> cautions{}; ///< of the car as it will be
    std::vector<std::string> needs;      ///< stands, fasteners counted, spanners, the time it took before
    std::vector<SheetStep> steps;
    std::vector<std::string> back; ///< how the car goes back to what it was
};

/// Empty where nothing differs. Only what was typed with its source is told of torques; lifting points, permissions and
/// what the maker wants are not Dervish's to say, and the sheet says so where they are needed.
/// `shop`: what other jobs took (store::shop_record), beside this job's book.
JobSheet job_sheet(const Job& job, const Setup& from, const Setup& to, units::System system,
                   const std::vector<book::Took>& shop = {});

/// The same on paper: HTML with a box before each step, ticked where it is done, torques, cautions, and the way back.
std::string job_sheet_html(const Job& job, const JobSheet& sheet, units::System system,
                           const std::vector<std::string>& steps_done = {});

/// How much work it is: "11 steps, about 165 minutes by 1 sheet like it"; "2 steps" where no time of such a job is
/// known.
std::string work_words(const Job& job, const Setup& from, const Setup& to, const std::vector<book::Took>& shop = {});

/// "2 1/2 turns": to a quarter, since nobody turns a link finer by hand.
std::string turns_words(double turns);

} // namespace dervish::say
