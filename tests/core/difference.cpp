#include "core/say/difference_words.h"
#include "core/sure/compare.h"
#include "core/sure/parameters.h"
#include "examples.h"

#include <catch2/catch.hpp>
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
        {{Lot::Bar, End::Rear}, [](Setup& s) { s.rear.connected = false; }},
        {{Lot::Springs, End::Rear}, [](Setup& s) { s.rear.springs.rate.value *= 1.2; }},
        {{Lot::Dampers, End::Front}, [](Setup& s) { s.front.dampers.bump_damping.value = 900; }},
        {{Lot::Tyres, End::Rear}, [](Setup& s) { s.rear.tyres.grip.value = 0.8; }},
        {{Lot::Stand, End::Front}, [](Setup& s) { s.front.stand.pressure.value = 0.9; }},
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
    const auto sigma = sure::difference_sigma(j.trial, one.bands, after, other.bands);
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
    CHECK(sure::how_sure(1, 0.5) == sure::Sure::Surely);
    CHECK(sure::how_sure(-1, 1) == sure::Sure::Probably);
    CHECK(sure::how_sure(0.5, 1) == sure::Sure::CannotSay);
}

} // namespace tests::of_difference
