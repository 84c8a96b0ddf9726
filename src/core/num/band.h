#pragma once

/// Bands, and the chances that go with them.
namespace dervish {

/// Bands shown are 90 %: this many sigma to each side.
inline constexpr double band_90 = 1.6448536269514722;

/// The same of a sigma that `freedom` (1 or more) readings beyond the first ones tell: Student's t.
double student_90(double freedom);

/// That chance alone makes a sum of squares of `freedom` readings, each by its sigma, at least this large. 0 above 1e6
/// and of what is no number.
double chance_of_chi(double chi_squared, double freedom);

/// That a normal figure lies below z sigma.
double normal_below(double z);

} // namespace dervish
