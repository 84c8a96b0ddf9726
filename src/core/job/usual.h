#pragma once
#include "core/job/job.h"

namespace dervish::job {

/// What is usual of bushes and joints of a kind, assumed with a spread of 40 %: for what has not been measured.
MountData usual_mounts(BushKind kind);
LinkData usual_links(JointKind kind);

/// How large a car of this track is over a plain one of 1.5 m; 1 within a third of that, where a plain car's own sizes
/// serve.
double size_of(double track);

/// What two readings of the lift check may differ by on a car of this track, m: what is usual goes by its size.
double lift_tolerance(const SetupChecks& checks, double track);

/// How the roll centre and the camber move with the body's height, by kind of axle: docs/model.md, "A new car".
WheelData usual_movement(const AxleData& axle);

/// Takes what is usual of the kind in place of values that are only assumed; measured and quoted ones stand.
void set_kind(MountData& mounts, BushKind kind);
void set_kind(LinkData& links, JointKind kind);

} // namespace dervish::job
