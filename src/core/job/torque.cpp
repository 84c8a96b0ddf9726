#include "core/job/torque.h"

#include "core/num/bad_input.h"

#include <cmath>

namespace dervish::job {

double wrench_setting(const Torque& t) {
    if (!(t.moment > 0 && t.moment <= 2000)) throw BadInput("moment", "no torque of a chassis", "up to 2000 N·m");
    if (!(t.wrench >= 0 && t.wrench <= 3)) throw BadInput("wrench", "no length of a wrench", "0 (no adapter) to 3 m");
    if (!(t.adapter >= 0 && t.adapter <= 1)) throw BadInput("adapter", "no length of an adapter", "0 to 1 m");
    if (t.adapter == 0) return t.moment;
    if (t.wrench == 0) throw BadInput("wrench", "not given", "the length of the wrench, to correct for the adapter");
    const double arm = t.wrench + t.adapter * std::cos(t.angle);
    if (!(arm > 0.2 * t.wrench))
        throw BadInput("angle", "the adapter lies back along the wrench", "0 in line to 90° across");
    return t.moment * t.wrench / arm;
}

void check_fastener(const Torque& t) {
    const auto nothing_in = [](const std::string& words) { return words.find_first_not_of(" \t\n") == words.npos; };
    if (nothing_in(t.of)) throw BadInput("of", "nothing is named", "what is tightened");
    if (t.count < 0 || t.count > 200) throw BadInput("count", "no number of them", "0 (not said) to 200");
    if (t.moment == 0) {
        if (nothing_in(t.size))
            throw BadInput("moment", "neither a torque nor a spanner's size", "one of them, or both");
        return;
    }
    if (nothing_in(t.source))
        throw BadInput("source", "not said where it stands", "the maker's book and page, or the part's sheet");
    (void)wrench_setting(t);
}

} // namespace dervish::job
