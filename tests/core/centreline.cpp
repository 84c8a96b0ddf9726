#include "core/bar/centreline.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_centreline {
using namespace dervish;
using namespace dervish::bar;
using Eigen::Vector3d;
using examples::mm;

namespace {
/// An L of two 300 mm legs, square to each other.
Centreline elbow(double radius) {
    return {{{0, 0, 0}, {0.3, 0, 0}, {0.3, 0.3, 0}}, {0, radius, 0}, {Round{20 * mm}, Round{20 * mm}}};
}

double length_of(const Path& path) {
    double sum = 0;
    for (const Stretch& s : path.stretches) sum += s.length;
    return sum;
}

std::string complaint(const Centreline& line) {
    try {
        cut(line);
    } catch (const BadInput& e) {
        return e.what();
    }
    return "none";
}
} // namespace

TEST_CASE("a cut path is one unbroken smooth line from the first point to the last") {
    examples::Random r;
    for (int i = 0; i < 40; ++i) {
        const Laid laid = lay(r.shape());
        for (const double longest : {1e9, 0.05, 0.007}) {
            const Path path = cut(laid.line, longest);
            CHECK((path.stretches.front().from - laid.line.points.front()).norm() < 1e-12);
            CHECK((path.stretches.back().to - laid.line.points.back()).norm() < 1e-9);
            for (std::size_t k = 0; k < path.stretches.size(); ++k) {
                const Stretch& s = path.stretches[k];
                CHECK(s.length <= std::max(longest, 0.0) * (1 + 1e-9));
                CHECK((s.at(0).point - s.from).norm() < 1e-12);
                CHECK((s.at(s.length).point - s.to).norm() < 1e-9);
                CHECK(s.at(s.length / 2).tangent.norm() == Approx(1));
                if (k > 0) CHECK((s.from - path.stretches[k - 1].to).norm() < 1e-9);
                // Where either side of a node is an arc the tangent runs on: arcs are tangent to their legs.
                if (k > 0 && (s.radius > 0 || path.stretches[k - 1].radius > 0))
                    CHECK((s.tangent - path.stretches[k - 1].at(path.stretches[k - 1].length).tangent).norm() < 1e-9);
            }
        }
    }
}

TEST_CASE("a bend takes its tangent lengths from both legs and gives back its arc") {
    const double radius = 60 * mm;
    const Path path = cut(elbow(radius));
    REQUIRE(path.stretches.size() == 3);
    CHECK(path.stretches[0].length == Approx(0.24)); // a square corner: the setback is the radius
    CHECK(path.stretches[1].radius == radius);
    CHECK(path.stretches[1].length == Approx(radius * units::pi / 2));
    CHECK(length_of(path) == Approx(0.48 + radius * units::pi / 2));
    CHECK(path.node_of_point[0] == 0);
    CHECK(path.node_of_point[1] == Path::no_node);
    CHECK(path.node_of_point[2] == 3);
    const Vector3d middle = path.stretches[1].at(path.stretches[1].length / 2).point, centre(0.24, 0.06, 0);
    CHECK((middle - centre).norm() == Approx(radius));
    CHECK((middle - elbow(0).points[1]).norm() == Approx(radius * (std::sqrt(2.0) - 1)));
}

TEST_CASE("what is held on a bend gets a node in the middle of the arc, and only then") {
    const Path free = cut(elbow(60 * mm)), held = cut(elbow(60 * mm), 1e9, {1});
    CHECK(free.node_of_point[1] == Path::no_node);
    REQUIRE(held.node_of_point[1] == 2);
    CHECK(held.stretches.size() == 4);
    CHECK(held.stretches[1].length == Approx(held.stretches[2].length));
    CHECK(length_of(held) == Approx(length_of(free)));
    const Path fine = cut(elbow(60 * mm), 4 * mm, {1}); // the same place, however finely it is cut
    const Vector3d a = held.stretches[1].to, b = fine.stretches[fine.node_of_point[1]].from;
    CHECK((a - b).norm() < 1e-12);
}

TEST_CASE("two sections meet in the middle of a bend") {
    Centreline line = elbow(60 * mm);
    line.sections[1] = Round{26 * mm};
    const Path path = cut(line);
    REQUIRE(path.stretches.size() == 4);
    CHECK(path.stretches[1].section == 0);
    CHECK(path.stretches[2].section == 1);
    CHECK(path.stretches[1].length == Approx(path.stretches[2].length));
}

TEST_CASE("a sharp corner is a node, a straight run's point is one too") {
    const Path path = cut(elbow(0));
    CHECK(path.stretches.size() == 2);
    CHECK(path.node_of_point[1] == 1);
    Centreline straight{{{0, 0, 0}, {0.1, 0, 0}, {0.5, 0, 0}}, {0, 40 * mm, 0}, {Round{20 * mm}, Round{20 * mm}}};
    CHECK(cut(straight).node_of_point[1] == 1); // a bend radius on no bend takes nothing
    CHECK(length_of(cut(straight)) == Approx(0.5));
}

TEST_CASE("a hairpin of half a turn is cut into quarter turns at most") {
    const double r = 50 * mm;
    const Centreline nearly{
        {{0, 0, 0}, {0.5, 0, 0}, {0.0, 0.02, 0}}, {0, 0.5 * mm, 0}, {Round{10 * mm}, Round{10 * mm}}};
    for (const Stretch& s : cut(nearly).stretches)
        if (s.radius > 0) CHECK(s.length / s.radius <= units::pi / 2 + 1e-9);
    const Centreline zig{{{0, 0, 0}, {0.3, 0, 0}, {0.2, 0.2, 0.1}}, {0, r, 0}, {Round{10 * mm}, Round{10 * mm}}};
    const Path path = cut(zig);
    double turned = 0;
    for (const Stretch& s : path.stretches)
        if (s.radius > 0) turned += s.length / s.radius;
    const Vector3d out = (zig.points[2] - zig.points[1]).normalized();
    CHECK(turned == Approx(std::acos(Vector3d::UnitX().dot(out))));
}

TEST_CASE("a line that cannot be laid says which point, what is wrong and what would fit") {
    using Catch::Contains;
    CHECK_THAT(complaint({{{0, 0, 0}}, {}, {}}), Contains("points: 1 points make no bar"));
    Centreline line = elbow(60 * mm);
    line.sections.pop_back();
    CHECK_THAT(complaint(line), Contains("sections: 1 sections for 3 points"));
    line = elbow(60 * mm);
    line.bend_radius.pop_back();
    CHECK_THAT(complaint(line), Contains("bend_radius: 2 radii for 3 points"));
    line = elbow(310 * mm);
    CHECK_THAT(complaint(line), Contains("bend_radius/1") && Contains("310 mm of its 300 mm"));
    line = elbow(-1 * mm);
    CHECK_THAT(complaint(line), Contains("bend_radius/1: -1 mm is not a radius"));
    line = elbow(0);
    line.points[2] = line.points[1];
    CHECK_THAT(complaint(line), Contains("points/2: the same place as the point before"));
    line.points[2].y() = std::nan("");
    CHECK_THAT(complaint(line), Contains("points/2: not a number"));
}

TEST_CASE("a shape is laid where its sizes say") {
    Shape s = examples::plain_u();
    s.arm_length = {0.25, 0.23};
    s.arm_end = 0.28;
    s.splay = 10 * units::deg;
    s.drop = 5 * units::deg;
    const Laid laid = lay(s);
    const auto at = [&](std::size_t point) { return laid.line.points[point]; };
    REQUIRE(laid.left_eye.size() == 2);
    for (std::size_t e = 0; e < 2; ++e) {
        const double a = s.arm_length[e];
        CHECK(at(laid.left_eye[e]).x() == Approx(-a)); // arms trail
        CHECK(at(laid.left_eye[e]).y() == Approx(0.5 + a * std::tan(s.splay)));
        CHECK(at(laid.left_eye[e]).z() == Approx(-a * std::tan(s.drop)));
        const Vector3d mirrored = at(laid.right_eye[e]).cwiseProduct(Vector3d(1, -1, 1));
        CHECK((mirrored - at(laid.left_eye[e])).norm() < 1e-12);
    }
    CHECK(at(laid.mounts[0]) == Vector3d(0, 0.4, 0));
    CHECK(at(laid.mounts[1]) == Vector3d(0, -0.4, 0));
    CHECK(laid.line.points.front().x() == Approx(-0.28));
}

TEST_CASE("a kink leaves the axis at its outer points and runs offset between the inner ones") {
    Shape s = examples::plain_u();
    s.kink_outer = 0.6;
    s.kink_inner = 0.4;
    s.kink_forward = 50 * mm;
    s.kink_up = -20 * mm;
    const Laid laid = lay(s);
    int offset = 0, on_axis = 0;
    for (const Vector3d& p : laid.line.points) {
        if (std::abs(std::abs(p.y()) - 0.2) < 1e-12) {
            ++offset;
            CHECK(p.x() == Approx(50 * mm));
            CHECK(p.z() == Approx(-20 * mm));
        }
        on_axis += std::abs(std::abs(p.y()) - 0.3) < 1e-12;
    }
    CHECK(offset == 2);
    CHECK(on_axis == 2);
    s.kink_outer = s.mount_spacing; // as wide as the mounts, and no wider
    CHECK_NOTHROW(lay(s));
    s.kink_outer = s.mount_spacing + 0.1 * mm;
    CHECK_THROWS_AS(lay(s), BadInput);
    s.kink_inner = 0.7; // wider inside than outside
    CHECK_THROWS_WITH(lay(s), Catch::Contains("kink_outer") && Catch::Contains("inner length below the outer"));
}

} // namespace tests::of_centreline
