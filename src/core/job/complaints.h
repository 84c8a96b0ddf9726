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
    enum class Kind { Supports, Against, Same, Measure };
    Kind kind;
    std::string words;
};
std::vector<Evidence> evidence(Complaint complaint, const Vehicle& vehicle, const Setup& setup,
                               const Assessment& assessment, const BalanceFigures& figures);

/// Where side wind is taken to push, m: a third above the car's own centre of mass.
double wind_height(const Vehicle& vehicle);

/// Steady lean of the car, rad, more than it has at rest: with `mass` on the sill at half the track, middle of the
/// wheelbase; in a side wind of `force` at `height`.
double lean_on_sill(const car::Car& car, double mass);
double lean_in_wind(const car::Car& car, double force, double height);

} // namespace dervish::job
