#include "core/job/fields.h"
#include "core/model/check.h"

#include "core/job/describe.h"

#include <catch2/catch.hpp>
#include <cstring>

namespace tests::of_fields {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;

using units::System;

namespace {
FieldSpec length_spec() { return {"size", "Size", units::Quantity::Length, Tool::Tape, 0.1, 2.0}; }

std::string told(auto&& f) {
    try {
        f();
    } catch (const BadInput& e) {
        return e.what();
    }
    return "nothing";
}
} // namespace

TEST_CASE("a field is written to what its tool reads: a figure more for callipers, and for what is small") {
    FieldSpec s = length_spec();
    const auto written = [&](double si, Tool tool, units::Quantity quantity = units::Quantity::Length,
                             System system = System::Metric) {
        s.tool = tool;
        s.quantity = quantity;
        return show(si, s, system);
    };
    CHECK(written(0.123456, Tool::Tape) == "123.5");
    CHECK(written(0.123456, Tool::Calliper) == "123.46");
    CHECK(written(0.00512345, Tool::Tape) == "5.12");
    CHECK(written(0.00512345, Tool::Calliper) == "5.123");
    CHECK(written(-0.00512345, Tool::Tape) == "-5.12");
    CHECK(written(0.123456, Tool::Tape, units::Quantity::Length, System::Inch) == "4.86");
    CHECK(written(0.02, Tool::Calliper) == "20"); // no noughts that say nothing
    CHECK(written(0.123456, Tool::Tape, units::Quantity::Number) == "0.123");
}

TEST_CASE("every field of a job has a label, a unit that can be shown and a hint that is not its label") {
    Job j = blank();
    j.vehicle.rear.kind = AxleKind::Solid;
    j.vehicle.loads.push_back({});
    int hinted = 0;
    for (const FieldRef& f : fields(j)) {
        INFO(f.path);
        CHECK(std::strlen(f.spec.label) > 2);
        CHECK(std::strcmp(f.spec.label, f.spec.hint) != 0);
        hinted += f.spec.hint[0] != '\0';
        for (const System s : {System::Metric, System::Inch, System::InchMetricRates})
            CHECK(units::shown(f.spec.quantity, s).factor > 0);
        CHECK(f.path.ends_with(f.spec.key));
        CHECK((std::isfinite(f.value->value) || f.spec.word)); // only a word may stand for no number
    }
    CHECK(hinted > 60);
}

TEST_CASE("a solid axle asks for its spring base, an independent one for its motion ratio") {
    Job j = blank();
    j.vehicle.rear.kind = AxleKind::Solid;
    CHECK(field(j, "vehicle/rear/spring_base"));
    CHECK_FALSE(field(j, "vehicle/rear/motion_ratio"));
    CHECK(field(j, "vehicle/front/motion_ratio"));
    CHECK_FALSE(field(j, "vehicle/front/spring_base"));
}

TEST_CASE("a prefix takes a part and nothing that only begins like it") {
    Job j = blank();
    j.fitted.front.bar.eyes.resize(12, j.fitted.front.bar.eyes[0]);
    CHECK(fields(j, "fitted/front/bar/eyes/1").size() == 1); // not 10 and 11
    CHECK(fields(j, "fitted/front/bar/eyes").size() == 12);
    CHECK(fields(j, "fitted/front/links").size() == 8);
    CHECK(fields(j, "fitted/fro").empty());
    for (const FieldRef& f : fields(j, "vehicle/front")) CHECK(f.path.starts_with("vehicle/front/"));
    CHECK(fields(j).size() > fields(j, "vehicle").size() + fields(j, "trial").size());
}

TEST_CASE("typing: spaces, signs, units and commas as people write them") {
    const FieldSpec s = length_spec();
    const auto mm = [&](const char* text) { return parse(text, s, System::Metric, "x") * 1000; };
    CHECK(mm("950") == Approx(950));
    CHECK(mm("  950\t") == Approx(950));
    CHECK(mm("+950") == Approx(950));
    CHECK(mm("950,5") == Approx(950.5));
    CHECK(mm("950 mm") == Approx(950));
    CHECK(mm("950mm") == Approx(950));
    CHECK(mm("9.5e2") == Approx(950));
    CHECK(parse("37.4 in", s, System::Inch, "x") == Approx(0.94996));
    CHECK(mm("1 950") == Approx(1950));
    CHECK(mm("37.4 in") == Approx(949.96)); // whatever the window's unit
    for (const char* bad : {"1.950.0", "nine", "-", "+", ".", "mm", "0x3B6"})
        CHECK_THAT(told([&] { mm(bad); }), Catch::Contains("is not a number; give a number in mm"));
    CHECK_THAT(told([&] { mm("950 in"); }), Catch::Contains("cannot be"));
}

TEST_CASE("a value out of range says the range in the shown unit") {
    const FieldSpec s = length_spec();
    CHECK_THAT(told([&] { parse("5000", s, System::Metric, "bar/size"); }),
               Catch::StartsWith("bar/size: Size: 5000 mm cannot be; give 100 mm to 2000 mm"));
    CHECK_THAT(told([&] { parse("100", s, System::Inch, "x"); }), Catch::Contains("give 3.937 in to 78.7 in"));
    CHECK_NOTHROW(parse("100", s, System::Metric, "x")); // both ends belong
    CHECK_NOTHROW(parse("2000", s, System::Metric, "x"));
    CHECK_THAT(told([&] { check_range(std::nan(""), s, System::Metric, "x"); }), Catch::Contains("not a number"));
}

TEST_CASE("a mixed-up unit is guessed from what would fit") {
    const FieldSpec s = length_spec();
    CHECK_THAT(told([&] { parse("37", s, System::Metric, "x"); }),
               Catch::Contains("was it read in in? That would be 940 mm"));
    CHECK_THAT(told([&] { parse("1.2", s, System::Metric, "x"); }),
               Catch::Contains("read in m? That would be 1200 mm"));
    CHECK_THAT(told([&] { parse("950", s, System::Inch, "x"); }), Catch::Contains("read in mm? That would be 37.4 in"));
    const FieldSpec mass{"m", "Mass", units::Quantity::Mass, Tool::Scale, 100, 1000};
    CHECK_THAT(told([&] { parse("1500", mass, System::Metric, "x"); }),
               Catch::Contains("read in lb? That would be 680 kg"));
    const FieldSpec rate{"k", "Rate", units::Quantity::Rate, Tool::Test, 1e3, 1e5};
    CHECK(told([&] { parse("5000", rate, System::Metric, "x"); }).find("was it") == std::string::npos);
}

TEST_CASE("words stand for values that no number says") {
    Job j = blank();
    const FieldSpec wall = field(j, "trial/front/bar/wall")->spec,
                    bracket = field(j, "trial/front/mounts/bracket")->spec;
    CHECK(parse("solid", wall, System::Metric, "x") == 0);
    CHECK(std::isinf(parse(" rigid ", bracket, System::Inch, "x")));
    CHECK(show(0, wall, System::Metric) == "solid");
    CHECK(show(std::numeric_limits<double>::infinity(), bracket, System::Metric) == "rigid");
    CHECK_THAT(told([&] { parse("hollow", wall, System::Metric, "x"); }), Catch::Contains("or \"solid\""));
    CHECK_THAT(told([&] { parse("inf", bracket, System::Metric, "x"); }), Catch::Contains("not a number"));
    CHECK_THAT(told([&] { parse("80", wall, System::Metric, "x"); }), Catch::Contains("0 mm to 50 mm, or \"solid\""));
}

TEST_CASE("callipers show one more figure than the tape, inches enough for both") {
    Job j = blank();
    const FieldSpec d = field(j, "trial/front/bar/outer_diameter")->spec,
                    l = field(j, "trial/front/bar/centre_length")->spec;
    CHECK(show(0.02205, d, System::Metric) == "22.05");
    CHECK(show(0.95, l, System::Metric) == "950");
    CHECK(show(0.9504, l, System::Metric) == "950.4");
    CHECK(show(0.0254, d, System::Inch) == "1");
    CHECK(show(0.026, d, System::Inch) == "1.0236");
}

TEST_CASE("what differs between two jobs is told, eight lines of it and how many more") {
    const Job job = blank();
    CHECK(differences(job, job, units::System::Metric).empty());
    Job other = job;
    other.vehicle.wheelbase.value = 2.7;
    other.tests.resize(2);
    CHECK(differences(job, other, units::System::Metric) ==
          std::vector<std::string>{"tests: 0 -> 2", "Car, Wheelbase: 2600 -> 2700"});
    for (FieldRef& f : fields(other, "vehicle/rear")) f.value->value += 0.01;
    const auto many = differences(job, other, units::System::Metric);
    REQUIRE(many.size() == 8);
    CHECK(many.back() == "and " + std::to_string(fields(other, "vehicle/rear").size() + 2 - 7) + " more");
    other = job;
    other.vehicle.wheelbase.sigma = 0.001;
    other.vehicle.wheelbase.source = Source::Measured;
    const auto told = differences(job, other, units::System::Metric);
    REQUIRE(told.size() == 1);
    CHECK(told[0].starts_with("Car, Wheelbase: 2600 ± "));
    CHECK(told[0].ends_with(", assumed -> 2600 ± 1, measured"));
    other = job;
    other.complaint = "leans";
    CHECK(differences(job, other, units::System::Metric) == std::vector<std::string>{"readings, words or choices"});
}

TEST_CASE("usual spreads: a special value has none, angles have their own") {
    Job j = blank();
    const FieldSpec splay = field(j, "trial/front/bar/splay")->spec, tape = field(j, "vehicle/wheelbase")->spec,
                    test = field(j, "trial/front/springs/rate")->spec;
    CHECK(usual_sigma(splay, Source::Measured, 0.3) == Approx(0.2 * units::deg));
    CHECK(usual_sigma(splay, Source::Quoted, 0.3) == Approx(units::deg));
    CHECK(usual_sigma(splay, Source::Assumed, 0.3) == Approx(3 * units::deg));
    CHECK(usual_sigma(tape, Source::Measured, 2.6) == Approx(1.5e-3));
    CHECK(usual_sigma(test, Source::Measured, 25e3) == Approx(750));
    CHECK(usual_sigma(tape, Source::Assumed, -2.0) == Approx(0.3));
    CHECK(usual_sigma(test, Source::Assumed, std::numeric_limits<double>::infinity()) == 0);
}

TEST_CASE("check reads a job and never writes it") {
    const Job j = blank();
    const Job before = j;
    check(j);
    CHECK(j == before);
    Job bad = j;
    bad.vehicle.wheelbase.sigma = -1;
    CHECK_THAT(told([&] { check(bad); }),
               Catch::Contains("vehicle/wheelbase") && Catch::Contains("a spread that cannot be; give 0 to"));
    bad = j;
    bad.trial.front.bar.outer_diameter.value = 0.95;
    CHECK_THAT(told([&] { check(bad); }), Catch::Contains("trial/front/bar/outer_diameter"));
    bad = j;
    bad.fitted.front.bar.eyes.clear();
    CHECK_THAT(told([&] { check(bad); }), Catch::Contains("fitted/"));
}

TEST_CASE("several readings of one thing give their mean, surer by their number, never surer than the tool") {
    Job j = blank();
    const FieldSpec d = field(j, "trial/front/bar/outer_diameter")->spec;
    const auto read = [&](const char* text) { return parse_entry(text, d, System::Metric, "x"); };
    CHECK_FALSE(read("26").sigma);
    const Typed three = read("25.9; 26.1; 26.0");
    CHECK(three.readings == 3);
    CHECK(three.value == Approx(0.026));
    CHECK(*three.sigma == Approx(std::hypot(0.05e-3, 0.1e-3 / std::sqrt(3.0))));
    CHECK(*read("26;26;26;26").sigma == Approx(0.05e-3));
    CHECK(read("26,1; 26,3").value == Approx(0.0262)); // decimal commas
    CHECK(read("26 mm; 27 mm").value == Approx(0.0265));
    CHECK_THAT(told([&] { read("26; wide"); }), Catch::Contains("is not a number"));
    CHECK_THAT(told([&] { read("26;; 27"); }), Catch::Contains("empty"));
    CHECK(read("26;").readings == 1); // on the way to the next
    CHECK_THAT(told([&] { read("26; 260"); }), Catch::Contains("cannot be"));
    CHECK_THAT(told([&] { read("> 26"); }), Catch::Contains("no single value"));
    CHECK(understood(read("1 1/16 in"), d, System::Metric) == "= 26.988 mm");
    CHECK(understood(three, d, System::Metric) == "3 readings: 26 mm ± 0.07638");
    CHECK(understood(read("25.4"), d, System::Inch) == "= 1 in");
}

} // namespace tests::of_fields
