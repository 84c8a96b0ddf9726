#pragma once
#include "core/job/fields.h"

/// What a person can do to a job beyond writing a number into a field.
namespace dervish::edit {
using namespace job;

/// Makes the choice at `path`. What the other kind needs and was never given starts as a guess from what is known,
/// marked assumed. Throws BadInput at `path` for a choice that is not there.
void choose(Job& job, const std::string& path, int chosen);

/// A further part to keep clear of, or a further place of a pick-up's path, of the axle at "vehicle/front" or
/// "vehicle/rear": a guess near the links, for a person to put right.
void add_obstacle(Job& job, bool front);
void add_spring_point(AxleData& axle); ///< the first time three, as the rate has them; then 20 mm further in bump
void add_path_point(Job& job, bool front);

/// Takes a test off, with what waits for it; what waits for later ones moves along with them.
void remove_test(Job& job, int index);

/// Trial's bars go on the car: Fitted is Trial from now on. What was read and checked on a fitted bar that stays on
/// stays with it; a bar with readings that comes off goes to the kept setups as "NAME, until DATE".
void fit_trial(Job& job, const std::string& date);

/// Both links of Trial's bar at another length, their pick-ups staying where they are.
void set_link_length(Job& job, bool front, double length);

} // namespace dervish::edit
