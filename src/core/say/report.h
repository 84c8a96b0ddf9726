#pragma once
#include "core/book/upkeep.h"
#include "core/sure/compare.h"

/// Papers that a customer, a scrutineer or the next owner can read.
namespace dervish::say {
using namespace job;

enum class ReportOf {
    Job,  ///< complaint, car, figures with bands, what was measured, what was tried, tests, decisions, what to keep in
          ///< mind
    Test, ///< one test: how it was done, what was read, what it says
    Bar,  ///< both bars alone: sizes, rates, what they bear, how sure each number is
    Rules ///< what differs from the setup that is called the standard
};

/// What a shop may change: HTML with the places {{title}}, {{date}} and {{body}}, each at least once.
std::string usual_template();

/// The report as HTML, in the template; its pictures by their names, "drawing:front bar" and "attached:photo.jpg", for
/// who writes it to put there. `test`: which one, of ReportOf::Test. `today`: on which it is written. Throws
/// BadInput at "template" for one without its places, at "test" for one that is not there, and as assess().
std::string report(const Job& job, ReportOf of, int test, const std::string& today, units::System system,
                   const std::string& in_template);

} // namespace dervish::say
