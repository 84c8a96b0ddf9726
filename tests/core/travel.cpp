#include "core/bar/travel.h"
#include "core/model/model.h"

#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_travel {
using namespace dervish;
using namespace dervish::bar;
using Eigen::Vector2d;
using Eigen::Vector3d;
using examples::bar_of, examples::mm, examples::plain_u, examples::rubber;

namespace {
/// Links of `length` straight down from both eyes.
Pull upright(const Bar& b, double length, double rate = 3e6) {
    Pull pull;
    for (std::size_t e = 0; e < 2; ++e)
        pull.rods[e] = Rod{upward(b.line.points[b.eyes[e]] - Vector3d(0, 0, length)), length, rate};
    return pull;
}

Vector3d& pickup_of(Rod& rod) { return std::get<linkage::Straight>(rod.path).pickup; }

struct Rig {
    Solution solution;
    Mesh mesh_;
    explicit Rig(const Bar& b, double longest = 0.1) : solution(solve(b, longest)), mesh_(mesh(solution)) {}
};

double energy_at(const Rig& rig, const Pull& pull, const Vector2d& travel) {
    return reach(rig.mesh_, pull, travel).energy;
}
} // namespace

TEST_CASE("small travel is the linear bar, for random bars with bends, kinks and tubes") {
    examples::Random r;
    for (int i = 0; i < 30; ++i) {
        Bar b = bar_of(r.shape(), r.mount(), static_cast<std::size_t>(i % 3), 0);
        b.links[0].body = b.links[1].body = 2e6;
        const Rig rig(b);
        const Vector2d travel(r(-1, 1) * 1e-4, r(-1, 1) * 1e-4);
        const Posture at = settle(rig.mesh_, upright(b, 0.5, 2e6), travel);
        REQUIRE(at.converged);
        const Vector2d expected = rig.solution.at_links * travel; // pushing the eye up is compression: negative
        const double scale = rig.solution.at_links.norm() * 1e-4;
        CHECK(std::abs(at.link_force[0] + expected[0]) < 2e-3 * scale);
        CHECK(std::abs(at.link_force[1] + expected[1]) < 2e-3 * scale);
        CHECK(at.energy == Approx(travel.dot(expected) / 2).epsilon(5e-3).margin(1e-9));
    }
}

TEST_CASE("the links' forces are the slope of the energy over their travel") {
    examples::Random r;
    for (int i = 0; i < 12; ++i) {
        const Bar b = bar_of(r.shape(), r.mount());
        const Rig rig(b);
        Pull pull = upright(b, 0.18);
        pickup_of(*pull.rods[0]).y() += 0.02; // leaning links
        pickup_of(*pull.rods[1]).x() -= 0.03;
        for (auto& rod : pull.rods) {
            const auto e = static_cast<std::size_t>(&rod - pull.rods.data());
            rod->length = (b.line.points[b.eyes[e]] - pickup_of(*rod)).norm();
        }
        const Vector2d travel(r(-0.05, 0.05), r(-0.05, 0.05));
        const Posture at = reach(rig.mesh_, pull, travel);
        REQUIRE(at.converged);
        const double h = 1e-5;
        for (int e = 0; e < 2; ++e) {
            const Vector2d d = h * Vector2d::Unit(e);
            const double slope = (energy_at(rig, pull, travel + d) - energy_at(rig, pull, travel - d)) / (2 * h);
            const Vector3d along = at.place[rig.mesh_.eyes[static_cast<std::size_t>(e)]] -
                                   pickup_of(*pull.rods[static_cast<std::size_t>(e)]) - Vector3d(0, 0, travel[e]);
            const double vertical = -at.link_force[static_cast<std::size_t>(e)] * along.normalized().z();
            CHECK(slope == Approx(vertical).epsilon(2e-4).margin(0.05));
        }
    }
}

TEST_CASE("mirrored travel gives mirrored forces") {
    const Bar b = bar_of(plain_u(), rubber());
    const Rig rig(b);
    for (const Vector2d& travel : {Vector2d(-0.05, 0.05), Vector2d(0, 0.06), Vector2d(0.02, 0.04)}) {
        const Posture one = reach(rig.mesh_, upright(b, 0.2), travel),
                      other = reach(rig.mesh_, upright(b, 0.2), travel.reverse());
        CHECK(one.link_force[0] == Approx(other.link_force[1]).epsilon(1e-6));
        CHECK(one.link_force[1] == Approx(other.link_force[0]).epsilon(1e-6));
    }
}

TEST_CASE("both sides moved alike, a sliding bar only turns, a bonded one is wound up") {
    const Bar b = bar_of(plain_u(), rubber());
    const Posture free = reach(Rig(b).mesh_, upright(b, 0.3), {0.06, 0.06});
    REQUIRE(free.converged);
    CHECK(std::abs(free.link_force[0]) < 1e-3);
    Mount bonded = rubber();
    bonded.torsional = 60;
    const Bar wound = bar_of(plain_u(), bonded);
    const Rig rig(wound);
    const Posture at = reach(rig.mesh_, upright(wound, 0.3), {0.06, 0.06});
    REQUIRE(at.converged);
    const double turn = 0.06 / 0.25; // about; two mounts share it
    CHECK(-at.link_force[0] * 0.25 == Approx(60 * turn).epsilon(0.1));
}

TEST_CASE("finer elements change nothing that matters, nor does the way there") {
    examples::Random r;
    for (int i = 0; i < 6; ++i) {
        const Bar b = bar_of(r.shape(), r.mount());
        const Pull pull = upright(b, 0.2);
        const Vector2d travel(-0.06, 0.06);
        const Rig coarse(b, 0.12), fine(b, 0.02);
        const Posture a = reach(coarse.mesh_, pull, travel), c = reach(fine.mesh_, pull, travel);
        REQUIRE(a.converged);
        REQUIRE(c.converged);
        for (std::size_t e = 0; e < 2; ++e) CHECK(a.link_force[e] == Approx(c.link_force[e]).epsilon(1e-3));
        const auto points = sweep(coarse.mesh_, pull, travel, 20);
        REQUIRE(points.size() == 21);
        CHECK(points.back().force[0] == Approx(a.link_force[0]).epsilon(1e-7));
    }
}

TEST_CASE("a bar twice as large carries four times the force at twice the travel") {
    const Bar b = bar_of(plain_u(), rubber());
    Bar big = b;
    for (Vector3d& p : big.line.points) p *= 2;
    for (Section& s : big.line.sections) s = Round{48 * mm};
    for (Mount& m : big.mounts) m = {m.point, 2 * m.vertical, 2 * m.fore_aft, 2 * m.axial, 0, 2 * m.bracket};
    const Posture one = reach(Rig(b).mesh_, upright(b, 0.2), {-0.05, 0.05}),
                  two = reach(Rig(big, 0.2).mesh_, upright(big, 0.4, 6e6), {-0.1, 0.1});
    CHECK(two.link_force[0] == Approx(4 * one.link_force[0]).epsilon(1e-5));
}

TEST_CASE("a sweep starts at rest, tells the travel of the eye, the lean of the link and the worst stress") {
    const Bar b = bar_of(plain_u(), rubber());
    const Rig rig(b);
    const auto points = sweep(rig.mesh_, upright(b, 0.2), {-0.07, 0.07}, 14);
    REQUIRE(points.size() == 15);
    CHECK(points[0].force.norm() < 1e-6);
    CHECK(points[0].worst.von_mises < 1e3);
    for (std::size_t i = 1; i < points.size(); ++i) {
        CHECK(points[i].force[1] < points[i - 1].force[1]); // compression grows
        CHECK(points[i].worst.von_mises > points[i - 1].worst.von_mises);
        CHECK(points[i].eye_travel[1] < points[i].travel[1]); // the link gives
        CHECK(points[i].off_square >= points[i - 1].off_square - 1e-9);
    }
    Bar linked = b;
    for (Link& link : linked.links) link.body = 3e6;
    const double small = worst(stress(solve(linked, 0.1), {-0.005, 0.005})).von_mises;
    CHECK(points[1].worst.von_mises == Approx(small).epsilon(0.01));
    CHECK(points.back().off_square > 0.2); // some 16° of arm
}

TEST_CASE("a link asked beyond its reach ends the sweep, and what was walked stands") {
    const Bar b = bar_of(plain_u(), {0, 5e6, 5e6, 1e6});
    const Rig rig(b);
    const auto points = sweep(rig.mesh_, upright(b, 0.15, 5e7), {-1.2, 1.2}, 60);
    CHECK(points.size() > 5);
    CHECK(points.size() < 61);
    for (const TravelPoint& p : points) CHECK(p.force.allFinite());
}

TEST_CASE("a wire bar of a model and a heavy tube are walked through the same angles") {
    const auto furthest = [](double diameter, double wall, double size, double mount) {
        Shape s{.centre_length = size,
                .arm_length = {0.25 * size},
                .mount_spacing = 0.8 * size,
                .section = Round{diameter, wall},
                .arm_section = Round{diameter, wall}};
        const Bar b = bar_of(s, {0, mount, mount, mount});
        const Rig rig(b, 0.1 * size);
        const auto points = sweep(rig.mesh_, upright(b, 0.2 * size, mount), {-0.06 * size, 0.06 * size}, 20);
        return points.size();
    };
    CHECK(furthest(1.2 * mm, 0, 0.1, 2e5) == 21);
    CHECK(furthest(60 * mm, 6 * mm, 1.2, 5e7) == 21);
}

TEST_CASE("dead loads up and down lift as the small-travel rate says, then lean back") {
    const Bar b = bar_of(plain_u(), rubber());
    const Rig rig(b);
    Pull pull;
    pull.force = {Vector3d(0, 0, -1), Vector3d(0, 0, 1)};
    const double k = roll_rate(rig.solution.at_eyes);
    const Posture small = settle(rig.mesh_, pull, {0, 0}, 50);
    REQUIRE(small.converged);
    CHECK(small.place[rig.mesh_.eyes[1]].z() == Approx(50 / k).epsilon(1e-3));
    const Posture large = settle(rig.mesh_, pull, {0, 0}, 6000, &small);
    REQUIRE(large.converged);
    const Vector3d moved = large.place[rig.mesh_.eyes[1]] - rig.mesh_.nodes[rig.mesh_.eyes[1]];
    CHECK(moved.z() < 6000 / k);         // stiffens as the arm goes round
    CHECK(moved.x() > 0.05 * moved.z()); // and the eye comes towards the axis
}

TEST_CASE("through the true linkage, work at the wheels is the energy of the whole bar, and the rigid arms come near") {
    // The demo-like front: links to control arms, full roll.
    job::Job j = job::blank();
    job::AxleData& axle = j.vehicle.front;
    job::AxleSetup& a = j.trial.front;
    a.pickups.rule = job::PickupRule::Placed;
    const auto at = [](double behind, double out, double below) {
        return job::Spot{{behind * mm}, {out * mm}, {below * mm}};
    };
    a.pickups.at = at(235, 490, 190);
    a.links.length.value = 190 * mm;
    axle.linkage.path = job::PathKind::Arm;
    axle.linkage.arm_front = at(80, 250, 180);
    axle.linkage.arm_rear = at(420, 250, 175);
    axle.linkage.ball_joint = at(250, 620, 200);
    const Solution s = model::solve(a, axle, 0.12);
    const Mesh m = mesh(s);
    const linkage::Law law = model::to_law(a, axle, s);
    Pull pull = model::to_pull(a, axle, s.bar);
    for (std::size_t e = 0; e < 2; ++e) {
        pull.rods[e]->path = law.ends()[e].path;
        pull.rods[e]->length =
            (s.bar.line.points[s.bar.eyes[e]] - linkage::pickup(law.ends()[e].path, {})->place).norm();
    }
    const double far = 70 * mm;
    const int steps = 40;
    double work = 0;
    const auto force = [&](const Vector2d& travel, const Posture& at_travel, int wheel) {
        double sum = 0; // of virtual work in both links
        for (std::size_t e = 0; e < 2; ++e) {
            const int own = static_cast<int>(e);
            const auto to = linkage::pickup(pull.rods[e]->path, {travel[own], travel[1 - own]});
            const Vector3d n = (at_travel.place[m.eyes[e]] - to->place).normalized();
            sum -= at_travel.link_force[e] * n.dot(to->rate[own == wheel ? 0 : 1]);
        }
        return sum;
    };
    Posture now;
    for (int i = 0; i < steps; ++i) {
        const Vector2d travel = Vector2d(-far, far) * ((i + 0.5) / steps);
        now = reach(m, pull, travel);
        REQUIRE(now.converged);
        work += (force(travel, now, 1) - force(travel, now, 0)) * far / steps;
    }
    const double stored = reach(m, pull, {-far, far}).energy;
    CHECK(work == Approx(stored).epsilon(1e-3));
    const linkage::Answer stiff_arms = law({-far, far});
    CHECK(stiff_arms.energy == Approx(stored).epsilon(0.05));
    CHECK(std::abs(stiff_arms.energy / stored - 1) > 1e-4); // arms that bend are not rigid ones
    WARN("rigid arms over whole bar at 70 mm: energy "
         << stiff_arms.energy / stored << ", force "
         << stiff_arms.force[1] / force({-far, far}, reach(m, pull, {-far, far}), 1));
}

} // namespace tests::of_travel
