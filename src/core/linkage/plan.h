#pragma once
#include "core/linkage/linkage.h"
#include "core/terms/terms.h"

/// Lengths of links: what they have to be, and how a thread gets there. docs/model.md, "Planning a link".
namespace dervish::linkage {

/// Where the car is to stand and how far its wheels then hang, as travels of both wheels from the ride height at which
/// the linkage was measured, m. A car lifted 40 mm by its springs rides at −0.04.
struct Stance {
    double ride = 0;
    double droop = 0; ///< positive down: hanging is at −droop
};

/// A length and what it brings.
struct Length {
    double length;     ///< m
    double attitude;   ///< of the arm at ride height, rad, eye up positive
    double off_square; ///< at full droop of both wheels, rad; a quarter turn: over centre
};

/// What a length brings; nothing where it does not reach at ride height.
std::optional<Length> with_length(const BarEnd& end, double length, const Stance& stance);

/// The length that levels the arm at a travel of both wheels from ride height.
/// Example: level_length(end, -0.04) is what a 40 mm lift asks for.
std::optional<double> level_length(const BarEnd& end, double travel = 0);

/// The length nearest to the level one that keeps the link `off_square` or squarer at full droop, to 0.01 mm; nothing
/// within 150 mm.
std::optional<Length> length_for_droop(const BarEnd& end, const Stance& stance, double off_square);

/// How far the mounts would have to move (forward, outward) to bring the link of a level bar upright, m.
struct Shift {
    double forward, outward;
};
Shift mounts_for_upright(const BarEnd& end);

/// A link's thread.
struct Thread {
    bool opposite;           ///< a buckle with a left and a right thread: both ends move with each turn
    double pitch, diameter;  ///< m
    double engaged;          ///< of each end, at `length`, m
    double length, shortest; ///< centre to centre, m
    double per_turn() const { return opposite ? 2 * pitch : pitch; }
    /// 1.5 diameters stay in: less may pull out.
    double least_engaged() const { return 1.5 * diameter; }
    double longest() const { return length + (opposite ? 2 : 1) * (engaged - least_engaged()); }
    double turns_to(double wanted) const { return (wanted - length) / per_turn(); }
    bool reaches(double wanted) const { return wanted >= shortest && wanted <= longest(); }
};

/// Left/right lift check. One side is lifted until the other side's arm just starts to move, read at the same contact
/// point on each side.
struct LiftFound {
    double right_longer; ///< than the left link, m
    double slack;        ///< of the joints, along the links, from the middle of their play to its end, m
    double left_change;  ///< to the left link; the right one gets as much the other way, so that the bar stays level, m
};

/// `left` is the reading with the left side lifted. Along the links: left = slack + mismatch, right = slack − mismatch
/// for links that stand below their eyes, the other way round above. `link_per_contact`: link travel per rise at the
/// contact point. What holds the other side back adds to both alike.
LiftFound lift_found(double left, double right, double link_per_contact, bool links_below);

/// The two readings that a mismatch and slack would give; for drawing them up and for tests.
PerSide<double> lift_readings(double right_longer, double slack, double link_per_contact, bool links_below);

} // namespace dervish::linkage
