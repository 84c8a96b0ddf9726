#include "core/study/use.h"
#include "core/car/handling.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/say/use_words.h"
#include "examples.h"

#include <catch2/catch.hpp>

namespace tests::of_use {
using namespace dervish;
using namespace dervish::study;

TEST_CASE("every use has bands that can be met and a reason, and the job's own figures take their place") {
    for (int i = 0; i <= static_cast<int>(Use::Model); ++i) {
        UseData use{static_cast<Use>(i)};
        const UseBands usual = bands_of(use);
        CAPTURE(say::words_of(use.use).name);
        CHECK(usual.lean.least < usual.lean.most);
        CHECK(usual.balance.least < usual.balance.most);
        CHECK(usual.head.most > 0);
        CHECK(usual.reserve.least >= 0);
        CHECK(std::string(say::words_of(use.use).reason).size() > 20);
        use.lean_most = {0.04, 0, Source::Assumed};
        use.reserve_least = {0.4, 0, Source::Assumed};
        const UseBands own = bands_of(use);
        CHECK(own.lean.most == 0.04);
        CHECK(own.lean.least == usual.lean.least);
        CHECK(own.reserve.least == Approx(0.4 * units::g));
        CHECK(own.lean.side(0.041) == 1);
        CHECK(own.lean.side(0.039) == 0);
        CHECK(own.lean.side(own.lean.least - 1e-4) == -1);
    }
    // Flat for smooth tracks, following the ground on rocks.
    CHECK(usual_bands(Use::RaceSmooth).lean.most < usual_bands(Use::Road).lean.least);
    CHECK(usual_bands(Use::Road).lean.most <= usual_bands(Use::Rocks).lean.least);
}

TEST_CASE("where a car stands is its own lean, balance, ride and reserve") {
    const Job job = blank();
    const car::Car car = car_with(job.vehicle, job.trial);
    const UseFigures f = use_figures(job.vehicle, job.trial, car);
    CHECK(f.lean == Approx(car::roll_and_share(car).first));
    const balance::Model model = to_model(job.vehicle, job.trial, car);
    const balance::Limit limit = balance::outright_limit(model);
    CHECK(f.balance == Approx(balance_of(limit)));
    const auto over = car::rollover_threshold(car);
    CHECK(f.reserve == (over ? Approx(over->acceleration - limit.lateral) : Approx(INFINITY)));
    CHECK(f.head == Approx(ride_of(to_model(job.vehicle, job.trial, car, Ground::DryPatched)).head));
}

TEST_CASE("bars matched to tyres hold at least what is fitted, at the best of all pairs tried by hand") {
    const Job job = blank();
    const balance::Model model = to_model(job.vehicle, job.trial, car_with(job.vehicle, job.trial), Ground::WetPatched);
    const auto match = match_to_tyre(model);
    REQUIRE(match.size() == 7);
    double last = 0;
    for (const Match& m : match) {
        CHECK(m.best.lateral >= m.now.lateral);
        CHECK(m.now.lateral > last);
        last = m.now.lateral;
    }
    balance::Model sticky = model;
    for (balance::AxleGrip& a : sticky.axle.both())
        for (balance::Tyre& t : a.tyre) t.grip *= match.back().grip;
    double best = 0;
    for (const double front : {0.0, 0.5, 1.0, 2.0, 4.0})
        for (const double rear : {0.0, 0.5, 1.0, 2.0, 4.0}) {
            balance::Model m = sticky;
            m.car = with_bar(with_bar(sticky.car, End::Front, front), End::Rear, rear);
            m.load_spread = ride_of(m).grips;
            best = std::max(best, balance::outright_limit(m).lateral);
        }
    CHECK(match.back().best.lateral == Approx(best).epsilon(0.0021));
    int asked = 0;
    CHECK(match_to_tyre(model, [&] { return ++asked > 30; }).size() == 1); // it can be stopped
}

} // namespace tests::of_use
