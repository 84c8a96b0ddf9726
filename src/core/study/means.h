#pragma once
#include "core/study/balance.h"

/// What else would bring the balance to where it is wanted, by each school of tuners.
namespace dervish::study {
using namespace model;

/// What balance is judged by; tuners' schools differ.
enum class School { Limit, Understeer, Share, Ride, RideFirst };
inline constexpr School all_schools[] = {School::Limit, School::Understeer, School::Share, School::Ride,
                                         School::RideFirst};
/// What a school's reading is told in, and a wanted value to begin with, SI.
struct SchoolScale {
    units::Quantity quantity;
    double usual;
};
SchoolScale scale_of(School school);
/// By limit: balance_of(); understeer gradient, rad per m/s²; front share of transfer less front share of mass; rear
/// over front one-wheel ride frequency less 1; ride first: what tosses heads on the model's ground (ride_of()), m/s²,
/// whatever the balance. Nothing where the car has none (0.3 g is more than it holds).
std::optional<double> reading(School school, const balance::Model& model);

/// A change that would bring the balance to where it is wanted, and what it costs elsewhere.
struct Means {
    /// NewBar: where none acts, so that a factor of it would be nothing.
    enum class Lever { Bar, NewBar, Springs, Pressure, Camber, Load };
    enum class Answer { Found, AsItIs, OutOfReach, NoReading };
    Lever lever;
    Answer answer;
    End end;          ///< of all but a load
    std::size_t load; ///< of the vehicle's
    /// A bar's or spring's factor, a new bar's roll stiffness on the car (N·m/rad), the pressure or camber itself, how
    /// much further back a load (m); and between what it was looked for.
    double value, low, high;
    bool found() const { return answer == Answer::Found; }
    /// Of what it changes: "trial/front/bar/outer_diameter", "trial/rear/springs/rate".
    std::string path() const;
    double roll = 0;           ///< change of roll gradient, rad per m/s²
    double one_wheel = 0;      ///< of the rate that one wheel feels over a bump, on the axle where it changes most, N/m
    double limit = 0, wet = 0; ///< of the outright limit, dry and wet, m/s²
    double first_lift = 0;     ///< of the lateral acceleration at which a wheel lifts, m/s²; 0 where none lifts
    double articulation = 0;   ///< of the lift height on diagonal ramps, m
    double head = 0;           ///< of what tosses heads on a patched road (Ride::head), m/s²
    double link = 0;           ///< of the largest link force in a bend of 0.5 g, N; 0 where no link is computed
};
struct Rules {
    PerAxle<bool> bars{true, true};
    bool springs = true, tyres = true, loads = true;
};
/// Each means solved for reading(school) = wanted; bars only where the rules allow it.
std::vector<Means> same_balance(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground,
                                School school, double wanted, const Rules& rules = {});

} // namespace dervish::study
