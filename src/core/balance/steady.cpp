#include "core/balance/steady.h"

#include "core/num/root.h"

#include <algorithm>
#include <cmath>

namespace dervish::balance {
namespace {
constexpr double widest = 0.7;                // slip angle looked at, rad
constexpr double most_lateral = 2 * units::g; // looked at

template <class T> PerSide<T> pair_of(const PerWheel<T>& all, std::size_t axle) {
    return {all[2 * axle], all[2 * axle + 1]};
}

/// Both tyres of an axle at one slip angle.
struct AxleForce {
    PerSide<SideForce> side;
    AxleForce(const AxleGrip& a, const Surface& s, const PerSide<WheelLoad>& load, const PerSide<double>& camber,
              const PerSide<double>& along)
        : side{SideForce(a.tyre[0], s, load[0], camber[0], along[0]),
               SideForce(a.tyre[1], s, load[1], camber[1], along[1])} {}
    double at(double slip) const { return side[0].at(slip) + side[1].at(slip); }
    double slope(double slip) const { return side[0].slope(slip) + side[1].slope(slip); }
};

/// Grip of an axle at loads as they stand: the most of its two tyres together at one slip angle.
struct Most {
    double force, slip;
};

/// Each tyre rises to its peak and falls slowly, and so does their sum: its peak is between theirs.
Most most_of(const AxleForce& force) {
    const auto [one, one_end] = force.side[0].most_between(widest);
    const auto [two, two_end] = force.side[1].most_between(widest);
    const double low = std::min(one, two), high = std::max(one_end, two_end);
    const double rises = force.slope(low), falls = force.slope(high);
    const double slip = !(rises > 0) ? low
                        : falls >= 0
                            ? high
                            : root_between([&](double x) { return force.slope(x); }, low, high, rises, falls, 1e-7);
    return {force.at(slip), slip};
}

PerWheel<WheelLoad> loads_of(const Model& m, const car::State& s) {
    PerWheel<WheelLoad> out;
    for (std::size_t w = 0; w < 4; ++w) out[w] = {s.wheels[w].load, m.swing[w]};
    return out;
}

/// Side force that each axle has to give: the turn's moment about the other one.
PerAxle<double> needs(const car::Car& car, double lateral) {
    const car::Loaded l = car::loaded(car);
    return {(l.share[0] + car.front.unsprung_mass) * lateral, (l.share[1] + car.rear.unsprung_mass) * lateral};
}

/// Slip at which the axle gives `need`, between no slip and that of its most; Newton kept inside by halving.
double slip_for(const AxleForce& force, double need, const Most& most) {
    const auto off = [&](double slip) { return force.at(slip) - need; };
    double low = -0.2, at_low = off(low);
    if (at_low > 0) return low;
    return root_between(off, low, most.slip, at_low, most.force - need, 1e-10);
}
} // namespace

const char* name_of(Phase phase) {
    static constexpr const char* names[] = {"entry, braking", "middle", "exit, power", "throttle lifted"};
    return names[static_cast<int>(phase)];
}

double pedal(const Model& m, Phase phase) {
    switch (phase) {
    case Phase::Entry:
        return -m.braking;
    case Phase::Exit:
        return m.pull;
    case Phase::Lifted:
        return -0.08 * units::g;
    case Phase::Middle:
        break;
    }
    return 0;
}

PerSide<double> camber_at(const AxleGrip& a, double roll) {
    const double lean = roll * (1 - a.camber_kept); // outwards
    return {a.camber - lean, -a.camber - lean};
}

Along along(const Model& m, double longitudinal, const PerWheel<WheelLoad>& load, const PerWheel<double>& into) {
    Along out;
    if (longitudinal == 0) return out;
    const car::Loaded l = car::loaded(m.car);
    const double whole = (l.mass + m.car.front.unsprung_mass + m.car.rear.unsprung_mass) * longitudinal;
    const double carried = load[0].mean + load[1].mean + load[2].mean + load[3].mean;
    for (std::size_t a = 0; a < 2; ++a) {
        const std::size_t i = 2 * a;
        if (longitudinal < pedal(m, Phase::Lifted)) { // the brakes, alike on both sides
            const double front = m.front_braking > 0 ? m.front_braking : (load[0].mean + load[1].mean) / carried;
            out.force[i] = out.force[i + 1] = whole * (a == 0 ? front : 1 - front) / 2;
            continue;
        }
        const double axle = whole * m.drive[a];
        if (axle < 0) { // the engine holds back
            out.force[i] = out.force[i + 1] = axle / 2;
            continue;
        }
        if (!(axle > 0)) continue;
        const auto holds = [&](std::size_t w) {
            return peak_force(m.axle[a].tyre[w - i], m.surface, load[w], into[w]);
        };
        const double one = holds(i), two = holds(i + 1), both = load[i].mean + load[i + 1].mean;
        const std::size_t light = one < two ? i : i + 1, heavy = light == i ? i + 1 : i;
        double lighter = axle / 2, heavier = axle / 2;
        if (m.differential[a] == Differential::Locked) { // turning as one, the wheels share by what they carry
            lighter = both > 0 ? axle * load[light].mean / both : axle / 2;
            heavier = axle - lighter;
            // What one cannot take the other must.
            if (lighter > holds(light)) heavier = axle - (lighter = holds(light));
            if (heavier > holds(heavy)) lighter = std::min(holds(light), axle - (heavier = holds(heavy)));
        } else if (lighter > std::min(one, two)) {
            // An open differential gives both wheels what the lighter holds; a limited one the other up to its ratio
            // more.
            const double ratio = m.differential[a] == Differential::Limited ? m.bias_ratio : 1;
            lighter = std::min(one, two);
            heavier = std::min({axle - lighter, ratio * lighter, std::max(one, two)});
        }
        out.force[light] = lighter;
        out.force[heavy] = heavier;
        if (lighter + heavier < axle * (1 - 1e-9)) out.spins = static_cast<int>(light);
    }
    return out;
}

namespace {
bool tips(const Corner& c) {
    const std::size_t inside = c.lateral < 0 ? 1 : 0;
    return !c.state.converged || (c.state.wheels[inside].load <= 0 && c.state.wheels[inside + 2].load <= 0);
}
} // namespace

Corner corner(const Model& m, double lateral, Phase phase, const car::State* start) {
    return corner_along(m, lateral, pedal(m, phase), start);
}

Corner corner_along(const Model& m, double lateral, double longitudinal, const car::State* start) {
    const car::Situation turn{.lateral_acceleration = lateral, .longitudinal_acceleration = longitudinal};
    return corner_settled(m, lateral, longitudinal, car::settle(m.car, turn, start));
}

Corner corner_settled(const Model& m, double lateral, double longitudinal, const car::State& state) {
    Corner out{};
    out.lateral = lateral;
    out.state = state;
    if (tips(out)) return out;
    const PerWheel<WheelLoad> load = loads_of(m, out.state);
    const double side = lateral < 0 ? -1 : 1;
    const PerAxle<double> by_mass = needs(m.car, std::abs(lateral));
    PerWheel<double> into{};
    for (std::size_t a = 0; a < 2; ++a) {
        const auto camber = camber_at(m.axle[a], out.state.roll[a]);
        for (std::size_t w = 0; w < 2; ++w) into[2 * a + w] = side * camber[w];
    }
    const Along pull = along(m, longitudinal, load, into);
    out.spins = pull.spins;
    out.along = pull.force;
    double turning = 0; // into the turn, N·m: the outer wheels pull harder
    for (std::size_t a = 0; a < 2; ++a)
        turning += side * (pull.force[2 * a + 1] - pull.force[2 * a]) * m.car[static_cast<End>(a)].track / 2;
    out.need = {by_mass[0] - turning / m.car.wheelbase, by_mass[1] + turning / m.car.wheelbase};
    out.holds = true;
    for (std::size_t a = 0; a < 2; ++a) {
        AxleGrip axle = m.axle[a];
        auto on = pair_of(load, a);
        auto shared = pair_of(pull.force, a);
        if (lateral < 0) { // seen in a mirror it turns left
            std::swap(on[0], on[1]);
            std::swap(shared[0], shared[1]);
            std::swap(axle.tyre[0], axle.tyre[1]);
        }
        const auto camber = camber_at(axle, side * out.state.roll[a]);
        const AxleForce force(axle, m.surface, on, camber, shared);
        const Most most = most_of(force);
        out.most[a] = most.force;
        const bool gives = most.force >= out.need[a];
        out.holds = out.holds && gives;
        out.slip[a] = gives ? slip_for(force, out.need[a], most) : most.slip;
        for (std::size_t w = 0; w < 2; ++w) {
            const std::size_t i = 2 * a + (lateral < 0 ? 1 - w : w);
            out.force[i] = force.side[w].at(out.slip[a]);
            const double all = peak_force(axle.tyre[w], m.surface, on[w], camber[w]);
            out.used[i] = all > 0 ? std::min(1.0, std::hypot(out.force[i], shared[w]) / all) : 1;
        }
    }
    for (std::size_t a = 0; a < 2; ++a) {
        const AxleGrip& axle = m.axle[a];
        out.steer += (a == 0 ? 1 : -1) * out.slip[a] + axle.roll_steer * side * out.state.roll[a] +
                     (axle.side_steer + axle.trail_steer) * std::min(out.need[a], out.most[a]);
    }
    return out;
}

namespace {
/// What an axle has over what it needs.
double has(const Corner& c, Gives axle) {
    const std::size_t a = axle == Gives::Front ? 0 : 1;
    return c.most[a] / c.need[a];
}

/// Above 0 while both axles hold: the smaller of what they have left.
double left_of(const Corner& c) {
    if (!c.state.converged || c.need[0] <= 0) return -1;
    return std::min(has(c, Gives::Front), has(c, Gives::Rear)) - 1;
}

Gives gives(const Corner& c) { return has(c, Gives::Front) < has(c, Gives::Rear) ? Gives::Front : Gives::Rear; }
double other(const Corner& c) { return std::max(has(c, Gives::Front), has(c, Gives::Rear)) - 1; }
double way_of(const Limit& l) { return l.turn == Turn::Right ? -1 : 1; }
constexpr double close = 1e-6; // a limit is found to this, m/s²
} // namespace

Limit limit(const Model& m, Phase phase, Turn turn) {
    constexpr double step = 0.05 * units::g;
    const double way = turn == Turn::Right ? -1 : 1;
    const auto corner = [&](const Model& model, double a, Phase p, const car::State* start = nullptr) {
        return balance::corner(model, way * a, p, start);
    };
    Corner low = corner(m, close, phase);
    if (!low.holds) return {0, tips(low) ? Gives::Tips : gives(low), 0, low, turn};
    for (double a = close; a < most_lateral; a += step) {
        const Corner high = corner(m, a + step, phase, &low.state);
        if (high.holds) {
            low = high;
            continue;
        }
        if (!tips(high)) {
            const double found = root_between([&](double x) { return left_of(corner(m, x, phase, &low.state)); }, a,
                                              a + step, left_of(low), left_of(high), close / 4);
            const Corner inside = corner(m, found - close, phase, &low.state);
            return {found, gives(inside), other(inside), inside, turn};
        }
        Corner beyond = high; // by halves: the equilibrium ends on the way
        for (double bad = a + step; bad - way * low.lateral > close;) {
            const Corner c = corner(m, (way * low.lateral + bad) / 2, phase, &low.state);
            (c.holds ? low : beyond) = c;
            if (!c.holds) bad = way * c.lateral;
        }
        return {way * low.lateral, tips(beyond) ? Gives::Tips : gives(low), other(low), low, turn};
    }
    return {most_lateral, Gives::Nothing, other(low), low, turn};
}

Pull most_pull(const Model& m, double lateral) {
    const Corner still = corner_along(m, lateral, 0);
    if (!still.holds) return {0, -1, tips(still) ? Gives::Tips : gives(still)};
    const auto good = [](const Corner& c) { return c.holds && c.spins < 0; };
    double low = 0, high = units::g;
    Corner beyond = corner_along(m, lateral, high, &still.state);
    if (good(beyond)) return {high, -1, Gives::Nothing};
    while (high - low > 1e-5) {
        const double middle = (low + high) / 2;
        const Corner c = corner_along(m, lateral, middle, &still.state);
        (good(c) ? low : high) = middle;
        if (!good(c)) beyond = c;
    }
    if (beyond.spins >= 0) return {low, beyond.spins, Gives::Nothing};
    return {low, -1, tips(beyond) ? Gives::Tips : gives(beyond)};
}

Limit limit_near(const Model& m, const Limit& near) {
    if (near.first == Gives::Tips || near.first == Gives::Nothing || near.lateral < 0.1)
        return limit(m, Phase::Middle, near.turn);
    const double way = way_of(near);
    double at = near.lateral, last = at - 0.05;
    Corner before = corner(m, way * last, Phase::Middle, &near.at.state);
    for (int i = 0; i < 6 && !tips(before); ++i) {
        const Corner here = corner(m, way * at, Phase::Middle, &before.state);
        const double slope = (left_of(here) - left_of(before)) / (at - last);
        if (tips(here) || !(slope < 0)) break;
        const double step = -left_of(here) / slope;
        if (std::abs(step) > 1 || at + step < 0.1 || at + step > most_lateral) break;
        last = at;
        at += step;
        before = here;
        if (std::abs(step) > close / 2) continue;
        const Corner inside = corner(m, way * (at - close), Phase::Middle, &here.state);
        if (!inside.holds) break;
        return {at, gives(inside), other(inside), inside, near.turn};
    }
    return limit(m, Phase::Middle, near.turn);
}

namespace {
Limit lower_of_both(const Model& m, const Limit& one, Phase phase) {
    const Turn turn = one.turn == Turn::Left ? Turn::Right : Turn::Left;
    // Most cars hold the same to the other side, which one corner shows.
    const double there = one.lateral - 3 * close;
    if (there <= 0 || corner(m, turn == Turn::Right ? -there : there + 6 * close, phase).holds) return one;
    const Limit other = limit(m, phase, turn);
    return other.lateral < one.lateral + (turn == Turn::Right ? -2 : 2) * close ? other : one;
}
} // namespace

Limit outright_limit(const Model& m, const Limit* near) {
    return lower_of_both(m, near ? limit_near(m, *near) : limit(m), Phase::Middle);
}

Limit outright_limit(const Model& m, Phase phase) { return lower_of_both(m, limit(m, phase), phase); }

NearbyLimits::NearbyLimits(const Model& m, const Limit& known) : known_(known), at_(known.at) {
    if (known.first != Gives::Front && known.first != Gives::Rear) return;
    constexpr double bit = 1e-3; // m/s²
    const auto turned = [&](double more) {
        return corner(m, way_of(known) * (known.lateral + more), Phase::Middle, &known.at.state);
    };
    at_ = turned(0);
    const Corner less = turned(-bit), more = turned(bit);
    if (tips(less) || tips(at_) || tips(more)) return;
    slope_ = (has(more, known.first) - has(less, known.first)) / (2 * bit);
    nearby_.emplace(m.car, car::Situation{.lateral_acceleration = at_.lateral}, at_.state);
}

std::optional<Corner> NearbyLimits::there(const Model& other, double lateral, double times) const {
    const double towards_y = way_of(known_) * lateral;
    const Corner out =
        corner_settled(other, towards_y, 0, nearby_->of(other.car, {.lateral_acceleration = towards_y}, times));
    return tips(out) ? std::nullopt : std::optional(out);
}

std::optional<Limit> NearbyLimits::of(const Model& other, double times) const {
    if (!nearby_ || !(slope_ < 0)) return {};
    const Gives first = known_.first, second = first == Gives::Front ? Gives::Rear : Gives::Front;
    const auto same_turn = there(other, known_.lateral, times);
    if (!same_turn) return {};
    const double harder = (has(*same_turn, first) - has(at_, first)) / -slope_;
    if (!(times * std::abs(harder) < std::min(1.0, known_.lateral / 2))) return {};
    const auto limit = there(other, known_.lateral + harder, times);
    const double ahead = has(at_, second) - has(at_, first);
    if (!limit || !(times * std::abs(has(*limit, second) - has(*limit, first) - ahead) < ahead)) return {};
    return Limit{known_.lateral + harder, first, has(*limit, second) / has(*limit, first) - 1, *limit, known_.turn};
}

Curve handling_curve(const Model& m, int points, Phase phase) {
    const Limit end = limit(m, phase);
    Curve out;
    out.points.reserve(static_cast<std::size_t>(points));
    const car::State* start = nullptr;
    for (int i = 1; i < points; ++i) {
        out.points.push_back(corner(m, end.at.lateral * i / points, phase, start));
        start = &out.points.back().state;
    }
    out.points.push_back(end.at);
    return out;
}

std::optional<Understeer> understeer(const Model& model) {
    constexpr double a = 0.3 * units::g, h = 0.02 * units::g;
    if (!corner(model, a + h).holds) return {};
    // Effects are put in one after the other, each term what it adds: so they sum to the whole.
    Model m = model;
    for (AxleGrip& axle : m.axle.both()) {
        axle.roll_steer = axle.side_steer = axle.trail_steer = 0;
        axle.camber = 0;
        axle.camber_kept = 1;
    }
    const auto gradient = [&] { return (corner(m, a + h).steer - corner(m, a - h).steer) / (2 * h); };
    // Without load transfer: every wheel carries what it carries at rest.
    const PerWheel<WheelLoad> still = loads_of(m, car::settle(m.car, {}));
    const auto without = [&](double lateral) {
        const auto need = needs(m.car, lateral);
        double steer = 0;
        for (std::size_t i = 0; i < 2; ++i) {
            const auto load = pair_of(still, i);
            const AxleForce force(m.axle[i], m.surface, load, {}, {});
            steer += (i == 0 ? 1 : -1) * slip_for(force, need[i], most_of(force));
        }
        return steer;
    };
    Understeer out{};
    double before = out.masses_and_tyres = (without(a + h) - without(a - h)) / (2 * h);
    const auto added = [&] {
        const double now = gradient(), term = now - before;
        before = now;
        return term;
    };
    out.load_transfer = added();
    for (std::size_t i = 0; i < 2; ++i) {
        m.axle[i].camber = model.axle[i].camber;
        m.axle[i].camber_kept = model.axle[i].camber_kept;
    }
    out.camber = added();
    for (std::size_t i = 0; i < 2; ++i) m.axle[i].roll_steer = model.axle[i].roll_steer;
    out.roll_steer = added();
    for (std::size_t i = 0; i < 2; ++i) m.axle[i].side_steer = model.axle[i].side_steer;
    out.side_steer = added();
    for (std::size_t i = 0; i < 2; ++i) m.axle[i].trail_steer = model.axle[i].trail_steer;
    out.aligning = added();
    out.whole = before;
    return out;
}

} // namespace dervish::balance
