#include "core/balance/transient.h"
#include "core/balance/moving.h"

#include <algorithm>
#include <boost/numeric/odeint.hpp>
#include <cmath>

namespace dervish::balance {
namespace {
/// Steering over time as a share of its height.
double shape(Manoeuvre m, double t) {
    constexpr double start = 0.3;
    const auto sine = [](double u, double period) {
        return u > 0 && u < period ? std::sin(2 * units::pi * u / period) : 0;
    };
    const auto ramp = [](double u, double over) { return std::clamp(u / over, 0.0, 1.0); };
    const double u = t - start;
    switch (m) {
    case Manoeuvre::Step:
        return ramp(u, 0.1);
    case Manoeuvre::SlipRoad:
        return ramp(u, 3.0);
    case Manoeuvre::LaneChange:
        return sine(u, 2.0);
    case Manoeuvre::DoubleLaneChange:
        return sine(u, 2.0) - sine(u - 2.6, 2.0);
    case Manoeuvre::Slalom:
        return sine(std::fmod(std::max(u, 0.0), 2.0), 2.0) * (u < 8 ? 1 : 0);
    case Manoeuvre::SBend:
        return ramp(u, 0.4) - 2 * ramp(u - 2.2, 0.6);
    case Manoeuvre::Gust: // of the wind
        return ramp(u, 0.2) - ramp(u - 2.0, 0.2);
    }
    return 0;
}

double length_of(Manoeuvre m) {
    static constexpr double seconds[] = {3.5, 5.0, 4.0, 6.5, 9.5, 5.5, 4.5};
    return seconds[static_cast<int>(m)];
}

/// From the middle of the steering to 90 % of what the value comes to.
std::optional<double> time_to_90(const std::vector<Moment>& all, double Moment::*value) {
    const double last = all.back().*value;
    if (std::abs(last) < 1e-6) return {};
    for (const Moment& m : all)
        if (m.*value / last >= 0.9) return m.time - 0.35;
    return {};
}

void measure(Run& run, Manoeuvre manoeuvre, double level) {
    double left = 0, right = 0;
    run.lowest_load = 1e30;
    for (const Moment& m : run.moments) {
        right = std::max(right, m.roll - level);
        left = std::max(left, level - m.roll);
        for (std::size_t w = 0; w < 4; ++w)
            if (m.load[w] < run.lowest_load) {
                run.lowest_load = m.load[w];
                run.lowest_wheel = static_cast<int>(w);
            }
    }
    run.roll_peak = std::max(left, right);
    if (manoeuvre == Manoeuvre::LaneChange || manoeuvre == Manoeuvre::DoubleLaneChange ||
        manoeuvre == Manoeuvre::Slalom || manoeuvre == Manoeuvre::SBend)
        run.side_difference = std::abs(left - right);
    if (manoeuvre == Manoeuvre::Step && run.stands && run.holds && run.followed) {
        run.yaw_90 = time_to_90(run.moments, &Moment::yaw);
        run.lateral_90 = time_to_90(run.moments, &Moment::lateral);
        const double settled = run.moments.back().roll - level;
        if (std::abs(settled) > 1e-6) run.roll_overshoot = run.roll_peak / std::abs(settled) - 1;
    }
}
} // namespace

const char* name_of(Manoeuvre m) {
    static constexpr const char* names[] = {
        "step of the wheel", "slip road", "lane change", "double lane change", "slalom", "S-bend", "gust of side wind"};
    return names[static_cast<int>(m)];
}

std::optional<double> roll_damping(const Model& model) {
    const Moving car(model, 20);
    if (!car.leans.lean_tells()) return {};
    constexpr double d = 1e-3;
    const double level = car.leans.level();
    const double by = (car.leans.at(level + d).lateral - car.leans.at(level - d).lateral) / (2 * d);
    double stiffness = 0;
    for (std::size_t e = 0; e < 2; ++e) stiffness += car.lever(e) * car.end[e].mass * by;
    return stiffness > 0 ? std::optional(car.roll_damping() / (2 * std::sqrt(stiffness * car.roll_inertia)))
                         : std::nullopt;
}

Run drive(const Model& model, const Drive& what) {
    namespace odeint = boost::numeric::odeint;
    const Moving car(model, what.speed);
    const bool gust = what.manoeuvre == Manoeuvre::Gust;
    const Corner steady = corner(model, gust ? 1e-6 : what.lateral);
    const double height = gust ? 0
                               : model.car.wheelbase * what.lateral / (what.speed * what.speed) +
                                     std::copysign(steady.steer, what.lateral * steady.steer);
    const double ahead = what.wind_x + car.end[0].arm;
    const auto wind = [&](double t) { return gust ? what.wind * shape(what.manoeuvre, t) : 0; };
    Run out;
    MotionState q{};
    q[2] = car.leans.level();
    const auto steer = [&](double t) { return height * shape(what.manoeuvre, t); };
    const auto note = [&](double t) {
        const Lean lean = car.lean(q, wind(t));
        const auto load = car.loads(q, lean, wind(t));
        out.moments.push_back({t, steer(t), (q[4] + q[5] - wind(t)) / car.mass, q[1], q[0], q[2], q[3], q[6], q[7],
                               q[8], load, car.used(q, load, lean, steer(t))});
    };
    if (!car.leans.settles()) {
        out.stands = false;
        out.moments.push_back({});
        return out;
    }
    const auto motion = [&](const MotionState& at, MotionState& dq, double t) {
        car(at, dq, steer(t), wind(t), what.wind_height, ahead);
    };
    auto stepper = odeint::make_dense_output(1e-7, 1e-6, 0.02, odeint::runge_kutta_dopri5<MotionState>());
    stepper.initialize(q, 0.0, 1e-3);
    constexpr double every = 0.01;
    constexpr int most_steps = 5000; // a usual car takes some hundreds
    const int samples = static_cast<int>(std::lround(length_of(what.manoeuvre) / every));
    out.moments.reserve(static_cast<std::size_t>(samples) + 1);
    int steps = 0;
    for (int i = 0; i <= samples; ++i) {
        const double t = i * every;
        try {
            while (stepper.current_time() < t && steps < most_steps) {
                stepper.do_step(motion);
                ++steps;
            }
        } catch (const odeint::odeint_error&) { // no step is small enough
            steps = most_steps;
        }
        if (i > 0 && steps < most_steps) stepper.calc_state(t, q);
        if (steps >= most_steps || !std::all_of(q.begin(), q.end(), [](double x) { return std::isfinite(x); })) {
            out.followed = false;
            if (out.moments.empty()) out.moments.push_back({});
            break;
        }
        note(t);
        const auto& load = out.moments.back().load;
        if ((load[0] <= 0 && load[2] <= 0) || (load[1] <= 0 && load[3] <= 0)) {
            out.stands = false;
            break;
        }
        if (std::abs(q[0]) > 0.7 * what.speed) { // spun, or ploughed on: the tyres say no more
            out.holds = false;
            break;
        }
    }
    measure(out, what.manoeuvre, car.leans.level());
    return out;
}

} // namespace dervish::balance
