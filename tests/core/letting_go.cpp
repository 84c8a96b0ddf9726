#include "core/balance/letting_go.h"
#include "core/balance/moving.h"
#include "examples.h"

#include <boost/numeric/odeint.hpp>
#include <catch2/catch.hpp>

namespace tests::of_letting_go {
using namespace dervish;
using namespace dervish::balance;

namespace {
/// Steered slowly a tenth further than any steady turn asks, and held: whether the car spins. The manoeuvres' own
/// equations, followed in time.
bool spins(const Model& m, const Limit& l) {
    constexpr double speed = 25, step = 0.02;
    double most = 0;
    for (int i = 1; i <= 40; ++i) {
        const double lateral = l.lateral * i / 40;
        most = std::max(most, m.car.wheelbase * lateral / (speed * speed) + corner(m, lateral).steer);
    }
    const Moving car(m);
    Inputs in;
    MotionState q = *car.steady_in_wind(in, speed);
    auto stepper =
        boost::numeric::odeint::make_controlled(1e-5, 1e-4, boost::numeric::odeint::runge_kutta_dopri5<MotionState>());
    double before = 0;
    for (double t = 0; t < 16; t += step) {
        boost::numeric::odeint::integrate_adaptive(
            stepper,
            [&](const MotionState& at, MotionState& d, double now) {
                Inputs steered;
                steered.steer = 1.1 * most * std::min(1.0, now / 5);
                car(at, d, steered);
            },
            q, t, t + step, step);
        if (!(std::abs(q[at_slide]) < 0.7 * speed)) return true;
        if (std::abs(t - 15) < step / 2) before = std::abs(q[at_slide]);
    }
    return std::abs(q[at_slide]) > before + 2;
}
} // namespace

TEST_CASE("what grows just beyond the limit is what spins when it is driven there, in 100 made-up cars") {
    examples::Random r;
    int same = 0, growing = 0;
    for (int i = 0; i < 100;) {
        Model m;
        m.car = r.car();
        m.yaw_inertia = m.car.sprung_mass * r(1.2, 2.2);
        m.roll_inertia = m.car.sprung_mass * r(0.3, 0.6);
        for (AxleGrip& a : m.axle.both()) a.tyre[0].grip = a.tyre[1].grip = r(0.75, 0.95);
        const Limit l = limit(m);
        const auto told = letting_go(m, l, 25);
        if (!told) continue;
        ++i;
        growing += told->growth > 0;
        same += spins(m, l) == (told->growth > 0);
    }
    CAPTURE(growing, same);
    CHECK((growing > 15 && growing < 85));
    CHECK(same >= 95);
}

TEST_CASE("a rear bar that takes the rear's grip away turns a car that ploughs into one that lets go suddenly") {
    examples::Random r;
    Model m;
    m.car = r.car();
    m.car.loads.clear();
    m.car.rear = r.axle(AxleKind::Independent);
    m.car.rear.track = m.car.front.track = 1.5;
    m.car.cg_behind_front_axle = 0.47 * m.car.wheelbase;
    m.car.cg_height = 0.55;
    m.axle.front.tyre[0].grip = m.axle.front.tyre[1].grip = 0.94;
    const auto with_rear = [&](double k) {
        m.car.rear.bar << k, -k, -k, k;
        const Limit l = limit(m);
        return std::pair{l, letting_go(m, l, 25)};
    };
    const auto [soft_limit, soft] = with_rear(0);
    const auto [stiff_limit, stiff] = with_rear(90000);
    REQUIRE((soft && stiff));
    CHECK(soft_limit.first == Gives::Front);
    CHECK(stiff_limit.first == Gives::Rear);
    CHECK((soft->growth < 0 && !soft->sudden() && soft->back));
    CHECK((stiff->growth > 0 && stiff->sudden()));
    CHECK(stiff->lean < soft->lean); // and leans less of a warning
}
} // namespace tests::of_letting_go
