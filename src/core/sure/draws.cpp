#include "core/sure/draws.h"
#include "core/sure/parameters.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace dervish::sure {
namespace {
/// One value of the input, or its own again when twenty draws all fall outside what it accepts.
double drawn(const Parameters& inputs, std::size_t i, std::mt19937& engine) {
    std::normal_distribution<double> around(inputs.value(i), inputs.sigma(i));
    for (int tries = 0; tries < 20; ++tries)
        if (const double x = around(engine); inputs.accepts(i, x)) return x;
    return inputs.value(i);
}
} // namespace

Draws draw(const Vehicle& vehicle, const Setup& setup, const Question& question, int count, unsigned seed,
           const std::function<bool(int)>& go_on) {
    Parameters inputs(vehicle, setup, question.bears);
    const auto ask = question.ask;
    const std::size_t answers = ask({vehicle, setup}).size(); // all others are found from here
    std::mt19937 engine(seed);
    std::normal_distribution<double> beam(1, beam_sigma(setup));
    std::vector<std::vector<double>> found(answers);
    Draws out;
    out.low = out.median = out.high = std::vector<double>(answers, 0);
    out.ended.assign(answers, 0);
    while (out.count < count && out.impossible <= 10 * count && (!go_on || go_on(out.count))) {
        for (std::size_t i = 0; i < inputs.count(); ++i) inputs.set(i, drawn(inputs, i, engine));
        try {
            const std::vector<double> now = ask({inputs.vehicle(), inputs.setup(), beam(engine)});
            for (std::size_t o = 0; o < answers; ++o) {
                if (!std::isnan(now[o])) found[o].push_back(now[o]); // a car that tips may have no such figure
                out.ended[o] += now[o] >= question.names[o].ends_at;
            }
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
    for (std::size_t o = 0; o < answers; ++o) {
        out.low[o] = quantile(found[o], 0.05);
        out.median[o] = quantile(found[o], 0.5);
        out.high[o] = quantile(found[o], 0.95);
    }
    return out;
}

Bands with_draws(Bands bands, const std::vector<double>& nominal, const Draws& draws) {
    if (draws.count < 200) return bands;
    std::vector<Sides> sides;
    for (std::size_t o = 0; o < nominal.size(); ++o) {
        const Sides drawn{std::max(0.0, nominal[o] - draws.low[o]), std::max(0.0, draws.high[o] - nominal[o])};
        sides.push_back(std::isfinite(nominal[o] + draws.low[o] + draws.high[o]) ? drawn : bands.sides(o));
    }
    bands.drawn = sides;
    return bands;
}

Bands with_draws(const Bands& bands, const Vehicle& vehicle, const Setup& setup, const Question& question,
                 const std::function<bool(int)>& go_on) {
    const auto ask = question.ask;
    return with_draws(bands, ask({vehicle, setup}), draw(vehicle, setup, question, draws_for_sides, draws_seed, go_on));
}

} // namespace dervish::sure
