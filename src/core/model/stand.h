#pragma once
#include "core/job/job.h"

/// A car that its springs, spacers or tyres lift from the ride height at which it was measured. docs/model.md, "Ride
/// height".
namespace dervish::model {
using namespace job;

/// How far the body stands higher over its wheels, and the wheels' hubs over the ground, m.
struct Raised {
    double body, hubs;
};
Raised raised(const StandData& stand);

/// What an axle's wheels have to their stops from where the car stands, m of travel as the fields have it (springs' on
/// a solid axle).
struct StopGaps {
    double bump, droop;               ///< to the bump stop; to the damper's end or, where that is shorter, the strap
    bool strapped;                    ///< it is the strap that ends the droop
    std::optional<double> hose, body; ///< droop at which the hose is taut, bump at which the tyre meets the body
};
/// Throws BadInput at "stand/lift" where the lift leaves no travel to one side.
StopGaps stop_gaps(const AxleSetup& setup, const AxleData& axle);

/// What the clicks in use make of the dampers' damping as measured, bump and rebound: (1 + what a click adds) to the
/// power of the clicks beyond those at which it was measured; 1 where it is not known what a click adds.
struct ByClicks {
    double bump, rebound;
};
ByClicks by_clicks(const AxleSetup& setup);
/// Clicks left towards fully open and towards fully firm, of the stroke that has fewer of them; below 0 where more are
/// noted than there are. Nothing: not adjustable.
struct ClicksLeft {
    double open, firm;
};
std::optional<ClicksLeft> clicks_left(const AxleSetup& setup);

/// stop_gaps() for both axles, with the paths of a setup: "front/stand/lift".
void check_stand(const Vehicle& vehicle, const Setup& setup);

} // namespace dervish::model
