#include "core/model/stand.h"
#include "core/edit/edits.h"
#include "core/model/acting.h"
#include "core/model/check.h"
#include "core/model/room.h"
#include "core/model/tyres.h"
#include "core/say/setup_steps.h"
#include "core/study/assess.h"
#include "core/study/flex.h"
#include "core/study/hand_sums.h"
#include "core/study/launch.h"
#include "core/study/links.h"

#include "examples.h"
#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_stand {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using examples::mm;

namespace {
/// A plain car with a control arm in front and a solid axle behind, pick-ups measured.
Job measured_car() {
    Job j = blank();
    edit::choose(j, "trial/front/pickups/rule", 1);
    edit::choose(j, "trial/rear/pickups/rule", 1);
    edit::choose(j, "vehicle/front/linkage/path", 1);
    edit::choose(j, "vehicle/rear/kind", 1);
    for (AxleData* axle : {&j.vehicle.front, &j.vehicle.rear})
        axle->wheels.roll_centre_moves = axle->wheels.camber_moves = {}; // but where a test says so
    examples::carry(j, {"", "box", {120, 0}, {2.2, 0}, {0.3, 0}, {1.1, 0}});
    return j;
}

Job lifted(Job j, double front, double rear, LiftBy by) {
    for (AxleSetup* a : {&j.trial.front, &j.trial.rear}) a->stand.lift_by = by;
    j.trial.front.stand.lift.value = front;
    j.trial.rear.stand.lift.value = rear;
    return j;
}
car::Car as_it_stands(const Job& j) { return car_with(j.vehicle, j.trial); }
} // namespace

TEST_CASE("springs, spacers and tyres lift a car differently: masses, stops, roll centres, camber, by hand") {
    Job j = measured_car();
    j.vehicle.front.wheels.roll_centre_moves.value = 1.5;
    j.vehicle.front.wheels.camber_moves.value = 0.02; // rad per 100 mm
    j.vehicle.front.travel.hose.value = 110 * mm;
    j.vehicle.front.travel.body.value = 80 * mm;
    const car::Car still = as_it_stands(j);
    const double at_masses = still.cg_behind_front_axle / still.wheelbase, at_box = 2.2 / still.wheelbase;
    const double bump = still.front.bump_gap, droop = still.front.droop_gap;
    for (const LiftBy by : {LiftBy::Springs, LiftBy::Spacers, LiftBy::Tyres}) {
        const Job up = lifted(j, 40 * mm, -10 * mm, by);
        const car::Car c = as_it_stands(up);
        const bool springs = by == LiftBy::Springs, tyres = by == LiftBy::Tyres;
        CHECK(c.cg_height - still.cg_height == Approx(40 * mm - 50 * mm * at_masses).margin(1e-9));
        CHECK(c.loads[0].z - still.loads[0].z == Approx(40 * mm - 50 * mm * at_box).margin(1e-9));
        CHECK(c.front.unsprung_height - still.front.unsprung_height == Approx(tyres ? 40 * mm : 0).margin(1e-12));
        CHECK(c.front.roll_centre_height - still.front.roll_centre_height ==
              Approx(tyres ? 40 * mm : 1.5 * 40 * mm).margin(5e-5)); // it settles as its links now hold
        CHECK(c.rear.roll_centre_height - still.rear.roll_centre_height == Approx(tyres ? -10 * mm : 0).margin(1e-12));
        CHECK(c.front.bump_gap == Approx(springs ? bump + 40 * mm : bump));
        CHECK(c.front.droop_gap == Approx(springs ? droop - 40 * mm : droop));
        CHECK(c.rear.bump_gap == Approx(springs ? still.rear.bump_gap - 10 * mm : still.rear.bump_gap));
        const StopGaps gaps = stop_gaps(up.trial.front, up.vehicle.front);
        CHECK(*gaps.hose == Approx(tyres ? 110 * mm : 70 * mm));
        CHECK(*gaps.body == Approx(tyres ? 80 * mm : 120 * mm));
        const double camber = to_model(up.vehicle, up.trial, c).axle[0].camber,
                     before = to_model(j.vehicle, j.trial, still).axle[0].camber;
        CHECK(camber - before == Approx(tyres ? 0 : 0.02 * 0.4).margin(2e-5)); // settling differs by a hair
        // The bar holds as much as at ride height, but for its links' new lean.
        CHECK(car::settle(c, {}).wheels[0].load == Approx(car::settle(still, {}).wheels[0].load).epsilon(2e-3));
    }
}

TEST_CASE("a lifted car leans as the sum by hand says of its longer arm, and bigger tyres turn a propshaft harder") {
    Job j = measured_car();
    const double base = assess(j.vehicle, j.trial).handling.roll_gradient;
    const car::Car still = as_it_stands(j);
    const double k = roll_stiffness(still.front).whole() + roll_stiffness(still.rear).whole();
    const auto by_hand = [&](double up) { // Milliken & Milliken 1995, ch. 18, loads and all about the roll axis
        double moment = 0;
        const double mass[] = {still.sprung_mass, 120}, z[] = {still.cg_height + up, 1.1 + up},
                     x[] = {still.cg_behind_front_axle, 2.2};
        for (int i = 0; i < 2; ++i)
            moment +=
                mass[i] * (z[i] - still.front.roll_centre_height -
                           x[i] / still.wheelbase * (still.rear.roll_centre_height - still.front.roll_centre_height));
        return moment / (k - units::g * moment);
    };
    for (const double up : {-20 * mm, 30 * mm}) {
        const double now = assess(j.vehicle, lifted(j, up, up, LiftBy::Spacers).trial).handling.roll_gradient;
        CHECK(now / base == Approx(by_hand(up) / by_hand(0)).epsilon(0.02));
        CHECK((now > base) == (up > 0));
    }
    j.vehicle.handling.driven = Driven::Rear;
    const double torque = launch(j.vehicle, j.trial)->torque,
                 bigger = launch(j.vehicle, lifted(j, 0, 25 * mm, LiftBy::Tyres).trial)->torque;
    CHECK(bigger / torque == Approx(1 + 25 * mm / j.vehicle.rear.unsprung_height.value));
}

TEST_CASE("where a car stands is where it was measured, some travel on: paths, links, clearances, the bar's law") {
    examples::Random r;
    const Job j = measured_car();
    for (const double up : {-25 * mm, 35 * mm})
        for (const LiftBy by : {LiftBy::Springs, LiftBy::Spacers}) {
            Job there = j;
            const Job here = lifted(j, up, up, by);
            for (const End end : both_ends) {
                const auto was = to_ends(there.trial[end], there.vehicle[end]),
                           is = to_ends(here.trial[end], here.vehicle[end]);
                for (int i = 0; i < 20; ++i) {
                    const linkage::Travel w{r(-0.04, 0.04), r(-0.04, 0.04), 0};
                    const auto a = linkage::pickup(was[0].path, {w.own - up, w.other - up, 0}),
                               b = linkage::pickup(is[0].path, w);
                    REQUIRE((a && b));
                    CHECK((a->place - b->place).norm() < 1e-12);
                    CHECK((a->rate[0] - b->rate[0]).norm() < 1e-9);
                    CHECK((a->bend[0] - b->bend[0]).norm() < 1e-8);
                }
                const auto sides = link_sides(here.trial[end], here.vehicle[end]),
                           before = link_sides(there.trial[end], there.vehicle[end]);
                const auto at = linkage::at((*before)[0].end, (*before)[0].branch, {-up, -up}, -1);
                REQUIRE(at);
                CHECK((*sides)[0].rest.off_square == Approx(at->off_square).margin(1e-9));
                CHECK((*sides)[0].rest.motion_ratio == Approx(at->motion_ratio).epsilon(1e-9));
                // Rolled from there the bar is wound by the same differences of travel.
                const auto law_was = bar_figures(there.trial[end], there.vehicle[end])->sums.law,
                           law_is = bar_figures(here.trial[end], here.vehicle[end])->sums.law;
                const double force = (*law_is)({0.02, -0.02}).force[0],
                             from = (*law_was)({0.02 - up, -0.02 - up}).force[0];
                CHECK(force == Approx(from).epsilon(0.02));
            }
        }
    // A part that rises with the wheel is that much nearer or further.
    Job near = j;
    edit::add_obstacle(near, End::Front);
    near.vehicle.front.linkage.obstacles[0].moves = Carrier::Wheel;
    const Job up = lifted(near, 30 * mm, 0, LiftBy::Spacers);
    const auto gap = [](const Job& of, const linkage::Travel& t) {
        const LinkSide s = (*link_sides(of.trial.front, of.vehicle.front))[0];
        return linkage::gaps(s.end, *linkage::at(s.end, s.branch, t), s.room, t).front().distance;
    };
    CHECK(gap(up, {}) == Approx(gap(near, {-30 * mm, -30 * mm})).margin(1e-9));
}

TEST_CASE("the plan of a lifted car's link levels its bar, and the rates follow the link's new lean") {
    Job j = lifted(measured_car(), 40 * mm, 0, LiftBy::Springs);
    const BarFigures leaning = *bar_figures(j.trial.front, j.vehicle.front);
    const LinkPlan plan = link_plan(j.trial.front, j.vehicle.front, 0);
    REQUIRE(plan.level);
    edit::set_link_length(j, End::Front, plan.level->length);
    const LinkSide level = (*link_sides(j.trial.front, j.vehicle.front))[0];
    CHECK(std::abs(level.attitude) < 1e-6);
    // The rate at the wheel is the slope of the same law that holds the car up, at either length.
    for (const BarFigures& f : {leaning, *bar_figures(j.trial.front, j.vehicle.front)}) {
        const double d = 0.5 * mm,
                     slope = ((*f.sums.law)({-d, d}).force[1] - (*f.sums.law)({d, -d}).force[1]) / (2 * d);
        CHECK(std::abs(slope) == Approx(f.wheel_rate).epsilon(5e-3));
    }
}

TEST_CASE("the set-up's steps are judged by the stops of the car as it stands") {
    const Job j = lifted(measured_car(), 30 * mm, 0, LiftBy::Springs);
    SetupChecks checks;
    checks.droop = j.trial.front.dampers.droop_gap.value - 30 * mm;
    checks.bump = j.vehicle.front.bump_gap.value + 30 * mm;
    const auto state = [&](const SetupChecks& c) {
        return say::look_at(say::Step::Limits, j.trial.front, c, j.vehicle.front, units::System::Metric).state;
    };
    CHECK(state(checks) == say::StepFound::State::Good);
    *checks.droop += 30 * mm; // of the car where it was measured
    CHECK(state(checks) == say::StepFound::State::Attend);
}

TEST_CASE("a lift that leaves no travel, or a path that ends before it, says so where it was typed") {
    const auto refused = [](const Job& j, const char* where, const char* words) {
        try {
            check(j);
            FAIL("accepted");
        } catch (const BadInput& e) {
            CHECK(e.where() == where);
            CHECK(std::string(e.what()).find(words) != std::string::npos);
        }
        CHECK_THROWS_AS(assess(j.vehicle, j.trial), BadInput);
    };
    refused(lifted(measured_car(), 0, 180 * mm, LiftBy::Springs), "trial/rear/stand/lift", "no droop is left");
    refused(lifted(measured_car(), -190 * mm, 0, LiftBy::Springs), "trial/front/stand/lift",
            "lowered onto its bump stops");
    Job strapped = lifted(measured_car(), 60 * mm, 0, LiftBy::Spacers);
    CHECK_NOTHROW(check(strapped));
    strapped.vehicle.front.travel.strap.value = 50 * mm;
    refused(strapped, "trial/front/stand/lift", "beyond the strap");
    Job points = measured_car();
    edit::choose(points, "vehicle/front/linkage/path", 2);
    points.vehicle.front.linkage.points.front().travel.value = -20 * mm;
    refused(lifted(points, 50 * mm, 0, LiftBy::Spacers), "trial/front/stand/lift", "measure the path further");
}

TEST_CASE("clicks act by what one adds beyond where the dampers were measured, and not at all where it is not known") {
    Job j = blank();
    AxleSetup& a = j.trial.front;
    a.dampers.bump_damping.value = 1500;
    a.dampers.rebound_damping.value = 2500;
    const auto damping = [&] {
        const auto& grip = to_model(j.vehicle, j.trial, car_with(j.vehicle, j.trial)).axle.front;
        return std::pair(grip.bump_damping, grip.rebound_damping);
    };
    CHECK_FALSE(clicks_left(a));
    a.dampers.bump_clicks.value = 12;
    a.dampers.rebound_clicks.value = 20;
    a.stand.bump_click.value = 9;
    a.stand.rebound_click.value = 4;
    CHECK(clicks_left(a)->firm == 3);
    CHECK(clicks_left(a)->open == 4);
    CHECK(damping() == std::pair(1500.0, 2500.0)); // it is not known what a click does
    a.dampers.click.value = 0.06;
    a.dampers.bump_set.value = 6;
    a.dampers.rebound_set.value = 6;
    CHECK(damping().first == Approx(1500 * 1.06 * 1.06 * 1.06));
    CHECK(damping().second == Approx(2500 / (1.06 * 1.06)));
    a.dampers.bump_damping.value = 0; // the usual one is as it was at those clicks too
    a.stand.bump_click.value = 6;
    const double usual = damping().first;
    a.stand.bump_click.value = 7;
    CHECK(damping().first == Approx(1.06 * usual));
}

} // namespace tests::of_stand
