#include "core/proof/worth.h"
#include "core/edit/tests.h"
#include "core/proof/predict.h"
#include "core/say/proof_words.h"
#include "core/sure/parameters.h"
#include "examples.h"

#include <algorithm>
#include <catch2/catch.hpp>

namespace tests::of_worth {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::proof;

namespace {
Job example() {
    Job out = examples::off_road_car();
    for (const FieldRef& f : fields(out)) f.value->sigma *= 0.3; // measured, most of it
    return out;
}

PlannedTest planned(const Job& j, const char* protocol, const char* unknown) {
    PlannedTest t;
    t.asks = Asks::Unknown;
    t.protocol = protocol;
    t.unknown = unknown;
    t.states = {{"as it is", {j.vehicle, j.fitted}, {}}};
    t.order = {0, 0, 0};
    const auto all = predict(t);
    for (std::size_t s = 0; s < all.size(); ++s) t.states[s].prediction = all[s];
    return t;
}
} // namespace

TEST_CASE("what readings leave of an unknown holds it in nine of ten made-up cars that are solved anew") {
    const Job j = example();
    // Both axles without bars at the springs' own: what the sill tells is the springs, and the tyres.
    const char* unknown = "trial/front/springs/rate";
    PlannedTest t = planned(j, "sill_lean", unknown);
    t.states.push_back({"front bar off", {j.vehicle, j.fitted}, {}});
    t.states[1].car.setup.front.connected = false;
    t.order = {0, 1, 0, 1, 0};
    const auto all = predict(t);
    for (std::size_t s = 0; s < all.size(); ++s) t.states[s].prediction = all[s];
    const auto before = narrowed_as_planned(t);
    REQUIRE(before);
    CHECK(before->left < before->sigma);
    CHECK(before->found == before->value);
    CHECK_FALSE(narrowed_as_read(t)); // nothing is read

    const Protocol& p = protocol(t.protocol);
    const Channel& c = p.channels[0];
    examples::Random random;
    std::normal_distribution<double> normal;
    int held = 0;
    double squares = 0;
    constexpr int cars = 500;
    for (int i = 0; i < cars; ++i) {
        sure::Parameters with(j.vehicle, j.fitted, [&](const std::string& path) { return p.bears({}, path); });
        double truth = 0, read[2];
        for (bool stands = false; !stands;) {
            for (std::size_t k = 0; k < with.count(); ++k) {
                double to = with.value(k) + with.sigma(k) * normal(random.engine);
                while (!with.accepts(k, to)) to = with.value(k) + with.sigma(k) * normal(random.engine);
                with.set(k, to);
                if (with.path(k) == unknown) truth = to;
            }
            try {
                for (int s = 0; s < 2; ++s) {
                    Setup setup = with.setup();
                    setup.front.connected = s == 0;
                    read[s] = p.answers(settings_of(p, t))({with.vehicle(), setup})[0];
                }
                stands = true;
            } catch (const BadInput&) { // a car that cannot be
            }
        }
        const double tool = c.apart * normal(random.engine), hand = 1 + c.by_hand * normal(random.engine);
        t.runs.clear();
        for (const int s : t.order) {
            Run& run = t.runs.emplace_back();
            run.state = s;
            const double one = read_to(t, c, t.states[static_cast<std::size_t>(s)].prediction.value[0]);
            run.readings.push_back({c.spec.key, read[s] * hand + tool + one * normal(random.engine), Bound::Exact, {}});
        }
        const auto found = narrowed_as_read(t);
        REQUIRE(found);
        const double off = (found->found - truth) / found->left;
        held += std::abs(off) <= band_90;
        squares += off * off / cars;
    }
    CAPTURE(held, squares, before->sigma, before->left);
    CHECK(held > 0.86 * cars);
    CHECK(held < 0.94 * cars);
    CHECK(std::sqrt(squares) < 1.15);
}

TEST_CASE("an input that a test does not feel keeps its spread, and one that is all of it goes with the readings") {
    const Job j = example();
    // Scales tell the weight on them and nothing of the bar.
    const PlannedTest scales = planned(j, "corner_scales", "trial/front/bar/outer_diameter");
    CHECK(narrowed_as_planned(scales)->left == Approx(narrowed_as_planned(scales)->sigma).epsilon(0.01));
    // One input, one figure: 1/left² = 1/σ² + slope²/read², the closed form of two estimates together.
    PlannedTest one;
    one.asks = Asks::Unknown;
    one.protocol = "fixed_ramps";
    one.unknown = "vehicle/front/track";
    one.states = {{"as it is", {j.vehicle, j.fitted}, {}}};
    one.states[0].car.vehicle.front.track = {1.5, 0.01, Source::Assumed};
    one.order = {0, 0};
    const Channel& c = protocol(one.protocol).channels[0];
    Prediction& pr = one.states[0].prediction;
    const std::size_t count = protocol(one.protocol).channels.size();
    pr.made = true;
    pr.value.assign(count, 0.3);
    pr.sigma.assign(count, 0);
    pr.tells.assign(count, PredictedNothing);
    pr.tells[0] = PredictedValue;
    pr.sigma[0] = 0.02;
    std::vector<double> change(count, 0);
    change[0] = 0.02;
    pr.shares = {{"vehicle/front/track", "", change}};
    const double read = std::hypot(read_to(one, c, 0.3) / std::sqrt(2.0), c.apart);
    const double together = 1 / std::sqrt(1 + 0.02 * 0.02 / (read * read));
    CHECK(narrowed_as_planned(one)->left == Approx(0.01 * together));
    // Read 0.02 high, one σ of its: the unknown goes as much of one σ as the readings weigh.
    for (int r = 0; r < 2; ++r) {
        Run& run = one.runs.emplace_back();
        run.readings.push_back({c.spec.key, 0.32, Bound::Exact, {}});
    }
    CHECK(narrowed_as_read(one)->found == Approx(1.5 + 0.01 * (1 - together * together)));
    CHECK(say::unknown_told(one, units::System::Metric));
    one.unknown = "vehicle/no/such";
    CHECK_FALSE(narrowed_as_planned(one));
}

TEST_CASE("each question weighs a test by what it would tell of it") {
    const Job j = example();
    PlannedTest t = planned(j, "sill_lean", "trial/front/springs/rate");
    const auto unknown = worth(t);
    t.asks = Asks::SumOrCar;
    const auto sum = worth(t);
    t.asks = Asks::Changed;
    const auto changed = worth(t);
    REQUIRE((unknown && sum && changed));
    const Channel& c = protocol("sill_lean").channels[0];
    const double value = t.states[0].prediction.value[0], mean = read_to(t, c, value) / std::sqrt(3.0);
    // A normal figure is outside its 90 % band nine times in ten when it lies 1.645 + 1.282 of its sigmas off.
    CHECK(changed->figure == Approx(2.9264 * std::sqrt(2 * (mean * mean + c.apart * c.apart)) / value).epsilon(1e-4));
    CHECK(sum->figure ==
          Approx(2.9264 * std::hypot(mean, c.apart, t.states[0].prediction.sigma[0]) / value).epsilon(1e-4));
    for (const auto& w : {unknown, sum, changed}) {
        CHECK(w->score() > 0);
        CHECK(w->score() < 1);
    }
    CHECK(say::worth_told(t, units::System::Metric));
    // More runs tell more.
    t.order.assign(12, 0);
    CHECK(worth(t)->figure < changed->figure);
    t.asks = Asks::Which; // of one setup
    CHECK_FALSE(worth(t));
    CHECK_FALSE(say::worth_told(t, units::System::Metric));
    // What may be asked for is what some test answers to.
    const auto all = unknowns(j.vehicle, j.fitted);
    CHECK(all.size() > 30);
    CHECK(std::ranges::find(all, "trial/front/springs/rate", &Unknown::path) != all.end());
}

TEST_CASE("an order of all states is each beside the one before it") {
    Job j = example();
    edit::plan_test(j, {"t", "", "", "sill_lean", Asks::Which, {j.fitted, j.fitted, j.trial}});
    const auto order = edit::ranking("b, A=c", "Oke", 3);
    REQUIRE(order.size() == 2);
    CHECK((order[0].state == 0 && order[0].than == 1 && order[0].kind == Guess::Kind::Less));
    CHECK((order[1].state == 2 && order[1].than == 0 && order[1].kind == Guess::Kind::Same));
    Guess number;
    number.person = "Oke";
    number.value = 0.1;
    edit::put_guess(j, 0, number);
    edit::put_ranking(j, 0, order);
    CHECK(j.tests[0].guesses.size() == 3);
    // Another order takes its place, the number stays.
    edit::put_ranking(j, 0, edit::ranking("C B A", "Oke", 3));
    REQUIRE(j.tests[0].guesses.size() == 3);
    CHECK(j.tests[0].guesses[0].kind == Guess::Kind::Number);
    CHECK(j.tests[0].guesses[2].state == 0);
    for (const char* wrong : {"", "A B", "A B A", "A B D", "A, B, 3"})
        CHECK_THROWS_AS(edit::ranking(wrong, "Oke", 3), BadInput);
}

} // namespace tests::of_worth
