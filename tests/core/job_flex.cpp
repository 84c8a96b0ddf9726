#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/say/balance_words.h"
#include "core/say/flex_words.h"
#include "core/study/cures.h"
#include "core/study/flex.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>

namespace tests::of_job_flex {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::say;

using units::mm;

namespace {
Job two_bars() {
    Job j = blank();
    j.trial.rear = j.trial.front;
    j.fitted = j.trial;
    return j;
}

const FlexResult& named(const std::vector<FlexResult>& all, const std::string& name) {
    for (const FlexResult& r : all)
        if (say::name_of(r.of, units::System::Metric) == name) return r;
    throw std::runtime_error("no state " + name);
}
} // namespace

TEST_CASE("states: as it is, bars off, what could be bought, the shelf, another car") {
    Job j = two_bars();
    j.shelf.push_back(j.trial.front);
    j.shelf.back().bar.name = "thin one";
    j.shelf.back().bar.outer_diameter.value = 18 * mm;
    j.shelf.push_back(j.trial.front);
    j.shelf.back().bar.name = "cannot be";
    j.shelf.back().bar.outer_diameter.value = -1;
    Job other = two_bars();
    other.vehicle.name = "neighbour";
    std::vector<std::string> names;
    const auto states = flex_states(j, j.trial, &other);
    for (const FlexState& s : states) names.push_back(say::name_of(s, units::System::Metric));
    CHECK(names == std::vector<std::string>{"as it is", "front off", "rear off", "both off", "dampers 50 mm longer",
                                            "soft front bar, × 0.4", "thin one, front", "thin one, rear", "neighbour"});
    Job bare = j;
    bare.trial.front.fitted = bare.trial.rear.fitted = false;
    const auto of_bare = flex_states(bare, bare.trial);
    CHECK(say::name_of(of_bare[1], units::System::Metric) == "as Fitted"); // Trial's bars are off, its are not
    const FlexState longer = of_bare[2];
    CHECK(say::name_of(longer, units::System::Metric) == "dampers 50 mm longer");
    CHECK(flex_states(bare, bare.trial, nullptr, 0.03)[2].setup.rear.dampers.droop_gap.value ==
          Approx(bare.trial.rear.dampers.droop_gap.value + 0.03));
    CHECK(say::name_of(longer, units::System::Inch) == "dampers 2 in longer");
    const auto all = flex_all(states, {.highest = 2});
    CHECK(all.size() == states.size());
    CHECK(named(all, "as it is").ascent.height ==
          Approx(flex::climb(car_with(j.vehicle, j.trial), {.highest = 2}).height));
    CHECK(named(all, "both off").ascent.height > named(all, "as it is").ascent.height);
    CHECK(named(all, "both off").road.roll_gradient > named(all, "as it is").road.roll_gradient);
    CHECK(named(all, "both off").road.lane_lean > named(all, "as it is").road.lane_lean);
    CHECK(named(all, "both off").road.head < named(all, "as it is").road.head);
    int asked = 0;
    CHECK(flex_all(states, {}, [&] { return ++asked > 2; }).size() == 2); // stopped on the way
}

TEST_CASE("corners: what is used and left adds up to the stops, and the nearest limit is named") {
    Job j = two_bars();
    j.trial.front.connected = j.trial.rear.connected = false; // they would hold the wheels up
    const auto at = [&](const Job& job, double reach) {
        const car::Car c = car_with(job.vehicle, job.trial);
        return corners(job.vehicle, job.trial, c, flex::at_reach(c, {}, reach), flex::situation({}, reach));
    };
    const auto level = at(j, 0);
    for (const Corner& c : level) {
        CHECK(c.bump == Approx(j.vehicle.front.bump_gap.value).margin(1e-9));
        CHECK(c.droop == Approx(j.trial.front.dampers.droop_gap.value).margin(1e-9));
        CHECK(c.first().left > 0);
    }
    // On the ramps the wheels have gone, and the stops are where they were.
    for (const double reach : {0.05, 0.1})
        for (const Corner& c : at(j, reach)) {
            CHECK(std::abs(c.travel) > 0.005);
            CHECK(c.bump == Approx(j.vehicle.front.bump_gap.value).margin(1e-9));
            CHECK(c.droop == Approx(j.trial.front.dampers.droop_gap.value).margin(1e-9));
        }
    const auto first_of = [](const Corner& c) { return c.first().what; };
    const auto hanging = at(j, 0.5);
    CHECK(hanging[1].gap + hanging[2].gap > 0);
    CHECK(hanging[0].height == 0.5);
    const std::size_t hung = hanging[1].gap > hanging[2].gap ? 1 : 2;
    CHECK(hanging[hung].height == Approx(hanging[hung].gap));
    CHECK(first_of(hanging[hung]) == "damper out");
    CHECK(hanging[hung].first().left < 1e-3);
    for (AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) {
        a->travel.hose.value = 30 * mm;
        a->travel.body.value = 20 * mm;
        a->travel.strap.value = 40 * mm;
    }
    const auto held = at(j, 0.3);
    const std::size_t low = held[1].travel < held[2].travel ? 1 : 2;
    CHECK(first_of(held[low]) == "brake hose taut");
    CHECK(held[low].first().left < 0);
    CHECK(held[low].limits[1].what == "strap");
    CHECK(held[low].travel > hanging[low].travel); // the strap holds it up
    CHECK(first_of(held[0].travel > held[3].travel ? held[0] : held[3]) == "tyre on body");
}

TEST_CASE("why is told from the numbers, and the weight between track and road turns the ranking over") {
    const Job j = two_bars();
    const flex::Protocol ramps{.highest = 2};
    const auto all = flex_all(flex_states(j, j.trial), ramps);
    const auto told = why(ramps, all, units::System::Metric);
    const auto says = [&](const std::string& words) {
        return std::any_of(told.begin(), told.end(),
                           [&](const std::string& s) { return s.find(words) != std::string::npos; });
    };
    CHECK(says("sets the twist"));
    CHECK(says("bar holds"));
    CHECK(says("it follows the"));
    CHECK(says("front off: front +"));
    for (const char* state : {"front off", "rear off", "both off"}) // and nothing that is bought
        CHECK(says(std::string(state) + ": front "));
    CHECK(std::count_if(told.begin(), told.end(), [](const std::string& s) { return s.ends_with(" of travel"); }) == 3);
    CHECK(says("What ends the travel: "));
    CHECK_FALSE(says("The ramps end before"));
    const flex::Protocol low{.highest = 0.05};
    const auto short_of = flex_all({flex_states(j, j.trial)[0]}, low);
    CHECK(why(low, short_of, units::System::Inch).back().find("more than this") != std::string::npos);
    CHECK(why(ramps, {}, units::System::Metric).empty());
    const auto track = ranked(all, 1), road = ranked(all, 0);
    const auto travel = [&](std::size_t i) { return all[i].ascent.front_travel + all[i].ascent.rear_travel; };
    for (std::size_t k = 1; k < all.size(); ++k) {
        CHECK(travel(track[k - 1]) >= 0.998 * travel(track[k])); // ranked to a thousandth
        CHECK(all[road[k - 1]].road.roll_gradient <= 1.002 * all[road[k]].road.roll_gradient);
    }
    CHECK(track[0] != road[0]);
    for (const flex::Kind k :
         {flex::Kind::Diagonal, flex::Kind::Holes, flex::Kind::Ramp, flex::Kind::Lift, flex::Kind::Slope})
        CHECK(words_of({.kind = k, .obstacle = 0.1}).find("left") != std::string::npos);
}

TEST_CASE("the numbers of why are those of the loads and the ground: two cars on both diagonals") {
    int follows[2] = {};
    for (const bool stiff_front : {true, false})
        for (const Diagonal raised : {Diagonal::FrontLeftRearRight, Diagonal::FrontRightRearLeft}) {
            Job j = two_bars();
            (stiff_front ? j.trial.rear : j.trial.front).connected = false;
            (stiff_front ? j.trial.front : j.trial.rear).springs.rate.value *= 1.6;
            const flex::Protocol ramps{.raised = raised, .highest = 2};
            const auto all = flex_all({flex_states(j, j.trial)[0]}, ramps);
            REQUIRE(all.size() == 1);
            const FlexResult& now = all[0];
            std::string told;
            for (const std::string& s : why(ramps, all, units::System::Metric)) told += s + "\n";
            CAPTURE(told);
            const auto number = [&](const char* after) { return examples::number_in(told, after); };
            const auto& w = now.ascent.state.wheels;
            const int light = now.ascent.light_wheel, end = light / 2;
            const double track = j.vehicle[static_cast<End>(end)].track.value;
            CHECK(number("goes light with ") == Approx(w[2 * end].load + w[2 * end + 1].load).margin(0.6));
            CHECK(number("the frame passes ") ==
                  Approx(track / 2 * std::abs(w[2 * end].load - w[2 * end + 1].load)).margin(0.6));
            CHECK(told.find(end == 0 ? "The front sets the twist" : "The rear sets the twist") == 0);
            // Right side down is positive: a raised left wheel leans the ground so.
            const double up = raised == Diagonal::FrontLeftRearRight ? 1 : -1;
            const double ground[2] = {up * std::atan(now.ascent.height / j.vehicle.front.track.value) / units::deg,
                                      -up * std::atan(now.ascent.height / j.vehicle.rear.track.value) / units::deg};
            const double lean = number("The body leans ");
            CHECK(lean == Approx((now.ascent.state.roll[0] + now.ascent.state.roll[1]) / 2 / units::deg).margin(0.06));
            CHECK(number("the ground leans ") == Approx(ground[0]).margin(0.06));
            CHECK(number("under the front and ") == Approx(ground[1]).margin(0.06));
            const End by = std::abs(lean - ground[0]) < std::abs(lean - ground[1]) ? End::Front : End::Rear;
            CHECK(told.find(std::string("it follows the ") + name_of(by)) != std::string::npos);
            ++follows[index(by)];
        }
    CHECK(follows[0] > 0);
    CHECK(follows[1] > 0);
}

TEST_CASE("where a link would go over centre is told for the way that the wheel goes there") {
    Job j = two_bars();
    const car::Car c = car_with(j.vehicle, j.trial);
    const auto corner = corners(j.vehicle, j.trial, c, flex::at_reach(c, {}, 0.1), flex::situation({}, 0.1));
    int told = 0;
    for (std::size_t w = 0; w < 4; ++w) {
        const auto& law = (w < 2 ? c.front : c.rear).linkage;
        REQUIRE(law);
        for (const double way : {-1.0, 1.0}) {
            const std::string words = way < 0 ? "link over centre, drooping" : "link over centre, bumping";
            // The first travel of this wheel, the other one going as far the other way, at which it no longer closes.
            double over = 0;
            const auto closes = [&](double x) {
                return linkage::at(law->ends()[w % 2], law->branch(w % 2), {x, -x}).has_value();
            };
            while (std::abs(over) < 0.5 && closes(over + way * 1e-4)) over += way * 1e-4;
            for (const CornerLimit& l : corner[w].limits)
                if (l.what == words) {
                    ++told;
                    CHECK(l.left == Approx(way * (over - corner[w].travel)).margin(2e-3));
                }
        }
    }
    CHECK(told > 3);
}

} // namespace tests::of_job_flex
