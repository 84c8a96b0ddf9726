#pragma once
#include "core/bar/centreline.h"
#include "core/terms/terms.h"

namespace dervish::bar {

/// One step along a bar as it lies on a bench: on by `length`, measured from corner to corner, then what is there.
struct Step {
    double length;       ///< m
    double bend = 0;     ///< how far the bar turns at the end of the step, rad
    double plane = 0;    ///< which way: 0 towards the rear, 90° upwards, 180° forwards, seen along the bar, rad
    double radius = 0;   ///< of that bend, to the bar's middle, m; 0: sharp
    Section section;     ///< of this step
    double taper_to = 0; ///< outer diameter at its end, m; 0: even
    Mark mark = Mark::Bend;
};

/// Walks from the bar's middle to its left end and mirrors it; mounts sit where the bar passes ± mount_spacing/2 to the
/// sides (0: none). Throws BadInput at "walk/3/length", ".../radius", ".../mark" or "mount_spacing" for a walk that
/// cannot be: a bend tighter than the bar, mounts on the arm, an eye on the wrong side, a bar that crosses itself.
/// Example: walk({{.length = 0.5, .bend = 1.57, .section = r}, {.length = 0.25, .section = r, .mark = Mark::Eye}},
/// 0.8).
Laid walk(const std::vector<Step>& steps, double mount_spacing);

/// The walk along the left half of a symmetric bar as laid: walk(to_walk(laid), its mount spacing) is the same bar.
std::vector<Step> to_walk(const Laid& laid);

/// Where each step of a walk ends, on the left half; for pointing at one.
std::vector<Eigen::Vector3d> corners(const std::vector<Step>& steps);

/// A point of a whole bar, left to right, with the section that follows it.
struct Spot {
    Eigen::Vector3d place;
    double radius = 0;
    Section section;
    Mark mark = Mark::Bend;
};

/// The same from points, which need not be symmetric. Eyes left of the middle are the left ones. Throws BadInput at
/// "points/3/radius" as walk().
Laid through(const std::vector<Spot>& spots, double mount_spacing);

} // namespace dervish::bar
