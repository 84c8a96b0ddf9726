#include "core/edit/setups.h"

#include "core/edit/parts.h"
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
        REQUIRE(j.book.size() == 1);
        const Entry& line = j.book[0];
        CHECK(line.kind == (found ? EntryKind::Found : EntryKind::Fitted));
        CHECK(line.reason == "less lean");
        CHECK(line.odometer == 42e6);
        CHECK(line.parts == std::vector<std::string>{j.fitted.front.bar.id});
        CHECK(line.car == Snapshot{j.vehicle, j.fitted});
        CHECK(j.spares.bars.size() == (found ? 0 : 1));
    }
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
    edit::plan_ramp_test(j, "2031-06-01");
    REQUIRE(j.tests.size() == 1);
    CHECK(j.tests[0].car == Snapshot{j.vehicle, j.fitted});
    CHECK(j.tests[0].date == "2031-06-01");
    CHECK_FALSE(j.tests[0].ramp.predicted);
    edit::set_heard(j, "leans", true);
    edit::set_heard(j, "leans", true);
    CHECK(j.heard == std::vector<std::string>{"leans"});
    edit::set_heard(j, "leans", false);
    CHECK(j.heard.empty());
}

} // namespace tests::of_setups
