#pragma once
#include "core/job/fields.h"

/// What a person can do to a job beyond writing a number into a field.
namespace dervish::edit {
using namespace job;

/// Makes the choice at `path`. What the other kind needs and was never given starts as a guess from what is known,
/// marked assumed; a bar entered otherwise begins as it stands; rates that are only assumed become the kind's usual.
/// Throws BadInput at `path` for a choice that is not there.
void choose(Job& job, const std::string& path, int chosen);

/// A further part to keep clear of, or a further place of a pick-up's path, of the axle at "vehicle/front" or
/// "vehicle/rear": a guess near the links, for a person to put right.
void add_obstacle(Job& job, End end);
/// The first time three, as the rate has them; then 20 mm further in bump.
void add_spring_point(AxleSetup& setup, const AxleData& axle);
void add_path_point(Job& job, End end);
void remove_obstacle(Job& job, End end, std::size_t index);
void remove_path_point(Job& job, End end);  ///< the last; two stay
void remove_spring_point(AxleSetup& setup); ///< the last; of two both, since one is no line

/// A load more, a guess in the middle of the car, aboard every setup; takes one out; takes it aboard one setup or off.
void add_load(Job& job);
/// A person more, of person_of() the vehicle, aboard that setup alone, between the axles
/// on the left, at the height of the mass.
void add_person(Job& job, Setup& setup);
void remove_load(Job& job, std::size_t index);
void set_aboard(Setup& setup, const Load& load, bool aboard);
/// Where a load's middle is, m: behind the front axle, to the left or its height.
void move_load(Job& job, std::size_t index, double behind, std::optional<double> left, std::optional<double> height);

/// Trial goes on the car: Fitted is Trial from now on. `found`: it was there already, and Fitted a mistake of the
/// record; else what comes off is put among the spares. A setup whose bar or links were tested and come off is kept as
/// "NAME, until DATE".
void fit_trial(Job& job, const std::string& date, bool found = false);

/// The parts that stand otherwise in the two setups, by their ids in `after`: what an entry of the book is about.
std::vector<std::string> parts_changed(const Setup& before, const Setup& after);

/// Where Trial's bar, links or mounts are others than before, its links' other ends stay where they were: places of
/// their own, guesses, also in the setups that had them there. Nothing where what changed describes the car, Fitted
/// with it.
void hold_pickups(const Job& before, Job& after);

/// Both links of Trial's bar at another length.
void set_link_length(Job& job, End end, double length);

} // namespace dervish::edit
