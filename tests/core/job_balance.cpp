#include "core/car/handling.h"
#include "core/edit/edits.h"
#include "core/job/fields.h"
#include "core/job/usual.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/say/complaints.h"
#include "core/say/job_sheet.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/choices.h"
#include "core/study/cures.h"
#include "core/study/difference.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <set>

namespace tests::of_job_balance {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::say;

using units::g;

namespace {
Job plain_car() {
    Job j = blank();
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->tyres.grip_fall.value = 0.15;
    return j;
}

car::Car built(const Job& j) { return assess(j.vehicle, j.trial).car; }
} // namespace

TEST_CASE("a small car is given a manoeuvre of its size: lengths with it, speed and times with its root") {
    const Job j = new_car({"saloon", CarKind::Family});
    const balance::Model large = to_model(j.vehicle, j.trial, car_with(j.vehicle, j.trial));
    const double track = large.car.front.track;
    CHECK(of_size({balance::Manoeuvre::Kerb}, track) == balance::Drive{balance::Manoeuvre::Kerb});
    for (const balance::Manoeuvre m :
         {balance::Manoeuvre::LaneChange, balance::Manoeuvre::Kerb, balance::Manoeuvre::Pothole}) {
        const balance::Drive own = of_size({.manoeuvre = m, .speed = 15, .lateral = 3}, 0.1 * track);
        const double size = size_of(0.1 * track);
        CHECK(own.size == Approx(0.1 * track / 1.5));
        CHECK(own.bump == Approx(0.05 * size));
        CHECK(own.speed * own.speed == Approx(225 * size));
        CHECK(own.stretch * own.stretch == Approx(size));
        CHECK(own.lateral == 3);
    }
    CHECK(rocking_kerb(track) == 0.03);
    CHECK(rocking_kerb(0.1 * track) == Approx(0.03 * size_of(0.1 * track)));
}

TEST_CASE("what is dangerous of a change on another ground than the one that is asked is told of that ground") {
    const auto edge = [](balance::Gives first, double lateral, bool sudden) {
        Edge out;
        for (balance::Limit& l : out.limits) {
            l.first = first;
            l.lateral = lateral;
        }
        out.sudden = sudden;
        return out;
    };
    using enum balance::Gives;
    const Edges before{{Ground::Gravel, edge(Front, 5, false)}, {Ground::Dry, edge(Front, 8, false)}};
    CHECK(dangers(before, before).empty());
    const auto wetter = dangers(before, {before[0], {Ground::Dry, edge(Rear, 8, true)}});
    REQUIRE(wetter.size() == 5); // four phases and the way it lets go
    for (const Danger& d : wetter) CHECK(d.elsewhere == Ground::Dry);
    CHECK(say::words_of(wetter[0]) == "Rear now first braking in, dry 0.82 g");
    CHECK(say::words_of(wetter[4]) == "Now lets go suddenly, dry");
    // The same on both is told once, the worst first wherever it is.
    const auto both = dangers(before, {{Ground::Gravel, edge(Rear, 5, false)}, {Ground::Dry, edge(Rear, 8, true)}});
    REQUIRE(both.size() == 5);
    for (std::size_t i = 0; i < 4; ++i) CHECK_FALSE(both[i].elsewhere);
    CHECK(both[4].elsewhere == Ground::Dry);
    const auto tips = dangers(before, {{Ground::Gravel, edge(Front, 4, false)}, {Ground::Dry, edge(Tips, 7, false)}});
    REQUIRE(tips.size() == 8);
    CHECK((tips[0].what == Danger::What::Tips && tips[0].elsewhere == Ground::Dry));
    CHECK((tips[7].what == Danger::What::HoldsLess && !tips[7].elsewhere));
}

TEST_CASE("a model's speeds, readings and job sheet are of its size, and a truck's of its own") {
    const auto car = [](CarKind kind) {
        NewCar asked;
        asked.kind = kind;
        asked.suspension = usual_suspension(kind);
        Job j = new_car(asked);
        j.trial.front.bar.id += "+";
        j.trial.front.bar.outer_diameter.value *= 1.15;
        return j;
    };
    const Job family = car(CarKind::Family), small = car(CarKind::Model), truck = car(CarKind::Truck);
    const double size = size_of(small.vehicle.front.track.value);
    REQUIRE(size < 0.2);
    for (const Ground on : all_grounds) {
        const double usual = family.vehicle.grounds[on].speed.value;
        CHECK(small.vehicle.grounds[on].speed.value == Approx(usual * std::sqrt(size)).epsilon(1e-6));
        CHECK(truck.vehicle.grounds[on].speed.value == usual);
    }
    CHECK(lift_tolerance({}, small.vehicle.front.track.value) == Approx(2e-3 * size));
    CHECK(lift_tolerance({}, family.vehicle.front.track.value) == 2e-3);
    SetupChecks typed;
    typed.lift_tolerance = 1e-3;
    CHECK(lift_tolerance(typed, small.vehicle.front.track.value) == 1e-3);
    const auto said = [](const Job& j) {
        const say::JobSheet sheet = say::job_sheet(j, j.fitted, j.trial, units::System::Metric);
        std::string out;
        for (const std::string& need : sheet.needs) out += need + "\n";
        for (const say::SheetStep& step : sheet.steps) out += step.title + "\n" + step.caution + "\n";
        return out;
    };
    CHECK(said(small).find("jack") == std::string::npos);
    CHECK(said(small).find("2 stands") == std::string::npos);
    CHECK(said(small).find("Battery unplugged") != std::string::npos);
    for (const Job& j : {family, truck}) {
        CHECK(said(j).find("2 stands") != std::string::npos);
        CHECK(said(j).find("Never under a car on a jack alone.") != std::string::npos);
    }
    CHECK(units::text(4.17, units::Quantity::Force, units::System::Metric, units::force_decimals(4.17)) == "4.17 N");
    CHECK(units::text(28600, units::Quantity::Force, units::System::Metric, units::force_decimals(28600)) == "28600 N");
}

TEST_CASE("a usual roll inertia is that of an even box, and as unsure as boxes are, in all that rocks") {
    for (const CarKind kind : all_car_kinds) {
        NewCar asked;
        asked.kind = kind;
        const Job j = new_car(asked);
        const Measured& radius = j.vehicle.handling.roll_radius;
        INFO(name_of(kind));
        // Of a box as wide and high as cars are over their track, whose ends are the least and the most.
        CHECK(radius.value - 1.645 * radius.sigma > 0.9 * std::hypot(1, 0.75) / std::sqrt(12.0));
        CHECK(radius.value + 1.645 * radius.sigma < std::hypot(1.15, 1.1) / std::sqrt(12.0));
        const balance::Model m = to_model(j.vehicle, j.fitted, built(j));
        const double track = (m.car.front.track + m.car.rear.track) / 2;
        CHECK(m.roll_inertia >
              car::loaded(m.car).mass * std::pow(radius.value * track, 2)); // and its mass about the axis
        const auto rocks = sure::propagate(j.vehicle, j.fitted, sure::heads());
        const auto share =
            std::ranges::find(rocks.shares, std::string("vehicle/handling/roll_radius"), &sure::Share::path);
        REQUIRE(share != rocks.shares.end());
        CHECK(std::abs(share->change[0]) > 0.005 * rocks.nominal[0]);
    }
}

TEST_CASE("what is usual comes from the car, and what is given stands") {
    Job j = plain_car();
    const balance::Model m = to_model(j.vehicle, j.trial, built(j));
    CHECK(m.axle[0].tyre[0].nominal_load == Approx(350 * g).epsilon(0.02));
    CHECK(m.yaw_inertia == Approx(1400 * 1.3 * 1.3).epsilon(0.02)); // m a b
    CHECK(m.drive == PerAxle<double>{0, 1});
    CHECK((*balance::roll_damping(m) > 0.1 && *balance::roll_damping(m) < 0.6));
    j.trial.front.tyres.nominal_load.value = 5000;
    j.vehicle.handling.roll_inertia.value = 321;
    j.vehicle.handling.driven = Driven::Front;
    j.trial.front.stand.pressure.value = 0.8;
    const balance::Model given = to_model(j.vehicle, j.trial, built(j), Ground::Wet);
    CHECK(given.axle[0].tyre[1].nominal_load == 5000);
    CHECK(given.roll_inertia == 321);
    CHECK(given.drive[0] == 1);
    CHECK(given.car.front.tyre_rate < m.car.front.tyre_rate); // most of a tyre's spring is its air
    CHECK(given.surface.grip < 1);
    // A load lets the body down, and its roll centre with it where that is said to move.
    j.vehicle.front.wheels.roll_centre_moves.value = 1.5;
    examples::carry(j, {"", "crate", {200}, {0.3}, {0}, {0.8}});
    j.vehicle.front.wheels.camber_moves.value = 2 * units::deg;
    const balance::Model low = to_model(j.vehicle, j.trial, built(j));
    CHECK(low.car.front.roll_centre_height < given.car.front.roll_centre_height - 0.005);
    CHECK(low.axle[0].camber < -0.1 * units::deg);
}

TEST_CASE(
    "the swept bars: what is fitted is in the sweep, and the best is somewhere between none and rigid or at an end") {
    const Job j = plain_car();
    const balance::Model m = to_model(j.vehicle, j.trial, built(j));
    for (const End end : both_ends) {
        const auto sweep = sweep_bar(m, end);
        REQUIRE(sweep.size() == 11);
        const balance::Limit now = balance::outright_limit(m);
        double most = 0;
        for (const BarPoint& p : sweep) {
            most = std::max(most, p.limit.lateral);
            if (p.factor == 1) CHECK(p.limit.lateral == Approx(now.lateral));
        }
        const BestBar best = best_of(sweep);
        const double there = balance::outright_limit(with_bar(m, end, best.factor)).lateral;
        CHECK(there == Approx(now.lateral + best.gain).epsilon(2e-3));
        CHECK(there > most - 2e-3 * most);
        CHECK(sweep.front().limit.at.lean() > sweep.back().limit.at.lean()); // a rigid bar leans less
    }
}

TEST_CASE("links with play on a bar of no stiffness carry nothing and hold nothing up") {
    Job j = plain_car();
    j.trial.front.links.play.value = 1e-3;
    const balance::Model m = to_model(j.vehicle, j.trial, built(j));
    Job off = j;
    off.trial.front.connected = false;
    CHECK(sweep_bar(m, End::Front).front().limit.lateral ==
          Approx(balance::outright_limit(to_model(off.vehicle, off.trial, built(off))).lateral).epsilon(1e-6));
}

TEST_CASE("every ground and load has its limit: less grip, less of it") {
    Job j = plain_car();
    examples::carry(j, {"", "roof box", {80}, {1.3}, {0}, {1.7}}, false);
    const Grid grid = condition_grid(j.vehicle, j.trial);
    REQUIRE(grid.rows.size() == std::size(all_grounds));
    const auto less = [&](Ground one, Ground other) {
        for (std::size_t load = 0; load < 3; ++load)
            CHECK(grid.rows[static_cast<std::size_t>(one)][load].lateral <
                  grid.rows[static_cast<std::size_t>(other)][load].lateral);
    };
    less(Ground::Wet, Ground::Dry);
    less(Ground::Gravel, Ground::Wet);
    less(Ground::Mud, Ground::Gravel);
    less(Ground::Snow, Ground::Mud);
    less(Ground::DryPatched, Ground::Dry); // roughness takes some too
    less(Ground::WetPatched, Ground::Wet);
    less(Ground::Washboard, Ground::Gravel);
    less(Ground::Kerbs, Ground::Dry);
    CHECK(grid.rows[0][0].lateral == Approx(grid.rows[0][1].lateral)); // nothing is aboard now
    CHECK(grid.rows[0][2].lateral < grid.rows[0][1].lateral);
}

TEST_CASE("each cure is a whole setup that brings what is wanted, or as much as is told, at costs that are told") {
    Job j = plain_car();
    for (AxleSetup& a : j.trial.both()) a.springs.rate.source = Source::Measured;
    examples::carry(j, {"", "tool chest", {80}, {1.3}, {0}, {0.6}});
    TyreData grippy = j.trial.front.tyres;
    grippy.name = "summer set";
    grippy.grip.value *= 1.1;
    j.spares.tyres.push_back(grippy);
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) {
        a->dampers.click = {0.07, 0.02};
        a->dampers.bump_clicks.value = a->dampers.rebound_clicks.value = 16;
        a->stand.bump_click.value = a->stand.rebound_click.value = 8;
        a->dampers.bump_set.value = a->dampers.rebound_set.value = 6;
    }
    const std::vector<TyreData> sets = other_tyres(j, j.trial);
    REQUIRE(sets.size() == 2); // and what Fitted has
    CHECK(sets[0].name == "summer set");
    const Ground ground = Ground::Dry;
    const auto read = [&](Aim aim, const Setup& s) {
        return reading(aim, to_model(j.vehicle, s, assess(j.vehicle, s).car, ground));
    };
    const auto a_car = [&](const Setup& s) { return assess(j.vehicle, s).car; };
    std::set<Cure::Lever> whole, part;
    for (const Aim aim : all_aims) {
        const auto now = read(aim, j.trial);
        REQUIRE(now);
        const double unit = aim == Aim::Understeer || aim == Aim::Lean                   ? units::deg / units::g
                            : aim == Aim::Limit || aim == Aim::Share || aim == Aim::Ride ? 0.2
                                                                                         : *now;
        // One way and the other.
        const double change = (static_cast<int>(aim) % 2 == 0 ? 0.1 : -0.05) * unit;
        const double wanted = *now + change;
        const Cures found = cures(j.vehicle, j.trial, ground, aim, wanted, {}, sets);
        REQUIRE(found.now);
        CHECK(*found.now == Approx(*now));
        for (const Cure& c : found.ways) {
            INFO(say::words_of(aim).name << " by " << change << ": " << say::words_of(c, j.vehicle, sets) << ", "
                                         << say::answer_of(c, j.trial, units::System::Metric));
            if (!c.helps() || !c.to) continue;
            const auto then = read(aim, *c.to);
            REQUIRE(then);
            CHECK((*then - *now) / change == Approx(c.share).margin(0.01));
            if (c.answer == Cure::Answer::Whole) CHECK(c.share == Approx(1).margin(0.01));
            (c.answer == Cure::Answer::Whole ? whole : part).insert(c.lever);
            // What is planned was measured by nobody.
            if (c.lever == Cure::Lever::Springs) CHECK((*c.to)[*c.end].springs.rate.source == Source::Assumed);
            if (c.lever == Cure::Lever::Dampers) CHECK(c.to->front.dampers.bump_damping.sigma > 0);
            const auto alone = differences(j.trial, *c.to); // nothing else is changed
            CHECK((alone.size() == 1 || (alone.size() <= 4 && !c.end)));
            if (c.lever == Cure::Lever::Clicks) {
                CHECK(c.to->rear.stand.bump_click.value == Approx(8 + c.value));
                CHECK(std::abs(c.value) <= 8);
                CHECK(c.value == std::round(c.value)); // nobody sets half a one: no neighbour is nearer
                for (const int by : {-1, 1}) {
                    if (std::abs(c.value + by) > 8) continue;
                    Setup beside = *c.to;
                    for (AxleSetup& axle : beside.both())
                        for (Measured* m : {&axle.stand.bump_click, &axle.stand.rebound_click}) m->value += by;
                    CHECK(std::abs(*read(aim, beside) - wanted) >= std::abs(*then - wanted));
                }
            }
            if (c.lever == Cure::Lever::Traded) { // what the bars lose the dampers gain
                const auto rate = [&](const Setup& s) { return assess(j.vehicle, s).front->eye_rate; };
                CHECK(rate(*c.to) * c.value == Approx(rate(j.trial)).epsilon(1e-5));
                CHECK(to_model(j.vehicle, *c.to, a_car(*c.to)).axle.rear.rebound_damping ==
                      Approx(c.value * to_model(j.vehicle, j.trial, a_car(j.trial)).axle.rear.rebound_damping));
            }
            // Costs are those of that car.
            const Assessment a = assess(j.vehicle, *c.to);
            CHECK(c.then.roll == Approx(a.outcomes[RollGradient]).epsilon(1e-6));
            const balance::Model dry = to_model(j.vehicle, *c.to, a.car);
            CHECK(c.then.limit == Approx(balance::outright_limit(dry).lateral).epsilon(1e-6));
        }
    }
    // Nobody is ballast; what is dangerous of a way is told of the car that it makes.
    Job manned = j;
    examples::carry(manned, {"", "screwdrivers and a crewel needle", {3}, {1}, {0}, {0.5}}, false);
    manned.vehicle.loads.front().name = "Marit, navigator";
    const std::vector<std::string> people = people_aboard(manned);
    REQUIRE(people == std::vector{manned.vehicle.loads.front().id});
    for (const auto& [asked, by] : {std::pair{Ground::Dry, 0.1}, {Ground::Dry, 0.04}, {Ground::Wet, 0.04}})
        for (const Cure& c :
             cures(manned.vehicle, manned.trial, asked, Aim::Limit,
                   *reading(Aim::Limit, to_model(j.vehicle, j.trial, a_car(j.trial), asked)) - by, {.people = people})
                 .ways) {
            if (c.lever == Cure::Lever::Load || c.lever == Cure::Lever::LoadBack)
                CHECK(manned.vehicle.loads[c.item].id != people[0]);
            if (!c.to || c.lever != Cure::Lever::Bar || c.end != End::Rear) continue;
            REQUIRE(c.helps()); // more rear bar, until the rear has less left than the front
            for (const balance::Phase phase : balance::all_phases) {
                bool before = false; // on a ground that is told before
                for (const Ground on : {asked, Ground::Dry, Ground::Wet}) {
                    if (on == asked && before) continue;
                    const auto first = [&](const Setup& s) {
                        return balance::limit(to_model(j.vehicle, s, a_car(s), on), phase).first;
                    };
                    const bool told = std::ranges::any_of(c.dangers, [=, here = asked](const Danger& d) {
                        return d.what == Danger::What::RearFirst && d.phase == phase &&
                               d.elsewhere.value_or(here) == on;
                    });
                    const bool is = first(*c.to) == balance::Gives::Rear && first(j.trial) != balance::Gives::Rear;
                    CHECK(told == (is && !before));
                    before = before || is;
                }
            }
        }
    using L = Cure::Lever;
    for (const L lever : {L::Bar, L::Springs, L::Dampers, L::Traded, L::Height, L::Pressure, L::Camber}) {
        CAPTURE(int(lever));
        CHECK(whole.contains(lever));
    }
    for (const L lever : {L::TyreSet, L::Load, L::Clicks}) CHECK((whole.contains(lever) || part.contains(lever)));

    const double limit = *read(Aim::Limit, j.trial);
    for (const Cure& c : cures(j.vehicle, j.trial, ground, Aim::Limit, limit + 0.02,
                               {{false, true}, false, false, false, false, false, false})
                             .ways)
        CHECK((c.lever == L::Bar && c.end == End::Rear)); // one bar only
    for (const Cure& c : cures(j.vehicle, j.trial, ground, Aim::Limit, limit).ways)
        CHECK(c.answer == Cure::Answer::AsItIs);
    // Where no bar acts, it is told what one would have to be.
    j.trial.rear.connected = false;
    for (const Cure& c : cures(j.vehicle, j.trial, ground, Aim::Lean, 0.95 * *read(Aim::Lean, j.trial)).ways) {
        CHECK((c.lever != L::Bar || c.end == End::Front));
        if (c.lever != L::NewBar) continue;
        CHECK((c.answer == Cure::Answer::Whole && c.value > 0 && !c.to));
    }
}

TEST_CASE("what a complaint wants is more or less of one figure, and two complaints have none") {
    int none = 0;
    for (int i = 0; i < say::complaint_count; ++i) {
        const auto c = static_cast<say::Complaint>(i);
        const auto aim = say::aim_of(c);
        none += !aim;
        if (!aim) continue;
        const bool pushes = c == say::Complaint::PushesEntry || c == say::Complaint::PushesMiddle,
                   more = pushes || *aim == Aim::Damping || *aim == Aim::FirstLift || *aim == Aim::Holds;
        const double now = *aim != Aim::Limit ? 0.4 : pushes ? -0.1 : 0.1;
        CHECK((say::wanted_for(c, now) > now) == more);
    }
    CHECK(none == 2);
    CHECK(say::wanted_for(say::Complaint::PushesMiddle, -0.1) == 0); // both ends at once
    CHECK(say::wanted_for(say::Complaint::PushesMiddle, 0.05) > 0.05);
    const Job j = plain_car(); // no bar at all, and none so stiff
    CHECK_FALSE(with_rate(j.trial.front, 0)->connected);
    CHECK_FALSE(with_rate(j.trial.front, 1e6));
}

TEST_CASE("of a bar that a cure asks for, the nearest that is sold is told with its rate") {
    const Job j = plain_car();
    Cure cure{};
    cure.lever = Cure::Lever::Bar;
    cure.end = End::Front;
    cure.answer = Cure::Answer::Whole;
    cure.value = 1.3;
    cure.to = j.trial;
    const auto wanted = with_rate(j.trial.front, 1.3);
    REQUIRE(wanted);
    static_cast<Assembly&>(cure.to->front) = *wanted;
    const double size = wanted->bar.outer_diameter.value;
    CHECK(say::nearest_sold(cure, {{size, 0}, {2 * size, 0}}, units::System::Metric) ==
          "nearest sold: " + units::trimmed(size * 1e3, 3) + " mm, rate +0 %");
    // A bar a tenth thicker is half as stiff again, a little less where mounts and links give.
    const std::string thicker = say::nearest_sold(cure, {{1.1 * size, 0}}, units::System::Metric);
    CHECK(thicker.find("rate +") != thicker.npos);
    CHECK(say::nearest_sold(cure, {{1.5 * size, 0}}, units::System::Metric) == "no size near it is sold");
    CHECK(say::nearest_sold(cure, {}, units::System::Metric).starts_with("nearest sold: "));
    cure.lever = Cure::Lever::Springs;
    CHECK(say::nearest_sold(cure, {}, units::System::Metric).empty());
}

TEST_CASE("ways by two things of one name are told apart") {
    Job j = plain_car();
    j.vehicle.loads.clear();
    for (int i = 0; i < 3; ++i) edit::add_load(j);
    j.vehicle.loads[0].name = j.vehicle.loads[2].name = "box";
    std::set<std::string> names;
    for (std::size_t i = 0; i < 3; ++i) {
        Cure cure{};
        cure.lever = Cure::Lever::Load;
        cure.item = i;
        cure.from = 1;
        names.insert(say::words_of(cure, j.vehicle, {}));
    }
    CHECK(names == std::set<std::string>{"Without box (1)", "Without box (2)", "Without load 2"});
}

TEST_CASE("what to keep in mind is said where it holds: stops, great lean, unlike tyres, no 0.3 g") {
    Job j = plain_car();
    const auto says = [&](const char* words, Ground ground = Ground::Dry) {
        for (const std::string& s :
             validity(balance_figures(j.vehicle, j.trial, built(j), ground), units::System::Metric))
            if (s.find(words) != std::string::npos) return true;
        return false;
    };
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) a->bump_gap.value = 0.3;
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->dampers.droop_gap.value = 0.3;
    CHECK_FALSE(says("bump stop"));
    CHECK_FALSE(says("To the right"));
    CHECK_FALSE(says("0.3 g"));
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) a->bump_gap.value = 0.01;
    CHECK(says("is on its bump stop"));
    const BalanceFigures on_stop = balance_figures(j.vehicle, j.trial, built(j), Ground::Dry);
    const auto told = validity(on_stop, units::System::Metric);
    const auto first = std::find_if(on_stop.curve.points.begin(), on_stop.curve.points.end(), [](const auto& c) {
        return c.state.wheels[1].stop == car::Stop::Bump; // the outer one
    });
    REQUIRE(first != on_stop.curve.points.end());
    CHECK(std::any_of(told.begin(), told.end(), [&](const std::string& s) {
        return s.find("From " + units::fixed(first->lateral / units::g, 2) + " g the front right is on its bump") == 0;
    }));
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) a->bump_gap.value = 0.004;
    CHECK(says("springs are on their stops for ", Ground::Gravel));
    CHECK_FALSE(says("in the air for much of it", Ground::Gravel));
    j.vehicle.grounds[Ground::Washboard].ripple.value = 0.02;
    CHECK(says("in the air for much of it, and what it holds here is a guess", Ground::Washboard));
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) a->bump_gap.value = 0.01;
    j.trial.rear.stand.left_grip.value = 0.8; // it carries the most in a right turn, which the tally then tells
    CHECK(says("To the left: "));
    j.trial.front.tyres.grip.value = 0.8;
    CHECK(says("0.3 g", Ground::Snow));
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) {
        a->bump_gap.value = 0.3;
    }
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->springs.rate.value *= 0.25;
    j.trial.front.fitted = false;
    CHECK(says("A lean of"));
}

TEST_CASE("figures of a phase, a curve and a bump belong to one car") {
    const Job j = plain_car();
    const Assessment a = assess(j.vehicle, j.trial);
    const BalanceFigures f = balance_figures(j.vehicle, j.trial, a.car, Ground::Dry);
    CHECK(f.curve.points.back().lateral == Approx(f.limit().at.lateral));
    CHECK(f.phase[0].lateral < f.limit().lateral); // braking takes grip
    CHECK(f.bump[0].harshness > 1);
    CHECK(f.understeer->whole ==
          Approx(f.understeer->masses_and_tyres + f.understeer->load_transfer + f.understeer->camber +
                 f.understeer->roll_steer + f.understeer->side_steer + f.understeer->aligning));
    // The lean at the limit agrees with the roll gradient while nothing touches its stops.
    const balance::Corner c = balance::corner(f.model, 0.3 * g);
    CHECK(c.lean() == Approx(a.outcomes[RollGradient] * 0.3 * g).epsilon(0.02));
}

TEST_CASE("what a ground is unsure of is in the limit's band there, and nowhere else") {
    const Job job = blank();
    const sure::Bands dry = sure::limit_bands(job.vehicle, job.trial, Ground::Dry),
                      wet = sure::limit_bands(job.vehicle, job.trial, Ground::Wet);
    const auto grounds = [](const sure::Bands& b) {
        std::vector<std::string> out;
        for (const sure::Share& s : b.shares)
            if (s.path.starts_with("vehicle/grounds/")) out.push_back(s.path);
        return out;
    };
    CHECK(grounds(dry).empty());
    CHECK(grounds(wet) == std::vector<std::string>{"vehicle/grounds/wet/grip", "vehicle/grounds/wet/stiffness",
                                                   "vehicle/grounds/wet/fall"});
    // A tenth of grip is about a tenth of the limit.
    const double limit =
        balance::outright_limit(to_model(job.vehicle, job.trial, car_with(job.vehicle, job.trial), Ground::Wet))
            .lateral;
    for (const sure::Share& s : wet.shares)
        if (s.path == "vehicle/grounds/wet/grip") CHECK(std::sqrt(s.variance(0)) == Approx(0.1 * limit).epsilon(0.2));
    Vehicle sure_of_it = job.vehicle;
    sure_of_it.grounds[Ground::Wet].grip.sigma = 0;
    CHECK(sure::limit_bands(sure_of_it, job.trial, Ground::Wet).sigma[0] < wet.sigma[0]);
}

TEST_CASE("the band of a bar's best is that of cars drawn and swept in full") {
    Job j = plain_car();
    for (const End end : both_ends) j.trial[end].tyres.grip.sigma = 0.01;
    const sure::BestBarBand band = sure::best_bar(j.vehicle, j.trial, Ground::Dry, End::Rear);
    sure::Question best = sure::sweep(Ground::Dry, End::Rear);
    best.names = {{"from none to rigid", units::Quantity::Number}, {"gain", units::Quantity::Number}};
    best.ask = [sweep = best.ask](const sure::Asked& asked) -> std::vector<double> {
        const std::vector<double> ends = sweep(asked);
        SweptLimits limits;
        for (std::size_t i = 0; i < limits.size(); ++i) limits[i] = std::min(ends[i], ends[limits.size() + i]);
        const BestBar found = best_of(limits);
        return {found.factor / (1 + found.factor), found.gain};
    };
    const sure::Draws drawn = sure::draw(j.vehicle, j.trial, best, 150, 7);
    const auto along = [](double factor) { return factor / (1 + factor); };
    INFO(band.least << " " << band.factor << " " << band.most << " drawn " << drawn.low[0] << " " << drawn.high[0]);
    CHECK(along(band.least) == Approx(drawn.low[0]).margin(0.3)); // few cars are there
    CHECK(along(band.most) == Approx(drawn.high[0]).margin(0.12));
    CHECK(band.most_gain == Approx(drawn.high[1]).epsilon(0.25));
    CHECK(band.less + band.more <= 1);
    // Spreads that are a tenth of these leave the best a tenth as unsure, or nearly.
    Job known = j;
    for (Input& input : inputs(known)) {
        input.field.value->sigma /= 10;
        if (input.twin) input.twin->value->sigma /= 10;
    }
    const sure::BestBarBand sharp = sure::best_bar(known.vehicle, known.trial, Ground::Dry, End::Rear);
    CHECK(along(sharp.most) - along(sharp.least) < 0.5 * (along(band.most) - along(band.least)));
}

TEST_CASE("which end gives up first is said with its chance, that of cars drawn, and not at all where it is even") {
    Job j = plain_car();
    const auto told = [&](double rear_grip) {
        j.vehicle.handling.rear_grip.value = rear_grip;
        const balance::Limit limit = balance::outright_limit(to_model(j.vehicle, j.trial, built(j)));
        const double sigma = sure::limit_bands(j.vehicle, j.trial, Ground::Dry).sigma[sure::LimitBalance],
                     chance = say::chance_of_first(limit, sigma);
        sure::Question asked = sure::limit(Ground::Dry);
        asked.names[sure::LimitBalance].ends_at = 0; // beyond it the rear is first
        const sure::Draws drawn = sure::draw(j.vehicle, j.trial, asked, 300, 11);
        const double rear = drawn.ended[sure::LimitBalance] / static_cast<double>(drawn.count);
        CAPTURE(rear_grip, chance, rear);
        CHECK(chance == Approx(limit.first == balance::Gives::Rear ? rear : 1 - rear).margin(0.09));
        return std::pair{chance, say::sentence(limit, chance)};
    };
    // Where the axles are even by the sum: the rear's grip that makes it so, by halving.
    double low = 0.5, high = 2;
    for (int i = 0; i < 40; ++i) {
        const double middle = (low + high) / 2;
        j.vehicle.handling.rear_grip.value = middle;
        (balance_of(balance::outright_limit(to_model(j.vehicle, j.trial, built(j)))) > 0 ? low : high) = middle;
    }
    const auto even = told(low);
    CHECK(even.first == Approx(0.5).margin(0.02));
    CHECK(even.second.starts_with("As likely the front as the rear"));
    const auto sure_of_it = told(1.3 * low);
    CHECK(sure_of_it.first > 0.8);
    CHECK(sure_of_it.second.starts_with("Front gives up first at "));
    CHECK(say::chance_of_first({9, balance::Gives::Tips, 0, {}}, 0.1) == 1);
}

TEST_CASE("a manoeuvre's bands are those of cars drawn and driven") {
    Job j = plain_car();
    for (Input& input : inputs(j)) { // measured about as well as one can: far out a kerb's jolts are not straight
        input.field.value->sigma /= 4;
        if (input.twin) input.twin->value->sigma /= 4;
    }
    const balance::Drive kerb{balance::Manoeuvre::Kerb, 15, 3};
    const sure::Bands bands = sure::propagate(j.vehicle, j.trial, sure::manoeuvre(kerb, Ground::Dry));
    const sure::Draws drawn = sure::draw(j.vehicle, j.trial, sure::manoeuvre(kerb, Ground::Dry), 100, 5);
    for (const sure::RunAnswer answer : {sure::RunLean, sure::RunSeat, sure::RunHead, sure::RunAside1s}) {
        INFO(answer);
        const double wide = (drawn.high[answer] - drawn.low[answer]) / 2;
        CHECK(1.645 * bands.sigma[answer] == Approx(wide).epsilon(0.3));
    }
    const std::array<double, sure::run_answers> now =
        sure::answers_of(balance::drive(to_model(j.vehicle, j.trial, built(j)), kerb));
    CHECK(now[sure::RunHead] > 0);
    CHECK_FALSE(std::isfinite(now[sure::RunYaw90])); // no step
}

TEST_CASE("the harshness told is the head's on the ground of the use, and its band the car's alone") {
    Job j = plain_car();
    j.vehicle.use.use = Use::Trail;
    const balance::Model gravel = to_model(j.vehicle, j.trial, built(j), Ground::Gravel);
    CHECK(ride_in_use(j.vehicle, to_model(j.vehicle, j.trial, built(j))).head == ride_of(gravel).head);
    const sure::Bands bands = sure::propagate(j.vehicle, j.trial, sure::heads());
    CHECK(bands.sigma[0] > 0);
    for (const sure::Share& s : bands.shares) CHECK_FALSE(s.path.starts_with("vehicle/grounds/"));
    Job stiff = j;
    stiff.trial.front.bar.outer_diameter.value *= 1.5;
    CHECK(ride_in_use(stiff.vehicle, to_model(stiff.vehicle, stiff.trial, built(stiff))).head > ride_of(gravel).head);
}

} // namespace tests::of_job_balance
