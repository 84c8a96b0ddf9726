#pragma once
#include "core/job/job.h"

#include <optional>
#include <vector>

/// What one setup has otherwise than another, lot by lot: each could be changed on the car alone.
namespace dervish::study {
using namespace job;

enum class Lot {
    Bar, ///< with its mounts, links and eyes: a bar and links that do not belong together are no car
    Springs,
    Dampers,
    Tyres,
    Stand, ///< pressures, camber, toe, height, differential
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

/// `base` with that lot of `other`. Example: with(fitted, trial, differences(fitted, trial)[0]).
Setup with(Setup base, const Setup& other, const Difference& difference);

} // namespace dervish::study
