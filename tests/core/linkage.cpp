#include "core/linkage/linkage.h"
#include "core/linkage/circle.h"

#include <Eigen/Geometry>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_linkage {
using namespace dervish::linkage;

namespace {
constexpr double mm = 1e-3;

struct Random {
    std::mt19937 engine{4711};
    double operator()(double low, double high) { return std::uniform_real_distribution<double>(low, high)(engine); }
    Vector3d near(const Vector3d& at, double by) {
        Random& r = *this;
        return at + Vector3d(r(-by, by), r(-by, by), r(-by, by));
    }
};

/// A left end as it stands on a car: bar ahead of the axle, arms trailing, links down to the control arm.
BarEnd left_end(Random& r) {
    BarEnd e;
    e.mounts = {r.near({0.25, 0.35, 0.35}, 0.01), r.near({0.25, -0.35, 0.35}, 0.01)};
    e.eye = r.near({0.0, 0.5, 0.36}, 0.02);
    const Vector3d pickup = r.near({0.0, 0.52, 0.18}, 0.02);
    e.path =
        Arm{{r.near({0.15, 0.3, 0.2}, 0.02), r.near({-0.2, 0.3, 0.21}, 0.02)}, pickup, r.near({0, 0.7, 0.17}, 0.02)};
    e.link = (e.eye - pickup).norm();
    return e;
}
} // namespace

TEST_CASE("in the plane the linkage is the four-bar of Freudenstein's equation") {
    Random r;
    int compared = 0;
    for (int i = 0; i < 200; ++i) {
        // Both axes along y. Bar's axis at the origin, arm's axis at (g, 0, 0).
        const double ground = r(0.2, 0.4), input = r(0.1, 0.3), output = r(0.1, 0.3);
        const double phi0 = r(1.2, 1.9), psi0 = r(1.2, 1.9); // from +x towards -z (turn about +y)
        const auto around = [](double x, double radius, double angle) {
            return Vector3d(x + radius * std::cos(angle), 0, -radius * std::sin(angle));
        };
        BarEnd e;
        e.mounts = {Vector3d(0, -1, 0), Vector3d(0, 1, 0)};
        e.eye = around(0, output, psi0);
        const Vector3d pickup = around(ground, input, phi0);
        e.link = (e.eye - pickup).norm();
        e.path = Arm{{Vector3d(ground, -1, 0), Vector3d(ground, 1, 0)}, pickup, pickup};
        const auto branch = branch_at_rest(e);
        REQUIRE(branch);
        for (const double travel : {-0.03, -0.01, 0.02, 0.04}) {
            const auto found = at(e, *branch, {travel, 0});
            if (!found) continue;
            // phi follows from the rise of the pick-up; psi by the half-angle form of the loop equation.
            const double sine = std::sin(phi0) - travel / input;
            if (std::abs(sine) > 0.999) continue;
            const double near = std::asin(sine), other = M_PI - near;
            const double phi = std::abs(near - phi0) < std::abs(other - phi0) ? near : other;
            const double k1 = ground / output, k2 = ground / input,
                         k3 = (ground * ground + output * output + input * input - e.link * e.link) /
                              (2 * input * output);
            // eye - pickup: cos(phi - psi) = k3 + k1 cos(phi)·... about this frame
            const double a = std::cos(phi) + k2, b = std::sin(phi), c = k3 + k1 * std::cos(phi);
            const double root = std::sqrt(a * a + b * b - c * c);
            const double first = 2 * std::atan2(b + root, a + c), second = 2 * std::atan2(b - root, a + c);
            const double psi = psi0 + found->turn;
            const double off = std::min(std::abs(std::remainder(first - psi, 2 * M_PI)),
                                        std::abs(std::remainder(second - psi, 2 * M_PI)));
            CHECK(off < 1e-9);
            ++compared;
        }
    }
    CHECK(compared > 400);
}

TEST_CASE("in space the closed form is where a numeric search finds the link's length") {
    Random r;
    for (int i = 0; i < 100; ++i) {
        const BarEnd e = left_end(r);
        const auto branch = branch_at_rest(e);
        REQUIRE(branch);
        const auto rest = at(e, *branch, {});
        REQUIRE(rest);
        CHECK(std::abs(rest->turn) < 1e-9); // as laid out
        const Vector3d axis = (e.mounts[1] - e.mounts[0]).normalized();
        double turn = 0;
        for (const double travel : {0.02, 0.04, 0.06}) {
            const auto found = at(e, *branch, {travel, 0});
            REQUIRE(found);
            const auto off = [&](double t) {
                const Vector3d eye = e.mounts[0] + Eigen::AngleAxisd(t, axis) * (e.eye - e.mounts[0]);
                return (eye - found->pickup).norm() - e.link;
            };
            // Walk the root along from the last one, by Newton with differences.
            for (int k = 0; k < 60; ++k) turn -= off(turn) / ((off(turn + 1e-6) - off(turn - 1e-6)) / 2e-6);
            CHECK(found->turn == Approx(turn).margin(1e-8));
            CHECK((found->eye - found->pickup).norm() == Approx(e.link).epsilon(1e-12));
        }
    }
}

TEST_CASE("rates of every path and of the arm are the slopes of their places") {
    Random r;
    const double h = 1e-6;
    const Path paths[] = {std::get<Arm>(left_end(r).path),
                          Straight{{0, 0.5, 0.2}, {0.1, -0.05, 0.8}},
                          OnAxle{{0, 0.45, 0.3}, {0, 0.02, 0.35}, 1.4},
                          OnAxle{{0, -0.45, 0.3}, {0, 0.02, 0.35}, 1.4},
                          OnAxle{{0.1, 0.45, 0.5}, {0, 0.02, 0.35}, 1.4, true},
                          Measured{{{-0.08, {0.01, 0.52, 0.11}},
                                    {-0.03, {0, 0.53, 0.155}},
                                    {0, {0, 0.53, 0.18}},
                                    {0.05, {-0.01, 0.52, 0.222}},
                                    {0.09, {-0.02, 0.5, 0.25}}}}};
    for (const Path& path : paths)
        for (const Mode mode : {Mode::Roll, Mode::Bump, Mode::OneWheel})
            for (const double travel : {-0.05, 0.013, 0.04}) {
                const double other = mode == Mode::Roll ? -1 : mode == Mode::Bump ? 1 : 0;
                const auto now = pickup(path, in_mode(mode, travel));
                const auto up = pickup(path, in_mode(mode, travel + h)), down = pickup(path, in_mode(mode, travel - h));
                REQUIRE((now && up && down));
                CHECK(((up->place - down->place) / (2 * h) - now->rate_with(other)).norm() < 1e-7);
                const Vector3d bend = now->bend[0] + 2 * other * now->bend[1] + other * other * now->bend[2];
                CHECK(((up->rate_with(other) - down->rate_with(other)) / (2 * h) - bend).norm() < 1e-6);
            }
    for (int i = 0; i < 20; ++i) {
        const BarEnd e = left_end(r);
        const Branch b = *branch_at_rest(e);
        const auto now = at(e, b, {0.02, -0.02}, -1), up = at(e, b, {0.02 + h, -0.02 - h}),
                   down = at(e, b, {0.02 - h, -0.02 + h});
        REQUIRE((now && up && down));
        CHECK(now->turn_rate == Approx((up->turn - down->turn) / (2 * h)).epsilon(1e-7));
        // The eye's travel along the link is the pick-up's: the link keeps its length.
        const Vector3d link = (now->eye - now->pickup).normalized();
        CHECK(link.dot(up->eye - down->eye) / (2 * h) == Approx(now->motion_ratio).epsilon(1e-7));
    }
}

TEST_CASE("wheels moved together lift a solid axle's pick-up straight, moved opposite they lean it") {
    const OnAxle left{{0, 0.45, 0.3}, {0, 0, 0.35}, 1.4}, right{{0, -0.45, 0.3}, {0, 0, 0.35}, 1.4};
    const auto together = pickup(left, in_mode(Mode::Bump, 0.05));
    CHECK((together->place - Vector3d(0, 0.45, 0.35)).norm() < 1e-12);
    const auto up = pickup(left, in_mode(Mode::Roll, 0.05)), down = pickup(right, in_mode(Mode::Roll, -0.05));
    CHECK(up->place.z() > 0.3);
    CHECK(down->place.z() < 0.3);
    CHECK(up->place.z() - down->place.z() == Approx(0.9 * 0.1 / 1.4)); // 0.9 m apart, leaning 0.1 in 1.4
    CHECK_FALSE(pickup(left, {1, -1}));                                // on end
}

TEST_CASE("a pick-up on an upright steers round its kingpin, upright or leaning") {
    const Vector3d pickup(0.03, 0.62, 0.2);
    const double steer = 0.4, x = 0.1, y = 0.06; // from a kingpin that stands upright
    const Straight upright{
        pickup, {0, 0, 0.9}, std::array<Vector3d, 2>{pickup - Vector3d(x, y, 0.1), pickup - Vector3d(x, y, -1)}};
    const Vector3d turned(x * std::cos(steer) - y * std::sin(steer), x * std::sin(steer) + y * std::cos(steer), 0);
    CHECK((dervish::linkage::pickup(upright, {0.02, 0, steer})->place -
           (pickup - Vector3d(x, y, 0) + turned + Vector3d(0, 0, 0.018)))
              .norm() < 1e-12);
    // Leaning, it keeps its height along the kingpin and its distance from it, turned by the angle in that plane.
    const std::array<Vector3d, 2> leaning{Vector3d(0, 0.55, 0.1), Vector3d(-0.02, 0.5, 0.6)};
    const Vector3d way = (leaning[1] - leaning[0]).normalized();
    const Vector3d now = dervish::linkage::pickup(Straight{pickup, {0, 0, 1}, leaning}, {0, 0, steer})->place;
    const Vector3d before = pickup - leaning[0], after = now - leaning[0];
    CHECK(after.dot(way) == Approx(before.dot(way)).margin(1e-12));
    const Vector3d flat = before - before.dot(way) * way, flat_now = after - after.dot(way) * way;
    CHECK(flat.cross(flat_now).dot(way) == Approx(flat.squaredNorm() * std::sin(steer)).epsilon(1e-9));
    CHECK(flat.dot(flat_now) == Approx(flat.squaredNorm() * std::cos(steer)).epsilon(1e-9));
}

TEST_CASE("over centre is found where geometry says, to a hundredth of a millimetre and better") {
    BarEnd e;
    e.mounts = {Vector3d(0, -1, 0), Vector3d(0, 1, 0)};
    e.eye = {-0.25, 0, 0};
    e.link = 0.18;
    e.path = Straight{{-0.25, 0, -0.18}, {0, 0, 1}};
    // Stretched out when the pick-up is r + l from the axis.
    const double droop = std::sqrt(0.43 * 0.43 - 0.25 * 0.25) - 0.18;
    const auto found = over_centre(e, Mode::OneWheel, -0.3);
    REQUIRE(found);
    CHECK(*found == Approx(-droop).margin(1e-8));
    CHECK_FALSE(over_centre(e, Mode::OneWheel, -droop + 1e-6));
    CHECK(over_centre(e, Mode::OneWheel, -droop - 1e-6));
    const Branch b = *branch_at_rest(e);
    CHECK(at(e, b, {-droop + 1e-7, 0})->off_square > 1.56); // on the dead line
    CHECK_FALSE(at(e, b, {-droop - 1e-6, 0}));
    CHECK(sweep(e, b, Mode::OneWheel, 0, -0.3, 61).size() == 1 + static_cast<std::size_t>(droop / 0.005));
    // A shorter link is over centre sooner.
    BarEnd shorter = e;
    shorter.link = 0.15;
    shorter.path = Straight{{-0.25, 0, -0.15}, {0, 0, 1}};
    CHECK(*over_centre(shorter, Mode::OneWheel, -0.3) > *found - 0.05);
    CHECK(-*over_centre(shorter, Mode::OneWheel, -0.3) ==
          Approx(std::sqrt(0.4 * 0.4 - 0.25 * 0.25) - 0.15).margin(1e-8));
}

TEST_CASE("branches that only touch between two steps are not stepped over") {
    BarEnd e;
    e.mounts = {Vector3d(0, -1, 0), Vector3d(0, 1, 0)};
    e.eye = {-0.3, 0, 0};
    e.link = 0.1;
    // The pick-up passes the axis at 0.2 m less a hair, where the link lies along the arm: r - l.
    const double hair = 1e-7, aside = 0.2 - hair, at_dip = 0.0372;
    e.path = Straight{{-aside, 0, -at_dip}, {0, 0, 1}};
    const double half = std::sqrt(0.2 * 0.2 - aside * aside);
    const auto found = over_centre(e, Mode::OneWheel, 0.1);
    REQUIRE(found);
    CHECK(*found == Approx(at_dip - half).margin(1e-6));
    e.path = Straight{{-0.2 - hair, 0, -at_dip}, {0, 0, 1}};
    CHECK_FALSE(over_centre(e, Mode::OneWheel, 0.1));
}

TEST_CASE("the length for an attitude gives that attitude, and none is given beyond the path") {
    Random r;
    for (int i = 0; i < 20; ++i) {
        BarEnd e = left_end(r);
        const double turn = r(-0.2, 0.2), travel = r(-0.03, 0.03);
        e.link = *length_for(e, turn, {travel, 0});
        const auto first = at(e, Branch::First, {travel, 0}), second = at(e, Branch::Second, {travel, 0});
        REQUIRE((first && second));
        CHECK(std::min(std::abs(first->turn - turn), std::abs(second->turn - turn)) < 1e-9);
    }
    BarEnd e = left_end(r);
    e.path = Measured{{{-0.05, {0, 0.5, 0.1}}, {0.05, {0, 0.5, 0.2}}}};
    CHECK_FALSE(length_for(e, 0, {0.06, 0}));
    CHECK(*over_centre(e, Mode::OneWheel, 0.08) <= 0.05 + 1 * mm);
}

TEST_CASE("measured points: between two of them the cubic through both with the slopes over their neighbours") {
    // At uneven steps, so that each end's slope is another; the cubic's four numbers from four equations.
    const Measured m{{{-0.09, {0.02, 0.51, 0.05}},
                      {-0.04, {0.01, 0.52, 0.11}},
                      {0.01, {0.00, 0.50, 0.15}},
                      {0.03, {-0.01, 0.51, 0.18}},
                      {0.10, {0.00, 0.49, 0.22}}}};
    const auto& p = m.points;
    const auto slope = [&](std::size_t k) -> Vector3d {
        const std::size_t a = k == 0 ? 0 : k - 1, b = k + 1 == p.size() ? k : k + 1;
        return (p[b].pickup - p[a].pickup) / (p[b].travel - p[a].travel);
    };
    for (std::size_t i = 0; i + 1 < p.size(); ++i) {
        const double from = p[i].travel, to = p[i + 1].travel;
        Eigen::Matrix4d of;
        of << 1, from, from * from, std::pow(from, 3), 1, to, to * to, std::pow(to, 3), 0, 1, 2 * from, 3 * from * from,
            0, 1, 2 * to, 3 * to * to;
        Eigen::Matrix<double, 4, 3> is;
        is << p[i].pickup.transpose(), p[i + 1].pickup.transpose(), slope(i).transpose(), slope(i + 1).transpose();
        const Eigen::Matrix<double, 4, 3> c = of.fullPivLu().solve(is);
        for (const double part : {0.2, 0.5, 0.9}) {
            const double x = from + part * (to - from);
            const auto found = pickup(m, {x, 0});
            REQUIRE(found);
            const Vector3d place = Eigen::RowVector4d(1, x, x * x, x * x * x) * c,
                           rate = Eigen::RowVector4d(0, 1, 2 * x, 3 * x * x) * c;
            CHECK((found->place - place).norm() < 1e-12);
            CHECK((found->rate[0] - rate).norm() < 1e-9);
        }
    }
}

TEST_CASE("a stud on what carries the pick-up turns as its places say: first and second slopes by both wheels") {
    Random r;
    const double h = 1e-4;
    const Vector3d way = Vector3d(0.3, 0.8, -0.5).normalized();
    const Path paths[] = {std::get<Arm>(left_end(r).path), OnAxle{{0, 0.45, 0.3}, {0, 0.02, 0.35}, 1.4},
                          OnAxle{{0, -0.45, 0.3}, {0, 0.02, 0.35}, 1.4},
                          OnAxle{{0.1, 0.45, 0.5}, {0, 0.02, 0.35}, 1.4, true}};
    for (const Path& path : paths) {
        const ReadyPath made = ready(path);
        const auto at = [&](double own, double other) {
            const Travel t{own, other};
            return carried(made, t, *follow(made, t), way);
        };
        for (const double own : {-0.04, 0.02, 0.06})
            for (const double other : {-0.03, 0.05}) {
                const Carried now = at(own, other), up = at(own + h, other), down = at(own - h, other),
                              more = at(own, other + h), less = at(own, other - h);
                CHECK(now.way.norm() == Approx(1));
                CHECK(((up.way - down.way) / (2 * h) - now.rate[0]).norm() < 1e-6);
                CHECK(((more.way - less.way) / (2 * h) - now.rate[1]).norm() < 1e-6);
                CHECK(((up.rate[0] - down.rate[0]) / (2 * h) - now.bend[0]).norm() < 1e-5);
                CHECK(((more.rate[0] - less.rate[0]) / (2 * h) - now.bend[1]).norm() < 1e-5);
                CHECK(((more.rate[1] - less.rate[1]) / (2 * h) - now.bend[2]).norm() < 1e-5);
            }
    }
}

TEST_CASE("beyond the end of its path a pick-up goes straight on from where the path ends") {
    Random r;
    for (int i = 0; i < 10; ++i) {
        const Path path = left_end(r).path;
        const ReadyPath made = ready(path);
        for (const double way : {1.0, -1.0}) {
            double end = 0; // the last travel that the path has
            for (double step = 1; step > 1e-5;)
                if (follow(made, {end + way * step, 0}))
                    end += way * step;
                else
                    step /= 2;
            bool reached = true;
            const Pickup first = follow_on(made, {end + way * 0.01, 0}, reached);
            CHECK_FALSE(reached);
            const Pickup next = follow_on(made, {end + way * 0.02, 0}, reached),
                         far = follow_on(made, {end + way * 0.04, 0}, reached);
            CHECK(((far.place - next.place) - 2 * (next.place - first.place)).norm() < 1e-9);
            CHECK((next.place - first.place - way * 0.01 * first.rate[0]).norm() < 1e-9);
            // The straight line touches the path close to that end.
            double nearest = 1e9;
            for (double back = 0; back < 2e-3; back += 2e-6) {
                const double t = end - way * back;
                const Vector3d line = first.place + (t - (end + way * 0.01)) * first.rate[0];
                nearest = std::min(nearest, (follow(made, {t, 0})->place - line).norm());
            }
            CHECK(nearest < 1e-4);
        }
    }
}

} // namespace tests::of_linkage
