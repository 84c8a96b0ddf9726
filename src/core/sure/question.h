#pragma once
#include "core/study/assess.h"

#include <functional>
#include <vector>

namespace dervish::sure {
using namespace study;

/// Whether any figure of a car can follow from the field at `path`: not from places to keep clear of, plans, threads,
/// what parts may bear; of tyres and what stands on the car only where a limit is asked for.
bool bears_on_outcomes(const std::string& path);

/// A car that is asked.
struct Asked {
    const Vehicle& vehicle;
    const Setup& setup;
    double bar_scale = 1;     ///< times the bars' stiffness
    double part = 1;          ///< of a spread by which it differs from the first car; below 1: for a derivative
    PerWheel<double> stuck{}; ///< how friction holds it at rest: Axle::stuck
};
/// The same car as friction holds it.
car::Car stuck(car::Car car, const PerWheel<double>& by);

/// What is asked of a car and how its answers are called. The car itself is asked first, cars that differ little from
/// it afterwards: these may be answered from near it.
struct Question {
    std::vector<OutcomeName> names;
    /// One number a name, SI; NaN or infinite where the car has no such figure. None at all where a part of a spread
    /// says nothing of the whole (a stop is reached in between): the whole is asked for then. Throws BadInput.
    std::function<std::vector<double>(const Asked&)> ask;
    std::function<bool(const std::string& path)> bears = bears_on_outcomes; ///< which inputs count
    double part = 1;                                                        ///< of a spread by which propagate() steps
    /// Where answers are dear: cheap figures through which inputs reach them. An input that moves each of these by less
    /// than a thirtieth of what all inputs together move it is not asked. Nothing here: every input is.
    std::function<std::vector<double>(const Asked&)> screen{};
    bool at_rest = false; ///< of a car that stands: friction of its suspension bears
};

} // namespace dervish::sure
