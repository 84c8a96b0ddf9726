#include "core/sure/bands.h"

#include "core/job/fields.h"
#include "core/model/model.h"

#include <algorithm>
#include <cmath>

namespace dervish::sure {
bool bears_on_outcomes(const std::string& path) {
    for (const char* own : {"/tyres/rate", "/stand/pressure", "/stand/left_pressure", // the tyre's vertical rate
                            "/stand/lift", "/wheels/roll_centre_moves"})
        if (path.ends_with(own)) return true;
    for (const char* part : {"/obstacles/",      "/plan/",       "/travel/hose",   "/travel/body",   "/tyres/",
                             "/stand/",          "/wheels/",     "/handling/",     "/bias_ratio",    "/dampers/bump",
                             "/dampers/rebound", "/links/pitch", "/links/thread",  "/links/engaged", "/links/shortest",
                             "/links/thickness", "/capacity",    "/bore_friction", "/out_of_line",   "/density"})
        if (path.find(part) != std::string::npos) return false;
    return true;
}

Sides Bands::sides(std::size_t outcome) const {
    if (drawn) return (*drawn)[outcome];
    return {band_90 * sigma[outcome], band_90 * sigma[outcome]};
}

double beam_sigma(const Setup& setup) {
    double flattening = 0;
    for (const Assembly* a : {&setup.front, &setup.rear})
        if (a->fitted) flattening = std::max(flattening, bar::ledger(solve(*a)).flattening);
    return std::hypot(beam_model_sigma, 0.2 * flattening);
}

Bands propagate(const Vehicle& vehicle, const Setup& setup,
                const std::function<Outcomes(const Vehicle&, const Setup&, double)>& outcomes,
                const std::function<bool()>& cancelled, const std::function<bool(const std::string&)>& bears) {
    Job job;
    job.vehicle = vehicle;
    job.trial = setup;
    Bands out;
    const Outcomes nominal = outcomes(job.vehicle, job.trial, 1);
    const auto add = [&](Share share, const Outcomes& up, const Outcomes& down, double steps) {
        for (std::size_t i = 0; i < up.size(); ++i) {
            // A figure that ends on the way (the car tips) is followed to the side on which it is one.
            const bool above = std::isfinite(up[i]), below = std::isfinite(down[i]);
            const double sides = steps - !above - !below;
            if (!std::isfinite(nominal[i]) || !(sides > 0)) continue;
            const double slope = ((above ? up[i] : nominal[i]) - (below ? down[i] : nominal[i])) / sides;
            share.variance[i] = slope * slope;
            out.sigma[i] += share.variance[i];
        }
        out.shares.push_back(std::move(share));
    };
    for (const Input& input : inputs(job)) {
        if (cancelled && cancelled()) break;
        const FieldRef& f = input.field;
        if (!bears(f.path)) continue;
        const double value = f.value->value;
        const auto set = [&](double to) {
            f.value->value = to;
            if (input.twin) input.twin->value->value = to;
        };
        int steps = 0;
        Outcomes at[2];
        for (int side = 0; side < 2; ++side) {
            set(side == 0 ? value + f.value->sigma : value - f.value->sigma);
            try {
                check_range(f.value->value, f.spec, units::System::Metric, f.path);
                at[side] = outcomes(job.vehicle, job.trial, 1);
                ++steps;
            } catch (const BadInput&) {
                at[side] = nominal; // at the edge of what can be: one-sided
            }
        }
        set(value);
        const std::string of = input.twin ? "both ends" : f.group;
        const std::string label =
            (of.empty() ? "" : of + ", ") + static_cast<char>(std::tolower(f.spec.label[0])) + (f.spec.label + 1);
        if (steps > 0) add({f.path, label, f.value->source, {}}, at[0], at[1], steps);
    }
    const double beam = beam_sigma(setup);
    add({"beam theory", "beam theory", Source::Assumed, {}}, outcomes(job.vehicle, job.trial, 1 + beam),
        outcomes(job.vehicle, job.trial, 1 - beam), 2);
    for (double& s : out.sigma) s = std::sqrt(s);
    return out;
}

std::array<double, 9> ledger_sigma(const Assembly& assembly) {
    Setup setup;
    static_cast<Assembly&>(setup.front) = assembly;
    const auto shares = [](const Vehicle&, const Setup& s, double) {
        Outcomes out{};
        const auto parts = bar::parts(bar::ledger(solve(s.front)));
        for (std::size_t i = 0; i < parts.size(); ++i) out[i] = parts[i].share;
        return out;
    };
    const Bands b = propagate({}, setup, shares);
    std::array<double, 9> out;
    std::copy_n(b.sigma.begin(), out.size(), out.begin());
    return out;
}

std::vector<std::pair<std::string, double>> measure_next(const Bands& bands, Outcome outcome, std::size_t most) {
    std::vector<std::pair<std::string, double>> out;
    const double whole = bands.sigma[outcome] * bands.sigma[outcome];
    for (const Share& s : bands.shares)
        if (whole > 0 && s.variance[outcome] > 0) out.emplace_back(s.label, s.variance[outcome] / whole);
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
    if (out.size() > most) out.resize(most);
    return out;
}

} // namespace dervish::sure
