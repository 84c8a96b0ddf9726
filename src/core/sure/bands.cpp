#include "core/sure/bands.h"

#include "core/sure/parameters.h"

#include <algorithm>
#include <cmath>

namespace dervish::sure {
bool bears_on_outcomes(const std::string& path) {
    for (const char* own : {"/tyres/rate", "/stand/pressure", "/stand/left_pressure", // the tyre's vertical rate
                            "/stand/lift", "/wheels/roll_centre_moves"})
        if (path.ends_with(own)) return true;
    static constexpr std::string_view without[] = {
        "/grounds/",        "/use/",          "/obstacles/",   "/plan/",         "/travel/hose",    "/travel/body",
        "/tyres/",          "/stand/",        "/wheels/",      "/handling/",     "/bias_ratio",     "/dampers/bump",
        "/dampers/rebound", "/links/pitch",   "/links/thread", "/links/engaged", "/links/shortest", "/links/thickness",
        "/capacity",        "/bore_friction", "/out_of_line",  "/density"};
    for (std::size_t at = path.find('/'); at != std::string::npos; at = path.find('/', at + 1))
        for (const std::string_view part : without)
            if (path.compare(at, part.size(), part) == 0) return false;
    return true;
}

Sides Bands::sides(std::size_t outcome) const {
    if (!drawn.empty()) return drawn[outcome];
    return {band_90 * sigma[outcome], band_90 * sigma[outcome]};
}

double beam_sigma(const Setup& setup) {
    double flattening = 0;
    for (const Assembly* a : {&setup.front, &setup.rear})
        if (a->fitted) flattening = std::max(flattening, bar::ledger(solve(*a)).flattening);
    return std::hypot(beam_model_sigma, 0.2 * flattening);
}

namespace {
/// The answers some part of a sigma up and down; none where there can be no such car, or where it was not asked for.
struct Steps {
    double part;
    std::vector<double> up, down;
};

/// A derivative to one side where a small part of a sigma tells of the whole to both, else the whole to both.
template <class At> Steps step_from(At&& at, double part) {
    if (part < 1) {
        if (Steps out{part, at(part), {}}; !out.up.empty()) return out;
        if (Steps out{part, {}, at(-part)}; !out.down.empty()) return out;
    }
    return {1, at(1), at(-1)};
}
} // namespace

Bands propagate(const Vehicle& vehicle, const Setup& setup, const Question& question,
                const std::function<bool()>& cancelled) {
    Parameters inputs(vehicle, setup, question.bears);
    Bands out;
    const auto ask = question.ask; // what it learns of this car is for this car
    const std::vector<double> nominal = ask({vehicle, setup});
    out.sigma.assign(nominal.size(), 0);
    const auto add = [&](Share share, const Steps& steps) {
        share.change.assign(nominal.size(), 0);
        for (std::size_t i = 0; i < nominal.size(); ++i) {
            // A figure that ends on the way (the car tips) is followed to the side on which it is one.
            const bool up = !steps.up.empty() && std::isfinite(steps.up[i]),
                       down = !steps.down.empty() && std::isfinite(steps.down[i]);
            if (!std::isfinite(nominal[i]) || !(up || down)) continue;
            const double whole = (up ? steps.up[i] : nominal[i]) - (down ? steps.down[i] : nominal[i]);
            share.change[i] = whole / ((up + down) * steps.part);
            out.sigma[i] += share.variance(i);
        }
        out.shares.push_back(std::move(share));
    };
    for (std::size_t i = 0; i < inputs.count() && !(cancelled && cancelled()); ++i) {
        const auto at = [&](double sigmas) -> std::vector<double> {
            const double to = inputs.value(i) + sigmas * inputs.sigma(i);
            if (!inputs.accepts(i, to)) return {};
            inputs.set(i, to);
            try {
                return ask({inputs.vehicle(), inputs.setup(), 1, std::abs(sigmas)});
            } catch (const BadInput&) {
                return {}; // at the edge of what can be: one-sided
            }
        };
        const Steps steps = step_from(at, question.part);
        inputs.reset(i);
        if (!steps.up.empty() || !steps.down.empty())
            add({inputs.path(i), inputs.label(i), inputs.source(i), {}}, steps);
    }
    const double beam = beam_sigma(setup);
    const auto scaled = [&](double sigmas) { return ask({vehicle, setup, 1 + sigmas * beam, std::abs(sigmas)}); };
    add({"beam theory", "beam theory", Source::Assumed, {}}, step_from(scaled, question.part));
    for (double& s : out.sigma) s = std::sqrt(s);
    return out;
}

std::array<double, 9> ledger_sigma(const Assembly& assembly) {
    Setup setup;
    static_cast<Assembly&>(setup.front) = assembly;
    Question shares;
    for (const bar::LedgerPart& part : bar::parts(bar::ledger(solve(assembly))))
        shares.names.push_back({part.name, units::Quantity::Share});
    shares.ask = [](const Asked& car) {
        std::vector<double> out;
        for (const bar::LedgerPart& part : bar::parts(bar::ledger(solve(car.setup.front)))) out.push_back(part.share);
        return out;
    };
    const Bands b = propagate({}, setup, shares);
    std::array<double, 9> out;
    std::copy_n(b.sigma.begin(), out.size(), out.begin());
    return out;
}

std::vector<std::pair<std::string, double>> measure_next(const Bands& bands, std::size_t outcome, std::size_t most) {
    std::vector<std::pair<std::string, double>> out;
    const double whole = bands.sigma[outcome] * bands.sigma[outcome];
    for (const Share& s : bands.shares)
        if (whole > 0 && s.variance(outcome) > 0) out.emplace_back(s.label, s.variance(outcome) / whole);
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
    if (out.size() > most) out.resize(most);
    return out;
}

} // namespace dervish::sure
