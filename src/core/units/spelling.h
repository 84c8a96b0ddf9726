#pragma once
#include "core/units/units.h"

#include <vector>

/// How units, digits and signs are written, for the grammar of entry.h.
namespace dervish::units {

/// A unit as it may be spelled. A spelling may serve for several quantities: "lb" is a mass and a force.
struct Named {
    std::string spelling; ///< without spaces
    Quantity quantity;
    double factor; ///< SI
};

/// Every unit that may stand behind a number, the longest spellings first.
const std::vector<Named>& named_units();

/// `text` with every space as ' ', every digit and sign in ASCII, and "½" as " 1/2"; what has no meaning here stays.
std::string plain(std::string_view text);

} // namespace dervish::units
