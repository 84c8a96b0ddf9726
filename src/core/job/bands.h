#pragma once
#include "core/band.h"
#include "core/job/assess.h"

#include <functional>

namespace dervish::job {

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

/// How a 90 % band reads beside its value, both in the unit shown: "± 6.3", or "−9.7 +4.6" where one side is over a
/// quarter wider than the other. A band that is even only because it was not drawn yet, of a figure that is always
/// `positive` and more than a quarter of it, reads in its logarithm. Empty where there is none.
std::string band_text(double value, Sides band, int decimals, bool positive = true);

/// Cars again and again, each slightly different: bars that did not change are not solved again.
class Cars {
public:
    car::Car with(const Vehicle& vehicle, const Setup& setup, double bar_scale = 1);
    const BarSums& sums(std::size_t end) const { return known_[end]->sums; } ///< of the last car

private:
    const BarSums& sums(std::size_t end, const Assembly& assembly, const AxleData& axle);
    struct Known {
        Assembly assembly;
        AxleData axle;
        BarSums sums;
    };
    std::array<std::optional<Known>, 2> known_;
};

/// The tally's outcomes of such cars; ramps are climbed near where the first car lifted.
class TallyOutcomes {
public:
    Outcomes operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale);

private:
    Cars cars_;
    std::optional<flex::Ascent> first_;
    std::optional<car::Turns> turns_;
};

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

/// Bands of the tally.
Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled = {});

/// Standard uncertainty of each share of a bar's ledger, in the order of bar::parts. Throws BadInput as to_bar().
std::array<double, 9> ledger_sigma(const Assembly& assembly);

/// The prediction for a planned test, with sigmas, for the setup and the loads that the test names. Throws BadInput.
proof::Prediction predict(const Vehicle& vehicle, const PlannedTest& test);

/// The inputs that widen `outcome` most, widest first, as (label, share of the variance), at most `most`.
std::vector<std::pair<std::string, double>> measure_next(const Bands& bands, Outcome outcome, std::size_t most);

} // namespace dervish::job
