#pragma once
#include "core/job/job.h"

namespace dervish::job {

/// One measurable number of a job, with where it stands: path "trial/front/bar/outer_diameter".
struct FieldRef {
    std::string path;
    std::string group; ///< labels of what it belongs to: "Front axle", "Roof tent"
    FieldSpec spec;
    Measured* value;
};

/// Every measurable number below `prefix` ("vehicle", "trial/front"; empty: of the whole car and both setups).
/// The pointers live as long as the job is not changed in shape.
std::vector<FieldRef> fields(Job& job, const std::string& prefix = {});

/// A number that is not sure, with the one at the other end that is the same thing: the figures of one kind of tyre on
/// both axles, of one steel in both bars, where both are assumed alike. Such two are off together.
struct Input {
    FieldRef field;
    std::optional<FieldRef> twin;
};
/// Those of fields() that have a spread; a twin stands with the first of the two.
std::vector<Input> inputs(Job& job);

/// The field at `path`, or nothing.
std::optional<FieldRef> field(Job& job, const std::string& path);

/// One of a few words that a job chooses among, or a yes or no.
struct ChoiceRef {
    std::string path, label;
    std::vector<std::string> words; ///< as the file has them
    int chosen;
    std::size_t before; ///< how many of the measurable numbers stand before it, in the order of fields()
};

/// Every choice below `prefix`, which is not empty.
std::vector<ChoiceRef> choices(const Job& job, const std::string& prefix);

/// Makes the choice at `path`. What the other kind needs and was never given starts as a guess from what is known,
/// marked assumed. Throws BadInput at `path` for a choice that is not there.
void choose(Job& job, const std::string& path, int chosen);

/// choose() without the guesses.
void set_choice(Job& job, const std::string& path, int chosen);

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

/// What a person typed into a field or cell, understood.
struct Typed {
    double value;                ///< SI; the mean of several readings
    std::optional<double> sigma; ///< of several: the tool's own spread and the mean's (GUM 4.2) together
    std::size_t readings = 1;
    bool more_than = false;
};

/// Reads it by the one grammar (units::read_entry) or as the field's word; numbers without a unit are in the shown unit
/// of `system`. Throws BadInput at `path` for text that is no entry, that can be read in two ways, or a value outside
/// what the field accepts, with a hint when another unit would explain it. ">" only where `may_be_more`.
Typed parse_entry(const std::string& text, const FieldSpec& spec, units::System system, const std::string& path,
                  bool may_be_more = false);

/// The value alone.
double parse(const std::string& text, const FieldSpec& spec, units::System system, const std::string& path);

/// What was understood, as it stands under a field while it is typed: "= 26.988 mm", "3 readings: 26.017 mm ± 0.066".
std::string understood(const Typed& typed, const FieldSpec& spec, units::System system);

/// A text that waits as it is shown among units `now`: with the unit it was typed in where that would be another.
std::string draft_text(const Draft& draft, units::Quantity quantity, units::System now);

/// The spread of a field as a number to be asked for.
FieldSpec sigma_spec(const FieldSpec& spec);

/// A value as the field shows it, without the unit.
std::string show(double value, const FieldSpec& spec, units::System system);

/// Throws BadInput at `path` when `value` is outside what the field accepts.
void check_range(double value, const FieldSpec& spec, units::System system, const std::string& path);

/// Throws BadInput at `path` for a spread below 0, not finite, or beyond anything the field could hold.
void check_sigma(double sigma, const FieldSpec& spec, const std::string& path);

/// What a person would call different between two jobs: a line a number ("Front axle, track: 1582 mm -> 1600 mm"), and
/// how many tests, entries and texts that wait; at most 8 lines.
std::vector<std::string> differences(const Job& before, const Job& after, units::System system);

/// Throws BadInput, with the field's path, at the first thing in the job that cannot be: a range, sizes that do not
/// fit together, a car that cannot stand.
void check(const Job& job);

} // namespace dervish::job
