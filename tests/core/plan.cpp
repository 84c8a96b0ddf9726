#include "core/linkage/plan.h"
#include "core/linkage/limits.h"
#include "linkage_ends.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_plan {
using namespace dervish;
using namespace dervish::linkage;
using namespace dervish::linkage::examples;

TEST_CASE("the level length levels the bar, at ride height and after a lift or a drop") {
    BarEnd e = front_ends()[0];
    e.link += 14 * mm;
    const double level = *level_length(e);
    const auto there = with_length(e, level, {0, 0.08});
    REQUIRE(there);
    CHECK(there->attitude == Approx(0).margin(1e-9));
    CHECK(with_length(e, e.link, {0, 0.08})->attitude > 2 * deg);
    // A lift lets the wheels down, so its link is longer by about the pick-up's share; a drop's is shorter.
    const double lifted = *level_length(e, -40 * mm), lowered = *level_length(e, 30 * mm);
    const double ratio = at(e, *branch_at_rest(e), {}, -1)->motion_ratio;
    CHECK(lifted - level == Approx(std::abs(ratio) * 40 * mm).epsilon(0.1));
    CHECK(level - lowered == Approx(std::abs(ratio) * 30 * mm).epsilon(0.1));
}

TEST_CASE("a lift with the old links loses its droop margin and a longer link restores it") {
    const BarEnd e = plain_end(150 * mm);
    const double before = with_length(e, e.link, {0, 90 * mm})->off_square;
    // 50 mm of springs and longer dampers: as far down from the new ride height as before.
    const auto old_links = with_length(e, e.link, {0, 140 * mm});
    const auto new_links = with_length(e, *level_length(e, -50 * mm), {-50 * mm, 140 * mm});
    REQUIRE((old_links && new_links));
    CHECK(old_links->off_square > before + 10 * deg);
    CHECK(new_links->off_square == Approx(before).margin(3 * deg));
    CHECK(new_links->attitude == Approx(0).margin(1e-9));
    CHECK(old_links->attitude == Approx(0).margin(1e-9)); // told at the old ride height
    CHECK(*level_length(e, -50 * mm) == Approx(200 * mm));
}

TEST_CASE("a short link jams at full droop and is told as over centre") {
    const BarEnd e = plain_end(60 * mm);
    const auto jams = with_length(e, e.link, {0, 140 * mm}); // stretched out at √(310² − 250²) − 60 = 123 mm
    REQUIRE(jams);
    CHECK(jams->off_square == Approx(units::pi / 2));
    CHECK(with_length(e, e.link, {0, 120 * mm})->off_square < units::pi / 2);
    CHECK_FALSE(with_length(e, 1000 * mm, {0, 0.1})); // no such link
}

TEST_CASE("an inner eye asks for another length") {
    BarEnd outer = front_ends()[0], inner = outer;
    inner.eye.x() = -0.21;
    outer.eye.z() = inner.eye.z() = -0.01;
    CHECK(std::abs(*level_length(inner) - *level_length(outer)) > 1 * mm);
}

TEST_CASE("the length for a droop margin just keeps it, as near to level as can be") {
    const BarEnd e = plain_end(100 * mm);
    const double droop = 150 * mm, wanted = 55 * deg;
    CHECK(with_length(e, *level_length(e), {0, droop})->off_square > wanted);
    const auto kept = length_for_droop(e, {0, droop}, wanted);
    REQUIRE(kept);
    CHECK(kept->off_square == Approx(wanted).margin(0.02 * deg));
    CHECK(kept->attitude > 3 * deg); // tips up
    CHECK(with_length(e, kept->length - 0.1 * mm, {0, droop})->off_square > wanted);
    CHECK(length_for_droop(plain_end(300 * mm), {0, droop}, wanted)->attitude == Approx(0).margin(1e-9)); // level does
    CHECK_FALSE(length_for_droop(e, {0, 400 * mm}, 5 * deg));
}

TEST_CASE("turns of a thread: opposite threads add, and enough of it stays in") {
    const Thread buckle{true, 1.5 * mm, 12 * mm, 26 * mm, 180 * mm, 150 * mm};
    CHECK(buckle.turns_to(186 * mm) == Approx(2));
    CHECK(buckle.longest() == Approx(180 * mm + 2 * (26 - 18) * mm));
    CHECK(buckle.reaches(196 * mm - 1e-9));
    CHECK_FALSE(buckle.reaches(197 * mm));
    CHECK_FALSE(buckle.reaches(149 * mm));
    const Thread one_end{false, 1.5 * mm, 12 * mm, 26 * mm, 180 * mm, 150 * mm};
    CHECK(one_end.turns_to(186 * mm) == Approx(4));
    CHECK(one_end.longest() == Approx(188 * mm));
}

TEST_CASE("the mounts' offset that brings the link upright does") {
    BarEnd e = front_ends()[1];
    const Shift shift = mounts_for_upright(e);
    const Vector3d by(shift.forward, -shift.outward, 0); // the right side's outward
    for (Vector3d& m : e.mounts) m += by;
    e.eye += by;
    e.link = *level_length(e);
    const auto rest = at(e, *branch_at_rest(e), {});
    const Vector3d lean = rest->eye - rest->pickup;
    CHECK(std::hypot(lean.x(), lean.y()) < 1e-9);
}

TEST_CASE("the lift check's readings are where the other arm starts to move, and its turns take the twist out") {
    // A stiff bar with play in its links: the reading is the lift at which force first reaches the other wheel.
    const double play = 1.2 * mm;
    for (const double longer : {1 * mm, -0.4 * mm, 0.0}) {
        auto ends = front_ends();
        const double ratio = std::abs(at(ends[0], *branch_at_rest(ends[0]), {}, 0)->motion_ratio);
        ends[1].link += longer;
        Springs s = free_bar();
        s.bar *= 100;
        s.play = {play, play};
        const Law law(ends, s);
        const auto starts = [&](int lifted) {
            for (double up = -5 * mm; up < 10 * mm; up += 0.01 * mm) {
                Eigen::Vector2d travel(0, 0);
                travel[lifted] = up;
                if (law(travel).force[1 - lifted] < -1) return up;
            }
            return 1.0;
        };
        const double left = starts(0), right = starts(1);
        const LiftFound found = lift_found(left, right, ratio, true);
        CHECK(found.right_longer == Approx(longer).margin(0.05 * mm));
        CHECK(found.slack == Approx(play).margin(0.05 * mm));
        CHECK(lift_readings(longer, play, ratio, true)[0] == Approx(left).margin(0.1 * mm));
        if (longer == 0) continue;
        const Thread buckle{true, 1.5 * mm, 12 * mm, 30 * mm, ends[0].link, 0.15};
        CHECK(buckle.turns_to(ends[0].link + found.left_change) == Approx(longer / 2 / (3 * mm)).margin(0.02));
        ends[0].link += found.left_change;
        ends[1].link -= found.left_change;
        auto unlike = front_ends();
        unlike[1].link += longer;
        CHECK(std::abs(Law(ends, free_bar())({0, 0}).link[0]) <
              0.06 * std::abs(Law(unlike, free_bar())({0, 0}).link[0]));
    }
}

} // namespace tests::of_plan
