#include "core/units/units.h"

#include <catch2/catch.hpp>

namespace tests::of_units {
using namespace dervish::units;

TEST_CASE("shown units convert by their definitions") {
    CHECK(shown(Quantity::Length, System::Inch).factor == 0.0254);
    CHECK(shown(Quantity::Rate, System::Inch).factor == Approx(175.126835));
    CHECK(shown(Quantity::TorsionalRate, System::Metric).factor == Approx(180 / pi));
    CHECK(shown(Quantity::Rate, System::InchMetricRates).symbol == "N/mm");
    CHECK(shown(Quantity::Length, System::InchMetricRates).symbol == "in");
    CHECK(text(0.0254, Quantity::Length, System::Inch) == "1.000 in");
    CHECK(text(2 * deg, Quantity::Angle, System::Metric) == "2.00°");
    CHECK(fixed(-0.0001, 2) == "0.00");
    CHECK(trimmed(26.50, 3) == "26.5");
}

TEST_CASE("what enters a job comes back from its file to the last bit") {
    for (double inches : {0.965, 1.0, 2.7182818, 1.0 / 3}) {
        const double si = as_filed(inches * 0.0254, Quantity::Length);
        CHECK(as_filed(si, Quantity::Length) == si);
        CHECK(si == Approx(inches * 0.0254).epsilon(1e-11));
    }
}

} // namespace tests::of_units
