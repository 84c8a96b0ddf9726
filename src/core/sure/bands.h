#pragma once
#include "core/num/band.h"
#include "core/study/assess.h"

#include <functional>

namespace dervish::sure {
using namespace study;

/// What one input adds to the variance of each outcome (σ² of the outcome from this input alone).
struct Share {
    std::string path;
    std::string label; ///< "Front axle, track"
    Source source;
    Outcomes variance;
};

/// How far 5 % of the cars lie below a figure and 5 % above it, in its own unit.
struct Sides {
    double below, above;
};

/// Standard uncertainty of each outcome and where it comes from.
struct Bands {
    Outcomes sigma{};
    std::vector<Share> shares;
    std::optional<std::array<Sides, outcome_count>> drawn; ///< with_draws()
    /// The 90 % band of an outcome: as drawn where that is known, else along straight lines.
    Sides sides(std::size_t outcome) const;
};

/// Beam theory's own uncertainty of a bar's rate (solid elements differ by about this).
inline constexpr double beam_model_sigma = 0.01;
/// The same where the setup has a bent tube: a fifth of what its bends flatten is not sure either.
double beam_sigma(const Setup& setup);

/// Whether any outcome can follow from the field at `path`: not from places to keep clear of, plans, threads, what
/// parts may bear.
bool bears_on_outcomes(const std::string& path);

/// Linear propagation by central differences over one sigma of every input, beam theory's own error included.
/// `outcomes` maps a vehicle, a setup and a factor on the bars to what is asked; `cancelled` is asked between inputs
/// and ends early with what was summed. `bears`: which inputs count. GUM (JCGM 100:2008) 5.1.2.
Bands propagate(const Vehicle& vehicle, const Setup& setup,
                const std::function<Outcomes(const Vehicle&, const Setup&, double bar_scale)>& outcomes,
                const std::function<bool()>& cancelled = {},
                const std::function<bool(const std::string&)>& bears = bears_on_outcomes);

/// Standard uncertainty of each share of a bar's ledger, in the order of bar::parts. Throws BadInput as to_bar().
std::array<double, 9> ledger_sigma(const Assembly& assembly);

/// The inputs that widen `outcome` most, widest first, as (label, share of the variance), at most `most`.
std::vector<std::pair<std::string, double>> measure_next(const Bands& bands, Outcome outcome, std::size_t most);

} // namespace dervish::sure
