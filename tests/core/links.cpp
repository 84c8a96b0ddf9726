#include "core/study/links.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/model/check.h"
#include "core/model/model.h"
#include "core/model/room.h"
#include "core/say/cautions.h"
#include "core/say/setup_steps.h"
#include "core/say/working.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "core/sure/questions.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_links {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::edit;
using namespace dervish::study;
using namespace dervish::sure;
using namespace dervish::say;

using units::mm, units::deg;

namespace {
/// A plain car whose front pick-ups are measured as they lie under the eyes, links with buckles.
Job car_with_links() {
    Job j = blank();
    choose(j, "trial/front/pickups/rule", 1);
    choose(j, "trial/front/links/adjust", 2);
    return j;
}

const AxleSetup& front(const Job& j) { return j.trial.front; }
} // namespace

TEST_CASE("choices are found with their words, and choosing fills in what was never given") {
    Job j = blank();
    const auto where = choices(j, "trial/front/pickups");
    REQUIRE(where.size() == 2);
    CHECK(where[0].path == "trial/front/pickups/rule");
    CHECK(where[0].words == std::vector<std::string>{"under_eyes", "placed"});
    CHECK(where[0].before == 0);
    const auto all = choices(j, "trial/front/links");
    REQUIRE(all.size() == 4);
    for (std::size_t i = 1; i < all.size(); ++i) CHECK(all[i].before >= all[i - 1].before);
    for (const ChoiceRef& c : choices(j, "vehicle/front"))
        for (int word = static_cast<int>(c.words.size()) - 1; word >= 0; --word) {
            Job tried = j;
            choose(tried, c.path, word);
            CHECK(choices(tried, c.path)[0].chosen == word);
            CHECK_NOTHROW(check(tried)); // usable at once
        }
    j = car_with_links();
    CHECK_NOTHROW(check(j));
    CHECK(front(j).pickups.at.out.value > 0.3);
    CHECK(front(j).links.pitch.source == Source::Assumed);
    CHECK_THROWS_AS(choose(j, "trial/front/pickups/rule", 7), BadInput);
    CHECK_THROWS_AS(choose(j, "trial/front/links/length", 0), BadInput);
    add_obstacle(j, End::Front);
    choose(j, "vehicle/front/linkage/path", 2);
    add_path_point(j, End::Front);
    CHECK(j.vehicle.front.linkage.points.size() == 4);
    CHECK_NOTHROW(check(j));
}

TEST_CASE("measuring pick-ups where they lie, or guessing the arm from the ratio, changes no rate") {
    const Job under = blank();
    Job measured = under;
    choose(measured, "trial/front/pickups/rule", 1);
    const double rate = bar_figures(front(under), under.vehicle.front)->wheel_rate;
    CHECK(bar_figures(front(measured), measured.vehicle.front)->wheel_rate == Approx(rate).epsilon(1e-6));
    choose(measured, "vehicle/front/linkage/path", 1);
    CHECK(bar_figures(front(measured), measured.vehicle.front)->wheel_rate == Approx(rate).epsilon(1e-3));
}

TEST_CASE(
    "another hole or link is tried on the links' other ends as they are, and one car set up three ways has one rate") {
    Job before = blank();
    add_eye(before, End::Front);
    before.trial.front.bar.eyes[1].arm_length.value = 0.8 * before.trial.front.bar.eyes[0].arm_length.value;
    before.fitted = before.trial;
    before.fitted.name = "fitted";
    before.vehicle.front.kind = AxleKind::Independent;
    Job hole = before;
    use_eyes(hole, End::Front, 1, 1);
    hold_pickups(before, hole);
    REQUIRE(front(hole).pickups.rule == PickupRule::Placed);
    CHECK(hole.fitted.front.pickups == front(hole).pickups); // one car's
    for (const Measured* m :
         {&front(hole).pickups.at.out, &front(hole).pickups.at.behind, &front(hole).pickups.at.below})
        CHECK((m->source == Source::Assumed && m->sigma == 10 * mm));
    CHECK(hole.fitted.front.links == before.fitted.front.links); // no other link
    const BarFigures first = *bar_figures(before.fitted.front, before.vehicle.front);
    CHECK(bar_figures(hole.fitted.front, hole.vehicle.front)->wheel_rate == Approx(first.wheel_rate).epsilon(1e-6));

    // The link tilts: it passes on less of the wheel's travel, by its own direction against the pick-up's path.
    const auto side = [](const Job& j) { return (*link_sides(front(j), j.vehicle.front))[0]; };
    const LinkSide upright = side(before), leaning = side(hole);
    const Eigen::Vector3d way = (leaning.rest.eye - leaning.rest.pickup).normalized();
    CHECK(std::abs(way.z()) < 0.995);
    CHECK(std::abs(leaning.rest.motion_ratio) == Approx(std::abs(way.z()) * hole.vehicle.front.motion_ratio.value));
    CHECK(std::abs(upright.rest.motion_ratio) == Approx(hole.vehicle.front.motion_ratio.value).epsilon(1e-4));
    CHECK((leaning.rest.pickup - upright.rest.pickup).norm() < 0.1 * mm);

    const double straight = bar_figures(front(hole), hole.vehicle.front)->wheel_rate;
    Job arm = hole, points = hole;
    choose(arm, "vehicle/front/linkage/path", 1);
    choose(points, "vehicle/front/linkage/path", 2);
    CHECK(bar_figures(front(arm), arm.vehicle.front)->wheel_rate == Approx(straight).epsilon(2e-3));
    CHECK(bar_figures(front(points), points.vehicle.front)->wheel_rate == Approx(straight).epsilon(2e-3));

    // What describes the car says nothing of where they are.
    Job told = before;
    for (Setup* s : {&told.fitted, &told.trial}) s->front.links.length.value += 20 * mm;
    hold_pickups(before, told);
    CHECK(front(told).pickups.rule == PickupRule::UnderEyes);

    // A bar from the shelf brings no pick-ups of another car.
    Job shelf = hole;
    Assembly other = front(before);
    other.pickups.at.out.value = 0.9;
    other.pickups.rule = PickupRule::Placed;
    shelf.shelf.push_back(other);
    try_from_shelf(shelf, End::Front, 0);
    CHECK(front(shelf).pickups == front(hole).pickups);
}

TEST_CASE("a length tried on a lifted car levels the bar as the plan says, and the plan asks for no more") {
    Job before = blank();
    before.fitted = before.trial;
    before.trial.front.stand.lift.value = 40 * mm;
    before.trial.front.stand.lift_by = LiftBy::Springs;
    const LinkPlan plan = link_plan(front(before), before.vehicle.front, 0);
    REQUIRE(plan.level);
    Job after = before;
    set_link_length(after, End::Front, plan.level->length);
    hold_pickups(before, after);
    const LinkSide level = (*link_sides(front(after), after.vehicle.front))[0];
    CHECK(std::abs(level.attitude) < 2e-4);
    const LinkPlan again = link_plan(front(after), after.vehicle.front, 0);
    REQUIRE(again.level);
    CHECK(again.level->length == Approx(front(after).links.length.value).margin(0.1 * mm));
}

TEST_CASE("bar force through travel does the work that the bar's energy says") {
    const Job j = car_with_links();
    const auto sides = link_sides(front(j), j.vehicle.front);
    REQUIRE(sides);
    const auto figures = bar_figures(front(j), j.vehicle.front);
    for (const linkage::Mode mode : {linkage::Mode::Roll, linkage::Mode::OneWheel}) {
        const auto points = through_travel((*sides)[0], 0, *figures->sums.law, mode, 401);
        REQUIRE(points.size() == 401);
        CHECK(points.front().travel == Approx(-j.trial.front.dampers.droop_gap.value));
        CHECK(points.back().travel == Approx((*sides)[0].room.bump));
        const double other = mode == linkage::Mode::Roll ? -1 : 0;
        double work = 0, most = 0;
        for (std::size_t i = 1; i < points.size(); ++i) {
            const double s = points[i].travel, before = points[i - 1].travel;
            if (before < 0) continue;
            const auto force = [&](double at) { // both wheels' forces on their ways
                const auto f = (*figures->sums.law)({at, other * at}).force;
                return f[0] + other * f[1];
            };
            work += (force(s) + force(before)) / 2 * (s - before);
            CHECK((*figures->sums.law)({s, other * s}).force[0] == Approx(points[i].force));
            most = (*figures->sums.law)({s, other * s}).energy;
        }
        CHECK(work == Approx(most).epsilon(1e-3));
    }
}

TEST_CASE("the tightest angle of links unlike each other is the tighter one's, on either side") {
    for (const double longer : {25 * mm, -25 * mm}) {
        Job j = car_with_links();
        AxleSetup& on = j.trial.front;
        on.links.right_longer.value = longer;
        const auto ends = to_ends(on, j.vehicle.front);
        const linkage::Room room = to_room(on, j.vehicle.front);
        double least = 1e9;
        for (const std::size_t e : {std::size_t{0}, std::size_t{1}})
            least = std::min(
                least, linkage::angle_margins(ends[e], linkage::branch_needed(ends[e], e == 0), room, e, 9)[0].left);
        CHECK(tightest_angle(ends, on, to_room(on, j.vehicle.front)).left == least);
    }
}

TEST_CASE("the tightest angle of a car that differs little is the first one's at its own place") {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> off(-1e-5, 1e-5);
    for (const double longer : {25 * mm, -25 * mm, 0.0})
        for (const double lock : {0.0, 0.1}) {
            Job j = car_with_links();
            AxleSetup& on = j.trial.front;
            AxleData& axle = j.vehicle.front;
            on.links.right_longer.value = longer;
            axle.linkage.lock.value = lock;
            axle.linkage.steers = true;
            const linkage::Margin first = tightest_angle(to_ends(on, axle), on, to_room(on, axle));
            for (int car = 0; car < 20; ++car) {
                AxleSetup near = on;
                AxleData below = axle;
                for (Measured* m :
                     {&near.links.length, &near.pickups.at.out, &near.pickups.at.behind, &near.pickups.at.below,
                      &near.bar.eyes[0].arm_length, &near.mounts.height, &below.bump_gap, &near.dampers.droop_gap})
                    m->value += off(random);
                const auto ends = to_ends(near, below);
                const linkage::Room room = to_room(near, below);
                const linkage::Margin there = tightest_angle(ends, near, room);
                REQUIRE(there.place == first.place);
                CHECK(same_angle(first, ends, room).left == there.left);
                CHECK(there.left != first.left);
            }
        }
}

TEST_CASE("a car that steers a little beside one that does not has its links looked at in all places") {
    Job j = car_with_links();
    j.vehicle.front.linkage.steers = true;
    j.vehicle.front.linkage.lock.value = 0;
    Cars cars;
    cars.with(j.vehicle, j.trial);
    const double ahead = cars.sums(End::Front).margin->left;
    j.vehicle.front.linkage.lock.value = 0.01;
    cars.with(j.vehicle, j.trial, 1, true);
    const auto& axle = j.vehicle.front;
    const double all = tightest_angle(to_ends(front(j), axle), front(j), to_room(front(j), axle)).left;
    CHECK(cars.sums(End::Front).margin->left == all);
    CHECK(all < ahead);
}

TEST_CASE("links are looked at as far as the wheels go: into the bump stop, to the strap, and with the axle's lean") {
    Job j = car_with_links();
    AxleData& a = j.vehicle.front;
    AxleSetup& on = j.trial.front;
    const double droop = on.dampers.droop_gap.value;
    const linkage::Room room = to_room(on, a);
    CHECK(room.droop == droop);
    // In the stop until it carries what the spring gained on the way to it.
    const double into = room.bump - a.bump_gap.value;
    CHECK(a.bump_k1.value * into + a.bump_k3.value * into * into * into ==
          Approx(on.springs.rate.value * a.bump_gap.value).epsilon(1e-3));
    a.travel.strap.value = droop - 0.02;
    CHECK(to_room(on, a).droop == Approx(droop - 0.02));
    a.travel.strap.value = 0;
    a.travel.left_droop.value = 0.015;
    CHECK(to_room(on, a).droop == Approx(droop + 0.015));

    // A solid axle's wheels go further than its springs where it leans: the springs' own travel at the ends of a sweep.
    a.travel.left_droop.value = 0;
    a.kind = AxleKind::Solid;
    a.spring_base.value = 0.7 * a.track.value;
    const linkage::Room solid = to_room(on, a);
    for (const linkage::Mode mode : {linkage::Mode::Roll, linkage::Mode::Bump, linkage::Mode::OneWheel}) {
        const linkage::Reach reach = linkage::wheel_reach(solid, mode);
        const linkage::Travel t = linkage::in_mode(mode, reach.bump);
        CHECK((t.own + t.other) / 2 + (t.own - t.other) / 2 * 0.7 == Approx(solid.bump));
        CHECK(reach.droop / reach.bump == Approx(solid.droop / solid.bump));
    }
}

TEST_CASE("a length that evens something is found wherever it lies, and none where none does") {
    Setup s = blank().trial;
    const double start = s.front.links.right_longer.value;
    for (const double root : {0.5e-3, -7e-3, 31e-3}) { // the first halfway between the search's two beginnings
        const auto found = solved_longer(s, End::Front, [&](double x) { return 4e4 * (x - start - root); });
        REQUIRE(found);
        CHECK(*found - start == Approx(root).margin(1e-6));
    }
    CHECK_FALSE(solved_longer(s, End::Front, [](double) { return 300.0; }));
    CHECK_FALSE(solved_longer(s, End::Front, [&](double x) { return 4e4 * (x - start - 0.2); }));
}

TEST_CASE("unlike links load the car at rest across its corners, and the length told takes it out") {
    Job j = car_with_links();
    CHECK(std::abs(rest_state(j.vehicle, j.trial, End::Front)->link[0]) < 1e-3);
    j.trial.front.links.right_longer.value = 6 * mm;
    const auto rest = rest_state(j.vehicle, j.trial, End::Front);
    REQUIRE((rest && rest->correction));
    CHECK(rest->link[0] * rest->link[1] < 0);
    CHECK(std::abs(rest->link[0]) > 100);
    // One diagonal gains what the other loses, and the whole weighs the same.
    CHECK(rest->change[0] == Approx(-rest->change[1]).margin(1));
    CHECK(rest->change[0] * rest->change[3] > 0);
    CHECK(rest->change[0] + rest->change[1] + rest->change[2] + rest->change[3] == Approx(0).margin(0.01));
    CHECK(*rest->correction == Approx(-6 * mm).margin(0.05 * mm));
    j.trial.front.links.right_longer.value += *rest->correction;
    CHECK(std::abs(rest_state(j.vehicle, j.trial, End::Front)->link[0]) < 0.5);
    CHECK_FALSE(rest_state(
        j.vehicle,
        [&] {
            Setup off = j.trial;
            off.front.connected = false;
            return off;
        }(),
        End::Front));
}

TEST_CASE("a bent bar and a car that leans twist the bar at rest too, and a length evens it") {
    Job j = car_with_links();
    j.trial.front.bar.bent.value = 8 * mm;
    const auto bent = rest_state(j.vehicle, j.trial, End::Front);
    CHECK(std::abs(bent->link[0]) > 100);
    REQUIRE(bent->correction);
    CHECK(std::abs(*bent->correction) == Approx(8 * mm).margin(1 * mm));
    j.trial.front.bar.bent.value = 0;
    examples::carry(j, {"", "crate", {150}, {1.3}, {0.5}, {0.8}});
    const auto leaning = rest_state(j.vehicle, j.trial, End::Front);
    CHECK(std::abs(leaning->link[0]) > 50);
    CHECK(leaning->correction);
}

TEST_CASE("deliberate preload: the length found adds the load asked for") {
    Job j = car_with_links();
    const double wanted = 120;
    const auto longer = longer_for_load(j.vehicle, j.trial, End::Front, wanted);
    REQUIRE(longer);
    j.trial.front.links.right_longer.value = *longer;
    CHECK(rest_state(j.vehicle, j.trial, End::Front)->change[0] == Approx(wanted).margin(0.5));
    CHECK_FALSE(longer_for_load(j.vehicle, j.trial, End::Front, 1e5)); // no link does that
}

TEST_CASE("the plan: springs, spacers and tyres raise the car differently, and each eye has its length") {
    Job j = car_with_links();
    j.trial.front.bar.eyes.push_back({{200 * mm}});
    StandData& stand = j.trial.front.stand;
    const double level = link_plan(front(j), j.vehicle.front, 0).level->length;
    CHECK(level == Approx(front(j).links.length.value).margin(0.1 * mm));
    stand.lift.value = 40 * mm;
    const LinkPlan springs = link_plan(front(j), j.vehicle.front, 0);
    stand.lift_by = LiftBy::Spacers;
    const LinkPlan spacers = link_plan(front(j), j.vehicle.front, 0);
    stand.lift_by = LiftBy::Tyres;
    const LinkPlan tyres = link_plan(front(j), j.vehicle.front, 0);
    const double ratio = j.vehicle.front.motion_ratio.value;
    CHECK(springs.level->length - level == Approx(ratio * 40 * mm).epsilon(0.02));
    CHECK(spacers.level->length == Approx(springs.level->length));
    CHECK(spacers.now->off_square > springs.now->off_square); // they let the wheel down further
    CHECK(spacers.level->off_square < spacers.now->off_square);
    CHECK(tyres.level->length == Approx(level));
    stand.lift_by = LiftBy::Springs;
    stand.lift.value = -30 * mm;
    CHECK(link_plan(front(j), j.vehicle.front, 0).level->length < level - 15 * mm);
    REQUIRE(springs.by_eye.size() == 2);
    REQUIRE((springs.by_eye[0] && springs.by_eye[1]));
    CHECK(*springs.by_eye[1] != Approx(*springs.by_eye[0]).margin(1 * mm)); // the pick-up stays, the eye comes nearer
    REQUIRE((springs.thread && springs.turned));
    CHECK(springs.turned->length - springs.now->length == Approx(2 * 1.5 * mm));
    CHECK(springs.turned->attitude > springs.now->attitude);
}

TEST_CASE("limits: a hose is named with its distance, the tally's margin is the tightest angle of both axles") {
    Job j = car_with_links();
    add_obstacle(j, End::Front);
    j.vehicle.front.linkage.obstacles[0].name = "brake hose";
    const auto sides = link_sides(front(j), j.vehicle.front);
    const LinkLimits limits = link_limits((*sides)[0], 0);
    bool told = false;
    for (const linkage::Margin& m : limits.distances) told = told || m.what == "link to brake hose";
    CHECK(told);
    const Assessment a = assess(j.vehicle, j.trial);
    const auto least = smallest_link_margin(j.trial, a);
    REQUIRE(least);
    CHECK(least->first.left == std::min(a.outcomes[FrontLinkMargin], a.outcomes[RearLinkMargin]));
    CHECK(limits.angles.front().left == Approx(a.outcomes[FrontLinkMargin]).margin(0.5 * deg));
    const Working w = working(j.vehicle, j.trial, a, Figure::LinkMargin, units::System::Metric);
    CHECK(w.result == units::text(least->first.left, units::Quantity::Angle, units::System::Metric, 0));
    Setup off = j.trial;
    off.front.connected = off.rear.fitted = false;
    const Assessment none = assess(j.vehicle, off);
    CHECK_FALSE(smallest_link_margin(off, none));
    CHECK(none.outcomes[FrontLinkMargin] == Approx(units::pi));
    CHECK(working(j.vehicle, off, none, Figure::LinkMargin, units::System::Metric).result == "no links on");
}

TEST_CASE("setting up goes in order, keeps each round, and tells turns that bring the sides together") {
    Job j = car_with_links();
    AxleSetup& a = j.trial.front;
    const AxleData& axle = j.vehicle.front;
    SetupChecks c;
    const auto look = [&](Step s) { return look_at(s, a, c, axle, units::System::Metric); };
    using State = StepFound::State;
    CHECK(next_step(a, c, axle) == Step::Limits);
    for (const Step s : all_steps) {
        CHECK(look(s).state == State::Todo);
        CHECK_FALSE(look(s).how.empty());
        CHECK(readings_of(s).empty() == (tick_of(s) != nullptr));
    }
    c.droop = a.dampers.droop_gap.value + 9 * mm;
    c.bump = axle.bump_gap.value;
    CHECK(look(Step::Limits).state == State::Attend);
    c.droop = a.dampers.droop_gap.value + 3 * mm;
    CHECK(look(Step::Limits).state == State::Good);
    c.table_gap = 5 * mm;
    CHECK(look(Step::Straight).next.find("Bent") != std::string::npos);
    c.table_gap = 1 * mm;
    c.left_stub = 120 * mm;
    c.right_stub = 110 * mm;
    CHECK(look(Step::Centred).next.find("5.0 mm to the right") != std::string::npos);
    c.right_stub = 119 * mm;
    c.joints_free = c.falls_free = true;
    // Level: an eye 20 mm low by a link 20 mm short of upright.
    c.mount_height = 300 * mm;
    c.eye_height = 280 * mm;
    CHECK(look(Step::Level).state == State::Attend);
    CHECK(look(Step::Level).next.find("longer, 6.") != std::string::npos); // 20 mm of 3 mm turns, along a tilting arm
    // With arms that run ahead of the mounts instead the turn goes the other way, and the same links are told.
    AxleSetup ahead = a;
    ahead.bar.points = points_of(a);
    ahead.bar.form = Form::Points;
    for (PointData& p : ahead.bar.points) p.x.value = -p.x.value;
    ahead.pickups.at.behind.value = -a.pickups.at.behind.value;
    ahead.pickups.forward.value = -a.pickups.forward.value;
    CHECK(look_at(Step::Level, ahead, c, axle, units::System::Metric).next == look(Step::Level).next);
    c.eye_height = 299 * mm;
    CHECK(look(Step::Level).state == State::Good);
    c.left_link = 200 * mm;
    c.right_link = 203 * mm;
    CHECK(look(Step::Equal).next == "Right link 3.0 mm shorter, 1.00 turns in.");
    c.right_link = 200.5 * mm;
    // A right link 1 mm too long, by the model's own readings, then by those after the turns told.
    const double per_wheel = link_per_wheel(a, axle);
    auto read = linkage::lift_readings(1.8 * mm, 0.6 * mm, per_wheel, true);
    c.rounds.push_back({read[0], read[1]});
    const StepFound first = look(Step::LeftRight);
    CHECK(first.state == State::Attend);
    CHECK(first.found.find("right link 1.8 mm long") != std::string::npos);
    CHECK(first.found.find("slack") == std::string::npos); // of a gauge whose zero nobody read
    CHECK(first.next.find("Left link 0.9 mm longer, 0.30 turns out, right link 0.9 mm shorter, 0.30 turns in") == 0);
    read = linkage::lift_readings(0.1 * mm, 0.6 * mm, per_wheel, true);
    c.rounds.push_back({read[0], read[1]});
    CHECK(look(Step::LeftRight).state == State::Good);
    CHECK(next_step(a, c, axle) == Step::Hang);
    // The same rounds as heights on a gauge: the difference alone is theirs, slack needs the gauge's zero.
    for (LiftRound& r : c.rounds) {
        r.left += 16 * mm;
        r.right += 16 * mm;
    }
    CHECK(look(Step::LeftRight).state == State::Good);
    c.lift_zero = 16 * mm;
    CHECK(look(Step::LeftRight).state == State::Good); // 0.6 mm is less than the bar winds up by
    CHECK(look(Step::LeftRight).found.find("slack and wind-up 0.6 mm") != std::string::npos);
    const double wound_up = 50 / solve(a).at_links(0, 0);
    c.lift_zero = 16 * mm - (2.2 * mm - 0.6 * mm + wound_up) / per_wheel;
    CHECK(look(Step::LeftRight).next.find("with 2.2 mm of slack") != std::string::npos);
    c.lift_zero = 16 * mm;
    c.per_wheel =
        0.5; // lifted at a point that rises half as far as the wheel: the same links are read at half the rise
    read = linkage::lift_readings(1.8 * mm, 0.6 * mm, per_wheel / c.per_wheel, true);
    c.rounds.push_back({read[0] + 16 * mm, read[1] + 16 * mm});
    CHECK(look(Step::LeftRight).found.find("right link 1.8 mm long") != std::string::npos);
    c.rounds.pop_back();
    c.per_wheel = 1;
    const auto sides = link_sides(a, axle);
    const double droop = a.dampers.droop_gap.value;
    const double bend = units::pi / 2 - linkage::at((*sides)[0].end, (*sides)[0].branch, {-droop, -droop})->off_square;
    c.hang_bend = bend + 2 * deg;
    CHECK(look(Step::Hang).state == State::Good);
    c.hang_bend = bend - 8 * deg;
    CHECK(look(Step::Hang).next.find("measure") != std::string::npos);
    c.hang_bend = 12 * deg;
    CHECK(look(Step::Hang).next.find("dead line") != std::string::npos);
    a.fitted = false;
    CHECK_THROWS_AS(look(Step::Limits), BadInput);
}

TEST_CASE("a car that cannot be leaves nothing behind in the ones after it") {
    const Job j = car_with_links();
    Cars cars;
    const double clean = cars.with(j.vehicle, j.trial).front.linkage->operator()({0.03, -0.03}).force[0];
    const double margin = cars.sums(End::Front).margin->left;
    for (const auto& spoil : std::vector<std::function<void(Job&)>>{
             [](Job& k) { k.vehicle.front.linkage.ball_joint = k.vehicle.front.linkage.arm_front; },
             [](Job& k) { k.trial.front.links.length.value = 0.001; }, [](Job& k) { k.vehicle.front.track.value = 0; },
             [](Job& k) { k.trial.front.bar.outer_diameter.value = 0; }}) {
        Job other = j;
        spoil(other);
        try {
            cars.with(other.vehicle, other.trial);
        } catch (const BadInput&) {
        }
        CHECK(cars.with(j.vehicle, j.trial).front.linkage->operator()({0.03, -0.03}).force[0] == clean);
        CHECK(cars.sums(End::Front).margin->left == margin);
    }
}

TEST_CASE("what is left out of the bands bears on no outcome") {
    Job j = car_with_links();
    add_obstacle(j, End::Front);
    j.trial.front.mounts.bore_friction.value = 0.2;
    const auto before = tally().ask({j.vehicle, j.trial});
    int left_out = 0;
    for (const FieldRef& f : fields(j)) {
        if (bears_on_outcomes(f.path) || f.path.starts_with("fitted")) continue;
        const double value = f.value->value;
        f.value->value = 1.07 * value + 1e-4;
        const auto after = tally().ask({j.vehicle, j.trial});
        INFO(f.path);
        CHECK(after == before);
        f.value->value = value;
        ++left_out;
    }
    CHECK(left_out > 20);
}

TEST_CASE("set-up verdicts go by the size of the car: what is a hair on a bus is much on a model") {
    const auto verdict = [](CarKind kind, say::Step step, const SetupChecks& checks) {
        const Job j = new_car({"car", kind, Driven::Rear, {}, {true, true}});
        return say::look_at(step, j.trial.front, checks, j.vehicle.front, units::System::Metric);
    };
    using State = say::StepFound::State;
    SetupChecks checks;
    checks.table_gap = 1.8 * mm;
    checks.rounds.push_back({16 * mm, 17.8 * mm});
    checks.lift_zero = 0;
    checks.left_link = 1;
    checks.right_link = 1.0009;
    for (const say::Step step : {say::Step::Straight, say::Step::Equal, say::Step::LeftRight}) {
        CAPTURE(static_cast<int>(step));
        CHECK(verdict(CarKind::Model, step, checks).state == State::Attend);
        if (step != say::Step::LeftRight) CHECK(verdict(CarKind::Family, step, checks).state == State::Good);
    }
    checks.table_gap = 0.2 * mm; // two tenths of what a car is held to
    CHECK(verdict(CarKind::Model, say::Step::Straight, checks).state == State::Good);
    checks.table_gap = 2.5 * mm;
    CHECK(verdict(CarKind::Family, say::Step::Straight, checks).state == State::Attend);
    CHECK(verdict(CarKind::Truck, say::Step::Straight, checks).state == State::Good);
    // The force that moves an arm is a small part of what stands on the axle.
    const auto words = verdict(CarKind::Model, say::Step::LeftRight, checks).found;
    CHECK(examples::number_in(words, "of it the bar's own about ") < 1);
}

TEST_CASE("what could hurt with a setup on the car is said, and nothing of a sound one") {
    Job j = new_car({"saloon", CarKind::Family});
    const auto said = [&](const char* words) {
        for (const std::string& line : cautions(j.vehicle, j.trial, units::System::Metric))
            if (line.find(words) != std::string::npos) return true;
        return false;
    };
    CHECK_FALSE(said("over centre"));
    CHECK_FALSE(said("touches"));
    CHECK_FALSE(said("tips"));
    const Job sound = j;
    j.trial.rear.dampers.droop_gap.value = 0.45;
    CHECK(said("Rear links go over centre at "));
    // By the linkage itself: there the link is in line with the arm.
    const auto sides = link_sides(j.trial.rear, j.vehicle.rear);
    const auto over = link_limits((*sides)[0], 0).over_centre[0];
    REQUIRE(over);
    CHECK(said((units::text(-*over, units::Quantity::Length, units::System::Metric, 0) + " of droop").c_str()));
    CHECK(linkage::at((*sides)[0].end, (*sides)[0].branch, {*over + 1 * mm, *over + 1 * mm}));
    CHECK_FALSE(linkage::at((*sides)[0].end, (*sides)[0].branch, {*over - 5 * mm, *over - 5 * mm}));
    j = sound;
    add_obstacle(j, End::Front);
    j.vehicle.front.linkage.obstacles[0].name = "tank";
    j.vehicle.front.linkage.obstacles[0].radius.value = 0.09;
    CHECK(said("Front: "));
    CHECK(said("tank"));
    j = sound;
    j.vehicle.cg_height.value = 1.3;
    CHECK(said("It tips over at "));
    // Steel that yields just within the travel between the stops, and just beyond it.
    j = sound;
    CHECK_FALSE(said("yields"));
    const double reach = (j.vehicle.front.bump_gap.value + j.trial.front.dampers.droop_gap.value) / 2,
                 yields = assess(j.vehicle, j.trial).outcomes[FrontYieldTravel];
    for (const double part : {0.98, 1.02}) {
        j.trial.front.bar.yield_strength.value = sound.trial.front.bar.yield_strength.value * part * reach / yields;
        CHECK(said("Front bar yields with one wheel ") == (part < 1));
    }
}

} // namespace tests::of_links
