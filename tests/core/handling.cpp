#include "core/car/handling.h"

#include "core/units/units.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_handling {
using namespace dervish;
using namespace dervish::car;
using units::g;

namespace {
/// A car that does not lean: very stiff springs and tyres, so that rigid-body statics hold.
Car rigid_car() {
    const auto axle = [] {
        Axle a{.kind = AxleKind::Independent,
               .track = 1.5,
               .unsprung_mass = 80,
               .unsprung_height = 0.3,
               .tyre_rate = 5e8,
               .spring_rate = 5e8,
               .bump_gap = 0.1,
               .bump_k1 = 1e5,
               .bump_k3 = 0,
               .droop_gap = 0.1,
               .droop_k = 1e5,
               .roll_centre_height = 0.1,
               .spring_table = {},
               .linkage = {}};
        a.captive_springs = true;
        return a;
    };
    car::Car out;
    out.front = out.rear = axle();
    out.wheelbase = 2.5;
    out.sprung_mass = 1000;
    out.cg_behind_front_axle = 1.25;
    out.cg_height = 0.6;
    return out;
}
} // namespace

TEST_CASE("a car that does not lean transfers m a h and tips at half its track over its height") {
    const Car c = rigid_car();
    const double moment = 1000 * 0.6 + 160 * 0.3, mass = 1160; // about the ground
    const State s = settle(c, {.lateral_acceleration = 3});
    CHECK(load_transfer_moment(c, s) == Approx(3 * moment).epsilon(1e-4));
    CHECK(front_share_of_load_transfer(c, s) == Approx(0.5).epsilon(1e-4));
    const auto tips = rollover_threshold(c);
    REQUIRE(tips);
    CHECK(tips->acceleration == Approx(mass * g * 0.75 / moment).epsilon(1e-3));
    CHECK(handling(c).roll_gradient == Approx(0).margin(1e-5));
}

TEST_CASE("a side slope is a turn with the weight that is left") {
    examples::Random r;
    for (int i = 0; i < 25; ++i) {
        const Car c = r.car();
        const double slope = r(0.02, 0.15);
        const State on_slope = settle(c, {.side_slope = slope});
        REQUIRE(on_slope.converged);
        double whole = 0;
        for (const Wheel& w : on_slope.wheels) whole += w.load;
        const double mass = loaded(c).mass + c.front.unsprung_mass + c.rear.unsprung_mass;
        CHECK(whole == Approx(mass * g * std::cos(slope)).epsilon(1e-6)); // square to the slope
        const State turned = settle(c, {.lateral_acceleration = g * std::tan(slope)});
        CHECK(on_slope.roll[0] == Approx(turned.roll[0]).epsilon(0.06).margin(1e-4));
        CHECK(settle(c, {.side_slope = -slope}).roll[0] < on_slope.roll[0]);
    }
}

TEST_CASE("the front share follows the roll stiffness, and the two shares of a mirrored car are the same") {
    examples::Random r;
    for (int i = 0; i < 25; ++i) {
        Car c = r.car();
        c.loads.clear();
        double last = roll_and_share(c).second;
        // What the front's wheels carry of what all four carry sideways, between turns of 0.3 g to either side.
        const State to_left = settle(c, {.lateral_acceleration = 0.3 * g}),
                    to_right = settle(c, {.lateral_acceleration = -0.3 * g});
        const auto moment = [&](const Axle& a, std::size_t w) {
            const auto of = [&](const State& s) { return a.track / 2 * (s.wheels[w + 1].load - s.wheels[w].load); };
            return of(to_left) - of(to_right);
        };
        const double front = moment(c.front, 0), rear = moment(c.rear, 2);
        CHECK(last == Approx(front / (front + rear)).epsilon(1e-3));
        for (int step = 0; step < 3; ++step) {
            c.front.bar += 6000 * (Eigen::Matrix2d() << 1, -1, -1, 1).finished();
            const double share = roll_and_share(c).second;
            CHECK(share > last);
            last = share;
        }
        const State left = settle(c, {.lateral_acceleration = 2}), right = settle(c, {.lateral_acceleration = -2});
        CHECK(front_share_of_load_transfer(c, left) == Approx(front_share_of_load_transfer(c, right)).epsilon(1e-6));
    }
}

TEST_CASE("the roll gradient is linear in the mass's height above the roll axis, less what the lean adds") {
    examples::Random r;
    for (int i = 0; i < 25; ++i) {
        Car c = r.car();
        const double low = roll_and_share(c).first;
        c.cg_height += 0.1;
        const double high = roll_and_share(c).first;
        CHECK(high > low);
        for (Axle* a : {&c.front, &c.rear}) a->spring_rate *= 1.5;
        CHECK(roll_and_share(c).first < high);
    }
}

TEST_CASE("the first lift comes before the rollover, and sooner for a taller or loaded car") {
    examples::Random r;
    int lifted = 0;
    for (int i = 0; i < 25; ++i) {
        Car c = r.car();
        c.loads.clear();
        c.cg_height += 0.25;
        const auto lift = first_lift(c);
        const auto over = rollover_threshold(c);
        if (!lift || !over) continue;
        ++lifted;
        CHECK(lift->acceleration <= over->acceleration * (1 + 1e-6));
        Car roofed = c;
        roofed.loads.push_back({150, -c.wheelbase / 2, 0, 2.0});
        const auto sooner = rollover_threshold(roofed);
        REQUIRE(sooner);
        CHECK(sooner->acceleration < over->acceleration);
        const Handling h = handling(c);
        CHECK(h.first_lift == Approx(lift->acceleration));
        CHECK(h.first_wheel == lift->wheel);
    }
    CHECK(lifted > 10);
}

TEST_CASE("a low wide car lifts nothing below 2 g and says so") {
    Car c = rigid_car();
    c.cg_height = 0.12;
    c.front.unsprung_height = c.rear.unsprung_height = 0.12;
    CHECK_FALSE(first_lift(c));
    CHECK_FALSE(rollover_threshold(c));
    const Handling h = handling(c);
    CHECK(std::isinf(h.first_lift));
    CHECK(h.first_wheel == -1);
}

TEST_CASE("accelerating squats, braking dives, by m a h over the wheelbase on stiff springs") {
    const Car c = rigid_car();
    const double per = (1000 * 0.6 + 160 * 0.3) / 2.5;
    const State rest = settle(c, {}), brakes = settle(c, {.longitudinal_acceleration = -4});
    CHECK(brakes.wheels[front_left].load + brakes.wheels[front_right].load - rest.wheels[front_left].load -
              rest.wheels[front_right].load ==
          Approx(4 * per).epsilon(1e-3));
    CHECK(settle(c, {.longitudinal_acceleration = 4}).wheels[rear_left].load > rest.wheels[rear_left].load);
}

TEST_CASE("wind pushes as its moment about the ground says") {
    const Car c = rigid_car();
    const State s = settle(c, {.wind_force = 1500, .wind_height = 1.2, .wind_x = -1.25});
    CHECK(std::abs(load_transfer_moment(c, s)) == Approx(1500 * 1.2).epsilon(1e-3));
    const State forward = settle(c, {.wind_force = 1500, .wind_height = 1.2, .wind_x = 0});
    CHECK(front_share_of_load_transfer(c, forward) ==
          Approx(0.5).epsilon(0.1)); // one stiff body shares it, the front takes a little more
}

} // namespace tests::of_handling
