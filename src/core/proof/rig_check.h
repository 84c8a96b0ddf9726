#pragma once
#include "core/proof/verdict.h"
#include "core/sure/bands.h"

/// A bar's rate checked on the bench: one arm held (or both pulled apart), known masses hung on the other, a dial
/// gauge.
namespace dervish::proof {
using namespace sure;

/// The bar as it stands in the rig: its own mounts, or rigid blocks in their place; links off.
bar::Bar in_rig(const Assembly& assembly, const RigCheck& rig);

/// Force at the loaded eye per its travel in the rig, small travel, N/m: K22 with the other arm held, or the roll-mode
/// rate with both loaded. Throws BadInput as to_bar(); a clamped bar cannot stand in this rig.
double rig_rate(const Assembly& assembly, const RigCheck& rig);

/// What the dial shows for a mass, m, with nothing taken as small.
double rig_dial(const Assembly& assembly, const RigCheck& rig, double mass);

/// Straight line through the readings: rate with its standard uncertainty (from the scatter, but no less than the
/// dial's and the masses' own), and the half width of its 90 % interval with Student's t for few readings.
struct RigFit {
    double rate = 0, sigma = 0, interval_90 = 0, offset = 0;
    int readings = 0;
};
/// Nothing with fewer than two different masses or a rate that is not positive.
std::optional<RigFit> fit_rate(const RigCheck& check);

/// What single error would explain the difference, and how many of its own sigma that is.
struct Suspect {
    enum class What { Diameter, Mount, Arm, BetweenArms, Tube, OtherLoading } what;
    double value;   ///< what would explain it, SI; 0 of the way of loading
    double assumed; ///< what it was taken for, SI; 0 of a kind of mistake
    double sigmas;  ///< infinite for a kind of mistake rather than a spread
};

struct RigVerdict {
    RigFit fit;
    double predicted, predicted_sigma, z;
    proof::Agreement agreement;
    std::vector<Suspect> suspects; ///< likeliest first; empty when it agrees
};
/// Nothing while the readings give no rate.
std::optional<RigVerdict> judge(const Assembly& assembly, const RigCheck& rig);

} // namespace dervish::proof
