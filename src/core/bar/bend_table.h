#pragma once
#include "core/bar/centreline.h"

namespace dervish::bar {

/// A bend as a bender makes it, from one end of the bar on: this much straight before it, turned about the bar against
/// the plane of the bend before, bent by an angle over a radius. Spring-back is the bender's to add.
struct Bend {
    double straight; ///< to where the bend begins, m
    double turn;     ///< of the bend's plane against the last one's, right-handed along the bar, rad; the first: 0
    double angle;    ///< rad
    double radius;   ///< to the bar's middle, m; 0: sharp, which no bender makes
    double arc;      ///< along the bar's middle, m
};
struct BendTable {
    std::vector<Bend> bends;
    double last_straight = 0; ///< after the last bend, m
    double cut_length = 0;    ///< along the bar's middle, m
};

/// Of a centreline in space, from its first point. Corners straighter than a thousandth of a degree are none. Throws
/// BadInput as cut() where a bend does not fit. Example: bend_table(lay(shape).line).cut_length.
BendTable bend_table(const Centreline& line);

} // namespace dervish::bar
