#include "core/model/stand.h"

#include <algorithm>

namespace dervish::model {

Raised raised(const StandData& s) {
    return s.lift_by == LiftBy::Tyres ? Raised{0, s.lift.value} : Raised{s.lift.value, 0};
}

StopGaps stop_gaps(const AxleSetup& setup, const AxleData& axle) {
    const TravelData& t = axle.travel;
    const double lift = raised(setup.stand).body, by_springs = setup.stand.lift_by == LiftBy::Springs ? lift : 0;
    const auto given = [](const Measured& m, double by) {
        return m.value > 0 ? std::optional(m.value + by) : std::nullopt;
    };
    const double droop = setup.dampers.droop_gap.value - by_springs;
    const std::optional<double> strap = given(t.strap, -lift); // straps, hoses and arches are the body's
    const bool strapped = strap && *strap < droop;
    const StopGaps out{axle.bump_gap.value + by_springs, strapped ? *strap : droop, strapped, given(t.hose, -lift),
                       given(t.body, lift)};
    if (setup.stand.lift.value != 0 && !(out.droop > 0))
        throw BadInput("stand/lift",
                       std::string("lifted beyond the ") + (strapped ? "strap" : "damper's end") + ": no droop is left",
                       "lift it less, or let the " + std::string(strapped ? "straps" : "dampers") + " be longer");
    if (setup.stand.lift.value != 0 && !(out.bump > 0))
        throw BadInput("stand/lift", "lowered onto its bump stops: no bump travel is left",
                       "lower it less, or shorten the stops");
    return out;
}

void check_stand(const Vehicle& vehicle, const Setup& setup) {
    for (const End end : both_ends) told_within(name_of(end), [&] { return stop_gaps(setup[end], vehicle[end]); });
}

} // namespace dervish::model
