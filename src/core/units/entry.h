#pragma once
#include "core/units/units.h"

#include <functional>
#include <vector>

/// The one grammar for numbers that a person types:
///
///     entry    = [">"] reading {";" reading}
///     reading  = product {("+" | "-") product}
///     product  = factor {"*" factor}
///     factor   = (number | "(" reading ")") [unit]
///     number   = 26.5 | 26,5 | 1 582,5 | 1/2 | 10 3/4
///
/// with spaces, digits and signs of any script, and any unit of the quantity whatever the window's unit.
///
///     read_entry("1 1/16 in", Quantity::Length, System::Metric).values[0]  ->  0.0269875
namespace dervish::units {

struct Entry {
    std::vector<double> values; ///< SI, one a reading
    bool more_than = false;     ///< began with ">"
};

/// Reads `text`; a number without a unit is in the shown unit of `system`. Throws BadInput with an empty place for text
/// that is no entry, a unit of another quantity, a result that is not finite, and for text that can be read in two
/// ways, which are then told. `fits` says whether a value, in SI, can be: of two readings of "1,582" the one that can
/// is taken.
Entry read_entry(
    std::string_view text, Quantity quantity, System system,
    const std::function<bool(double)>& fits = [](double) { return true; });

/// "a length", as errors name it.
const char* name_of(Quantity quantity);

} // namespace dervish::units
