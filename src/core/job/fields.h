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

/// Both links of Trial's bar at another length, their pick-ups staying where they are.
void set_link_length(Job& job, bool front, double length);

/// Reads what a person typed into a field: number in the shown unit or the field's word. Accepts a decimal comma.
/// Throws BadInput at `path` for text that is no number or a value outside what the field accepts, with a hint when
/// another unit would explain it.
double parse(const std::string& text, const FieldSpec& spec, units::System system, const std::string& path);

/// What a person typed as one or more readings of the same thing ("25.95 / 26.1 / 26.0", or with ; between): their
/// mean, with the tool's own spread and the mean's (GUM 4.2) together, measured. Nothing when it is a single one.
std::optional<Measured> parse_readings(const std::string& text, const FieldSpec& spec, units::System system,
                                       const std::string& path);

/// A value as the field shows it, without the unit.
std::string show(double value, const FieldSpec& spec, units::System system);

/// Throws BadInput at `path` when `value` is outside what the field accepts.
void check_range(double value, const FieldSpec& spec, units::System system, const std::string& path);

/// Throws BadInput, with the field's path, at the first thing in the job that cannot be: a range, sizes that do not
/// fit together, a car that cannot stand.
void check(const Job& job);

} // namespace dervish::job
