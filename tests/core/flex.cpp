#include "core/flex/protocol.h"
#include "core/say/flex_words.h"
#include "core/units/units.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_flex {
using namespace dervish;
using namespace dervish::flex;

TEST_CASE("at the lift height a low wheel carries the threshold load, and just below it more") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        const car::Car c = r.car();
        for (double threshold : {0.0, 300.0}) {
            const Ascent a = climb(c, {.threshold_load = threshold, .highest = 3});
            REQUIRE(a.lifted);
            const auto w = static_cast<std::size_t>(a.light_wheel);
            CHECK(a.state.wheels[w].load == Approx(threshold).margin(0.5));
            CHECK(at_reach(c, {}, 0.98 * a.height).wheels[w].load > threshold);
            CHECK(a.front_travel == Approx(std::abs(a.state.wheels[0].travel - a.state.wheels[1].travel)));
        }
    }
}

TEST_CASE("ramps that end first give \"more than\"") {
    examples::Random r;
    const car::Car c = r.car();
    const Ascent whole = climb(c, {.highest = 3});
    const Ascent cut = climb(c, {.highest = 0.5 * whole.height});
    CHECK_FALSE(cut.lifted);
    CHECK(cut.height == Approx(0.5 * whole.height));
}

TEST_CASE("the other diagonal of a symmetric car lifts at the same height") {
    examples::Random r;
    car::Car c = r.car();
    c.loads.clear();
    const Ascent one = climb(c, {.highest = 3}),
                 other = climb(c, {.raised = Diagonal::FrontRightRearLeft, .highest = 3});
    CHECK(one.height == Approx(other.height).margin(1e-6));
    CHECK((one.light_wheel ^ 1) == other.light_wheel);
}

TEST_CASE("fixed ramps: no gap below the lift height, a gap above it that grows") {
    examples::Random r;
    const car::Car c = r.car();
    const double lift = climb(c, {.highest = 3}).height;
    const auto d = Diagonal::FrontLeftRearRight;
    CHECK(on_fixed_ramps(c, d, 0.95 * lift).gap == 0);
    const FixedRamps above = on_fixed_ramps(c, d, 1.1 * lift);
    CHECK(above.gap > 0);
    CHECK(on_fixed_ramps(c, d, 1.2 * lift).gap > above.gap);
}

TEST_CASE("softer bars let a car climb higher") {
    examples::Random r;
    car::Car c = r.car();
    const double with = climb(c, {.highest = 3}).height;
    c.front.bar.setZero();
    c.rear.bar.setZero();
    CHECK(climb(c, {.highest = 3}).height > with);
}

TEST_CASE("limits are said in words") {
    CHECK(say::limit_of({0, 0, 0.09, car::Stop::Bump, -0.005, 0.2}, units::System::Metric) ==
          "on the bump stop, pressed in 5 mm");
    CHECK(say::limit_of({0, 0, -0.1, car::Stop::Droop, 0.2, -0.001}, units::System::Metric) == "damper out");
    CHECK(say::limit_of({0, 0, 0.02, car::Stop::Free, 0.065, 0.2}, units::System::Metric) == "65 mm to the bump stop");
}

TEST_CASE("raising the ramps does the work that the raised wheels' loads say") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        const car::Car c = r.car();
        const double height = r(0.05, 0.25), step = 1e-4;
        const auto at = [&](double h) {
            car::Situation s;
            for (int w : raised_wheels(Diagonal::FrontLeftRearRight)) s.wheel_height[static_cast<std::size_t>(w)] = h;
            return car::energy(c, s, settle(c, s).q);
        };
        const car::State middle = at_reach(c, {}, height);
        const double work = (at(height + step) - at(height - step)) / (2 * step);
        CHECK(middle.wheels[0].load + middle.wheels[3].load == Approx(work).epsilon(1e-4));
    }
}

TEST_CASE("ramps under no wheel change nothing, and both diagonals name each wheel once") {
    examples::Random r;
    const car::Car c = r.car();
    CHECK((at_reach(c, {}, 0).q - car::settle(c, {}).q).norm() < 1e-12);
    std::array<int, 4> seen{};
    for (const Diagonal d : {Diagonal::FrontLeftRearRight, Diagonal::FrontRightRearLeft})
        for (int w : raised_wheels(d)) ++seen[static_cast<std::size_t>(w)];
    CHECK(seen == std::array{1, 1, 1, 1});
    CHECK(low_wheels(Diagonal::FrontLeftRearRight) == raised_wheels(Diagonal::FrontRightRearLeft));
}

TEST_CASE("the lighter axle sets the twist that passes: freeing the other end alone does little for it") {
    examples::Random r;
    car::Car c = r.car();
    c.loads.clear();
    c.cg_behind_front_axle = 0.42 * c.wheelbase; // nose-heavy
    const Ascent both = climb(c, {.highest = 3});
    car::Car front_off = c;
    front_off.front.bar.setZero();
    const Ascent freed = climb(front_off, {.highest = 3});
    CHECK(freed.front_travel >= both.front_travel - 1e-6);
    CHECK(std::abs(freed.rear_travel - both.rear_travel) < 0.25 * both.rear_travel);
}

TEST_CASE("climbing near another car's lift height finds the same height as climbing from the ground") {
    examples::Random r;
    int lifted = 0;
    for (int i = 0; i < 40; ++i) {
        car::Car c = r.car();
        const flex::Ascent nominal = flex::climb(c, {});
        c.front.spring_rate *= r(0.8, 1.25);
        c.rear.track *= r(0.97, 1.03);
        const flex::Ascent far = flex::climb(c, {}), near = flex::climb(c, {}, &nominal);
        CHECK(near.lifted == far.lifted);
        CHECK(near.height == Approx(far.height).margin(2e-6));
        CHECK(near.front_travel == Approx(far.front_travel).margin(1e-5));
        CHECK(near.light_wheel == far.light_wheel);
        lifted += far.lifted;
    }
    CHECK(lifted > 20);
}

} // namespace tests::of_flex
