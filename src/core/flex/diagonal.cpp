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

Ascent ascent(const car::Car& car, const DiagonalRamps& ramps, double height, bool lifted, const State& at,
              double slope) {
    return {height,
            lifted,
            lightest(car, ramps.raised, ramps.threshold_load, at).wheel,
            at,
            between(at, car::front_left),
            between(at, car::rear_left),
            slope};
}

std::optional<Ascent> climb_near(const car::Car& car, const DiagonalRamps& ramps, const Ascent& near) {
    State at = near.state;
    double height = near.height, slope = near.slope, last = 0, step = 0;
    for (int i = 0; i < 8; ++i) {
        at = on_ramps(car, ramps.raised, height, &at);
        const double margin = lightest(car, ramps.raised, ramps.threshold_load, at).margin;
        if (i > 0) slope = (margin - last) / step;
        if (!at.converged || !(slope < 0)) return {};
        step = -margin / slope;
        if (std::abs(step) > 0.1 || height + step < 0 || height + step > ramps.highest) return {};
        if (std::abs(step) < 1e-6) return ascent(car, ramps, height + step, true, at, slope);
        height += step;
        last = margin;
    }
    return {};
}
} // namespace

Ascent climb(const car::Car& car, const DiagonalRamps& ramps, const Ascent* near) {
    if (near && near->lifted)
        if (const auto found = climb_near(car, ramps, *near)) return *found;
    State at = on_ramps(car, ramps.raised, 0);
    const auto bracket = bracket_from_below(car, ramps, at);
    if (!bracket) return ascent(car, ramps, ramps.highest, false, at, 0);
    at = bracket->low;
    const auto margin = [&](double h) {
        at = on_ramps(car, ramps.raised, h, &at);
        return lightest(car, ramps.raised, ramps.threshold_load, at).margin;
    };
    double height = bracket->to;
    if (bracket->to > bracket->from)
        height = root_between(margin, bracket->from, bracket->to, bracket->at_from, bracket->at_to, 1e-7);
    constexpr double below = 1e-5; // the load's slope, not that of the gap once it hangs
    const double before = margin(height - below), there = margin(height);
    return ascent(car, ramps, height, true, at, (there - before) / below);
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
