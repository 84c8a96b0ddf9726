#pragma once
#include "core/study/cures.h"
#include "core/study/flex.h"
#include "core/study/use.h"
#include "core/sure/bands.h"

/// What bands and draws are asked of: the tally, the limit on a ground, the reach on ramps.
namespace dervish::sure {
using namespace study;

/// How cars near the first are answered: settled in full from where it stands, or by the derivative there
/// (car::Nearby), in full only where a stop, a spring or a wheel lets go in between.
enum class Near { Settled, FirstOrder };

/// The tally: an answer for each Outcome, in their order.
Question tally(Near near = Near::Settled);
/// Bands of the tally, to first order.
Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled = {});

/// The outright limit, m/s², and balance_of() there.
enum LimitAnswer { LimitLateral, LimitBalance };
Question limit(Ground ground, Near near = Near::Settled);
Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground,
                  const std::function<bool()>& cancelled = {});

/// How the car goes over its outright limit: 1 where the front gives up first and where it lets go suddenly
/// (balance::LettingGo), -1 where not; NaN where it tips over.
enum EdgeAnswer { EdgeFront, EdgeSudden };
Question edge(Ground ground);

/// What the schools read of balance, in the order of study::all_schools, SI, NaN where one has no reading here; then
/// what one wheel over a bump feels at each end, times what both together feel (balance::Bump::harshness).
enum SteadyAnswer { SteadySchools, SteadyFrontBump = std::size(study::all_schools), SteadyRearBump, steady_answers };
Question steady(Ground ground);

/// What a change may cost, of study::Costs; NaN where the car has none.
enum CostAnswer {
    CostLean,
    CostDry,
    CostWet,
    CostFrontWheel,
    CostRearWheel,
    CostHeads,
    CostSeat,
    CostFirstLift,
    CostRamps,
    CostLink,
    CostDamping,
    cost_answers
};
Question costs();

/// Ride::head on the ground of the car's use, m/s², as that ground is given: what is not sure of the road is not the
/// car's.
Question heads();

/// What a manoeuvre comes to, as balance::Run has it; SI. NaN where it has no such figure.
enum RunAnswer {
    RunLean,
    RunLightest,
    RunSides,
    RunSeat,
    RunHead,
    RunInAir,
    RunYaw90,
    RunLateral90,
    RunOvershoot,
    RunAside1s,
    RunAside,
    RunYaw,
    RunDrift,   ///< sideways in the end
    RunHeading, ///< off in the end
    run_answers
};
std::array<double, run_answers> answers_of(const balance::Run& run);
/// Question::part of runs followed in time: half a spread to one side, since a run takes long and is followed far more
/// exactly than that.
inline constexpr double part_in_time = 0.5;
/// What a car's motion on the road is made of, for Question::screen: how it stands in gentle, middling and hard bends,
/// in them braked and pulling, over a kerb and in a wind; its masses, inertias, dampers and its tyres' lag.
std::function<std::vector<double>(const Asked&)> motion_screen(Ground ground);
/// Example: propagate(job.vehicle, job.trial, manoeuvre({balance::Manoeuvre::Kerb}, Ground::Dry)).sigma[RunHead].
Question manoeuvre(const balance::Drive& drive, Ground ground);

/// Where the front and then the rear would give up with one bar times each of study::swept_factors, m/s²: the lower is
/// the limit, the other what it has left beyond.
Question sweep(Ground ground, End end, Near near = Near::Settled);
/// The best of a bar (study::best_of) with its 90 % band: both ends' limits go with the inputs to first order, and of
/// many cars drawn so each has a best.
struct BestBarBand : study::BestBar {
    double least, most;           ///< factors, between which the best of 90 % of the cars is
    double least_gain, most_gain; ///< likewise, m/s²
    double less, more;            ///< the share of the cars whose best has less bar than now, and more
};
/// Example: best_bar(job.vehicle, job.trial, Ground::Wet, End::Front).least.
BestBarBand best_bar(const Vehicle& vehicle, const Setup& setup, Ground ground, End end,
                     const std::function<bool()>& cancelled = {});

/// Where the front and then the rear would give up in each of balance::all_phases, the lower of both turns, m/s², with
/// the bars times each of `bars` in turn.
Question phases(Ground ground, std::vector<PerAxle<double>> bars = {{1, 1}});
/// Of many cars drawn so: between which 90 % of a phase's limits are, m/s², and the share of them whose front gives up
/// first.
struct PhaseBand {
    double least, most, front;
};
/// Example: phase_bands(job.vehicle, job.trial, Ground::Dry)[0].least.
std::array<PhaseBand, 4> phase_bands(const Vehicle& vehicle, const Setup& setup, Ground ground,
                                     const std::function<bool()>& cancelled = {});
/// Of those cars, what the limit gains with the bars times `bars` in the phase where it gains the least, as a part of
/// it: between which 90 % are, and the share that gains at all.
struct PairBand {
    double least, most, better;
};
PairBand pair_band(const Vehicle& vehicle, const Setup& setup, Ground ground, const PerAxle<double>& bars,
                   const std::function<bool()>& cancelled = {});

/// Where a protocol ends and the axles' travels there.
enum ReachAnswer { Reach, ReachFrontTravel, ReachRearTravel };
Question reach(const flex::Protocol& protocol, Near near = Near::Settled);
Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled = {});

} // namespace dervish::sure
