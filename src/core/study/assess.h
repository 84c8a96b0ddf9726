#pragma once
#include "core/bar/rate.h"
#include "core/car/handling.h"
#include "core/flex/protocol.h"
#include "core/linkage/limits.h"
#include "core/model/acting.h"
#include "core/model/model.h"

#include <array>

namespace dervish::study {
using namespace model;

/// What a bar does, at each place a tuner quotes a rate.
struct BarFigures {
    bar::Solution solution;
    bar::Laid laid; ///< all its eyes
    BarSums sums;
    bar::Ledger ledger;
    double eye_rate;             ///< roll-mode, at the eye, links not in series, N/m
    double link_rate;            ///< roll-mode, at the links' far ends, N/m
    double wheel_rate;           ///< roll-mode, at the wheel, N/m
    double roll_stiffness;       ///< N·m/rad; 0 while disconnected
    double one_side;             ///< left link moved, right held, N/m
    double mass;                 ///< kg
    double twist_only, textbook; ///< the hand formulas, at the eye, N/m; 0 for a clamped bar, which has none
};

/// The outcomes that bands and tests speak of.
enum Outcome {
    RollGradient,
    FrontShare,
    LiftHeight,
    FrontTravel,
    RearTravel,
    FrontRate,
    RearRate,
    FrontWheelRate,
    RearWheelRate,
    FrontOneSide,
    RearOneSide,
    FrontRollStiffness,
    RearRollStiffness,
    FrontYieldTravel,
    RearYieldTravel,
    FrontLinkMargin, ///< a half turn: no link
    RearLinkMargin,
    LinkMargin, ///< the smaller of both ends'
    outcome_count
};
using Outcomes = std::array<double, outcome_count>;

/// What a figure is called and measured in: "front bar's rate at the eye", Rate.
struct OutcomeName {
    const char* words;
    units::Quantity quantity;
    double ends_at = std::numeric_limits<double>::infinity(); ///< a figure that goes no further: it is this or more
};
extern const std::array<OutcomeName, outcome_count> outcome_names;
/// Of the two of a kind that stand one after the other, front first. Example: at(FrontRate, End::Rear) is RearRate.
constexpr Outcome at(Outcome of_front, End end) {
    return static_cast<Outcome>(static_cast<std::size_t>(of_front) + index(end));
}

/// Writes the outcomes of the bar at one end, its stiffness times `scale`. An axle without a bar has rates of 0.
void put_bar(Outcomes& out, End end, const AxleSetup& assembly, const AxleData& axle, const BarSums& sums,
             double scale = 1);

struct Assessment : PerAxle<std::optional<BarFigures>> {
    car::Car car;
    car::Handling handling;
    flex::Ascent ascent;             ///< diagonal ramps, front left and rear right raised
    Outcomes outcomes;               ///< SI; rates 0 without a bar
    std::optional<car::Lift> tips{}; ///< where its lean cannot be told: car::rollover_threshold()
};

/// The tightest link of the setup's bars whose links are on, and at which end.
std::optional<std::pair<linkage::Margin, End>> smallest_link_margin(const Setup& setup, const Assessment& assessment);

/// The bar's figures on its axle; nothing when the axle has no bar. Throws BadInput inside the assembly.
std::optional<BarFigures> bar_figures(const AxleSetup& assembly, const AxleData& axle);

/// All figures of the car with `setup`. Pure. Throws BadInput with paths "front/bar/wall" (setup) or
/// "vehicle/front/track".
Assessment assess(const Vehicle& vehicle, const Setup& setup);

/// The same, with the figures of a bar that is as it was `before`, on an axle that is, taken from there.
struct Assessed {
    const Vehicle& vehicle;
    const Setup& setup;
    const Assessment& figures; ///< assess(vehicle, setup)
};
Assessment assess(const Vehicle& vehicle, const Setup& setup, const Assessed& before);

/// Roll-mode rate at the eye for every pair of eyes: [left][right], N/m.
std::vector<std::vector<double>> eye_ladder(const AxleSetup& assembly, const AxleData& axle);

} // namespace dervish::study
