#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/model/check.h"
#include "core/model/model.h"
#include "core/model/room.h"
#include "core/model/tyres.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/links.h"
#include "core/sure/bands.h"
#include "core/sure/compare.h"
#include "core/sure/questions.h"

#include <catch2/catch.hpp>

namespace tests::of_job {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::sure;

using units::System;

namespace {
FieldSpec spec_of(const char* path) {
    Job j = blank();
    return field(j, path)->spec;
}

std::string told(auto&& f) {
    try {
        f();
    } catch (const BadInput& e) {
        return e.what();
    }
    return "";
}
} // namespace

TEST_CASE("a blank job computes, all of it marked assumed") {
    Job j = blank();
    CHECK_NOTHROW(check(j));
    for (const FieldRef& f : fields(j)) CHECK(f.value->source == Source::Assumed);
    const Assessment a = assess(j.vehicle, j.fitted);
    CHECK(a.outcomes[RollGradient] > 0);
    CHECK(a.front->eye_rate > a.rear->eye_rate); // 22 mm against 18
}

TEST_CASE("typed text becomes a value, or an error that says what, where and what would be right") {
    const FieldSpec diameter = spec_of("trial/front/bar/outer_diameter"), wall = spec_of("trial/front/bar/wall");
    const auto read = [](const char* text, const FieldSpec& s, System system = System::Metric) {
        return parse(text, s, system, "here");
    };
    CHECK(read(" 26,5 mm", diameter) == Approx(0.0265));
    CHECK(read("1.043", diameter, System::Inch) == Approx(0.0264922));
    CHECK(read("solid", wall) == 0);
    CHECK_THAT(told([&] { read("950", diameter); }),
               Catch::Contains("here") && Catch::Contains("950 mm cannot be") && Catch::Contains("0.2 mm to 100 mm"));
    CHECK_THAT(told([&] { read("950", diameter); }), Catch::Contains("thousandths of an inch? That would be 24.1 mm"));
    CHECK_THAT(told([&] { read("", diameter); }), Catch::Contains("empty") && Catch::Contains("give a number in mm"));
    for (const char* bad : {"abc", "nan", "inf", "12 13", "--4"})
        CHECK_THAT(told([&] { read(bad, diameter); }), Catch::Contains("not a number"));
    CHECK_THAT(told([&] { read("-3", spec_of("vehicle/front_left_load")); }), Catch::Contains("cannot be"));
}

TEST_CASE("what is shown reads back as the same value") {
    Job j = blank();
    for (const System system : {System::Metric, System::Inch, System::InchMetricRates})
        for (const FieldRef& f : fields(j)) {
            const double back = parse(show(f.value->value, f.spec, system), f.spec, system, f.path);
            if (std::isfinite(f.value->value))
                CHECK(back == Approx(f.value->value).epsilon(0.006).margin(1e-6));
            else
                CHECK(back == f.value->value);
        }
}

TEST_CASE("sizes that do not fit together are told at the field that can mend them") {
    const auto fails_at = [](auto&& change) {
        Job j = blank();
        change(j);
        try {
            check(j);
        } catch (const BadInput& e) {
            return e.where();
        }
        return std::string("nowhere");
    };
    CHECK(fails_at([](Job& j) { j.trial.front.bar.wall.value = 0.012; }) == "trial/front/bar/wall");
    CHECK(fails_at([](Job& j) { j.trial.front.bar.eyes[0].arm_length.value = 0.26; }) ==
          "trial/front/bar/eyes/0/arm_length");
    CHECK(fails_at([](Job& j) { j.fitted.rear.mounts.spacing.value = 0.94; }) == "fitted/rear/mounts/spacing");
    CHECK(fails_at([](Job& j) { j.trial.rear.left_eye = 3; }) == "trial/rear/left_eye");
    CHECK(fails_at([](Job& j) { j.vehicle.front.unsprung_mass.value = 900; }) == "vehicle/front/unsprung_mass");
    CHECK(fails_at([](Job& j) { j.vehicle.front.track.value = -1; }) == "vehicle/front/track");
}

TEST_CASE("what cannot be is told where it was changed, and a bar that was so before is no other change's fault") {
    const Job sound = blank();
    Job bad = sound;
    bad.trial.front.bar.wall.value = 0.02; // more than half its diameter
    CHECK_THAT(told([&] { check_cars(bad, &sound); }), Catch::Contains("trial/front/bar/wall"));
    Job longer = bad;
    longer.vehicle.wheelbase.value += 0.1;
    CHECK_NOTHROW(check_cars(longer, &bad));
    CHECK_THROWS_AS(check_cars(longer), BadInput);
    longer.vehicle.wheelbase.value = -1;
    CHECK_THAT(told([&] { check_cars(longer, &bad); }), Catch::Contains("vehicle/"));
}

TEST_CASE("figures taken from what was assessed before are those worked out anew, whatever was changed") {
    const Job was = blank();
    const Assessment before = assess(was.vehicle, was.trial);
    int changed = 0;
    for (std::size_t i = 0; i < fields(was).size(); ++i) {
        Job now = was;
        FieldRef f = fields(now)[i];
        f.value->value = f.value->value == 0 ? 1e-3 : 1.02 * f.value->value;
        try {
            const Assessment anew = assess(now.vehicle, now.trial),
                             taken = assess(now.vehicle, now.trial, {was.vehicle, was.trial, before});
            INFO(f.path);
            CHECK(taken.outcomes == anew.outcomes);
            changed += anew.outcomes != before.outcomes;
        } catch (const BadInput&) { // a hundredth more of it cannot be
        }
    }
    CHECK(changed > 50);
}

TEST_CASE("rates at the wheel: the motion ratio counts squared, a solid axle's bar by where its links are") {
    Job j = blank();
    AxleData a = j.vehicle.front;
    const AxleSetup& bar = j.trial.front;
    a.motion_ratio.value = 0.5;
    CHECK(link_per_wheel(bar, a) == Approx(0.5));
    CHECK(roll_lever(bar, a) == Approx(0.25 * 1.5 * 1.5 / 2));
    a.kind = AxleKind::Solid;
    CHECK(roll_lever(bar, a) == Approx(0.95 * 0.95 / 2)); // between the arms; no motion ratio from heave
    CHECK(link_per_wheel(bar, a) == Approx(0.95 / 1.5));
    j.trial.front.connected = false;
    CHECK(bar_figures(j.trial.front, j.vehicle.front)->roll_stiffness == 0);
    CHECK_FALSE(car_with(j.vehicle, j.trial).front.linkage);
}

TEST_CASE("a solid axle's bar is the stiffer on the car the further apart its links are") {
    Job j = blank();
    AxleData a = j.vehicle.front;
    a.kind = AxleKind::Solid;
    double last = 1e99;
    for (const double between_arms : {0.866, 0.6, 0.4}) { // pick-ups under the eyes
        AxleSetup bar = j.trial.front;
        bar.bar.centre_length.value = between_arms;
        bar.mounts.spacing.value = 0.25;
        const BarFigures f = *bar_figures(bar, a);
        const double lever = between_arms / a.track.value;
        CHECK(f.roll_stiffness == Approx(f.wheel_rate * a.track.value * a.track.value / 2).epsilon(1e-9));
        CHECK(f.wheel_rate == Approx(f.link_rate * lever * lever).epsilon(1e-6));
        CHECK(f.roll_stiffness < last);
        last = f.roll_stiffness;
    }
}

TEST_CASE("a little play takes no bar out of a bump under one wheel") {
    Job j = blank();
    const auto bumps = [&] {
        return balance_figures(j.vehicle, j.trial, car_with(j.vehicle, j.trial), Ground::Dry).bump;
    };
    const auto tight = bumps();
    j.trial.front.links.play.value = j.trial.rear.links.play.value = 0.05e-3;
    const auto loose = bumps();
    for (std::size_t e = 0; e < 2; ++e) {
        CHECK(loose[e].harshness > 1 + 0.9 * (tight[e].harshness - 1));
        CHECK(loose[e].harshness < tight[e].harshness);
    }
    // By hand: 10 mm less the play, over 10 mm, of the bar's one-sided rate.
    const car::Car car = car_with(j.vehicle, j.trial);
    const double force = (*car.front.linkage)({0.01, 0}).force[0];
    CHECK(
        loose[0].one_wheel_rate ==
        Approx(car.front.spring_rate + force / 0.01 + car.front.parasitic_roll_stiffness / (1.5 * 1.5)).epsilon(1e-3));
}

TEST_CASE("corner weights give the centre of mass and the twist") {
    Job j = blank();
    j.vehicle.front_left_load.value += 20;
    j.vehicle.rear_right_load.value += 20;
    const car::Car c = to_car(j.vehicle, j.trial);
    CHECK(c.cg_left == Approx(0).margin(1e-12));
    CHECK(c.twist == Approx(20 * units::g * 0.75));
    const car::State s = car::settle(c, {});
    CHECK(s.wheels[0].load == Approx(370 * units::g));
    CHECK(s.wheels[2].load == Approx(350 * units::g));
}

TEST_CASE("a diameter's spread comes out four times on the rate, and measuring it well removes it") {
    Job j = blank();
    for (FieldRef& f : fields(j)) f.value->sigma = 0;
    Measured& d = j.trial.front.bar.outer_diameter;
    d.sigma = 0.01 * d.value;
    const Bands b = bands(j.vehicle, j.trial);
    const double k = assess(j.vehicle, j.trial).outcomes[FrontRate];
    CHECK(b.sigma[FrontRate] / k == Approx(std::hypot(0.04, beam_model_sigma)).epsilon(0.05));
    CHECK(measure_next(b, FrontRate, 1).front().first == "Bar, outer diameter");
    CHECK(b.sigma[RearRate] == Approx(beam_model_sigma * assess(j.vehicle, j.trial).outcomes[RearRate]).epsilon(1e-6));
    d.sigma = 0;
    CHECK(bands(j.vehicle, j.trial).sigma[FrontRate] == Approx(beam_model_sigma * k).epsilon(1e-6));
    CHECK(bands(j.vehicle, j.trial, [] { return true; }).shares.empty()); // cancelled at once
}

TEST_CASE("the eye ladder is symmetric and stiffens towards the axis") {
    Job j = blank();
    j.trial.front.bar.eyes = {{{0.24}}, {{0.22}}, {{0.2}}};
    const auto ladder = eye_ladder(j.trial.front, j.vehicle.front);
    REQUIRE(ladder.size() == 3);
    CHECK(ladder[0][2] == Approx(ladder[2][0]));
    CHECK(ladder[0][0] < ladder[0][1]);
    CHECK(ladder[1][1] < ladder[2][2]);
}

TEST_CASE("usual spreads follow the source and the tool") {
    const FieldSpec diameter = spec_of("trial/front/bar/outer_diameter"), scale = spec_of("vehicle/front_left_load"),
                    wall = spec_of("trial/front/bar/wall");
    CHECK(usual_sigma(diameter, Source::Measured, 0.026) == Approx(0.05e-3));
    CHECK(usual_sigma(diameter, Source::Quoted, 0.026) == Approx(0.03 * 0.026));
    CHECK(usual_sigma(scale, Source::Measured, 400) == Approx(2));
    CHECK(usual_sigma(scale, Source::Assumed, 400) == Approx(60));
    CHECK(usual_sigma(wall, Source::Assumed, 0) == 0);
}

TEST_CASE("every outcome of either bar is that bar's own, two unlike bars on unlike axles") {
    Job j = blank();
    j.trial.rear = j.trial.front;
    j.trial.rear.fitted = true;
    j.trial.rear.bar.outer_diameter.value = 17e-3;
    j.trial.rear.bar.yield_strength.value = 700e6;
    j.trial.rear.links.tilt.value = 0.4;
    j.vehicle.rear.track.value = 1.41;
    j.vehicle.rear.motion_ratio.value = 0.6;
    const Assessment a = assess(j.vehicle, j.trial);
    for (const End end : both_ends) {
        CAPTURE(end);
        const AxleSetup& as = j.trial[end];
        const AxleData& axle = j.vehicle[end];
        const auto of = [&](Outcome of_front) { return a.outcomes[at(of_front, end)]; };
        const bar::Solution solved = solve(as);
        const double link = bar::roll_rate(solved.at_links), gear = axle.motion_ratio.value;
        CHECK(of(FrontRate) == Approx(bar::roll_rate(solved.at_eyes)));
        CHECK(of(FrontWheelRate) == Approx(link * gear * gear).epsilon(1e-6));
        CHECK(of(FrontOneSide) == Approx(solved.at_links(0, 0)));
        CHECK(of(FrontRollStiffness) ==
              Approx(link * gear * gear * axle.track.value * axle.track.value / 2).epsilon(1e-6));
        CHECK(of(FrontYieldTravel) > 0.01);
        CHECK(of(FrontLinkMargin) == tightest_angle(to_ends(as, axle), as, to_room(as, axle)).left);
    }
    // The thinner bar of softer steel yields later by its diameter and sooner by its steel, and by its gear at the
    // wheel.
    CHECK(a.outcomes[RearYieldTravel] / a.outcomes[FrontYieldTravel] ==
          Approx(700e6 / j.trial.front.bar.yield_strength.value * j.trial.front.bar.outer_diameter.value / 17e-3 *
                 j.vehicle.front.motion_ratio.value / 0.6)
              .epsilon(0.12));
    CHECK(a.outcomes[FrontTravel] == a.ascent.front_travel);
    CHECK(a.outcomes[RearTravel] == a.ascent.rear_travel);
    CHECK(a.outcomes[LinkMargin] == std::min(a.outcomes[FrontLinkMargin], a.outcomes[RearLinkMargin]));
}

TEST_CASE("lowering a new car is not surely better or worse for its lean by what nobody said of its roll centres") {
    for (const CarKind kind : {CarKind::Small, CarKind::Family, CarKind::TwoSeater, CarKind::Van}) {
        NewCar asked{"tried", kind};
        asked.suspension = usual_suspension(kind);
        const Job j = new_car(asked);
        Setup low = j.trial;
        for (AxleSetup& a : low.both()) a.stand.lift.value = -0.03;
        const sure::Figures now = sure::figures_of(j.vehicle, j.trial), then = sure::figures_of(j.vehicle, low);
        INFO(name_of(kind));
        CHECK(sure::how_sure(sure::changes(j.trial, now, low, then)[study::RollGradient]) != sure::Sure::Surely);
    }
}

TEST_CASE("a pair of wheels a side is two tyres with half of the load each") {
    Job j = new_car({"bus", CarKind::Truck, Driven::Rear, usual_suspension(CarKind::Truck)});
    REQUIRE(j.vehicle.rear.wheels_a_side == WheelsASide::Two);
    for (AxleSetup& a : j.trial.both()) a.tyres.nominal_load.value = 25000;
    const balance::Model pair = model::to_model(j.vehicle, j.trial, model::car_with(j.vehicle, j.trial));
    j.vehicle.rear.wheels_a_side = WheelsASide::One;
    const balance::Model one = model::to_model(j.vehicle, j.trial, model::car_with(j.vehicle, j.trial));
    CHECK(pair.car.rear.tyre_rate == Approx(2 * one.car.rear.tyre_rate));
    for (const double load : {10e3, 30e3, 60e3})
        for (const double slip : {0.01, 0.05, 0.12})
            CHECK(balance::lateral_force(pair.axle.rear.tyre[0], {}, load, slip, 0, 0) ==
                  Approx(2 * balance::lateral_force(one.axle.rear.tyre[0], {}, load / 2, slip, 0, 0)));
    CHECK(balance::outright_limit(pair).first == balance::Gives::Tips);
}

TEST_CASE("how much the rear grips more than the front widens who gives up first as far as it moves it") {
    Job j = new_car({"saloon", CarKind::Family});
    const auto with = [&](double grip) {
        j.vehicle.handling.rear_grip.value = grip;
        const car::Car car = model::car_with(j.vehicle, j.trial);
        return sure::balance_of(balance::outright_limit(model::to_model(j.vehicle, j.trial, car)));
    };
    const double apart = (with(1.04) - with(0.96)) / 2;
    with(1);
    CHECK(std::abs(apart) > 0.03);
    const sure::Bands bands = sure::limit_bands(j.vehicle, j.trial, Ground::Dry);
    const auto share = std::ranges::find(bands.shares, "vehicle/handling/rear_grip", &sure::Share::path);
    REQUIRE(share != bands.shares.end());
    CHECK(std::abs(share->change[sure::LimitBalance]) == Approx(std::abs(apart)).epsilon(0.1));
}

TEST_CASE("a new car of every kind, drive and suspension computes, and every figure of it is a guess with a spread") {
    for (const CarKind kind : all_car_kinds)
        for (const Driven driven : {Driven::Front, Driven::Rear, Driven::All})
            for (const AxleKind rear : {AxleKind::Independent, AxleKind::Solid})
                for (const bool bars : {true, false}) {
                    NewCar asked{"tried", kind, driven, {AxleKind::Independent, rear}, {bars, bars}};
                    if (rear == AxleKind::Solid && usual_suspension(kind).front == rear) asked.suspension.front = rear;
                    Job j = new_car(asked);
                    INFO(name_of(kind) << (bars ? "" : " without bars"));
                    CHECK(nothing_tried(j));
                    model::check(j);
                    const study::Assessment a = study::assess(j.vehicle, j.trial);
                    CHECK((a.outcomes[study::RollGradient] > 0.5 * units::deg / units::g &&
                           a.outcomes[study::RollGradient] < 14 * units::deg / units::g));
                    CHECK((a.outcomes[study::FrontShare] > 0.2 && a.outcomes[study::FrontShare] < 0.9));
                    CHECK(j.vehicle.handling.driven == driven);
                    CHECK(j.fitted.front.fitted == bars);
                    for (const FieldRef& f : fields(j)) {
                        INFO(f.path);
                        CHECK(f.value->source == Source::Assumed);
                    }
                    CHECK(j.vehicle.wheelbase.sigma > 0);
                    CHECK(j.vehicle.front.roll_centre_height.sigma > 0);
                }
}

} // namespace tests::of_job
