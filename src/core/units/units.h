#pragma once
#include <string>
#include <string_view>

/// The only place that knows anything but SI. Core computes in m, N, rad, kg, s; the job file and the window convert
/// here.
namespace dervish::units {

inline constexpr double g = 9.80665; ///< standard gravity, m/s²
inline constexpr double pi = 3.141592653589793;
inline constexpr double mm = 1e-3;
inline constexpr double N_per_mm = 1e3;
inline constexpr double N_mm = 1e-3;
inline constexpr double GPa = 1e9;
inline constexpr double MPa = 1e6;
inline constexpr double deg = pi / 180;
inline constexpr double inch = 0.0254, pound = 0.45359237, pound_force = pound * g; ///< m, kg, N

/// What a number is, which decides its units in the file and in the window.
enum class Quantity {
    Length, ///< large or small, one tape or one calliper
    Mass,
    Force,
    Rate,          ///< force per length
    CubicRate,     ///< force per length³
    TorsionalRate, ///< moment per angle; roll stiffness of axles and frames
    TwistRate,     ///< moment per angle of a bush, small
    Angle,
    Modulus,
    Stress,
    Density,
    Distance,     ///< driven, on the clock
    RollGradient, ///< lean per lateral acceleration
    Share,
    Damping,       ///< force per speed
    Inertia,       ///< mass × length²
    SteerPerForce, ///< angle per side force
    Pressure,      ///< of tyres
    Speed,         ///< of the car
    Moment,        ///< force times arm
    Number,
};

enum class System { Metric, Inch, InchMetricRates };

/// A unit a number is written in: SI = written × factor.
struct Unit {
    std::string_view symbol; ///< as shown beside the number
    double factor;
    int decimals; ///< shown by default
};

/// The unit in which a person reads `quantity`.
Unit shown(Quantity quantity, System system);

/// The unit in which the job file writes `quantity`; its symbol is the key's suffix ("mm", "N_per_mm").
Unit filed(Quantity quantity);

/// `key` with the filed unit: "track_mm".
std::string filed_key(const char* key, Quantity quantity);

/// `si` as the job file will give it back: rounded to 12 figures in its unit there. Every number that enters a job
/// passes through here, so that saving and opening changes nothing.
double as_filed(double si, Quantity quantity);

/// `value` rounded to 12 significant figures.
double rounded(double value);

/// "1580 mm": `si` in the shown unit with the given decimals (the unit's own when negative). Metric masses below 0.1 kg
/// are given in grams.
std::string text(double si, Quantity quantity, System system, int decimals = -1);

/// In which a force of this size, N, has two digits at least: those on a model are of a few newtons.
int force_decimals(double si);

/// `value` with fixed decimals, no trailing minus zero.
std::string fixed(double value, int decimals);

/// Like fixed, without trailing zeros.
std::string trimmed(double value, int decimals);

/// A length as the core's own messages tell it: "26.5 mm".
std::string in_mm(double metres);

} // namespace dervish::units
