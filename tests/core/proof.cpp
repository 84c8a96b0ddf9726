#include "core/proof/predict.h"
#include "core/proof/verdict.h"
#include "core/say/proof_words.h"
#include "core/study/assess.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_proof {
using namespace dervish;
using namespace dervish::proof;

namespace {
/// A test of one state on growing ramps, its prediction given; a run a reading.
PlannedTest read(double predicted, double sigma, const std::vector<std::pair<double, Bound>>& readings,
                 const char* protocol = "diagonal_ramps") {
    PlannedTest t;
    t.protocol = protocol;
    const std::string channel = proof::protocol(protocol).channels[0].spec.key;
    t.read_to = {{channel, 0.003}};
    t.states.push_back({"as it is", {}, {}});
    Prediction& p = t.states[0].prediction;
    p.made = true;
    const std::size_t channels = proof::protocol(protocol).channels.size();
    p.value.assign(channels, 0);
    p.sigma.assign(channels, 0.01);
    p.tells.assign(channels, PredictedValue);
    p.value[0] = predicted;
    p.sigma[0] = sigma;
    for (const auto& [value, bound] : readings) t.runs.emplace_back().readings.push_back({channel, value, bound, {}});
    return t;
}
PlannedTest exact(double predicted, double sigma, const std::vector<double>& values) {
    std::vector<std::pair<double, Bound>> all;
    for (const double v : values) all.emplace_back(v, Bound::Exact);
    return read(predicted, sigma, all);
}
Agreement agreement(const PlannedTest& t) { return compare(t, 0, 0).agreement; }
} // namespace

TEST_CASE("verdicts follow z at 1.645 and 2.58") {
    CHECK(agreement(exact(0.3, 0.004, {})) == Agreement::NothingRead);
    const Verdict v = compare(exact(0.3, 0.004, {0.31}), 0, 0); // sigma 5 mm together
    CHECK(v.z == Approx(2));
    CHECK(v.agreement == Agreement::Doubtful);
    CHECK(agreement(exact(0.3, 0.004, {0.308})) == Agreement::Agrees);
    CHECK(agreement(exact(0.3, 0.004, {0.287})) == Agreement::Disagrees);
    PlannedTest unplanned = exact(0.3, 0.004, {0.3});
    unplanned.states[0].prediction.made = false;
    CHECK(agreement(unplanned) == Agreement::NothingRead);
    PlannedTest left_out = exact(0.3, 0.004, {0.2, 0.3});
    left_out.runs[0].discarded = "slipped";
    CHECK(agreement(left_out) == Agreement::Agrees);
    left_out.runs[0].discarded.clear();
    left_out.runs[0].readings[0].discarded = "slipped";
    CHECK(agreement(left_out) == Agreement::Agrees);
    left_out.states[0].prediction.tells[0] = PredictedNothing;
    CHECK(agreement(left_out) == Agreement::CannotTell);
}

TEST_CASE("what agrees because nearly anything would is too wide to tell, and says what to measure") {
    const PlannedTest wide = exact(0.286, 0.064, {0.30}); // ± 106 mm
    CHECK(agreement(wide) == Agreement::TooWide);
    CHECK(compare(wide).agreement == Agreement::TooWide);
    CHECK(agreement(exact(0.286, 0.064, {0.6})) == Agreement::Disagrees);
    CHECK(agreement(exact(0.286, 0.04, {0.30})) == Agreement::Agrees); // ± 66 of 286
    PlannedTest rough = exact(0.286, 0.03, {0.30});
    rough.read_to[0].si = 0.08; // the reading's own band is no fault of the sum's
    CHECK(agreement(rough) == Agreement::Agrees);
    PlannedTest told = wide;
    const std::size_t channels = told.states[0].prediction.value.size();
    for (const auto& [path, change] : {std::pair{"vehicle/cg_height", 0.02}, {"trial/front/springs/rate", 0.06}}) {
        told.states[0].prediction.shares.push_back({path, path, std::vector<double>(channels, 0)});
        told.states[0].prediction.shares.back().change[0] = change;
    }
    const say::Told words = say::told(told, units::System::Metric);
    CHECK(words.headline.starts_with("Too wide to tell"));
    CHECK(words.detail.find("to narrow it measure trial/front/springs/rate and") != std::string::npos);
}

TEST_CASE("repeats narrow the mean, their own spread widens it where the tool's does not explain it") {
    CHECK(compare(exact(0.3, 0.004, {0.3, 0.3, 0.3, 0.3}), 0, 0).measured_sigma == Approx(0.0015));
    CHECK(compare(exact(0.3, 0.004, {0.28, 0.32}), 0, 0).measured_sigma == Approx(0.02));
    CHECK(compare(exact(0.3, 0.004, {0.297, 0.303}), 0, 0).measured_sigma == Approx(0.003 / std::sqrt(2.0)));
}

TEST_CASE("bounds speak only on their wrong side") {
    CHECK(agreement(read(0.3, 0.004, {{0.25, Bound::More}})) == Agreement::Agrees);
    const Verdict beyond = compare(read(0.3, 0.004, {{0.33, Bound::More}}), 0, 0);
    CHECK(beyond.agreement == Agreement::Disagrees);
    CHECK(beyond.bound);
    CHECK(agreement(read(0.3, 0.004, {{0.27, Bound::Less}})) == Agreement::Disagrees);
    CHECK(agreement(read(0.3, 0.004, {{0.33, Bound::Less}})) == Agreement::Agrees);
    PlannedTest fixed = read(0.02, 0.004, {{0, Bound::Exact}}, "fixed_ramps");
    CHECK(agreement(fixed) == Agreement::Disagrees); // a gap was foretold, none was there
    fixed.states[0].prediction.value[0] = -0.01;
    CHECK(agreement(fixed) == Agreement::Agrees);
    PlannedTest short_ramps = exact(0.25, 0.004, {0.2});
    short_ramps.states[0].prediction.tells[0] = PredictedMoreThan; // foretold: does not lift below 250
    CHECK(agreement(short_ramps) == Agreement::Disagrees);
    short_ramps.runs[0].readings[0] = {"height", 0.25, Bound::More, {}};
    CHECK(agreement(short_ramps) == Agreement::Agrees);
}

TEST_CASE("the whole test weighs its figures with what the predictions share") {
    PlannedTest t = exact(0.3, 0.01, {0.314});
    t.runs[0].readings.push_back({"front_left", 0.014, Bound::Exact, {}});
    t.read_to = {{"height", 0.001}, {"front_left", 0.001}};
    Prediction& p = t.states[0].prediction;
    const Whole apart = compare(t);
    CHECK(apart.count == 2);
    CHECK(apart.chi_squared == Approx(2 * 0.014 * 0.014 / 1.01e-4));
    p.shares = {{"vehicle/wheelbase", "Wheelbase", {0.01, 0.01, 0, 0, 0}}}; // one cause moves both
    const Whole together = compare(t);
    // Both the same way: one error of the shared input explains both.
    CHECK(together.chi_squared == Approx(0.014 * 0.014 * 2 / (1e-6 + 2e-4)).epsilon(1e-6));
    CHECK(together.agreement == Agreement::Agrees);
    t.runs[0].readings[1].value = -0.014; // but not opposite ways
    CHECK(compare(t).agreement == Agreement::Disagrees);
    t.read_to = {{"height", 0}, {"front_left", 0}}; // one cause, and nothing else that could be off
    p.sigma = {0.01, 0.01, 0, 0, 0};
    CHECK(compare(t).agreement == Agreement::CannotTell);
    CHECK(say::told(t, units::System::Metric).headline.starts_with("Cannot tell: a reading is given no spread"));
}

TEST_CASE("a scale that reads nothing, and spreads of nothing, are judged and end in no fault") {
    const std::size_t channels = protocol("corner_scales").channels.size();
    PlannedTest t = read(0, 0, {{0, Bound::Exact}, {0.5, Bound::Exact}}, "corner_scales"); // a wheel that hangs
    t.read_to.clear();
    REQUIRE(channels == 4);
    CHECK(compare(t, 0, 0).measured == Approx(0.25));
    CHECK(compare(t, 0, 0).agreement != Agreement::NothingRead);
    CHECK(compare(t).count == 1);
    for (Run& run : t.runs) run.readings[0].value = 0;
    CHECK(compare(t).chance >= 0);
    CHECK(agreement(exact(0.3, 0, {1e5})) == Agreement::Disagrees);
    CHECK(compare(exact(0.3, 1e-9, {1e5})).agreement == Agreement::Disagrees);
}

} // namespace tests::of_proof
