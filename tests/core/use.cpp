#include "core/study/use.h"
#include "core/car/handling.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/say/use_words.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
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

TEST_CASE("bars matched to tyres gain the most of all pairs tried by hand in the phase that gains the least") {
    const Job job = blank();
    const balance::Model model = to_model(job.vehicle, job.trial, car_with(job.vehicle, job.trial), Ground::WetPatched);
    const auto match = match_to_tyre(model);
    REQUIRE(match.size() == 7);
    double last = 0;
    for (const Match& m : match) {
        CHECK((m.gain > 0) == !(m.bars == PerAxle<double>{1, 1}));
        CHECK(m.best.lateral >= m.now.lateral * (1 + m.gain) * (1 - 1e-9));
        CHECK(m.now.lateral > last);
        last = m.now.lateral;
    }
    balance::Model sticky = model;
    for (balance::AxleGrip& a : sticky.axle.both())
        for (balance::Tyre& t : a.tyre) t.grip *= match.back().grip;
    const auto limits_of = [](const balance::Model& m) {
        std::array<double, 4> out;
        for (std::size_t i = 0; i < 4; ++i)
            out[i] = std::min(balance::limit(m, balance::all_phases[i]).lateral,
                              balance::limit(m, balance::all_phases[i], balance::Turn::Right).lateral);
        return out;
    };
    const auto now = limits_of(sticky);
    double best = 0, in_the_middle = 0;
    for (const double front : {0.0, 0.5, 1.0, 2.0, 4.0})
        for (const double rear : {0.0, 0.5, 1.0, 2.0, 4.0}) {
            balance::Model m = sticky;
            m.car = with_bar(with_bar(sticky.car, End::Front, front), End::Rear, rear);
            m.swing = ride_of(m).swing;
            const auto with = limits_of(m);
            double least = 1;
            for (std::size_t i = 0; i < 4; ++i) least = std::min(least, with[i] / now[i] - 1);
            best = std::max(best, least);
            in_the_middle = std::max(in_the_middle, with[1] / now[1] - 1);
        }
    CHECK(match.back().gain == Approx(best < 0.002 ? 0 : best).margin(1e-6));
    CHECK(in_the_middle > match.back().gain); // what the middle of a bend alone would choose costs elsewhere
    int asked = 0;
    CHECK(match_to_tyre(model, [&] { return ++asked > 30; }).size() == 1); // it can be stopped
}

TEST_CASE("bands of a phase and of a pair of bars are those of cars drawn and solved in full") {
    const Job job = blank();
    const PerAxle<double> pair{2, 0.5};
    const auto told = sure::phase_bands(job.vehicle, job.trial, Ground::WetPatched);
    const sure::PairBand gain = sure::pair_band(job.vehicle, job.trial, Ground::WetPatched, pair);
    sure::Question both = sure::phases(Ground::WetPatched, {{1, 1}, pair});
    both.names.assign(3, {"of both", units::Quantity::Number});
    both.ask = [ask = both.ask](const sure::Asked& asked) -> std::vector<double> {
        const std::vector<double> ends = ask(asked);
        double least = 1;
        for (std::size_t i = 0; i < 8; i += 2)
            least = std::min(least, std::min(ends[8 + i], ends[9 + i]) / std::min(ends[i], ends[i + 1]) - 1);
        return {least, std::min(ends[0], ends[1]), ends[0] < ends[1] ? 1.0 : 0.0};
    };
    const sure::Draws drawn = sure::draw(job.vehicle, job.trial, both, 150, 5);
    const double wide = gain.most - gain.least, tall = told[0].most - told[0].least;
    CHECK(drawn.low[0] == Approx(gain.least).margin(0.25 * wide));
    CHECK(drawn.high[0] == Approx(gain.most).margin(0.25 * wide));
    CHECK(drawn.low[1] == Approx(told[0].least).margin(0.2 * tall));
    CHECK(drawn.high[1] == Approx(told[0].most).margin(0.2 * tall));
    CHECK((told[0].front > 0.5) == (drawn.median[2] == 1));
    CHECK((gain.better >= 0 && gain.better <= 1));
}

} // namespace tests::of_use
