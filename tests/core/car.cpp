#include "core/car/axle.h"
#include "core/car/equilibrium.h"
#include "core/num/bad_input.h"
#include "core/units/units.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_car {
using namespace dervish;
using namespace dervish::car;
using units::g;

namespace {
double total_load(const State& s) {
    double sum = 0;
    for (const Wheel& w : s.wheels) sum += w.load;
    return sum;
}

double weight(const Car& c) { return (loaded(c).mass + c.front.unsprung_mass + c.rear.unsprung_mass) * g; }
} // namespace

TEST_CASE("a car near a settled one is told by slopes only while every stop, spring and tyre keeps its side") {
    examples::Random r;
    Car c = r.car();
    for (Axle* a : {&c.front, &c.rear}) {
        a->kind = AxleKind::Independent;
        a->bump_gap = a->droop_gap = 0.2;
    }
    const Situation turn{.lateral_acceleration = 2};
    const State s = settle(c, turn);
    REQUIRE(s.converged);
    const Nearby near(c, turn, s);
    for (const std::size_t w : {0u, 3u}) {
        const End end = end_of(w);
        for (const bool bump : {true, false}) {
            const double room = bump ? s.wheels[w].room_bump : s.wheels[w].room_droop;
            REQUIRE(room > 0.02);
            Car other = c;
            (bump ? other[end].bump_gap : other[end].droop_gap) -= 0.3 * room;
            CHECK(near.of(other, turn).converged);
            CHECK(near.of(other, turn, 3).converged);
            CHECK_FALSE(near.of(other, turn, 3.6).converged);
        }
        // A spring that carries 1000 N may be held off by 900, not by 1100.
        const double load = s.wheels[w].spring;
        REQUIRE(load > 100);
        for (const double part : {0.9, 1.1}) {
            Car other = c;
            other[end].captive_springs = false;
            other[end].stuck[w % 2] = -part * load;
            const State there = near.of(other, turn);
            CHECK((there.wheels[w].spring > 0) == there.converged);
        }
    }
}

TEST_CASE("random cars: equilibrium found, loads carry the weight, and mirrored cars mirror") {
    examples::Random r;
    for (int i = 0; i < 60; ++i) {
        Car c = r.car();
        const Situation turn{.lateral_acceleration = r(-4, 4),
                             .wheel_height = {r(0, 0.1), r(0, 0.1), r(0, 0.1), r(0, 0.1)}};
        const State s = settle(c, turn);
        REQUIRE(s.converged);
        CHECK(s.residual < 1e-6);
        CHECK(total_load(s) == Approx(weight(c)).epsilon(1e-6));

        Car mirror = c;
        mirror.cg_left = -c.cg_left;
        for (PointMass& m : mirror.loads) m.y = -m.y;
        const auto& h = turn.wheel_height;
        const State m = settle(
            mirror, {.lateral_acceleration = -turn.lateral_acceleration, .wheel_height = {h[1], h[0], h[3], h[2]}});
        CHECK(m.roll[0] == Approx(-s.roll[0]).margin(1e-9));
        for (int w = 0; w < 4; ++w) CHECK(m.wheels[w ^ 1].load == Approx(s.wheels[w].load).margin(1e-4));

        const State warm = settle(c, turn, &m); // from anywhere else to the same place
        CHECK((warm.q - s.q).norm() < 1e-7);
    }
}

TEST_CASE("the gradient is the slope of the energy and the Hessian that of the gradient") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        const Car c = r.car();
        const Axle& axle = i % 2 ? c.rear : c.front;
        const AxleFrame f{&axle, 1.2, 0.03, 0.6, 500, {2500, 2400}, {0.02, 0.021}, g, 3, 200, 1.1, {0.05, 0}, 140};
        Vector5 q;
        q << r(-.1, .1), r(-.1, .1), r(-.1, .1), r(-.12, .12), r(-.1, .1);
        const AxleEnergy at = energy(f, q);
        for (int k = 0; k < 5; ++k) {
            constexpr double h = 1e-6;
            Vector5 up = q, down = q;
            up[k] += h;
            down[k] -= h;
            const AxleEnergy a = energy(f, up), b = energy(f, down);
            CHECK(at.gradient[k] == Approx((a.value - b.value) / (2 * h)).epsilon(1e-5).margin(1e-2));
            for (int j = 0; j < 5; ++j)
                CHECK(at.hessian(k, j) == Approx((a.gradient[j] - b.gradient[j]) / (2 * h)).epsilon(1e-4).margin(20));
        }
    }
}

TEST_CASE("total load transfer is the moment about the ground within 1e-6") {
    // Virtual work of rolling the whole car: side forces at their heights, and the weights that the lean carries
    // sideways. Taken at so small a turn that the geometry stays level and the sum is exact.
    examples::Random r;
    for (int i = 0; i < 40; ++i) {
        Car c = r.car();
        c.loads.clear();
        const double a = 1e-3;
        const State s = settle(c, {.lateral_acceleration = a});
        REQUIRE(s.converged);
        const Loaded l = loaded(c);
        double moment = 0;
        for (int k = 0; k < 2; ++k) {
            const Axle& axle = k == 0 ? c.front : c.rear;
            const double sprung = l.share[k], tilt = s.roll[k] + s.q[k == 0 ? 5 : 7];
            moment += a * (sprung * l.z + axle.unsprung_mass * axle.unsprung_height) +
                      sprung * g * (l.z - axle.roll_centre_height) * s.roll[k];
            if (axle.kind == AxleKind::Solid)
                moment += g * (sprung * axle.roll_centre_height + axle.unsprung_mass * axle.unsprung_height) * tilt;
        }
        CHECK(load_transfer_moment(c, s) == Approx(moment).epsilon(1e-6));
    }
}

TEST_CASE("a level car as weighed stands level, with its corner loads, whatever twist is in it") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        Car c = r.car();
        c.loads.clear();
        c.cg_left = r(-0.03, 0.03);
        c.twist = r(-200, 200);
        const State s = settle(c, {});
        CHECK(s.q.norm() < 1e-9);
        const double front = c.front.track / 2 * (s.wheels[0].load - s.wheels[1].load),
                     rear = c.rear.track / 2 * (s.wheels[2].load - s.wheels[3].load);
        CHECK(front + rear == Approx(loaded(c).mass * g * c.cg_left).margin(1e-6));
        CHECK(front - loaded(c).share[0] * g * c.cg_left == Approx(c.twist).margin(1e-6));
    }
}

TEST_CASE("a load aboard settles the car, a re-levelled one stands level again") {
    examples::Random r;
    Car c = r.car();
    c.loads = {{150, -c.wheelbase, 0, 0.9}};
    CHECK(settle(c, {}).pitch < -1e-4); // nose up: the load sits over the rear axle
    c.relevelled = true;
    CHECK(settle(c, {}).q.norm() < 1e-9);
    c.loads.push_back({100, -1, 0.4, 1.5});
    c.relevelled = false;
    CHECK(settle(c, {}).roll[0] < 0); // leans to the left, where the load is
}

TEST_CASE("a turn, a side slope, a wind and braking push the way they should") {
    examples::Random r;
    const Car c = r.car();
    CHECK(settle(c, {.lateral_acceleration = 2}).roll[0] > 0);
    const State slope = settle(c, {.side_slope = 10 * units::deg}),
                turn = settle(c, {.lateral_acceleration = g * std::tan(10 * units::deg)});
    CHECK(slope.roll[0] == Approx(turn.roll[0]).epsilon(0.05)); // the same side force over a little less weight
    CHECK(total_load(slope) == Approx(weight(c) * std::cos(10 * units::deg)).epsilon(1e-6));
    const State wind = settle(c, {.wind_force = 1500, .wind_height = 1.2, .wind_x = -0.5});
    CHECK(wind.wheels[1].load > wind.wheels[0].load);
    const State braking = settle(c, {.longitudinal_acceleration = -4});
    CHECK(braking.pitch > 0);
    CHECK(braking.wheels[0].load > settle(c, {}).wheels[0].load);
    Car soft_tyres = c;
    soft_tyres.front.lateral_tyre_rate = soft_tyres.rear.lateral_tyre_rate = 2e5;
    CHECK(load_transfer_moment(soft_tyres, settle(soft_tyres, {.lateral_acceleration = 3})) >
          load_transfer_moment(c, settle(c, {.lateral_acceleration = 3})));
}

TEST_CASE("a table of spring force that is a straight line is a rate, springs do not pull unless captive") {
    examples::Random r;
    Car c = r.car(), tabled = c;
    const double k = c.front.spring_rate;
    tabled.front.spring_table = {{-0.2, -0.2 * k}, {-0.01, -0.01 * k}, {0.05, 0.05 * k}, {0.2, 0.2 * k}};
    const Situation turn{.lateral_acceleration = 3, .wheel_height = {0.06, 0, 0, 0}};
    CHECK((settle(c, turn).q - settle(tabled, turn).q).norm() < 1e-8);
    c.front.droop_gap = 0.5; // hanging free: the spring falls out of its seat
    c.front.spring_rate = 1e5;
    Car captive = c;
    captive.front.captive_springs = true;
    Situation lifted;
    lifted.wheel_height = {0.5, 0, 0, 0.5};
    CHECK(settle(captive, lifted).wheels[1].travel > settle(c, lifted).wheels[1].travel + 1e-4);
}

TEST_CASE("the first wheel to lift carries nothing there, and the car stands until its rollover threshold") {
    examples::Random r;
    for (int i = 0; i < 10; ++i) {
        const Car c = r.car();
        const auto lift = first_lift(c);
        REQUIRE(lift);
        const auto threshold = rollover_threshold(c);
        REQUIRE(threshold);
        CHECK(threshold->acceleration >= lift->acceleration - 1e-3);
        const double way = lift->wheel % 2 == 0 ? 1 : -1;
        CHECK(settle(c, {.lateral_acceleration = way * 0.98 * lift->acceleration})
                  .wheels[static_cast<std::size_t>(lift->wheel)]
                  .load > 0);
        CHECK(lift->state.wheels[static_cast<std::size_t>(lift->wheel)].load < 0.03 * weight(c));
    }
}

TEST_CASE("a stiffer front bar leans less and takes more of the load transfer") {
    examples::Random r;
    Car c = r.car();
    const Handling before = handling(c);
    c.front.bar << 2e4, -2e4, -2e4, 2e4;
    const Handling after = handling(c);
    CHECK(after.roll_gradient < before.roll_gradient);
    CHECK(after.front_share > before.front_share);
}

TEST_CASE("a car that cannot be is told where") {
    examples::Random r;
    Car c = r.car();
    c.front.track = -1;
    CHECK_THROWS_WITH(settle(c, {}), Catch::Contains("front/track"));
    c = r.car();
    c.sprung_mass = -5;
    CHECK_THROWS_WITH(settle(c, {}), Catch::Contains("sprung_mass"));
    c = r.car();
    c.cg_behind_front_axle = 9;
    CHECK_THROWS_WITH(settle(c, {}), Catch::Contains("cg_behind_front_axle"));
}

} // namespace tests::of_car
