#pragma once
#include "core/edit/readings.h"

/// The book: entries of every kind, corrected or struck out but never lost; people; upkeep; what is known of parts.
/// Places are indices into the job's lists; what is not there changes nothing.
namespace dervish::edit {
using namespace job;

/// The distance on the car's clock, as a number that is typed.
const FieldSpec& clock_spec();

/// What is typed for the next entry, or to correct the one given, and not written yet: kept with the job by the name of
/// its field, until it is.
void keep_for_entry(Job& job, const std::string& field, const Entry& typed, int entry = -1);
std::string kept_for_entry(const Job& job, const std::string& field, int entry = -1);
const Draft* draft_for_entry(const Job& job, const std::string& field, int entry = -1); ///< with its units; null: none

void forget_kept(Job& job, int entry = -1); ///< once it is written

/// An entry more. `today`: noted as the day of writing where the entry's
/// date is another. Of one that is fitted, found or removed without a car, Fitted as it is now. Throws BadInput at
/// "date", "odometer" or "reason" for a date that is none, a distance that cannot be, and nothing said.
void write_entry(Job& job, job::Entry entry, const std::string& today);

/// Other words, date or distance: what was there before is kept with it. Throws as write_entry().
void correct_entry(Job& job, int entry, const std::string& date, double odometer, const std::string& reason,
                   const std::string& today);
/// It does not count any more, and why; empty: it counts again.
void strike_entry(Job& job, int entry, const std::string& why);
void attach(Job& job, int entry, const AttachedFile& file);
/// What a person feels of the car as an entry has it, 0 to 10 on a scale of drives; nothing takes it back.
void put_entry_mark(Job& job, int entry, const std::string& person, const std::string& scale,
                    std::optional<double> mark);
/// The date on which to ask how it feels; empty: not. Throws BadInput at "look_again".
void set_look_again(Job& job, int entry, const std::string& date);

/// The setup that stood by an entry on Trial, its parts as they are known now.
void go_back_to(Job& job, int entry);

/// A person in place of one of the same name, or one more; the load that they are weighs what they do, where that is
/// said. Throws BadInput at "name" or "mass".
void put_person(Job& job, const Person& person);
void remove_person(Job& job, const std::string& name);

/// In place of the upkeep of the same id, or one more. Throws BadInput at "what", "every" or "days" for one that would
/// never be due, or that says nothing.
void put_upkeep(Job& job, const Upkeep& upkeep);
void remove_upkeep(Job& job, const std::string& id);
/// Done: a service in the book. `play` of links, m, or `rate_left` of mounts, 0 to 1: what was found on the car, which
/// is then measured of these parts wherever they stand. Throws as write_entry(), and at "play" or "rate_left".
struct Done {
    std::string date, found, person;
    double odometer = 0;
    std::optional<double> play, rate_left;
    units::System system = units::System::Metric; ///< in which the book says what was measured
};
void upkeep_done(Job& job, const std::string& id, const Done& done, const std::string& today);

/// Fasteners in place of those of the same name, or more of them. Throws BadInput at "of", "source", "moment", "count",
/// "wrench", "adapter" or "angle": without its source no torque is kept.
void put_torque(Job& job, const Torque& torque);
void remove_torque(Job& job, const std::string& of);
/// What a sheet's ticks are of: Fitted and Trial as they are now. Another once anything of either is changed.
std::string sheet_now(const Job& job);
/// Of the sheet that stands now; those of another are none of it.
std::vector<std::string> steps_done(const Job& job);
/// A step of the sheet from Fitted to Trial done, or not; and the minutes it took. Throws BadInput at "minutes".
void tick_step(Job& job, const std::string& key, bool done);
void set_minutes(Job& job, double minutes);

/// What stands with a part, wherever it stands in the job (not in snapshots).
enum class PartWords { Name, Origin, Notes };
void set_part_words(Job& job, const std::string& id, PartWords which, const std::string& words);
/// As weighed, kg, or its price; 0: not said. Throws BadInput at "mass" or "price".
void set_part_mass(Job& job, const std::string& id, double mass);
void set_part_price(Job& job, const std::string& id, double price);

/// What the shelf knows of a part, in place of what it knew.
void put_record(Job& job, const PartRecord& record);

} // namespace dervish::edit
