#include "core/model/acting.h"

#include "core/car/equilibrium.h"
#include "core/model/room.h"
#include "core/model/stand.h"

namespace dervish::model {

namespace {
/// What of the sums depends on the axle and its room too.
void add_linkage(BarSums& out, const bar::Solution& s, const AxleSetup& a, const AxleData& axle) {
    if (a.held == Held::Links) {
        out.law = to_law(a, axle, s);
        out.margin = tightest_angle(out.law->ends(), a, axle);
    }
    out.gear = out.law ? gear(out.law->ends()) : link_per_wheel(a, axle);
}
} // namespace

BarSums bar_sums(const bar::Solution& s, const AxleSetup& a, const AxleData& axle) {
    BarSums out{s.at_eyes, s.at_links, bar::worst(bar::stress(s, {-1, 1})).von_mises, 0, {}, {}};
    add_linkage(out, s, a, axle);
    return out;
}

Acting acting(const Assembly& a, const BarSums& sums, double scale) {
    Acting out;
    if (!a.fitted || !a.connected) return out;
    if (sums.law) {
        out.linkage = sums.law;
        out.linkage->set_bar(scale * sums.law->springs().bar);
    } else {
        out.plain = scale * sums.links;
        out.base = clamped_base(a);
    }
    return out;
}

car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    check_stand(vehicle, setup);
    PerAxle<Acting> bars;
    for (const End end : both_ends)
        if (const AxleSetup& a = setup[end]; a.fitted && a.connected)
            bars[end] = told_within(
                name_of(end), [&] { return acting(a, bar_sums(solve(a, vehicle[end]), a, vehicle[end]), bar_scale); });
    return told_within("vehicle", [&] {
        car::Car car = to_car(vehicle, setup, bars);
        car::check(car);
        return car;
    });
}

car::Car Cars::with(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    PerAxle<Acting> bars;
    for (const End end : both_ends) bars[end] = acting(setup[end], sums(end, setup[end], vehicle[end]), bar_scale);
    return to_car(vehicle, setup, bars);
}

const BarSums& Cars::sums(End end, const AxleSetup& a, const AxleData& axle) {
    std::optional<Known>& known = known_[end];
    // A bar lies as its links hold it: the axle has a say where its paths are measured or it stands raised.
    const bool axle_has_a_say = a.links.pickups == Pickups::Measured || raised(a.stand).body != 0;
    const auto same_bar = [&](const AxleSetup& b) {
        return static_cast<const Assembly&>(a) == b && a.stand.lift == b.stand.lift &&
               a.stand.lift_by == b.stand.lift_by && (!axle_has_a_say || known->axle == axle);
    };
    const bool lies_alike = known && same_bar(known->setup);
    if (lies_alike && a.springs == known->setup.springs && a.dampers == known->setup.dampers && known->axle == axle)
        return known->sums;
    Known now{a, axle, {}, {}}; // known once all of it is: some of these cars cannot be
    if (lies_alike) {
        now.sums = known->sums;
        if (a.fitted) add_linkage(now.sums, known->solution, a, axle);
        now.solution = std::move(known->solution);
    } else if (a.fitted) {
        now.solution = solve(a, axle);
        now.sums = bar_sums(now.solution, a, axle);
    }
    known = std::move(now);
    return known->sums;
}

} // namespace dervish::model
