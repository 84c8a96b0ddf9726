#pragma once
#include "core/balance/bump.h"
#include "core/balance/transient.h"
#include "core/job/bands.h"

/// Who gives up first on this car, and what each change does to it.
namespace dervish::job {

/// The car with tyres on a ground; `car` as assess() or car_with() make it. What is "usual" is worked out here:
/// nominal load from the wheels' loads, dampers a quarter of critical, yaw inertia m a b, roll inertia of a body of
/// radius of gyration a third of the track about its roll axis.
balance::Model to_model(const Vehicle& vehicle, const car::Car& car, balance::Ground ground = balance::Ground::Dry);

/// The steady answers at one ground.
struct BalanceFigures {
    balance::Model model;
    std::array<balance::Limit, 4> phase;           ///< in the order of balance::all_phases
    balance::Curve curve;                          ///< in the middle of the corner
    balance::Limit right;                          ///< in the middle of a right-hand bend
    balance::Limit outright;                       ///< the lower of both, in the middle of the bend
    std::optional<balance::Understeer> understeer; ///< nothing where 0.3 g is more than the car holds
    balance::Pull most_pull;                       ///< at half the limit sideways, to the side of it
    std::array<balance::Bump, 2> bump;             ///< front, rear
    std::optional<double> roll_damping;
    const balance::Limit& limit() const { return outright; }
};
/// "At 0.36 g sideways it pulls up to 0.34 g, then the front left spins".
std::string words_of(const balance::Pull& pull, double lateral);
BalanceFigures balance_figures(const Vehicle& vehicle, const car::Car& car, balance::Ground ground);

/// The outright limit, m/s², and balance_of() there, as outcomes 0 and 1.
class LimitOutcomes {
public:
    explicit LimitOutcomes(balance::Ground ground) : ground_(ground) {}
    Outcomes operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale);

private:
    balance::Ground ground_;
    Cars cars_;
    std::optional<balance::Limit> first_;
};
/// Standard uncertainty of LimitOutcomes, and what they come from.
Bands limit_bands(const Vehicle& vehicle, const Setup& setup, balance::Ground ground,
                  const std::function<bool()>& cancelled = {});

/// What to keep in mind of these figures: stops reached on the way to the limit and from what on, a lean beyond what
/// ride height's geometry describes, unlike tyres, no understeer gradient. Empty: nothing.
std::vector<std::string> validity(const BalanceFigures& figures);

/// What the turn that holds more does, where the two differ by over 0.005 g.
std::optional<std::string> other_turn(const BalanceFigures& figures);

/// How much nearer to giving up the front is than the rear, at the limit: 0 both at once, above 0 the rear first.
double balance_of(const balance::Limit& limit);

/// One bar times a factor, from none to rigid: the outright limit and the lean at it.
struct BarPoint {
    double factor;
    balance::Limit limit;
};
std::vector<BarPoint> sweep_bar(const balance::Model& model, bool front);
/// The factor of the highest limit among the swept ones, and whether more bar than now costs grip.
struct BestBar {
    double factor, limit;
    bool more_costs;
};
BestBar best_of(const std::vector<BarPoint>& sweep);

/// The car with both bars times their factors.
car::Car with_bars(car::Car car, double front, double rear);

/// The limit on each ground (rows), with nothing listed aboard, as now, and with everything aboard.
struct Grid {
    std::vector<std::array<balance::Limit, 3>> rows;
};
/// The vehicle with nothing listed aboard (0), as it is (1), with everything aboard (2).
Vehicle with_loads(Vehicle vehicle, std::size_t which);
Grid condition_grid(const Vehicle& vehicle, const Setup& setup);

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
    std::string path; ///< of what it changes: "trial/front/bar/outer_diameter", "vehicle/rear/spring_rate"
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
    bool front_bar = true, rear_bar = true, springs = true, tyres = true, loads = true;
};
/// Each means solved for reading(school) = wanted; bars only where the rules allow it. Told in the units of `system`.
std::vector<Means> same_balance(const Vehicle& vehicle, const car::Car& car, balance::Ground ground, School school,
                                double wanted, const Rules& rules = {}, units::System system = units::System::Metric);

} // namespace dervish::job
