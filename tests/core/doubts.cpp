#include "core/say/doubts.h"

#include "core/job/fields.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <functional>

namespace tests::of_doubts {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::say;

using units::mm;

namespace {
bool asked(const Job& j, const std::string& path, const std::string& words) {
    for (const Doubt& d : doubts(j))
        if (d.path == path && d.words.find(words) != std::string::npos) return true;
    return false;
}
} // namespace

TEST_CASE("sound cars of every size are asked nothing") {
    CHECK(doubts(blank()).empty());
    // A model car at a tenth of the size: lengths by 1/10, masses by 1/1000, rates by 1/100.
    Job model = blank();
    for (const FieldRef& f : fields(model)) {
        const double tenth = f.spec.quantity == units::Quantity::Length  ? 0.1
                             : f.spec.quantity == units::Quantity::Mass  ? 1e-3
                             : f.spec.quantity == units::Quantity::Rate  ? 1e-2
                             : f.spec.quantity == units::Quantity::Force ? 1e-3
                                                                         : 1;
        f.value->value *= tenth;
    }
    for (const Doubt& d : doubts(model)) {
        INFO(d.path << ": " << d.words);
        CHECK(d.path.empty());
    }
}

TEST_CASE("the usual mistakes are asked about at their field, and nothing is changed") {
    struct Mistake {
        const char *path, *words;
        std::function<void(Job&)> make;
    };
    const Mistake all[] = {
        {"vehicle/wheelbase", "Inches", [](Job& j) { j.vehicle.wheelbase.value /= 25.4; }},
        {"vehicle/cg_height", "Inches", [](Job& j) { j.vehicle.cg_height.value /= 25.4; }},
        {"vehicle/front/track", "Inches", [](Job& j) { j.vehicle.front.track.value /= 25.4; }},
        {"vehicle/front/motion_ratio", "Upside down", [](Job& j) { j.vehicle.front.motion_ratio.value = 1 / 0.7; }},
        {"trial/front/springs/rate", "Pounds an inch", [](Job& j) { j.trial.front.springs.rate.value = 140e3; }},
        {"trial/front/tyres/nominal_load", "Pounds", [](Job& j) { j.trial.front.tyres.nominal_load.value = 800; }},
        {"vehicle/front_left_load", "swapped",
         [](Job& j) {
             std::swap(j.vehicle.rear_left_load.value += 40, j.vehicle.rear_right_load.value);
             j.vehicle.front_left_load.value += 40;
         }},
        {"trial/front/bar/outer_diameter", "Inches", [](Job& j) { j.trial.front.bar.outer_diameter.value /= 25.4; }},
        {"trial/front/bar/eyes/0/arm_length", "Inches",
         [](Job& j) { j.trial.front.bar.eyes[0].arm_length.value /= 25.4; }},
        {"trial/front/bar/eyes/0/arm_length", "Square to the bar's axis",
         [](Job& j) {
             j.trial.front.bar.splay.value = 20 * units::deg;
             j.trial.front.bar.eyes[0].arm_length.source = Source::Measured;
         }},
        {"trial/rear/bar/centre_length", "As wide as the track",
         [](Job& j) {
             j.vehicle.rear.kind = AxleKind::Solid;
             j.trial.rear.bar.centre_length.value = j.vehicle.rear.track.value;
         }},
        {"trial/rear/pickups/at/out", "As far out as the wheels",
         [](Job& j) {
             j.vehicle.rear.kind = AxleKind::Solid;
             j.trial.rear.pickups.rule = PickupRule::Placed;
             j.trial.rear.pickups.at.out.value = j.vehicle.rear.track.value / 2;
         }},
        {"trial/front/bar/wall", "Too thin for its bend",
         [](Job& j) {
             j.trial.front.bar.outer_diameter.value = 40 * mm;
             j.trial.front.bar.wall.value = 1 * mm;
         }},
        {"fitted/front/links/length", "Inches", [](Job& j) { j.fitted.front.links.length.value /= 25.4; }},
    };
    for (const Mistake& m : all) {
        INFO(m.path << " " << m.words);
        Job j = blank();
        CHECK_FALSE(asked(j, m.path, m.words));
        m.make(j);
        const Job before = j;
        CHECK(asked(j, m.path, m.words));
        CHECK(j == before);
    }
}

TEST_CASE("a spring is judged against the corner that it carries, without what is not sprung") {
    // A rate that is five times what would swing the sprung corner at 1.5 Hz is asked about, whatever the axle weighs.
    Job j = blank();
    for (const double unsprung : {60.0, 220.0}) {
        j.vehicle.front.unsprung_mass.value = unsprung;
        const double sprung = (j.vehicle.front_left_load.value + j.vehicle.front_right_load.value - unsprung) / 2,
                     usual = sprung * std::pow(2 * units::pi * 1.5, 2) * 2.6 / j.vehicle.wheelbase.value;
        j.trial.front.springs.rate.value = 5 * usual;
        CHECK(asked(j, "trial/front/springs/rate", "Pounds an inch"));
        j.trial.front.springs.rate.value = 3.2 * usual; // e^1.2 is 3.3
        CHECK_FALSE(asked(j, "trial/front/springs/rate", "Pounds an inch"));
        j.trial.front.springs.rate.value = 3.45 * usual;
        CHECK(asked(j, "trial/front/springs/rate", "Pounds an inch"));
    }
}

} // namespace tests::of_doubts
