#include "core/balance/letting_go.h"

#include "core/balance/moving.h"

#include <Eigen/Eigenvalues>
#include <boost/numeric/odeint.hpp>

namespace dervish::balance {
namespace {
/// A steady turn as the equations of motion have it, and the steering that holds it. `more`: factors on the slips.
struct Turning {
    MotionState q{};
    double steer, slide;
};
Turning turning(const Moving& car, const Corner& c, const PerAxle<double>& more) {
    const double way = c.lateral < 0 ? -1 : 1;
    Turning out{};
    const Lean lean = car.leans.at_lateral(c.lateral);
    out.q[1] = c.lateral / car.speed;
    out.q[2] = lean.roll;
    PerAxle<double> turned{}; // by roll and compliance, on the wheels
    for (std::size_t e = 0; e < 2; ++e) {
        const AxleGrip& a = car.model.axle[e];
        out.q[4 + e] = c.lateral * (car.end[e].mass + car.end[e].unsprung);
        turned[e] = a.roll_steer * lean.end_roll[e] + (a.side_steer + a.trail_steer) * out.q[4 + e];
    }
    out.q[0] = (turned.rear - way * more.rear * c.slip.rear) * car.speed - car.end.rear.arm * out.q[1];
    out.slide = out.q[0] / car.speed;
    out.steer = way * more.front * c.slip.front + turned.front + (out.q[0] + car.end.front.arm * out.q[1]) / car.speed;
    return out;
}

double growth_at(const Moving& car, const Turning& at) {
    constexpr std::size_t states = 6;
    // Each state's own small step: m/s, rad/s, rad, rad/s, N, N.
    static constexpr double step[states] = {1e-3, 1e-4, 1e-5, 1e-4, 1, 1};
    Eigen::Matrix<double, states, states> slopes;
    for (std::size_t j = 0; j < states; ++j) {
        MotionState less = at.q, more = at.q, d_less{}, d_more{};
        less[j] -= step[j];
        more[j] += step[j];
        car(less, d_less, at.steer, 0, 0, 0);
        car(more, d_more, at.steer, 0, 0, 0);
        for (std::size_t i = 0; i < states; ++i)
            slopes(static_cast<int>(i), static_cast<int>(j)) = (d_more[i] - d_less[i]) / (2 * step[j]);
    }
    return Eigen::EigenSolver<Eigen::MatrixXd>(slopes, false).eigenvalues().real().maxCoeff();
}

/// Until it follows `eased` again, having been let run beyond for half a second.
std::optional<double> back_from(const Moving& car, const Turning& beyond, const Turning& eased) {
    constexpr double step = 0.005, held = 0.5, easing = 0.3, longest = 4;
    const auto steer = [&](double t) {
        return beyond.steer + (eased.steer - beyond.steer) * std::clamp((t - held) / easing, 0.0, 1.0);
    };
    boost::numeric::odeint::runge_kutta4<MotionState> stepper;
    const auto motion = [&](const MotionState& q, MotionState& dq, double t) { car(q, dq, steer(t), 0, 0, 0); };
    MotionState q = beyond.q;
    double last_off = 0;
    for (double t = 0; t < held + longest; t += step) {
        stepper.do_step(motion, q, t, step);
        if (!(std::abs(q[0]) < 0.7 * car.speed)) return {};
        const double off = std::max(std::abs(q[0] / car.speed - eased.slide), std::abs(q[1] - eased.q[1]));
        if (off > 0.03 || t < held) last_off = t + step;
    }
    if (last_off > held + longest - 2 * step) return {};
    return std::max(0.0, last_off - held);
}
} // namespace

bool LettingGo::sudden() const { return growth > std::log(2.0) || !back; }

std::optional<LettingGo> letting_go(const Model& m, const Limit& l, double speed) {
    if (l.first != Gives::Front && l.first != Gives::Rear) return {};
    const Moving car(m, speed);
    if (!car.leans.lean_tells()) return {};
    const double way = l.at.lateral < 0 ? -1 : 1;
    const Corner before = corner(m, 0.9 * way * l.lateral), eased = corner(m, 0.8 * way * l.lateral);
    constexpr double past = 1.1;
    const Turning then = turning(car, before, {1, 1}), now = turning(car, l.at, {1, 1}),
                  beyond = turning(car, l.at, {l.first == Gives::Front ? past : 1, l.first == Gives::Rear ? past : 1});
    return LettingGo{std::abs(now.steer - then.steer), std::abs(now.slide - then.slide),
                     std::abs(l.at.lean() - before.lean()), growth_at(car, beyond),
                     back_from(car, beyond, turning(car, eased, {1, 1}))};
}

} // namespace dervish::balance
