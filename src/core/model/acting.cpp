#include "core/model/acting.h"

#include "core/car/equilibrium.h"
#include "core/model/room.h"
#include "core/model/stand.h"

namespace dervish::model {

namespace {
/// What of the sums depends on the axle and its room too, taken over from `known` where it is the same there.
void add_linkage(BarSums& out, const bar::Solution& s, const AxleSetup& a, const AxleData& axle, const BarSums* known,
                 bool same_bar, bool near) {
    if (a.held != Held::Links) {
        out.gear = link_per_wheel(a, axle);
        return;
    }
    const auto ends = to_ends(a, axle);
    out.room = to_room(a, axle);
    const bool same_ends = known && known->law && known->law->ends() == ends;
    out.law = same_ends && same_bar ? *known->law : to_law(a, ends, s);
    if (same_ends && known->room == out.room)
        out.margin = known->margin;
    else if (near && known && known->margin && (known->room.lock > 0) == (out.room.lock > 0)) // at the same places
        out.margin = same_angle(*known->margin, ends, out.room);
    else
        out.margin = tightest_angle(ends, a, out.room);
    out.gear = same_ends ? known->gear : gear(ends);
}

BarSums sums_of_bar(const bar::Solution& s) {
    const bar::Ledger where = bar::ledger(s);
    const double in_bushes = where.mounts + where.link_joints[0] + where.link_joints[1];
    return {s.at_eyes, s.at_links, bar::worst(bar::stress(s, {-1, 1})).von_mises, 0, in_bushes, {}, {}, {}};
}
} // namespace

BarSums bar_sums(const bar::Solution& s, const AxleSetup& a, const AxleData& axle) {
    BarSums out = sums_of_bar(s);
    add_linkage(out, s, a, axle, nullptr, false, false);
    return out;
}

Acting acting(const Assembly& a, const BarSums& sums, double scale) {
    Acting out;
    if (!a.fitted || !a.connected) return out;
    out.in_bushes = sums.in_bushes;
    if (sums.law) {
        out.linkage = sums.law;
        out.linkage->set_bar(scale * sums.law->springs().bar);
    } else {
        out.plain = scale * sums.links;
        out.base = clamped_base(a);
    }
    return out;
}

car::Car seated(car::Car car, const Vehicle& vehicle) {
    const auto moves = [&](End end) { return vehicle[end].wheels.roll_centre_moves.value; };
    if (moves(End::Front) == 0 && moves(End::Rear) == 0) return car;
    const car::State still = car::settle(car, {});
    if (!still.converged) return car;
    const PerAxle<double> rises = car::rises(car, still);
    for (const End end : both_ends) car[end].roll_centre_height += moves(end) * rises[end];
    return car;
}

car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale, const PerAxle<bool>& left_out) {
    check_stand(vehicle, setup);
    PerAxle<Acting> bars;
    for (const End end : both_ends)
        if (const AxleSetup& a = setup[end]; a.fitted && a.connected && !left_out[end])
            bars[end] = told_within(
                name_of(end), [&] { return acting(a, bar_sums(solve(a, vehicle[end]), a, vehicle[end]), bar_scale); });
    return told_within("vehicle", [&] {
        car::Car car = to_car(vehicle, setup, bars);
        car::check(car);
        return seated(std::move(car), vehicle);
    });
}

DERVISH_COMPILED_HERE(Cars);

car::Car Cars::with(const Vehicle& vehicle, const Setup& setup, double bar_scale, bool near) {
    PerAxle<Acting> bars;
    for (const End end : both_ends)
        bars[end] = acting(setup[end], sums(end, setup[end], vehicle[end], near), bar_scale);
    return seated(to_car(vehicle, setup, bars), vehicle);
}

const BarSums& Cars::sums(End end) const { return (as_first_[end] ? first_ : last_)[end]->sums; }

const BarSums& Cars::sums(End end, const AxleSetup& a, const AxleData& axle, bool near) {
    std::optional<Known>&first = first_[end], &last = last_[end];
    // A bar lies as its links hold it: the axle has a say where its paths are measured or it stands raised.
    const bool axle_has_a_say = a.pickups.rule == PickupRule::Placed || raised(a.stand).body != 0;
    const auto lies_as = [&](const Known& k) {
        return static_cast<const Assembly&>(a) == k.setup && a.stand.lift == k.setup.stand.lift &&
               a.stand.lift_by == k.setup.stand.lift_by && (!axle_has_a_say || k.axle == axle);
    };
    const auto all_as = [&](const Known& k) {
        return a.springs == k.setup.springs && a.dampers == k.setup.dampers && k.axle == axle;
    };
    const bool lies_alike = first && lies_as(*first);
    as_first_[end] = lies_alike && all_as(*first);
    if (as_first_[end]) return first->sums;
    if (last && last->near <= near && all_as(*last) && lies_as(*last)) return last->sums;
    Known now{a, axle, {}, {}, near}; // known once all of it is: some of these cars cannot be
    if (a.fitted) {
        if (!lies_alike) now.solution = solve(a, axle);
        const bar::Solution& solution = lies_alike ? first->solution : now.solution;
        now.sums = lies_alike ? first->sums : sums_of_bar(solution);
        add_linkage(now.sums, solution, a, axle, first ? &first->sums : nullptr, lies_alike, near);
    }
    as_first_[end] = !first;
    return (first ? last : first).emplace(std::move(now)).sums;
}

} // namespace dervish::model
