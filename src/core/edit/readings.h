#pragma once
#include "core/job/fields.h"

#include <functional>

/// What is typed into a test, place by place: an entry that cannot be used, or not yet, waits as the job's draft at the
/// place's key, and what was read before stays as it was.
namespace dervish::edit {
using namespace job;

/// As it was typed, among numbers shown in `system`.
struct Entry {
    std::string text;
    units::System system = units::System::Metric;
};

/// The bar's rate on the bench: a row a mass, with columns mass and dial. Emptied, a mass goes with its row; a dial
/// waits for its mass. `trial`: of the bar on Trial, else of that on Fitted.
extern const FieldSpec rig_specs[2];
std::string rig_key(bool trial, End end, int row, int column);
void type_rig_reading(Job& job, bool trial, End end, int row, int column, const Entry& entry);

/// A number of the set-up's steps, none while its entry waits; and the rounds of lifting either side: a round begins
/// once both sides are read.
extern const FieldSpec lift_specs[2];
std::string check_key(bool trial, End end, const std::string& what);
void type_check(Job& job, bool trial, End end, const FieldSpec& spec, std::optional<double> SetupChecks::*value,
                const Entry& entry);
/// How the rounds are judged: by how much the two sides may differ, and how a contact point rises with its wheel.
struct LiftSetting {
    FieldSpec spec;
    double SetupChecks::*value;
};
extern const LiftSetting lift_settings[2];
void type_lift_setting(Job& job, bool trial, End end, const LiftSetting& setting, const Entry& entry);
std::string round_key(bool trial, End end, int row, int column);
void type_round(Job& job, bool trial, End end, int row, int column, const Entry& entry);

/// The key of what is typed into a test: "tests/2/" and what.
std::string test_key(int test, const std::string& what);

} // namespace dervish::edit
