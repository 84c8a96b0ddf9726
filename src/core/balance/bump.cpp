#include "core/balance/bump.h"

#include "core/units/units.h"

#include <cmath>

namespace dervish::balance {

Bump bump(const car::Axle& a, double sprung) {
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
    out.wheel_rate = a.spring_rate;
    const double springs = solid ? a.spring_rate * (1 + a.spring_base * a.spring_base / (t * t)) / 2 : a.spring_rate;
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

} // namespace dervish::balance
