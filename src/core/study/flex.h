#pragma once
#include "core/balance/transient.h"
#include "core/study/balance.h"

/// The car on ramps in every state of its bars: what each wheel does, what stops it, and what the road pays.
namespace dervish::study {
using namespace model;

/// A car to set beside others on the same ramps.
struct FlexState {
    /// In which respect it differs from the setup that is looked at.
    struct What {
        enum class Kind { AsItIs, Fitted, EndOff, BothOff, Kept, LongerDampers, SofterBar, FromShelf, OtherJob };
        Kind kind = Kind::AsItIs;
        End end = End::Front; ///< of EndOff, SofterBar and FromShelf
        std::string called;   ///< a kept setup; a bar of the shelf; another job's car
        double longer = 0;    ///< of LongerDampers, m
        bool operator==(const What&) const = default;
    } what;
    Vehicle vehicle;
    Setup setup;
};
inline constexpr double longer_dampers = 0.05, softer_bar = 0.4; ///< m; times the rate
/// First the setup as it is, then its bars off one by one and both (where there are any), Fitted and the kept setups
/// that are other ones, each whole, what could be bought: dampers longer by that much, m, a softer front bar, each bar
/// of the shelf where it fits; last another job's Fitted.
std::vector<FlexState> flex_states(const Job& job, const Setup& setup, const Job* other = nullptr,
                                   double longer = longer_dampers);

/// What ends a wheel's travel: how much travel is left to it, m; 0 or less: it is reached.
struct CornerLimit {
    std::string what;
    double left;
};

struct Corner {
    double load, gap;                ///< N; under the tyre, m
    double travel;                   ///< bump positive, m
    double bump, droop;              ///< from ride height to its stops, m of wheel travel
    double height;                   ///< of the tyre's lowest point above level ground, m
    std::vector<CornerLimit> limits; ///< nearest first; never empty
    const CornerLimit& first() const { return limits[0]; }
};
/// Every wheel at a state of the car. On a solid axle stops at the springs are told as travel of the wheel.
PerWheel<Corner> corners(const Vehicle& vehicle, const Setup& setup, const car::Car& car, const car::State& at,
                         const car::Situation& ground);

/// What the road pays for a state.
struct RoadCost {
    double roll_gradient;       ///< rad per m/s²
    std::optional<double> tips; ///< side slope at which it tips, rad
    double lane_lean;           ///< most lean in `lane`, rad; NaN: it cannot do that
    balance::Drive lane;
    double head; ///< what tosses heads in the car's use (ride_in_use()), m/s²
};

struct FlexResult {
    FlexState of;
    car::Car car;
    flex::Ascent ascent;
    PerWheel<Corner> corner;
    RoadCost road;
    double lowest() const; ///< load, N
};
/// The lane change that all of the states can do: 4 m/s² at 72 km/h for a plain car, slower for a small one, less where
/// one of them would slide, tip or be beyond its critical speed.
balance::Drive common_lane(const std::vector<FlexState>& states);
/// Throws BadInput as assess().
FlexResult flex_of(const FlexState& state, const flex::Protocol& protocol, const balance::Drive& lane);
/// All of them, in their common lane change; a state that cannot be computed is left out.
std::vector<FlexResult> flex_all(const std::vector<FlexState>& states, const flex::Protocol& protocol,
                                 const std::function<bool()>& cancelled = {});

/// Best first: `track` (0 to 1) weighs the whole articulation over the best one's, the rest how little it leans over
/// the least. Indices into `all`.
std::vector<std::size_t> ranked(const std::vector<FlexResult>& all, double track);

} // namespace dervish::study
