#include "core/bar/section.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_section {
using namespace dervish;
using namespace dervish::bar;
using Eigen::Vector3d;
using examples::mm;
using units::pi;

namespace {
double stress_of(const Section& s, const Vector3d& force, const Vector3d& moment, double factor = 1) {
    return von_mises(s, constants(s, {}), force, moment, factor);
}
} // namespace

TEST_CASE("a solid round bar's constants are the closed forms") {
    const double d = 24 * mm;
    const SectionConstants c = constants(Round{d}, {});
    CHECK(c.area == Approx(pi * d * d / 4));
    CHECK(c.torsion == Approx(pi * std::pow(d, 4) / 32));
    CHECK(c.bend_y == Approx(pi * std::pow(d, 4) / 64));
    CHECK(c.bend_z == c.bend_y);
    const double nu = Material{}.poisson();
    CHECK(c.shear_area_y / c.area == Approx(6 * (1 + nu) / (7 + 6 * nu))); // Cowper's solid circle
}

TEST_CASE("thin tubes tend to the thin ring: half the area shears") {
    const double nu = Material{}.poisson();
    const SectionConstants c = constants(Round{60 * mm, 0.2 * mm}, {});
    CHECK(c.area == Approx(pi * 59.8 * mm * 0.2 * mm));
    CHECK(c.shear_area_y / c.area == Approx(2 * (1 + nu) / (4 + 3 * nu)).epsilon(1e-3));
    CHECK(c.torsion == Approx(2 * pi * std::pow(29.9 * mm, 3) * 0.2 * mm).epsilon(1e-4));
}

TEST_CASE("Poisson's ratio follows E and G and stays where shear coefficients are defined") {
    CHECK(Material{}.poisson() == Approx(206.0 / (2 * 79.3) - 1));
    Material odd;
    odd.shear_modulus = 20e9;
    CHECK(odd.poisson() == 0.5);
    odd.shear_modulus = 150e9;
    CHECK(odd.poisson() == 0);
}

TEST_CASE("von Mises of a round bar: each load alone has its textbook stress") {
    const double d = 20 * mm, r = d / 2;
    const SectionConstants c = constants(Round{d}, {});
    CHECK(stress_of(Round{d}, {1000, 0, 0}, {0, 0, 0}) == Approx(1000 / c.area));
    CHECK(stress_of(Round{d}, {0, 0, 0}, {50, 0, 0}) == Approx(std::sqrt(3.0) * 50 * r / c.torsion));
    CHECK(stress_of(Round{d}, {0, 0, 0}, {0, 50, 0}) == Approx(50 * r / c.bend_y));
    CHECK(stress_of(Round{d}, {0, 0, 0}, {0, 30, 40}) == Approx(50 * r / c.bend_y)); // any direction across
    CHECK(stress_of(Round{d}, {0, 900, 0}, {0, 0, 0}) == Approx(std::sqrt(3.0) * 4.0 / 3 * 900 / c.area));
    const double twist = 50 * r / c.torsion, bend = 80 * r / c.bend_y;
    CHECK(stress_of(Round{d}, {0, 0, 0}, {50, 80, 0}) == Approx(std::sqrt(bend * bend + 3 * twist * twist)));
    CHECK(stress_of(Round{d}, {-700, 20, 300}, {5, -8, 3}) ==
          Approx(stress_of(Round{d}, {700, -20, -300}, {-5, 8, -3})));
}

TEST_CASE("von Mises of a blade: stiff way, weak way, twist") {
    const double b = 40 * mm, t = 8 * mm;
    const Blade flat{b, t, 0};
    CHECK(stress_of(flat, {0, 0, 0}, {0, 60, 0}) == Approx(6 * 60 / (t * b * b)));
    CHECK(stress_of(flat, {0, 0, 0}, {0, 0, 60}) == Approx(6 * 60 / (b * t * t)));
    CHECK(stress_of(flat, {0, 0, 0}, {0, 60, 60}) == Approx(6 * 60 / (t * b * b) + 6 * 60 / (b * t * t))); // corner
    // T/(k b t²), k = 0.2911 at b/t = 5 (Timoshenko & Goodier's table)
    CHECK(stress_of(flat, {0, 0, 0}, {20, 0, 0}) == Approx(std::sqrt(3.0) * 20 / (0.2913 * b * t * t)).epsilon(0.01));
    CHECK(stress_of(flat, {0, 0, 500}, {0, 0, 0}) == Approx(std::sqrt(3.0) * 1.5 * 500 / (b * t)));
    const Blade turned{b, t, pi / 2}, swapped{t, b, 0};
    for (const Vector3d& m : {Vector3d(0, 60, 0), Vector3d(7, 3, 9), Vector3d(0, 0, 20)})
        CHECK(stress_of(turned, {0, 0, 0}, m) == Approx(stress_of(swapped, {0, 0, 0}, m)));
}

TEST_CASE("a blade turned by any angle keeps its area, its twist and the sum of its bending") {
    const SectionConstants flat = constants(Blade{40 * mm, 8 * mm, 0}, {});
    for (const double angle : {0.2, 0.7, 1.3}) {
        const SectionConstants c = constants(Blade{40 * mm, 8 * mm, angle}, {});
        CHECK(c.area == flat.area);
        CHECK(c.torsion == flat.torsion);
        CHECK(c.bend_y + c.bend_z == Approx(flat.bend_y + flat.bend_z));
        CHECK(c.rotation == angle);
    }
}

TEST_CASE("bent tubes flatten: von Kármán's give in a long bend, a beam's in a thick or short one") {
    const double nu = 0.3, plate = 1 - nu * nu;
    // In a long bend, by the asymptote 1.65/λ of Clark & Reissner (1951).
    const Round thin{30 * mm, 1 * mm};
    const double r = 14.5 * mm;
    for (const double lambda : {0.15, 0.25, 0.3}) {
        const double radius = lambda * r * r / (1 * mm);
        CHECK(bend_characteristic(thin, radius) == Approx(lambda));
        CHECK(bend_factors(thin, radius, 1e6, nu).give == Approx(1.65 / lambda).epsilon(0.12));
    }
    // The first term of the energy sum, found by least energy over the flattening c (E = I = M = 1, by hand).
    const double radius = 70 * mm, t = 2.5 * mm, rm = 14.75 * mm;
    const double l2 = std::pow(t * radius / (rm * rm), 2) / plate;
    double least = 1e9, across = 0;
    for (double c = 0; c < 3; c += 1e-4) { // in units of κ r R: w = c sin 2φ along, 2c sin³φ lost of the strain
        const double u = 1 - 3 * c + 2.5 * c * c + 3 * l2 * c * c;
        if (u < least) least = u, across = c;
    }
    const BendFactors f = bend_factors(Round{32 * mm, t}, radius, 1e6, nu);
    CHECK(f.give == Approx(1 / least).epsilon(0.05));                           // more terms give a little more
    CHECK(f.stress > 3 * across / least * std::sqrt(l2 / plate) * 0.99);        // 3 E' t c/r² over M r/I
    CHECK(bend_factors(Round{32 * mm, t}, radius, 110 * mm, nu).give < f.give); // its ends are held round
    CHECK(bend_factors(Round{32 * mm, t}, radius, 15 * mm, nu).give == 1);
    CHECK(bend_factors(Round{32 * mm, 15 * mm}, radius, 110 * mm, nu).give == Approx(1).margin(0.01));
    CHECK(bend_factors(Round{32 * mm}, radius, 110 * mm, nu).give == 1);
    CHECK(bend_factors(Round{32 * mm, t}, 0, 0, nu).give == 1); // straight
}

TEST_CASE("the curved-beam factor: the inside of a bend carries more, more so the tighter it is") {
    double last = 1;
    for (const double ratio : {20.0, 8.0, 4.0, 3.0, 2.0}) { // bend radius over the bar's
        const double factor = bend_factors(Round{20 * mm}, ratio * 10 * mm, 50 * mm, 0.3).stress;
        CHECK(factor > last);
        last = factor;
    }
    CHECK(bend_factors(Round{20 * mm}, 40 * mm, 50 * mm, 0.3).stress ==
          Approx(1.23).margin(0.01)); // published: 1.23 at 4, 1.62 at 2
    CHECK(bend_factors(Round{20 * mm}, 20 * mm, 50 * mm, 0.3).stress == Approx(1.62).margin(0.02));
    CHECK(std::isfinite(
        bend_factors(Round{20 * mm}, 9 * mm, 50 * mm, 0.3).stress)); // tighter than the bar can be bent: still a number
    CHECK(bend_factors(Round{20 * mm}, 0, 50 * mm, 0.3).stress == 1); // straight
    CHECK(bend_factors(Blade{40 * mm, 8 * mm}, 50 * mm, 50 * mm, 0.3).stress == 1);
    const double straight = stress_of(Round{20 * mm}, {0, 0, 0}, {0, 50, 0});
    CHECK(stress_of(Round{20 * mm}, {0, 0, 0}, {0, 50, 0}, 1.3) == Approx(1.3 * straight));
    CHECK(stress_of(Round{20 * mm}, {0, 0, 0}, {50, 0, 0}, 1.3) ==
          Approx(stress_of(Round{20 * mm}, {0, 0, 0}, {50, 0, 0}))); // twist is not bending
}

TEST_CASE("sizes that are no section are refused by name") {
    const auto refused = [](const Section& s) {
        try {
            constants(s, {});
        } catch (const BadInput& e) {
            return e.where();
        }
        return std::string("taken");
    };
    CHECK(refused(Round{0}) == "outer_diameter");
    CHECK(refused(Round{std::nan("")}) == "outer_diameter");
    CHECK(refused(Round{24 * mm, 12.01 * mm}) == "wall");
    CHECK(refused(Round{24 * mm, -1 * mm}) == "wall");
    CHECK(refused(Round{24 * mm, 12 * mm}) == "taken"); // just solid
    CHECK(refused(Blade{0, 8 * mm}) == "width");
    CHECK(refused(Blade{40 * mm, -8 * mm}) == "thickness");
}

} // namespace tests::of_section
