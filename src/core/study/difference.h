#pragma once
#include "core/job/job.h"

#include <optional>
#include <vector>

/// What one setup has otherwise than another, lot by lot: each could be changed on the car alone.
namespace dervish::study {
using namespace job;

enum class Lot {
    Bar,   ///< with its mounts and the eyes in use; with its links too where one has none, or holds it another way
    Links, ///< and whether they are on
    Eyes,  ///< of the same bar
    Springs,
    Dampers,
    Tyres,
    Height,
    Pressures, ///< and what the left tyre has over the right one
    Alignment, ///< camber and toe
    Clicks,
    Differential,
    Brace,
    BiasRatio,
    Aboard,
    StabilityAid
};
struct Difference {
    Lot lot;
    std::optional<End> end; ///< nothing: of the whole car
    bool operator==(const Difference&) const = default;
};

/// In the order of Lot, front first; the names of the setups are none.
std::vector<Difference> differences(const Setup& one, const Setup& other);

/// `base` with that lot of `other`; alone it may be no car (a bar whose links do not reach). Example: with(fitted, trial, differences(fitted, trial)[0]).
Setup with(Setup base, const Setup& other, const Difference& difference);

} // namespace dervish::study
