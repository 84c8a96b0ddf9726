#include "core/say/complaints.h"
#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/cures.h"
#include "core/study/outside.h"
#include "core/sure/bands.h"
#include "core/sure/questions.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_complaints {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::sure;
using namespace dervish::say;

using Kind = Evidence::Kind;

namespace {
/// What the figures say of a complaint about a job's Trial.
std::vector<Evidence> told(Complaint complaint, const Job& j, Ground ground = Ground::Dry) {
    const Assessment a = assess(j.vehicle, j.trial);
    const BalanceFigures f = balance_figures(j.vehicle, j.trial, a.car, ground);
    EvidenceBands later;
    if (complaint == Complaint::Rocks) later.rocking = rocking(f.model);
    return evidence(complaint, j.vehicle, j.trial, a, f, later);
}

/// Of the line that says `words`; Same where there is none.
Kind kind_of(const std::vector<Evidence>& all, const std::string& words) {
    for (const Evidence& e : all)
        if (e.words.find(words) != std::string::npos) return e.kind;
    return Kind::Same;
}

struct Case {
    const char* name;
    Complaint complaint;
    const char* words; ///< of the figure that turns over
    std::function<void(Job&)> worse, better;
    Ground ground = Ground::Dry;
};

void dampers(Job& j, double rate) {
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear})
        a->dampers.bump_damping.value = a->dampers.rebound_damping.value = rate;
}

void springs(Job& j, double factor) {
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->springs.rate.value *= factor;
}

void grips(Job& j, double front, double rear) {
    j.trial.front.tyres.grip.value = front;
    j.trial.rear.tyres.grip.value = rear;
}

const auto front_poor = [](Job& j) { grips(j, 0.8, 1.1); };
const auto rear_poor = [](Job& j) { grips(j, 1.2, 0.8); };
} // namespace

TEST_CASE("each complaint's figures speak for it on a car that has it and against it on one that has not") {
    const Case cases[] = {
        {"pushes on entry", Complaint::PushesEntry, "entry, braking", [](Job& j) { grips(j, 0.6, 1.3); }, rear_poor},
        {"pushes in the middle", Complaint::PushesMiddle, "middle: ", front_poor, rear_poor},
        {"understeers", Complaint::PushesMiddle, "understeer gradient",
         [](Job& j) { j.vehicle.front.wheels.roll_steer.value = 0.2; },
         [](Job& j) {
             j.vehicle.front.wheels.roll_steer.value = -0.2;
             j.trial.front.tyres.stiffness.value = 40;
         }},
        {"lets go under power", Complaint::LetsGoExit, "exit, power", rear_poor, front_poor},
        {"spins its inside wheel", Complaint::LetsGoExit, " spins ",
         [](Job& j) {
             j.vehicle.cg_height.value = 0.9;
             j.vehicle.handling.pull.value = 0.3;
         },
         [](Job& j) {
             j.vehicle.cg_height.value = 0.3;
             j.trial.rear.stand.differential = Differential::Locked;
         }},
        {"lets go, throttle lifted", Complaint::LetsGoLifted, "throttle lifted", rear_poor, front_poor},
        {"leans", Complaint::Leans, "roll gradient", [](Job& j) { springs(j, 0.6); }, [](Job& j) { springs(j, 4); }},
        {"rocks", Complaint::Rocks, "front: one wheel", [](Job& j) { j.trial.front.bar.outer_diameter.value = 0.034; },
         [](Job& j) { j.trial.front.connected = false; }},
        {"rocks over a kerb", Complaint::Rocks, "without the front bar",
         [](Job& j) { j.trial.front.bar.outer_diameter.value = 0.04; },
         [](Job& j) { j.trial.front.bar.outer_diameter.value = 0.012; }},
        {"swings on", Complaint::SlowToSet, "roll damping", [](Job& j) { dampers(j, 200); },
         [](Job& j) { dampers(j, 4000); }},
        {"slow to yaw", Complaint::SlowToSet, "yaw reaches",
         [](Job& j) { j.vehicle.handling.yaw_inertia.value = 9000; },
         [](Job& j) { j.vehicle.handling.yaw_inertia.value = 900; }},
        {"moved by wind", Complaint::Wind, "side wind",
         [](Job& j) {
             springs(j, 0.4);
             j.trial.front.connected = false;
         },
         [](Job& j) { springs(j, 6); }},
        {"lifts a wheel", Complaint::LiftsWheel, " lifts at ",
         [](Job& j) {
             j.trial.front.bar.outer_diameter.value = 0.04;
             grips(j, 1.5, 1.5);
         },
         [](Job& j) { grips(j, 0.3, 0.3); }},
        {"lets go suddenly", Complaint::LetsGoSuddenly, "just beyond the limit", rear_poor, front_poor},
        {"does not come back", Complaint::LetsGoSuddenly, "steering", rear_poor, front_poor},
        {"tosses heads", Complaint::TossesHeads, "at the head",
         [](Job& j) { j.trial.front.bar.outer_diameter.value = j.trial.rear.bar.outer_diameter.value = 0.05; },
         [](Job& j) { j.trial.front.connected = j.trial.rear.connected = false; }, Ground::DryPatched},
        {"skates by its rear", Complaint::Skates, "wet, its ", rear_poor, front_poor},
        {"skips", Complaint::Skips, "rear wheels' loads swing",
         [](Job& j) {
             dampers(j, 100);
             j.vehicle.grounds[Ground::Washboard].roughness.value = 1500;
         },
         [](Job& j) { j.vehicle.grounds[Ground::Washboard] = {{1}, {1}, {1}, {16}, {12}, {0.0005}, {1}, {0}}; }},
        {"floats", Complaint::Floats, "the body swings", [](Job& j) { dampers(j, 200); },
         [](Job& j) { dampers(j, 4000); }},
        {"floats on soft springs", Complaint::Floats, "front springs carry", [](Job& j) { springs(j, 0.4); },
         [](Job& j) { springs(j, 4); }},
        {"tossed by its front bar", Complaint::TossesHeads, "without the front bar",
         [](Job& j) { j.trial.front.bar.outer_diameter.value = 0.04; },
         [](Job& j) { j.trial.front.connected = false; }},
    };
    for (const Case& c : cases) {
        INFO(c.name);
        Job worse = blank(), better = blank();
        c.worse(worse);
        c.better(better);
        CHECK(kind_of(told(c.complaint, worse, c.ground), c.words) == Kind::Supports);
        CHECK(kind_of(told(c.complaint, better, c.ground), c.words) == Kind::Against);
    }
}

TEST_CASE("evidence and cures are told in the units chosen") {
    Job j = blank();
    j.trial.front.links.play.value = 1 * units::mm;
    examples::carry(j, {"", "stores", {100}, {1.5}, {0}, {1.4}});
    const Assessment a = assess(j.vehicle, j.trial);
    const BalanceFigures f = balance_figures(j.vehicle, j.trial, a.car, Ground::Dry);
    const auto words = [&](units::System system) {
        std::string all;
        for (int i = 0; i < complaint_count; ++i)
            for (const Evidence& e : evidence(static_cast<Complaint>(i), j.vehicle, j.trial, a, f, {}, system))
                all += e.words + "\n";
        const Cures found = cures(j.vehicle, j.trial, Ground::Dry, Aim::Limit, 0);
        for (const Cure& c : found.ways) {
            all += answer_of(c, j.trial, system) + "\n";
            if (c.helps())
                for (const CostLine& line : cost_lines(found.costs, c.then, system)) all += line.value + "\n";
        }
        return all;
    };
    const std::string metric = words(units::System::Metric), inch = words(units::System::Inch);
    for (const char* unit : {" mm", " kg", " N ", "km/h"}) {
        CAPTURE(unit, metric, inch);
        CHECK(metric.find(unit) != std::string::npos);
        CHECK(inch.find(unit) == std::string::npos);
    }
    CHECK(inch.find("0.04 in of play") != std::string::npos);
    CHECK(inch.find("220 lb ride well") != std::string::npos);
}

TEST_CASE("what pushes a car from outside is of its own size: a model car is not blown over by a van's wind") {
    Job j = blank();
    const Outside usual = outside(j.vehicle);
    CHECK(usual.person == 80);
    CHECK(usual.wind ==
          Approx(0.5 * 1.2 * 25 * 25 * 1.4 * j.vehicle.wheelbase.value * 1.9 * j.vehicle.cg_height.value));
    const car::Car car = car_with(j.vehicle, j.trial);
    // By hand for the person: his moment about the roll axis over the roll stiffness, tyres left out.
    const double lean = *lean_by_person(car, usual);
    CHECK(lean > 0.2 * units::deg);
    CHECK(lean < 3 * units::deg);
    j.vehicle.handling.person.value = 40;
    CHECK(*lean_by_person(car, outside(j.vehicle)) == Approx(lean / 2).epsilon(0.1));
    j.vehicle.handling.wind.value = 12.5;
    CHECK(outside(j.vehicle).wind == Approx(usual.wind / 4));
    // A tenth of the size: lengths by 1/10, masses by 1/1000, rates by 1/100.
    Job model = blank();
    for (const FieldRef& f : fields(model))
        f.value->value *= f.spec.quantity == units::Quantity::Length || f.spec.quantity == units::Quantity::CubicRate
                              ? 0.1
                          : f.spec.quantity == units::Quantity::Mass          ? 1e-3
                          : f.spec.quantity == units::Quantity::Rate          ? 1e-2
                          : f.spec.quantity == units::Quantity::TorsionalRate ? 1e-4
                                                                              : 1;
    const Outside small = outside(model.vehicle);
    CHECK(small.person == Approx(0.14).epsilon(0.05));
    const car::Car toy = car_with(model.vehicle, model.trial);
    REQUIRE(lean_by_person(toy, small));
    CHECK(*lean_by_person(toy, small) < 10 * units::deg);
}

TEST_CASE("a figure within its band speaks neither for the story nor against it") {
    const Job j = blank();
    const Assessment a = assess(j.vehicle, j.trial);
    const BalanceFigures f = balance_figures(j.vehicle, j.trial, a.car, Ground::Dry);
    const auto kind = [&](Complaint c, const char* words, const EvidenceBands& bands) {
        return kind_of(evidence(c, j.vehicle, j.trial, a, f, bands), words);
    };
    const double lift = std::abs(a.handling.first_lift - f.limit().lateral), left = f.limit().left;
    for (const double factor : {0.99, 1.01}) {
        const bool open = factor > 1;
        CHECK((kind(Complaint::LiftsWheel, " lifts at ", {.limit = factor * lift}) == Kind::Open) == open);
        CHECK((kind(Complaint::PushesMiddle, "middle: ", {.balance = factor * left}) == Kind::Open) == open);
    }
    // A best bar that nobody can tell the way to is no word for the story.
    for (const auto& [less, more, wanted] : {std::tuple(0.97, 0.01, Kind::Supports), std::tuple(0.45, 0.4, Kind::Open),
                                             std::tuple(0.02, 0.9, Kind::Against)}) {
        EvidenceBands bands;
        bands.front_bar = BestBarBand{{0.5, 0.1, 0}, 0.02, 1.5, 0, 0.2, less, more};
        CHECK(kind(Complaint::PushesMiddle, "front bar corners hardest at × 0.5", bands) == wanted);
    }
    const auto lifts = evidence(Complaint::LiftsWheel, j.vehicle, j.trial, a, f, {.limit = 0.07 * units::g});
    CHECK(std::any_of(lifts.begin(), lifts.end(),
                      [](const Evidence& e) { return e.words.find(" ± 0.07 g") != std::string::npos; }));
}

TEST_CASE("what is one thing at both ends is off at both: the balance is surer than either end") {
    Job j = blank();
    const Bands together = limit_bands(j.vehicle, j.trial, Ground::Dry);
    j.trial.rear.tyres.grip.sigma *= 1.0001; // not alike any more
    const Bands apart = limit_bands(j.vehicle, j.trial, Ground::Dry);
    CHECK(together.sigma[LimitBalance] < apart.sigma[LimitBalance]);
    CHECK(together.sigma[LimitLateral] > apart.sigma[LimitLateral]);
    // Brute: both ends' grip up by one sigma.
    const auto limit_at = [&](double front, double rear) {
        Job k = blank();
        k.trial.front.tyres.grip.value += front * 0.15;
        k.trial.rear.tyres.grip.value += rear * 0.15;
        return balance::outright_limit(to_model(k.vehicle, k.trial, car_with(k.vehicle, k.trial))).lateral;
    };
    const double one = (limit_at(1, 1) - limit_at(-1, -1)) / 2;
    const auto share = std::find_if(together.shares.begin(), together.shares.end(),
                                    [](const Share& s) { return s.path == "trial/front/tyres/grip"; });
    REQUIRE(share != together.shares.end());
    CHECK(std::sqrt(share->variance(0)) == Approx(one).epsilon(1e-4));
}

TEST_CASE(
    "a knock is spoken to by links that are off, play and a link past its stop, and every complaint says what feels "
    "the same and what to measure") {
    Job j = blank();
    CHECK(kind_of(told(Complaint::Knocks, j), "mm of play") == Kind::Same);
    j.trial.front.links.play.value = 1e-3;
    j.trial.rear.fitted = true;
    j.trial.rear.connected = false;
    const auto knocks = told(Complaint::Knocks, j);
    CHECK(kind_of(knocks, "1.0 mm of play") == Kind::Supports);
    CHECK(kind_of(knocks, "rear links are off") == Kind::Supports);
    for (int i = 0; i < complaint_count; ++i) {
        const auto all = told(static_cast<Complaint>(i), j);
        const auto has = [&](Kind k) {
            return std::any_of(all.begin(), all.end(), [k](const Evidence& e) { return e.kind == k; });
        };
        INFO(words_of(static_cast<Complaint>(i)));
        CHECK(has(Kind::Measure));
        CHECK(has(Kind::Same));
    }
    j.trial.front.stand.left_grip.value = 0.85; // unlike tyres
    CHECK(kind_of(told(Complaint::PushesMiddle, j), "turns to both sides. To the ") == Kind::Measure);
}

TEST_CASE("droop travel is asked for unless both axles' was measured") {
    for (const bool front : {false, true})
        for (const bool rear : {false, true}) {
            Job j = blank();
            j.trial.front.dampers.droop_gap.source = front ? Source::Measured : Source::Assumed;
            j.trial.rear.dampers.droop_gap.source = rear ? Source::Measured : Source::Quoted;
            CHECK((kind_of(told(Complaint::LiftsWheel, j), "droop travel at both axles") == Kind::Measure) ==
                  !(front && rear));
        }
}

TEST_CASE("over a kerb nothing is said of a bar that is not there, or whose links are off") {
    Job j = blank();
    const auto speaks = [&] {
        int out = 0;
        for (const Evidence& e : told(Complaint::Rocks, j)) out += e.words.find("without the") != std::string::npos;
        return out;
    };
    CHECK(speaks() == 2);
    j.trial.front.connected = false;
    CHECK(speaks() == 1);
    j.trial.rear.fitted = false;
    CHECK(speaks() == 0);
}

} // namespace tests::of_complaints
