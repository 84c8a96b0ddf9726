#include "core/proof/worth.h"
#include "core/num/dense.h"
#include "core/sure/parameters.h"

#include <algorithm>
#include <map>
#include <set>

namespace dervish::proof {
namespace {
/// Of a difference that nine of ten such tests show: outside the 90 % band, with nine in ten.
constexpr double shown_in_nine = band_90 + 1.2815515655446004;

/// A figure that is read in a state: how often and to what the mean of it is.
struct Row {
    std::size_t state, channel;
    double sigma;
    double residual;
};

int planned_runs(const PlannedTest& test, std::size_t state) {
    return static_cast<int>(std::ranges::count(test.order, static_cast<int>(state)));
}

std::vector<Row> rows_of(const PlannedTest& test, bool as_read) {
    const Protocol& p = protocol(test.protocol);
    std::vector<Row> out;
    for (std::size_t s = 0; s < test.states.size(); ++s)
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            const Prediction& pr = test.states[s].prediction;
            if (!pr.made || c >= pr.value.size() || pr.tells[c] != PredictedValue) continue;
            if (as_read) {
                const Verdict v = compare(test, static_cast<int>(s), c);
                if (v.count > 0 && !v.bound && v.agreement != Agreement::CannotTell)
                    out.push_back({s, c, v.measured_sigma, v.measured - v.predicted});
            } else if (const int runs = planned_runs(test, s); runs > 0) {
                out.push_back({s, c, read_to(test, p.channels[c], pr.value[c]) / std::sqrt(runs), 0});
            }
        }
    return out;
}

/// Of each input that is the same thing in several states one column, the first state's car's first.
class Columns {
public:
    explicit Columns(const PlannedTest& test) {
        for (std::size_t s = 0; s < test.states.size(); ++s)
            for (std::size_t before = 0; before < s; ++before)
                alike_.emplace(std::pair{before, s},
                               sure::alike(test.states[before].car.setup, test.states[s].car.setup));
    }
    std::size_t of(std::size_t state, const std::string& path) {
        std::size_t owner = state;
        for (std::size_t before = 0; before < state && owner == state; ++before)
            if (!sure::of_each_time(path) && (!path.starts_with("trial/") || alike_.at({before, state}).contains(path)))
                owner = before;
        return places_.try_emplace({owner, path}, places_.size()).first->second;
    }
    std::size_t count() const { return places_.size(); }

private:
    std::map<std::pair<std::size_t, std::size_t>, std::set<std::string>> alike_;
    std::map<std::pair<std::size_t, std::string>, std::size_t> places_;
};

std::optional<Narrowed> narrowed(const PlannedTest& test, bool as_read) {
    if (test.states.empty() || test.unknown.empty() || !protocol_of(test)) return {};
    const sure::Parameters inputs(test.states[0].car.vehicle, test.states[0].car.setup,
                                  [&](const std::string& path) { return path == test.unknown; });
    const auto rows = rows_of(test, as_read);
    if (inputs.count() == 0 || rows.empty()) return {};
    const Protocol& p = protocol(test.protocol);
    Columns columns(test);
    const std::size_t unknown = columns.of(0, test.unknown);
    std::vector<std::vector<std::pair<std::size_t, double>>> acts(rows.size());
    for (std::size_t r = 0; r < rows.size(); ++r) {
        const Prediction& pr = test.states[rows[r].state].prediction;
        double kept = 0;
        for (const PredictedShare& share : pr.shares) {
            const double change = share.change[rows[r].channel];
            kept += change * change;
            // What the tools are off by in all runs of a test, and what is not kept of the inputs, follow below.
            acts[r].emplace_back(columns.of(rows[r].state, share.path), change);
        }
        const double own = pr.sigma[rows[r].channel] * pr.sigma[rows[r].channel] - kept;
        if (own > 0)
            acts[r].emplace_back(columns.of(rows[r].state, "trial/own of " + std::to_string(rows[r].state) + "," +
                                                               std::to_string(rows[r].channel)),
                                 std::sqrt(own));
        if (const Channel& c = p.channels[rows[r].channel]; c.apart > 0)
            acts[r].emplace_back(columns.of(rows[r].state, std::string("tool of ") + c.spec.key), apart(test, c));
    }
    const auto n = static_cast<Eigen::Index>(rows.size());
    Eigen::MatrixXd h = Eigen::MatrixXd::Zero(n, static_cast<Eigen::Index>(columns.count()));
    Eigen::VectorXd residual(n);
    // By each reading's own σ, so that figures of unlike size stand in one matrix.
    for (Eigen::Index r = 0; r < n; ++r) {
        const Row& row = rows[static_cast<std::size_t>(r)];
        const double one = std::max(row.sigma, 1e-12);
        for (const auto& [column, change] : acts[static_cast<std::size_t>(r)])
            h(r, static_cast<Eigen::Index>(column)) += change / one;
        residual[r] = row.residual / one;
    }
    const Eigen::VectorXd own = h.col(static_cast<Eigen::Index>(unknown));
    const Eigen::MatrixXd spread = h.lazyProduct(h.transpose()) + Eigen::MatrixXd::Identity(n, n);
    const Eigen::VectorXd gain = solved(spread, own);
    const double left = std::sqrt(std::clamp(1 - own.dot(gain), 0.0, 1.0));
    return Narrowed{inputs.spec(0), inputs.value(0), inputs.sigma(0), inputs.sigma(0) * left,
                    inputs.value(0) + inputs.sigma(0) * gain.dot(residual)};
}
} // namespace

std::vector<Unknown> unknowns(const Vehicle& vehicle, const Setup& setup) {
    const sure::Parameters inputs(vehicle, setup, [](const std::string& path) {
        return std::ranges::any_of(protocols(), [&](const Protocol& p) {
            return !p.channels.empty() && p.bears(settings_of(p, PlannedTest{}), path);
        });
    });
    std::vector<Unknown> out;
    for (std::size_t i = 0; i < inputs.count(); ++i) out.push_back({inputs.path(i), inputs.label(i)});
    return out;
}

std::optional<Narrowed> narrowed_as_planned(const PlannedTest& test) { return narrowed(test, false); }
std::optional<Narrowed> narrowed_as_read(const PlannedTest& test) { return narrowed(test, true); }

double Worth::score() const { return asks == job::Asks::Which ? figure : std::clamp(1 - figure, 0.0, 1.0); }

std::optional<Worth> worth(const PlannedTest& test) {
    const Protocol* p = protocol_of(test);
    if (!p || p->channels.empty() || test.states.empty()) return {};
    if (test.asks == job::Asks::Which) {
        if (test.states.size() < 2) return {};
        const auto found = power(test, 0, 0, 1);
        return found ? std::optional(Worth{test.asks, found->none() ? 0 : found->chance}) : std::nullopt;
    }
    if (test.asks == job::Asks::Unknown) {
        const auto found = narrowed_as_planned(test);
        return found && found->sigma > 0 ? std::optional(Worth{test.asks, found->left / found->sigma}) : std::nullopt;
    }
    const Prediction& pr = test.states[0].prediction;
    const int runs = planned_runs(test, 0);
    if (!pr.made || pr.tells[0] != PredictedValue || runs == 0) return {};
    const Channel& c = p->channels[0];
    const double one = read_to(test, c, pr.value[0]), mean = one / std::sqrt(runs);
    const double least =
        shown_in_nine * (test.asks == job::Asks::SumOrCar ? std::hypot(mean, pr.sigma[0], apart(test, c))
                                                          : std::sqrt(2.0) * std::hypot(mean, apart(test, c)));
    if (least >= std::abs(pr.value[0])) return {};
    return Worth{test.asks, least / std::abs(pr.value[0])};
}

} // namespace dervish::proof
