#include "core/model/acting.h"
#include "core/proof/predict.h"
#include "core/proof/ramp_test.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_proof {
using namespace dervish;
using namespace dervish::proof;

namespace {
RampTest read(double predicted, double sigma, std::vector<Reading> readings) {
    RampTest t;
    t.predicted = true;
    t.prediction.value = predicted;
    t.prediction.sigma = sigma;
    t.reading_sigma = 0.003;
    t.readings = std::move(readings);
    return t;
}
Reading exact(double value) { return {.value = value, .travel = {}, .note = {}}; }
Reading more_than(double value) { return {.value = value, .more_than = true, .travel = {}, .note = {}}; }
} // namespace

TEST_CASE("verdicts follow z at 1.645 and 2.58") {
    CHECK(compare(read(0.3, 0.004, {})).agreement == Agreement::NothingRead);
    const Verdict v = compare(read(0.3, 0.004, {exact(0.31)})); // sigma 5 mm together
    CHECK(v.z == Approx(2));
    CHECK(v.difference == Approx(0.01));
    CHECK(v.agreement == Agreement::Doubtful);
    CHECK(compare(read(0.3, 0.004, {exact(0.308)})).agreement == Agreement::Agrees);
    CHECK(compare(read(0.3, 0.004, {exact(0.287)})).agreement == Agreement::Disagrees);
    RampTest unplanned = read(0.3, 0.004, {exact(0.3)});
    unplanned.predicted = false;
    CHECK(compare(unplanned).agreement == Agreement::NothingRead);
}

TEST_CASE("repeats narrow the mean, their own spread widens it") {
    CHECK(compare(read(0.3, 0.004, {exact(0.3), exact(0.3), exact(0.3), exact(0.3)})).measured_sigma == Approx(0.0015));
    CHECK(compare(read(0.3, 0.004, {exact(0.28), exact(0.32)})).measured_sigma == Approx(0.02));
}

TEST_CASE("bounds speak only on their wrong side") {
    CHECK(compare(read(0.3, 0.004, {more_than(0.25)})).agreement == Agreement::Agrees);
    const Verdict beyond = compare(read(0.3, 0.004, {more_than(0.33)}));
    CHECK(beyond.agreement == Agreement::Disagrees);
    CHECK(beyond.bound);
    RampTest fixed = read(0.02, 0.004, {exact(0)});
    fixed.method = Method::Fixed;
    CHECK(compare(fixed).agreement == Agreement::Disagrees); // a gap was foretold, none was there
    fixed.prediction.value = -0.01;
    CHECK(compare(fixed).agreement == Agreement::Agrees);
    RampTest short_ramps = read(0.25, 0.004, {exact(0.2)});
    short_ramps.prediction.lifted = false; // foretold: does not lift below 250
    CHECK(compare(short_ramps).agreement == Agreement::Disagrees);
    short_ramps.readings = {more_than(0.25)};
    CHECK(compare(short_ramps).agreement == Agreement::Agrees);
}

TEST_CASE("a planned test predicts what the ramps do, with a band, for the loads it names") {
    job::Job j = job::blank();
    job::PlannedTest plan;
    plan.car = {j.vehicle, j.fitted};
    plan.ramp.ramp_height = 1.5;
    const Prediction p = proof::predict(plan);
    CHECK(p.value == Approx(study::assess(j.vehicle, j.fitted).outcomes[study::LiftHeight]).margin(1e-6));
    CHECK(p.sigma > 0.002);
    CHECK(p.travel_sigma.wheel[0].value() > 0);
    plan.ramp.method = Method::Fixed;
    plan.ramp.ramp_height = p.value;
    CHECK(proof::predict(plan).value == Approx(0).margin(1e-5));
    examples::carry(j, {"", "stores", {400}, {2.6}, {0}, {1}});
    CHECK(proof::predict(plan).value == Approx(0).margin(1e-5)); // the car as it was
    plan.car = {j.vehicle, j.fitted};
    CHECK(std::abs(proof::predict(plan).value) > 1e-3);
}

TEST_CASE("on fixed ramps the low wheel with the most air, or the least pressed in on its own tyre, is foretold") {
    for (const bool stiff_front : {true, false}) {
        job::Job j = job::blank();
        j.trial.front.tyres.rate.value = stiff_front ? 400e3 : 120e3;
        j.trial.rear.tyres.rate.value = stiff_front ? 120e3 : 400e3;
        const car::Car car = model::car_with(j.vehicle, j.trial);
        RampTest t;
        t.method = Method::Fixed;
        for (const double height : {0.05, 0.15, 0.5}) {
            t.ramp_height = height;
            const flex::FixedRamps f = flex::on_fixed_ramps(car, t.raised, height);
            double most = -1;
            for (const int w : flex::low_wheels(t.raised)) {
                const double rate = (w < 2 ? j.trial.front : j.trial.rear).tyres.rate.value;
                most = std::max(most, f.state.wheels[w].gap - f.state.wheels[w].load / rate);
            }
            const Prediction p = predict(car, t);
            CHECK(p.value == Approx(most));
            CHECK(p.lifted == (most > 0));
        }
    }
}

TEST_CASE("travels are compared wheel by wheel where they were read") {
    RampTest t = read(0.3, 0.004, {exact(0.3)});
    t.prediction.travel.wheel[2] = -0.15;
    t.prediction.travel_sigma.wheel[2] = 0.004;
    CHECK(compare_travel(t, 2).agreement == Agreement::NothingRead);
    t.readings[0].travel.wheel[2] = -0.16;
    CHECK(compare_travel(t, 2).z == Approx(-2));
    CHECK(compare_travel(t, 0).agreement == Agreement::NothingRead);
}

} // namespace tests::of_proof
