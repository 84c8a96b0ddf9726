#pragma once
#include "core/job/job.h"

namespace dervish::job {

/// One measurable number of a job, with where it stands: path "trial/front/bar/outer_diameter".
template <class M> struct FieldAt {
    std::string path;
    std::string group; ///< labels of what it belongs to: "Front axle", "Roof tent"
    FieldSpec spec;
    M* value;
};
using FieldRef = FieldAt<Measured>;
using FieldSeen = FieldAt<const Measured>; ///< to be read only

/// Every measurable number below `prefix` ("vehicle", "trial/front"; empty: of the whole car and both setups).
/// The pointers live as long as the job is not changed in shape.
std::vector<FieldRef> fields(Job& job, const std::string& prefix = {});
std::vector<FieldSeen> fields(const Job& job, const std::string& prefix = {});

/// A number that is not sure, with the one at the other end that is the same thing: the figures of one kind of tyre on
/// both axles, of one steel in both bars, where both are assumed alike. Such two are off together.
struct Input {
    FieldRef field;
    std::optional<FieldRef> twin;
};
/// Those of the car and of Trial that have a spread; a twin stands with the first of the two.
std::vector<Input> inputs(Job& job);

/// The field at `path`, or nothing.
std::optional<FieldRef> field(Job& job, const std::string& path);
std::optional<FieldSeen> field(const Job& job, const std::string& path);

/// One of a few words that a job chooses among, or a yes or no.
struct ChoiceRef {
    std::string path, label;
    std::vector<std::string> words; ///< as the file has them
    int chosen;
    std::size_t before; ///< how many of the measurable numbers stand before it, in the order of fields()
};

/// Every choice below `prefix`, which is not empty.
std::vector<ChoiceRef> choices(const Job& job, const std::string& prefix);

/// Makes the choice at `path`, nothing else. Throws BadInput at `path` for a choice that is not there.
void set_choice(Job& job, const std::string& path, int chosen);

/// Writes the words at `path`, a name or a note of the car or of either setup. Throws BadInput at `path` where there
/// are none. Example: set_words(job, "trial/front/bar/name", "26 mm, made to size").
void set_words(Job& job, const std::string& path, const std::string& words);

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

} // namespace dervish::job
