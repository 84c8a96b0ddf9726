#include "store/reference.h"

#include "core/num/bad_input.h"

#include <catch2/catch.hpp>
#include <fstream>

using namespace dervish;
using nlohmann::json;

namespace {
json reference(const char* name) {
    json out;
    std::ifstream(std::string(DATA) + "/" + name) >> out;
    return out;
}
} // namespace

TEST_CASE("every case of the independent solvers is met within tolerance") {
    for (const char* name : {"bars-linear.json", "bars-large.json", "bars-links.json", "bars-tubes.json", "car.json",
                             "corner.json", "ride.json", "rough.json", "stops.json"})
        for (const store::CheckedCase& c : store::check_reference(reference(name)))
            for (const store::Compared& f : c.figures) {
                INFO(c.name << ": " << f.figure);
                CHECK(f.computed == Approx(f.expected).margin(f.tolerance));
                CHECK(f.within());
            }
}

TEST_CASE("the check computes from the inputs: another diameter is another answer") {
    json file = reference("bars-linear.json");
    file["cases"][0]["segments"][2]["outer_diameter_mm"] = 24.1;
    bool outside = false;
    json large = reference("bars-large.json"), links = reference("bars-links.json");
    large["cases"][0]["outer_diameter_mm"] = 24.1;
    links["cases"][0]["links"]["stiffness_N_per_mm"] = 1500;
    for (const json& changed : {large, links}) {
        bool off = false;
        for (const store::CheckedCase& c : store::check_reference(changed))
            for (const store::Compared& f : c.figures) off = off || !f.within();
        CHECK(off);
    }
    const auto cases = store::check_reference(file);
    for (const store::Compared& f : cases[0].figures) outside = outside || !f.within();
    CHECK(outside);
}

TEST_CASE("a reference file that cannot be used is told at its place") {
    const auto fails = [](const json& file) {
        try {
            store::check_reference(file);
        } catch (const BadInput& e) {
            return e.where();
        }
        return std::string("nowhere");
    };
    json file = reference("bars-linear.json");
    file["cases"][1]["mounts"][0]["point"] = 77;
    CHECK(fails(file) == "cases/1/mounts");
    file = reference("ride.json");
    file["cases"][0]["speed"] = 0; // a sum that would never end
    CHECK(fails(file) == "cases/0/speed");
    file = reference("ride.json");
    file["cases"][1]["car"]["pitch_inertia"] = -1;
    CHECK(fails(file) == "cases/1/car/pitch_inertia");
    file = reference("rough.json");
    file["cases"][0]["narrow"][2]["mean_N"].erase(4);
    CHECK(fails(file) == "cases/0/narrow/2/mean_N/4");
    file = reference("rough.json");
    file["cases"][0]["two_bands"]["speed_m_per_s"] = 0;
    CHECK(fails(file) == "cases/0/two_bands/speed_m_per_s");
    file = reference("bars-linear.json");
    file["cases"][0]["points_mm"][3] = "here";
    CHECK(fails(file).starts_with("cases/0/points_mm/3"));
    file = reference("car.json");
    file["cases"][2]["expected"]["colour"] = 1;
    CHECK(fails(file) == "cases/2/expected/colour");
    CHECK(fails(json::object()) == "cases");
    CHECK(fails({{"cases", {{{"half_length_mm", 500}}}}}) == "cases/0");
}
