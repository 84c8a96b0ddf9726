#include "core/flex/diagonal.h"

#include "core/root.h"
#include "core/units/units.h"

#include <algorithm>
#include <cmath>

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

Ascent climb(const car::Car& car, const DiagonalRamps& ramps) {
    constexpr double step = 0.04;
    State low = on_ramps(car, ramps.raised, 0);
    Lightest at_low = lightest(car, ramps.raised, ramps.threshold_load, low);
    double height = 0;
    bool lifted = at_low.margin <= 0;
    while (!lifted && height < ramps.highest) {
        const double next = std::min(height + step, ramps.highest);
        const State high = on_ramps(car, ramps.raised, next, &low);
        const Lightest at_high = lightest(car, ramps.raised, ramps.threshold_load, high);
        if (at_high.margin <= 0) {
            State near = low;
            const auto margin = [&](double h) {
                near = on_ramps(car, ramps.raised, h, &near);
                return lightest(car, ramps.raised, ramps.threshold_load, near).margin;
            };
            height = root_between(margin, height, next, at_low.margin, at_high.margin, 1e-7);
            low = on_ramps(car, ramps.raised, height, &near);
            lifted = true;
        } else {
            height = next;
            low = high;
            at_low = at_high;
        }
    }
    const int wheel = lightest(car, ramps.raised, ramps.threshold_load, low).wheel;
    return {height, lifted, wheel, low, between(low, car::front_left), between(low, car::rear_left)};
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
