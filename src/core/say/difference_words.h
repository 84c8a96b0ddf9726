#pragma once
#include "core/study/difference.h"
#include "core/sure/compare.h"
#include "core/units/units.h"

#include <string>

namespace dervish::say {
/// "Front bar", and what of it is otherwise: "24 mm solid → 26 mm tube; outer diameter 24 → 26 mm".
struct DifferenceWords {
    std::string name, detail;
};
/// How sure the sign of a change is: "surely", "probably", "cannot say".
std::string sure_words(const sure::Change& change);

DifferenceWords words_of(const study::Difference& difference, const job::Vehicle& vehicle, const job::Setup& before,
                         const job::Setup& after, units::System system);
} // namespace dervish::say
