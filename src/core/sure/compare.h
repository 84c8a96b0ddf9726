#pragma once
#include "core/sure/questions.h"

#include <optional>
#include <set>
#include <string>

/// Two setups of one car against each other: what they share is off in both alike.
namespace dervish::sure {

/// The figures compared: the tally's outcomes, then these.
enum Compared { ComparedLimit = outcome_count, ComparedHeads, compared_count };
struct Figures {
    /// SI, as outcomes; the outright limit, dry; Ride::head in the car's use. NaN where there is none, as where the
    /// ramps end before a wheel lifts: what is more than that is not known, and so no difference to it.
    std::array<double, compared_count> value;
    Bands bands; ///< of them, by straight lines
};
/// Of one setup's bands that were found apart.
Figures together(const Bands& tally, const Bands& limit, const Bands& heads);
/// Throws BadInput as assess() for a setup that cannot be.
Figures figures_of(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled = {});

/// Paths of a setup's numbers, as of Trial, that are the same thing in both: the same number of the same part, by its
/// id; of two bars the steel's moduli and density. Equal numbers of two parts are two things.
std::set<std::string> alike(const Setup& before, const Setup& after);

/// What another setup changes of an answer, SI.
struct Change {
    double by = 0, sigma = 0;     ///< σ to first order
    std::optional<Sides> drawn{}; ///< how far 5 % of the cars drawn lie below it and above it (sure::draw_change)
    double as_told = 0;           ///< the share of these in which it has the sign of `by`
    Sides sides() const { return drawn.value_or(Sides{band_90 * sigma, band_90 * sigma}); }
    double half() const { return (sides().below + sides().above) / 2; } ///< of its 90 % band
};

/// σ of `after` less `before` of any `count` figures, by their shares. An input that is the same in both, as everything
/// of the car, a tyre or a spring that stays, counts by how differently it acts; what is of one setup alone, and
/// friction at rest, counts whole. GUM 5.2.
std::vector<double> difference_sigma(const Setup& before, const std::vector<Share>& of_before, const Setup& after,
                                     const std::vector<Share>& of_after, std::size_t count);

/// Of each figure; NaN where either has none.
std::vector<Change> changes(const Setup& before, const Figures& of_before, const Setup& after, const Figures& of_after);
/// A setup's answers to a question, SI, and their bands.
struct Answered {
    std::vector<double> value;
    Bands bands;
};
/// `question` makes one that begins anew. Throws BadInput as assess() for a setup that cannot be.
Answered answered(const Vehicle& vehicle, const Setup& setup, const std::function<Question()>& question,
                  const std::function<bool()>& cancelled = {});
/// Of each answer to one question, of two setups of one car. NaN where either has none.
std::vector<Change> changes(const Setup& before, const Answered& of_before, const Setup& after,
                            const Answered& of_after);
/// The same, answered here.
/// Example: changes(job.vehicle, job.fitted, job.trial, [] { return limit(Ground::Wet, Near::FirstOrder); }).
std::vector<Change> changes(const Vehicle& vehicle, const Setup& before, const Setup& after,
                            const std::function<Question()>& question, const std::function<bool()>& cancelled = {});

/// How sure the sign of a change is, of two in ten or one in twenty that it is the other: by the cars drawn where there
/// are some.
enum class Sure { CannotSay, Probably, Surely };
Sure how_sure(const Change& change);
/// Of cars drawn, by the share of them in which it has the sign that most have.
Sure how_sure_by(double share);

} // namespace dervish::sure
