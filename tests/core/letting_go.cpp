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
        CHECK(lets_go_suddenly(m, l, 25) == told->sudden());
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

TEST_CASE("a wheel that goes on hopping is told as that, and not as a car that lets go") {
    examples::Random r;
    Model m;
    m.car = r.car();
    m.car.loads.clear();
    m.car.cg_behind_front_axle = 0.4 * m.car.wheelbase;
    m.axle.front.tyre[0].grip = m.axle.front.tyre[1].grip = 0.85;
    const Limit l = limit(m);
    REQUIRE(l.first == Gives::Front);
    const auto damped = letting_go(m, l, 25);
    for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = -30; // a car that shakes itself
    const auto shaking = letting_go(m, l, 25);
    REQUIRE((damped && shaking));
    CHECK(!damped->shakes);
    CHECK(damped->growth < 0);
    REQUIRE(shaking->shakes);
    CAPTURE(*shaking->shakes, damped->growth, shaking->growth);
    CHECK((*shaking->shakes > 0.5 && *shaking->shakes < 150));
    CHECK(shaking->growth == Approx(damped->growth).margin(0.5));
}

TEST_CASE("lifted beyond the limit a car comes back, ploughs on or turns round, as it does in small fixed steps") {
    examples::Random r;
    int back = 0, spun = 0;
    for (int i = 0; i < 24; ++i) {
        Model m;
        m.car = r.car();
        m.car.loads.clear();
        if (i % 2 == 0) m.drive = {1, 0};
        for (std::size_t e = 0; e < 2; ++e)
            m.axle_inertia[e] = 0.15 * m.car[both_ends[e]].unsprung_mass * std::pow(m.car[both_ends[e]].track, 2);
        const Limit l = limit(m);
        const auto told = letting_go(m, l, 25);
        if (!told || l.first != Gives::Front) continue;
        // Followed here with fixed small steps: let run for half a second, lifted over 0.3 s.
        const Moving car(m);
        Inputs in;
        MotionState q = car.steady(l.at, 25, in.steer, {1.1, 1});
        boost::numeric::odeint::runge_kutta4<MotionState> stepper;
        constexpr double step = 1e-3;
        double last = 0;
        for (double t = 0; t < 6.5 && std::abs(q[at_slide]) < 0.7 * q[at_speed]; t += step) {
            in.along = pedal(m, Phase::Lifted) * std::clamp((t - 0.5) / 0.3, 0.0, 1.0);
            stepper.do_step([&](const MotionState& at, MotionState& d, double) { car(at, d, in); }, q, t, step);
            Inputs lifted = in;
            lifted.along = pedal(m, Phase::Lifted);
            const Instant now = car.now(q, lifted);
            if (t < 0.5 || car.slides(End::Front, now, q) || car.slides(End::Rear, now, q)) last = t;
        }
        const bool spins = std::abs(q[at_slide]) > 0.3 * q[at_speed];
        CAPTURE(i, last, l.left, std::abs(q[at_slide]) / q[at_speed], q[at_speed]);
        if (told->back_lifted)
            CHECK(*told->back_lifted == Approx(last - 0.5).margin(0.06));
        else
            CHECK((last > 6.4 || spins));
        const double slide = std::abs(q[at_slide]) / q[at_speed]; // near 0.3 either may be told
        if (slide < 0.25 || slide > 0.35) CHECK(told->spins_lifted == (spins && !told->back_lifted));
        back += told->back_lifted.has_value();
        spun += spins;
    }
    CAPTURE(back, spun);
    CHECK(back > 0);
    CHECK(spun > 3);
}
} // namespace tests::of_letting_go
