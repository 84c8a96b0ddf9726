#include "core/job/working.h"

#include "core/job/fields.h"
#include "core/job/model.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <set>

using namespace dervish;
using namespace dervish::job;

TEST_CASE("roll stiffness by its parts, from plain numbers") {
    car::Axle a;
    a.track = 1.5;
    a.spring_rate = 30000;
    a.tyre_rate = 200000;
    a.parasitic_roll_stiffness = 4000;
    a.bar << 8000, -8000, -8000, 8000;
    const RollStiffness independent = roll_stiffness(a);
    CHECK(independent.springs == Approx(30000 * 1.5 * 1.5 / 2));
    CHECK(independent.bar == Approx(16000 * 1.5 * 1.5 / 2)); // 16 N/mm in roll mode
    CHECK(independent.tyres == Approx(200000 * 1.5 * 1.5 / 2));
    CHECK(independent.whole() < independent.suspension());
    a.kind = car::AxleKind::Solid;
    a.spring_base = 1.0;
    a.bar_base = 0.8;
    CHECK(roll_stiffness(a).springs == Approx(15000));
    CHECK(roll_stiffness(a).bar == Approx(16000 * 0.8 * 0.8 / 2));
}

TEST_CASE("the hand sum meets the equilibrium where its simplifications hold") {
    examples::Random r;
    for (int i = 0; i < 30; ++i) {
        car::Car c = r.car();
        c.loads.clear();
        c.chassis_torsion = std::numeric_limits<double>::infinity();
        c.rear = r.axle(car::AxleKind::Independent);
        c.front.tyre_rate = c.rear.tyre_rate = 1e8; // stiff tyres: the axles' own tilt is not in the hand sum
        for (car::Axle* a : {&c.front, &c.rear}) a->bump_gap = a->droop_gap = 1;
        CHECK(car::roll_and_share(c).first == Approx(hand_roll_gradient(c)).epsilon(0.02));
    }
}

TEST_CASE("every working says its figure, its sum and its source, in the chosen units") {
    const Job j = blank();
    const Assessment a = assess(j.vehicle, j.fitted);
    for (const Figure f : all_figures)
        for (const units::System system : {units::System::Metric, units::System::Inch}) {
            const Working w = working(j.vehicle, j.fitted, a, f, system);
            CHECK_FALSE(w.result.empty());
            CHECK_FALSE(w.formula.empty());
            CHECK_FALSE(w.remark.empty());
            CHECK_FALSE(w.source.empty());
            for (const WorkingLine& line : w.lines) {
                CHECK_FALSE(line.what.empty());
                CHECK_FALSE(line.value.empty());
                CHECK_FALSE(line.from.empty());
                if (system == units::System::Inch) CHECK(line.value.find(" mm") == std::string::npos);
            }
        }
    Setup off = j.fitted;
    off.front.connected = false;
    const Working w = working(j.vehicle, off, assess(j.vehicle, off), Figure::Roll, units::System::Metric);
    bool said = false;
    for (const WorkingLine& line : w.lines) said = said || line.from == "no bar, or not connected";
    CHECK(said);
}

TEST_CASE("setups are found by name, and a wrong name lists what there is") {
    Job j = blank();
    j.kept.push_back(j.trial);
    j.kept.back().name = "soft front";
    CHECK(setup_named(j, "fitted") == j.fitted);
    CHECK(setup_named(j, "soft front") == j.kept.back());
    CHECK_THROWS_WITH(setup_named(j, "hard"), Catch::Contains("hard") && Catch::Contains("fitted, trial, soft front"));
}

TEST_CASE("a disconnected or absent bar takes its part out of the car and nothing else") {
    Job j = blank();
    const Assessment with = assess(j.vehicle, j.trial);
    j.trial.front.connected = false;
    const Assessment off = assess(j.vehicle, j.trial);
    CHECK(off.front->eye_rate == with.front->eye_rate); // the bar is still what it is
    CHECK(off.outcomes[RollGradient] > with.outcomes[RollGradient]);
    CHECK(off.outcomes[FrontShare] < with.outcomes[FrontShare]);
    CHECK(off.ascent.height > with.ascent.height);
    j.trial.front.fitted = false;
    const Assessment none = assess(j.vehicle, j.trial);
    CHECK_FALSE(none.front);
    CHECK(none.outcomes[RollGradient] == Approx(off.outcomes[RollGradient]));
    CHECK(none.outcomes[FrontRate] == 0);
}

TEST_CASE("fields have unique paths, and every path finds its own value") {
    Job j = blank();
    j.vehicle.loads.push_back({"roof", true, {60}, {1.5}, {0}, {2.1}});
    std::set<std::string> seen;
    for (const FieldRef& f : fields(j)) {
        CHECK(seen.insert(f.path).second);
        const auto found = field(j, f.path);
        REQUIRE(found);
        CHECK(found->value == f.value);
        CHECK(f.spec.lowest < f.spec.highest);
    }
    CHECK(fields(j, "vehicle/loads").size() == 4);
    CHECK(fields(j, "vehicle/loads/0").front().group == "roof");
    CHECK_FALSE(field(j, "vehicle/loads/7/mass"));
    CHECK_FALSE(field(j, "vehicle/colour"));
    CHECK_FALSE(field(j, "trial/front")); // a part, not a field
}

TEST_CASE("bands do not depend on which setup is the trial, and grow with every spread") {
    Job j = blank();
    const Bands one = bands(j.vehicle, j.fitted);
    for (FieldRef& f : fields(j)) f.value->sigma *= 2;
    const Bands two = bands(j.vehicle, j.fitted);
    for (const Outcome o : {RollGradient, FrontShare, FrontRate, RearWheelRate}) {
        CHECK(two.sigma[o] > 1.5 * one.sigma[o]);
        double sum = 0;
        for (const Share& s : one.shares) sum += s.variance[o];
        CHECK(sum == Approx(one.sigma[o] * one.sigma[o]));
    }
    const auto next = measure_next(one, RollGradient, 3);
    REQUIRE(next.size() == 3);
    CHECK(next[0].second >= next[1].second);
    CHECK(next[1].second >= next[2].second);
}
