#include "core/edit/parts.h"
#include "core/edit/edits.h"
#include "core/edit/tests.h"
#include "core/job/fields.h"
#include "core/job/parts.h"
#include "core/study/assess.h"

#include <catch2/catch.hpp>
#include <map>
#include <random>

namespace tests::of_parts {
using namespace dervish;
using namespace dervish::job;
using units::mm;

namespace {
/// The job after a change, its parts settled.
template <class F> Job after(const Job& before, F&& change) {
    Job out = before;
    change(out);
    edit::keep_parts(before, out);
    return out;
}

/// Whether parts of one id are the same wherever they stand.
bool one_each(const Job& job) {
    bool good = true;
    each_part_of_job(job, [&]<class P>(const char*, const P& part) {
        each_part_of_job(job, [&]<class Q>(const char*, const Q& other) {
            if constexpr (std::is_same_v<P, Q>) good = good && (other.id != part.id || other == part);
        });
        good = good && !part.id.empty();
    });
    return good;
}
} // namespace

TEST_CASE("a change on Fitted corrects the part wherever it stands, but for snapshots") {
    Job job = blank();
    job.shelf = {job.fitted.front};
    job.kept = {job.fitted};
    edit::plan_test(job, {"ramps", "", "", "diagonal_ramps", Asks::SumOrCar, {}});
    const Job now = after(job, [](Job& j) {
        j.fitted.front.bar.outer_diameter.value = 23 * mm;
        j.fitted.rear.springs.rate.value = 31000;
    });
    for (const Setup* s : {&now.fitted, &now.trial, &now.standard, &now.kept[0]}) {
        CHECK(s->front.bar.outer_diameter.value == 23 * mm);
        CHECK(s->rear.springs.rate.value == 31000);
    }
    CHECK(now.shelf[0].bar.outer_diameter.value == 23 * mm);
    CHECK(now.tests[0].states[0].car.setup.front.bar.outer_diameter.value == 22 * mm);
    CHECK(now.fitted.front.bar.id == job.fitted.front.bar.id);
    CHECK(now.trial.front.springs.rate.value == 25000); // another part, though as stiff
}

TEST_CASE("a change on Trial draws up a new part where the part stands elsewhere too") {
    const Job job = blank();
    const Job now = after(job, [](Job& j) { j.trial.front.springs.rate.value = 31000; });
    CHECK(edit::other_places(job, "trial/front/springs/rate") == std::vector<std::string>{"Fitted"});
    CHECK(edit::other_places(now, "trial/front/springs/rate").empty());
    CHECK(edit::other_places(now, "trial/rear/springs") == std::vector<std::string>{"Fitted"});
    CHECK(edit::other_places(now, "vehicle/front/track").empty());
    CHECK(now.fitted == job.fitted);
    CHECK(now.trial.front.springs.id != job.fitted.front.springs.id);
    CHECK(now.trial.front.springs.origin == "drawn up from " + job.fitted.front.springs.id);
    const Job more = after(now, [](Job& j) { j.trial.front.springs.rate.value = 33000; });
    CHECK(more.trial.front.springs.id == now.trial.front.springs.id); // it stands nowhere else
    CHECK(more.trial.front.springs.rate.value == 33000);
    CHECK(more.trial.front.tyres.id == job.fitted.front.tyres.id);
}

TEST_CASE("another setup's springs move the tally of that setup alone") {
    const Job job = blank();
    const Job now = after(job, [](Job& j) { j.trial.front.springs.rate.value *= 1.5; });
    const Job shorter = after(job, [](Job& j) {
        for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->dampers.droop_gap.value -= 70 * mm;
    });
    const auto tally = [](const Job& j, const Setup& s) { return study::assess(j.vehicle, s).outcomes; };
    CHECK(tally(now, now.fitted) == tally(job, job.fitted));
    CHECK(tally(now, now.trial)[study::RollGradient] < 0.95 * tally(job, job.trial)[study::RollGradient]);
    CHECK(tally(shorter, shorter.fitted) == tally(job, job.fitted));
    CHECK(tally(shorter, shorter.trial)[study::LiftHeight] < tally(job, job.trial)[study::LiftHeight] - 0.01);
    // A brace takes its twist beside the frame's.
    Job soft = job;
    soft.vehicle.chassis_torsion.value = 2000 / units::deg;
    const Job braced = after(soft, [](Job& j) { j.trial.brace.torsion.value = 4000 / units::deg; });
    Job stiff = soft;
    stiff.vehicle.chassis_torsion.value = 6000 / units::deg;
    CHECK(tally(braced, braced.trial)[study::LiftHeight] == tally(stiff, stiff.trial)[study::LiftHeight]);
    CHECK(tally(braced, braced.fitted)[study::LiftHeight] == tally(soft, soft.trial)[study::LiftHeight]);
}

TEST_CASE("how wheels stand on Fitted is followed by setups that stood so too") {
    const Job job = blank();
    const Job now = after(job, [](Job& j) { j.fitted.front.stand.pressure.value = 0.9; });
    CHECK(now.trial.front.stand.pressure.value == 0.9);
    const Job own = after(now, [](Job& j) { j.trial.front.stand.pressure.value = 1.1; });
    CHECK(own.fitted.front.stand.pressure.value == 0.9);
    const Job later = after(own, [](Job& j) { j.fitted.front.stand.pressure.value = 0.8; });
    CHECK(later.trial.front.stand.pressure.value == 1.1);
}

TEST_CASE("what comes off is spare, unless it was found never to have been there") {
    const Job job = after(blank(), [](Job& j) { j.trial.front.springs.rate.value = 31000; });
    Job fitted = job, found = job;
    fitted.standard.rear.fitted = true; // somebody said what it is
    edit::fit_trial(fitted, "2031-05-11");
    REQUIRE(fitted.spares.springs.size() == 0); // the standard still has them
    fitted = job;
    edit::fit_trial(fitted, "2031-05-11");
    REQUIRE(fitted.spares.springs.size() == 1); // a standard that nobody knows has nothing
    fitted = job;
    fitted.standard = fitted.trial;
    edit::fit_trial(fitted, "2031-05-11");
    REQUIRE(fitted.spares.springs.size() == 1);
    CHECK(fitted.spares.springs[0] == job.fitted.front.springs);
    found.standard = found.trial;
    edit::fit_trial(found, "2031-05-11", true);
    CHECK(found.spares == Spares{});
    CHECK(edit::parts_changed(job.fitted, fitted.fitted) == std::vector{job.trial.front.springs.id});
}

TEST_CASE("what was read of a bar is of that bar, whatever else is fitted or tried") {
    Job job = blank();
    rig_for(job, job.fitted.front).readings = {{10, 0.001}};
    checks_for(job, job.fitted.front).table_gap = 0.002;
    CHECK(rig_of(job, job.trial.front).readings.size() == 1); // the same bar
    const Job other = after(job, [](Job& j) { j.trial.front.links.length.value += 5 * mm; });
    CHECK(rig_of(other, other.trial.front).readings.size() == 1); // links are off in the rig
    CHECK(checks_of(other, other.trial.front) == SetupChecks{});
    const Job bar = after(job, [](Job& j) { j.trial.front.bar.outer_diameter.value += 1 * mm; });
    CHECK(rig_of(bar, bar.trial.front).readings.empty());
    CHECK(rig_of(bar, bar.fitted.front).readings.size() == 1);
    CHECK(study::assess(job.vehicle, job.fitted).outcomes == study::assess(blank().vehicle, blank().fitted).outcomes);
}

TEST_CASE("a test taken off takes what waits for it along, and what waits for later ones moves up") {
    Job job = blank();
    job.tests.resize(3);
    job.tests[2].name = "last";
    job.drafts = {{"tests/0/guess", {"a", {}}},
                  {"tests/1/guess", {"b", {}}},
                  {"tests/2/ramp", {"c", {}}},
                  {"tests/rig fitted front/0/1", {"d", {}}},
                  {"trial/front/bar/wall", {"e", {}}}};
    edit::remove_test(job, 1);
    CHECK(job.tests.size() == 2);
    CHECK(job.tests[1].name == "last");
    std::string waiting;
    for (const auto& [path, draft] : job.drafts) waiting += path + "=" + draft.text + ";";
    CHECK(waiting == "tests/0/guess=a;tests/1/ramp=c;tests/rig fitted front/0/1=d;trial/front/bar/wall=e;");
}

TEST_CASE("a load is aboard by its id, whatever it is called") {
    Job job = blank();
    edit::add_load(job);
    edit::add_load(job);
    CHECK(job.vehicle.loads[0].id != job.vehicle.loads[1].id);
    job.vehicle.loads[0].name = job.vehicle.loads[1].name = "crate";
    edit::set_aboard(job.trial, job.vehicle.loads[0], false);
    CHECK_FALSE(is_aboard(job.vehicle.loads[0], job.trial));
    CHECK(is_aboard(job.vehicle.loads[1], job.trial));
    edit::remove_load(job, 1);
    CHECK(job.trial.aboard.empty());
    CHECK(job.fitted.aboard == std::vector{job.vehicle.loads[0].id}); // only Trial was changed
    edit::add_load(job);
    CHECK(is_aboard(job.vehicle.loads[1], job.fitted));
}

TEST_CASE("whatever is changed at random, parts of one id stay one part and Fitted changes by Fitted alone") {
    std::mt19937 random(5);
    Job job = blank();
    job.shelf = {job.fitted.front, job.trial.rear};
    for (int step = 0; step < 300; ++step) {
        Job next = job;
        const auto all = fields(next);
        const FieldRef& f = all[random() % all.size()];
        f.value->value += 1e-3;
        const bool on_fitted = f.path.starts_with("fitted/");
        switch (random() % 8) {
        case 0:
            next.kept.push_back(next.trial);
            if (next.kept.size() > 3) next.kept.erase(next.kept.begin());
            break;
        case 1:
            next.trial = next.kept.empty() ? next.fitted : next.kept.front();
            break;
        case 2:
            static_cast<Assembly&>(next.trial.front) = next.shelf[random() % 2];
            break;
        default:
            break;
        }
        edit::keep_parts(job, next);
        REQUIRE(one_each(next));
        if (!on_fitted && !f.path.starts_with("vehicle/")) CHECK(next.fitted == job.fitted);
        if (step % 20 == 19) {
            edit::fit_trial(next, "2031-05-11");
            CHECK(next.fitted == next.trial);
            REQUIRE(one_each(next));
        }
        job = next;
    }
}

} // namespace tests::of_parts
