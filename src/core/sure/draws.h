#pragma once
#include "core/sure/compare.h"

namespace dervish::sure {
using namespace study;

/// What many made-up cars, each with its inputs drawn from their spreads, came out as.
struct Draws {
    int count = 0;      ///< cars drawn that could be
    int impossible = 0; ///< draws that could not be (sizes that do not fit together) and were drawn again
    std::vector<double> low, median, high; ///< of each answer: 5 %, 50 % and 95 % of the cars lie below
    std::vector<int> ended;                ///< cars whose answer came to its end (OutcomeName::ends_at)
    std::vector<double> above;             ///< the share of the cars whose answer is above 0
};

/// Propagation of distributions by Monte Carlo (GUM Supplement 1, JCGM 101:2008): each input normal about its value
/// with its sigma, drawn again where its field does not accept it; bars' stiffness with beam theory's own error. The
/// same seed gives the same draws. `go_on` hears the number done and ends early by false. Throws BadInput when the car
/// itself cannot be.
/// Example: draw(job.vehicle, job.trial, tally(), 2000, 1).
Draws draw(const Vehicle& vehicle, const Setup& setup, const Question& question, int count, unsigned seed,
           const std::function<bool(int done)>& go_on = {});

/// Cars drawn with one setup and each of them with another: what both share (sure::alike, the car) is off by as many σ
/// in both, what is of one setup alone and what friction holds are not. GUM Supplement 1 of a difference.
struct ChangeDraws {
    Draws before, after;
    Draws change; ///< after less before; of an answer that came to its end in either there is none
};
/// As draw(). Example: draw_change({car, job.fitted}, {car, job.trial}, tally(), 2000, 1).change.above[RollGradient].
ChangeDraws draw_change(const Asked& before, const Asked& after, const Question& question, int count, unsigned seed,
                        const std::function<bool(int done)>& go_on = {});
/// Changes with the sides and the sureness that the drawn cars have. Too few draws change nothing.
std::vector<Change> with_draws(std::vector<Change> changes, const Draws& draws);

/// How `count` cars drawn go over their limit on a ground: the share of them whose front gives up first, and the share
/// that lets go suddenly. NaN where every one tips over or none is drawn.
struct GoesOver {
    double front, sudden;
};
/// Enough for a share of one in five to be within 3 of 100 two times in three: each is driven over its limit.
inline constexpr int draws_for_shares = 200;
/// `go_on` as draw()'s. Example: goes_over(job.vehicle, job.trial, Ground::Dry).sudden.
GoesOver goes_over(const Vehicle& vehicle, const Setup& setup, Ground ground, int count = draws_for_shares,
                   const std::function<bool(int done)>& go_on = {});

/// Of all figures compared, by `count` cars drawn of the tally, of the limit and of the heads. `go_on` as
/// draw()'s.
std::vector<Change> drawn_changes(const Vehicle& vehicle, const Setup& before, const Figures& of_before,
                                  const Setup& after, const Figures& of_after, int count,
                                  const std::function<bool(int done)>& go_on = {});

/// Of each answer to one question, by `count` cars drawn. NaN where either has none. Example: as changes().
std::vector<Change> drawn_changes(const Vehicle& vehicle, const Setup& before, const Setup& after,
                                  const std::function<Question()>& question, int count,
                                  const std::function<bool()>& cancelled = {});

/// Bands with the sides that the drawn cars have, unlike where a figure is skewed or is the smallest of several. Too
/// few draws (under 200) change nothing.
Bands with_draws(Bands bands, const Draws& draws);
/// The same, the draws made here: as many as sides need. `go_on` as draw()'s.
Bands with_draws(const Bands& bands, const Vehicle& vehicle, const Setup& setup, const Question& question,
                 const std::function<bool(int done)>& go_on = {});
/// Enough for a tail of 5 % to be within 1 % of it; and within 2 %, where there are many to be drawn.
inline constexpr int draws_for_sides = 2000, draws_for_many = 400;
/// Of the cars behind the bands shown; any will do that is not an unlucky one (tests/store/coverage.cpp).
inline constexpr unsigned draws_seed = 2;

} // namespace dervish::sure
