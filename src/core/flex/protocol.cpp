#include "core/flex/protocol.h"

#include "core/num/root.h"

#include <algorithm>
#include <cmath>

namespace dervish::flex {
namespace {
using car::State;

double between(const State& s, std::size_t left) { return std::abs(s.wheels[left].travel - s.wheels[left + 1].travel); }

struct Lightest {
    double margin; ///< load above the threshold, below zero with the gap once in the air, N
    int wheel;
};

Lightest lightest(const car::Car& car, const Protocol& protocol, const std::vector<int>& watch, const State& s) {
    Lightest out{1e300, watch.front()};
    if (!s.converged) return {-1e6, watch.front()}; // it no longer stands
    for (int w : watch) {
        const car::Wheel& at = s.wheels[static_cast<std::size_t>(w)];
        const double margin = at.load - car[end_of(w)].tyre_rate * at.gap - protocol.threshold_load;
        if (margin < out.margin) out = {margin, w};
    }
    return out;
}

/// Steps that no stop or loose spring is passed by unseen.
double step_of(Kind kind) { return kind == Kind::Slope ? 2 * units::deg : 0.04; }
} // namespace

std::array<int, 2> raised_wheels(Diagonal d) {
    return d == Diagonal::FrontLeftRearRight ? std::array{car::front_left, car::rear_right}
                                             : std::array{car::front_right, car::rear_left};
}

std::array<int, 2> low_wheels(Diagonal d) {
    return raised_wheels(d == Diagonal::FrontLeftRearRight ? Diagonal::FrontRightRearLeft
                                                           : Diagonal::FrontLeftRearRight);
}

car::Situation situation(const Protocol& p, double reach) {
    car::Situation out;
    const auto pair = raised_wheels(p.raised);
    const auto height = [&](int wheel) -> double& { return out.wheel_height[static_cast<std::size_t>(wheel)]; };
    switch (p.kind) {
    case Kind::Diagonal:
    case Kind::Holes: {
        const double up = p.kind == Kind::Holes ? -reach : reach;
        height(pair[0]) = up;
        height(pair[1]) = p.second * up;
        break;
    }
    case Kind::Ramp:
    case Kind::Lift:
        height(p.wheel) = reach;
        break;
    case Kind::Slope:
        out.side_slope = p.wheel % 2 == 0 ? reach : -reach;
        height(p.wheel) = p.obstacle;
        break;
    }
    return out;
}

std::vector<int> watched(const Protocol& p) {
    std::vector<int> out;
    const auto pair = p.kind == Kind::Holes ? raised_wheels(p.raised) : low_wheels(p.raised);
    if (p.kind == Kind::Diagonal || p.kind == Kind::Holes) return {pair[0], pair[1]};
    for (int w = 0; w < 4; ++w)
        if (p.kind == Kind::Slope ? w % 2 == p.wheel % 2 : w != p.wheel) out.push_back(w);
    return out;
}

State at_reach(const car::Car& car, const Protocol& p, double reach) {
    const double step = step_of(p.kind);
    State s = settle(car, situation(p, 0));
    for (double h = step; h < reach; h += step) s = settle(car, situation(p, h), &s);
    return settle(car, situation(p, reach), &s);
}

namespace {
/// A stretch of reach in which a watched wheel goes light, with the state at its lower end.
struct Bracket {
    double from, to, at_from, at_to;
    State low;
};

std::optional<Bracket> bracket_from_below(const car::Car& car, const Protocol& p, const std::vector<int>& watch,
                                          State& low) {
    const double step = step_of(p.kind);
    double height = 0, at_low = lightest(car, p, watch, low).margin;
    if (at_low <= 0) return Bracket{0, 0, at_low, at_low, low};
    while (height < p.highest) {
        const double next = std::min(height + step, p.highest);
        const State high = settle(car, situation(p, next), &low);
        const double at_high = lightest(car, p, watch, high).margin;
        if (at_high <= 0) return Bracket{height, next, at_low, at_high, low};
        height = next;
        low = high;
        at_low = at_high;
    }
    return {};
}

Ascent ascent(const car::Car& car, const Protocol& p, const std::vector<int>& watch, double height, bool lifted,
              const State& at, double slope) {
    return {height, lifted, lightest(car, p, watch, at).wheel, at, between(at, 0), between(at, 2), slope};
}

/// From an ascent of a car that differs little, straight to where its wheel, or else another watched one, goes light.
std::optional<Ascent> climb_near(const car::Car& car, const Protocol& p, const std::vector<int>& watch,
                                 const Ascent& near) {
    const auto path = [&](double reach) { return situation(p, reach); };
    Ascent out = near;
    for (int tries = 0; tries < 2; ++tries) {
        const auto light = settle_light(car, path, out.light_wheel, p.threshold_load, out.height, out.state);
        if (!light || light->at < 0 || light->at > p.highest) return {};
        const Lightest least = lightest(car, p, watch, light->state);
        out = ascent(car, p, watch, light->at, true, light->state, light->slope);
        if (least.margin > -1e-3) return out;
    }
    return {};
}
} // namespace

Ascent climb(const car::Car& car, const Protocol& p, const Ascent* near) {
    const std::vector<int> watch = watched(p);
    if (near && near->lifted)
        if (const auto found = climb_near(car, p, watch, *near)) return *found;
    State at = settle(car, situation(p, 0));
    const auto bracket = bracket_from_below(car, p, watch, at);
    if (!bracket) return ascent(car, p, watch, p.highest, false, at, 0);
    if (bracket->to > bracket->from) { // where the load's fall is smooth enough for Newton's method
        const double guess =
            bracket->from + (bracket->to - bracket->from) * bracket->at_from / (bracket->at_from - bracket->at_to);
        const auto found = climb_near(car, p, watch, ascent(car, p, watch, guess, true, bracket->low, 0));
        if (found && found->height > bracket->from && found->height <= bracket->to) return *found;
    }
    at = bracket->low;
    const auto margin = [&](double h) {
        at = settle(car, situation(p, h), &at);
        return lightest(car, p, watch, at).margin;
    };
    double height = bracket->to;
    if (bracket->to > bracket->from)
        height = root_between(margin, bracket->from, bracket->to, bracket->at_from, bracket->at_to, 1e-7);
    const State last = bracket->low;
    for (double low = bracket->from; !settle(car, situation(p, height), &last).converged && height - low > 1e-7;) {
        const double middle = (low + height) / 2; // it falls over with load on the wheel: the last that stands
        (settle(car, situation(p, middle), &last).converged ? low : height) = middle;
        if (height - low <= 1e-7) height = low;
    }
    at = settle(car, situation(p, height), &last);
    const Ascent found = ascent(car, p, watch, height, true, at, 0);
    return climb_near(car, p, watch, found).value_or(found);
}

car::Situation NearbyAscents::there(double reach) const {
    car::Situation out = situation(protocol_, reach);
    if (known_.lifted) out.held = known_.light_wheel;
    return out;
}

NearbyAscents::NearbyAscents(const car::Car& car, const Protocol& protocol, const Ascent& known)
    : protocol_(protocol), watched_(watched(protocol)), known_(known), nearby_(car, there(known.height), known.state) {
    constexpr double bit = 1e-6; // of the path, for its slope
    if (known.lifted)
        along_ = (nearby_.unknowns(car, there(known.height + bit)) - nearby_.unknowns(car, there(known.height))) / bit;
}

std::optional<Ascent> NearbyAscents::of(const car::Car& other, double times) const {
    const auto rest_stand = [&](const State& now) { // the other watched wheels, of cars so much further
        return std::all_of(watched_.begin(), watched_.end(), [&](int w) {
            const std::vector<int> one{w};
            const double here = lightest(other, protocol_, one, known_.state).margin;
            return (known_.lifted && w == known_.light_wheel) ||
                   here > times * std::abs(lightest(other, protocol_, one, now).margin - here);
        });
    };
    if (!known_.lifted) {
        const State at = nearby_.of(other, there(known_.height), times);
        if (!at.converged || !rest_stand(at)) return {};
        return ascent(other, protocol_, watched_, known_.height, false, at, 0);
    }
    if (!(known_.slope < 0)) return {};
    const auto q = nearby_.unknowns(other, there(known_.height));
    const State same_reach = nearby_.at(q, other, there(known_.height));
    const double higher = -lightest(other, protocol_, {known_.light_wheel}, same_reach).margin / known_.slope;
    const double furthest = times * std::abs(higher);
    if (!(furthest < 0.1) || furthest > known_.height || known_.height + furthest > protocol_.highest) return {};
    const State at = nearby_.at(q + higher * along_, other, there(known_.height + higher), times);
    if (!at.converged || !rest_stand(at)) return {};
    return ascent(other, protocol_, watched_, known_.height + higher, true, at, known_.slope);
}

std::optional<double> tipping_slope(const car::Car& car, bool left_uphill) {
    const Protocol p{.kind = Kind::Slope, .wheel = left_uphill ? car::front_left : car::front_right};
    const std::size_t up = left_uphill ? 0 : 1;
    State at = settle(car, {});
    const auto stands = [&](const State& s) {
        return s.converged && (s.wheels[up].load > 0 || s.wheels[up + 2].load > 0);
    };
    constexpr double last = 60 * units::deg;
    for (double low = 0; low < last; low += step_of(p.kind)) {
        double high = low + step_of(p.kind);
        State next = settle(car, situation(p, high), &at);
        if (stands(next)) {
            at = next;
            continue;
        }
        while (high - low > 1e-6) {
            const double middle = (low + high) / 2;
            next = settle(car, situation(p, middle), &at);
            (stands(next) ? low : high) = middle;
            if (stands(next)) at = next;
        }
        return low;
    }
    return {};
}

double ramp_index(const Protocol& p, double wheelbase, double height) {
    return 1000 * height / std::sin(p.angle) / wheelbase;
}

FixedRamps on_fixed_ramps(const car::Car& car, Diagonal raised, double height) {
    const State s = at_reach(car, {.raised = raised}, height);
    const auto low = low_wheels(raised);
    const auto gap = [&](int w) { return s.wheels[static_cast<std::size_t>(w)].gap; };
    const int wheel = gap(low[0]) >= gap(low[1]) ? low[0] : low[1];
    return {gap(wheel), wheel, s, between(s, 0), between(s, 2)};
}

} // namespace dervish::flex
