#include "core/flex/diagonal.h"

#include "core/root.h"
#include "core/units/units.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace dervish::flex {
namespace {
using car::State;

double between(const State& s, int left) { return std::abs(s.wheels[left].travel - s.wheels[left + 1].travel); }

struct Lightest {
    double margin; ///< load above the threshold, below zero with the gap once in the air, N
    int wheel;
};

Lightest lightest(const car::Car& car, Diagonal raised, double threshold, const State& s) {
    Lightest out{1e300, -1};
    for (int w : low_wheels(raised)) {
        const double rate = (w < 2 ? car.front : car.rear).tyre_rate;
        const double margin = s.wheels[w].load - rate * s.wheels[w].gap - threshold;
        if (margin < out.margin) out = {margin, w};
    }
    return out;
}
} // namespace

std::array<int, 2> raised_wheels(Diagonal d) {
    return d == Diagonal::FrontLeftRearRight ? std::array{car::front_left, car::rear_right}
                                             : std::array{car::front_right, car::rear_left};
}

std::array<int, 2> low_wheels(Diagonal d) {
    return raised_wheels(d == Diagonal::FrontLeftRearRight ? Diagonal::FrontRightRearLeft
                                                           : Diagonal::FrontLeftRearRight);
}

State on_ramps(const car::Car& car, Diagonal raised, double height, const State* start) {
    car::Situation s;
    for (int w : raised_wheels(raised)) s.wheel_height[w] = height;
    return settle(car, s, start);
}

namespace {
/// A stretch of ramp height in which a low wheel goes light, with the state at its lower end.
struct Bracket {
    double from, to, at_from, at_to;
    State low;
};

std::optional<Bracket> bracket_near(const car::Car& car, const DiagonalRamps& ramps, const Ascent& near) {
    const auto margin = [&](const State& s) { return lightest(car, ramps.raised, ramps.threshold_load, s).margin; };
    for (const double reach : {0.004, 0.016, 0.06}) {
        const double from = std::max(0.0, near.height - reach), to = std::min(ramps.highest, near.height + reach);
        const State low = on_ramps(car, ramps.raised, from, &near.state),
                    high = on_ramps(car, ramps.raised, to, &near.state);
        if (!low.converged || !high.converged) return {};
        const double at_from = margin(low), at_to = margin(high);
        if (at_from > 0 && at_to <= 0) return Bracket{from, to, at_from, at_to, low};
    }
    return {};
}

std::optional<Bracket> bracket_from_below(const car::Car& car, const DiagonalRamps& ramps, State& low) {
    constexpr double step = 0.04;
    double height = 0, at_low = lightest(car, ramps.raised, ramps.threshold_load, low).margin;
    if (at_low <= 0) return Bracket{0, 0, at_low, at_low, low};
    while (height < ramps.highest) {
        const double next = std::min(height + step, ramps.highest);
        const State high = on_ramps(car, ramps.raised, next, &low);
        const double at_high = lightest(car, ramps.raised, ramps.threshold_load, high).margin;
        if (at_high <= 0) return Bracket{height, next, at_low, at_high, low};
        height = next;
        low = high;
        at_low = at_high;
    }
    return {};
}
} // namespace

Ascent climb(const car::Car& car, const DiagonalRamps& ramps, const Ascent* near) {
    std::optional<Bracket> bracket;
    if (near && near->lifted) bracket = bracket_near(car, ramps, *near);
    State at;
    if (!bracket) {
        at = on_ramps(car, ramps.raised, 0);
        bracket = bracket_from_below(car, ramps, at);
    }
    double height = ramps.highest;
    if (bracket) {
        at = bracket->low;
        const auto margin = [&](double h) {
            at = on_ramps(car, ramps.raised, h, &at);
            return lightest(car, ramps.raised, ramps.threshold_load, at).margin;
        };
        height = bracket->to;
        if (bracket->to > bracket->from)
            height = root_between(margin, bracket->from, bracket->to, bracket->at_from, bracket->at_to, 1e-7);
        at = on_ramps(car, ramps.raised, height, &at);
    }
    const int wheel = lightest(car, ramps.raised, ramps.threshold_load, at).wheel;
    return {height, bracket.has_value(), wheel, at, between(at, car::front_left), between(at, car::rear_left)};
}

FixedRamps on_fixed_ramps(const car::Car& car, Diagonal raised, double height) {
    State s = on_ramps(car, raised, 0);
    for (double h = 0.05; h < height; h += 0.05) s = on_ramps(car, raised, h, &s);
    s = on_ramps(car, raised, height, &s);
    const auto low = low_wheels(raised);
    const int wheel = s.wheels[low[0]].gap >= s.wheels[low[1]].gap ? low[0] : low[1];
    return {s.wheels[wheel].gap, wheel, s, between(s, car::front_left), between(s, car::rear_left)};
}

std::string limit_of(const car::Wheel& w) {
    const auto mm = [](double m) { return units::fixed(m / units::mm, 0) + " mm"; };
    if (w.stop == car::Stop::Bump) return "on the bump stop, " + mm(-w.room_bump) + " in";
    if (w.stop == car::Stop::Droop) return "damper out";
    return w.travel >= 0 ? mm(w.room_bump) + " to the bump stop" : mm(w.room_droop) + " of droop left";
}

} // namespace dervish::flex
