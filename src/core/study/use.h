#pragma once
#include "core/study/balance.h"

#include <limits>

/// How much lean, and which balance, ride and reserve a use bears, where a car stands in that, and bars matched to the
/// grip of the tyres. docs/model.md, "Use".
namespace dervish::study {

struct Wanted {
    double least = -std::numeric_limits<double>::infinity(), most = std::numeric_limits<double>::infinity();
    /// -1 below, 0 within, 1 above.
    int side(double value) const { return value < least ? -1 : value > most ? 1 : 0; }
};

struct UseBands {
    Wanted lean;    ///< of the body per lateral acceleration, rad per m/s²
    Wanted balance; ///< balance_of() the limit on dry ground: above 0 the rear gives up first
    Wanted head;    ///< Ride::head on the use's ground, m/s²
    Wanted reserve; ///< from the limit of grip on dry ground to tipping over, m/s²
    Ground ground;  ///< that the ride is judged on
};
/// What is usual of a use: our own round figures, to be set right for the car and its people.
UseBands usual_bands(Use use);
/// The same with what the job says otherwise.
UseBands bands_of(const UseData& use);

struct UseFigures {
    double lean, balance, head, reserve; ///< as UseBands has them; a car that never tips has an infinite reserve
};
/// Example: bands_of(v.use).lean.side(use_figures(v, setup, car).lean) is -1 for a car flatter than its use bears.
UseFigures use_figures(const Vehicle& vehicle, const Setup& setup, const car::Car& car);

/// The ride of a model of the car, of whichever ground, on the ground of the car's use, a plane as a good road: its
/// `head` is the harshness that the tally tells.
balance::Ride ride_in_use(const Vehicle& vehicle, balance::Model model);

/// A tyre's grip times a factor: the limit in mid-corner with the bars as they are and its lean, and with the pair of
/// bars (factors on each) that of those tried, from none to `most_bar` times, gains the most in the phase (entry,
/// middle, exit, lifted) in which it gains the least.
struct Match {
    double grip;
    balance::Limit now, best;
    PerAxle<double> bars;
    double gain = 0; ///< of the limit in that phase; 0 where no pair gains to speak of
};
inline constexpr double most_bar = 4; ///< stiffer ones are beyond what is looked at
std::vector<Match> match_to_tyre(const balance::Model& model, const std::function<bool()>& cancelled = {});

} // namespace dervish::study
