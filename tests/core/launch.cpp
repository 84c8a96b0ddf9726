#include "core/study/launch.h"
#include "core/edit/edits.h"
#include "core/model/acting.h"
#include "core/study/assess.h"
#include "examples.h"

#include "core/car/equilibrium.h"
#include "core/job/fields.h"

#include <catch2/catch.hpp>

namespace tests::of_launch {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::edit;
using namespace dervish::study;

namespace {
Job sprint() {
    Job j = blank();
    choose(j, "vehicle/rear/kind", 1);
    j.vehicle.rear.spring_base = {1.0};
    j.vehicle.rear.roll_centre_height.value = 0.3;
    choose(j, "trial/rear/pickups/rule", 1);
    return j;
}
} // namespace

TEST_CASE(
    "off the line the propshaft loads one rear wheel, about as the first estimate says, and the links even them") {
    Job j = sprint();
    const auto usual = launch(j.vehicle, j.trial); // engine ahead, drive behind: the left rear is pressed down
    CHECK(usual->load[2] > usual->load[3]);
    j.vehicle.handling.propshaft = Turns::Clockwise;
    const auto off = launch(j.vehicle, j.trial);
    REQUIRE(off);
    CHECK(off->end == End::Rear);
    CHECK(off->torque == Approx(1400 * 0.4 * units::g * 0.32 / 4).epsilon(1e-6));
    const double difference = (off->load[3] - off->load[2]) / 2;
    CHECK(difference == Approx(off->estimate).epsilon(0.15)); // right wheel pressed down
    CHECK(off->load[2] + off->load[3] > 700 * units::g);      // and the weight goes back
    j.vehicle.handling.propshaft = Turns::Anticlockwise;
    const auto other = launch(j.vehicle, j.trial);
    CHECK(other->load[2] == Approx(off->load[3]).epsilon(0.01));
    REQUIRE(other->longer);
    Setup evened = j.trial;
    evened.rear.links.right_longer.value = *other->longer;
    const auto even = launch(j.vehicle, evened);
    CHECK(even->load[2] == Approx(even->load[3]).margin(1));
    CHECK(even->load[0] == Approx(even->load[1]).margin(1)); // torque and preload act between the same two
    CHECK(std::abs(even->lean) < 0.1 * std::abs(other->lean));
    // A tank on one side stands unlike without any torque: that is not the links' to even.
    examples::carry(j, {"", "tank", {80}, {2.4}, {0.5}, {0.6}});
    const auto tank = launch(j.vehicle, j.trial);
    REQUIRE(tank->longer);
    CHECK(*tank->longer == Approx(*other->longer).epsilon(0.05));
    evened.aboard = j.trial.aboard;
    evened.rear.links.right_longer.value = *tank->longer;
    const auto still_unlike = launch(j.vehicle, evened);
    const car::Car loaded = car_with(j.vehicle, j.trial);
    const car::State standing = car::settle(loaded, {.longitudinal_acceleration = 0.4 * units::g});
    CHECK(still_unlike->load[2] - still_unlike->load[3] ==
          Approx(standing.wheels[2].load - standing.wheels[3].load).margin(1));
    j.trial.rear.connected = false;
    CHECK_FALSE(launch(j.vehicle, j.trial)->longer);
    j.vehicle.handling.driven = Driven::Front;
    CHECK_FALSE(launch(j.vehicle, j.trial)); // the driven axle is independent
}

TEST_CASE("the propshaft's torque has its slope in the equilibrium's energy, and a preload as large takes it away") {
    Job j = sprint();
    car::Car c = assess(j.vehicle, j.trial).car;
    const car::State level = car::settle(c, {});
    car::Situation s;
    s.axle_torque[1] = 500;
    auto q = level.q;
    const double before = car::energy(c, {}, q) - car::energy(c, s, q);
    q[7] += 0.01;
    CHECK(car::energy(c, {}, q) - car::energy(c, s, q) - before == Approx(500 * 0.01));
    // The bar's preload acts between the same two, the other way round.
    const car::State at = car::settle(c, s);
    CHECK(std::abs(at.wheels[2].load - at.wheels[3].load) > 100);
    s.axle_torque[1] = 500 - 500;
    CHECK(car::settle(c, s).wheels[2].load == Approx(level.wheels[2].load));
}

} // namespace tests::of_launch
