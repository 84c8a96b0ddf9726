#include "core/model/stand.h"

#include <algorithm>
#include <cmath>

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

ByClicks by_clicks(const AxleSetup& setup) {
    const DamperData& d = setup.dampers;
    const auto factor = [&](const Measured& used, const Measured& set) {
        return d.click.value > 0 ? std::pow(1 + d.click.value, used.value - set.value) : 1;
    };
    return {factor(setup.stand.bump_click, d.bump_set), factor(setup.stand.rebound_click, d.rebound_set)};
}

std::optional<ClicksLeft> clicks_left(const AxleSetup& setup) {
    std::optional<ClicksLeft> out;
    const auto take = [&](const Measured& all, const Measured& used) {
        if (all.value <= 0) return;
        if (!out) out = ClicksLeft{used.value, all.value - used.value};
        out = ClicksLeft{std::min(out->open, used.value), std::min(out->firm, all.value - used.value)};
    };
    take(setup.dampers.bump_clicks, setup.stand.bump_click);
    take(setup.dampers.rebound_clicks, setup.stand.rebound_click);
    return out;
}

void check_stand(const Vehicle& vehicle, const Setup& setup) {
    for (const End end : both_ends) told_within(name_of(end), [&] { return stop_gaps(setup[end], vehicle[end]); });
}

} // namespace dervish::model
