#pragma once
#include "core/study/cures.h"
#include "core/sure/compare.h"

/// What is felt, and which figures speak to it.
namespace dervish::say {
using namespace study;

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
    Knocks,
    LetsGoSuddenly,
    TossesHeads,
    Skates,
    Skips,
    Floats
};
inline constexpr int complaint_count = 15;
/// "pushes in the middle of the bend": as the job file has it too.
const char* words_of(Complaint complaint);

/// The ground that it is judged on: its own where it has one, else the chosen one.
Ground ground_of(Complaint complaint, Ground chosen);

/// A figure for or against the story, a thing that feels the same, or what to measure to tell them apart.
struct Evidence {
    enum class Kind { Supports, Against, Same, Measure, Open }; ///< Open: within the band, so neither
    Kind kind;
    std::string words;
};
/// What takes longer: half of the 90 % bands of the figures that decide (0: not known yet, and nothing is left open for
/// it), how a kerb rocks the car, and the best of its front bar.
struct EvidenceBands {
    double roll = 0;    ///< of the roll gradient, rad per m/s²
    double limit = 0;   ///< m/s²
    double balance = 0; ///< of balance_of(), at the limit
    std::optional<Rocking> rocking = {};
    std::optional<sure::BestBarBand> front_bar = {};
};
/// Its words are in the units of `system`.
std::vector<Evidence> evidence(Complaint complaint, const Vehicle& vehicle, const Setup& setup,
                               const Assessment& assessment, const BalanceFigures& figures,
                               const EvidenceBands& bands = {}, units::System system = units::System::Metric);

/// What a complaint wants of the car, and how much of it from what it has now: both ends giving up at once, or a step
/// that is felt (15 % less lean and tossing, a fifth more damping, at least 0.3; a wheel lifted a tenth later; 5 %
/// more held). Nothing: no one figure stands for it.
std::optional<Aim> aim_of(Complaint complaint);
double wanted_for(Complaint complaint, double now);

} // namespace dervish::say
