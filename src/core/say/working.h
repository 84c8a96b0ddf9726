#pragma once
#include "core/study/hand_sums.h"
#include "core/sure/bands.h"

namespace dervish::say {
using namespace sure;

/// A line of a sum written out: what it is, its value, and where that comes from.
struct WorkingLine {
    std::string what, value, from;
};

/// A figure's sum with this car's values, for a person to follow by hand.
struct Working {
    std::string figure, result;
    std::string formula;
    std::vector<WorkingLine> lines;
    std::string remark; ///< how the hand sum differs from the equilibrium, and why
    std::string source;
};

/// The tally figures that have a working.
enum class Figure { Roll, Share, Limit, Heads, Lift, FrontTravel, RearTravel, LinkMargin };
inline constexpr Figure all_figures[] = {Figure::Roll, Figure::Share,       Figure::Limit,      Figure::Heads,
                                         Figure::Lift, Figure::FrontTravel, Figure::RearTravel, Figure::LinkMargin};

Working working(const Vehicle& vehicle, const Setup& setup, const Assessment& assessment, Figure figure,
                units::System system);

/// Why a car has no roll gradient, nor what hangs on it, and what would do: it does not stand with what is aboard, its
/// tyres are pressed flat, or it tips over before 0.3 g. Example: "the car tips over at 0.21 g turning left, before
/// ...".
std::string no_figures(const job::Vehicle& vehicle, const study::Assessment& assessment, units::System system);

} // namespace dervish::say
