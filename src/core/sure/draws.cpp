#include "core/sure/draws.h"
#include "core/sure/outcomes.h"

#include "core/job/fields.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace dervish::sure {
namespace {
/// One value of the field, or its own again when twenty draws all fall outside what it accepts.
double drawn(const FieldRef& f, double value, std::mt19937& engine) {
    std::normal_distribution<double> around(value, f.value->sigma);
    for (int i = 0; i < 20; ++i) {
        const double x = around(engine);
        if (x >= f.spec.lowest && x <= f.spec.highest) return x;
    }
    return value;
}
} // namespace

Draws draw(const Vehicle& vehicle, const Setup& setup, int count, unsigned seed,
           const std::function<bool(int)>& go_on) {
    return draw(vehicle, setup, TallyOutcomes(), count, seed, go_on);
}

Draws draw(const Vehicle& vehicle, const Setup& setup,
           std::function<Outcomes(const Vehicle&, const Setup&, double)> outcomes, int count, unsigned seed,
           const std::function<bool(int)>& go_on) {
    Job job;
    job.vehicle = vehicle;
    job.trial = setup;
    const std::vector<Input> unsure = inputs(job);
    std::vector<double> nominal;
    for (const Input& i : unsure) nominal.push_back(i.field.value->value);

    outcomes(vehicle, setup, 1); // the ramps of all others are climbed from here
    std::mt19937 engine(seed);
    std::normal_distribution<double> beam(1, beam_sigma(setup));
    std::array<std::vector<double>, outcome_count> found;
    Draws out{};
    const double ramps_end = flex::Protocol{}.highest;
    while (out.count < count && out.impossible <= 10 * count && (!go_on || go_on(out.count))) {
        for (std::size_t i = 0; i < unsure.size(); ++i) {
            unsure[i].field.value->value = drawn(unsure[i].field, nominal[i], engine);
            if (unsure[i].twin) unsure[i].twin->value->value = unsure[i].field.value->value;
        }
        try {
            const Outcomes now = outcomes(job.vehicle, job.trial, beam(engine));
            for (std::size_t o = 0; o < outcome_count; ++o) // a car that tips may have no such figure
                if (!std::isnan(now[o])) found[o].push_back(now[o]);
            out.ended_first += now[LiftHeight] >= ramps_end;
            ++out.count;
        } catch (const BadInput&) {
            ++out.impossible;
        }
    }
    if (out.count == 0) return out;
    const auto quantile = [](std::vector<double>& all, double part) {
        if (all.empty()) return std::nan("");
        const auto at = all.begin() + static_cast<std::ptrdiff_t>(part * static_cast<double>(all.size() - 1));
        std::nth_element(all.begin(), at, all.end());
        return *at;
    };
    for (std::size_t o = 0; o < outcome_count; ++o) {
        out.low[o] = quantile(found[o], 0.05);
        out.median[o] = quantile(found[o], 0.5);
        out.high[o] = quantile(found[o], 0.95);
    }
    return out;
}

Bands with_draws(Bands bands, const Outcomes& nominal, const Draws& draws) {
    if (draws.count < 200) return bands;
    std::array<Sides, outcome_count> sides;
    for (std::size_t o = 0; o < outcome_count; ++o) {
        const Sides drawn{std::max(0.0, nominal[o] - draws.low[o]), std::max(0.0, draws.high[o] - nominal[o])};
        sides[o] = std::isfinite(nominal[o] + draws.low[o] + draws.high[o]) ? drawn : bands.sides(o);
    }
    bands.drawn = sides;
    return bands;
}

} // namespace dervish::sure
