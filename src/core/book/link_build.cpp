#include "core/book/link_build.h"

#include "core/linkage/plan.h"

#include <algorithm>

namespace dervish::book {

LinkBuild link_build(const LinkData& l, double head) {
    LinkBuild out{};
    out.left = l.length.value;
    out.right = l.length.value + l.right_longer.value;
    out.threads = l.adjust == Adjust::Opposite ? 2 : l.adjust == Adjust::OneEnd ? 1 : 0;
    if (!(head >= 0 && head < 0.5)) throw BadInput("head", "no size of a joint", "0 (not known) to 500 mm");
    const double longer = std::max(out.left, out.right), shorter = std::min(out.left, out.right);
    if (out.threads > 0) {
        out.out = (longer - l.shortest.value) / out.threads;
        linkage::Thread thread{};
        thread.diameter = l.thread.value;
        out.thread_each = out.out + thread.least_engaged();
        out.possible = shorter >= l.shortest.value;
    }
    if (head > 0) {
        out.cut = out.threads > 0 ? l.shortest.value - out.threads * head : shorter - 2 * head;
        if (*out.cut <= 0)
            throw BadInput("head", "two joints of that size leave nothing between them",
                           "what it measures from its centre to its shoulder");
    }
    switch (l.adjust) {
    case Adjust::Opposite:
        out.order = {"joint with a right-hand thread", "right-hand lock nut",
                     "body, tapped right-hand at this end and left-hand at the other", "left-hand lock nut",
                     "joint with a left-hand thread"};
        break;
    case Adjust::OneEnd:
        out.order = {"eye that belongs to the body", "body, tapped at its other end", "lock nut",
                     "joint, its thread by the maker's word right-hand or left-hand"};
        break;
    case Adjust::No:
        out.order = {"eye or joint", "rod, without a thread to turn", "eye or joint"};
        break;
    }
    return out;
}

} // namespace dervish::book
