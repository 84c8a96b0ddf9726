#pragma once
#include "core/job/balance.h"

/// What is felt, and which figures speak to it.
namespace dervish::job {

enum class Complaint {
    PushesEntry,
    PushesMiddle,
    LetsGoExit,
    LetsGoLifted,
    Leans,
    Rocks,
    SlowToSet,
    Wind,
    LiftsWheel,
    Knocks
};
inline constexpr int complaint_count = 10;
/// "pushes in the middle of the bend": as the job file has it too.
const char* words_of(Complaint complaint);

/// A figure for or against the story, a thing that feels the same, or what to measure to tell them apart.
struct Evidence {
    enum class Kind { Supports, Against, Same, Measure, Open }; ///< Open: within the band, so neither
    Kind kind;
    std::string words;
};
/// Half of the 90 % bands of the figures that decide; 0: not known yet, and nothing is left open for it.
struct EvidenceBands {
    double roll = 0;    ///< of the roll gradient, rad per m/s²
    double limit = 0;   ///< m/s²
    double balance = 0; ///< of balance_of(), at the limit
};
/// Its words are in the units of `system`.
std::vector<Evidence> evidence(Complaint complaint, const Vehicle& vehicle, const Setup& setup,
                               const Assessment& assessment, const BalanceFigures& figures,
                               const EvidenceBands& bands = {}, units::System system = units::System::Metric);

/// What pushes a parked car from outside, as the vehicle says it or as is usual for its size: a person of 80 kg, or a
/// tenth of a small car's mass, over its wheels; a side wind's pressure (air of 1.2 kg/m³, a side's coefficient of 1)
/// on a side of 1.4 wheelbases by 1.9 heights of the centre of mass, a third above it. Round figures, assumed.
struct Outside {
    double person;       ///< kg
    double out;          ///< of the car's middle, m
    double wind, height; ///< N and m above the ground
};
Outside outside(const Vehicle& vehicle);

/// Steady lean of the car, rad, more than it has at rest: with the person on its right, hub high, middle of the
/// wheelbase; in the side wind. Nothing where it would not stand.
std::optional<double> lean_by_person(const car::Car& car, const Outside& push);
std::optional<double> lean_in_wind(const car::Car& car, const Outside& push);

} // namespace dervish::job
