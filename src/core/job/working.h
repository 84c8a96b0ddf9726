#pragma once
#include "core/job/bands.h"

namespace dervish::job {

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

/// Roll stiffness of an axle by what gives it, N·m/rad: springs, bar, parasitic in parallel, then the tyres in series.
struct RollStiffness {
    double springs, bar, parasitic, tyres;
    double suspension() const { return springs + bar + parasitic; }
    double whole() const { return 1 / (1 / suspension() + 1 / tyres); }
};
RollStiffness roll_stiffness(const car::Axle& axle);

/// Roll gradient by the textbook sum of linear rates about the roll axis, rad per m/s² (Milliken & Milliken 1995, ch.
/// 18: φ/a = Σ m_s h / (K_f + K_r − Σ m_s g h), h from the roll centres to the sprung mass, tyres in series).
double hand_roll_gradient(const car::Car& car);

/// The tally figures that have a working.
enum class Figure { Roll, Share, Limit, Lift, FrontTravel, RearTravel, LinkMargin };
inline constexpr Figure all_figures[] = {Figure::Roll,        Figure::Share,      Figure::Limit,     Figure::Lift,
                                         Figure::FrontTravel, Figure::RearTravel, Figure::LinkMargin};

Working working(const Vehicle& vehicle, const Setup& setup, const Assessment& assessment, Figure figure,
                units::System system);

} // namespace dervish::job
