#include "core/book/link_change.h"

#include "core/study/links.h"

#include <cmath>

namespace dervish::book {

LinkChange link_change(const LinkData& from, const LinkData& to, bool right) {
    const auto length = [&](const LinkData& l) { return l.length.value + (right ? l.right_longer.value : 0); };
    LinkChange out{length(from), length(to)};
    // A length tried on Trial draws the links up anew, under an id of their own: the same links, longer.
    LinkData same = to;
    static_cast<Part&>(same) = from;
    same.length = from.length;
    same.right_longer = from.right_longer;
    if (!(same == from) || out.from == out.to) return out;
    // What it says of its thread is measured at the length of before.
    const auto thread = study::thread_of(from, out.from);
    if (!thread || !(thread->pitch > 0)) return out;
    out.by_thread = true;
    out.opposite = thread->opposite;
    out.turns = thread->turns_to(out.to);
    out.reaches = thread->reaches(out.to);
    return out;
}

} // namespace dervish::book
