#pragma once
#include "core/study/balance.h"
#include "core/study/cures.h"
#include "core/sure/compare.h"
#include "core/sure/questions.h"

namespace dervish::say {
using namespace study;

/// "Front gives up first at 0.81 g; rear has 4 % left"; of a right turn, "at 0.81 g in right turns".
std::string sentence(const balance::Limit& limit);
/// The chance that the end which is told to give up first does, by the spread of balance_of(); 1 where none is told or
/// nothing is known of the spread.
double chance_of_first(const balance::Limit& limit, double balance_sigma);
/// The same with that chance: "Front gives up first at 0.81 g, in 93 of 100; rear has 4 % left"; where it is below 80
/// in 100 no end is named first: "As likely the front as the rear gives up first at 0.81 g (front in 57 of 100)".
std::string sentence(const balance::Limit& limit, double chance);
/// What a phase's limit is with its band and its chance, the end named only where that is told: "rear at 0.76 ± 0.08
/// g", "front or rear at 0.76 ± 0.08 g".
double chance_of_first(const balance::Limit& limit, const sure::PhaseBand& band);
std::string brief(const balance::Limit& limit, const sure::PhaseBand* band = nullptr);

/// "At 0.36 g sideways it pulls up to 0.34 g, then the front left spins".
std::string words_of(const balance::Pull& pull, double lateral);
/// A bar times a factor of what it is: "none", "× 0.5", "rigid".
std::string times_now(double factor);
/// What to keep in mind of these figures: wheels that the road swings off it, springs that it swings onto their stops,
/// stops reached on the way to the limit and from what on, a lean beyond what ride height's geometry describes, unlike
/// tyres, no understeer gradient. Empty: nothing.
std::vector<std::string> validity(const BalanceFigures& figures, units::System system);

/// What the turn that holds more does, where the two differ by over 0.005 g.
std::optional<std::string> other_turn(const BalanceFigures& figures);

/// What is wanted, by a school of tuners or of the car: "understeer at 0.3 g", and why.
struct AimWords {
    const char *name, *reason;
};
AimWords words_of(Aim aim);

/// What a cure changes, "Softer front bar", "Leave Roof box"; `sets`: as given to cures().
std::string words_of(const Cure& cure, const Vehicle& vehicle, const std::vector<TyreData>& sets);
/// From what to what, "26 to 21.9 mm", "× 1.27", and how much of what is wanted that does where it is not all; or why
/// not. `before`: the setup that the cures are of.
std::string answer_of(const Cure& cure, const Setup& before, units::System system);

/// Of a bar of another size what can be bought that comes nearest to its rate, "nearest sold: 22 mm, rate +4 %", or
/// that none is near (study::from_stock; the usual stock where it is empty); empty where the cure is no such bar.
std::string nearest_sold(const Cure& cure, const std::vector<StockSize>& stock, units::System system);

/// "Rear now first braking in, 0.69 g".
std::string words_of(const study::Danger& danger);

/// A figure of a car with a cure beside what it is now: "lean at 0.5 g", 4.6, "more, +0.5"; whether that is better (1),
/// worse (−1) or neither, or nobody can say.
struct CostLine {
    std::string what, value, change;
    int better;
};
/// `sure`: of sure::costs(), what the cure changes with its spread; empty: not known.
std::vector<CostLine> cost_lines(const Costs& now, const Costs& then, units::System system,
                                 const std::vector<sure::Change>& sure = {});

} // namespace dervish::say
