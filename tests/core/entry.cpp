#include "core/units/entry.h"

#include "core/job/fields.h"
#include "core/num/bad_input.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

namespace tests::of_entry {
using namespace dervish;
using namespace dervish::units;

namespace {
/// Millimetres understood, in a metric window, of something between 0.2 mm and 3 m.
double mm_of(const char* text, System system = System::Metric) {
    const Entry e = read_entry(text, Quantity::Length, system, [](double si) { return si >= 2e-4 && si <= 3; });
    REQUIRE(e.values.size() == 1);
    return e.values[0] * 1e3;
}
std::string told(const char* text, Quantity quantity = Quantity::Length) {
    try {
        read_entry(text, quantity, System::Metric, [](double si) { return si >= 2e-4 && si <= 3; });
    } catch (const BadInput& e) {
        return e.problem() + "; " + e.accepted();
    }
    return "read";
}
double si(const char* text, Quantity quantity) { return read_entry(text, quantity, System::Metric).values.at(0); }
} // namespace

TEST_CASE("an entry: point or comma, spaces and digits of any script") {
    for (const char* text :
         {"26.5", "26,5", " 26.5 ", "+26.5", "26.50", "2.65e1", "٢٦٫٥", "۲۶٫۵", "26,5\u00a0mm", "\u200e26.5"})
        CHECK(mm_of(text) == Approx(26.5));
    CHECK(mm_of("26.") == Approx(26));
    for (const char* text : {"1 582,5", "1\u202f582,5", "1.582,5", "1,582.5"}) CHECK(mm_of(text) == Approx(1582.5));
    CHECK(si("1,234,567", Quantity::Number) == 1234567);
    for (const char* text : {"1,2345", "1.2345"}) CHECK(mm_of(text) == Approx(1.2345)); // no group has four figures
    for (const char* text : {"1.2.3", "1,23,456", "26 5", "1582 300", "--3", "1e", "0x10", "nan", "inf", ".", "+", ""})
        CHECK_THAT(told(text), Catch::Contains("not a number") || Catch::Contains("empty"));
    for (const char* text : {"1e999", "9e307*9e307"}) CHECK_THAT(told(text), Catch::Contains("beyond any measure"));
}

TEST_CASE("an entry: fractions and mixed numbers of a rule, and no others without asking") {
    CHECK(mm_of("1/2") == Approx(0.5));
    CHECK(mm_of("10 3/4") == Approx(10.75));
    CHECK(mm_of("1 1/16", System::Inch) == Approx(26.9875));
    CHECK(mm_of("1½ in") == Approx(38.1));
    CHECK(mm_of("3 ⁄ 16 in") == Approx(4.7625));
    CHECK(si("-1 1/2", Quantity::Number) == -1.5);
    CHECK_THAT(told("26/27"), Catch::Contains("two ways") && Catch::Contains("26; 27"));
    CHECK_THAT(told("26/32"), Catch::Contains("two ways"));
    CHECK_THAT(told("1/0"), Catch::Contains("divides by 0"));
    CHECK_THAT(told("26.1/27"), Catch::Contains("not a number"));
}

TEST_CASE("an entry: any unit of the quantity, whatever the window's") {
    CHECK(mm_of("1 1/16 in") == Approx(26.9875));
    CHECK(mm_of("1.125\"") == Approx(28.575));
    CHECK(mm_of("2.6 cm", System::Inch) == Approx(26));
    CHECK(mm_of("5 ft 10 in") == Approx(1778));
    CHECK(mm_of("5' 10 1/2\"") == Approx(1790.7));
    CHECK(mm_of("1 IN") == Approx(25.4));
    CHECK(si("100 lb", Quantity::Mass) == Approx(45.359237));
    CHECK(si("100 lb", Quantity::Force) == Approx(444.8222));
    CHECK(si("2 kN", Quantity::Force) == 2000);
    CHECK(si("150 lb/in", Quantity::Rate) == Approx(26269.025));
    CHECK(si("5 kgf/mm", Quantity::Rate) == Approx(49033.25));
    CHECK(si("12 N·m/°", Quantity::TorsionalRate) == Approx(12 * 180 / pi));
    CHECK(si("12 Nm/deg", Quantity::TorsionalRate) == Approx(12 * 180 / pi));
    CHECK(si("40 lb·ft", Quantity::Moment) == Approx(54.2327));
    CHECK(si("40 ft-lb", Quantity::Moment) == Approx(54.2327));
    CHECK(si("0.1 rad", Quantity::Angle) == 0.1);
    CHECK(si("3°", Quantity::Angle) == Approx(3 * deg));
    CHECK(si("32 psi", Quantity::Pressure) == Approx(220632.2));
    CHECK(si("2,2 bar", Quantity::Pressure) == Approx(2.2e5));
    CHECK(si("60 mph", Quantity::Speed) == Approx(26.8224));
    CHECK(si("100 km/h", Quantity::Speed) == Approx(27.7778));
    CHECK(si("25000 mi", Quantity::Distance) == Approx(40233600));
    CHECK(si("65 %", Quantity::Share) == Approx(0.65));
    CHECK_THAT(told("26 psi"), Catch::Contains("\"psi\" is the unit of a pressure; give a length"));
    CHECK_THAT(told("26 mm x"), Catch::Contains("not a number"));
    CHECK_THAT(told("(26 mm) in"), Catch::Contains("two units"));
}

TEST_CASE("an entry: a small raised figure belongs to a unit, and behind a number it is refused") {
    CHECK(si("3 kg·m²", Quantity::Inertia) == Approx(3));
    CHECK(si("2 g/cm³", Quantity::Density) == Approx(2000));
    for (const char* text : {"5²", "5³", "5 ²", "²", "5⁴", "2²5", "1.5² mm"})
        CHECK_THROWS_AS(read_entry(text, Quantity::Length, System::Metric), BadInput);
}

TEST_CASE("an entry: sums, differences and products, what can be read in two ways is asked") {
    CHECK(mm_of("268+12") == Approx(280));
    CHECK(mm_of("268 - 12.5") == Approx(255.5));
    CHECK(mm_of("2*471") == Approx(942));
    CHECK(mm_of("2×471 mm + 1/2 in") == Approx(954.7));
    CHECK(mm_of("(268+12)*2") == Approx(560));
    CHECK(mm_of("268+12 mm") == Approx(280)); // either way the same
    CHECK(mm_of("(26.8+1.2) cm") == Approx(280));
    CHECK_THAT(told("268+12 cm"), Catch::Contains("two ways") && Catch::Contains("brackets"));
    CHECK_THAT(told("2 mm * 3 mm"), Catch::Contains("multiplies two sizes"));
    CHECK_THAT(told("((1)"), Catch::Contains("not a number"));
    CHECK_THAT(told(std::string(100, '(').c_str()), Catch::Contains("not a number"));
    // Thousands or decimals: what can be is taken, what could be both is asked.
    CHECK(mm_of("12,500") == Approx(12.5)); // 12.5 m is no such length
    CHECK_THAT(told("1,582"), Catch::Contains("two ways; write 1.582 or 1582"));
    CHECK(mm_of("0,582") == Approx(0.582));
    CHECK(mm_of("1.582") == Approx(1.582)); // a point is decimal wherever that can be
    const auto wide = [](double s) { return s >= 0.1 && s <= 3; };
    CHECK(read_entry("1,582", Quantity::Length, System::Metric, wide).values[0] == Approx(1.582));
    CHECK_THROWS_WITH(read_entry("1.582", Quantity::Length, System::Metric, wide), Catch::Contains("two ways"));
    CHECK(read_entry("26.1; 26,3 ; 1 in", Quantity::Length, System::Metric).values.size() == 3);
    CHECK(read_entry("> 450", Quantity::Length, System::Metric).more_than);
}

TEST_CASE("every number of a job reads back under a decimal comma in every unit system, or asks") {
    job::Job j = job::blank();
    for (const System system : {System::Metric, System::Inch, System::InchMetricRates})
        for (const job::FieldRef& f : job::fields(j)) {
            std::string text = job::show(f.value->value, f.spec, system);
            const double by_point = job::parse(text, f.spec, system, f.path);
            std::replace(text.begin(), text.end(), '.', ',');
            INFO(f.path << " " << text);
            try {
                CHECK(job::parse(text, f.spec, system, f.path) == by_point);
            } catch (const BadInput& e) {
                CHECK_THAT(e.problem(), Catch::Contains("two ways"));
            }
        }
}

TEST_CASE("random text is read or refused, never anything else, and never not finite") {
    std::mt19937 engine{11};
    const std::string letters = "0123456789.,;/*+-()'\" inmftkg°½eE>";
    for (int i = 0; i < 20000; ++i) {
        std::string text;
        for (auto n = engine() % 14; n > 0; --n) text += letters[engine() % letters.size()];
        try {
            for (const double v : read_entry(text, Quantity::Length, System::Inch).values) CHECK(std::isfinite(v));
        } catch (const BadInput&) {
        }
    }
}

} // namespace tests::of_entry
