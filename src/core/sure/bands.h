#pragma once
#include "core/num/band.h"
#include "core/sure/question.h"

namespace dervish::sure {
using namespace study;

/// What one input does to each outcome.
struct Share {
    std::string path;
    std::string label; ///< "Front axle, track"
    Source source;
    std::vector<double> change; ///< with one σ more of this input, to first order; of several outcomes they go together
    double variance(std::size_t outcome) const { return change[outcome] * change[outcome]; }
};

/// How far 5 % of the cars lie below a figure and 5 % above it, in its own unit.
struct Sides {
    double below, above;
};

/// Standard uncertainty of each answer to a question and where it comes from.
struct Bands {
    std::vector<double> nominal; ///< the answers themselves
    std::vector<double> sigma;
    std::vector<Share> shares;
    std::vector<Sides> drawn; ///< with_draws(); empty before
    /// The 90 % band of an outcome: as drawn where that is known, else along straight lines.
    Sides sides(std::size_t outcome) const;
};

/// Beam theory's own uncertainty of a bar's rate (solid elements differ by about this).
inline constexpr double beam_model_sigma = 0.01;
/// The same where the setup has a bent tube: a fifth of what its bends flatten is not sure either.
double beam_sigma(const Setup& setup);

/// What friction holds at each wheel's spring once the car was rocked, one σ, N: 2 % of the load on an independent
/// wheel's spring, 4 % on a solid axle's. Assumed: docs/model.md, "Uncertainty".
PerWheel<double> friction_sigma(const Vehicle& vehicle);
/// Of each wheel's friction in Bands::shares. It holds otherwise each time that a car comes to rest.
inline constexpr const char* friction_paths[] = {"friction/front_left", "friction/front_right", "friction/rear_left",
                                                 "friction/rear_right"};
/// Whether what stands at `path` is another with each setup, and each time.
inline bool of_each_time(const std::string& path) { return path.starts_with("friction/"); }

/// Linear propagation by the difference over one sigma to each side of every input that bears, or by the derivative
/// where the question's part of a sigma tells of the whole; beam theory's own error included. Inputs are shared
/// out among the processors (num/share_out.h): `question` and `cancelled` must bear being asked on several threads.
/// `cancelled` is asked between inputs and ends early with what was summed. GUM (JCGM 100:2008) 5.1.2. Example:
/// propagate(job.vehicle, job.trial, tally(Near::FirstOrder)).sigma[RollGradient].
Bands propagate(const Vehicle& vehicle, const Setup& setup, const Question& question,
                const std::function<bool()>& cancelled = {});

/// Standard uncertainty of each share of a bar's ledger, in the order of bar::parts. Throws BadInput as to_bar().
std::array<double, 9> ledger_sigma(const Assembly& assembly);

/// The inputs that widen `outcome` most, widest first, as (label, share of the variance), at most `most`.
std::vector<std::pair<std::string, double>> measure_next(const Bands& bands, std::size_t outcome, std::size_t most);

} // namespace dervish::sure
