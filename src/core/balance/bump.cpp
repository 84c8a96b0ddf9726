#include "core/balance/bump.h"

#include "core/units/units.h"

#include <cmath>

namespace dervish::balance {

Bump bump(const car::Axle& a, double sprung, double roll_inertia) {
    const bool solid = a.kind == car::AxleKind::Solid;
    const double t = a.track;
    Eigen::Matrix2d bar = a.bar; // at the wheels
    if (a.linkage)
        bar = (*a.linkage)({0, 0}).rate;
    else if (solid)
        bar *= a.bar_base * a.bar_base / (t * t);
    Bump out{};
    out.wheel_rate = a.spring_rate;
    const double springs = solid ? a.spring_rate * (1 + a.spring_base * a.spring_base / (t * t)) / 2 : a.spring_rate;
    // A solid axle's wheel moved alone turns the axle by s/t; half of that is roll, half heave.
    const double parasitic = a.parasitic_roll_stiffness / (t * t);
    const double roll_of_bar = (bar(0, 0) - 2 * bar(0, 1) + bar(1, 1)) / 4;
    out.one_wheel_rate = springs + (solid ? roll_of_bar : bar(0, 0)) + parasitic;
    out.harshness = out.one_wheel_rate / out.wheel_rate;
    const auto frequency = [&](double rate) {
        const double series = rate * a.tyre_rate / (rate + a.tyre_rate);
        return std::sqrt(series / (sprung / 2)) / (2 * units::pi);
    };
    out.ride = frequency(out.wheel_rate);
    out.one_wheel = frequency(out.one_wheel_rate);
    const double base = solid ? a.spring_base : t;
    const double roll_stiffness = a.spring_rate * base * base / 2 + roll_of_bar * t * t + a.parasitic_roll_stiffness;
    out.rock = roll_stiffness / (t * roll_inertia);
    return out;
}

} // namespace dervish::balance
