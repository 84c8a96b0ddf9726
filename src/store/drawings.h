#pragma once
#include "core/job/job.h"
#include "core/units/units.h"
#include "store/archive.h"

#include <string>

/// Drawings in open formats: the sheets by which a bar and a link are made, and the pictures of a report.
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

/// A link as it is made, in mm, 1 : `scale`: from eye to eye with its lengths, what is cut, its threads and the order
/// of its parts. `head` as book::link_build(), whose errors it has.
std::string link_svg(const job::LinkData& links, double head, units::System system, double scale = 2);
/// Its line and its two eyes as DXF, as bar_dxf(): the left link along x.
std::string link_dxf(const job::LinkData& links);

/// What was read of a test's first channel, run by run, before the band in which it was predicted.
std::string test_svg(const job::PlannedTest& test, units::System system);

/// The picture of a report by its name (say::report): "front bar", "rear bar", "test 3". Empty where there is none.
std::string drawing(const job::Job& job, const std::string& name, units::System system);

/// What a photograph is by its content, whatever it is called: "png", "jpeg", "webp" or "tiff". Empty for anything
/// else, which is never decoded: a drawing in SVG could name files of this machine.
std::string picture_kind(std::string_view bytes);

/// HTML whose pictures ("drawing:front bar", "attached:photo.jpg") stand in it whole, as data, so that the page is one
/// file; of an attached file that is not there, its name.
std::string with_pictures(const std::string& html, const job::Job& job, const Members& attached, units::System system);

} // namespace dervish::store
