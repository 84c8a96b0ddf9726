#include "core/say/proof_words.h"
#include "core/sure/parameters.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
namespace {
using units::System;

std::string as_share(double share) { return units::fixed(std::round(100 * share), 0) + " %"; }

/// A figure and its 90 % band, to two digits of that.
struct Banded {
    std::string value, half;
    std::string both() const { return value + " ± " + half; }
};
Banded with_band(double si, double sigma, const job::FieldSpec& spec, System system) {
    const double factor = units::shown(spec.quantity, system).factor, half = band_90 * sigma / factor;
    const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(std::max(half, 1e-9)) + 0.3)), 0, 5);
    return {units::text(si, spec.quantity, system, decimals), units::fixed(half, decimals)};
}

std::string label_of(const PlannedTest& test) {
    const sure::Parameters inputs(test.states[0].car.vehicle, test.states[0].car.setup,
                                  [&](const std::string& path) { return path == test.unknown; });
    return inputs.count() ? inputs.label(0) : std::string();
}

std::string capital(std::string words) {
    if (!words.empty()) words[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(words[0])));
    return words;
}
} // namespace

std::string words_of(const proof::Worth& worth) {
    switch (worth.asks) {
    case job::Asks::Which:
        return units::fixed(std::round(100 * worth.figure), 0) + " in 100";
    case job::Asks::Unknown:
        return as_share(worth.figure) + " stays";
    default:
        return "from " + as_share(worth.figure) + " on";
    }
}

std::optional<Told> worth_told(const PlannedTest& test, System system) {
    const auto worth = proof::worth(test);
    if (!worth || test.asks == job::Asks::Which) return {};
    const proof::Channel& c = proof::protocol(test.protocol).channels[0];
    if (test.asks == job::Asks::Unknown) {
        const auto found = proof::narrowed_as_planned(test);
        return Told{(worth->figure > 0.9   ? "These runs tell next to nothing of it: "
                     : worth->figure > 0.6 ? "These runs tell a little of it: "
                                           : "These runs can tell it: ") +
                        as_share(worth->figure) + " of its spread stays",
                    capital(label_of(test)) + ": " + with_band(found->value, found->sigma, found->spec, system).both() +
                        " now; these runs would leave ± " +
                        with_band(found->value, found->left, found->spec, system).half +
                        ", wherever they put it. Measured on the car it would be ± " +
                        with_band(found->value, job::usual_sigma(found->spec, job::Source::Measured, found->value),
                                  found->spec, system)
                            .half};
    }
    const double value = std::abs(test.states[0].prediction.value[0]);
    const std::string least = figure(worth->figure * value, c, system);
    if (test.asks == job::Asks::SumOrCar)
        return Told{"A sum that is wrong by " + as_share(worth->figure) + " shows nine times in ten",
                    "Of " + figure(value, c, system) + " that is " + least +
                        "; less than that, the spread of what the sum was given could explain. Measuring what widens "
                        "it makes the test sharper."};
    return Told{"A change of " + as_share(worth->figure) + " shows nine times in ten",
                "Between this and another day's test in as many runs: " + least + " of " + figure(value, c, system) +
                    ", the tools set up anew each time."};
}

std::optional<Told> unknown_told(const PlannedTest& test, System system) {
    if (test.asks != job::Asks::Unknown) return {};
    const auto found = proof::narrowed_as_read(test);
    if (!found) return {};
    return Told{capital(label_of(test)) + ": " + with_band(found->found, found->left, found->spec, system).both() +
                    " by these readings",
                "taken to be " + with_band(found->value, found->sigma, found->spec, system).both() +
                    " before; measure it before you write it down"};
}

} // namespace dervish::say
