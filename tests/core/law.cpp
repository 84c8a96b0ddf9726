#include "core/linkage/law.h"

#include "core/num/bad_input.h"
#include "linkage_ends.h"

#include <Eigen/LU>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_law {
using namespace dervish;
using namespace dervish::linkage;
using namespace dervish::linkage::examples;
using Eigen::Matrix2d;
using Eigen::Vector2d;

TEST_CASE("the law's force and rate are the slopes of its energy") {
    std::mt19937 engine(5);
    std::uniform_real_distribution<double> at(-0.07, 0.07);
    for (int kind = 0; kind < 5; ++kind) {
        auto e = front_ends();
        Springs s = free_bar();
        if (kind == 1) s.play = {1 * mm, 1 * mm};
        if (kind == 2)
            for (BarEnd& end : e)
                for (Joint& j : end.joints) j = {Stud::Lengthways, 4 * deg};
        if (kind == 3) e[1].link += 5 * mm;
        if (kind == 4) {
            s.bar(0, 0) += 4000; // bonded bushes
            for (BarEnd& end : e) end.path = OnAxle{{-0.24, end.eye.y(), -0.18}, {0, 0, 0.05}, 1.5};
            for (BarEnd& end : e) end.joints[1].limit = 5 * deg;
        }
        const Law law(e, s);
        for (int i = 0; i < 20; ++i) {
            const Vector2d travel(at(engine), at(engine));
            const Answer now = law(travel);
            for (int w = 0; w < 2; ++w) {
                const double h = 1e-6;
                const Answer up = law(travel + h * Vector2d::Unit(w)), down = law(travel - h * Vector2d::Unit(w));
                CHECK((up.energy - down.energy) / (2 * h) == Approx(now.force[w]).epsilon(1e-5).margin(0.01));
                CHECK(((up.force - down.force) / (2 * h) - now.rate.col(w)).norm() < 1e-4 * (1000 + now.rate.norm()));
            }
        }
    }
}

TEST_CASE("at small travel the law is the bar in series with its links, geared by the motion ratio") {
    const auto e = front_ends();
    const Law law(e, free_bar());
    const Answer rest = law({0, 0});
    CHECK(rest.force.norm() < 1e-6);
    const auto left = at(e[0], law.branch(0), {});
    // Opposite eyes: each side's bar rate is k in 2 k x², at its half of the bar, square to the link.
    const double cosine = std::cos(left->off_square), k = 60e3 / (cosine * cosine);
    const double in_series = 1 / (1 / k + 1 / 2e6), geared = in_series * left->motion_ratio * left->motion_ratio;
    const double roll = (rest.rate(0, 0) - 2 * rest.rate(0, 1) + rest.rate(1, 1)) / 2;
    CHECK(roll == Approx(geared).epsilon(1e-6));
    CHECK(rest.rate.sum() == Approx(0).margin(1e-3 * roll)); // a free bar takes no heave
}

TEST_CASE("work at the wheels is the energy stored, through over centre and into the jam") {
    auto e = front_ends();
    for (BarEnd& end : e) end.path = Straight{{-0.25, end.eye.y(), -0.18}, {0, 0, 0.7}};
    for (BarEnd& end : e) end.link = 0.18 + 1e-9;
    const Law law(e, free_bar());
    double work = 0;
    const int steps = 4000;
    const Vector2d far(-0.28, 0.1);
    REQUIRE(over_centre(e[0], Mode::OneWheel, far[0])); // 0.196 m of droop past level arms
    for (int i = 0; i < steps; ++i) work += law(far * ((i + 0.5) / steps)).force.dot(far) / steps;
    CHECK(work == Approx(law(far).energy).epsilon(1e-3));
    CHECK(law(far).link[0] > 20e3); // jammed: the link is stretched
    CHECK(law({-0.15, 0.1}).link[0] < 10e3);
}

TEST_CASE("slack gives no force until it is taken up, and takes up its length once") {
    const auto e = front_ends();
    Springs s = free_bar();
    const Law tight(e, s);
    s.play = {2 * mm, 2 * mm};
    const Law loose(e, s);
    const double ratio = at(e[0], tight.branch(0), {})->motion_ratio;
    CHECK(loose({0.9 * mm / ratio, -0.9 * mm / ratio}).force.norm() < 1e-6);
    CHECK(loose({1.1 * mm / ratio, -1.1 * mm / ratio}).force[0] > 0);
    const Answer late = loose({0.03, -0.03}), early = tight({0.03 - mm / ratio, -0.03 + mm / ratio});
    CHECK(late.force[0] == Approx(early.force[0]).epsilon(0.02));
}

TEST_CASE("a joint at its stop holds the wheel") {
    auto e = front_ends();
    for (BarEnd& end : e) { // upright at ride height, so that it leans both ways
        end.eye.y() = std::get<Arm>(end.path).pickup.y();
        end.link = (end.eye - std::get<Arm>(end.path).pickup).norm();
    }
    const Law freely(e, free_bar());
    for (BarEnd& end : e) end.joints[0] = {Stud::Sideways, 2 * deg};
    const Law bound(e, free_bar());
    const auto leans = [&](double s) { return joint_angles(e[0], *at(e[0], bound.branch(0), {s, 0}), {s, 0})[0]; };
    CHECK(leans(-0.01) < 2 * deg);
    CHECK(leans(-0.1) > 2 * deg);
    CHECK(bound({-0.01, -0.01}).force.norm() < 1e-3);
    const Answer held = bound({-0.1, -0.1});
    CHECK(held.bound[0] > 100);
    CHECK(held.force[0] < freely({-0.1, -0.1}).force[0] - 100); // holds the wheel from drooping on
}

TEST_CASE("unequal links load both at rest, and the length that is told takes it out") {
    auto e = front_ends();
    e[1].link += 4 * mm;
    const Answer rest = Law(e, free_bar())({0, 0});
    CHECK(rest.link[0] > 50);
    CHECK(rest.link[1] < -50);
    e[0].link += 2 * mm;
    e[1].link -= 2 * mm; // shared
    CHECK(std::abs(Law(e, free_bar())({0, 0}).link[0]) < 0.5);
}

TEST_CASE("a link that cannot reach is told with the length that would") {
    auto e = front_ends();
    const double good = e[1].link;
    const Vector3d to = std::get<Arm>(e[1].path).pickup;
    const double reach = std::hypot(std::hypot(to.x(), to.z()) - 0.25, to.y() - e[1].eye.y());
    e[1].link = reach - 5 * mm;
    std::string problem, accepted;
    try {
        Law(e, free_bar());
    } catch (const BadInput& b) {
        problem = b.problem();
        accepted = b.accepted();
        CHECK(b.where() == "links/length");
    }
    CHECK(problem.find("right link is too short") != std::string::npos);
    CHECK(accepted.find(units::trimmed(reach / mm, 1)) != std::string::npos);
    e[1].link = good;
    CHECK_NOTHROW(Law(e, free_bar()));
}

} // namespace tests::of_law
