#include "core/edit/setups.h"
#include "core/book/story.h"
#include "core/edit/book.h"
#include "core/edit/tests.h"

#include "core/edit/edits.h"
#include "core/edit/parts.h"
#include "core/edit/readings.h"
#include "core/job/parts.h"
#include "core/model/check.h"

#include <catch2/catch.hpp>

namespace tests::of_setups {
using namespace dervish;
using namespace dervish::job;

TEST_CASE("setups: begun again, kept by name, tried, called the standard") {
    Job j = blank();
    j.trial.name = "stiff";
    j.trial.front.bar.outer_diameter.value = 0.03;
    edit::keep_trial(j);
    edit::keep_trial(j); // in its own place
    REQUIRE(j.kept.size() == 1);
    edit::begin_trial_again(j);
    CHECK(j.trial.name == "trial");
    CHECK(j.trial.front == j.fitted.front);
    edit::try_kept(j, "none of this name");
    CHECK(j.trial.name == "trial");
    edit::try_kept(j, "stiff");
    CHECK(j.trial == j.kept[0]);
    edit::call_standard(j, true);
    CHECK(j.standard == j.trial);
    edit::call_standard(j, false);
    CHECK(j.standard == j.fitted);
}

TEST_CASE("what is fitted or found has its line in the book, with the parts and the car as it is then") {
    for (const bool found : {false, true}) {
        Job j = blank();
        const Job before = j;
        j.trial.name = "thicker front";
        j.trial.front.bar.outer_diameter.value = 0.027;
        edit::keep_parts(before, j);
        edit::change_fitted(j, {"2031-05-11", "less lean", 42e6}, found);
        CHECK(j.fitted == j.trial);
        REQUIRE(j.book.size() == (found ? 1 : 2)); // before what is first fitted: how it was found
        const Entry& line = j.book.back();
        CHECK(line.kind == (found ? EntryKind::Found : EntryKind::Fitted));
        CHECK(line.reason == "less lean");
        CHECK(line.odometer == 42e6);
        CHECK(line.parts == std::vector<std::string>{j.fitted.front.bar.id});
        CHECK(line.car == Snapshot{j.vehicle, j.fitted});
        CHECK(j.spares.bars.empty()); // found so, or kept as the standard
    }
}

TEST_CASE("the car as it was found is the first box of the book, the standard, and can be gone back to") {
    Job j = blank();
    const Setup as_found = j.fitted;
    edit::write_entry(j, {"2031-05-03", EntryKind::Noted, "it leans", 0, {}, {}, {}}, "2031-05-03");
    edit::plan_test(j, {"ramps", "2031-05-11", "", "diagonal_ramps", Asks::SumOrCar, {}});
    const auto fit = [&](double diameter, double odometer) {
        const Job before = j;
        j.trial.front.bar.outer_diameter.value = diameter;
        edit::keep_parts(before, j);
        edit::change_fitted(j, {"2031-05-11", "less lean", odometer}, false);
    };
    fit(0.027, 42e6);
    edit::plan_test(j, {"ramps again", "2031-05-11", "", "diagonal_ramps", Asks::SumOrCar, {}});
    fit(0.029, 42.1e6);
    CHECK(j.standard == as_found);
    const auto all = book::moments(j);
    const auto stood = book::spans(j, all, book::now_of(all));
    REQUIRE(stood.size() == 3);
    CHECK(j.book[static_cast<std::size_t>(stood[0].entry)].kind == EntryKind::Found);
    CHECK(j.book[static_cast<std::size_t>(stood[0].entry)].date == "2031-05-03");
    edit::go_back_to(j, stood[0].entry);
    CHECK(j.trial.front.bar.outer_diameter.value == as_found.front.bar.outer_diameter.value);
    CHECK(j.trial.name == as_found.name);
    // Of the tests of that day each stands where it was made, at a distance at which its setup stood.
    for (std::size_t i = 0; i < all.size(); ++i)
        if (all[i].test >= 0) {
            CHECK(book::stood_by(j, all, i) == stood[static_cast<std::size_t>(all[i].test)].entry);
            CHECK(all[i].odometer <= (all[i].test == 0 ? 42e6 : 42.1e6));
            CHECK(all[i].odometer >= (all[i].test == 0 ? 0 : 42e6));
        }
    // Another standard stands.
    Job named = blank();
    edit::call_standard(named, true);
    named.standard.name = "as delivered";
    edit::change_fitted(named, {"2031-05-11", "less lean", 42e6}, false);
    CHECK(named.standard.name == "as delivered");
}

TEST_CASE("the bar on Trial: shelf, eyes, lines of a walk and of points, a size, bushes, a centreline") {
    Job j = blank();
    edit::put_on_shelf(j, true, End::Front);
    edit::set_size(j, End::Front, 0.031, 0.004);
    CHECK(j.trial.front.bar.wall.value == 0.004);
    CHECK(j.fitted.front.bar.wall.value == 0);
    edit::try_from_shelf(j, End::Front, 7);
    CHECK(j.trial.front.bar.wall.value == 0.004);
    const SpringData springs = j.trial.front.springs;
    edit::try_from_shelf(j, End::Front, 0);
    CHECK(j.trial.front.bar == j.fitted.front.bar);
    CHECK(j.trial.front.springs == springs);

    for (int i = 0; i < 6; ++i) edit::add_eye(j, End::Front);
    auto& eyes = j.trial.front.bar.eyes;
    REQUIRE(eyes.size() == 4);
    CHECK(eyes[3].arm_length.value < eyes[2].arm_length.value);
    edit::use_eyes(j, End::Front, 3, 1);
    edit::remove_eye(j, End::Front);
    CHECK(j.trial.front.left_eye == 2);
    CHECK(j.trial.front.right_eye == 1);
    CHECK_NOTHROW(model::check(j));
    for (int i = 0; i < 6; ++i) edit::remove_eye(j, End::Front);
    CHECK(eyes.size() == 1);

    j.trial.front.bar.form = Form::Walk;
    for (int i = 0; i < 2; ++i) edit::add_bar_line(j, End::Front);
    CHECK(j.trial.front.bar.walk.back().mark == Mark::End);
    for (int i = 0; i < 3; ++i) edit::remove_bar_line(j, End::Front);
    CHECK(j.trial.front.bar.walk.size() == 1);
    edit::take_points(j, End::Front, {PointData{}, PointData{}});
    CHECK(j.trial.front.bar.form == Form::Points);
    edit::add_bar_line(j, End::Front);
    CHECK(j.trial.front.bar.points.size() == 3);
    CHECK(j.trial.front.bar.points[2].y.value == Approx(-0.05));

    edit::set_bush_rate(j, End::Rear, 3e6, 1e6);
    CHECK(j.trial.rear.mounts.vertical == Measured{3e6, 1e6, Source::Assumed});
    CHECK(j.trial.rear.mounts.fore_aft == j.trial.rear.mounts.vertical);
}

TEST_CASE("a ramp test is planned of Fitted, and a complaint is heard once") {
    Job j = blank();
    j.trial.front.bar.outer_diameter.value = 0.03;
    edit::plan_test(j, {"Ramps", "2031-06-01", "", "diagonal_ramps", Asks::SumOrCar, {}});
    REQUIRE(j.tests.size() == 1);
    CHECK(j.tests[0].states.at(0).car == Snapshot{j.vehicle, j.fitted});
    CHECK(j.tests[0].date == "2031-06-01");
    CHECK_FALSE(j.tests[0].predicted());
    CHECK(open_guess(j) == &j.tests[0]);
    edit::set_heard(j, "leans", true);
    edit::set_heard(j, "leans", true);
    CHECK(j.heard == std::vector<std::string>{"leans"});
    edit::set_heard(j, "leans", false);
    CHECK(j.heard.empty());
}

TEST_CASE("readings are typed cell by cell: what cannot be used yet waits, and what was read stays") {
    using edit::Entry;
    Job j = blank();
    const auto mm = [](const char* text) { return Entry{text, units::System::Metric}; };
    SECTION("masses and dial on the bench") {
        const auto type = [&](int row, int column, const Entry& e) {
            edit::type_rig_reading(j, true, End::Front, row, column, e);
        };
        const auto readings = [&] { return rig_of(j, j.trial.front).readings; };
        type(0, 1, mm("3.2"));
        CHECK(readings().empty());
        CHECK(j.drafts.count(edit::rig_key(true, End::Front, 0, 1)) == 1);
        type(0, 0, mm("20"));
        type(0, 1, {"0.126", units::System::Inch});
        REQUIRE(readings().size() == 1);
        CHECK(readings()[0].mass == Approx(20));
        CHECK(readings()[0].dial == Approx(3.2004e-3));
        CHECK(j.drafts.empty());
        type(0, 0, mm("2o"));
        CHECK(readings()[0].mass == Approx(20));
        CHECK(j.drafts.at(edit::rig_key(true, End::Front, 0, 0)).text == "2o");
        type(0, 0, mm(" "));
        CHECK(readings().empty());
        CHECK(j.drafts.empty());
    }
    SECTION("rounds of lifting either side begin with both") {
        const auto rounds = [&] { return checks_of(j, j.fitted.rear).rounds; };
        edit::type_round(j, false, End::Rear, 0, 1, mm("18"));
        CHECK(rounds().empty());
        edit::type_round(j, false, End::Rear, 0, 0, {"0.7", units::System::Inch});
        REQUIRE(rounds().size() == 1);
        CHECK(rounds()[0].left == Approx(17.78e-3));
        CHECK(rounds()[0].right == Approx(18e-3));
        CHECK(j.drafts.empty());
        edit::type_round(j, false, End::Rear, 0, 1, mm("16"));
        CHECK(rounds()[0].right == Approx(16e-3));
    }
}

TEST_CASE("words by their path, and what goes on Trial whole") {
    Job j = blank();
    edit::add_load(j);
    set_words(j, "vehicle/loads/0/name", "Rope box");
    set_words(j, "trial/rear/bar/name", "22 mm");
    set_words(j, "vehicle/name", "Bramble");
    CHECK(j.vehicle.loads[0].name == "Rope box");
    CHECK(j.trial.rear.bar.name == "22 mm");
    CHECK(j.fitted.rear.bar.name != "22 mm");
    CHECK(j.vehicle.name == "Bramble");
    const Job before = j;
    for (const char* none : {"vehicle/loads/1/name", "vehicle", "trial/rear/bar/outer_diameter", ""})
        CHECK_THROWS_AS(set_words(j, none, "x"), BadInput);
    CHECK(j == before);
    edit::move_load(j, 7, 1.2, {}, 0.9); // none there
    CHECK(j == before);
    edit::move_load(j, 0, 1.2, {}, 0.9);
    CHECK(j.vehicle.loads[0].behind_front_axle.value == Approx(1.2));
    CHECK(j.vehicle.loads[0].left.value == before.vehicle.loads[0].left.value);
    CHECK(j.vehicle.loads[0].height.value == Approx(0.9));
    edit::put_setup(j, before.fitted, "tried");
    CHECK(j.trial.name == "tried");
    j.trial.name = before.fitted.name;
    CHECK(j.trial == before.fitted); // all of it, what is aboard too
    const std::size_t loads = j.vehicle.loads.size();
    edit::add_person(j, j.trial);
    CHECK(j.vehicle.loads[loads].mass.value == person_of(j.vehicle));
    CHECK(is_aboard(j.vehicle.loads[loads], j.trial));
    CHECK_FALSE(is_aboard(j.vehicle.loads[loads], j.fitted));
    for (Measured* m : {&j.vehicle.front_left_load, &j.vehicle.front_right_load, &j.vehicle.rear_left_load,
                        &j.vehicle.rear_right_load})
        m->value = 0.5; // a model car carries no grown person
    CHECK(person_of(j.vehicle) == Approx(0.2));
}

} // namespace tests::of_setups
