#pragma once
#include "core/bar/section.h"

namespace dervish::bar {

/// A plain U bar as the hand formulas see it: half the length between the arms' planes, arm length, distance of a mount
/// from the middle. m.
struct PlainU {
    double half_length, arm, mount;
};

/// Roll-mode rate at the eye when only the centre twists: G J / (a² H). N/m.
/// Source: twist of a shaft, 1/k = a² H/GJ (physics of any strength-of-materials text, e.g. Timoshenko I, ch. 11).
double twist_only_rate(const PlainU& u, const SectionConstants& c, const Material& m);

/// Roll-mode rate at the eye with twist, arm bending and centre bending: 1/k = a² H/GJ + a³/3EI + c² H/3EI with
/// c = H − mount; rigid mounts, no shear, arms square to the centre. N/m. Source: Castigliano on the U.
/// Example: textbook_rate({0.5, 0.25, 0.4}, constants(Round{0.024}, {}), {}).
double textbook_rate(const PlainU& u, const SectionConstants& c, const Material& m);

} // namespace dervish::bar
