#pragma once
#include "core/bar/travel.h"
#include "core/study/assess.h"

#include <functional>

/// Decisions on one bar: what it does through its travel, what else would do the same, what a small change is worth.
namespace dervish::study {
using namespace model;

/// Force and stress against wheel travel at large travel, as far as the bar could follow.
struct TravelCurve {
    std::vector<bar::TravelPoint> roll;       ///< wheels opposite, right one up
    std::vector<bar::TravelPoint> one_side;   ///< right wheel up, left one still
    double link_per_wheel;                    ///< link travel per wheel travel
    double rate_at_rest = 0, rate_at_end = 0; ///< at the link in roll, N/m; 0 for fewer than three points
    std::optional<double> yields_at;          ///< wheel travel in roll at which the yield strength is reached, m
    std::optional<double>
        ends_at; ///< wheel travel in roll beyond which the bar cannot follow or a link lies 80° off square, m
};

/// Up to `wheel_travel` m in `steps`. Throws BadInput as to_bar(). Of a clamped bar, the arms' far ends take the place
/// of the links.
TravelCurve travel_curve(const AxleSetup& assembly, const AxleData& axle, double wheel_travel, int steps = 20);

/// What the links and bores of a bar make of its curve in roll: slack first, then the force above the frictionless one
/// while the wheels go apart and below it while they come back. From the middle of the slack.
struct Hysteresis {
    struct Point {
        double wheel_travel, loading, unloading; ///< m, N in the right link (its size)
    };
    std::vector<Point> points;
    double slack; ///< wheel travel each way before the links pull, m
};
/// Coulomb friction grows with the links' force; play is shared by a link's two ends, half of it each way.
Hysteresis hysteresis(const TravelCurve& curve, const Assembly& assembly, const BarFigures& figures);

/// One change of the bar and the roll-mode rate at the eye it gives, N/m.
struct Worth {
    enum class Change { Thicker, Thinner, EyeOut, EyeIn, Stiffer, Softer, Bushes, SoundBushes, RigidMounts };
    Change change;
    BushKind bushes; ///< of Bushes
    double step;     ///< of Thicker and Thinner, m
    double rate;
};

/// What `step` m of diameter, the next eye either way, a grade of mounts (or twice as stiff or half, while their kind
/// is not said), sound bushes, rigid mounts are worth.
std::vector<Worth> worths(const AxleSetup& assembly, const AxleData& axle, double step);

/// A tube or bar in place of this one.
struct Substitute {
    double outer_diameter, wall; ///< m; wall 0: solid
    double rate;                 ///< roll-mode at the eye, N/m
    double mass;                 ///< kg
    double stress;               ///< worst at the same link travel, over this bar's
};

/// Tubes of the stock's walls that have this bar's rate exactly: first guess d⁴ = D⁴ − Di⁴, then solved on the full
/// model (Illinois). Walls that no tube up to 100 mm, or none that goes round its bends, can reach are left out.
std::vector<Substitute> equal_rate_tubes(const Assembly& assembly, const std::vector<double>& walls);

/// This bar with the outer diameter, wall kept, that makes its roll-mode rate at the eye `factor` times what it is;
/// the size is then assumed. Factor 0: its links taken off. Nothing where no diameter up to 100 mm does.
std::optional<Assembly> with_rate(const Assembly& assembly, double factor);

/// What stock sizes give in place of this bar, nearest rate first, none of less than half or more than twice its own.
std::vector<Substitute> from_stock(const Assembly& assembly, const std::vector<StockSize>& stock);

/// Friction of the bores when the links' far ends travel by `travel`: torque that the bar must overcome to turn, as a
/// band of force at the eyes, N, and how much the mounts' being out of line adds. Coulomb: torque = μ F d/2 a bore.
struct Friction {
    double band;      ///< half width at one eye, N
    double from_bind; ///< of that, by the mounts' misalignment alone, N
    double share;     ///< of the link force there; 0 when there is none
};
Friction friction(const Assembly& assembly, const BarFigures& figures, const Eigen::Vector2d& travel);

/// A simple duty: stress at the opposite wheel travel that a surface brings again and again, and the reserve against
/// what the steel bears for long. Assumed: 12, 30, 40 and 80 mm; fatigue limit 0.4 of the yield strength (sound
/// surface).
struct Duty {
    const char* surface;
    double wheel_travel; ///< opposite travel it sees again and again, m
    double stress;       ///< Pa
    double reserve;      ///< fatigue limit over stress
};
std::vector<Duty> duties(const AxleSetup& assembly, const AxleData& axle, const BarFigures& figures);

/// A part that may give out, and what it has left when the wheels go `wheel_travel` apart: capacity over load.
struct Reserve {
    std::string part;
    double load, capacity; ///< Pa for the steel, N for links and brackets
    double reserve() const { return load > 0 ? capacity / load : 99; }
};
/// Steel, and links and brackets whose capacity is known; weakest first.
std::vector<Reserve> reserves(const Assembly& assembly, const BarFigures& figures, const Eigen::Vector2d& link_travel);

} // namespace dervish::study
