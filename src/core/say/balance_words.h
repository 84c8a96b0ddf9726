#pragma once
#include "core/study/balance.h"
#include "core/study/means.h"

namespace dervish::say {
using namespace study;

/// "Front gives up first at 0.81 g; rear has 4 % left"; of a right turn, "at 0.81 g in right turns".
std::string sentence(const balance::Limit& limit);

/// "At 0.36 g sideways it pulls up to 0.34 g, then the front left spins".
std::string words_of(const balance::Pull& pull, double lateral);
/// A bar times a factor of what it is: "none", "× 0.5", "rigid".
std::string times_now(double factor);
/// What to keep in mind of these figures: stops reached on the way to the limit and from what on, a lean beyond what
/// ride height's geometry describes, unlike tyres, no understeer gradient. Empty: nothing.
std::vector<std::string> validity(const BalanceFigures& figures);

/// What the turn that holds more does, where the two differ by over 0.005 g.
std::optional<std::string> other_turn(const BalanceFigures& figures);

/// What a school of tuners goes by, and why: "understeer at 0.3 g".
struct SchoolWords {
    const char *name, *reason;
};
SchoolWords words_of(School school);

/// What a means changes, "front bar", "Water tank, further back"; and to what: "× 0.62", "−2.1°", or why not.
std::string words_of(const Means& means, const Vehicle& vehicle);
std::string answer_of(const Means& means, units::System system);

} // namespace dervish::say
