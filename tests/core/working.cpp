#include "core/say/working.h"
#include "core/study/assess.h"
#include "core/study/hand_sums.h"
#include "core/sure/bands.h"
#include "core/sure/questions.h"
#include "examples.h"

#include "core/job/fields.h"
#include "core/model/model.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <set>

namespace tests::of_working {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::study;
using namespace dervish::sure;
using namespace dervish::say;

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
    a.kind = AxleKind::Solid;
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
        c.rear = r.axle(AxleKind::Independent);
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

TEST_CASE("the numbers of each working are those of a sum from the job's own fields, for two unlike cars") {
    constexpr double g = units::g, deg = units::deg, mm = units::mm;
    for (const bool second : {false, true}) {
        CAPTURE(second);
        Job j = blank();
        Vehicle& v = j.vehicle;
        v.front.wheels.roll_centre_moves.value = v.rear.wheels.roll_centre_moves.value = 0; // the sum knows no heave
        examples::carry(j, {"", "stores", {120}, {0.8 * v.wheelbase.value}, {0.1}, {0.9}});
        examples::carry(j, {"", "ashore", {200}, {1}, {0}, {2}}, false);
        if (second) { // a heavy tail on a solid axle, tall
            v.rear.kind = AxleKind::Solid;
            v.rear.spring_base.value = 1.05;
            v.rear_left_load.value = 610;
            v.rear_right_load.value = 580;
            v.cg_height.value = 0.74;
            v.front.roll_centre_height.value = 0.09;
            j.trial.rear.fitted = false;
        }
        const Assessment a = assess(v, j.trial);
        const auto line = [&](const Working& w, const std::string& what) {
            for (const WorkingLine& l : w.lines)
                if (l.what == what) return examples::number_in(l.value);
            FAIL("no line " + what);
            return 0.0;
        };
        const auto of = [&](Figure f) { return working(v, j.trial, a, f, units::System::Metric); };
        // The car from its scales: what is sprung, what is aboard, where.
        const double weighed[2] = {v.front_left_load.value + v.front_right_load.value,
                                   v.rear_left_load.value + v.rear_right_load.value};
        const AxleData* axles[2] = {&v.front, &v.rear};
        const AxleSetup* on[2] = {&j.trial.front, &j.trial.rear};
        const double aboard = 120, behind = 0.8;
        double sprung[2], moment_z = (weighed[0] + weighed[1]) * v.cg_height.value + aboard * 0.9, mass = aboard;
        for (int e = 0; e < 2; ++e) {
            sprung[e] = weighed[e] - axles[e]->unsprung_mass.value + aboard * (e == 0 ? 1 - behind : behind);
            moment_z -= axles[e]->unsprung_mass.value * axles[e]->unsprung_height.value;
            mass += weighed[e] - axles[e]->unsprung_mass.value;
        }
        const double z = moment_z / mass, whole = weighed[0] + weighed[1] + aboard;
        const Working roll = of(Figure::Roll);
        double arm = 0, stiffness = 0;
        for (int e = 0; e < 2; ++e) {
            const std::string end = e == 0 ? "front" : "rear";
            const AxleData& x = *axles[e];
            const bool solid = x.kind == AxleKind::Solid;
            const double b = solid ? x.spring_base.value : x.track.value, t = x.track.value,
                         springs = on[e]->springs.rate.value * b * b / 2, tyres = on[e]->tyres.rate.value * t * t / 2,
                         bar = a.outcomes[e == 0 ? FrontRollStiffness : RearRollStiffness],
                         own = springs + bar + x.parasitic_roll_stiffness.value, h = z - x.roll_centre_height.value;
            CHECK(line(roll, end + " sprung weight, loads aboard") == Approx(sprung[e] * g).margin(0.6));
            CHECK(line(roll, end + " roll arm h") == Approx(h / mm).margin(0.6));
            CHECK(line(roll, end + (solid ? " springs, k b²/2" : " springs, k t²/2")) ==
                  Approx(springs * deg).margin(0.6));
            CHECK(line(roll, end + " bar") == Approx(bar * deg).margin(0.6).epsilon(2e-3)); // the law's slope
            CHECK(line(roll, end + " parasitic") == Approx(x.parasitic_roll_stiffness.value * deg).margin(0.6));
            CHECK(line(roll, end + " tyres in series, k t²/2") == Approx(tyres * deg).margin(0.6));
            arm += sprung[e] * h;
            stiffness += 1 / (1 / own + 1 / tyres);
        }
        CHECK(examples::number_in(roll.remark, "By hand ") ==
              Approx(arm / (stiffness - g * arm) * g / deg).margin(0.02));
        CHECK(examples::number_in(roll.result) == Approx(a.outcomes[RollGradient] * g / deg).margin(0.006));

        const Working share = of(Figure::Share);
        double loads[4], sum = 0;
        for (std::size_t w = 0; w < 4; ++w)
            sum += loads[w] = line(share, std::string(car::wheel_names[w]) + " load at 0.3 g, left turn");
        CHECK(sum == Approx(whole * g).margin(3));
        // Both ends together carry the masses' moment about the ground, and the lean's share of it on top.
        const double front = line(share, "front moment"), rear = line(share, "rear moment"),
                     flat = 0.3 * g * ((weighed[0] + weighed[1]) * v.cg_height.value + aboard * 0.9);
        CHECK(front + rear > flat);
        CHECK(front + rear < 1.25 * flat);
        CHECK(examples::number_in(share.remark, "From this turn alone ") ==
              Approx(100 * front / (front + rear)).margin(0.1));
        CHECK(examples::number_in(share.result) == Approx(100 * a.outcomes[FrontShare]).margin(0.06));

        const Working limit = of(Figure::Limit);
        const double at = examples::number_in(limit.result) * g;
        const double needs[2] = {weighed[0] + aboard * (1 - behind), weighed[1] + aboard * behind};
        for (int e = 0; e < 2; ++e) {
            const std::string end = e == 0 ? "front" : "rear";
            CHECK(line(limit, end + " has to hold") == Approx(needs[e] * at).epsilon(0.01)); // told to 0.01 g
            CHECK(line(limit, end + " could hold") >= line(limit, end + " has to hold") - 2);
            CHECK(line(limit, end + " could hold") < on[e]->tyres.grip.value * needs[e] * g * 1.15);
        }

        const Working front_travel = of(Figure::FrontTravel), rear_travel = of(Figure::RearTravel);
        const auto wheel = [&](std::size_t w) {
            return line(front_travel, std::string(car::wheel_names[w]) + " travel");
        };
        CHECK(examples::number_in(front_travel.result) == Approx(wheel(0) - wheel(1)).margin(1.6));
        CHECK(examples::number_in(rear_travel.result) == Approx(wheel(3) - wheel(2)).margin(1.6));
        CHECK(line(front_travel, "twist between the axles") ==
              Approx(
                  ((wheel(0) - wheel(1)) * mm / v.front.track.value + (wheel(3) - wheel(2)) * mm / v.rear.track.value) /
                  deg)
                  .margin(0.12));
        const Working lift = of(Figure::Lift);
        CHECK(line(lift, a.ascent.lifted ? "lift height" : "more than") == Approx(a.ascent.height / mm).margin(0.6));
    }
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
    examples::carry(j, {"", "roof", {60}, {1.5}, {0}, {2.1}});
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
        for (const Share& s : one.shares) sum += s.variance(o);
        CHECK(sum == Approx(one.sigma[o] * one.sigma[o]));
    }
    const auto next = measure_next(one, RollGradient, 3);
    REQUIRE(next.size() == 3);
    CHECK(next[0].second >= next[1].second);
    CHECK(next[1].second >= next[2].second);
}

} // namespace tests::of_working
