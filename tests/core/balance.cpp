#include "core/balance/bump.h"
#include "core/balance/steady.h"
#include "core/car/handling.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_balance {
using namespace dervish;
using namespace dervish::balance;
using units::g, units::deg;

namespace {
Model model_of(const car::Car& c) {
    Model m;
    m.car = c;
    for (AxleGrip& a : m.axle.both()) {
        a.roll_steer = 0.03;
        a.side_steer = 2e-7;
        a.camber = -1 * deg;
    }
    m.axle[0].trail_steer = 3e-7;
    return m;
}

/// A bar of a roll-mode rate at the wheels (independent) or links (solid).
void set_bar(car::Axle& a, double k) {
    a.bar << k, -k, -k, k;
    a.bar /= 2;
}
} // namespace

TEST_CASE("a tyre: slope at no slip, peak at its grip, less with load, camber and what the pedals take") {
    const Tyre t;
    const Surface dry;
    for (const double load : {1500.0, 4000.0, 7000.0}) {
        const double h = 1e-6;
        const double slope = (lateral_force(t, dry, load, h, 0) - lateral_force(t, dry, load, -h, 0)) / (2 * h);
        CHECK(slope == Approx(cornering_stiffness(t, dry, load)).epsilon(1e-6));
        double most = 0;
        for (double slip = 0; slip < 0.7; slip += 1e-3) most = std::max(most, lateral_force(t, dry, load, slip, 0));
        CHECK(most == Approx(peak_grip(t, dry, load, 0) * load).epsilon(1e-4));
        CHECK(lateral_force(t, dry, load, -0.05, 0) == Approx(-lateral_force(t, dry, load, 0.05, 0)));
    }
    CHECK(peak_grip(t, dry, 6000, 0) < peak_grip(t, dry, 3000, 0));
    CHECK(peak_grip(t, dry, 4000, 0.1) < peak_grip(t, dry, 4000, 0));
    CHECK(lateral_force(t, dry, 4000, 0, 0.05) > 0); // camber thrust
    const double all = peak_grip(t, dry, 4000, 0) * 4000;
    CHECK(lateral_force(t, dry, 4000, 0.3, 0, 0.6 * all) == Approx(0.8 * lateral_force(t, dry, 4000, 0.3, 0)));
    CHECK(lateral_force(t, dry, 4000, 0.3, 0, 1.01 * all) == 0);
    CHECK(lateral_force(t, dry, -5, 0.3, 0) == 0);
    double last = 10;
    for (const Ground ground : {Ground::Dry, Ground::Wet, Ground::Gravel, Ground::Mud, Ground::Snow}) {
        const double grip = peak_grip(t, model::surface_of(job::usual_grounds()[ground]), 4000, 0);
        CHECK(grip < last);
        last = grip;
    }
    Tyre soft = t;
    soft.pressure = 0.7;
    CHECK(peak_grip(soft, dry, 4000, 0) < peak_grip(t, dry, 4000, 0));
    CHECK(cornering_stiffness(soft, dry, 6500) < cornering_stiffness(t, dry, 6500));
}

TEST_CASE("gently steered, the car is the linear bicycle: understeer from masses and cornering stiffness") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        Model m;
        m.car = r.car();
        m.car.loads.clear();
        for (AxleGrip& a : m.axle.both()) {
            a.camber_kept = 1;
            for (Tyre& t : a.tyre) t.grip = 500; // straight as far as it goes
        }
        const car::State still = car::settle(m.car, {});
        double stiffness[2], mass[2];
        for (int e = 0; e < 2; ++e) {
            stiffness[e] = 0;
            for (int w = 0; w < 2; ++w)
                stiffness[e] += cornering_stiffness(m.axle[e].tyre[w], m.surface, still.wheels[2 * e + w].load);
            mass[e] = car::loaded(m.car).share[e] + (e == 0 ? m.car.front : m.car.rear).unsprung_mass;
        }
        CHECK(understeer(m).value().masses_and_tyres ==
              Approx(mass[0] / stiffness[0] - mass[1] / stiffness[1]).epsilon(1e-3).margin(1e-7));
    }
}

TEST_CASE("bars move load between the axles and add none: at equal roll the whole transfer is the same") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        car::Car c = r.car();
        c.chassis_torsion = std::numeric_limits<double>::infinity();
        c.loads.clear();
        c.rear = r.axle(AxleKind::Independent);
        // Off by how much: what is left is the lean's own square, so it falls with the square of the turn.
        const auto off = [&](double a) {
            const auto with = [&](double front, double rear) {
                set_bar(c.front, front);
                set_bar(c.rear, rear);
                return car::settle(c, {.lateral_acceleration = a});
            };
            const car::State one = with(30e3, 0);
            const double front_share = car::front_share_of_load_transfer(c, one);
            double low = 0, high = 4e5;
            for (int k = 0; k < 200 && high - low > 1e-9; ++k) {
                const double middle = (low + high) / 2;
                (with(0, middle).roll[0] > one.roll[0] ? low : high) = middle;
            }
            const car::State other = with(0, low);
            CHECK(other.roll[0] == Approx(one.roll[0]).epsilon(1e-10));
            CHECK(car::front_share_of_load_transfer(c, other) < front_share);
            return std::abs(car::load_transfer_moment(c, other) / car::load_transfer_moment(c, one) - 1);
        };
        const double at_two = off(2), at_fifth = off(0.2);
        CHECK(at_two < 5e-5);
        CHECK(at_fifth < at_two / 50 + 1e-9);
    }
}

TEST_CASE("in a corner the wheels give what each axle needs, and the steering is what their slips ask") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        const Model m = model_of(r.car());
        const double a = r(0.5, 4);
        const Corner c = corner(m, a);
        if (!c.holds) continue;
        const car::Loaded l = car::loaded(m.car);
        const double mass = l.mass + m.car.front.unsprung_mass + m.car.rear.unsprung_mass;
        CHECK(c.force[0] + c.force[1] + c.force[2] + c.force[3] == Approx(mass * a).epsilon(1e-8));
        CHECK(c.force[0] + c.force[1] == Approx(c.need[0]).epsilon(1e-8));
        for (const double used : c.used) CHECK((used >= 0 && used <= 1));
        CHECK(c.steer - (c.slip[0] - c.slip[1]) > 0); // every other effect here understeers
    }
}

TEST_CASE("the limit is where a direct search finds it, in every phase") {
    examples::Random r;
    int tipped = 0, front = 0, rear = 0;
    for (int i = 0; i < 12; ++i) {
        const Model m = model_of(r.car());
        for (const Phase phase : all_phases) {
            const Limit l = limit(m, phase);
            CHECK(say::sentence(l).find(units::fixed(l.lateral / g, 2)) != std::string::npos);
            CHECK(corner(m, l.lateral - 0.01, phase, &l.at.state).holds);
            CHECK_FALSE(corner(m, l.lateral + 0.01, phase, &l.at.state).holds);
            // Brute: each axle's most over a fine grid of slips.
            const Corner c = corner(m, l.lateral, phase, &l.at.state);
            if (l.first == Gives::Tips) {
                ++tipped;
                continue;
            }
            ++(l.first == Gives::Front ? front : rear);
            const std::size_t e = l.first == Gives::Front ? 0 : 1;
            PerWheel<WheelLoad> load;
            for (std::size_t w = 0; w < 4; ++w) load[w].mean = c.state.wheels[w].load;
            PerWheel<double> into{};
            for (std::size_t w = 0; w < 4; ++w) into[w] = camber_at(m.axle[w / 2], c.state.roll[w / 2])[w % 2];
            const auto pull = along(m, pedal(m, phase), load, into);
            double most = 0;
            const auto camber = camber_at(m.axle[e], c.state.roll[e]);
            for (double slip = 0; slip < 0.7; slip += 2e-4) {
                double f = 0;
                for (std::size_t w = 0; w < 2; ++w)
                    f += lateral_force(m.axle[e].tyre[w], m.surface, c.state.wheels[2 * e + w].load, slip, camber[w],
                                       pull.force[2 * e + w]);
                most = std::max(most, f);
            }
            CHECK(most == Approx(c.need[e]).epsilon(phase == Phase::Exit ? 5e-3 : 1e-4));
        }
    }
    CHECK(front + rear > 20);
    WARN("limits found: front " << front << ", rear " << rear << ", tips " << tipped);
}

namespace {
/// The car seen in a mirror.
Model mirrored(Model m) {
    m.car.cg_left *= -1;
    m.car.twist *= -1;
    for (car::PointMass& l : m.car.loads) l.y *= -1;
    for (car::Axle* a : {&m.car.front, &m.car.rear}) a->bar = a->bar.colwise().reverse().rowwise().reverse().eval();
    for (AxleGrip& a : m.axle.both()) std::swap(a.tyre[0], a.tyre[1]);
    return m;
}
} // namespace

TEST_CASE("to the right is to the left in a mirror: limits, forces, steering, and unlike tyres tell the two apart") {
    examples::Random r;
    for (int i = 0; i < 8; ++i) {
        Model m = model_of(r.car());
        m.car.cg_left = r(-0.05, 0.05);
        m.axle[0].tyre[0].grip = 0.85;
        m.axle[1].tyre[1].pressure = 0.8;
        const Model other = mirrored(m);
        for (const Phase phase : all_phases) {
            const Limit right = limit(m, phase, Turn::Right), left = limit(other, phase);
            CHECK(right.lateral == Approx(left.lateral).epsilon(1e-5));
            CHECK(right.first == left.first);
            CHECK(right.left == Approx(left.left).margin(1e-4));
        }
        const Corner a = corner(m, -3), b = corner(other, 3);
        if (!b.holds) continue;
        CHECK(a.steer == Approx(b.steer).margin(1e-8));
        for (const std::size_t w : {0u, 1u, 2u, 3u}) {
            CHECK(a.force[w] == Approx(b.force[w ^ 1u]).margin(1e-3));
            CHECK(a.used[w] == Approx(b.used[w ^ 1u]).margin(1e-6));
        }
        CHECK(std::abs(limit(m).lateral - limit(m, Phase::Middle, Turn::Right).lateral) > 1e-3);
    }
}

TEST_CASE("the limit near another car's is the same limit") {
    examples::Random r;
    for (int i = 0; i < 12; ++i) {
        const Model m = model_of(r.car());
        Model other = m;
        other.car.cg_height *= 1.01;
        other.axle[0].tyre[0].grip *= 1.02;
        const Limit direct = limit(other), near = limit_near(other, limit(m));
        CHECK(near.lateral == Approx(direct.lateral).margin(3e-6));
        CHECK(near.first == direct.first);
        CHECK(near.left == Approx(direct.left).margin(1e-5));
    }
}

TEST_CASE("where 0.3 g is more than the car holds there is no understeer gradient") {
    examples::Random r;
    Model m = model_of(r.car());
    CHECK(understeer(m));
    m.surface = model::surface_of(job::usual_grounds()[Ground::Snow]);
    for (AxleGrip& a : m.axle.both())
        for (Tyre& t : a.tyre) t.grip = 0.8;
    CHECK_FALSE(understeer(m));
}

TEST_CASE(
    "the handling curve ends at the limit, and its slope is the understeer gradient, which is the sum of its terms") {
    examples::Random r;
    for (int i = 0; i < 10; ++i) {
        const Model m = model_of(r.car());
        const Curve c = handling_curve(m, 40);
        REQUIRE(c.points.size() == 40);
        CHECK(c.points.back().lateral == Approx(limit(m).at.lateral));
        for (std::size_t k = 1; k < c.points.size(); ++k) CHECK(c.points[k].lateral > c.points[k - 1].lateral);
        if (c.points.back().lateral < 0.35 * g) continue;
        const Understeer u = understeer(m).value();
        CHECK(u.masses_and_tyres + u.load_transfer + u.camber + u.roll_steer + u.side_steer + u.aligning ==
              Approx(u.whole).epsilon(1e-12));
        const double h = 0.005 * g;
        CHECK(
            u.whole ==
            Approx((corner(m, 0.3 * g + h).steer - corner(m, 0.3 * g - h).steer) / (2 * h)).epsilon(0.02).margin(1e-5));
        CHECK(u.roll_steer > 0);
        CHECK(u.aligning > 0);
    }
}

TEST_CASE("a stiffer front bar costs the front its grip and gives the rear some") {
    examples::Random r;
    for (int i = 0; i < 10; ++i) {
        Model m = model_of(r.car());
        m.car.loads.clear();
        set_bar(m.car.front, 5e3);
        const double a = 0.4 * g;
        const Corner soft = corner(m, a);
        set_bar(m.car.front, 60e3);
        const Corner stiff = corner(m, a);
        if (!soft.holds || !stiff.holds) continue;
        // Roll falls too, which by camber alone would help both.
        // And so does roll steer, which here understeers.
        for (AxleGrip& x : m.axle.both()) {
            x.camber_kept = 1;
            x.roll_steer = 0;
        }
        const Corner stiff_upright = corner(m, a);
        set_bar(m.car.front, 5e3);
        const Corner soft_upright = corner(m, a);
        CHECK(stiff_upright.most[0] < soft_upright.most[0]);
        CHECK(stiff_upright.most[1] > soft_upright.most[1]);
        CHECK(stiff_upright.steer > soft_upright.steer);
    }
}

TEST_CASE("out of the corner an open differential spins its inside wheel where a locked one does not") {
    examples::Random r;
    Model m = model_of(r.car());
    m.drive = {0, 1};
    const PerWheel<WheelLoad> load{{{4000}, {6000}, {1200}, {7000}}};
    const Along open = along(m, 3, load);
    CHECK(open.spins == 2);
    CHECK(open.force[2] == Approx(open.force[3]));
    m.differential[1] = Differential::Limited;
    const Along limited = along(m, 3, load);
    CHECK(limited.force[3] <= m.bias_ratio * limited.force[2]);
    m.bias_ratio = 1.2;
    CHECK(along(m, 3, load).force[3] == Approx(1.2 * limited.force[2]));
    m.bias_ratio = 2;
    CHECK(limited.force[2] + limited.force[3] > open.force[2] + open.force[3]);
    m.differential[1] = Differential::Locked;
    CHECK(along(m, 3, load).spins < 0);
    const Along brakes = along(m, -3, load);
    CHECK(brakes.force[0] == brakes.force[1]);
    const double mass = car::loaded(m.car).mass + m.car.front.unsprung_mass + m.car.rear.unsprung_mass;
    CHECK(brakes.force[0] + brakes.force[1] + brakes.force[2] + brakes.force[3] == Approx(-3 * mass));
}

TEST_CASE("the rate that one wheel feels is the curvature of the equilibrium's own energy") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        car::Car c = r.car();
        c.loads.clear();
        const car::State level = car::settle(c, {});
        for (const End end : both_ends) {
            const car::Axle& a = c[end];
            const double mass = car::loaded(c).share[index(end)];
            const Bump b = bump(a, mass);
            const int first = end == End::Front ? 4 : 6;
            const auto energy = [&](double s) { // of the left wheel's travel, the right one's kept
                auto q = level.q;
                if (a.kind == AxleKind::Independent) {
                    q[first] += s;
                } else {
                    q[first] += s / 2;
                    q[first + 1] += s / a.track;
                }
                return car::energy(c, {}, q);
            };
            const double h = 1e-3;
            double curve = (energy(h) - 2 * energy(0) + energy(-h)) / (h * h) - a.tyre_rate;
            if (a.kind == AxleKind::Solid) { // the leaning axle's loads swing over its roll centre
                const std::size_t w = wheel_at(end, 0);
                const double up = (level.wheels[w].load + level.wheels[w + 1].load) * a.roll_centre_height +
                                  a.unsprung_mass * g * (a.unsprung_height - a.roll_centre_height);
                curve += up / (a.track * a.track);
            }
            CHECK(b.one_wheel_rate == Approx(curve).epsilon(5e-3)); // leaning adds a little of its own
            CHECK(b.one_wheel >= b.ride * (a.kind == AxleKind::Solid ? 0.7 : 1));
        }
    }
    car::Axle plain = r.axle(AxleKind::Independent);
    plain.parasitic_roll_stiffness = 0;
    plain.bar.setZero();
    CHECK(bump(plain, 400).harshness == Approx(1));
}

} // namespace tests::of_balance
