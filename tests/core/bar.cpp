#include "core/bar/textbook.h"
#include "core/num/bad_input.h"
#include "examples.h"

#include <Eigen/Eigenvalues>
#include <catch2/catch.hpp>

namespace tests::of_bar {
using namespace dervish;
using namespace dervish::bar;
using examples::bar_of, examples::mm, examples::plain_u, examples::rubber;

namespace {
std::string where_it_fails(auto&& f) {
    try {
        f();
    } catch (const BadInput& e) {
        return e.where();
    }
    return "nowhere";
}
} // namespace

TEST_CASE("the frame solver meets the textbook sum with rigid mounts and no shear") {
    // 1e11 N/m is 1e8 N/mm; a shear modulus for shear only cannot be given apart, so shear's own share is taken out.
    const Bar b = bar_of(plain_u(), {0, 1e11, 1e11, 1e6});
    const Solution s = solve(b);
    const SectionConstants c = constants(Round{24 * mm}, {});
    const double without_shear = roll_rate(s.at_eyes) / (1 - ledger(s).shear);
    CHECK(without_shear == Approx(textbook_rate({0.5, 0.25, 0.4}, c, {})).epsilon(1e-4));
    CHECK(twist_only_rate({0.5, 0.25, 0.4}, c, {}) > roll_rate(s.at_eyes));
}

TEST_CASE("section constants of a tube are the difference of two solids") {
    const SectionConstants outer = constants(Round{30 * mm}, {}), inner = constants(Round{22 * mm}, {}),
                           tube = constants(Round{30 * mm, 4 * mm}, {});
    CHECK(tube.area == Approx(outer.area - inner.area));
    CHECK(tube.torsion == Approx(outer.torsion - inner.torsion));
    CHECK(tube.bend_y == Approx(outer.bend_y - inner.bend_y));
    CHECK(tube.shear_area_y / tube.area < outer.shear_area_y / outer.area); // thin rings shear more
}

TEST_CASE("a blade arm bends as its rotation says") {
    // Width 40, thickness 8 on a stiff centre: the eye's rate follows I cos² + I' sin² of the blade in its arms.
    const auto arm_bending = [](double rotation) {
        Shape shape = plain_u(60 * mm);
        shape.arm_section = Blade{40 * mm, 8 * mm, rotation};
        const Solution s = solve(bar_of(shape, {0, 1e11, 1e11, 1e9}));
        const Ledger l = ledger(s);
        return l.bend_arms / roll_rate(s.at_eyes); // compliance of the arms' bending
    };
    const double E = 206e9, a3 = 0.25 * 0.25 * 0.25 / 3;
    const double stiff = 8e-3 * std::pow(40e-3, 3) / 12, weak = 40e-3 * std::pow(8e-3, 3) / 12;
    CHECK(arm_bending(0) == Approx(a3 / (E * stiff)).epsilon(0.01));
    CHECK(arm_bending(units::pi / 2) == Approx(a3 / (E * weak)).epsilon(0.01));
    CHECK(arm_bending(units::pi / 4) == Approx((a3 / (E * stiff) + a3 / (E * weak)) / 2).epsilon(0.01));
}

TEST_CASE("torsion and bending of blades and solid bars agree with Saint-Venant's squares") {
    CHECK(constants(Blade{20 * mm, 20 * mm}, {}).torsion == Approx(0.1406 * std::pow(20 * mm, 4)).epsilon(0.002));
    CHECK(constants(Blade{60 * mm, 3 * mm}, {}).torsion ==
          Approx(60 * mm * std::pow(3 * mm, 3) / 3 * (1 - 0.63 * 3 / 60)).epsilon(0.002));
}

TEST_CASE("random bars: symmetry, scale, energy, and division change nothing they must not") {
    examples::Random r;
    for (int i = 0; i < 60; ++i) {
        const Shape shape = r.shape();
        const Mount mount = r.mount();
        Bar b = bar_of(shape, mount, 0, i % 3);
        b.links[0].body = b.links[1].body = r(3e5, 5e6);
        const Solution s = solve(b);
        const Eigen::Matrix2d& k = s.at_links;

        const Eigen::Matrix2d mirrored = solve([&] {
                                             Bar m = bar_of(shape, mount, i % 3, 0);
                                             m.links = b.links;
                                             return m;
                                         }())
                                             .at_links;
        CHECK(mirrored(0, 0) == Approx(k(1, 1)).epsilon(1e-9));
        CHECK(mirrored(0, 1) == Approx(k(0, 1)).epsilon(1e-9));

        const Eigen::Vector2d d(r(-0.03, 0.03), r(-0.03, 0.03));
        const Eigen::Vector2d eigen = Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d>(k).eigenvalues();
        CHECK(eigen.minCoeff() > -1e-7 * eigen.maxCoeff()); // nothing gives energy away

        const Ledger l = ledger(s);
        CHECK(l.energy == Approx(Eigen::Vector2d(-1, 1).dot(k * Eigen::Vector2d(-1, 1)) / 2).epsilon(1e-9));
        CHECK(l.twist_centre + l.twist_arms + l.bend_centre + l.bend_arms + l.flattening + l.shear + l.mounts +
                  l.brackets + l.link_bodies[0] + l.link_bodies[1] + l.link_joints[0] + l.link_joints[1] ==
              Approx(1).epsilon(1e-12));

        const Solution fine = solve(b, 10 * mm);
        CHECK(fine.elements.size() > 2 * s.elements.size());
        CHECK((fine.at_links - k).norm() < 1e-8 * k.norm());
        CHECK(worst(stress(fine, d)).von_mises >= worst(stress(s, d)).von_mises * 0.999);

        Bar doubled = b;
        for (Eigen::Vector3d& p : doubled.line.points) p *= 2;
        for (double& radius : doubled.line.bend_radius) radius *= 2;
        for (Section& section : doubled.line.sections) {
            Round& round = std::get<Round>(section);
            round = {2 * round.outer_diameter, 2 * round.wall};
        }
        for (Mount& m : doubled.mounts)
            m = {m.point, 2 * m.vertical, 2 * m.fore_aft, 2 * m.axial, 8 * m.torsional, 2 * m.bracket};
        for (Link& link : doubled.links) link.body *= 2;
        CHECK((solve(doubled).at_links - 2 * k).norm() < 1e-9 * k.norm());
        CHECK(mass(doubled) == Approx(8 * mass(b)));
    }
}

TEST_CASE("the drawn shape closes: moved eyes are where the forces put them, and the mounts balance the links") {
    examples::Random r;
    for (int i = 0; i < 20; ++i) {
        const Bar b = bar_of(r.shape(), r.mount());
        const Solution s = solve(b);
        const Eigen::Vector2d travel(r(-0.03, 0.03), r(-0.03, 0.03));
        const Moved m = moved(s, travel);
        const auto nodes = shape(s, m);
        for (int e = 0; e < 2; ++e) CHECK(nodes[s.node_of_point[b.eyes[e]]][2] == Approx(travel[e]).margin(1e-9));
        for (std::size_t k = 0; k < s.stations.size(); ++k) CHECK((nodes[s.stations[k]] - m.station[k]).norm() < 1e-9);
        double vertical = -m.force.sum();
        for (const Eigen::Vector3d& f : mount_forces(s, m)) vertical += f.z();
        CHECK(vertical == Approx(0).margin(1e-6 * (1 + m.force.norm())));
    }
}

TEST_CASE("bending radii stiffen a U and a tube is never stiffer than the solid bar") {
    Shape sharp = plain_u(), bent = plain_u();
    bent.bend_radius = 60 * mm;
    const double k_sharp = roll_rate(solve(bar_of(sharp, rubber())).at_eyes),
                 k_bent = roll_rate(solve(bar_of(bent, rubber())).at_eyes);
    CHECK(k_bent / k_sharp > 1.02);
    CHECK(k_bent / k_sharp < 1.06);
    bent.section = bent.arm_section = Round{24 * mm, 4 * mm};
    CHECK(roll_rate(solve(bar_of(bent, rubber())).at_eyes) < k_bent);
}

TEST_CASE("a mount on a bend sits in the middle of its arc, and a vanishing radius is a sharp corner") {
    Bar kinked = bar_of(plain_u(), rubber());
    for (std::size_t mount : {2u, 3u}) kinked.line.points[mount] += Eigen::Vector3d(40 * mm, 0, 30 * mm);
    const double sharp = roll_rate(solve(kinked).at_eyes);
    kinked.line.bend_radius.assign(kinked.line.points.size(), 0);
    const auto with_radius = [&](double radius) {
        kinked.line.bend_radius[2] = kinked.line.bend_radius[3] = radius;
        return solve(kinked);
    };
    CHECK(roll_rate(with_radius(1e-6).at_eyes) == Approx(sharp).epsilon(1e-5));
    const Solution rounded = with_radius(60 * mm);
    CHECK(std::abs(roll_rate(rounded.at_eyes) / sharp - 1) < 0.03);
    const Eigen::Vector3d node = rounded.node(rounded.node_of_point[2]), corner = kinked.line.points[2];
    CHECK((node - corner).norm() > 0.1 * mm);
    CHECK(std::abs(node.y() - corner.y()) < 5 * mm);
    CHECK(roll_rate(solve(kinked, 5 * mm).at_eyes) == Approx(roll_rate(rounded.at_eyes)).epsilon(1e-7));
}

TEST_CASE("stress: twist of the centre is T r / J, and the inside of a bend carries more") {
    const Bar b = bar_of(plain_u(), {0, 1e11, 1e11, 1e9});
    const Solution s = solve(b);
    const Eigen::Vector2d travel(-0.03, 0.03);
    const double force = std::abs(moved(s, travel).force[1]);
    const auto points = stress(s, travel);
    const auto middle = *std::min_element(points.begin(), points.end(),
                                          [](auto& a, auto& c) { return a.place.norm() < c.place.norm(); });
    const SectionConstants c = constants(Round{24 * mm}, {});
    CHECK(middle.von_mises == Approx(std::sqrt(3.0) * force * 0.25 * 12 * mm / c.torsion).epsilon(0.02));
    CHECK(bend_factors(Round{24 * mm}, 1e3, 50 * mm, 0.3).stress == Approx(1).margin(1e-3));
    CHECK(bend_factors(Round{24 * mm}, 36 * mm, 50 * mm, 0.3).stress ==
          Approx(1.32).margin(0.05)); // R/r = 3: 1.33 in published tables
}

TEST_CASE("one side moved with the other held is half the roll-mode rate of a free symmetric bar") {
    const Solution s = solve(bar_of(plain_u(), rubber()));
    CHECK(s.at_eyes(0, 0) == Approx(roll_rate(s.at_eyes) / 2).epsilon(1e-6));
    Mount bonded = rubber();
    bonded.torsional = 60;
    const Solution held = solve(bar_of(plain_u(), bonded));
    CHECK(held.at_eyes(0, 0) > roll_rate(held.at_eyes) / 2 * 1.001);
}

TEST_CASE("what cannot be is told where it is") {
    const auto solve_shape = [](Shape s, Mount m) { return where_it_fails([&] { solve(bar_of(s, m)); }); };
    Shape s = plain_u();
    s.section = Round{24 * mm, 15 * mm};
    CHECK(solve_shape(s, rubber()) == "wall");
    s = plain_u();
    s.mount_spacing = 1.2;
    CHECK(solve_shape(s, rubber()) == "mount_spacing");
    s = plain_u();
    s.arm_end = 0.24;
    CHECK(solve_shape(s, rubber()) == "arm_length/0");
    s = plain_u();
    s.bend_radius = 300 * mm;
    s.mount_spacing = 0.3;
    CHECK(solve_shape(s, rubber()).starts_with("bend_radius"));
    CHECK(solve_shape(plain_u(), {0, 2e6, 2e6, 0}) == "mounts"); // free to slide along its axis
    CHECK(solve_shape(plain_u(-3 * mm), rubber()) == "outer_diameter");
    Bar b = bar_of(plain_u(), rubber());
    b.eyes[1] = 99;
    CHECK(where_it_fails([&] { solve(b); }) == "eyes");
    b.eyes[1] = b.eyes[0];
    CHECK(where_it_fails([&] { solve(b); }) == "eyes");
}

TEST_CASE("a free bar does not resist turning about its own axis: K times the arms is nothing") {
    examples::Random r;
    for (int i = 0; i < 30; ++i) {
        Shape s = r.shape();
        s.drop = 0; // so that the eyes' travel is the arm times the turn
        Mount free = r.mount();
        free.torsional = 0;
        const std::size_t other = static_cast<std::size_t>(i % 3);
        const Solution staggered = solve(bar_of(s, free, 0, other));
        const Eigen::Vector2d arms(s.arm_length[0], s.arm_length[other]);
        CHECK((staggered.at_eyes * arms).norm() < 1e-6 * staggered.at_eyes.norm() * arms.norm());
        free.torsional = 50;
        CHECK((solve(bar_of(s, free, 0, other)).at_eyes * arms).norm() > 1e-6 * staggered.at_eyes.norm() * arms.norm());
    }
}

TEST_CASE("a scale-model wire and a thick tube are the same sum") {
    const auto rate = [](double scale, double diameter, double wall) {
        Shape s = plain_u();
        for (double* length : {&s.centre_length, &s.arm_length[0], &s.mount_spacing}) *length *= scale;
        s.section = s.arm_section = Round{diameter, wall};
        return roll_rate(solve(bar_of(s, {0, 1e11 * scale, 1e11 * scale, 1e9 * scale})).at_eyes);
    };
    // Between slender bars only the fourth power of the diameter over the cube of the length counts.
    CHECK(rate(0.08, 1.2 * mm, 0) / rate(1, 15 * mm, 0) == Approx(0.08 * std::pow(1.2 / 15 / 0.08, 4)).epsilon(1e-6));
    CHECK(rate(1, 60 * mm, 3 * mm) > rate(1, 60 * mm, 2 * mm));
    CHECK(rate(1, 60 * mm, 30 * mm) ==
          Approx(rate(1, 60 * mm, 0)).epsilon(1e-9)); // a wall as thick as the radius is solid
}

TEST_CASE("springs in series: softer mounts, brackets and links each take their share and never add") {
    const Shape s = plain_u();
    const double hard = roll_rate(solve(bar_of(s, {0, 1e10, 1e10, 1e9})).at_links);
    double last = hard;
    for (const double bush : {1e7, 3e6, 1e6, 3e5}) {
        const Solution softer = solve(bar_of(s, {0, bush, bush, 3e5}));
        CHECK(roll_rate(softer.at_links) < last);
        last = roll_rate(softer.at_links);
        Mount bracketed{0, bush, bush, 3e5, 0, bush}; // bush and bracket alike: half the rate, half the energy each
        const Solution halved = solve(bar_of(s, bracketed));
        CHECK(roll_rate(halved.at_links) < last);
        const Ledger l = ledger(halved);
        CHECK(l.brackets > 0.3 * (l.mounts + l.brackets));
    }
    Bar b = bar_of(s, {0, 1e10, 1e10, 1e9});
    b.links[0].body = b.links[1].body = 2 * hard;
    b.links[0].joints = b.links[1].joints = 2 * hard; // together as stiff as the bar in roll mode: half is left
    CHECK(roll_rate(solve(b).at_links) == Approx(hard / 2).epsilon(1e-6));
    const Ledger l = ledger(solve(b));
    CHECK(l.link_bodies[0] == Approx(l.link_joints[1]));
    CHECK(l.link_bodies[0] + l.link_bodies[1] + l.link_joints[0] + l.link_joints[1] == Approx(0.5).epsilon(1e-6));
}

TEST_CASE("mass is volume times density, bends and overhanging ends included") {
    Shape s = plain_u();
    const double area = units::pi / 4 * 24 * 24 * mm * mm, density = Material{}.density;
    CHECK(mass(bar_of(s, rubber())) == Approx(area * 1.5 * density));
    s.arm_end = 0.27;
    CHECK(mass(bar_of(s, rubber())) == Approx(area * 1.54 * density));
    s.bend_radius = 60 * mm; // two quarter bends in place of two corners
    CHECK(mass(bar_of(s, rubber())) == Approx(area * density * (1.54 - 2 * 0.06 * (2 - units::pi / 2))));
}

} // namespace tests::of_bar
