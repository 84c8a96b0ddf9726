#include "core/proof/verdict.h"

#include "core/num/dense.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace dervish::proof {
namespace {
constexpr double inside_99 = 2.5758293035489004;
constexpr double widest = 0.25; ///< of a figure: a band within which agreeing says something

/// Whether a sum of squares of `freedom` is more than a spread of `one` explains.
bool scatters(double squares, double freedom, double one) {
    if (freedom <= 0) return false;
    return one > 0 ? chance_of_chi(squares / (one * one), freedom) < 0.05 : squares > 0;
}

Verdict one_sided(Verdict v, double wrong_side) {
    v.bound = true;
    if (v.z * wrong_side <= 0) v.agreement = Agreement::Agrees;
    return v;
}

const PredictedShare* share_at(const Prediction& p, const std::string& path) {
    const auto at = std::ranges::find(p.shares, path, &PredictedShare::path);
    return at == p.shares.end() ? nullptr : &*at;
}

std::vector<Share> as_shares(const Prediction& p) {
    std::vector<Share> out;
    for (const PredictedShare& s : p.shares) out.push_back({s.path, s.label, Source::Assumed, s.change});
    return out;
}

/// Rows are runs, columns the states that were run and, last, the drift; and whether the drift can be told.
struct Design {
    Eigen::MatrixXd rows;
    std::vector<int> states;
    bool drift = false;
};
Design design_of(const std::vector<std::pair<double, int>>& runs) {
    Design out;
    for (const auto& [at, state] : runs)
        if (std::ranges::find(out.states, state) == out.states.end()) out.states.push_back(state);
    const auto n = static_cast<Eigen::Index>(runs.size()), states = static_cast<Eigen::Index>(out.states.size());
    double middle = 0;
    for (const auto& [at, state] : runs) middle += at / static_cast<double>(runs.size());
    Eigen::MatrixXd all = Eigen::MatrixXd::Zero(n, states + 1);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& [at, state] = runs[static_cast<std::size_t>(i)];
        all(i, std::ranges::find(out.states, state) - out.states.begin()) = 1;
        all(i, states) = at - middle;
    }
    out.drift = std::ranges::any_of(runs, [&](const auto& a) { // apart from the states: where one ran twice
        return std::ranges::any_of(runs, [&](const auto& b) { return a.second == b.second && a.first != b.first; });
    });
    out.rows = out.drift ? all : Eigen::MatrixXd(all.leftCols(states));
    return out;
}

Eigen::VectorXd contrast(const Design& d, int first, int second) {
    Eigen::VectorXd out = Eigen::VectorXd::Zero(d.rows.cols());
    for (std::size_t i = 0; i < d.states.size(); ++i)
        out[static_cast<Eigen::Index>(i)] = (d.states[i] == second ? 1 : 0) - (d.states[i] == first ? 1 : 0);
    return out;
}
bool has(const Design& d, int state) { return std::ranges::find(d.states, state) != d.states.end(); }
} // namespace

Agreement judged(double z) {
    const double size = std::abs(z);
    return size <= band_90 ? Agreement::Agrees : size <= inside_99 ? Agreement::Doubtful : Agreement::Disagrees;
}

std::vector<Taken> taken(const PlannedTest& test, int state, const std::string& channel) {
    std::vector<Taken> out;
    for (std::size_t r = 0; r < test.runs.size(); ++r) {
        const Run& run = test.runs[r];
        if (run.state != state || !run.discarded.empty()) continue;
        for (const Reading& reading : run.readings)
            if (reading.channel == channel && reading.discarded.empty())
                out.push_back({r, reading.value, reading.bound});
    }
    return out;
}

Mean mean_of(const std::vector<double>& values, double one) {
    const auto n = static_cast<double>(values.size());
    const double mean = std::accumulate(values.begin(), values.end(), 0.0) / n;
    double squares = 0;
    for (const double v : values) squares += (v - mean) * (v - mean);
    const double each = scatters(squares, n - 1, one) ? std::sqrt(squares / (n - 1)) : one;
    return {mean, each / std::sqrt(n), values.size()};
}

Verdict compare(const PlannedTest& test, int state, std::size_t at) {
    const Protocol& p = protocol(test.protocol);
    const Channel& channel = p.channels[at];
    const Prediction& pr = test.states[static_cast<std::size_t>(state)].prediction;
    std::vector<double> exact;
    std::optional<double> at_least, at_most;
    for (const Taken& t : taken(test, state, channel.spec.key)) {
        if (channel.not_below_0 && t.value <= 0)
            at_most = 0;
        else if (t.bound == Bound::More)
            at_least = std::max(at_least.value_or(t.value), t.value);
        else if (t.bound == Bound::Less)
            at_most = std::min(at_most.value_or(t.value), t.value);
        else
            exact.push_back(t.value);
    }
    Verdict v;
    if (!pr.made || at >= pr.value.size()) return v;
    if (exact.empty() && !at_least && !at_most) return v;
    v.predicted = pr.value[at];
    v.predicted_sigma = pr.sigma[at];
    const auto against = [&](double measured, double sigma, std::size_t count) {
        v.measured = measured;
        v.measured_sigma = sigma;
        v.count = count;
        v.z = (measured - v.predicted) / std::max(std::hypot(sigma, v.predicted_sigma), 1e-300);
        v.agreement = pr.tells[at] == PredictedNothing ? Agreement::CannotTell : judged(v.z);
        return v;
    };
    const bool more_foretold = pr.tells[at] == PredictedMoreThan;
    if (!exact.empty()) {
        const Mean m = mean_of(exact, read_to(test, channel, v.predicted));
        against(m.value, m.sigma, m.count);
        if (v.agreement == Agreement::Agrees && !more_foretold && v.predicted_sigma > v.measured_sigma &&
            band_90 * std::hypot(v.predicted_sigma, v.measured_sigma) > widest * std::abs(v.predicted))
            v.agreement = Agreement::TooWide;
        return v.agreement == Agreement::CannotTell || !more_foretold ? v : one_sided(v, -1);
    }
    const double one = read_to(test, channel, v.predicted);
    if (at_least) {
        against(*at_least, one, 1);
        // Both say no more than "more than": nothing is confirmed but that.
        return v.agreement == Agreement::CannotTell ? v : one_sided(v, more_foretold ? 0 : +1);
    }
    against(*at_most, one, 1);
    return v.agreement == Agreement::CannotTell ? v : one_sided(v, -1);
}

Whole compare(const PlannedTest& test) {
    struct Row {
        int state;
        std::size_t channel;
        Verdict verdict;
    };
    const Protocol& p = protocol(test.protocol);
    std::vector<Row> rows;
    Whole out;
    std::optional<std::size_t> lead; // the first channel that was read, and whether agreeing on it says anything
    bool tells = false;
    for (int s = 0; s < static_cast<int>(test.states.size()); ++s)
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            const Verdict v = compare(test, s, c);
            if (v.agreement == Agreement::NothingRead) continue;
            if (v.agreement == Agreement::CannotTell) {
                out.agreement = Agreement::CannotTell;
                continue;
            }
            if (!lead || c < *lead) {
                lead = c;
                tells = false;
            }
            tells = tells || (c == *lead && v.agreement != Agreement::TooWide);
            // A bound on its right side says nothing against: it has no residual.
            if (v.bound && v.agreement == Agreement::Agrees) {
                out.agreement = Agreement::Agrees;
                continue;
            }
            rows.push_back({s, c, v});
        }
    if (rows.empty()) return out;
    const auto n = static_cast<Eigen::Index>(rows.size());
    Eigen::MatrixXd covariance = Eigen::MatrixXd::Zero(n, n);
    Eigen::VectorXd residual(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const Row& a = rows[static_cast<std::size_t>(i)];
        const Prediction& of_a = test.states[static_cast<std::size_t>(a.state)].prediction;
        residual[i] = a.verdict.measured - a.verdict.predicted;
        double shared = 0;
        for (Eigen::Index j = 0; j < n; ++j) {
            const Row& b = rows[static_cast<std::size_t>(j)];
            const Prediction& of_b = test.states[static_cast<std::size_t>(b.state)].prediction;
            double sum = 0;
            for (const PredictedShare& share : of_a.shares)
                if (const PredictedShare* other = a.state == b.state               ? &share
                                                  : sure::of_each_time(share.path) ? nullptr
                                                                                   : share_at(of_b, share.path))
                    sum += share.change[a.channel] * other->change[b.channel];
            covariance(i, j) = sum;
            if (i == j) shared = sum;
        }
        // What is not kept of the inputs, and predictions that keep none (older files), count as each row's own.
        const double own = std::max(0.0, a.verdict.predicted_sigma * a.verdict.predicted_sigma - shared);
        covariance(i, i) += own + a.verdict.measured_sigma * a.verdict.measured_sigma;
    }
    const double chi_squared = residual.dot(solved(covariance, residual).col(0));
    if (!(chi_squared >= 0)) { // readings without a spread, of inputs without one or that move all figures together
        out.agreement = Agreement::CannotTell;
        return out;
    }
    out.chi_squared = chi_squared;
    out.count = static_cast<int>(rows.size());
    out.chance = chance_of_chi(out.chi_squared, static_cast<double>(rows.size()));
    out.agreement = out.chance >= 0.1    ? tells ? Agreement::Agrees : Agreement::TooWide
                    : out.chance >= 0.01 ? Agreement::Doubtful
                                         : Agreement::Disagrees;
    return out;
}

std::optional<std::pair<double, double>> predicted_difference(const PlannedTest& test, std::size_t at, int first,
                                                              int second) {
    const TestState &a = test.states[static_cast<std::size_t>(first)],
                    &b = test.states[static_cast<std::size_t>(second)];
    for (const TestState* s : {&a, &b})
        if (!s->prediction.made || at >= s->prediction.value.size() || s->prediction.tells[at] != PredictedValue)
            return {};
    const double difference = b.prediction.value[at] - a.prediction.value[at];
    if (a.prediction.shares.empty() || b.prediction.shares.empty()) // an older file: nothing is known to be shared
        return std::pair{difference, std::hypot(a.prediction.sigma[at], b.prediction.sigma[at])};
    const auto sigma = sure::difference_sigma(a.car.setup, as_shares(a.prediction), b.car.setup,
                                              as_shares(b.prediction), a.prediction.value.size());
    return std::pair{difference, sigma[at]};
}

std::optional<double> spread_of_difference(const std::vector<int>& order, int first, int second) {
    std::vector<std::pair<double, int>> runs;
    for (std::size_t i = 0; i < order.size(); ++i) runs.emplace_back(static_cast<double>(i), order[i]);
    if (runs.empty()) return {};
    const Design d = design_of(runs);
    if (!has(d, first) || !has(d, second) || first == second) return {};
    const Eigen::VectorXd c = contrast(d, first, second);
    return std::sqrt(c.dot(solved(d.rows.transpose().lazyProduct(d.rows), c).col(0)));
}

std::optional<BackToBack> back_to_back(const PlannedTest& test, std::size_t at, int first, int second) {
    const Protocol& p = protocol(test.protocol);
    const Channel& channel = p.channels[at];
    std::vector<std::pair<double, int>> runs;
    std::vector<double> read;
    for (int s = 0; s < static_cast<int>(test.states.size()); ++s)
        for (const Taken& t : taken(test, s, channel.spec.key))
            if (t.bound == Bound::Exact && !(channel.not_below_0 && t.value <= 0)) {
                runs.emplace_back(static_cast<double>(t.run), s);
                read.push_back(t.value);
            }
    if (runs.empty() || first == second) return {};
    const Design d = design_of(runs);
    if (!has(d, first) || !has(d, second)) return {};
    const Eigen::VectorXd y = Eigen::Map<const Eigen::VectorXd>(read.data(), static_cast<Eigen::Index>(read.size()));
    const Eigen::VectorXd c = contrast(d, first, second);
    const Eigen::MatrixXd normal = d.rows.transpose().lazyProduct(d.rows);
    const Eigen::VectorXd found = solved(normal, d.rows.transpose().lazyProduct(y));
    const double squares = (y - d.rows.lazyProduct(found)).squaredNorm(),
                 freedom = static_cast<double>(d.rows.rows() - d.rows.cols()), one = read_to(test, channel, y.mean()),
                 spread = std::sqrt(c.dot(solved(normal, c).col(0)));
    const bool own = scatters(squares, freedom, one);
    BackToBack out;
    out.difference = c.dot(found);
    out.sigma = spread * (own ? std::sqrt(squares / freedom) : one);
    out.half_90 = out.sigma * (own ? student_90(freedom) : band_90);
    if (d.drift) out.drift = found[found.size() - 1];
    out.apart_half_90 = std::hypot(out.half_90, band_90 * std::sqrt(2.0) * apart(test, channel));
    out.sure = sure::how_sure({out.difference, out.half_90 / band_90});
    if (const auto foretold = predicted_difference(test, at, first, second)) {
        out.predicted = foretold->first;
        out.predicted_sigma = foretold->second;
        out.z = (out.difference - foretold->first) / std::hypot(out.half_90 / band_90, foretold->second);
        // It agrees with the predicted difference and with none at all: it has told nothing.
        out.agreement = std::abs(out.z) <= band_90 && std::abs(out.difference) <= out.half_90 ? Agreement::CannotTell
                                                                                              : judged(out.z);
    }
    return out;
}

std::optional<Power> power(const PlannedTest& test, std::size_t at, int first, int second) {
    const auto foretold = predicted_difference(test, at, first, second);
    const auto spread = spread_of_difference(test.order, first, second);
    if (!foretold || !spread) return {};
    const Channel& channel = protocol(test.protocol).channels[at];
    const double one = read_to(test, channel, test.states[static_cast<std::size_t>(first)].prediction.value[at]);
    Power out{foretold->first, foretold->second, *spread * one, 0, 0};
    out.smallest = (band_90 + 1.2815515655446004) * out.read_sigma;
    const double all = std::hypot(out.predicted_sigma, out.read_sigma), seen = band_90 * out.read_sigma;
    out.chance = normal_below((std::abs(out.predicted) - seen) / all);
    return out;
}

std::optional<int> rounds_needed(const PlannedTest& test, std::size_t at, int first, int second, int most) {
    PlannedTest tried = test;
    tried.order.clear();
    for (int rounds = 1; rounds <= most; ++rounds) {
        if (!tried.order.empty()) tried.order.pop_back(); // the way back, which the next round begins with
        for (int s = 0; s < static_cast<int>(test.states.size()); ++s) tried.order.push_back(s);
        tried.order.push_back(0);
        const auto found = power(tried, at, first, second);
        if (!found) return {};
        if (found->chance >= 0.9) return rounds;
    }
    return {};
}

std::vector<std::string> people_of(const PlannedTest& test) {
    std::vector<std::string> out;
    const auto add = [&](const std::string& person) {
        if (!person.empty() && std::ranges::find(out, person) == out.end()) out.push_back(person);
    };
    for (const Guess& g : test.guesses) add(g.person);
    for (const Run& r : test.runs) {
        add(r.driver);
        for (const Impression& i : r.impressions) add(i.person);
    }
    for (const Voice& v : test.decision.voices) add(v.person);
    return out;
}

namespace {
/// Ranks from 1, ties sharing their mean.
std::vector<double> ranks(const std::vector<double>& of) {
    std::vector<double> out(of.size());
    for (std::size_t i = 0; i < of.size(); ++i) {
        double below = 0, same = 0;
        for (const double other : of) {
            below += other < of[i];
            same += other == of[i];
        }
        out[i] = below + (same + 1) / 2;
    }
    return out;
}
} // namespace

std::optional<double> mark_of(const PlannedTest& test, int state, const std::string& person, const std::string& scale) {
    double sum = 0;
    int count = 0;
    for (const Run& r : test.runs)
        if (r.state == state && r.discarded.empty())
            for (const Impression& i : r.impressions)
                if (i.person == person && i.scale == scale) {
                    sum += i.mark;
                    ++count;
                }
    return count ? std::optional(sum / count) : std::nullopt;
}

std::optional<double> agreement_of(const PlannedTest& test, const std::string& one, const std::string& other) {
    std::vector<double> a, b;
    // The same scale of the same state: each person's mean over their runs.
    for (std::size_t s = 0; s < test.states.size(); ++s)
        for (const Scale& scale : scales_of(protocol(test.protocol))) {
            const auto mean = [&](const std::string& person) {
                return mark_of(test, static_cast<int>(s), person, scale.key);
            };
            const auto x = mean(one), y = mean(other);
            if (x && y) {
                a.push_back(*x);
                b.push_back(*y);
            }
        }
    if (a.size() < 4) return {};
    const auto ra = ranks(a), rb = ranks(b);
    const double middle = (static_cast<double>(a.size()) + 1) / 2;
    double ab = 0, aa = 0, bb = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        ab += (ra[i] - middle) * (rb[i] - middle);
        aa += (ra[i] - middle) * (ra[i] - middle);
        bb += (rb[i] - middle) * (rb[i] - middle);
    }
    if (!(aa > 0) || !(bb > 0)) return {};
    return ab / std::sqrt(aa * bb);
}

} // namespace dervish::proof
