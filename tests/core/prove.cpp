#include "core/proof/asking.h"
#include "core/proof/doubts.h"
#include "core/proof/eye.h"
#include "core/proof/predict.h"
#include "core/proof/rig_check.h"
#include "core/study/hand_sums.h"
#include "core/study/links.h"
#include "core/study/outside.h"
#include "examples.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <set>

namespace tests::of_prove {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::proof;

namespace {
std::set<std::string>& looked_at() {
    static std::set<std::string> all;
    return all;
}
std::vector<double> asked(const char* key, const Job& j, const Settings& other = {}) {
    looked_at().insert(key);
    const Protocol& p = protocol(key);
    Settings s = settings_of(p, {});
    for (const auto& [name, value] : other) s[name] = value;
    return p.answers(s)({j.vehicle, j.fitted});
}

/// Where the lightest of the watched wheels' load falls to nought, by halving, each place settled from nothing.
double lift_by_halving(const car::Car& car, const flex::Protocol& p) {
    const auto stands = [&](double reach) {
        const car::State s = car::settle(car, flex::situation(p, reach));
        double least = 1e9;
        for (const int w : flex::watched(p)) least = std::min(least, s.wheels[w].load);
        return least > 0;
    };
    double low = 0, high = p.highest;
    if (stands(high)) return high;
    for (int i = 0; i < 50; ++i) (stands((low + high) / 2) ? low : high) = (low + high) / 2;
    return low;
}
double roll_stiffness_of(const car::Car& car) {
    return study::roll_stiffness(car.front).whole() + study::roll_stiffness(car.rear).whole();
}
} // namespace

TEST_CASE("ramps, fork and holes are foretold where a wheel goes light by halving") {
    const Job j = examples::off_road_car();
    const car::Car car = car_with(j.vehicle, j.fitted);
    const double wheelbase = j.vehicle.wheelbase.value;
    for (const double raised : {0.0, 1.0}) {
        const auto side = static_cast<Diagonal>(static_cast<int>(raised));
        CHECK(asked("diagonal_ramps", j, {{"raised", raised}})[0] ==
              Approx(lift_by_halving(car, {.raised = side})).epsilon(1e-5));
        CHECK(asked("holes", j, {{"raised", raised}})[0] ==
              Approx(lift_by_halving(car, {.kind = flex::Kind::Holes, .raised = side})).epsilon(1e-5));
    }
    for (const double wheel : {0.0, 3.0}) {
        const int w = static_cast<int>(wheel);
        CHECK(asked("fork", j, {{"wheel", wheel}})[0] ==
              Approx(lift_by_halving(car, {.kind = flex::Kind::Lift, .wheel = w})).epsilon(1e-5));
        const double height = lift_by_halving(car, {.kind = flex::Kind::Ramp, .wheel = w, .angle = 0.4, .highest = 2});
        const auto ramp = asked("one_ramp", j, {{"wheel", wheel}, {"angle", 0.4}, {"ramp_length", 2 / std::sin(0.4)}});
        CHECK(ramp[0] == Approx(height / std::sin(0.4)).epsilon(1e-5));
        CHECK(ramp[1] == Approx(1000 * height / std::sin(0.4) / wheelbase).epsilon(1e-5));
    }
    const double lift = lift_by_halving(car, {});
    CHECK(asked("fixed_ramps", j, {{"ramp_height", lift}})[0] == Approx(0).margin(1e-4));
    const flex::FixedRamps higher = flex::on_fixed_ramps(car, Diagonal::FrontLeftRearRight, 1.2 * lift);
    CHECK(asked("fixed_ramps", j, {{"ramp_height", 1.2 * lift}})[0] == Approx(higher.gap));
}

TEST_CASE("what pushes a standing car leans it by its moment over the roll stiffness") {
    const Job j = examples::off_road_car();
    const car::Car car = car_with(j.vehicle, j.fitted);
    const car::Loaded body = car::loaded(car);
    // What the lean itself tips over comes off the stiffness; the roll axis is at half way.
    const double axis = (car.front.roll_centre_height + car.rear.roll_centre_height) / 2,
                 stiffness = roll_stiffness_of(car) - body.mass * units::g * (body.z - axis);
    CHECK(asked("sill_lean", j, {{"person", 80}, {"out", 0.8}})[0] ==
          Approx(80 * units::g * 0.8 / stiffness).epsilon(0.06));
    CHECK(asked("sill_lean", j, {{"person", 80}, {"out", 0.8}, {"side", 0}})[0] ==
          Approx(asked("sill_lean", j, {{"person", 80}, {"out", 0.8}})[0]).epsilon(1e-6));
    CHECK(asked("side_push", j, {{"force", 400}, {"height", 1.5}})[0] ==
          Approx(400 * (1.5 - axis) / stiffness).epsilon(0.06));
    const double slope = 4 * units::deg;
    CHECK(asked("side_slope", j, {{"slope", slope}})[0] ==
          Approx(car::roll_and_share(car).first * units::g * std::sin(slope)).epsilon(0.02));
}

TEST_CASE("scales carry the car's weight, and twist is only shifted across diagonals by a preloaded bar") {
    Job j = examples::off_road_car();
    const auto even = asked("corner_scales", j);
    const Vehicle& v = j.vehicle;
    const double weighed =
        v.front_left_load.value + v.front_right_load.value + v.rear_left_load.value + v.rear_right_load.value;
    CHECK(even[0] + even[1] + even[2] + even[3] == Approx(weighed).epsilon(1e-9));
    CHECK(even[0] + even[1] == Approx(v.front_left_load.value + v.front_right_load.value).epsilon(1e-6));
    j.fitted.front.links.right_longer.value = 0.01;
    const auto twisted = asked("corner_scales", j);
    CHECK(std::abs(twisted[0] - even[0]) > 2);
    CHECK(twisted[0] - even[0] == Approx(-(twisted[1] - even[1])).epsilon(0.02)); // what one gains the other loses
    CHECK((twisted[0] - even[0]) * (twisted[3] - even[3]) > 0);                   // across the diagonal
    j.fitted.front.connected = false;                                             // links off
    CHECK(asked("corner_scales", j)[0] == Approx(even[0]).epsilon(1e-6));
}

TEST_CASE("bench, links: a mass over the rate, twice the unlike length, the angle at the joints") {
    Job j = examples::off_road_car();
    const double g = units::g;
    for (const double end : {0.0, 1.0}) {
        const Assembly& a = j.fitted[static_cast<std::size_t>(end)];
        CHECK(asked("bench_rig", j, {{"end", end}, {"mass", 3}})[0] == Approx(3 * g / rig_rate(a, {})).epsilon(0.02));
        CHECK(asked("bench_rig", j, {{"end", end}, {"mass", 3}, {"both", 1}})[0] ==
              Approx(3 * g / rig_rate(a, {.both_arms = true, .readings = {}})).epsilon(0.02));
    }
    AxleSetup& front = j.fitted.front;
    CHECK(asked("left_right", j)[0] == 0);
    front.links.right_longer.value = 0.004;
    // Each side's arm begins to move half the unlike length sooner or later, at the wheel by its travel per link's.
    CHECK(std::abs(asked("left_right", j)[0]) ==
          Approx(2 * 0.004 / link_per_wheel(front, j.vehicle.front)).epsilon(1e-9));
    front.links.right_longer.value = 0;
    const auto sides = study::link_sides(front, j.vehicle.front);
    const double droop = front.dampers.droop_gap.value;
    const auto hang = linkage::at((*sides)[0].end, (*sides)[0].branch, {-droop, -droop});
    REQUIRE(hang);
    const Eigen::Vector3d arm = hang->eye - (*sides)[0].end.mounts[1], link = hang->pickup - hang->eye,
                          axis = ((*sides)[0].end.mounts[1] - (*sides)[0].end.mounts[0]).normalized();
    const Eigen::Vector3d across = arm - axis * axis.dot(arm); // the arm, square to the bar's axis
    const double between = std::acos(std::abs(across.dot(link)) / across.norm() / link.norm());
    CHECK(asked("hang_check", j)[0] == Approx(between).epsilon(0.02));
    CHECK(std::isnan(asked("hang_check", j)[2])); // not before the stop
    front.dampers.droop_gap.value = 0.5;
    const auto over = asked("hang_check", j);
    CHECK(std::isnan(over[0]));
    double down = 0; // by looking every tenth of a millimetre
    while (down < 0.5 && linkage::at((*sides)[0].end, (*sides)[0].branch, {-down, -down})) down += 1e-4;
    REQUIRE(down < 0.5);
    CHECK(over[2] == Approx(down).margin(1.5e-4));
    CHECK(over[3] == Approx(over[2]).margin(1e-3));
}

TEST_CASE("bends: the lean per g times the g, the limit's speed, quasi-steady manoeuvres") {
    const Job j = examples::off_road_car();
    const car::Car car = car_with(j.vehicle, j.fitted);
    const double per_g = car::roll_and_share(car).first;
    const double speed = 7, radius = 40, lateral = speed * speed / radius;
    CHECK(asked("corner_lean", j, {{"speed", speed}, {"radius", radius}})[0] == Approx(per_g * lateral).epsilon(0.03));
    CHECK(asked("corner_lean", j, {{"speed", speed}, {"radius", radius}, {"bend", 1}})[0] ==
          Approx(per_g * lateral).epsilon(0.03));
    const balance::Model model = to_model(j.vehicle, j.fitted, car);
    const double limit = balance::outright_limit(model).lateral;
    const auto circle = asked("constant_radius", j, {{"radius", 25}, {"steady_speed", 2}, {"ratio", 15}});
    CHECK(circle[0] * circle[0] / 25 == Approx(limit).epsilon(1e-6));
    CHECK(circle[1] * circle[0] == Approx(2 * units::pi * 25));
    CHECK(circle[2] == Approx(15 * j.vehicle.wheelbase.value / 25).epsilon(0.02)); // slowly it is the bend's own
    CHECK(asked("laps", j, {{"bends", 500}, {"radius", 30}, {"rest", 40}})[0] ==
          Approx(40 + 500 / std::sqrt(30 * limit)).epsilon(1e-6));
    CHECK(asked("slip_road", j, {{"lateral", lateral / units::g}})[0] == Approx(per_g * lateral).epsilon(0.06));
    const auto step = asked("steering_step", j, {{"lateral", 0.2}});
    CHECK(step[0] > 0.97 * per_g * 0.2 * units::g);
    CHECK(step[0] < 1.6 * per_g * 0.2 * units::g);
    CHECK(step[1] > 0.02);
    CHECK(step[1] < 1);
    // A kerb at a crawl, 4 m long: the body follows the ground under it.
    const auto kerb = asked("one_step", j, {{"kerb", 0.03}, {"speed", 1}});
    const double track = (j.vehicle.front.track.value + j.vehicle.rear.track.value) / 2;
    CHECK(kerb[0] > 0.9 * std::atan(0.03 / track));
    CHECK(kerb[0] < 1.6 * std::atan(0.03 / track));
}

TEST_CASE("times of a drive change as evenly as the car does") {
    const Job j = examples::off_road_car();
    const auto with = [&](double part) {
        Job other = j;
        for (AxleSetup& a : other.fitted.both()) a.dampers.rebound_damping.value = 2300 * (1 + part);
        return std::array{asked("one_step", other, {})[1], asked("steering_step", other, {})[1]};
    };
    const auto now = with(0), more = with(0.01), most = with(0.02);
    for (std::size_t i = 0; i < 2; ++i) {
        const double once = more[i] - now[i], twice = most[i] - now[i];
        CAPTURE(i, once, twice);
        CHECK(once != 0);
        CHECK(std::abs(once) < 2.5e-3); // less than what lies between two moments of a run
        CHECK(twice == Approx(2 * once).epsilon(0.25));
    }
}

TEST_CASE("courses are clean up to where they ask as much as the car holds") {
    const Job j = examples::off_road_car();
    const car::Car car = car_with(j.vehicle, j.fitted);
    const double limit = balance::outright_limit(to_model(j.vehicle, j.fitted, car)).lateral;
    const double two_pi = 2 * units::pi;
    const double lane = asked("lane_change", j, {{"length", 25}, {"aside", 3}, {"speed", 6}})[0],
                 lane_most = std::sqrt(limit * 25 * 25 / (two_pi * 3));
    CHECK(lane <= lane_most * 1.001);
    CHECK(lane > 0.8 * lane_most);
    const auto cones = asked("slalom", j, {{"spacing", 18}, {"aside", 1.2}, {"cones", 6}});
    const double most = std::sqrt(limit * 36 * 36 / (two_pi * two_pi * 1.2));
    CHECK(cones[0] <= most * 1.001);
    CHECK(cones[0] > 0.8 * most);
    CHECK(cones[1] == Approx(5 * 18 / cones[0]));
    const auto bends = asked("s_bend", j, {{"radius", 40}, {"length", 60}, {"speed", 8}});
    CHECK(bends[0] <= std::sqrt(limit * 40) * 1.001);
    CHECK(bends[0] > 0.75 * std::sqrt(limit * 40));
    CHECK(bends[2] == Approx(120 / bends[0]));
    CHECK(std::isfinite(bends[1]));
}

TEST_CASE(
    "off the line a solid driven axle leans the car by the propshaft's torque, and a wheel spins at its own share") {
    Job j = examples::off_road_car();
    j.vehicle.handling.propshaft = Turns::Clockwise;
    const auto off = asked("straight_launch", j);
    const car::Car car = car_with(j.vehicle, j.fitted);
    const HandlingData& h = j.vehicle.handling;
    const double mass = car::loaded(car).mass + car.front.unsprung_mass + car.rear.unsprung_mass,
                 torque = mass * h.launch.value * units::g * car.rear.unsprung_height / h.axle_ratio.value;
    // The torque presses on the axle, so that the body is leant by it against the front's stiffness too.
    CHECK(std::abs(off[0]) < torque / study::roll_stiffness(car.front).whole());
    CHECK(std::abs(off[0]) > 0.02 * torque / roll_stiffness_of(car));
    j.vehicle.handling.propshaft = Turns::Anticlockwise;
    CHECK(asked("straight_launch", j)[0] == Approx(-off[0]).epsilon(0.05));
    const double grip = j.fitted.rear.tyres.grip.value;
    CHECK(off[1] > 0.2 * grip);
    CHECK(off[1] < grip);
}

TEST_CASE("every kind of test is looked at above, answers as many figures as it reads, and says how it is done") {
    const Job j = examples::off_road_car();
    std::set<std::string> keys;
    for (const Protocol& p : protocols()) {
        CAPTURE(p.key);
        CHECK(keys.insert(p.key).second);
        CHECK(p.answers(settings_of(p, {}))({j.vehicle, j.fitted}).size() == p.channels.size());
        CHECK(p.needs.size() > 0);
        CHECK(p.steps.size() > 0);
        CHECK(std::string(p.caution).size() > 20);
        CHECK(std::string(p.ends).size() > 10);
        for (const Scale& s : scales_of(p)) CHECK(std::string(s.low) != s.high);
        for (const Channel& c : p.channels) {
            CHECK((c.read_to > 0 || c.read_share > 0));
            if (c.ends_at) CHECK(settings_of(p, {}).contains(c.ends_at));
        }
    }
    CHECK(keys.size() == 24);
    CHECK_THROWS_WITH(protocol("jump"), Catch::Contains("diagonal_ramps"));
}

TEST_CASE("back to back: the interval of a difference holds it in 86 to 94 of 100 tests of made-up cars that drift") {
    examples::Random random;
    std::normal_distribution<double> normal;
    const auto simulated = [&](const std::vector<int>& order, double spread, int tests) {
        int held = 0;
        double wide = 0, apart = 0;
        for (int i = 0; i < tests; ++i) {
            PlannedTest t;
            t.protocol = "diagonal_ramps";
            t.read_to = {{"height", 0.004}};
            t.states.resize(2);
            const double shared = 0.05 * normal(random.engine), drift = 0.003 * normal(random.engine), truth = 0.02;
            for (std::size_t r = 0; r < order.size(); ++r) {
                Run& run = t.runs.emplace_back();
                run.state = order[r];
                run.readings.push_back({"height",
                                        0.3 + shared + drift * static_cast<double>(r) + (order[r] ? truth : 0) +
                                            spread * normal(random.engine),
                                        Bound::Exact,
                                        {}});
            }
            const auto b = back_to_back(t, 0, 0, 1);
            REQUIRE(b);
            REQUIRE(b->drift);
            held += std::abs(b->difference - truth) <= b->half_90;
            wide += b->half_90 / tests;
            apart += b->apart_half_90 / tests;
        }
        CAPTURE(order.size(), spread, wide, apart);
        CHECK(held > 0.86 * tests);
        CHECK(held < 0.94 * tests);
    };
    simulated({0, 1, 0}, 0.004, 4000);
    simulated({0, 1, 0, 1, 0}, 0.004, 4000);
    simulated({1, 0, 0, 1, 1, 0}, 0.004, 4000);
    simulated({0, 1, 0, 1, 0, 1, 0, 1, 0}, 0.012, 4000); // it scatters more than the tool
    // Without a return the drift cannot be told, and is not claimed to be.
    PlannedTest once;
    once.protocol = "diagonal_ramps";
    once.states.resize(2);
    for (const int s : {0, 1}) {
        Run& run = once.runs.emplace_back();
        run.state = s;
        run.readings.push_back({"height", 0.3, Bound::Exact, {}});
    }
    CHECK_FALSE(back_to_back(once, 0, 0, 1)->drift);
    CHECK(unlike(once, 0, 1) == std::vector{Unlike::NoReturn});
}

TEST_CASE(
    "what both setups share cancels: a change of the bar alone is foretold three times closer than by two tests") {
    Job j = examples::off_road_car();
    for (Measured* m : {&j.fitted.front.bar.outer_diameter, &j.fitted.front.bar.centre_length,
                        &j.fitted.front.bar.eyes[0].arm_length, &j.fitted.front.bar.arm_end})
        *m = {m->value, 0.05e-3, Source::Measured}; // bars are measured; the car is guessed
    Setup stiff = j.fitted;
    stiff.front.bar.outer_diameter.value *= 1.08;
    PlannedTest t;
    t.protocol = "sill_lean";
    t.states = {{"as it is", {j.vehicle, j.fitted}, {}}, {"stiffer", {j.vehicle, stiff}, {}}};
    t.order = {0, 1, 0};
    const auto all = predict(t);
    for (std::size_t s = 0; s < 2; ++s) t.states[s].prediction = all[s];
    const auto foretold = predicted_difference(t, 0, 0, 1);
    REQUIRE(foretold);
    CHECK(foretold->first == Approx(all[1].value[0] - all[0].value[0]));
    CHECK(3 * foretold->second < std::hypot(all[0].sigma[0], all[1].sigma[0]));
}

TEST_CASE("the chance to tell two setups apart is that of tests of made-up cars, within 5 in 100") {
    examples::Random random;
    std::normal_distribution<double> normal;
    for (const double difference : {0.0, 0.006, 0.012, 0.02}) {
        PlannedTest t;
        t.protocol = "diagonal_ramps";
        t.read_to = {{"height", 0.004}};
        t.states.resize(2);
        t.order = {0, 1, 0, 1, 0};
        for (int s = 0; s < 2; ++s) {
            Prediction& p = t.states[static_cast<std::size_t>(s)].prediction;
            p.made = true;
            p.value.assign(5, s * difference);
            p.sigma.assign(5, 0.003);
            p.tells.assign(5, PredictedValue);
            p.shares = {{s ? "trial/front/bar/outer_diameter" : "vehicle/wheelbase", "", {0.003, 0, 0, 0, 0}}};
        }
        const auto said = power(t, 0, 0, 1);
        REQUIRE(said);
        CHECK(said->predicted_sigma == Approx(0.003 * std::sqrt(2.0)));
        int told = 0;
        constexpr int tests = 4000;
        for (int i = 0; i < tests; ++i) {
            const double truth = difference + said->predicted_sigma * normal(random.engine);
            t.runs.clear();
            for (const int s : t.order) {
                Run& run = t.runs.emplace_back();
                run.state = s;
                run.readings.push_back({"height", 0.3 + s * truth + 0.004 * normal(random.engine), Bound::Exact, {}});
            }
            const auto b = back_to_back(t, 0, 0, 1);
            told += b->difference > b->half_90;
        }
        CAPTURE(difference, said->chance, said->smallest);
        CHECK(std::abs(static_cast<double>(told) / tests - said->chance) < 0.05);
    }
}

TEST_CASE("a slip of unit, digit, sign, side or two digits is asked about, and an honest reading is not") {
    PlannedTest t;
    t.protocol = "diagonal_ramps";
    t.read_to = {{"height", 0.002}};
    t.states.resize(1);
    const auto run = [&](double height, double left, double right) {
        Run& r = t.runs.emplace_back();
        r.readings = {{"height", height, Bound::Exact, {}},
                      {"front_left", left, Bound::Exact, {}},
                      {"front_right", right, Bound::Exact, {}}};
    };
    run(0.331, 0.097, -0.074);
    run(0.336, 0.099, -0.075);
    run(0.334, 0.098, -0.073);
    const auto look = [&](std::size_t channel) { return slip(t, 2, channel, units::System::Metric); };
    for (std::size_t c = 0; c < 3; ++c) CHECK_FALSE(look(c));
    const auto with = [&](std::size_t channel, double value) {
        PlannedTest tried = t;
        tried.runs[2].readings[channel].value = value;
        return slip(tried, 2, channel, units::System::Metric);
    };
    CHECK(with(0, 0.334 / 25.4)->kind == Slip::Kind::Unit);
    CHECK(with(0, 3.34)->kind == Slip::Kind::Digit);
    CHECK(with(0, 3.34)->meant == Approx(0.334));
    CHECK(with(2, 0.074)->kind == Slip::Kind::Sign);
    CHECK(with(1, -0.074)->kind == Slip::Kind::Side);
    CHECK(with(0, 0.433)->kind == Slip::Kind::Far); // no swap of two neighbours makes it 334
    PlannedTest swapped = t;
    swapped.runs[2].readings[0].value = 0.353; // 335 with its last two digits swapped
    CHECK(slip(swapped, 2, 0, units::System::Metric)->kind == Slip::Kind::Swapped);
    CHECK(with(0, 0.41)->kind == Slip::Kind::Far);
}

TEST_CASE(
    "a bar that is idle is among what would explain the reading, and the input that would take most is not first") {
    const Job j = examples::off_road_car();
    PlannedTest t;
    t.protocol = "corner_lean";
    t.read_to = {{"lean", 0.02 * units::deg}};
    t.states = {{"as it is", {j.vehicle, j.fitted}, {}}};
    t.states[0].prediction = predict(t)[0];
    // Of a car that is well measured, so that a fault stands out.
    for (double& s : t.states[0].prediction.sigma) s *= 0.2;
    Setup idle = j.fitted;
    idle.front.connected = false;
    Job broken = j;
    broken.fitted = idle;
    t.runs.emplace_back().readings.push_back({"lean", asked("corner_lean", broken)[0], Bound::Exact, {}});
    CHECK(compare(t, 0, 0).agreement == Agreement::Disagrees);
    const auto found = faults(t, 0, {});
    REQUIRE_FALSE(found.empty());
    CHECK(std::ranges::any_of(found,
                              [](const Fault& f) { return f.what == Fault::What::LinkOff && f.end == End::Front; }));
    CHECK(std::ranges::none_of(found, [](const Fault& f) { return f.what == Fault::What::OtherSetup; }));
    idle.name = "front bar off";
    const auto taken_for_idle = [&](const PlannedTest& of) {
        return std::ranges::any_of(faults(of, 0, {idle}), [](const Fault& f) { return f.setup == "front bar off"; });
    };
    CHECK(taken_for_idle(t));
    // Not where that setup was run in the same test and read otherwise.
    PlannedTest both = t;
    both.states.push_back({"front bar off", {j.vehicle, idle}, both.states[0].prediction});
    Run run = t.runs[0];
    run.state = 1;
    run.readings[0].value += 1 * units::deg;
    both.runs.push_back(run);
    CHECK_FALSE(taken_for_idle(both));
    both.runs[1].readings[0].value = t.runs[0].readings[0].value;
    CHECK(taken_for_idle(both));
    const auto inputs = culprits(t, 0, 0, 50);
    CHECK(std::ranges::is_sorted(inputs, {}, [](const Culprit& c) { return std::abs(c.sigmas); }));
}

TEST_CASE("guesses are held against what was read, and marks against each other") {
    PlannedTest t;
    t.protocol = "road_drive";
    t.states.resize(2);
    const char* scales[] = {"entry", "middle", "exit", "ride"};
    for (int s = 0; s < 2; ++s) {
        Run& run = t.runs.emplace_back();
        run.state = s;
        for (int k = 0; k < 4; ++k) {
            run.impressions.push_back({"Oke", scales[k], 2.0 + k + 3 * s});
            run.impressions.push_back({"Marit", scales[k], 1 + 0.5 * k + 2 * s});
            run.impressions.push_back({"Tam", scales[k], 9.0 - k - 3 * s});
        }
    }
    CHECK(*agreement_of(t, "Oke", "Marit") > 0.9);
    CHECK(*agreement_of(t, "Oke", "Tam") == Approx(-1));
    CHECK_FALSE(agreement_of(t, "Oke", "Isa"));
    CHECK(people_of(t) == std::vector<std::string>{"Oke", "Marit", "Tam"});
    Job j;
    PlannedTest ramps;
    ramps.protocol = "diagonal_ramps";
    ramps.states.resize(2);
    for (const auto& [state, height] : {std::pair{0, 0.30}, {1, 0.34}, {0, 0.30}}) {
        Run& run = ramps.runs.emplace_back();
        run.state = state;
        run.readings.push_back({"height", height, Bound::Exact, {}});
    }
    ramps.guesses = {{"Oke", 0, 0, Guess::Kind::Number, 0.31, 0.02},
                     {"Oke", 1, 0, Guess::Kind::Number, 0.40, 0.02},
                     {"Marit", 1, 0, Guess::Kind::Less, 0, 0}};
    CHECK(guessed(ramps, ramps.guesses[0])->right);
    CHECK_FALSE(guessed(ramps, ramps.guesses[1])->right);
    CHECK_FALSE(guessed(ramps, ramps.guesses[2])->right);
    j.tests = {ramps};
    const auto all = eyes(j);
    REQUIRE(all.size() == 2);
    CHECK(all[1].person == "Oke");
    CHECK(all[1].sizes_right == 2);
    CHECK(all[1].spans_hold == 1);
    CHECK(all[1].directions_right == 1);
    CHECK(*all[1].bold == Approx(0.09 / 0.04));
    PlannedTest speeds = ramps; // in metres a second: the larger numbers do not outweigh the rest
    speeds.protocol = "slalom";
    for (Run& run : speeds.runs) run.readings = {{"clean", run.readings[0].value * 40, Bound::Exact, {}}};
    for (Guess& g : speeds.guesses) g.value *= 40;
    speeds.guesses[1].value = 13.6; // and of the right boldness
    j.tests = {ramps, speeds};
    CHECK(*eyes(j)[1].bold == Approx((0.09 / 0.04 + 1.2 / 1.6) / 2));
    CHECK(all[0].directions == 1);
    CHECK(all[0].directions_right == 0);
}

TEST_CASE("a test of a car of another size is asked at its size, and stands as it was predicted") {
    const auto settings_for = [](CarKind kind, const Protocol& p) {
        NewCar asked;
        asked.kind = kind;
        asked.suspension = usual_suspension(kind);
        const Job j = new_car(asked);
        PlannedTest t;
        t.protocol = p.key;
        t.states.push_back({"as it is", {j.vehicle, j.fitted}, {}});
        return t;
    };
    for (const Protocol& p : protocols()) {
        const PlannedTest small = settings_for(CarKind::Model, p), usual = settings_for(CarKind::Family, p);
        const Settings s = settings_of(p, small), u = settings_of(p, usual);
        INFO(p.key);
        for (const Setting& one : p.settings) CHECK(u.at(one.spec.key) == one.usual);
        // A tenth as long; bends at the same g.
        const double size = small.states[0].car.vehicle.front.track.value / 1.5;
        for (const Setting& one : p.settings)
            if (one.spec.quantity == units::Quantity::Length && one.spec.lowest < size * one.usual)
                CHECK(s.at(one.spec.key) == Approx(size * one.usual).epsilon(0.05));
        if (s.contains("speed") && s.contains("radius"))
            CHECK(std::pow(s.at("speed"), 2) / s.at("radius") ==
                  Approx(std::pow(u.at("speed"), 2) / u.at("radius")).epsilon(0.2));
        for (const Channel& c : p.channels)
            if (c.spec.quantity == units::Quantity::Length && c.spec.tool != Tool::Calliper) {
                CHECK(read_to(small, c, 0) < 0.15 * read_to(usual, c, 0));
                CHECK(apart(small, c) < 0.15 * c.apart + 1e-12);
            }
        // Said with its prediction, it stays so whatever becomes usual; a usual car's is as it was.
        PlannedTest kept = said(small);
        kept.states[0].prediction.made = true;
        CHECK(settings_of(p, kept) == s);
        for (const Channel& c : p.channels) CHECK(read_to(kept, c, 0) == read_to(small, c, 0));
        CHECK(said(usual) == usual);
        if (!p.channels.empty() && !p.in_time) { // what others would tell is judged by readings of its size too
            const PlannedTest by_sum = predicted(small);
            CHECK(by_sum.predicted());
            for (const Channel& c : p.channels) CHECK(read_to(by_sum, c, 0) == read_to(small, c, 0));
        }
        const PlannedTest other = as_kind(kept, protocol("sill_lean"));
        CHECK((other.settings.empty() && other.read_to.empty() && !other.predicted()));
    }
    // An older test of a small car that said nothing stays as it was predicted.
    PlannedTest old = settings_for(CarKind::Model, protocol("diagonal_ramps"));
    old.states[0].prediction.made = true;
    CHECK(settings_of(protocol("diagonal_ramps"), old).at("ramp_height") == 0.8);
}

TEST_CASE("a practice question has one answer that its own figures give, and the same seed asks the same") {
    for (unsigned seed = 1; seed <= 12; ++seed) {
        const Practice p = practice(seed), again = practice(seed);
        CHECK(p.choices == again.choices);
        CHECK(p.figures == again.figures);
        REQUIRE(p.answer < p.choices.size());
        if (p.kind == Practice::Kind::FlexesMost) CHECK(p.figures[p.answer] == std::ranges::max(p.figures));
        if (p.kind == Practice::Kind::LeansLeast) CHECK(p.figures[p.answer] == std::ranges::min(p.figures));
        // No question whose answers are as good as one another.
        for (std::size_t i = 0; i < p.figures.size(); ++i) {
            if (i == p.answer || p.kind == Practice::Kind::GivesUpFirst) continue;
            const double more = std::max(p.figures[i], p.figures[p.answer]),
                         less = std::min(p.figures[i], p.figures[p.answer]);
            INFO(seed << ", " << p.choices[i]);
            CHECK(more - less > 0.0199 * p.figures[p.answer]);
        }
    }
}

} // namespace tests::of_prove
