#include "core/balance/letting_go.h"

#include "core/balance/moving.h"
#include "core/num/dense.h"

#include <boost/numeric/odeint/stepper/generation/generation_controlled_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_dense_output_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_runge_kutta_dopri5.hpp>
#include <boost/numeric/odeint/stepper/generation/make_dense_output.hpp>
#include <boost/numeric/odeint/stepper/runge_kutta_dopri5.hpp>
#include <complex>
#include <limits>
#include <utility>

namespace dervish::balance {
namespace {
/// A steady turn as the equations of motion have it, and the steering that holds it.
struct Turning {
    Inputs in;
    MotionState q; // after `in`, whose steering it sets
    double slide;
    Turning(const Moving& car, const Corner& c, double speed, const PerAxle<double>& more = {1, 1})
        : q(car.steady(c, speed, in.steer, more)), slide(q[at_slide] / speed) {}
};

struct Growth {
    double turning;                ///< 1/s
    std::optional<double> shaking; ///< Hz
};
Growth growth_at(const Moving& car, const Turning& at) {
    // Path, heading and speed do not grow, nor does a stiff body's missing unknown.
    std::vector<std::pair<std::size_t, double>> states; // with each one's own small step
    for (std::size_t i = 0; i < static_cast<std::size_t>(car.count()); ++i) states.emplace_back(at_body + i, 1e-5);
    for (std::size_t i = 0; i < static_cast<std::size_t>(car.count()); ++i) states.emplace_back(at_rate + i, 1e-4);
    states.emplace_back(at_slide, 1e-3);
    states.emplace_back(at_yaw, 1e-4);
    for (std::size_t w = 0; w < 4; ++w) states.emplace_back(at_deflection + w, 1e-5);
    const auto count = static_cast<Eigen::Index>(states.size());
    Eigen::MatrixXd slopes(count, count);
    for (Eigen::Index j = 0; j < count; ++j) {
        const auto [place, step] = states[static_cast<std::size_t>(j)];
        MotionState less = at.q, more = at.q, d_less{}, d_more{};
        less[place] -= step;
        more[place] += step;
        car(less, d_less, at.in);
        car(more, d_more, at.in);
        for (Eigen::Index i = 0; i < count; ++i) {
            const std::size_t of = states[static_cast<std::size_t>(i)].first;
            slopes(i, j) = (d_more[of] - d_less[of]) / (2 * step);
        }
    }
    const FreeMotions motions = free_motions(std::move(slopes));
    const Eigen::Index slide = 2 * car.count();
    Growth out{-std::numeric_limits<double>::infinity(), {}};
    Eigen::Index fastest = 0;
    motions.values.real().maxCoeff(&fastest);
    const Eigen::VectorXd turns = motions.shares.row(slide) + motions.shares.row(slide + 1);
    for (Eigen::Index i = 0; i < count; ++i)
        if (turns[i] >= std::min(0.2, turns.maxCoeff())) out.turning = std::max(out.turning, motions.values[i].real());
    const std::complex<double> fast = motions.values[fastest];
    if (fast.real() > std::max(0.0, out.turning)) out.shaking = std::abs(fast) / (2 * units::pi);
    return out;
}

struct Followed {
    std::optional<double> back; ///< s after easing began; nothing: not within `longest`
    double slide;               ///< at the end, over the speed
};
/// Let run beyond for half a second, then eased: `ease` changes the inputs by a part that grows from 0 to 1, and `off`
/// says whether the car is still off.
template <class Ease, class Off>
Followed follow_back(const Moving& car, const Turning& beyond, double longest, Ease&& ease, Off&& off) {
    namespace odeint = boost::numeric::odeint;
    constexpr double held = 0.5, easing = 0.3, every = 0.02;
    const auto motion = [&](const MotionState& q, MotionState& dq, double t) {
        car(q, dq, ease(std::clamp((t - held) / easing, 0.0, 1.0)));
    };
    auto stepper = odeint::make_dense_output(1e-4, 1e-3, 10 * every, odeint::runge_kutta_dopri5<MotionState>());
    MotionState q = beyond.q;
    stepper.initialize(q, 0.0, 1e-3);
    double last_off = 0;
    int steps = 0;
    for (double t = every; t < held + longest; t += every) {
        try {
            while (stepper.current_time() < t) {
                if (++steps > 6000) return {{}, std::abs(q[at_slide]) / q[at_speed]}; // too quick to be followed
                stepper.do_step(motion);
            }
        } catch (const odeint::odeint_error&) { // no step is small enough
            return {{}, std::abs(q[at_slide]) / q[at_speed]};
        }
        stepper.calc_state(t, q);
        if (!(std::abs(q[at_slide]) < 0.7 * q[at_speed])) return {{}, 1};
        if (t < held || off(q)) last_off = t;
    }
    const double slide = std::abs(q[at_slide]) / q[at_speed];
    if (last_off > held + longest - 2 * every) return {{}, slide};
    return {std::max(0.0, last_off - held), slide};
}
} // namespace

namespace {
constexpr double doubles_in_a_second = 0.6931471805599453; // 1/s

/// The turn a little beyond the limit, and that of 80 % of it, to which the steering is eased.
struct Beyond {
    Moving car;
    Turning settled, beyond;
    Beyond(const Model& m, const Limit& l, double speed)
        : car(m), settled(car, corner(m, (l.at.lateral < 0 ? -0.8 : 0.8) * l.lateral), speed),
          beyond(car, l.at, speed, {l.first == Gives::Front ? past : 1, l.first == Gives::Rear ? past : 1}) {}
    Growth growth() const { return growth_at(car, beyond); }
    std::optional<double> eased_back() const {
        const auto steering = [&](double part) {
            Inputs in = beyond.in;
            in.steer += part * (settled.in.steer - in.steer);
            return in;
        };
        const auto astray = [&](const MotionState& q) {
            return std::abs(q[at_slide] / q[at_speed] - settled.slide) > 0.03 ||
                   std::abs(q[at_yaw] - settled.q[at_yaw]) > 0.03;
        };
        return follow_back(car, beyond, 4, steering, astray).back;
    }
    Followed lifted(double along) const {
        const auto throttle = [&](double part) {
            Inputs in = beyond.in;
            in.along = part * along;
            return in;
        };
        const auto slides = [&](const MotionState& q) {
            const Instant at = car.now(q, throttle(1));
            return car.slides(End::Front, at, q) || car.slides(End::Rear, at, q);
        };
        return follow_back(car, beyond, 6, throttle, slides);
    }

private:
    static constexpr double past = 1.1; // times the slip at the most that an axle gives
};

bool an_end_goes(const Limit& l) { return l.first == Gives::Front || l.first == Gives::Rear; }
} // namespace

bool LettingGo::sudden() const { return growth > doubles_in_a_second || !back; }

std::optional<LettingGo> letting_go(const Model& m, const Limit& l, double speed) {
    if (!an_end_goes(l)) return {};
    const Beyond at(m, l, speed);
    const Corner before = corner(m, (l.at.lateral < 0 ? -0.9 : 0.9) * l.lateral);
    const Turning then(at.car, before, speed), now(at.car, l.at, speed);
    const Growth growth = at.growth();
    const Followed lifted = at.lifted(pedal(m, Phase::Lifted));
    return LettingGo{std::abs(now.in.steer - then.in.steer),
                     std::abs(now.slide - then.slide),
                     std::abs(l.at.lean() - before.lean()),
                     growth.turning,
                     growth.shaking,
                     at.eased_back(),
                     lifted.back,
                     !lifted.back && lifted.slide > 0.3};
}

std::optional<bool> lets_go_suddenly(const Model& m, const Limit& l, double speed) {
    if (!an_end_goes(l)) return {};
    const Beyond at(m, l, speed);
    return at.growth().turning > doubles_in_a_second || !at.eased_back();
}

} // namespace dervish::balance
