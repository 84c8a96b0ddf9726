#include "core/balance/steady.h"
#include "core/car/handling.h"
#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_corners {
/// Corners worked out once more from the tyre's formula of docs/model.md alone: loads from the equilibrium, forces by
/// this file's own tyre, axles by a search over slips, limits by halves.
using namespace dervish;
using namespace dervish::balance;
using units::g;

namespace {
struct Bend {
    bool holds = false, spins = false;
    std::array<double, 2> slip{}, over{}; ///< of what is needed: most over need
};

double tyre(const Tyre& t, double load, double slip, double into, double along) {
    if (load <= 0) return 0;
    const double off = into - t.best_camber, p = t.pressure - t.best_pressure;
    const double top = t.grip * std::max(0.3, 1 - t.pressure_loss * p * p) * load *
                       std::max(0.2, 1 - t.grip_fall * (load / t.nominal_load - 1)) *
                       std::max(0.3, 1 - t.camber_loss * off * off);
    if (std::abs(along) >= top) return 0;
    const double bcd = t.stiffness * std::pow(t.pressure, 0.1) * t.nominal_load *
                       std::sin(2 * std::atan(load / (t.stiffness_load * std::sqrt(t.pressure) * t.nominal_load)));
    const double x = bcd / (t.shape * top) * (slip + t.camber_thrust * into);
    return std::sqrt(top * top - along * along) * std::sin(t.shape * std::atan(x - t.bend * (x - std::atan(x))));
}

/// `way` 1 left, −1 right. Wheels here are inner and outer of each axle.
Bend bend(const Model& m, double lateral, double longitudinal, int way) {
    Bend out;
    const car::State s =
        car::settle(m.car, {.lateral_acceleration = way * lateral, .longitudinal_acceleration = longitudinal});
    const std::size_t inner = way > 0 ? 0 : 1;
    if (!s.converged || (s.wheels[inner].load <= 0 && s.wheels[2 + inner].load <= 0)) return out;
    const car::Loaded l = car::loaded(m.car);
    const double mass[2] = {l.share[0] + m.car.front.unsprung_mass, l.share[1] + m.car.rear.unsprung_mass};
    const double track[2] = {m.car.front.track, m.car.rear.track}, whole = (mass[0] + mass[1]) * longitudinal;
    double load[2][2], lean[2][2], pull[2][2]{};
    for (std::size_t e = 0; e < 2; ++e)
        for (std::size_t o = 0; o < 2; ++o) { // inner, outer
            const std::size_t w = o == 0 ? inner : 1 - inner;
            load[e][o] = s.wheels[2 * e + w].load;
            // Top inwards is negative camber: that is out of the turn on the inner wheel, into it on the outer one.
            lean[e][o] = (o == 0 ? 1 : -1) * m.axle[e].camber - way * s.roll[e] * (1 - m.axle[e].camber_kept);
        }
    const double carried = load[0][0] + load[0][1] + load[1][0] + load[1][1];
    for (std::size_t e = 0; e < 2; ++e) {
        const auto left = [&](std::size_t o) {
            const Tyre& t = m.axle[e].tyre[o == 0 ? inner : 1 - inner];
            double top = 0; // the tyre's own peak, without drive
            for (double slip = 0; slip < 0.7; slip += 2e-4)
                top = std::max(top, tyre(t, load[e][o], slip, lean[e][o], 0));
            return top;
        };
        if (longitudinal < -0.081 * g) {
            pull[e][0] = pull[e][1] = whole * (load[e][0] + load[e][1]) / carried / 2;
        } else if (longitudinal <= 0) {
            pull[e][0] = pull[e][1] = whole * m.drive[e] / 2;
        } else {
            const double asked = whole * m.drive[e], can[2] = {left(0), left(1)};
            pull[e][0] = pull[e][1] = asked / 2;
            if (m.differential[e] == Differential::Locked)
                for (std::size_t o = 0; o < 2; ++o) pull[e][o] = asked * load[e][o] / (load[e][0] + load[e][1]);
            const std::size_t weak = can[0] < can[1] ? 0 : 1;
            const bool more = m.differential[e] != Differential::Open;
            if (pull[e][weak] > can[weak] || (m.differential[e] != Differential::Locked && asked / 2 > can[weak])) {
                pull[e][weak] = can[weak];
                const double ratio = m.differential[e] == Differential::Limited ? m.bias_ratio : 1e9;
                pull[e][1 - weak] = more ? std::min({asked - can[weak], can[1 - weak], ratio * can[weak]}) : can[weak];
            }
            if (m.differential[e] == Differential::Locked && pull[e][1 - weak] > can[1 - weak]) {
                pull[e][1 - weak] = can[1 - weak];
                pull[e][weak] = std::min(can[weak], asked - can[1 - weak]);
            }
            out.spins = out.spins || pull[e][0] + pull[e][1] < asked * (1 - 1e-6);
        }
    }
    double turns = 0;
    for (std::size_t e = 0; e < 2; ++e) turns += (pull[e][1] - pull[e][0]) * track[e] / 2;
    const double need[2] = {mass[0] * lateral - turns / m.car.wheelbase, mass[1] * lateral + turns / m.car.wheelbase};
    out.holds = true;
    for (std::size_t e = 0; e < 2; ++e) {
        const auto force = [&](std::size_t o, double slip) {
            return tyre(m.axle[e].tyre[o == 0 ? inner : 1 - inner], load[e][o], slip, lean[e][o], pull[e][o]);
        };
        double most = -1e9, at = 0;
        for (double slip = -0.1; slip < 0.7; slip += 1e-3)
            if (const double f = force(0, slip) + force(1, slip); f > most) most = f, at = slip;
        for (double step = 1e-3; step > 1e-7; step /= 2) // to the top
            for (const double slip : {at - step, at + step})
                if (const double f = force(0, slip) + force(1, slip); f > most) most = f, at = slip;
        out.over[e] = most / need[e];
        out.holds = out.holds && most >= need[e];
        double low = -0.2, high = at;
        for (int i = 0; i < 60; ++i) {
            const double middle = (low + high) / 2;
            (force(0, middle) + force(1, middle) < need[e] ? low : high) = middle;
        }
        out.slip[e] = high;
    }
    return out;
}

/// The most lateral acceleration to one side; `first`: 0 front, 1 rear, 2 tips.
std::pair<double, int> most(const Model& m, double longitudinal, int way) {
    double low = 0, high = 0;
    while (high < 2 * g && bend(m, high += 0.04 * g, longitudinal, way).holds) low = high;
    while (high - low > 1e-4) {
        const double middle = (low + high) / 2;
        (bend(m, middle, longitudinal, way).holds ? low : high) = middle;
    }
    const Bend at = bend(m, high, longitudinal, way);
    return {low, at.over[0] == 0 ? 2 : at.over[0] < at.over[1] ? 0 : 1};
}

/// A made-up car: nose-heavy or tail-heavy, driven somewhere, on tyres of some character, loaded at the back or not.
job::Job made_up(examples::Random& r) {
    job::Job j = job::blank();
    job::Vehicle& v = j.vehicle;
    const double mass = r(700, 2200), front = r(0.38, 0.64), left = r(0.47, 0.53);
    v.wheelbase.value = r(2.3, 3.1);
    v.front_left_load.value = mass * front * left;
    v.front_right_load.value = mass * front * (1 - left);
    v.rear_left_load.value = mass * (1 - front) * left;
    v.rear_right_load.value = mass * (1 - front) * (1 - left);
    v.cg_height.value = r(0.42, 0.75);
    for (job::AxleData* a : {&v.front, &v.rear}) {
        a->track.value = r(1.35, 1.65);
        job::AxleSetup& on = a == &v.front ? j.trial.front : j.trial.rear;
        on.springs.rate.value = r(18e3, 40e3);
        on.tyres.grip_fall.value = r(0.05, 0.25);
        on.stand.camber.value = r(-0.05, 0.01);
        on.stand.pressure.value = r(0.8, 1.2);
        a->wheels.camber_kept.value = r(0, 0.6);
    }
    v.handling.driven = static_cast<job::Driven>(r.engine() % 3u);
    examples::carry(j, {"", "cargo", {r(50, 240)}, {v.wheelbase.value * 0.9}, {r(-0.3, 0.3)}, {0.8}});
    return j;
}
Model model_of(const job::Job& j) { return model::to_model(j.vehicle, j.trial, model::car_with(j.vehicle, j.trial)); }
} // namespace

TEST_CASE("cargo changes what the tyres carry and not what they are") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        job::Job j = made_up(r);
        const Model with = model_of(j);
        j.trial.aboard.clear();
        const Model without = model_of(j);
        const job::Vehicle& v = j.vehicle;
        const double mean =
            g / 4 *
            (v.front_left_load.value + v.front_right_load.value + v.rear_left_load.value + v.rear_right_load.value);
        for (const Model* m : {&with, &without})
            for (const AxleGrip& a : m->axle.both())
                for (const Tyre& t : a.tyre) CHECK(t.nominal_load == Approx(mean));
        CHECK(with.axle[1].bump_damping == without.axle[1].bump_damping);
        j.trial.rear.tyres.nominal_load.value = 5000;
        CHECK(model_of(j).axle[1].tyre[0].nominal_load == 5000);
        // 240 kg in the tail takes understeer away from the same tyres.
        const auto loaded = understeer(with), empty = understeer(without);
        if (loaded && empty) CHECK(loaded->whole < empty->whole);
    }
}

TEST_CASE("of a car that holds the same to both sides the left turn is told, wherever it was found from") {
    const Model m = model_of(job::blank());
    const Limit from_right = limit(m, Phase::Middle, Turn::Right);
    CHECK(from_right.turn == Turn::Right);
    CHECK(outright_limit(m, &from_right).turn == Turn::Left);
    CHECK(outright_limit(m).turn == Turn::Left);
}

TEST_CASE("corners of made-up cars are those of a sum of their own: slips, understeer and limits to either side") {
    examples::Random r;
    int front = 0, rear = 0, right = 0;
    for (int i = 0; i < 20; ++i) {
        const Model m = model_of(made_up(r));
        double lowest = 1e9, highest = 0;
        for (const int way : {1, -1}) {
            const Bend at = bend(m, 2.5, 0, way);
            const Corner c = corner(m, way * 2.5);
            REQUIRE(at.holds);
            for (std::size_t e = 0; e < 2; ++e) CHECK(c.slip[e] == Approx(at.slip[e]).margin(1e-6));
            const Limit l = limit(m, Phase::Middle, way > 0 ? Turn::Left : Turn::Right);
            const auto [lateral, first] = most(m, 0, way);
            CHECK(l.lateral == Approx(lateral).margin(2e-3));
            CHECK(static_cast<int>(l.first) == first);
            (l.first == Gives::Front ? front : rear) += l.first != Gives::Tips;
            lowest = std::min(lowest, lateral);
            highest = std::max(highest, lateral);
        }
        // The tally's is the lower of both, and is found from either.
        const Limit tally = outright_limit(m), from_right = limit(m, Phase::Middle, Turn::Right);
        CHECK(tally.lateral == Approx(lowest).margin(2e-3));
        CHECK(outright_limit(m, &from_right).lateral == Approx(tally.lateral).margin(5e-6));
        if (highest - lowest > 0.01) CHECK(outright_limit(m, &from_right).turn == tally.turn);
        right += tally.turn == Turn::Right;
        const double h = 0.02 * g;
        const auto steer = [&](double a) {
            const Bend b = bend(m, a, 0, 1);
            return b.slip[0] - b.slip[1];
        };
        Model plain = m;
        for (AxleGrip& a : plain.axle.both()) a.roll_steer = a.side_steer = a.trail_steer = 0;
        CHECK(understeer(plain)->whole == Approx((steer(0.3 * g + h) - steer(0.3 * g - h)) / (2 * h)).margin(2e-5));
    }
    CHECK(front > 5);
    CHECK(rear > 5);
    CHECK(right > 3);
}

TEST_CASE("camber is a means: an axle holds most at some of it, and loses where its wheels lean with the body") {
    job::Job j = job::blank();
    j.trial.front.fitted = j.trial.rear.fitted = false;
    double best = -1, at = 0, straight = 0;
    for (int tenths = -60; tenths <= 30; tenths += 5) {
        j.trial.front.stand.camber.value = tenths / 10.0 * units::deg;
        const Model m = model_of(j);
        const double front = corner(m, 0.5 * g).most[0];
        if (front > best) best = front, at = tenths / 10.0;
        if (tenths == 0) straight = front;
    }
    CHECK((at < -1 && at > -6)); // the lean's share, and the tyre's own 1.5°
    CHECK(best > 1.005 * straight);
    j.trial.front.stand.camber.value = 0;
    j.vehicle.front.wheels.camber_kept.value = 0; // wheels lean fully
    const Model leaning = model_of(j);
    const Corner c = corner(leaning, 0.5 * g);
    j.vehicle.front.wheels.camber_kept.value = 1;
    const double lean = std::abs(c.state.roll[0]) + leaning.axle[0].tyre[1].best_camber,
                 upright = leaning.axle[0].tyre[1].best_camber;
    const double lost = 1 - corner(leaning, 0.5 * g).most[0] / corner(model_of(j), 0.5 * g).most[0];
    CHECK(lost == Approx(10 * (lean * lean - upright * upright)).epsilon(0.15));
}

TEST_CASE("pressure off the tyre's own costs that end grip either way, and the body leans on the same tyres") {
    job::Job j = job::blank();
    const auto front_most = [&](double pressure) {
        j.trial.front.stand.pressure.value = pressure;
        return corner(model_of(j), 0.3 * g).most[0];
    };
    const double own = front_most(1);
    CHECK(front_most(1.3) < own);
    CHECK(front_most(0.7) < own);
    // At its own load: 0.5 per pressure squared.
    Tyre t;
    const double level = peak_grip(t, {}, t.nominal_load, 0);
    for (const double p : {0.6, 0.8, 1.2}) {
        t.pressure = p;
        CHECK(peak_grip(t, {}, t.nominal_load, 0) == Approx(level * (1 - 0.5 * (p - 1) * (p - 1))));
    }
    // One tyre rate in every answer: the tally leans as the corner does.
    j = job::blank();
    j.trial.front.stand.pressure.value = j.trial.rear.stand.pressure.value = 0.6;
    const study::Assessment a = study::assess(j.vehicle, j.trial);
    const double s = 0.3 * g;
    const double lean = (corner(model_of(j), s).lean() - corner(model_of(j), -s).lean()) / (2 * s);
    CHECK(a.outcomes[study::RollGradient] == Approx(lean).epsilon(0.01));
    CHECK(a.car.front.tyre_rate == Approx((0.15 + 0.85 * 0.6) * j.trial.front.tyres.rate.value));
}

TEST_CASE(
    "out of a bend: each differential by a sum of its own, the three unlike, and the most pull with what ends it") {
    examples::Random r;
    int spun = 0, slid = 0, unlike = 0;
    for (int i = 0; i < 12; ++i) {
        job::Job j = made_up(r);
        j.vehicle.handling.pull.value = r(0.15, 0.35);
        Model m = model_of(j);
        std::array<double, 3> limits{};
        for (const Differential d : {Differential::Open, Differential::Limited, Differential::Locked}) {
            m.differential = {d, d};
            const Limit l = limit(m, Phase::Exit);
            CHECK(bend(m, l.lateral - 3e-3, m.pull, 1).holds);
            CHECK_FALSE(bend(m, l.lateral + 0.02, m.pull, 1).holds);
            limits[static_cast<std::size_t>(d)] = l.lateral;
            // The most pull at half of that, by halves.
            const Pull p = most_pull(m, 0.5 * l.lateral);
            double low = 0, high = g;
            while (high - low > 1e-4) {
                const double middle = (low + high) / 2;
                const Bend b = bend(m, 0.5 * l.lateral, middle, 1);
                (b.holds && !b.spins ? low : high) = middle;
            }
            CHECK(p.longitudinal == Approx(low).margin(2e-3 * g));
            if (p.longitudinal < g) ++(p.spins >= 0 ? spun : slid);
        }
        unlike += std::abs(limits[0] - limits[2]) > 2e-3;
    }
    CHECK(spun > 3);
    CHECK(slid > 3);
    CHECK(unlike > 6);
}

TEST_CASE("braking into a bend, either end gives up first on some cars, as a sum of its own has it") {
    examples::Random r;
    int front = 0, rear = 0;
    for (int i = 0; i < 20; ++i) {
        job::Job j = made_up(r);
        if (i % 2) { // a nose-heavy front-driver on a soft rear
            j.vehicle.front_left_load.value = j.vehicle.front_right_load.value = 420;
            j.vehicle.rear_left_load.value = j.vehicle.rear_right_load.value = 230;
            j.vehicle.loads.clear();
            j.trial.rear.fitted = false;
            j.vehicle.handling.braking.value = 0.1;
        }
        const Model m = model_of(j);
        const Limit l = limit(m, Phase::Entry);
        const auto [lateral, first] = most(m, -m.braking, 1);
        CHECK(l.lateral == Approx(lateral).margin(3e-3));
        CHECK(static_cast<int>(l.first) == first);
        (l.first == Gives::Front ? front : rear) += 1;
    }
    CHECK(front > 2);
    CHECK(rear > 2);
}

TEST_CASE("the first wheel to lift and the rollover are looked for in turns to either side") {
    examples::Random r;
    for (int i = 0; i < 10; ++i) {
        car::Car c = r.car();
        c.cg_left = r(-0.06, 0.06);
        c.cg_height += 0.2;
        double soonest = 1e9, over = 1e9;
        for (const int way : {1, -1}) {
            const std::size_t inner = way > 0 ? 0 : 1;
            car::State s = car::settle(c, {});
            bool lifted = false;
            for (double a = 0; a < 2 * g; a += 0.005) {
                s = car::settle(c, {.lateral_acceleration = way * a}, &s);
                const bool f = s.wheels[inner].load <= 0, b = s.wheels[2 + inner].load <= 0;
                if (!lifted && (f || b || !s.converged)) soonest = std::min(soonest, a), lifted = true;
                if (!s.converged || (f && b)) {
                    over = std::min(over, a);
                    break;
                }
            }
        }
        const auto lift = car::first_lift(c), tips = car::rollover_threshold(c);
        REQUIRE(lift);
        REQUIRE(tips);
        CHECK(lift->acceleration == Approx(soonest).margin(0.011));
        CHECK(tips->acceleration == Approx(over).margin(0.011));
        CHECK((lift->wheel % 2 == 0) == (c.cg_left < 0)); // the side that carries less
    }
    car::Car tall = r.car();
    tall.cg_height = 3.5;
    CHECK(std::isinf(car::roll_and_share(tall).first)); // no gradient at 0.3 g of a car that tips before
}

} // namespace tests::of_corners
