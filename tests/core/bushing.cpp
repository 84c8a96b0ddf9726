#include "core/bar/bushing.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <catch2/catch.hpp>

namespace tests::of_bushing {
using namespace dervish;
using namespace dervish::bar;
using units::mm;

TEST_CASE("hardness gives the shear modulus of Gent's relation") {
    // E = 0.0981 (56 + 7.62336 S)/(0.137505 (254 - 2.54 S)) MPa: 1.545 MPa at 40, 3.59 at 60... written out for 50.
    CHECK(3 * shear_modulus_of(50) / 1e6 == Approx(0.0981 * 437.168 / (0.137505 * 127)));
    double last = 0;
    for (const double s : {20.0, 40.0, 60.0, 80.0, 95.0}) {
        CHECK(shear_modulus_of(s) > last);
        last = shear_modulus_of(s);
    }
    CHECK_THROWS_WITH(shear_modulus_of(10), Catch::Contains("shore") && Catch::Contains("20 to 95"));
    CHECK_THROWS_AS(shear_modulus_of(100), BadInput); // where the relation runs off
    CHECK_THROWS_AS(shear_modulus_of(std::nan("")), BadInput);
}

TEST_CASE("the estimate lies between the short and the long bush, and its band reaches both") {
    const BushRate k = radial_rate(60, 26 * mm, 46 * mm, 40 * mm);
    CHECK(k.short_bush < k.value);
    CHECK(k.value < k.long_bush);
    CHECK(k.value * k.value == Approx(k.short_bush * k.long_bush));
    CHECK(k.value + 1.645 * k.sigma >= k.long_bush * 0.999);
    CHECK(k.value - 1.645 * k.sigma <= k.short_bush);
    CHECK(k.long_bush / k.short_bush > 3); // several times over
    // By hand: a = 13, b = 23: ln(b/a) = 0.5705, (b² − a²)/(b² + a²) = 0.5158, long 4π/(0.5705 − 0.5158) = 229 G L.
    CHECK(k.long_bush / (shear_modulus_of(60) * 0.04) == Approx(229.5).epsilon(0.01));
    CHECK(k.short_bush / (shear_modulus_of(60) * 0.04) ==
          Approx(80 * units::pi / (25 * 0.5705 - 9 * 0.5158)).epsilon(0.001));
}

TEST_CASE("thinner rubber, harder rubber, a longer bush are each stiffer") {
    const double k = radial_rate(60, 26 * mm, 46 * mm, 40 * mm).value;
    CHECK(radial_rate(60, 26 * mm, 40 * mm, 40 * mm).value > 1.3 * k);
    CHECK(radial_rate(75, 26 * mm, 46 * mm, 40 * mm).value > 1.3 * k);
    CHECK(radial_rate(60, 26 * mm, 46 * mm, 80 * mm).value == Approx(2 * k));
    CHECK(radial_rate(60, 52 * mm, 92 * mm, 40 * mm).value == Approx(k)); // by shape and length alone
}

TEST_CASE("a bush that cannot be is told by which size") {
    CHECK_THROWS_WITH(radial_rate(60, 26 * mm, 26 * mm, 40 * mm),
                      Catch::Contains("outer") && Catch::Contains("leaves no rubber"));
    CHECK_THROWS_WITH(radial_rate(60, 0, 46 * mm, 40 * mm), Catch::Contains("inner"));
    CHECK_THROWS_WITH(radial_rate(60, 26 * mm, 46 * mm, 0), Catch::Contains("length"));
}

} // namespace tests::of_bushing
