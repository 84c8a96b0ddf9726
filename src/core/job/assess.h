#pragma once
#include "core/bar/rate.h"
#include "core/car/handling.h"
#include "core/flex/diagonal.h"
#include "core/job/job.h"

#include <array>

namespace dervish::job {

/// What a bar does, at each place a tuner quotes a rate.
struct BarFigures {
    bar::Solution solution;
    bar::Laid laid; ///< all its eyes
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
    outcome_count
};
using Outcomes = std::array<double, outcome_count>;

struct Assessment {
    std::optional<BarFigures> front, rear;
    car::Car car;
    car::Handling handling;
    flex::Ascent ascent; ///< diagonal ramps, front left and rear right raised
    Outcomes outcomes;   ///< SI; rates 0 without a bar
};

/// The bar's stiffness where the car's axle takes it; zero without a connected bar.
Eigen::Matrix2d acting(const Assembly& assembly, const AxleData& axle, const std::optional<BarFigures>& figures);

/// The bar's figures on its axle; nothing when the axle has no bar. Throws BadInput inside the assembly.
std::optional<BarFigures> bar_figures(const Assembly& assembly, const AxleData& axle);

/// All figures of the car with `setup`. Pure. Throws BadInput with paths "front/bar/wall" (setup) or
/// "vehicle/front/track".
Assessment assess(const Vehicle& vehicle, const Setup& setup);

/// The car alone, for protocols: with `setup`'s bars where they are connected. `bar_scale` multiplies both bars' K.
car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale = 1);

/// Roll-mode rate at the eye for every pair of eyes: [left][right], N/m.
std::vector<std::vector<double>> eye_ladder(const Assembly& assembly);

} // namespace dervish::job
