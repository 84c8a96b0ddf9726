#pragma once

namespace dervish {

/// Bands shown are 90 %: this many sigma to each side.
inline constexpr double band_90 = 1.6448536269514722;

} // namespace dervish
