#pragma once
#include "core/study/choices.h"
#include "core/sure/bands.h"

namespace dervish::say {
using namespace sure;

/// How a 90 % band reads beside its value, both in the unit shown: "± 6.3", or "−9.7 +4.6" where one side is over a
/// quarter wider than the other. A band that is even only because it was not drawn yet, of a figure that is always
/// `positive` and more than a quarter of it, reads in its logarithm. Empty where there is none.
std::string band_text(double value, Sides band, int decimals, bool positive = true);

/// A bar below this, as a model's, is a wire. m.
inline constexpr double thickest_wire = 6e-3;
/// The step of a diameter that a person thinks in, m: 1 mm or 1/32 in, of a wire 0.1 mm or 0.005 in.
double diameter_step(double diameter, units::System system);

/// "diameter + 1 mm", "next eye in", "urethane bushes".
std::string words_of(const Worth& worth, units::System system);

/// In place of an empty list of equal_rate_tubes().
inline constexpr const char* no_tube_words = "None of these walls is as stiff and goes round its bends.";

/// Why the hand formulas differ from the frame, by this bar's own ledger. Empty for a clamped bar, which has none.
std::string why_sums_differ(const BarFigures& figures);

} // namespace dervish::say
