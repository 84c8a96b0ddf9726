#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/say/difference_words.h"
#include "core/sure/draws.h"
#include "core/sure/parameters.h"
#include "examples.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <map>
#include <random>

namespace tests::of_difference {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::study;

TEST_CASE("every lot of a setup can differ, be put in alone and be told") {
    const Job j = blank();
    const std::pair<Difference, void (*)(Setup&)> cases[] = {
        {{Lot::Bar, End::Front}, [](Setup& s) { s.front.bar.outer_diameter.value *= 1.1; }},
        {{Lot::Links, End::Rear}, [](Setup& s) { s.rear.connected = false; }},
        {{Lot::Eyes, End::Rear}, [](Setup& s) { s.rear.left_eye = s.rear.right_eye = 1; }},
        {{Lot::Springs, End::Rear}, [](Setup& s) { s.rear.springs.rate.value *= 1.2; }},
        {{Lot::Dampers, End::Front}, [](Setup& s) { s.front.dampers.bump_damping.value = 900; }},
        {{Lot::Tyres, End::Rear}, [](Setup& s) { s.rear.tyres.grip.value = 0.8; }},
        {{Lot::Height, End::Front}, [](Setup& s) { s.front.stand.lift.value = 0.03; }},
        {{Lot::Pressures, End::Front}, [](Setup& s) { s.front.stand.pressure.value = 0.9; }},
        {{Lot::Alignment, End::Front}, [](Setup& s) { s.front.stand.camber.value = -0.02; }},
        {{Lot::Clicks, End::Rear}, [](Setup& s) { s.rear.stand.bump_click.value = 3; }},
        {{Lot::Differential, End::Rear}, [](Setup& s) { s.rear.stand.differential = Differential::Locked; }},
        {{Lot::Brace, {}}, [](Setup& s) { s.brace.torsion.value = 4000; }},
        {{Lot::BiasRatio, {}}, [](Setup& s) { s.bias_ratio.value = 3; }},
        {{Lot::StabilityAid, {}}, [](Setup& s) { s.stability_aid = true; }},
    };
    Setup all = j.trial;
    for (const auto& [difference, change] : cases) {
        Setup other = j.trial;
        change(other);
        change(all);
        CHECK(differences(j.trial, other) == std::vector{difference});
        CHECK(with(j.trial, other, difference) == other);
        const say::DifferenceWords words = say::words_of(difference, j.vehicle, j.trial, other, units::System::Metric);
        INFO(words.name << ": " << words.detail);
        CHECK(words.detail != "where it is from, or notes");
    }
    CHECK(differences(j.trial, all).size() == std::size(cases));
    CHECK(differences(all, all).empty());
    Setup again = j.trial;
    for (const Difference& d : differences(j.trial, all)) again = with(again, all, d);
    CHECK(again == all);
}

TEST_CASE("a difference is as sure as that of cars drawn together, and surer than two cars apart") {
    const Job j = blank();
    Setup after = j.trial;
    after.front.bar.outer_diameter.value *= 1.12;
    after.rear.springs.rate.value *= 1.1;
    const sure::Figures one = sure::figures_of(j.vehicle, j.trial), other = sure::figures_of(j.vehicle, after);
    std::vector<double> sigma;
    for (const sure::Change& c : sure::changes(j.trial, one, after, other)) sigma.push_back(c.sigma);
    CHECK(sigma[RollGradient] < 0.7 * std::hypot(one.bands.sigma[RollGradient], other.bands.sigma[RollGradient]));
    CHECK(sigma[FrontRate] ==
          Approx(std::hypot(one.bands.sigma[FrontRate], other.bands.sigma[FrontRate])).epsilon(0.5));
    // What is the same in both is drawn once.
    const std::string changed[] = {"trial/front/bar/outer_diameter", "trial/rear/springs/rate"};
    std::mt19937 random(3);
    std::normal_distribution<double> normal;
    double sum[2] = {}, squares[2] = {};
    int made = 0;
    constexpr int cars = 500;
    for (int car = 0; car < cars; ++car) {
        std::map<std::string, double> off;
        const auto figures = [&](const Setup& setup, bool second) {
            sure::Parameters p(j.vehicle, setup, sure::bears_on_outcomes);
            for (std::size_t i = 0; i < p.count(); ++i) {
                const bool own = second && (p.path(i) == changed[0] || p.path(i) == changed[1]);
                const double z =
                    off.try_emplace(p.path(i) + (own ? " of the second" : ""), normal(random)).first->second;
                const double to = p.value(i) + z * 0.2 * p.sigma(i); // near enough to be straight
                if (p.accepts(i, to)) p.set(i, to);
            }
            const Assessment a = assess(p.vehicle(), p.setup());
            return std::array{a.outcomes[RollGradient], a.outcomes[FrontShare]};
        };
        std::array<double, 2> before{}, then{};
        try {
            before = figures(j.trial, false);
            then = figures(after, true);
        } catch (const BadInput&) { // an eye beyond its arm's end
            continue;
        }
        ++made;
        for (std::size_t i = 0; i < 2; ++i) {
            const double difference = (then[i] - before[i]) / 0.2;
            sum[i] += difference;
            squares[i] += difference * difference;
        }
    }
    CHECK(made > 150);
    const std::size_t outcome[] = {RollGradient, FrontShare};
    for (std::size_t i = 0; i < 2; ++i) {
        INFO(i);
        const double drawn = std::sqrt(squares[i] / made - sum[i] * sum[i] / made / made);
        CHECK(sigma[outcome[i]] == Approx(drawn).epsilon(0.15));
    }
    // Ramps that end before a wheel lifts tell a bound, and no difference to it.
    Job loose = j;
    for (const End end : both_ends) {
        loose.trial[end].connected = false;
        loose.trial[end].springs.rate.value *= 0.05;
        loose.vehicle[end].bump_gap.value = loose.trial[end].dampers.droop_gap.value = 0.9;
    }
    REQUIRE_FALSE(assess(loose.vehicle, loose.trial).ascent.lifted);
    CHECK(std::isnan(sure::figures_of(loose.vehicle, loose.trial).value[LiftHeight]));
    CHECK(sure::how_sure({1, 0.5}) == sure::Sure::Surely);
    CHECK(sure::how_sure({-1, 1}) == sure::Sure::Probably);
    CHECK(sure::how_sure({0.5, 1}) == sure::Sure::CannotSay);
}

TEST_CASE("two bars of equal numbers are two bars: their difference is as unsure as both, and has no jump") {
    Job j = blank();
    Setup after = j.trial;
    after.front.bar.id = "another bar";
    const auto apart = [&](double diameter) {
        after.front.bar.outer_diameter.value = diameter;
        const sure::Figures one = sure::figures_of(j.vehicle, j.trial), other = sure::figures_of(j.vehicle, after);
        return sure::changes(j.trial, one, after, other)[RollGradient].sigma;
    };
    const double thickness = j.trial.front.bar.outer_diameter.value, equal = apart(thickness),
                 nearly = apart(thickness * 1.0005);
    CHECK(equal == Approx(nearly).epsilon(0.01));
    // By hand: both bars' own inputs, each alone, but the steel's.
    double sum = 0;
    for (const sure::Share& s : sure::bands(j.vehicle, j.trial).shares)
        if (s.path.starts_with("trial/front/bar/") && !s.path.ends_with("modulus") && !s.path.ends_with("density"))
            sum += 2 * s.variance(RollGradient);
    CHECK(equal == Approx(std::sqrt(sum)).epsilon(0.01));
    after = j.trial;
    CHECK(apart(thickness) == Approx(0).margin(1e-12));
}

TEST_CASE("friction at rest holds a spring off, and is another each time that a car comes to rest") {
    // A car that sits by so much less on each spring stands higher by just that, its tyres as loaded as before.
    const Job j = new_car({"saloon", CarKind::Family});
    const car::Car level = model::car_with(j.vehicle, j.trial);
    constexpr double held = 60;
    const car::State still = car::settle(level, {}), up = car::settle(sure::stuck(level, {held, held, held, held}), {});
    for (const End end : both_ends) {
        REQUIRE(level[end].kind == AxleKind::Independent);
        CHECK(car::rises(level, up)[end] - car::rises(level, still)[end] ==
              Approx(held / level[end].spring_rate).epsilon(1e-3));
        CHECK(up.wheels[wheel_at(end, 0)].load == Approx(still.wheels[wheel_at(end, 0)].load).epsilon(1e-6));
    }
    // On the road it has no part; on ramps it widens a difference at the end where nothing was changed.
    Setup after = j.trial;
    after.front.bar.id = "another bar";
    after.front.bar.outer_diameter.value *= 1.1;
    const sure::Figures one = sure::figures_of(j.vehicle, j.trial), other = sure::figures_of(j.vehicle, after);
    const std::vector<sure::Change> change = sure::changes(j.trial, one, after, other);
    double friction = 0, rolls = 0;
    for (const sure::Bands* b : {&one.bands, &other.bands})
        for (const sure::Share& s : b->shares)
            if (sure::of_each_time(s.path)) {
                friction += s.variance(RearTravel);
                rolls += s.variance(RollGradient);
            }
    CHECK(rolls < 1e-12 * one.bands.sigma[RollGradient] * one.bands.sigma[RollGradient]);
    CHECK(std::sqrt(friction) > 5e-4);
    CHECK(change[RearTravel].sigma > std::sqrt(friction));
}

TEST_CASE("a change that crosses a kink is as sure as the cars drawn, not as their slopes") {
    // Which end gives up first is open: with the front bar stiffer the limit may go either way.
    Job j = new_car({"saloon", CarKind::Family});
    const auto limit = [] { return sure::limit(Ground::Dry, sure::Near::FirstOrder); };
    Setup after = j.trial;
    after.front.bar.id = "another bar";
    after.front.bar.outer_diameter.value *= 1.15;
    const auto lines = sure::changes(j.vehicle, j.trial, after, limit);
    const auto drawn = sure::drawn_changes(j.vehicle, j.trial, after, limit, 800);
    REQUIRE(drawn[sure::LimitLateral].drawn);
    CHECK(drawn[sure::LimitLateral].by == lines[sure::LimitLateral].by);
    CHECK(sure::how_sure(drawn[sure::LimitLateral]) ==
          sure::how_sure_by(std::max(drawn[sure::LimitLateral].as_told, 1 - drawn[sure::LimitLateral].as_told)));
    // Nothing changed is no change, and surely nothing.
    const auto none = sure::drawn_changes(j.vehicle, j.trial, j.trial, limit, 200);
    CHECK(none[sure::LimitLateral].by == 0);
    CHECK(none[sure::LimitLateral].half() == 0);
    CHECK(sure::how_sure(none[sure::LimitLateral]) == sure::Sure::CannotSay);
}

TEST_CASE("what Trial changes of the schools' readings and of a bump is as sure as both cars moved together say") {
    Job j = blank();
    for (const FieldRef& f : fields(j)) f.value->sigma *= 0.2; // so that every car there is can be
    j.trial = j.fitted;
    j.trial.front.springs.id = "springs-9";
    j.trial.front.springs.rate = {1.2 * j.fitted.front.springs.rate.value, 900, Source::Measured};
    const auto asked = [] { return sure::steady(Ground::Dry); };
    for (const sure::Change& same : sure::changes(j.vehicle, j.fitted, j.fitted, asked))
        if (std::isfinite(same.by)) {
            CHECK(same.by == 0);
            CHECK(same.sigma == 0);
        }
    const auto found = sure::changes(j.vehicle, j.fitted, j.trial, asked);
    REQUIRE(found.size() == sure::steady_answers);
    // Both cars solved anew with each input a sigma up and down: at once where they share it, else one after the other.
    const sure::Question question = asked();
    const auto bears = [&](const std::string& path) { return question.bears(path); };
    sure::Parameters before(j.vehicle, j.fitted, bears), after(j.vehicle, j.trial, bears);
    REQUIRE(before.count() == after.count());
    const auto difference = [&] {
        const auto is = asked().ask({after.vehicle(), after.setup()}),
                   was = asked().ask({before.vehicle(), before.setup()});
        std::vector<double> out;
        for (std::size_t a = 0; a < is.size(); ++a) out.push_back(is[a] - was[a]);
        return out;
    };
    std::vector<double> squares(found.size(), 0);
    const auto moved = [&](std::size_t i, bool first, bool second) {
        std::vector<double> ends[2];
        for (const int sign : {1, -1}) {
            if (first) before.set(i, before.value(i) + sign * before.sigma(i));
            if (second) after.set(i, after.value(i) + sign * after.sigma(i));
            ends[sign < 0] = difference();
            before.reset(i);
            after.reset(i);
        }
        for (std::size_t a = 0; a < squares.size(); ++a) {
            const double half = (ends[0][a] - ends[1][a]) / 2;
            squares[a] += half * half;
        }
    };
    for (std::size_t i = 0; i < before.count(); ++i) {
        REQUIRE(before.path(i) == after.path(i));
        bool fits = true;
        for (const int sign : {1, -1})
            fits = fits && before.accepts(i, before.value(i) + sign * before.sigma(i)) &&
                   after.accepts(i, after.value(i) + sign * after.sigma(i));
        if (!fits) continue;
        if (before.value(i) == after.value(i)) {
            moved(i, true, true);
        } else {
            moved(i, true, false);
            moved(i, false, true);
        }
    }
    for (std::size_t a = 0; a < found.size(); ++a)
        if (std::isfinite(found[a].by) && found[a].sigma > 0) {
            CAPTURE(a, found[a].by, found[a].sigma);
            CHECK(std::sqrt(squares[a]) == Approx(found[a].sigma).epsilon(0.05));
        }
}

TEST_CASE("rules count from what is fitted, over all that a setup has otherwise") {
    const Job j = blank();
    Setup tried = j.fitted;
    const Rules rear_bar{{false, true}, false, false, false, false, false, false};
    CHECK(not_allowed(rear_bar, j.fitted, tried).empty());
    tried.rear.bar.outer_diameter.value *= 1.1;
    CHECK(not_allowed(rear_bar, j.fitted, tried).empty());
    tried.front.bar.outer_diameter.value *= 1.1;
    tried.rear.stand.lift.value = 0.02;
    tried.bias_ratio.value = 2.5;
    const std::vector<Difference> expected{{Lot::Bar, End::Front}, {Lot::Height, End::Rear}, {Lot::BiasRatio, {}}};
    CHECK(not_allowed(rear_bar, j.fitted, tried) == expected);
    CHECK(not_allowed({}, j.fitted, tried).empty());
}

TEST_CASE("a cure's costs are the car's own figures, each found again by itself") {
    Job j = new_car({});
    j.trial.rear.springs.rate.value *= 1.1;
    const car::Car car = model::car_with(j.vehicle, j.trial);
    const balance::Model m = model::to_model(j.vehicle, j.trial, car);
    const Costs c = costs_of(j.vehicle, j.trial, car);
    const car::State bend = car::settle(m.car, {.lateral_acceleration = 0.5 * units::g});
    const double front = std::atan2(bend.wheels[1].travel - bend.wheels[0].travel, m.car.front.track);
    CHECK(c.lean == Approx(c.roll * 0.5 * units::g).epsilon(0.2));
    CHECK(c.lean == Approx(front).epsilon(0.35)); // the tyres' share is not in the travels
    CHECK(c.lean > front);
    CHECK(c.articulation == flex::climb(m.car, {}).height);
    CHECK(c.limit == balance::outright_limit(m).lateral);
    CHECK(c.wet < c.limit);
    double most = 0;
    for (const End end : both_ends)
        if (const auto& law = m.car[end].linkage)
            for (const double force :
                 {law->operator()({bend.wheels[wheel_at(end, 0)].travel, bend.wheels[wheel_at(end, 1)].travel}).link[0],
                  law->operator()({bend.wheels[wheel_at(end, 0)].travel, bend.wheels[wheel_at(end, 1)].travel})
                      .link[1]})
                most = std::max(most, std::abs(force));
    CHECK(c.link == most);
}

TEST_CASE("what a cure costs is told with the band of the change, and as not to be said within it") {
    const Job j = new_car({});
    const Cures found =
        cures(j.vehicle, j.trial, Ground::Dry, Aim::Lean,
              0.9 * reading(Aim::Lean, to_model(j.vehicle, j.trial, Cars().with(j.vehicle, j.trial))).value());
    const auto way = std::ranges::find_if(found.ways, [](const Cure& c) { return c.helps() && c.to; });
    REQUIRE(way != found.ways.end());
    const auto sure = sure::changes(j.vehicle, j.trial, *way->to, sure::costs);
    REQUIRE(sure.size() == sure::cost_answers);
    CHECK(sure[sure::CostLean].by == Approx(way->then.lean - found.costs.lean));
    CHECK(sure[sure::CostDry].by == Approx(way->then.limit - found.costs.limit));
    CHECK(sure[sure::CostRamps].by == Approx(way->then.articulation - found.costs.articulation));
    const auto alone = say::cost_lines(found.costs, way->then, units::System::Metric),
               banded = say::cost_lines(found.costs, way->then, units::System::Metric, sure);
    REQUIRE(alone.size() == banded.size());
    int bands = 0;
    for (std::size_t i = 0; i < banded.size(); ++i) {
        CHECK(alone[i].value == banded[i].value);
        CHECK(alone[i].change.find("±") == std::string::npos);
        bands += banded[i].change.find("±") != std::string::npos;
        if (banded[i].change.find("cannot say") != std::string::npos) CHECK(banded[i].better == 0);
    }
    CHECK(bands > 3);
    // A change that is all spread is nobody's to tell.
    auto unsure = sure;
    for (sure::Change& c : unsure) c.sigma = 10 * std::abs(c.by) + 1e-9;
    for (const say::CostLine& line : say::cost_lines(found.costs, way->then, units::System::Metric, unsure))
        CHECK((line.better == 0 || line.what == "a wheel lifts"));
}

} // namespace tests::of_difference
