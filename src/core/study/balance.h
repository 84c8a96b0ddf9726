#pragma once
#include "core/balance/bump.h"
#include "core/balance/letting_go.h"
#include "core/balance/ride.h"
#include "core/balance/transient.h"
#include "core/study/assess.h"

/// Who gives up first on this car, and what each change does to it.
namespace dervish::study {
using namespace model;

/// The steady answers at one ground.
struct BalanceFigures {
    balance::Model model;
    std::array<balance::Limit, 4> phase;           ///< in the order of balance::all_phases
    balance::Curve curve;                          ///< in the middle of the corner
    balance::Limit right;                          ///< in the middle of a right-hand bend
    balance::Limit outright;                       ///< the lower of both, in the middle of the bend
    std::optional<balance::Understeer> understeer; ///< nothing where 0.3 g is more than the car holds
    balance::Pull most_pull;                       ///< at half the limit sideways, to the side of it
    PerAxle<balance::Bump> bump;
    std::optional<double> roll_damping;
    car::State still;   ///< standing on a plane
    balance::Ride ride; ///< ride_of() the model
    double on_plane;    ///< the outright limit if the ground were as grippy and a plane, m/s²
    std::optional<balance::LettingGo> letting_go; ///< at the speed that is usual on the ground
    const balance::Limit& limit() const { return outright; }
};
BalanceFigures balance_figures(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground);

/// The ride on the model's ground at its usual speed; of a ground that is a plane, on a good road (class A).
balance::Ride ride_of(const balance::Model& model);

/// How much nearer to giving up the front is than the rear, at the limit: 0 both at once, above 0 the rear first.
double balance_of(const balance::Limit& limit);

/// One bar times a factor, from none to rigid: the outright limit on the model's ground, the lean at it, and the ride.
struct BarPoint {
    double factor;
    balance::Limit limit;
    balance::Ride ride;
};
std::vector<BarPoint> sweep_bar(const balance::Model& model, End end);
/// The factor of the highest limit among the swept ones, and whether more bar than now costs grip.
struct BestBar {
    double factor, limit;
    bool more_costs;
};
BestBar best_of(const std::vector<BarPoint>& sweep);

/// The car with the bar at one end times a factor.
car::Car with_bar(car::Car car, End end, double factor);

/// The limit on each ground (rows), with nothing listed aboard, as now, and with everything aboard.
struct Grid {
    std::vector<std::array<balance::Limit, 3>> rows;
};
/// The setup with nothing listed aboard (0), as it is (1), with everything aboard (2).
Setup with_loads(const Vehicle& vehicle, Setup setup, std::size_t which);
Grid condition_grid(const Vehicle& vehicle, const Setup& setup);

} // namespace dervish::study
