#include "core/balance/transient.h"
#include "core/balance/moving.h"
#include "core/balance/ride.h"
#include "core/job/usual.h"
#include "core/model/tyres.h"
#include "examples.h"
#include "kinds.h"

#include <Eigen/LU>
#include <boost/numeric/odeint/stepper/runge_kutta4.hpp>
#include <catch2/catch.hpp>
#include <cmath>
#include <numeric>

namespace tests::of_transient {
using namespace dervish;
using namespace dervish::balance;
using units::g;

namespace {
Model plain(examples::Random& r) {
    Model m;
    m.car = r.car();
    m.car.loads.clear();
    m.car.cg_left = 0;
    return m;
}
} // namespace

TEST_CASE("a step settles to the steady corner: steering, lean and every load") {
    examples::Random r;
    int settled = 0;
    for (int i = 0; i < 12; ++i) {
        Model m = plain(r);
        m.axle[0].roll_steer = 0.04;
        m.axle[0].trail_steer = 3e-7;
        m.axle[0].camber = -0.02;
        const Run run = drive(m, {Manoeuvre::Step, 18, 3});
        if (!run.stands || !run.holds) continue;
        const Moment& last = run.moments.back();
        if (std::abs(last.roll_rate) > 1e-3 || std::abs(last.lateral - 18 * last.yaw) > 5e-3)
            continue; // still swinging
        const Corner c = corner(m, last.lateral);
        CHECK(last.steer == Approx(c.steer + m.car.wheelbase * last.yaw / 18).epsilon(2e-3));
        CHECK(last.roll == Approx(c.lean()).epsilon(2e-3));
        for (std::size_t w = 0; w < 4; ++w) CHECK(last.load[w] == Approx(c.state.wheels[w].load).margin(8));
        CHECK(last.lateral == Approx(3).epsilon(0.01));
        REQUIRE(run.yaw_90);
        CHECK((*run.yaw_90 > 0.02 && *run.yaw_90 < 1.5));
        ++settled;
    }
    CHECK(settled >= 6);
}

TEST_CASE("a car that does not lean, gently steered, is the linear model with lagging tyres") {
    examples::Random r;
    for (int i = 0; i < 6; ++i) {
        Model m = plain(r);
        m.car.chassis_torsion = std::numeric_limits<double>::infinity();
        for (car::Axle* a : {&m.car.front, &m.car.rear}) {
            a->kind = AxleKind::Independent;
            a->spring_rate = 5e7;
            a->tyre_rate = 5e8;
            a->bar.setZero();
        }
        for (AxleGrip& a : m.axle.both()) {
            a.camber_kept = 1;
            a.bump_damping = a.rebound_damping = 2e5;
            for (Tyre& t : a.tyre) t.grip = 500;
        }
        const double speed = 22;
        const Run run = drive(m, {Manoeuvre::Step, speed, 0.2});
        // slide, yaw, front and rear force; fixed steps far finer than the run's own.
        const car::State still = car::settle(m.car, {});
        double stiffness[2] = {}, lags[2], mass[2];
        for (int e = 0; e < 2; ++e) {
            for (int w = 0; w < 2; ++w)
                stiffness[e] += cornering_stiffness(m.axle[e].tyre[w], m.surface, still.wheels[2 * e + w].load);
            lags[e] = relaxation_at(m.axle[e].tyre[0], m.surface, still.wheels[2 * e].load);
            mass[e] = car::loaded(m.car).share[e] + (e == 0 ? m.car.front : m.car.rear).unsprung_mass;
        }
        const double whole = mass[0] + mass[1], a = m.car.wheelbase * mass[1] / whole,
                     b = m.car.wheelbase * mass[0] / whole;
        using Vector = Eigen::Vector4d;
        const auto slope = [&](const Vector& q, double steer) {
            Vector d;
            d[0] = (q[2] + q[3]) / whole - speed * q[1];
            d[1] = (a * q[2] - b * q[3]) / m.yaw_inertia;
            d[2] = (stiffness[0] * (steer - (q[0] + a * q[1]) / speed) - q[2]) * speed / lags[0];
            d[3] = (stiffness[1] * (-(q[0] - b * q[1]) / speed) - q[3]) * speed / lags[1];
            return d;
        };
        Vector q = Vector::Zero();
        const double h = 1e-4, height = run.moments.back().steer;
        const auto steer = [&](double t) { return height * std::clamp((t - 0.3) / 0.1, 0.0, 1.0); };
        std::size_t next = 1;
        double peak = 0;
        for (int k = 0; k < 20000; ++k) {
            const double t = k * h;
            const Vector k1 = slope(q, steer(t)), k2 = slope(q + h / 2 * k1, steer(t + h / 2)),
                         k3 = slope(q + h / 2 * k2, steer(t + h / 2)), k4 = slope(q + h * k3, steer(t + h));
            q += h / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
            peak = std::max(peak, std::abs(q[1]));
            if (std::abs(t + h - run.moments[next].time) < h / 2) {
                CHECK(run.moments[next].yaw == Approx(q[1]).margin(1e-3 * std::max(peak, 1e-3)));
                ++next;
            }
        }
        CHECK(next == 201);
    }
}

TEST_CASE("dampers damp: more of them, less overshoot and a higher damping ratio") {
    examples::Random r;
    Model m = plain(r);
    double last_overshoot = 1e9, last_ratio = 0;
    for (const double damping : {300.0, 1500.0, 4000.0}) {
        for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = damping;
        const Run run = drive(m, {Manoeuvre::Step, 20, 2.5});
        REQUIRE(run.roll_overshoot);
        CHECK(*run.roll_overshoot < last_overshoot + 1e-9);
        CHECK(*roll_damping(m) > last_ratio);
        last_overshoot = *run.roll_overshoot;
        last_ratio = *roll_damping(m);
    }
    for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = 300;
    const double few = *roll_damping(m);
    for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = 600;
    CHECK(*roll_damping(m) == Approx(2 * few).epsilon(1e-9));
}

TEST_CASE("manoeuvres go both ways alike on a car that is alike, and lighten a wheel more the harder they are") {
    examples::Random r;
    const Model m = plain(r);
    for (const Manoeuvre kind : all_manoeuvres) {
        if (blows(kind) || disturbs(kind)) continue; // not steered
        const Run gentle = drive(m, {kind, 18, 1}), hard = drive(m, {kind, 18, 3});
        CHECK(std::string(name_of(kind)).size() > 3);
        CHECK(gentle.stands);
        CHECK(gentle.lowest_load > hard.lowest_load);
        CHECK(gentle.roll_peak < hard.roll_peak);
        const auto& rest = gentle.moments[0].load;
        const double weight = std::accumulate(rest.begin(), rest.end(), 0.0);
        double mean = 0; // the body bobs on its dampers meanwhile
        for (const Moment& at : gentle.moments) mean += std::accumulate(at.load.begin(), at.load.end(), 0.0);
        CHECK(mean / static_cast<double>(gentle.moments.size()) == Approx(weight).epsilon(2e-3));
    }
    // Out and back: the lane change ends about where it headed, a lane aside.
    const Run lane = drive(m, {Manoeuvre::LaneChange, 20, 3});
    CHECK(std::abs(lane.moments.back().heading) < 0.1);
    CHECK(lane.moments.back().y > 0.5);
    // Mirrored steering leans it the other way as far.
    Run other = drive(m, {Manoeuvre::Step, 18, 2});
    Run mirrored = drive(m, {Manoeuvre::Step, 18, -2});
    CHECK(mirrored.moments.back().roll == Approx(-other.moments.back().roll).epsilon(1e-3));
}

TEST_CASE("a gust leans, turns and moves the car, and held it is the lean of the equilibrium in that wind") {
    examples::Random r;
    for (int i = 0; i < 8; ++i) {
        Model m = plain(r);
        m.car.rear = r.axle(AxleKind::Independent); // see the model's page for high roll centres
        Drive what{.manoeuvre = Manoeuvre::Gust, .speed = 25};
        what.wind = 1500;
        what.wind_height = 1.1;
        const Run run = drive(m, what);
        REQUIRE(run.stands);
        CHECK(run.moments.back().y < -0.01); // to the right, with the wind
        CHECK(run.moments.front().roll < run.roll_peak);
        const Moment& late = run.moments[215]; // 1.85 s of it: settled where the roll and the slide no longer change
        if (std::abs(late.roll_rate) > 2e-3) continue;
        const car::State steady = car::settle(m.car, {.lateral_acceleration = late.lateral,
                                                      .wind_force = what.wind,
                                                      .wind_height = what.wind_height,
                                                      .wind_x = what.wind_x});
        CHECK(late.roll ==
              Approx((steady.roll[0] + steady.roll[1]) / 2).margin(1.2e-3)); // of some 0.03 by the wind alone
        double before = 0, now = 0;
        for (int w = 0; w < 4; ++w) {
            before += (w % 2 == 0 ? -1 : 1) * steady.wheels[w].load;
            now += (w % 2 == 0 ? -1 : 1) * late.load[w];
        }
        CHECK(now == Approx(before).epsilon(0.04).margin(60));
        what.wind_x = -m.car.wheelbase; // at the rear it turns into the wind, and leans on for both
        const double low = drive(m, what).roll_peak;
        what.wind_height = 1.6;
        CHECK(drive(m, what).roll_peak > low);
    }
}

TEST_CASE("a car that cannot settle, leans the other way or not at all, or is too quick to follow is an outcome") {
    examples::Random r;
    const Model usual = plain(r);
    Model m = usual;
    m.car.cg_height = 3; // and its mass far to one side: it falls over where it stands
    m.car.cg_left = 1.2;
    const Run sunk = drive(m, {Manoeuvre::Step, 20, 3});
    CHECK_FALSE(sunk.stands);
    CHECK(sunk.moments.size() == 1);
    CHECK_FALSE(roll_damping(m));
    // A tall car on tyres that hold goes over to either side, once both wheels of that side are light.
    for (const double way : {1.0, -1.0}) {
        m = usual;
        m.car.cg_height = 1.3 * m.car.front.track;
        for (AxleGrip& a : m.axle.both())
            for (Tyre& t : a.tyre) t.grip = 3;
        const Run over = drive(m, {Manoeuvre::Step, 20, way * 8});
        CHECK_FALSE(over.stands);
        const auto& load = over.moments.back().load;
        const std::size_t inner = way > 0 ? 0 : 1;
        CHECK(load[inner] <= 0);
        CHECK(load[inner + 2] <= 0);
        CHECK(load[1 - inner] > 0);
        CHECK(drive(m, {Manoeuvre::Step, 20, way * 1}).stands);
    }
    // Roll centres above the centre of mass: it leans inwards, and settles at the steady corner all the same.
    m = usual;
    m.car.front.roll_centre_height = m.car.rear.roll_centre_height = m.car.cg_height + 0.3;
    const Run inwards = drive(m, {Manoeuvre::Step, 20, 3});
    REQUIRE(inwards.stands);
    CHECK(inwards.moments.back().roll == Approx(corner(m, 3).lean()).epsilon(0.02));
    CHECK(inwards.moments.back().roll < 0);
    // At its height: no lean to speak of, and the side force is the steady one.
    m.car.front.roll_centre_height = m.car.rear.roll_centre_height = car::loaded(m.car).z;
    const Run flat = drive(m, {Manoeuvre::Step, 20, 3});
    CHECK(std::abs(flat.moments.back().roll) < 0.02);
    CHECK(flat.moments.back().lateral == Approx(3).epsilon(0.02));
    m = usual;
    m.car.front.tyre_rate = m.car.rear.tyre_rate = 1e12;
    const Run quick = drive(m, {Manoeuvre::Step, 20, 3});
    CHECK_FALSE(quick.followed);
    CHECK_FALSE(quick.yaw_90);
}

TEST_CASE("a low kerb in time is the small motion of the ride, followed step by step") {
    examples::Random r;
    for (int i = 0; i < 4; ++i) {
        Model m = plain(r);
        m.surface.grip = 1e-9; // no side forces
        for (car::Axle* a : {&m.car.front, &m.car.rear}) {
            a->unsprung_mass = 3; // what side motion of the axles adds to the roll is left out of the ride
            a->unsprung_height = 0.1;
            if (a->linkage) a->linkage.reset();
        }
        for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = 1800;
        const double height = 1e-3, speed = 15;
        const Run run = drive(m, {.manoeuvre = Manoeuvre::Kerb, .speed = speed, .lateral = 1e-9, .bump = height});
        REQUIRE((run.stands && run.holds && run.followed));
        const Shaken small(m, {}, car::settle(m.car, {}));
        const Eigen::Index n = small.motion().count;
        const Eigen::MatrixXd mass = small.mass().topLeftCorner(n, n).inverse(),
                              damping = small.damping().topLeftCorner(n, n),
                              stiffness = small.motion().stiffness.topLeftCorner(n, n);
        const auto under = [&](double t, Eigen::Index w) {
            const auto smooth = [](double u) { return u * u * (3 - 2 * u); };
            const double at = speed * (t - 0.3) - (w < 2 ? 0 : m.car.wheelbase);
            const double lies = smooth(std::clamp(at / 0.2, 0.0, 1.0)) - smooth(std::clamp((at - 3.8) / 0.2, 0.0, 1.0));
            return w % 2 == 0 ? height * lies : 0;
        };
        Eigen::VectorXd q = Eigen::VectorXd::Zero(n), v = q;
        constexpr double h = 2e-5;
        double worst = 0, most = 0;
        std::size_t next = 1;
        for (int k = 0; k < 100000; ++k) { // half-implicit: v first, then q by the new v
            const double t = k * h;
            Eigen::VectorXd push = -damping * v - stiffness * q;
            for (Eigen::Index w = 0; w < 4; ++w)
                push += under(t, w) * small.motion().tyre_rate[w] * small.motion().contact.col(w).head(n);
            v += h * (mass * push);
            q += h * v;
            if (std::abs(t + h - run.moments[next].time) < h / 2) {
                const Moment& at = run.moments[next++];
                const double roll = (q[2] + q[small.motion().rear_roll]) / 2;
                worst = std::max(worst, std::abs(at.roll - run.moments[0].roll - roll));
                most = std::max(most, std::abs(roll));
            }
        }
        CHECK(most > 1e-4);
        CHECK(worst < 0.015 * most);
    }
}

TEST_CASE("a wheel in a deep hole hangs, and what the others take is the weight and what the body does") {
    examples::Random r;
    Model m = plain(r);
    const Run hole = drive(m, {.manoeuvre = Manoeuvre::Pothole, .speed = 14, .lateral = 2, .bump = 0.15});
    REQUIRE((hole.stands && hole.holds));
    CHECK(hole.lowest_load == 0);
    CHECK(hole.in_air > 0.01);
    CHECK(hole.lowest_wheel % 2 == 1); // the right ones, turning left
    for (const Moment& at : hole.moments)
        for (std::size_t w = 0; w < 4; ++w) {
            CHECK(at.load[w] >= 0);
            CHECK(at.used[w] <= 1);
        }
    const Run flat = drive(m, {.manoeuvre = Manoeuvre::Pothole, .speed = 14, .lateral = 2, .bump = 0});
    CHECK(flat.in_air == 0);
    CHECK(hole.seat > 5 * flat.seat);
    CHECK(hole.head > flat.head);
}

TEST_CASE(
    "undisturbed, a car goes on round its bend, and disturbed, what the driver must correct is told to its side") {
    examples::Random r;
    for (int i = 0; i < 6; ++i) {
        Model m = plain(r);
        m.axle.front.trail_steer = 3e-7;
        for (const double way : {1.0, -1.0}) {
            const Run round = drive(m, {.manoeuvre = Manoeuvre::Kerb, .speed = 16, .lateral = way * 3, .bump = 0});
            REQUIRE(round.correct);
            CHECK(round.correct->aside == Approx(0).margin(5e-3)); // of some 50 m
            CHECK(round.correct->turned == Approx(0).margin(1e-3));
            CHECK(round.correct->yaw == Approx(0).margin(1e-3));
            CHECK(round.moments.back().lateral == Approx(way * 3).epsilon(2e-3));
        }
        const auto off = [&](Manoeuvre kind, double way) {
            const Run run = drive(m, {.manoeuvre = kind,
                                      .speed = 22,
                                      .lateral = way * 3,
                                      .wind = way * 800,
                                      .wind_height = 1,
                                      .wind_x = -m.car.wheelbase / 2});
            REQUIRE(run.correct);
            return *run.correct;
        };
        for (const Manoeuvre kind : {Manoeuvre::BrakeReleased, Manoeuvre::ThrottleLifted, Manoeuvre::Kerb,
                                     Manoeuvre::Pothole, Manoeuvre::Patch}) {
            const Run::Correct left = off(kind, 1), right = off(kind, -1);
            CHECK(left.aside == Approx(right.aside).margin(2e-3 + 0.01 * std::abs(left.aside)));
            CHECK(left.yaw == Approx(right.yaw).margin(1e-3 + 0.01 * std::abs(left.yaw)));
            CHECK(left.aside != 0);
        }
        CHECK(off(Manoeuvre::ThrottleLifted, 1).aside < 0); // slower with the same steering: into the bend
        CHECK(off(Manoeuvre::Patch, 1).after_1s > 0);       // less grip: outwards
        const Run::Correct gap = off(Manoeuvre::WindGap, 1), mirrored = off(Manoeuvre::WindGap, -1);
        CHECK(gap.after_1s < 0); // leant on a wind that is gone: towards where it came from
        CHECK(mirrored.after_1s == Approx(-gap.after_1s).margin(1e-4));
        CHECK(mirrored.turned == Approx(-gap.turned).margin(1e-5));
    }
}

TEST_CASE("a wet patch is wet whatever it lies on, and none on what is as slippery") {
    const PerGround<job::GroundData> grounds = job::usual_grounds();
    for (const Ground on : all_grounds) {
        const Surface rest = model::surface_of(grounds[on]), wet = model::surface_of(grounds[Ground::Wet]),
                      patch = model::wet_patch(grounds, on);
        CHECK(rest.grip * patch.grip == Approx(std::min(rest.grip, wet.grip)));
    }
    examples::Random r;
    Model m = plain(r);
    m.surface = model::surface_of(grounds[Ground::Wet]);
    Drive drive{Manoeuvre::Patch, 20, 3};
    drive.patch = model::wet_patch(grounds, Ground::Wet);
    const double aside = balance::drive(m, drive).correct->aside;
    CHECK(std::abs(aside) < 2e-3);
    drive.patch = model::wet_patch(grounds, Ground::Dry);
    CHECK(std::abs(balance::drive(m, drive).correct->aside) > std::abs(aside) + 1e-3);
}

TEST_CASE("cars near one go as they do when they are driven, in every manoeuvre") {
    int compared = 0;
    for (const examples::Kind& kind : {examples::kinds[0], examples::kinds[3]}) {
        const Model m = examples::model_of(kind);
        const auto off = [&](int what, double by) {
            Model out = m;
            if (what == 0) out.axle[0].tyre[0].relaxation *= 1 + by, out.axle[0].tyre[1].relaxation *= 1 + by;
            if (what == 1) out.axle[1].bump_damping *= 1 + by, out.axle[1].rebound_damping *= 1 + by;
            if (what == 2) out.car.rear.spring_rate *= 1 + by;
            if (what == 3) out.car.sprung_mass *= 1 + by;
            return out;
        };
        for (const Manoeuvre manoeuvre : all_manoeuvres) {
            CAPTURE(kind.name, name_of(manoeuvre));
            Drive what{manoeuvre, 15, 0.3 * outright_limit(m).lateral};
            if (blows(manoeuvre)) what.wind = 0.1 * g * m.car.sprung_mass;
            if (bumps(manoeuvre)) what.speed = 4;
            what.bump = 0.03;
            DriveNear near;
            const Run first = near.of(m, what, false);
            if (!first.done()) continue;
            const auto figures = [](const Run& run) {
                std::vector<double> out;
                for (const std::size_t i : {60, 110, 161, 215, 300}) // odd and even ones
                    for (const double x : {run.moments[i].roll, run.moments[i].yaw, run.moments[i].lateral,
                                           run.moments[i].load[0] / 1e4, run.moments[i].load[3] / 1e4})
                        out.push_back(x);
                out.push_back(run.roll_peak);
                if (run.correct) out.push_back(run.correct->aside);
                return out;
            };
            const std::vector<double> own = figures(near.of(m, what, true)), driven = figures(first);
            for (std::size_t i = 0; i < own.size(); ++i) CHECK(own[i] == Approx(driven[i]).margin(1e-9));
            for (int input = 0; input < 4; ++input) {
                CAPTURE(input);
                constexpr double by = 0.01;
                const std::vector<double> up = figures(drive(off(input, by), what)),
                                          down = figures(drive(off(input, -by), what)),
                                          more = figures(near.of(off(input, by), what, true)),
                                          less = figures(near.of(off(input, -by), what, true));
                double whole = 0, apart = 0;
                for (std::size_t i = 0; i < own.size(); ++i) {
                    whole += std::pow((up[i] - down[i]) / 2, 2);
                    apart += std::pow((more[i] - less[i] - up[i] + down[i]) / 2, 2);
                }
                CHECK(std::sqrt(apart) < 0.03 * std::sqrt(whole) + 1e-4);
                ++compared;
            }
        }
    }
    CHECK(compared > 60);
}

TEST_CASE("what a car cannot do it does slower on the same line, up to the speed that a scan of runs finds") {
    for (const examples::Kind& kind : examples::kinds) {
        const Model m = examples::model_of(kind);
        const double hold = outright_limit(m).lateral, speed = 25 * std::sqrt(kind.wheelbase / 2.5);
        CAPTURE(kind.name, hold);
        // No steering asks for more than it holds: such a lane change leaned less than one at half of it.
        for (const Manoeuvre what : {Manoeuvre::Step, Manoeuvre::LaneChange, Manoeuvre::Slalom})
            CHECK_FALSE(drive(m, {what, speed, 1.02 * hold}).holds);
        const Drive fast{Manoeuvre::LaneChange, speed, 1.5 * hold};
        const auto found = fastest_on_line(m, fast);
        REQUIRE(found);
        double scanned = fast.speed; // downwards, so the first that is done
        while (scanned > 0.2 * fast.speed && !drive(m, same_line(fast, scanned)).done()) scanned *= 0.995;
        CHECK(*found == Approx(scanned).epsilon(0.015));
        // As far aside, whatever the speed.
        const auto aside = [&](double at) { return drive(m, same_line(fast, at)).moments.back().y; };
        CHECK(aside(0.4 * speed) == Approx(aside(0.3 * speed)).epsilon(0.15));
    }
}

TEST_CASE("a car beyond its critical speed does no manoeuvre, and it is the speed from which it turns round") {
    examples::Random r;
    Model m;
    m.car = r.car();
    m.car.loads.clear();
    m.car.rear = r.axle(AxleKind::Independent);
    m.car.rear.track = m.car.front.track;
    for (AxleGrip& a : m.axle.both()) a.roll_steer = a.side_steer = a.trail_steer = 0;
    for (Tyre& t : m.axle.rear.tyre) t.stiffness *= 0.55;
    const auto critical = critical_speed(m, 0.5);
    REQUIRE(critical);
    // Disturbed straight on, it grows or dies away.
    const auto yaw_after = [&](double speed) {
        const Moving car(m);
        Inputs in;
        MotionState q = *car.steady_in_wind(in, speed);
        q[at_yaw] += 1e-3;
        boost::numeric::odeint::runge_kutta4<MotionState> stepper;
        for (double t = 0; t < 6; t += 1e-3)
            stepper.do_step([&](const MotionState& at, MotionState& d, double) { car(at, d, in); }, q, t, 1e-3);
        return std::abs(q[at_yaw]);
    };
    CHECK(yaw_after(0.9 * *critical) < 5e-4);
    CHECK(yaw_after(1.1 * *critical) > 1e-3);
    for (const Manoeuvre kind : {Manoeuvre::Step, Manoeuvre::LaneChange, Manoeuvre::ThrottleLifted}) {
        const Run below = drive(m, {kind, 0.8 * *critical, 0.5}), beyond = drive(m, {kind, 1.1 * *critical, 0.5});
        CHECK((below.done() && below.moments.size() > 10));
        REQUIRE(beyond.slower);
        CHECK((!beyond.done() && beyond.moments.size() == 1));
        CHECK(*beyond.slower == Approx(*critical).epsilon(1e-9));
    }
    for (Tyre& t : m.axle.rear.tyre) t.stiffness *= 2.5;
    CHECK_FALSE(critical_speed(m, 0.5));
}

} // namespace tests::of_transient
