#pragma once
#include "core/balance/bump.h"
#include "core/balance/letting_go.h"
#include "core/balance/ride.h"
#include "core/balance/transient.h"
#include "core/study/assess.h"

/// Who gives up first on this car, and what each change does to it.
namespace dervish::study {
using namespace model;

/// A manoeuvre of a car of usual size as a car of this track drives it (job::size_of): lengths and heights go with its
/// size, speed and the times of steering with its root, as of things alike under one gravity; the wind is what it is.
balance::Drive of_size(balance::Drive drive, double track);

/// The most that heads are tossed sideways as the wheels of one side go over a kerb of rocking_kerb(), straight on, at
/// the speed that is usual on the ground, m/s²; and with one end's bar off.
struct Rocking {
    double now;
    PerAxle<double> without;
    std::vector<balance::Moment> moments{}; ///< of the run as it is
};
double rocking_kerb(double track); ///< 30 mm for a car of usual size, m
Rocking rocking(const balance::Model& model);

/// The steady answers at one ground.
struct BalanceFigures {
    balance::Model model;
    std::array<balance::Limit, 4> phase; ///< of balance::all_phases, the lower of both turns; in the middle, left
    balance::Curve curve;                ///< in the middle of the corner
    balance::Limit right;                ///< in the middle of a right-hand bend
    balance::Limit outright;             ///< the lower of both, in the middle of the bend
    std::optional<balance::Understeer> understeer; ///< nothing where 0.3 g is more than the car holds
    balance::Pull most_pull;                       ///< at half the limit sideways, to the side of it
    PerAxle<balance::Bump> bump;
    std::optional<double> roll_damping;
    car::State still;                   ///< standing on a plane
    balance::Ride ride;                 ///< ride_of() the model
    balance::Shaken::Sickness sickness; ///< on the same road
    std::vector<balance::Shaken::Tone> tones;
    double on_plane; ///< the outright limit if the ground were as grippy and a plane, m/s²
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
inline constexpr std::array swept_factors{0.0, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 5.0, 10.0, 1000.0};
inline constexpr std::size_t swept_now = 4; ///< where the factor is 1
using SweptLimits = std::array<double, swept_factors.size()>;
std::vector<BarPoint> sweep_bar(const balance::Model& model, End end);
/// The factor of the highest limit, by a parabola through the swept ones about it (in factor / (1 + factor), none to
/// rigid), what is gained there over the bar as it is, m/s², and whether more bar than now costs grip.
struct BestBar {
    double factor, gain;
    bool more_costs;
};
BestBar best_of(const SweptLimits& limits);
BestBar best_of(const std::vector<BarPoint>& sweep);

/// The model with the bar at one end times a factor, and the loads' spread that it then has.
balance::Model with_bar(balance::Model model, End end, double factor);
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
