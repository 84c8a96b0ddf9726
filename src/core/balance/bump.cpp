#include "core/balance/bump.h"

#include "core/units/units.h"

#include <cmath>

namespace dervish::balance {

Bump bump(const car::Axle& a, double sprung, double stops) {
    const bool solid = a.kind == AxleKind::Solid;
    const double t = a.track;
    // Of the force law over a whole bump, since the slope at rest lies inside the joints' play.
    double alone = 0; // rate of one wheel moved
    if (a.linkage) {
        const auto force = [&](double left, double right) -> Eigen::Vector2d {
            return (*a.linkage)({left, right}).force - (*a.linkage)({0, 0}).force;
        };
        constexpr double h = bump_height;
        alone = (force(h, 0)[0] + force(0, h)[1]) / (2 * h);
    } else {
        const double lever = solid ? a.bar_base * a.bar_base / (t * t) : 1;
        alone = lever * (a.bar(0, 0) + a.bar(1, 1)) / 2;
    }
    Bump out{};
    out.wheel_rate = a.spring_rate + stops;
    const double springs = solid ? out.wheel_rate * (1 + a.spring_base * a.spring_base / (t * t)) / 2 : out.wheel_rate;
    // A solid axle's wheel moved alone turns the axle by s/t; half of that is roll, half heave.
    const double parasitic = a.parasitic_roll_stiffness / (t * t);
    out.one_wheel_rate = springs + alone + parasitic;
    out.harshness = out.one_wheel_rate / out.wheel_rate;
    const auto frequency = [&](double rate) {
        const double series = rate * a.tyre_rate / (rate + a.tyre_rate);
        return std::sqrt(series / (sprung / 2)) / (2 * units::pi);
    };
    out.ride = frequency(out.wheel_rate);
    out.one_wheel = frequency(out.one_wheel_rate);
    return out;
}

PerAxle<Bump> bumps(const car::Car& car, const car::State& still) {
    const car::Loaded l = car::loaded(car);
    PerAxle<Bump> out{};
    for (const End end : both_ends) {
        const car::Axle& a = car[end];
        const double left = still.wheels[wheel_at(end, 0)].travel, right = still.wheels[wheel_at(end, 1)].travel,
                     out_of_middle = (a.kind == AxleKind::Solid ? a.spring_base / a.track : 1) * (left - right) / 2;
        double stops = 0;
        for (const std::size_t side : {0, 1}) {
            const double travel = (left + right) / 2 + (side == 0 ? out_of_middle : -out_of_middle);
            if (const double e = travel - a.bump_room(side); e > 0) stops += (a.bump_k1 + 3 * a.bump_k3 * e * e) / 2;
            if (travel < -a.droop_room(side)) stops += a.droop_k / 2;
        }
        out[end] = bump(a, l.share[index(end)], stops);
    }
    return out;
}

} // namespace dervish::balance
