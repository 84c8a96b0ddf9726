#pragma once
#include "core/units/units.h"

namespace dervish::job {

/// Where a number comes from: read off the car, said by someone, or guessed.
enum class Source { Measured, Quoted, Assumed };

/// A quantity the user can measure: SI value, standard uncertainty in the same unit, and where it comes from.
struct Measured {
    double value = 0;
    double sigma = 0;
    Source source = Source::Assumed;
    bool operator==(const Measured&) const = default;
};

/// A place at ride height, from the bar's axis at the car's middle.
struct Spot {
    Measured behind, out, below;
    bool operator==(const Spot&) const = default;
};

/// What a field is measured with, which decides how sure a measured value is unless the user says otherwise. Test:
/// nobody takes it directly; it comes from a test, a paper or a sum.
enum class Tool { Calliper, Tape, AngleGauge, Scale, PressureGauge, Count, Test };

/// What a field is and what it accepts. `word` names a special value that is written as a word: "solid" for a wall of
/// 0.
struct FieldSpec {
    const char* key;
    const char* label;
    units::Quantity quantity;
    Tool tool;
    double lowest, highest; ///< SI, inclusive
    const char* hint = "";
    const char* word = nullptr;
    double word_value = 0;
};

/// Standard uncertainty by source: callipers 0.05 mm, tape 1.5 mm, angle gauge 0.2°, scale 0.5 %, pressure gauge 2 %,
/// what is counted none, a test 3 % and at least 3 mm or 0.3°; quoted 3 %, assumed 15 % (angles: 1° and 3°). A special
/// value has none.
double usual_sigma(const FieldSpec& spec, Source source, double value);
/// "callipers", "a tape"; of Test "a test".
const char* name_of(Tool tool);

} // namespace dervish::job
