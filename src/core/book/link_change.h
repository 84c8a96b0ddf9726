#pragma once
#include "core/job/job.h"

/// What the sheet under the car says of links.
namespace dervish::book {
using namespace job;

/// From one length of a link to another, centre to centre, m.
struct LinkChange {
    double from, to;
    bool by_thread = false; ///< the same link, with a thread to turn
    bool opposite = false;  ///< a buckle: its body is turned, both ends stay; else the joint is turned off its stud
    /// Turns of what is turned, longer positive. Of a buckle clockwise seen from its right-hand thread's end; of a
    /// joint with a right-hand thread anticlockwise seen from its eye.
    double turns = 0;
    bool reaches = true; ///< within what its thread holds
};
/// `right`: the right link. Links that differ in nothing but their length are turned, others are made up to it.
LinkChange link_change(const LinkData& from, const LinkData& to, bool right);

} // namespace dervish::book
