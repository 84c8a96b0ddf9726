#include "core/proof/predict.h"
#include "core/job/fields.h"
#include "core/say/bar_words.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "core/sure/questions.h"
#include "examples.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_predict {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::study;
using namespace dervish::sure;
using namespace dervish::proof;
using namespace dervish::say;

namespace {
Prediction ramps(const Snapshot& car, const char* protocol, double height) {
    return predict(proof::protocol(protocol), {{"raised", 0}, {"ramp_height", height}}, car);
}
} // namespace

TEST_CASE("a prediction on growing ramps is the tally's lift height, with the tally's band") {
    const Job j = blank();
    const Assessment a = assess(j.vehicle, j.fitted);
    REQUIRE(a.ascent.lifted);
    const Prediction p = ramps({j.vehicle, j.fitted}, "diagonal_ramps", 0.8);
    CHECK(p.tells[0] == PredictedValue);
    CHECK(p.value[0] == Approx(a.outcomes[LiftHeight]).epsilon(1e-6));
    CHECK(p.sigma[0] == Approx(bands(j.vehicle, j.fitted).sigma[LiftHeight])
                            .epsilon(0.01)); // steps over the whole spread, or a derivative
    CHECK(p.light_wheel == a.ascent.light_wheel);
    CHECK(p.model == proof::model_version);
    for (std::size_t w = 0; w < 4; ++w) {
        CHECK(p.value[w + 1] == Approx(a.ascent.state.wheels[w].travel).margin(1e-6));
        CHECK(p.sigma[w + 1] > 0);
    }
    double variance = 0; // the inputs that are kept make up the band
    for (const PredictedShare& share : p.shares) variance += share.change[0] * share.change[0];
    CHECK(std::sqrt(variance) == Approx(p.sigma[0]).epsilon(1e-4));
}

TEST_CASE("what a drive is asked of leaves out no input that shows") {
    const Job j = blank();
    for (const char* key : {"steering_step", "one_step"}) {
        CAPTURE(key);
        const Protocol& p = proof::protocol(key);
        Question screened = question(p, settings_of(p, PlannedTest{}));
        Question whole = screened;
        whole.screen = {};
        const Bands few = propagate(j.vehicle, j.fitted, screened), all = propagate(j.vehicle, j.fitted, whole);
        CHECK(10 * few.shares.size() < 6 * all.shares.size());
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            CAPTURE(p.channels[c].spec.label);
            CHECK(few.nominal[c] == all.nominal[c]);
            CHECK(few.sigma[c] == Approx(all.sigma[c]).epsilon(0.01));
        }
    }
}

TEST_CASE("ramps that end below the lift height predict \"more than\"") {
    const Job j = blank();
    const double lift = assess(j.vehicle, j.fitted).outcomes[LiftHeight];
    const Prediction p = ramps({j.vehicle, j.fitted}, "diagonal_ramps", 0.5 * lift);
    CHECK(p.tells[0] == PredictedMoreThan);
    CHECK(p.value[0] == Approx(0.5 * lift));
}

TEST_CASE("on fixed ramps the gap opens past the lift height and is squeezed below it") {
    const Job j = blank();
    const double lift = assess(j.vehicle, j.fitted).outcomes[LiftHeight];
    double last = -1;
    for (const double part : {0.6, 0.9, 1.1, 1.4}) {
        const Prediction p = ramps({j.vehicle, j.fitted}, "fixed_ramps", part * lift);
        CHECK(p.value[0] > last);
        CHECK((p.value[0] > 0) == (part > 1));
        CHECK(p.sigma[0] > 0);
        last = p.value[0];
    }
    CHECK(ramps({j.vehicle, j.fitted}, "fixed_ramps", lift).value[0] == Approx(0).margin(1e-5));
}

TEST_CASE("a prediction speaks of the setup and the loads that the test names, not of today's") {
    Job j = blank();
    examples::carry(j, {"", "roof", {120, 1}, {1.3, 0.01}, {0, 0}, {1.9, 0.01}}, false);
    Snapshot car{j.vehicle, j.fitted};
    const double empty = ramps(car, "diagonal_ramps", 0.8).value[0];
    car.setup.aboard = {"load-1"};
    const double loaded = ramps(car, "diagonal_ramps", 0.8).value[0];
    CHECK(loaded != Approx(empty).epsilon(1e-3));
    car.setup.front.connected = false;
    CHECK(ramps(car, "diagonal_ramps", 0.8).value[0] > loaded);
}

TEST_CASE("a band's share adds up, one input at a time") {
    Job j = blank();
    for (FieldRef& f : fields(j)) f.value->sigma = 0;
    const Bands none = bands(j.vehicle, j.trial);
    REQUIRE(none.shares.size() == 5); // beam theory itself, and what friction holds at each wheel
    CHECK(none.sigma[FrontRate] > 0);
    j.vehicle.front.track.sigma = 0.01;
    const Bands track = bands(j.vehicle, j.trial);
    REQUIRE(track.shares.size() == 6);
    CHECK(track.shares[0].path == "vehicle/front/track");
    CHECK(track.shares[0].label == "Front axle, track");
    CHECK(track.shares[0].variance(FrontRate) == Approx(0).margin(1e-12)); // the bar knows no track
    CHECK(track.shares[0].variance(RollGradient) > 0);
    j.vehicle.front.track.sigma = 0.02;
    CHECK(bands(j.vehicle, j.trial).shares[0].variance(RollGradient) ==
          Approx(4 * track.shares[0].variance(RollGradient)).epsilon(0.02));
}

TEST_CASE("at the edge of what can be the step is one-sided and still counts") {
    Job j = blank();
    for (FieldRef& f : fields(j)) f.value->sigma = 0;
    Measured& eye = j.trial.front.bar.eyes[0].arm_length; // its arm ends 10 mm further out
    eye.value = j.trial.front.bar.arm_end.value;
    eye.sigma = 2e-3;
    const double edge = bands(j.vehicle, j.trial).sigma[FrontRate];
    j.trial.front.bar.arm_end.value += 0.05;
    CHECK(edge == Approx(bands(j.vehicle, j.trial).sigma[FrontRate]).epsilon(0.05));
}

TEST_CASE("what to measure next is the widest first, and no more than asked for") {
    const Job j = blank();
    const Bands b = bands(j.vehicle, j.trial);
    for (const Outcome o : {RollGradient, FrontShare, LiftHeight, FrontRate}) {
        const auto next = measure_next(b, o, 5);
        REQUIRE(next.size() <= 5);
        double sum = 0, last = 1;
        for (const auto& [label, share] : next) {
            CHECK(share <= last);
            CHECK(share > 0);
            sum += last = share;
        }
        CHECK(sum <= 1 + 1e-9);
    }
    CHECK(measure_next(b, FrontRate, 1)[0].first == "Bar, outer diameter"); // the fourth power
    CHECK(measure_next(b, FrontRate, 0).empty());
}

TEST_CASE("the ledger's shares have bands that follow their own inputs") {
    Job j = blank();
    for (FieldRef& f : fields(j)) f.value->sigma = 0;
    for (const double s : ledger_sigma(j.trial.front))
        CHECK(s == Approx(0).margin(1e-12)); // beam theory scales all alike
    j.trial.front.mounts.vertical.sigma = 0.1 * j.trial.front.mounts.vertical.value;
    const auto soft = ledger_sigma(j.trial.front);
    AxleSetup up = j.trial.front, down = j.trial.front;
    up.mounts.vertical.value *= 1.1;
    down.mounts.vertical.value *= 0.9;
    const auto share = [](const AxleSetup& a) { return bar::parts(bar_figures(a, blank().vehicle.front)->ledger); };
    double sum = 0;
    for (std::size_t i = 0; i < soft.size(); ++i) {
        CHECK(soft[i] == Approx(std::abs(share(up)[i].share - share(down)[i].share) / 2).margin(1e-12));
        sum += share(up)[i].share;
    }
    CHECK(sum == Approx(1));
    CHECK(std::string(share(up)[4].name) == "bushes");
    CHECK(soft[4] > 0.001);
}

TEST_CASE("a wide band of a positive figure is told in its logarithm, with unlike sides") {
    const auto even = [](double half) { return Sides{half, half}; };
    CHECK(band_text(109.4, even(6.3), 1) == "± 6.3");
    CHECK(band_text(109.4, {9.7, 4.6}, 1) == "−9.7 +4.6");
    CHECK(band_text(109.4, {6.6, 6.0}, 1) == "± 6.3");
    CHECK(band_text(9, even(2), 0) == "± 2");
    CHECK(band_text(55, even(65), 0) == "−38 +124"); // 55 e^(±65/55)
    CHECK(band_text(-3, even(2), 1) == "± 2.0");
    CHECK(band_text(3, even(0), 1).empty());
    // As drawn: a rate that goes with the fourth power of a diameter known to 15 %.
    std::mt19937 engine(3);
    std::normal_distribution<double> diameter(1, 0.15);
    std::vector<double> rates;
    for (int i = 0; i < 40000; ++i) rates.push_back(100 * std::pow(diameter(engine), 4));
    std::sort(rates.begin(), rates.end());
    const double half = 1.645 * 4 * 0.15 * 100;
    const double low = 100 / std::exp(half / 100), high = 100 * std::exp(half / 100);
    CHECK(rates[2000] == Approx(low).epsilon(0.15));
    CHECK(rates[38000] == Approx(high).epsilon(0.25)); // ± would say 199
    CHECK(std::abs(rates[2000] - low) < std::abs(rates[2000] - (100 - half)));
}

TEST_CASE("what the bands vary is the tally: the same outcomes for the car itself, two unlike cars") {
    for (const bool second : {false, true}) {
        Job j = blank();
        if (second) {
            j.vehicle.rear.kind = AxleKind::Solid;
            j.vehicle.rear.spring_base.value = 1.0;
            j.vehicle.cg_height.value = 0.7;
            j.trial.rear = j.trial.front;
            j.trial.rear.bar.outer_diameter.value = 18e-3;
        }
        const Outcomes told = assess(j.vehicle, j.trial).outcomes;
        const auto varied = tally().ask({j.vehicle, j.trial});
        for (std::size_t o = 0; o < outcome_count; ++o) {
            CAPTURE(outcome_names[o].words);
            CHECK(varied[o] == Approx(told[o]).epsilon(1e-6));
        }
    }
}

} // namespace tests::of_predict
