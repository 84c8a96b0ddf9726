#include "kinds.h"
#include "core/balance/letting_go.h"
#include "core/balance/transient.h"
#include "core/car/handling.h"
#include "core/model/tyres.h"
#include "core/study/use.h"

#include <catch2/catch.hpp>

/// What practitioners say of all cars, looked for on eight kinds of them: docs/model.md, "What is said of all cars".
namespace tests::of_kinds {
using namespace dervish;
using namespace dervish::balance;
using examples::Kind;

namespace {
Model on(Model m, Ground ground) {
    const job::GroundData data = job::usual_grounds()[ground];
    m.surface = model::surface_of(data);
    m.road = model::road_of(data);
    m.swing = {};
    if (!m.road.plane()) m.swing = study::ride_of(m).swing;
    return m;
}
Model with_bars(Model m, double front, double rear) {
    m.car = study::with_bar(study::with_bar(m.car, End::Front, front), End::Rear, rear);
    return m;
}
double speed_for(const Kind& k) { return 20 * std::sqrt(k.wheelbase / 2.5); }

/// How often it holds on the eight kinds.
template <class F> int kinds_where(F&& holds) {
    int out = 0;
    for (const Kind& k : examples::kinds) out += holds(k, examples::model_of(k));
    return out;
}
} // namespace

TEST_CASE("the eight kinds are the cars that they say they are") {
    for (const Kind& k : examples::kinds) {
        const Model m = examples::model_of(k);
        CAPTURE(k.name);
        const car::State still = car::settle(m.car, {});
        REQUIRE(still.converged);
        double weight = 0;
        for (const car::Wheel& w : still.wheels) weight += w.load;
        CHECK(weight == Approx(k.mass * units::g).epsilon(1e-6));
        CHECK((still.wheels[0].load + still.wheels[1].load) / weight == Approx(k.front).epsilon(0.01));
        const double lean = car::roll_and_share(m.car).first * units::g / units::deg;
        CHECK((lean > 0.8 && lean < 13));
        CHECK(outright_limit(m).first != Gives::Tips);
    }
}

TEST_CASE("said: without bars a car rolls onto its tyres' shoulders and loses. Borne out by all eight") {
    CHECK(kinds_where([](const Kind&, const Model& m) {
              const Limit with = outright_limit(m), without = outright_limit(with_bars(m, 0, 0));
              return without.lateral < 0.99 * with.lateral &&
                     std::abs(without.at.lean()) > 1.1 * std::abs(with.at.lean());
          }) == 8);
}

TEST_CASE("said: softer bars hold more in the wet on patched roads. Of both bars by none, of one end by two") {
    const auto wet = [](const Model& m, double front, double rear) {
        return outright_limit(on(with_bars(m, front, rear), Ground::WetPatched)).lateral;
    };
    CHECK(kinds_where([&](const Kind&, const Model& m) { return wet(m, 0.5, 0.5) > wet(m, 1, 1); }) == 0);
    // The end that gives up first: the roadster's front, the track car's rear.
    CHECK(kinds_where([&](const Kind&, const Model& m) {
              return std::max(wet(m, 0.5, 1), wet(m, 1, 0.5)) > wet(m, 1, 1);
          }) == 2);
}

TEST_CASE("said: a stiff rear bar skips on washboard. Its wheels' loads swing no more, on any") {
    CHECK(kinds_where([](const Kind&, const Model& m) {
              const Ride own = study::ride_of(on(m, Ground::Washboard)),
                         stiff = study::ride_of(on(with_bars(m, 1, 4), Ground::Washboard));
              return stiff.load[2] > 1.02 * own.load[2];
          }) == 0);
    // What it does: on one of them the rear then gives up first where the front did.
    CHECK(kinds_where([](const Kind&, const Model& m) {
              return outright_limit(on(m, Ground::Washboard)).first == Gives::Front &&
                     outright_limit(on(with_bars(m, 1, 4), Ground::Washboard)).first == Gives::Rear;
          }) == 1);
}

TEST_CASE("said: too stiff on hard tyres, right on sticky ones. Of the rear bar, by the model alone") {
    CHECK(kinds_where([](const Kind&, const Model& m) {
              const auto match = study::match_to_tyre(m);
              return match.front().bars.rear < match.back().bars.rear;
          }) == 4);
}

TEST_CASE("said: firm dampers settle the S-bend that a bar was bought for. Where the roll is little damped, and there "
          "alone") {
    struct Bend {
        double settled, overshoot;
    };
    const auto bend = [](const Kind& k, Model m, double dampers) {
        const double lateral = 0.5 * outright_limit(m).lateral;
        for (AxleGrip& a : m.axle.both()) {
            a.bump_damping *= dampers;
            a.rebound_damping *= dampers;
        }
        const Run run = drive(m, {Manoeuvre::SBend, speed_for(k), lateral});
        const double last = run.moments.back().roll;
        Bend out{0, 0};
        for (const Moment& at : run.moments)
            if (at.time > 2.6) { // it has begun to reverse
                out.overshoot = std::max(out.overshoot, at.roll / last - 1);
                if (std::abs(at.roll - last) > 0.05 * std::abs(last)) out.settled = at.time - 2.5;
            }
        return out;
    };
    for (const Kind& k : examples::kinds) {
        const Model m = examples::model_of(k);
        CAPTURE(k.name, *roll_damping(m));
        const Bend own = bend(k, m, 1), firm = bend(k, m, 2);
        if (*roll_damping(m) < 0.2) { // the van and the truck
            CHECK(firm.overshoot < 0.7 * own.overshoot);
            CHECK(firm.settled < 0.85 * own.settled);
        } else {
            CHECK(own.overshoot < 0.02);
            CHECK(firm.settled > 0.99 * own.settled);
        }
    }
}

TEST_CASE("said: a very stiff car lets go suddenly. By none, but all warn less by their lean") {
    int sudden = 0, quieter = 0;
    for (const Kind& k : examples::kinds) {
        const Model m = examples::model_of(k), stiff = with_bars(m, 20, 20);
        const auto own = letting_go(m, outright_limit(m), speed_for(k)),
                   rigid = letting_go(stiff, outright_limit(stiff), speed_for(k));
        REQUIRE((own && rigid));
        sudden += rigid->sudden() && !own->sudden();
        quieter += rigid->lean < 0.5 * own->lean;
    }
    CHECK(sudden == 0);
    CHECK(quieter == 8);
}

TEST_CASE("said: throttle lifted, a stiff rear lets go. Of those that plough at first, by most") {
    int ploughing = 0, turned = 0;
    for (const Kind& k : examples::kinds) {
        const Model m = examples::model_of(k), stiff = with_bars(m, 1, 6);
        const auto own = letting_go(m, outright_limit(m), speed_for(k)),
                   rear = letting_go(stiff, outright_limit(stiff), speed_for(k));
        REQUIRE((own && rear));
        ploughing += !own->spins_lifted;
        turned += !own->spins_lifted && rear->spins_lifted;
    }
    CHECK(ploughing == 4); // hatchback, estate, van, truck
    CHECK(turned == 4);
}

} // namespace tests::of_kinds
