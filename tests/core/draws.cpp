#include "core/sure/draws.h"
#include "core/edit/edits.h"
#include "core/job/fields.h"
#include "core/proof/predict.h"
#include "core/proof/protocol.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "core/sure/parameters.h"
#include "core/sure/questions.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_draws {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::study;
using namespace dervish::sure;

namespace {
/// A job whose spreads are `part` of what a blank one has.
Job surely(double part) {
    Job j = blank();
    for (FieldRef& f : fields(j)) f.value->sigma *= part;
    return j;
}
} // namespace

TEST_CASE("drawn cars and straight lines give the same bands while spreads are small", "[slow]") {
    Job j = surely(0.1);
    // Clearly the same wheel lifts in all of them; where two are as likely, the lower of two is no straight line.
    for (Measured* m : {&j.vehicle.front_left_load, &j.vehicle.front_right_load}) m->value = 420;
    const Bands b = bands(j.vehicle, j.trial);
    const Draws d = draw(j.vehicle, j.trial, tally(), 1500, 7);
    REQUIRE(d.count == 1500);
    const Assessment a = assess(j.vehicle, j.trial);
    for (const Outcome o : {RollGradient, FrontShare, LiftHeight, FrontRate, RearWheelRate, FrontOneSide,
                            RearRollStiffness, FrontYieldTravel}) {
        CAPTURE(outcome_names[o].words);
        const double half = band_90 * b.sigma[o];
        CHECK((d.high[o] - d.low[o]) / 2 == Approx(half).epsilon(0.09)); // 3 of its own sigma at 1500 draws
        CHECK(d.median[o] == Approx(a.outcomes[o]).margin(0.15 * half));
    }
}

TEST_CASE("a wide spread of the diameter is skewed, and drawn cars show it", "[slow]") {
    Job j = surely(0);
    j.trial.front.bar.outer_diameter.sigma = 3e-3;
    const Draws d = draw(j.vehicle, j.trial, tally(), 1500, 3);
    CHECK(d.high[FrontRate] - d.median[FrontRate] > 1.2 * (d.median[FrontRate] - d.low[FrontRate]));
    CHECK(d.high[RearRate] - d.low[RearRate] < 0.05 * d.median[RearRate]); // beam theory's own share
}

TEST_CASE("the same seed draws the same cars, another seed others") {
    const Job j = blank();
    const Draws a = draw(j.vehicle, j.trial, tally(), 120, 5), b = draw(j.vehicle, j.trial, tally(), 120, 5),
                c = draw(j.vehicle, j.trial, tally(), 120, 6);
    CHECK(a.low == b.low);
    CHECK(a.high == b.high);
    CHECK(a.high != c.high);
}

TEST_CASE("drawing stops when asked, with what was drawn") {
    const Job j = blank();
    int heard = 0;
    const Draws d = draw(j.vehicle, j.trial, tally(), 1000, 1, [&](int done) {
        heard = done;
        return done < 40;
    });
    CHECK(heard == 40);
    CHECK(d.count == 40);
    CHECK(d.high[FrontRate] > d.low[FrontRate]);
}

TEST_CASE("draws that cannot be are counted and drawn again, never taken") {
    Job j = surely(0);
    Measured& eye = j.trial.front.bar.eyes[0].arm_length; // half of its draws lie beyond the arm's end
    eye.value = j.trial.front.bar.arm_end.value;
    eye.sigma = 2e-3;
    const Draws d = draw(j.vehicle, j.trial, tally(), 200, 1);
    CHECK(d.count == 200);
    CHECK(d.impossible > 60);
    CHECK(d.impossible < 500);
    j.trial.front.bar.outer_diameter.value = 0;
    CHECK_THROWS_AS(draw(j.vehicle, j.trial, tally(), 10, 1), BadInput);
}

TEST_CASE("a car known exactly goes over its limit one way, and one input unsure splits the cars where the ends meet") {
    const Job exact = surely(1e-6);
    const GoesOver one = goes_over(exact.vehicle, exact.trial, Ground::Dry);
    const auto go = edge(Ground::Dry).ask({exact.vehicle, exact.trial});
    CHECK(one.front == (go[EdgeFront] > 0 ? 1 : 0));
    CHECK(one.sudden == (go[EdgeSudden] > 0 ? 1 : 0));

    // One input alone unsure, so much that the other end goes first for a share of the cars: that share by the normal's
    // own tail beyond where the ends meet.
    Job j = surely(1e-6);
    Measured& grip = j.trial.front.tyres.grip;
    const double own = grip.value;
    const auto front_goes = [&](double at) {
        grip.value = at;
        const bool out = edge(Ground::Dry).ask({j.vehicle, j.trial})[EdgeFront] > 0;
        grip.value = own;
        return out;
    };
    double low = 0.7 * own, high = 1.4 * own; // grippier until the rear goes first
    REQUIRE(front_goes(low));
    REQUIRE(!front_goes(high));
    for (int i = 0; i < 30; ++i) (front_goes((low + high) / 2) ? low : high) = (low + high) / 2;
    grip.sigma = std::abs(low - own) / 0.8 + 1e-3; // 79 of 100 on its own side
    const double beyond = std::erfc(std::abs(low - own) / grip.sigma / std::sqrt(2.0)) / 2;
    const double front = low > own ? 1 - beyond : beyond;
    CHECK(goes_over(j.vehicle, j.trial, Ground::Dry).front ==
          Approx(front).margin(4 * std::sqrt(front * (1 - front) / draws_for_shares)));
}

TEST_CASE("cars that have no such figure are left out of its quantiles, and none gives none") {
    const Job j = blank();
    int asked = 0;
    const Question question{
        {{"five, where there is one", units::Quantity::Number, 5}, {"none", units::Quantity::Number}},
        [&](const Asked&) {
            return std::vector<double>{++asked % 3 ? 5.0 : std::nan(""), std::nan("")};
        }};
    const Draws d = draw(j.vehicle, j.trial, question, 300, 1);
    CHECK(d.ended[0] == 200); // of 300 cars, after the car itself
    CHECK(d.ended[1] == 0);
    CHECK(d.count == 300);
    CHECK(d.low[0] == 5);
    CHECK(d.high[0] == 5);
    CHECK(std::isnan(d.median[1]));
    Bands lines;
    lines.nominal = {0, 0};
    lines.sigma = {0, 2};
    CHECK(with_draws(lines, d).sides(1).below == Approx(2 * band_90)); // by the lines then
}

TEST_CASE("bands by the derivative at the answer are those by central differences of the whole") {
    Job j = blank();
    j.vehicle.chassis_torsion.value = 9000 / units::deg;
    j.trial.rear.links.length.value += 0.01; // unlike the front's
    j.vehicle.front_left_load.value += 40;   // and the right turn unlike the left one
    const auto compare = [&](const Question& by_derivative, const Question& whole, double within) {
        const Bands one = propagate(j.vehicle, j.trial, by_derivative), other = propagate(j.vehicle, j.trial, whole);
        REQUIRE(one.shares.size() == other.shares.size());
        for (std::size_t o = 0; o < one.sigma.size(); ++o) {
            CAPTURE(whole.names[o].words, one.sigma[o], other.sigma[o]);
            if (o == FrontYieldTravel || o == RearYieldTravel) continue; // the place of the worst stress jumps
            if (o == LinkMargin) { // the smaller of two: here the tighter end's, there of both where they are near
                const Outcomes at = assess(j.vehicle, j.trial).outcomes;
                const Outcome tighter = at[FrontLinkMargin] <= at[RearLinkMargin] ? FrontLinkMargin : RearLinkMargin;
                CHECK(one.sigma[o] == one.sigma[tighter]);
                continue;
            }
            CHECK(one.sigma[o] == Approx(other.sigma[o]).epsilon(within).margin(1e-12));
            for (std::size_t i = 0; i < one.shares.size(); ++i) {
                CAPTURE(one.shares[i].path);
                const double variance = other.sigma[o] * other.sigma[o];
                CHECK(one.shares[i].variance(o) == Approx(other.shares[i].variance(o)).margin(2 * within * variance));
            }
        }
    };
    SECTION("a tenth as unsure as a new car") {
        for (FieldRef& f : fields(j)) f.value->sigma *= 0.1;
        compare(tally(Near::FirstOrder), tally(), 0.01);
        for (const flex::Kind kind : {flex::Kind::Ramp, flex::Kind::Lift, flex::Kind::Holes, flex::Kind::Slope}) {
            flex::Protocol p{.kind = kind, .second = 0.8};
            if (kind == flex::Kind::Slope) p.highest = 60 * units::deg;
            CAPTURE(static_cast<int>(kind));
            compare(reach(p, Near::FirstOrder), reach(p), 0.01);
        }
        for (const Ground ground : {Ground::Dry, Ground::Gravel})
            compare(limit(ground, Near::FirstOrder), limit(ground), 0.01);
    }
    SECTION("a bar clamped between trailing arms") {
        edit::choose(j, "trial/rear/held", 1);
        const Question near = tally(Near::FirstOrder);
        const std::vector<double> first = near.ask({j.vehicle, j.trial});
        const std::vector<double> itself = near.ask({j.vehicle, j.trial, 1, 1.0 / 256}); // by the derivative
        REQUIRE(itself.size() == first.size());
        CHECK(itself[RollGradient] == Approx(first[RollGradient]).epsilon(1e-9));
        for (FieldRef& f : fields(j)) f.value->sigma *= 0.1;
        compare(tally(Near::FirstOrder), tally(), 0.01);
        compare(limit(Ground::Dry, Near::FirstOrder), limit(Ground::Dry), 0.01);
    }
    SECTION("about to reach a stop, which no derivative there knows of") {
        const double bump = assess(j.vehicle, j.trial).ascent.state.wheels[car::front_left].travel;
        j.vehicle.front.bump_gap.value = bump + 1e-3;
        for (FieldRef& f : fields(j)) f.value->sigma *= 0.1;
        compare(tally(Near::FirstOrder), tally(), 0.01);
    }
}

TEST_CASE("an input that moves an answer bears on it, on every kind of car") {
    for (const CarKind kind : all_car_kinds) {
        NewCar asked;
        asked.kind = kind;
        asked.suspension = usual_suspension(kind);
        const Job j = new_car(asked);
        std::vector<std::pair<const char*, Question>> all{{"tally", tally()},
                                                          {"limit", limit(Ground::Gravel)},
                                                          {"steady", steady(Ground::Dry)},
                                                          {"costs", costs()},
                                                          {"heads", heads()},
                                                          {"reach", reach({})},
                                                          {"bend", manoeuvre({}, Ground::Dry)}};
        PlannedTest test;
        test.states.push_back({"", {j.vehicle, j.fitted}, {}});
        for (const proof::Protocol& p : proof::protocols()) {
            test.protocol = p.key;
            if (!p.channels.empty()) all.emplace_back(p.key, proof::question(p, proof::settings_of(p, test)));
        }
        for (const auto& [name, question] : all) {
            auto ask = question.ask;
            const std::vector<double> now = ask({j.vehicle, j.fitted});
            // A speed that is looked for is found to so much.
            const double near = question.screen ? 1e-3 : 1e-6;
            // Of which ground it is, or how rough, is told apart from what is not sure of the car.
            const bool on_roads = question.bears("vehicle/grounds/gravel/grip");
            Parameters inputs(j.vehicle, j.fitted,
                              [&bears = question.bears](const std::string& path) { return !bears(path); });
            for (std::size_t i = 0; i < inputs.count(); ++i) {
                if (inputs.path(i).starts_with("vehicle/grounds/") && !on_roads) continue;
                const double to = inputs.value(i) + inputs.sigma(i);
                if (!inputs.accepts(i, to)) continue;
                inputs.set(i, to);
                INFO(name_of(kind) << ", " << name << ": " << inputs.path(i));
                try {
                    const std::vector<double> moved = ask({inputs.vehicle(), inputs.setup()});
                    for (std::size_t k = 0; k < now.size(); ++k)
                        if (std::isfinite(now[k])) CHECK(moved[k] == Approx(now[k]).epsilon(near).margin(1e-12));
                } catch (const BadInput&) { // it cannot be
                }
                inputs.reset(i);
            }
        }
    }
}

} // namespace tests::of_draws
