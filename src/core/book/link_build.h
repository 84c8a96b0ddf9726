#pragma once
#include "core/job/job.h"

/// What a link is made of, so that it can be made.
namespace dervish::book {
using namespace job;

/// Of a pair of links; lengths m.
struct LinkBuild {
    double left, right; ///< centre to centre
    int threads;        ///< joints that are screwed in, of each link
    /// What is cut: of a link with a buckle its body, of one with a joint at one end from the other eye's centre, of
    /// one without a thread from end to end between its eyes. Nothing where a joint's `head` is not given.
    std::optional<double> cut;
    double out = 0;                 ///< of thread at each joint in the longer link, beyond screwed right in
    double thread_each = 0;         ///< that each joint needs: that, and 1.5 diameters that stay in
    bool possible = true;           ///< not shorter than screwed right in
    std::vector<std::string> order; ///< from one eye to the other
};
/// `head`: from a joint's centre to the shoulder with which it meets the body, or to the end of what is welded to it,
/// m, as its maker gives it; 0: not known. Throws BadInput at "head" below 0 or where nothing is left to cut.
/// Example: link_build(job.fitted.front.links, 0.028).cut.
LinkBuild link_build(const LinkData& links, double head);

} // namespace dervish::book
