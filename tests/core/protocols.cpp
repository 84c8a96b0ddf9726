#include "core/flex/protocol.h"
#include "core/flex/scene.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_protocols {
using namespace dervish;
using namespace dervish::flex;
using units::deg;

namespace {
std::vector<Protocol> all_protocols(examples::Random& r) {
    std::vector<Protocol> out;
    for (const Diagonal d : {Diagonal::FrontLeftRearRight, Diagonal::FrontRightRearLeft})
        for (const Kind k : {Kind::Diagonal, Kind::Holes})
            out.push_back({.kind = k, .raised = d, .second = r(0.5, 1.5)});
    for (const int wheel : {0, 1, 2, 3}) {
        out.push_back({.kind = Kind::Ramp, .wheel = wheel, .angle = r(10, 30) * deg});
        out.push_back({.kind = Kind::Slope, .wheel = wheel, .obstacle = r(0, 0.1), .highest = 60 * deg});
    }
    return out;
}

void bars(car::Car& c, double front, double rear) {
    for (const auto& [axle, k] : {std::pair{&c.front, front}, {&c.rear, rear}}) {
        axle->linkage.reset();
        axle->bar << k, -k, -k, k;
        axle->bar /= 2;
    }
}

/// A truck of independent front and solid rear axle with droop to spare, made up.
car::Car truck() {
    car::Car c;
    c.wheelbase = 2.9;
    c.sprung_mass = 1800;
    c.cg_behind_front_axle = 1.25; // the rear carries less
    c.cg_height = 0.75;
    c.front.unsprung_mass = 120;
    c.rear.kind = AxleKind::Solid;
    c.rear.unsprung_mass = 160;
    for (car::Axle* a : {&c.front, &c.rear}) {
        a->track = 1.55;
        a->unsprung_height = 0.38;
        a->tyre_rate = 260e3;
        a->spring_rate = 30e3;
        a->spring_base = 1.0;
        a->bar_base = 1.0;
        a->bump_gap = 0.1;
        a->bump_k1 = 80e3;
        a->droop_gap = 0.12;
        a->droop_k = 800e3;
        a->roll_centre_height = 0.1;
    }
    c.rear.bump_gap = 0.16;
    c.rear.droop_gap = 0.2;
    c.rear.roll_centre_height = 0.4;
    bars(c, 40e3, 12e3);
    return c;
}
} // namespace

TEST_CASE("on every protocol loads sum to the weight and nothing is out of balance, to 1e-9 of it") {
    examples::Random r;
    for (int i = 0; i < 15; ++i) {
        const car::Car c = r.car();
        const double weight = (car::loaded(c).mass + c.front.unsprung_mass + c.rear.unsprung_mass) * units::g;
        for (const Protocol& p : all_protocols(r)) {
            const Ascent a = climb(c, p);
            CHECK(a.state.converged);
            CHECK(a.state.residual < 1e-9);
            if (p.kind == Kind::Slope) continue; // there the ground's own normal counts
            double sum = 0;
            for (const car::Wheel& w : a.state.wheels) sum += w.load;
            CHECK(std::abs(sum - weight) / weight < 1e-9);
        }
    }
}

TEST_CASE("a mirrored car on mirrored ground gives mirrored wheels") {
    examples::Random r;
    for (int i = 0; i < 10; ++i) {
        car::Car c = r.car();
        c.cg_left = r(-0.03, 0.03);
        c.front.left_droop = r(-0.03, 0.03);
        c.rear.left_bump = r(-0.03, 0.03);
        car::Car m = c;
        m.cg_left *= -1;
        for (car::PointMass& l : m.loads) l.y *= -1;
        for (car::Axle* a : {&m.front, &m.rear}) {
            a->bump_gap += a->left_bump;
            a->droop_gap += a->left_droop;
            a->left_bump *= -1;
            a->left_droop *= -1;
            a->bar = a->bar.colwise().reverse().rowwise().reverse().eval();
        }
        for (const Protocol& p : all_protocols(r)) {
            Protocol q = p;
            q.wheel ^= 1;
            q.raised =
                p.raised == Diagonal::FrontLeftRearRight ? Diagonal::FrontRightRearLeft : Diagonal::FrontLeftRearRight;
            const Ascent a = climb(c, p), b = climb(m, q);
            CHECK(a.height == Approx(b.height).margin(2e-6));
            CHECK(a.lifted == b.lifted);
            for (std::size_t w = 0; w < 4; ++w) {
                CHECK(a.state.wheels[w].load == Approx(b.state.wheels[w ^ 1u].load).margin(1));
                CHECK(a.state.wheels[w].travel == Approx(b.state.wheels[w ^ 1u].travel).margin(1e-5));
            }
        }
    }
}

TEST_CASE("the state at a reach is that of a direct solve, whatever the steps to it") {
    examples::Random r;
    for (int i = 0; i < 15; ++i) {
        const car::Car c = r.car();
        for (const Protocol& p : all_protocols(r)) {
            const double reach = 0.9 * climb(c, p).height;
            const car::State far = car::settle(c, situation(p, reach)), stepped = at_reach(c, p, reach);
            car::State fine = car::settle(c, situation(p, 0));
            for (int k = 1; k <= 100; ++k) fine = car::settle(c, situation(p, reach * k / 100), &fine);
            for (std::size_t w = 0; w < 4; ++w) {
                CHECK(stepped.wheels[w].load == Approx(fine.wheels[w].load).margin(1e-3));
                if (far.converged) CHECK(far.wheels[w].load == Approx(fine.wheels[w].load).margin(1e-3));
            }
        }
    }
}

TEST_CASE("a ramp's index is the way up it over the wheelbase, and a fork under a wheel is the same ground") {
    const car::Car c = truck();
    const Protocol ramp{.kind = Kind::Ramp, .wheel = car::front_right, .angle = 20 * deg, .highest = 2},
        fork{.kind = Kind::Lift, .wheel = car::front_right, .highest = 2};
    const Ascent up = climb(c, ramp), lifted = climb(c, fork);
    CHECK(up.height == Approx(lifted.height));
    CHECK(ramp_index(ramp, c.wheelbase, up.height) == Approx(1000 * up.height / std::sin(20 * deg) / 2.9));
    CHECK(up.light_wheel != car::front_right);
}

TEST_CASE("a slope tips a car over where its uphill wheels have nothing left, sooner with a stone and a load aloft") {
    car::Car c = truck();
    const auto flat = tipping_slope(c, true);
    REQUIRE(flat);
    // No further than a rigid car of its height and track.
    const car::Loaded l = car::loaded(c);
    const double mass = l.mass + 280, height = (l.mass * l.z + 280 * 0.38) / mass;
    CHECK(*flat < std::atan(1.55 / 2 / height));
    CHECK(*flat > 0.6 * std::atan(1.55 / 2 / height));
    CHECK(*tipping_slope(c, false) == Approx(*flat).margin(1e-5));
    Protocol p{.kind = Kind::Slope, .wheel = car::rear_left, .highest = 60 * deg};
    const double first = climb(c, p).height;
    CHECK(first <= *flat + 1e-5);
    p.obstacle = 0.12;
    CHECK(climb(c, p).height < first);
    c.loads.push_back({100, -1.4, 0, 1.9});
    CHECK(*tipping_slope(c, true) < *flat);
}

TEST_CASE(
    "springs that come loose, by a table or by rate, give the same ramps, and a strap and a longer side are felt") {
    car::Car c = truck();
    for (car::Axle* a : {&c.front, &c.rear}) a->droop_gap = 0.35; // past where the springs are loose
    const Ascent rate = climb(c, {.highest = 3});
    for (car::Axle* a : {&c.front, &c.rear})
        a->spring_table = {{-0.5, -0.5 * a->spring_rate}, {0.5, 0.5 * a->spring_rate}};
    CHECK(climb(c, {.highest = 3}).height == Approx(rate.height).margin(1e-6));
    for (car::Axle* a : {&c.front, &c.rear}) a->captive_springs = true;
    CHECK(climb(c, {.highest = 3}).height != Approx(rate.height).margin(1e-4));
    car::Car one = truck(), other = truck();
    one.rear.left_droop = -0.1; // the hanging wheel's damper, shorter
    CHECK(climb(one, {.highest = 3}).height < climb(truck(), {.highest = 3}).height - 1e-3);
    other.rear.droop_gap -= 0.1;
    other.rear.left_droop = 0.1;
    CHECK(climb(other, {.highest = 3}).height == Approx(climb(truck(), {.highest = 3}).height).margin(1e-6));
}

TEST_CASE("against intuition: what tuners find on ramps, looked for on a made-up truck") {
    const car::Car on = truck();
    const auto ramps = [](const car::Car& c) { return climb(c, {.highest = 3}); };
    car::Car front_off = on, rear_off = on, no_rear_bar = on;
    bars(front_off, 0, 12e3);
    bars(rear_off, 40e3, 0);
    const Ascent both = ramps(on), front = ramps(front_off), rear = ramps(rear_off);
    // The lighter-loaded axle sets the twist: its wheel is the one that hangs.
    CHECK(both.light_wheel >= 2);
    // The front bar off: the rear's travel nearly unchanged, the front's much more.
    CHECK(std::abs(front.rear_travel - both.rear_travel) < 0.05 * both.rear_travel);
    CHECK(front.front_travel > 1.2 * both.front_travel);
    // The rear bar alone off changes the front little.
    CHECK(std::abs(rear.front_travel - both.front_travel) < 0.1 * both.front_travel);
    // With the front off, a rear bar raises what the front does: before a wheel hangs the same ramps twist it more.
    bars(no_rear_bar, 0, 0);
    car::Car more_rear = front_off;
    bars(more_rear, 0, 40e3);
    const auto front_at = [](const car::Car& c, double h) {
        const car::State s = at_reach(c, {}, h);
        return std::abs(s.wheels[0].travel - s.wheels[1].travel);
    };
    const double h = 0.6 * std::min(ramps(more_rear).height, ramps(no_rear_bar).height);
    CHECK(front_at(more_rear, h) > front_at(no_rear_bar, h) + 1e-3);
    // A front held by its bar short of its droop stop gains nothing from a longer damper until the bar is off.
    car::Car stiff = on;
    bars(stiff, 90e3, 12e3);
    car::Car longer = stiff;
    longer.front.droop_gap += 0.05;
    CHECK(ramps(longer).front_travel == Approx(ramps(stiff).front_travel).margin(1e-6));
    car::Car soft = front_off, soft_longer = front_off;
    soft_longer.front.droop_gap += 0.05;
    soft.front.spring_rate = soft_longer.front.spring_rate = 22e3;
    CHECK(ramps(soft_longer).front_travel > ramps(soft).front_travel + 1e-3);
    // The body follows the ground under the stiffer end: front bar on, the front; front off and a stiff rear, the rear.
    CHECK(at_reach(stiff, {}, 0.15).roll[0] > 0); // the left front is up
    CHECK(at_reach(more_rear, {}, 0.15).roll[0] < at_reach(no_rear_bar, {}, 0.15).roll[0]);
}

TEST_CASE("the scene is the equilibrium's own: tyres stand on their ground pressed in, or hang over it by their gap") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        car::Car c = r.car();
        const Protocol p{.kind = i % 2 ? Kind::Diagonal : Kind::Lift, .wheel = i % 4};
        const double reach = r(0.1, 0.5);
        const car::State s = at_reach(c, p, reach);
        const car::Situation ground = situation(p, reach);
        const Scene scene = flex::scene(c, s);
        for (std::size_t w = 0; w < 4; ++w) {
            const car::Axle& a = w < 2 ? c.front : c.rear;
            car::Car bare = c;
            bare.loads.clear();
            const double still = (car::loaded(bare).share[w / 2] + a.unsprung_mass) * units::g / 2 / a.tyre_rate;
            // At rest the hub is at its height with the tyre pressed in by `still`.
            const double pressed = s.wheels[w].load / a.tyre_rate;
            CHECK(scene.wheel[w].lowest() ==
                  Approx(ground.wheel_height[w] + s.wheels[w].gap + still - pressed).margin(5e-3));
            CHECK(scene.wheel[w].up.norm() == Approx(1));
        }
        const Vector3d nose(0.5, 0, 0.6), moved = on_body(c, s, nose);
        CHECK(moved.z() == Approx(0.6 + s.heave - 0.0).margin(0.35));
        CHECK((on_body(c, {}, nose) - nose).norm() < 1e-12);
    }
}

} // namespace tests::of_protocols
