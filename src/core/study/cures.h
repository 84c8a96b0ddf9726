#pragma once
#include "core/study/balance.h"
#include "core/study/difference.h"

#include <functional>

/// What is wanted of a car, and each way to it: whole setups, with what each costs elsewhere.
namespace dervish::study {
using namespace model;

/// What a car is judged by. By the first five schools of tuners judge its balance.
enum class Aim { Limit, Understeer, Share, Ride, RideFirst, Lean, Damping, FirstLift, Ramps, Holds };
inline constexpr Aim all_schools[] = {Aim::Limit, Aim::Understeer, Aim::Share, Aim::Ride, Aim::RideFirst};
inline constexpr Aim all_aims[] = {Aim::Limit, Aim::Understeer, Aim::Share,     Aim::Ride,  Aim::RideFirst,
                                   Aim::Lean,  Aim::Damping,    Aim::FirstLift, Aim::Ramps, Aim::Holds};
/// What a reading is told in, and a wanted value to begin with, SI.
struct AimScale {
    units::Quantity quantity;
    double usual;
    std::string unit; ///< of a plain number: "m/s²", "g"
};
AimScale scale_of(Aim aim);
/// By limit: balance_of(); understeer gradient, rad per m/s²; front share of transfer less front share of mass; rear
/// over front one-wheel ride frequency less 1; ride first: what tosses heads on the model's ground (ride_of()), m/s²,
/// whatever the balance; roll gradient, rad per m/s²; damping of the body's roll, over critical (balance::
/// roll_damping()); lateral acceleration at which a wheel lifts, g; lift height on diagonal ramps, m; the outright
/// limit, g. Nothing where the car has none (0.3 g is more than it holds, no wheel lifts).
std::optional<double> reading(Aim aim, const balance::Model& model);

/// What a car is like where a change may cost something.
struct Costs {
    double lean = 0, roll = 0;          ///< at half a g on dry ground, rad; gradient, rad per m/s²
    PerAxle<double> one_wheel{};        ///< rate that one wheel feels over a bump, N/m
    double limit = 0, wet = 0;          ///< the outright limit, dry and wet, m/s²
    double balance = 0;                 ///< balance_of() there, dry
    std::optional<double> first_lift;   ///< lateral acceleration at which a wheel lifts, m/s²
    double articulation = 0;            ///< lift height on diagonal ramps, m
    double head = 0, seat = 0;          ///< what tosses heads and throws seats (ride_in_use()), m/s²
    Ground ground = Ground::DryPatched; ///< on which they do: of the car's use
    double link = 0;                    ///< largest link force in a bend of half a g, N; 0 where no link is computed
    std::optional<double> damping = 0;  ///< of the body's roll
};

/// Of the car of a setup, resolved.
Costs costs_of(const Vehicle& vehicle, const Setup& setup, const car::Car& car);

/// How a car goes over its limit on a ground: where a change may hurt someone.
struct Edge {
    std::array<balance::Limit, std::size(balance::all_phases)> limits; ///< of each phase, the lower of both turns'
    bool sudden = false;                                               ///< balance::LettingGo, in mid-corner
};
Edge edge_of(const balance::Model& model);
/// What a change makes of it that is dangerous, the worst first: in a phase the rear goes first, or the car tips, where
/// it did not; it lets go suddenly; a phase holds less by over a fiftieth.
struct Danger {
    enum class What { RearFirst, Tips, Sudden, HoldsLess } what;
    balance::Phase phase = balance::Phase::Middle;
    double was = 0, is = 0;            ///< the limit, m/s²
    std::optional<Ground> elsewhere{}; ///< on this ground, where not on the one that was asked
};
std::vector<Danger> dangers(const Edge& before, const Edge& after);
/// A car's edges on the ground that is asked, then on dry and wet ground where that is another.
using Edges = std::vector<std::pair<Ground, Edge>>;
Edges edges_of(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground);
/// On all of them; elsewhere only what is not dangerous on the first.
std::vector<Danger> dangers(const Edges& before, const Edges& after);

/// A change that would bring what is wanted, or part of it.
struct Cure {
    /// BothBars, BothSprings: front and rear by one factor. NewBar: where none acts, so that a factor of it would be
    /// nothing. Clicks: of the dampers on the car, all round. Traded: two at once, dampers firmer by what the bars are
    /// softer by. LoadBack: where a load stands is the car's own.
    enum class Lever {
        Bar,
        BothBars,
        NewBar,
        Springs,
        BothSprings,
        Dampers,
        Clicks,
        Traded,
        Height,
        Pressure,
        Camber,
        Brace,
        TyreSet,
        Load,
        LoadBack
    };
    /// Whole: it brings what is wanted. Part: so much of it is in reach. AsItIs: nothing is wanted.
    enum class Answer { Whole, Part, AsItIs, Nothing, NoReading };
    Lever lever;
    Answer answer;
    std::optional<End> end; ///< nothing: of the whole car
    std::size_t item = 0;   ///< of the vehicle's loads, or of the tyre sets given
    /// A bar's, springs' or dampers' factor (Traded: the dampers'), whole clicks firmer, a new bar's roll stiffness on
    /// the car (N·m/rad), the pressure or camber itself, how much higher the body (m), torsion added (N·m/rad), how
    /// much further back a load (m), a load aboard or not; and what it is now.
    double value = 0, from = 0;
    double low = 0, high = 0;  ///< between what it was looked for
    double share = 0;          ///< of the change wanted
    std::optional<Setup> to{}; ///< with it; nothing where the car itself would change, or a bar is still to be had
    Costs then{};
    std::vector<Danger> dangers{};
    bool helps() const { return answer == Answer::Whole || answer == Answer::Part; }
    /// Of what it changes: "trial/front/bar/outer_diameter", "trial/rear/springs/rate".
    std::string path() const;
};
struct Rules {
    PerAxle<bool> bars{true, true};
    bool springs = true, dampers = true, height = true, tyres = true, braces = true, loads = true;
    std::vector<std::string> people{}; ///< of the loads, by id: nobody is left out or moved as ballast
};
/// What `setup` has otherwise than what is fitted and the rules do not allow: a class counts from the car as it was
/// passed. What the rules have no word for (differential, ratio, aids) goes with the springs.
std::vector<Difference> not_allowed(const Rules& rules, const Setup& fitted, const Setup& setup);
/// The loads that are somebody: of the book's people, or called driver, rider, passenger, navigator or crew.
std::vector<std::string> people_aboard(const Job& job);
struct Cures {
    std::optional<double> now; ///< of the aim's reading; nothing where the car has none
    double wanted = 0;
    Costs costs;            ///< as it is
    std::vector<Cure> ways; ///< an axle's beside the other's
};
/// Each way to reading(aim) = wanted, solved on the car of the setup it would make; bars only where the rules allow it.
/// `sets`: other tyres at hand. Throws BadInput where the setup itself cannot be.
/// Example: cures(job.vehicle, job.trial, Ground::Wet, Aim::Limit, 0).ways[0].to.
Cures cures(const Vehicle& vehicle, const Setup& setup, Ground ground, Aim aim, double wanted, const Rules& rules = {},
            const std::vector<TyreData>& sets = {}, const std::function<bool()>& cancelled = {});

/// Tyres of the job that do not stand on the setup: of its other setups, and spare.
std::vector<TyreData> other_tyres(const Job& job, const Setup& setup);

} // namespace dervish::study
