#pragma once
#include "core/sure/bands.h"

namespace dervish::say {
using namespace sure;

/// How a 90 % band reads beside its value, both in the unit shown: "± 6.3", or "−9.7 +4.6" where one side is over a
/// quarter wider than the other. A band that is even only because it was not drawn yet, of a figure that is always
/// `positive` and more than a quarter of it, reads in its logarithm. Empty where there is none.
std::string band_text(double value, Sides band, int decimals, bool positive = true);

/// Why the hand formulas differ from the frame, by this bar's own ledger. Empty for a clamped bar, which has none.
std::string why_sums_differ(const BarFigures& figures);

} // namespace dervish::say
