#include "core/sure/bands.h"

#include "core/num/share_out.h"
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

car::Car stuck(car::Car car, const PerWheel<double>& by) {
    for (std::size_t w = 0; w < by.size(); ++w) car[end_of(w)].stuck[w % 2] = by[w];
    return car;
}

PerWheel<double> friction_sigma(const Vehicle& v) {
    const PerWheel<double> weighed{v.front_left_load.value, v.front_right_load.value, v.rear_left_load.value,
                                   v.rear_right_load.value};
    PerWheel<double> out;
    for (std::size_t w = 0; w < out.size(); ++w) {
        const AxleData& axle = v[end_of(w)];
        out[w] = (axle.kind == AxleKind::Solid ? 0.04 : 0.02) * units::g *
                 std::max(0.0, weighed[w] - axle.unsprung_mass.value / 2);
    }
    return out;
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
    double part = 1;
    std::vector<double> up, down;
};

/// A share of the variance of each figure of the screen below which an input is not asked.
constexpr double unheard = 1e-3;

/// Which inputs may reach the answers.
std::vector<bool> heard(const Vehicle& vehicle, const Setup& setup, const Question& question) {
    Parameters inputs(vehicle, setup, question.bears);
    if (!question.screen) return std::vector(inputs.count(), true);
    const auto screen = question.screen;
    const std::vector<double> nominal = screen({vehicle, setup});
    std::vector<std::vector<double>> moved(inputs.count());
    std::vector<double> all(nominal.size(), 0);
    for (std::size_t i = 0; i < inputs.count(); ++i) {
        const double up = inputs.value(i) + inputs.sigma(i), down = inputs.value(i) - inputs.sigma(i);
        inputs.set(i, inputs.accepts(i, up) ? up : inputs.accepts(i, down) ? down : inputs.value(i));
        try {
            moved[i] = screen({inputs.vehicle(), inputs.setup()});
        } catch (const BadInput&) { // at the edge of what can be: it is asked
        }
        inputs.reset(i);
        for (std::size_t k = 0; k < moved[i].size(); ++k) all[k] += std::pow(moved[i][k] - nominal[k], 2);
    }
    std::vector<bool> out;
    for (const std::vector<double>& by : moved) {
        bool any = by.empty();
        // Not a number (a car that does not hold the bend) hides nothing.
        for (std::size_t k = 0; k < by.size(); ++k) any = any || !(std::pow(by[k] - nominal[k], 2) <= unheard * all[k]);
        out.push_back(any);
    }
    return out;
}

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
    struct Hand {
        Parameters inputs;
        decltype(Question::ask) ask; ///< what it learns of this car is for this car
    };
    Hand own{{vehicle, setup, question.bears}, question.ask};
    const std::vector<double> nominal = own.ask({vehicle, setup});
    const auto learned = own.ask;
    const std::size_t inputs = own.inputs.count();
    const double beam = beam_sigma(setup);
    const PerWheel<double> friction = friction_sigma(vehicle);
    std::vector<Steps> steps(inputs + 1 + (question.at_rest ? 4 : 0)); // then of beam theory and of friction
    const std::vector<bool> asked = heard(vehicle, setup, question);
    share_out(
        steps.size(), own,
        [&] {
            return Hand{{vehicle, setup, question.bears}, learned};
        },
        [&](Hand& hand, std::size_t i) {
            if ((i < inputs && !asked[i]) || (cancelled && cancelled())) return;
            const auto at = [&](double sigmas) -> std::vector<double> {
                Asked car{hand.inputs.vehicle(), hand.inputs.setup(), 1, std::abs(sigmas)};
                if (i == inputs) car.bar_scale = 1 + sigmas * beam;
                if (i > inputs) car.stuck[i - inputs - 1] = sigmas * friction[i - inputs - 1];
                if (i < inputs) {
                    const double to = hand.inputs.value(i) + sigmas * hand.inputs.sigma(i);
                    if (!hand.inputs.accepts(i, to)) return {};
                    hand.inputs.set(i, to);
                }
                try {
                    return hand.ask(car);
                } catch (const BadInput&) {
                    return {}; // at the edge of what can be: one-sided
                }
            };
            steps[i] = step_from(at, question.part);
            if (i < inputs) hand.inputs.reset(i);
        });
    Bands out;
    out.nominal = nominal;
    out.sigma.assign(nominal.size(), 0);
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const Steps& by = steps[i];
        if (by.up.empty() && by.down.empty()) continue;
        Share share{"beam theory", "beam theory", Source::Assumed, std::vector(nominal.size(), 0.0)};
        if (i > inputs) {
            share.path = friction_paths[i - inputs - 1];
            share.label = "friction of the suspension at rest";
        }
        if (i < inputs) {
            share.path = own.inputs.path(i);
            share.label = own.inputs.label(i);
            share.source = own.inputs.source(i);
        }
        for (std::size_t o = 0; o < nominal.size(); ++o) {
            // A figure that ends on the way (the car tips) is followed to the side on which it is one.
            const bool up = !by.up.empty() && std::isfinite(by.up[o]),
                       down = !by.down.empty() && std::isfinite(by.down[o]);
            if (!std::isfinite(nominal[o]) || !(up || down)) continue;
            const double whole = (up ? by.up[o] : nominal[o]) - (down ? by.down[o] : nominal[o]);
            share.change[o] = whole / ((up + down) * by.part);
            out.sigma[o] += share.variance(o);
        }
        out.shares.push_back(std::move(share));
    }
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
    for (const Share& s : bands.shares) {
        if (!(whole > 0 && s.variance(outcome) > 0)) continue;
        const bool go_on = of_each_time(s.path) && !out.empty() && out.back().first == s.label; // of another wheel
        if (!go_on) out.emplace_back(s.label, 0);
        out.back().second += s.variance(outcome) / whole;
    }
    std::sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
    if (out.size() > most) out.resize(most);
    return out;
}

} // namespace dervish::sure
