#pragma once
#include "core/study/use.h"
#include "core/sure/questions.h"

#include <string>

namespace dervish::say {
/// "hill sprint", and why such a car is set up so.
struct UseWords {
    const char* name;
    const char* reason;
};
UseWords words_of(job::Use use);

/// The pair of bars that a match has found and what it gains in the phase in which it gains the least, with its band
/// where that is known: "the bars as they are", "front × 2, rear none: +1.2 ± 1.5 %".
std::string words_of(const study::Match& match, const sure::PairBand* band = nullptr);
} // namespace dervish::say
