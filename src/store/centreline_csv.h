#pragma once
#include "core/bar/centreline.h"
#include "core/job/job.h"

namespace dervish::store {

/// A bar's centreline as a table: one line a point, left to right, lengths in mm, `at` = bend, eye or end. The diameter
/// and wall (0: solid) are those of the stretch that follows. What read_centreline takes back.
std::string centreline_csv(const bar::Laid& laid);

/// The points of such a table; columns may come in any order, `bend_radius_mm`, `outer_diameter_mm`, `wall_mm` and `at`
/// may be missing. Comma or semicolon between, decimal point (or comma after semicolons). Values count as measured.
/// Throws BadInput at "line 4" for what cannot be read.
std::vector<job::PointData> read_centreline(const std::string& csv);

} // namespace dervish::store
