#include "core/edit/tests.h"
#include "core/edit/edits.h"
#include "core/edit/parts.h"
#include "core/job/parts.h"
#include "core/proof/predict.h"
#include "core/proof/verdict.h"

#include <algorithm>
#include <catch2/catch.hpp>

namespace tests::of_tests {
using namespace dervish;
using namespace dervish::job;

namespace {
edit::Entry mm(const char* text) { return {text, units::System::Metric}; }
Setup off(Setup s, End end) {
    s[end].connected = false;
    s.name += ", off";
    return s;
}
/// One of two setups on growing ramps, predicted.
Job predicted() {
    Job j = blank();
    edit::plan_test(
        j, {"Ramps", "2031-06-01", "Does it?", "diagonal_ramps", Asks::Which, {j.fitted, off(j.fitted, End::Rear)}});
    PlannedTest frozen = j.tests[0];
    const auto all = proof::predict(frozen);
    for (std::size_t s = 0; s < all.size(); ++s) frozen.states[s].prediction = all[s];
    edit::freeze(j, 0, frozen);
    return j;
}
} // namespace

TEST_CASE("a test is planned, guessed, frozen and run in its order, and the plan then stands") {
    Job j = predicted();
    REQUIRE(j.tests[0].predicted());
    CHECK_FALSE(open_guess(j));
    CHECK(j.tests[0].order == std::vector{0, 1, 0});
    const PlannedTest frozen = j.tests[0];
    edit::set_protocol(j, 0, "fork"); // too late
    edit::add_state(j, 0, j.trial);
    edit::put_guess(j, 0, {"Oke", 0, 0, Guess::Kind::Number, 0.3, 0});
    edit::set_setting(j, 0, "ramp_height", 0.1);
    CHECK(j.tests[0] == frozen);
    j.vehicle.wheelbase.value *= 1.1; // what is corrected later changes nothing frozen
    CHECK(j.tests[0] == frozen);
    for (int i = 0; i < 4; ++i) edit::begin_run(j, 0, "10:00", true);
    CHECK(j.tests[0].runs[1].state == 1);
    CHECK(j.tests[0].runs[3].state == 0); // beyond the order
    edit::set_run_words(j, 0, 3, edit::RunWords::Driver, "Marit");
    edit::begin_run(j, 0, "10:10", true);
    CHECK(j.tests[0].runs[4].driver == "Marit");
    edit::set_aboard(j, 0, 4, "load-7", true);
    edit::set_aboard(j, 0, 4, "load-7", true); // once
    CHECK(std::ranges::count(j.tests[0].runs[4].aboard, "load-7") == 1);
    edit::set_aboard(j, 0, 4, "load-7", false);
    CHECK(std::ranges::count(j.tests[0].runs[4].aboard, "load-7") == 0);
}

TEST_CASE("readings as typed: bounds, fractions, what cannot be read waits, and goes with its run") {
    Job j = predicted();
    for (int i = 0; i < 3; ++i) edit::begin_run(j, 0, "", true);
    const FieldSpec& height = proof::protocol("diagonal_ramps").channels[0].spec;
    edit::type_reading(j, 0, 0, height, mm("> 450"));
    CHECK(j.tests[0].runs[0].readings.at(0).bound == Bound::More);
    edit::type_reading(j, 0, 0, height, mm("<20"));
    CHECK(j.tests[0].runs[0].readings.at(0).bound == Bound::Less);
    CHECK(j.tests[0].runs[0].readings.at(0).value == Approx(0.02));
    edit::type_reading(j, 0, 1, height, {"12 3/4", units::System::Inch});
    CHECK(j.tests[0].runs[1].readings.at(0).value == Approx(0.32385));
    edit::type_reading(j, 0, 2, height, mm("about 330"));
    CHECK(j.tests[0].runs[2].readings.empty());
    CHECK(j.drafts.at("tests/0/runs/2/height").text == "about 330");
    edit::remove_run(j, 0, 0); // what waits moves along
    CHECK(j.drafts.contains("tests/0/runs/1/height"));
    edit::type_reading(j, 0, 1, height, mm("330"));
    CHECK(j.drafts.empty());
    edit::discard(j, 0, 1, "", "slipped");
    CHECK(proof::taken(j.tests[0], 0, "height").size() == 0);
    CHECK(proof::taken(j.tests[0], 1, "height").size() == 1);
    edit::discard(j, 0, 1, "", "");
    CHECK(proof::taken(j.tests[0], 0, "height").size() == 1);
    edit::type_reading(j, 0, 1, height, mm(""));
    CHECK(j.tests[0].runs[1].readings.empty());
}

TEST_CASE("marks, conditions and a decision with its objection, which stands in the book") {
    Job j = predicted();
    edit::begin_run(j, 0, "", false);
    edit::put_mark(j, 0, 0, "Oke", "accept", 12);
    CHECK(j.tests[0].runs[0].impressions.at(0).mark == 10);
    edit::put_mark(j, 0, 0, "Oke", "accept", {});
    CHECK(j.tests[0].runs[0].impressions.empty());
    edit::type_condition(j, 0, 0, proof::conditions()[0], {"32 psi", units::System::Metric});
    CHECK(j.tests[0].runs[0].conditions.at(0).si == Approx(220632).epsilon(1e-4));
    edit::put_voice(j, 0, {"Oke", "not with the tank full", false});
    edit::put_voice(j, 0, {"Marit", "", true});
    edit::set_decision_words(j, 0, "Bar stays on.", "two links", "in autumn");
    edit::decide(j, 0, Decision::Kind::None, "2031-06-02", 42e6);
    CHECK(j.book.empty());
    for (int twice = 0; twice < 2; ++twice) edit::decide(j, 0, Decision::Kind::Keep, "2031-06-02", 42e6);
    REQUIRE(j.book.size() == 1); // pressed twice, said once
    CHECK(j.book[0].kind == EntryKind::Decided);
    for (const char* said : {"Bar stays on.", "Oke objects: not with the tank full", "two links", "in autumn", "Ramps"})
        CHECK(j.book[0].reason.find(said) != std::string::npos);
    CHECK(j.tests[0].decision.voices.size() == 2);
}

TEST_CASE("what is measured anew before the prediction counts in it, how the setup stands is as planned") {
    Job j = blank();
    name_parts(j);
    edit::plan_test(j, {"T", "", "", "sill_lean", Asks::SumOrCar, {}});
    const Snapshot planned = j.tests.read()[0].states[0].car;
    j.vehicle.wheelbase.value += 0.1;
    j.fitted.front.bar.outer_diameter.value += 0.001;
    j.fitted.front.stand.pressure.value = 1.2;
    j.fitted.rear.springs.id = "another";
    j.fitted.rear.springs.rate.value *= 2;
    const Snapshot now = edit::as_now(j, planned);
    CHECK(now.vehicle == j.vehicle);
    CHECK(now.setup.front.bar == j.fitted.front.bar);
    CHECK(now.setup.front.stand == planned.setup.front.stand);
    CHECK(now.setup.rear.springs == planned.setup.rear.springs); // that one is still Trial's
}

TEST_CASE("setups to run are taken on and off with their guesses, and an order drawn by lot keeps its runs") {
    Job j = blank();
    edit::plan_test(j, {"T", "", "", "sill_lean", Asks::SumOrCar, {}});
    CHECK(j.tests[0].order == std::vector{0, 0, 0});
    edit::add_state(j, 0, off(j.fitted, End::Front));
    edit::add_state(j, 0, off(j.fitted, End::Front)); // of one name
    CHECK(j.tests[0].states[1].name != j.tests[0].states[2].name);
    edit::put_guess(j, 0, {"Oke", 2, 0, Guess::Kind::More, 0, 0});
    edit::put_guess(j, 0, {"Oke", 2, 0, Guess::Kind::Less, 0, 0}); // thought better of
    edit::put_guess(j, 0, {"Oke", 1, 2, Guess::Kind::Same, 0, 0});
    CHECK(j.tests[0].guesses.size() == 2);
    edit::remove_state(j, 0, 1);
    REQUIRE(j.tests[0].guesses.size() == 1);
    CHECK(j.tests[0].guesses[0].state == 1);
    for (unsigned seed = 0; seed < 20; ++seed) {
        auto order = edit::drawn_by_lot(edit::with_and_without(2, 3), seed);
        const auto other = std::ranges::find_if(order, [&](int s) { return s != order.front(); });
        CHECK(std::find(other, order.end(), order.front()) != order.end()); // there and back
        std::ranges::sort(order);
        CHECK(order == std::vector{0, 0, 0, 0, 1, 1, 1});
    }
    edit::type_setting(j, 0, proof::protocol("sill_lean").settings[0].spec, mm("seventy"));
    edit::plan_test(j, {"U", "", "", "fork", Asks::SumOrCar, {}});
    edit::remove_test(j, 0);
    CHECK(j.tests.at(0).name == "U");
    CHECK(j.drafts.empty());
}

} // namespace tests::of_tests
