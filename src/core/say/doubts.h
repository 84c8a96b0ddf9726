#pragma once
#include "core/job/job.h"

/// Values that can be, and look like one of the usual mistakes: asked about beside their field, never changed.
namespace dervish::say {
using namespace job;

struct Doubt {
    std::string path;  ///< of the field
    std::string words; ///< what it may be, as a question
};

/// A motion ratio upside down; links as far apart as the wheels; an arm measured along itself; scales of one side
/// swapped; inches, pounds and pounds an inch in place of mm, N and N/mm; a wall too thin for its bend. Of the vehicle
/// and of both setups. Sizes are judged against the car's own mass and wheelbase, so that a model car is no mistake.
std::vector<Doubt> doubts(const Job& job);

} // namespace dervish::say
