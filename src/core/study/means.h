#pragma once
#include "core/study/balance.h"

/// What else would bring the balance to where it is wanted, by each school of tuners.
namespace dervish::study {
using namespace model;

/// What balance is judged by; tuners' schools differ.
enum class School { Limit, Understeer, Share, Ride };
inline constexpr School all_schools[] = {School::Limit, School::Understeer, School::Share, School::Ride};
struct SchoolWords {
    const char *name, *reason;
    units::Quantity quantity; ///< of what it is told in
    double usual;             ///< a wanted value to begin with, SI
};
const SchoolWords& words_of(School school);
/// By limit: balance_of(); understeer gradient, rad per m/s²; front share of transfer less front share of mass; rear
/// over front one-wheel ride frequency less 1. Nothing where the car has none (0.3 g is more than it holds).
std::optional<double> reading(School school, const balance::Model& model);

/// A change that would bring the balance to where it is wanted, and what it costs elsewhere.
struct Means {
    std::string what; ///< "front bar"
    std::string to;   ///< "× 0.62", "−2.1°"; why not, where nothing within reach does it
    std::string path; ///< of what it changes: "trial/front/bar/outer_diameter", "trial/rear/springs/rate"
    double value;     ///< a bar's or spring's factor; else the field's new value or, of a load, how much further back
    bool found;
    double roll;         ///< change of roll gradient, rad per m/s²
    double one_wheel;    ///< of the rate that one wheel feels over a bump, on the axle where it changes most, N/m
    double limit, wet;   ///< of the outright limit, dry and wet, m/s²
    double first_lift;   ///< of the lateral acceleration at which a wheel lifts, m/s²; 0 where none lifts
    double articulation; ///< of the lift height on diagonal ramps, m
    double link;         ///< of the largest link force in a bend of 0.5 g, N; 0 where no link is computed
};
struct Rules {
    PerAxle<bool> bars{true, true};
    bool springs = true, tyres = true, loads = true;
};
/// Each means solved for reading(school) = wanted; bars only where the rules allow it. Told in the units of `system`.
std::vector<Means> same_balance(const Vehicle& vehicle, const Setup& setup, const car::Car& car, balance::Ground ground,
                                School school, double wanted, const Rules& rules = {},
                                units::System system = units::System::Metric);

} // namespace dervish::study
