#include "core/linkage/limits.h"
#include "linkage_ends.h"

#include <Eigen/Geometry>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_limits {
using namespace dervish;
using namespace dervish::linkage;
using namespace dervish::linkage::examples;

namespace {
Room plain_room() {
    Room r;
    r.bump = 80 * mm;
    r.droop = 90 * mm;
    return r;
}

Margin named(const std::vector<Margin>& all, const std::string& what) {
    for (const Margin& m : all)
        if (m.what == what) return m;
    FAIL("no margin is called " << what);
    return all.front();
}

/// Distance of a point to an obstacle's surface, straight from its shape.
double distance(const Vector3d& p, const Obstacle& o) {
    if (o.kind == Obstacle::Kind::Part) return (p - o.at).norm() - o.radius;
    if (o.kind == Obstacle::Kind::Tube) return std::hypot(p.x() - o.at.x(), p.z() - o.at.z()) - o.radius;
    const double inward = o.at.y() - p.y(), out = std::hypot(p.x() - o.at.x(), p.z() - o.at.z()) - o.radius;
    if (inward >= 0) return out <= 0 ? inward : std::hypot(inward, out);
    return std::max(inward, out);
}
} // namespace

TEST_CASE("gaps are the least distances that a fine search along link and bar finds") {
    std::mt19937 engine(7);
    const auto r = [&](double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine); };
    for (int i = 0; i < 60; ++i) {
        const BarEnd e = plain_end(r(0.12, 0.22));
        Room room = plain_room();
        room.link_radius = 6 * mm;
        room.bar_radius = 12 * mm;
        room.bar = {{0, 0, 0}, {0, 0.45, 0}, e.eye};
        room.ground = -0.45;
        for (const auto kind : {Obstacle::Kind::Part, Obstacle::Kind::Tube, Obstacle::Kind::Wheel})
            room.obstacles.push_back({"thing", kind, true, {r(-0.4, 0), r(0.45, 0.7), r(-0.25, 0.1)}, r(0.01, 0.3), 0});
        const Travel t{r(-0.08, 0.08), 0, 0};
        const auto now = at(e, *branch_at_rest(e), t);
        REQUIRE(now);
        const Eigen::AngleAxisd turn(now->turn, Vector3d::UnitY());
        std::size_t looked = 0;
        for (const Gap& g : gaps(e, *now, room, t)) {
            if (!g.obstacle) continue;
            std::vector<Vector3d> line{now->eye, now->pickup};
            if (g.of_bar) {
                line.clear();
                for (const Vector3d& p : room.bar) line.push_back(turn * p);
            }
            double least = 1e9;
            for (std::size_t s = 0; s + 1 < line.size(); ++s)
                for (int k = 0; k <= 4000; ++k)
                    least = std::min(least, distance(line[s] + k / 4000.0 * (line[s + 1] - line[s]), *g.obstacle));
            CHECK(g.distance == Approx(least - (g.of_bar ? 12 * mm : 6 * mm)).margin(0.1 * mm));
            ++looked;
        }
        CHECK(looked == 6);
    }
}

TEST_CASE("a joint whose limit is unknown is not told, and one that is known is") {
    BarEnd e = plain_end();
    const auto told = [&](const char* what) {
        const auto all = angle_margins(e, *branch_at_rest(e), plain_room(), 0);
        return std::any_of(all.begin(), all.end(), [&](const Margin& m) { return m.what == what; });
    };
    e.joints[0].limit = e.joints[1].limit = M_PI; // unknown
    CHECK_FALSE(told("joint at the eye"));
    CHECK_FALSE(told("joint at the pick-up"));
    e.joints[0].limit = 0.4;
    CHECK(told("joint at the eye"));
    CHECK_FALSE(told("joint at the pick-up"));
    e.joints[1].limit = 0.4;
    CHECK(told("joint at the pick-up"));
}

TEST_CASE("what the wheel carries rises with it, leans with a solid axle, and steers") {
    BarEnd e = plain_end();
    Room room = plain_room();
    room.obstacles = {{"tyre", Obstacle::Kind::Wheel, false, {-0.25, 0.56, -0.1}, 0.3, 0}};
    const Branch b = *branch_at_rest(e);
    const auto to_tyre = [&](const Travel& t) { return gaps(e, *at(e, b, t), room, t)[0].distance; };
    CHECK(to_tyre({}) == Approx(60 * mm));
    CHECK(to_tyre({0.05, 0.05, 0}) == Approx(60 * mm)); // the link leans in its own plane alone
    // Steered about a kingpin in the face, one edge of the tyre comes in: r sin δ at the edge, at the link x sin δ.
    room.kingpin = {Vector3d(-0.35, 0.56, 0), Vector3d(-0.35, 0.56, 1)};
    CHECK(to_tyre({0, 0, 30 * deg}) > 60 * mm);
    CHECK(to_tyre({0, 0, -30 * deg}) < 15 * mm);
    // On a solid axle the tyre's face leans in above and out below as its wheel rises alone.
    e.path = OnAxle{{-0.25, 0.5, -0.18}, {0, 0, -0.1}, 1.5};
    room.coupled = true;
    room.obstacles = {{"tube", Obstacle::Kind::Part, false, {-0.25, 0.6, -0.1}, 0.01, 0}};
    const Travel lean{0.05, -0.05, 0};
    const auto gap = gaps(e, *at(e, *branch_at_rest(e), lean), room, lean)[0];
    const double turn = std::asin(0.1 / 1.5);
    CHECK(gap.to.z() == Approx(-0.1 + 0.6 * std::sin(turn)).margin(11 * mm));
    // Bar and tube on the axle together keep their distance; what the body carries comes down on them in bump.
    std::get<OnAxle>(e.path).bar_on_axle = true;
    std::get<OnAxle>(e.path).pickup.z() = 0.18;
    room.obstacles.push_back({"floor", Obstacle::Kind::Part, true, {-0.25, 0.5, 0.3}, 0.01, 0});
    const Travel up{0.04, 0.04, 0};
    const auto both = gaps(e, *at(e, *branch_at_rest(e), up), room, up);
    CHECK(both[0].to.z() == Approx(-0.1).margin(11 * mm));
    CHECK(both[1].to.z() == Approx(0.26).margin(11 * mm));
}

TEST_CASE("the travels looked at stay within the stops and reach every corner of them") {
    Room room = plain_room();
    room.coupled = true;
    room.spread = 1.5;
    double highest = 0, lowest = 0, widest = 0;
    for (const Travel& t : travels(room, 9)) {
        const double mean = (t.own + t.other) / 2, spring = (t.own - t.other) / 2 / 1.5;
        CHECK(mean + std::abs(spring) < 80 * mm + 1e-12);
        CHECK(mean - std::abs(spring) > -90 * mm - 1e-12);
        highest = std::max(highest, mean);
        lowest = std::min(lowest, mean);
        widest = std::max(widest, std::abs(spring));
    }
    CHECK(highest == Approx(80 * mm));
    CHECK(lowest == Approx(-90 * mm));
    CHECK(widest == Approx(85 * mm)); // one side right in, the other right out
}

TEST_CASE("angle margins are the tightest of a dense search, and a dead line counts as past every stop") {
    const BarEnd e = front_ends()[0];
    const Branch b = *branch_at_rest(e);
    const Room room = plain_room();
    const Margin off = named(angle_margins(e, b, room, 0, 171), "link off square");
    double most = 0;
    for (int mm_down = -90; mm_down <= 80; ++mm_down) most = std::max(most, at(e, b, {mm_down * mm})->off_square);
    CHECK(off.value == Approx(most));
    CHECK(off.left == Approx(70 * deg - most));
    CHECK(named(angle_margins(e, b, room, 0), "link off square").value <= off.value + 1e-9); // fewer, no tighter
    CHECK(angle_margins(e, b, room, 1).front().end == 1);
    Room long_travel = room;
    long_travel.droop = 0.3; // beyond over centre
    CHECK(angle_margins(plain_end(), *branch_at_rest(plain_end()), long_travel, 0).front().left == Approx(-20 * deg));
}

TEST_CASE("a joint's tilt counts against its limit, and not where that is unknown") {
    BarEnd e = plain_end();
    std::get<Straight>(e.path).pickup = {-0.25, 0.53, -std::sqrt(0.18 * 0.18 - 0.03 * 0.03)}; // leans out
    const Branch b = *branch_at_rest(e);
    for (const Margin& m : angle_margins(e, b, plain_room(), 0)) CHECK(m.kind <= Margin::Kind::OffPickup);
    e.joints[0].limit = 12 * deg;
    const Margin joint = named(angle_margins(e, b, plain_room(), 0), "joint at the eye");
    CHECK(joint.value == Approx(std::asin(0.03 / 0.18)).epsilon(1e-6)); // the stud lies across, travel does not matter
    CHECK(joint.left == Approx(12 * deg - joint.value));
}

TEST_CASE("the first limit in droop is where the off-square angle says, and a longer link leaves more damper") {
    const BarEnd e = plain_end();
    const Room room = plain_room();
    const auto first = first_in_droop(e, *branch_at_rest(e), room);
    REQUIRE(first);
    CHECK(first->what == "link off square");
    const double down = room.droop + first->travel;
    CHECK(at(e, *branch_at_rest(e), {-down + 1e-4})->off_square < 70 * deg);
    CHECK(at(e, *branch_at_rest(e), {-down - 1e-4})->off_square > 70 * deg);
    BarEnd longer = e;
    longer.link = 200 * mm;
    CHECK(first_in_droop(longer, *branch_at_rest(longer), room)->travel > first->travel + 10 * mm);
    // A hose in the way comes first.
    Room hose = room;
    hose.obstacles = {{"brake hose", Obstacle::Kind::Part, true, {-0.25, 0.5, -0.24}, 0.01, 0.01}};
    CHECK(first_in_droop(e, *branch_at_rest(e), hose)->what == "link to brake hose");
    CHECK(first_in_droop(e, *branch_at_rest(e), hose)->travel == Approx(-90 * mm + 40 * mm).margin(1e-5));
}

TEST_CASE("a wheel is nearer while it is put on with the suspension hanging than at any travel it drives at") {
    const BarEnd e = plain_end();
    Room room = plain_room();
    room.bar = {{0, 0, 0}, {0, 0.5, 0}, e.eye};
    room.obstacles = {{"wide wheel", Obstacle::Kind::Wheel, false, {-0.25, 0.53, -0.1}, 0.11, 8 * mm}};
    const auto all = clearances(e, *branch_at_rest(e), room, 0);
    CHECK(named(all, "link to wide wheel").value == Approx(30 * mm).margin(0.1 * mm));
    const Margin hanging = named(all, "put on: link to wide wheel");
    CHECK(hanging.kind == Margin::Kind::Hanging);
    CHECK(hanging.at.own == Approx(-90 * mm));
    CHECK(hanging.left == Approx(hanging.value - 8 * mm));
    CHECK(named(all, "put on: bar to wide wheel").value <= named(all, "bar to wide wheel").value + 1e-9);
}

} // namespace tests::of_limits
