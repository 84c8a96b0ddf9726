#pragma once
#include "core/job/job.h"
#include "core/units/units.h"

#include <string>

/// The sheet by which a bar is made, in open formats: from above and from behind, to scale, with the bends' table.
namespace dervish::store {

/// Two views of the bar's middle line in mm as SVG, 1 : `scale`, with its width, its arms and the bend table. Throws
/// BadInput inside the assembly for a bar that cannot be.
std::string bar_svg(const job::Assembly& assembly, units::System system, double scale = 5);

/// The same line in space as DXF (R12, mm; x to the right, y forward, z up): a polyline whose bends are parted finely,
/// on the layer "middle", and a point for each eye on the layer "eyes".
std::string bar_dxf(const job::Assembly& assembly);

/// The bends' table as CSV: straight_mm, turn_deg, bend_deg, radius_mm, arc_mm; the last line has the straight after
/// the last bend, and under it the cut length.
std::string bend_csv(const job::Assembly& assembly);

} // namespace dervish::store
