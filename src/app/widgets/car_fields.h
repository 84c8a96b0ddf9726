#pragma once
#include "app/document.h"

/// The numbers of the car and of what is fitted to it, wherever the job keeps them.
namespace dervish::app {

/// Where a number of an axle's springs, dampers, tyres or stand is edited: "springs/rate" at
/// "fitted/front/springs/rate" while Fitted is looked at, which corrects the part wherever it stands; at
/// "trial/front/springs/rate" while Trial is, which draws up Trial's own. What is measured is what is there: while
/// measuring, a part that Trial shares with Fitted is corrected.
QString on_axle(const Document& document, End end, const QString& key);

/// The same of what braces the frame.
QString brace_path(const Document& document);

/// A path of any setup as on_axle() has it; others as they are.
QString as_edited(const Document& document, const QString& path);

/// Whether the path is of the car as a person measures it round the car: of the vehicle, or of what on_axle() finds.
bool is_of_car(const QString& path);

/// The paths of an axle's numbers in walking order, those of what is fitted among them. `all`: with its linkage, its
/// travel, its tyres' figures and how its wheels stand, too.
QStringList axle_paths(const Document& document, End end, bool all);

/// The paths of an axle's tyres and wheels as they grip: what Balance shows.
QStringList grip_paths(const Document& document, End end);

} // namespace dervish::app
