#pragma once
#include "core/job/job.h"

/// One part is the same wherever it stands. A change made at one place is either a correction of the part or makes a
/// new one of it, by where it was made.
namespace dervish::edit {
using namespace job;

/// Settles what was changed between `before` and `after`, part by part. Changed on Fitted: a correction, which follows
/// to every setup, the shelf and the spares. Changed elsewhere, while the part also stands where it was not changed: a
/// new part drawn up from it, with an id of its own. Snapshots stay as they were. How wheels stand on Fitted is
/// followed by every setup that stood so too, and all of it by a Trial in which nothing was tried. Example: Job after =
/// before; after.trial.front.bar.outer_diameter.value = 0.028; keep_parts(before, after);
void keep_parts(const Job& before, Job& after);

/// Where else the part of Trial stands that the field at `path` ("trial/front/bar/wall") is of: "Fitted", "the
/// standard", the names of kept setups, "the shelf". Empty: nowhere, or no part of Trial.
std::vector<std::string> other_places(const Job& job, const std::string& path);

/// Puts among the spares what stood in `setup` and now stands nowhere.
void spare_what_came_off(Job& job, const Setup& setup);

/// A car of before with the vehicle and its parts as the job has them now, by their ids; how it stands, what is aboard
/// and parts that are no longer there as they were.
Snapshot as_now(const Job& job, Snapshot of);

} // namespace dervish::edit
