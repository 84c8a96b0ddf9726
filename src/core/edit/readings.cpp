#include "core/edit/readings.h"

#include "core/edit/typing.h"
#include "core/job/parts.h"

namespace dervish::edit {
namespace {
using units::Quantity;

AxleSetup& of(Job& job, bool trial, End end) { return (trial ? job.trial : job.fitted)[end]; }

std::string place(const char* what, bool trial, End end, const std::string& where) {
    return std::string("tests/") + what + (trial ? " trial " : " fitted ") + name_of(end) + "/" + where;
}

template <class Row> void take_out(std::vector<Row>& rows, std::size_t at) {
    if (at < rows.size()) rows.erase(rows.begin() + static_cast<std::ptrdiff_t>(at));
}
} // namespace

const FieldSpec rig_specs[2] = {{"mass", "Mass", Quantity::Mass, Tool::Scale, 0, 1000},
                                {"dial", "Dial", Quantity::Length, Tool::Calliper, -0.3, 0.3}};
const FieldSpec lift_specs[2] = {{"left", "Left side lifted", Quantity::Length, Tool::Tape, -0.2, 2},
                                 {"right", "Right side lifted", Quantity::Length, Tool::Tape, -0.2, 2}};

std::string rig_key(bool trial, End end, int row, int column) {
    return place("rig", trial, end, std::to_string(row) + "/" + std::to_string(column));
}

void type_rig_reading(Job& job, bool trial, End end, int row, int column, const Entry& entry) {
    auto& readings = rig_for(job, of(job, trial, end)).readings;
    const auto at = static_cast<std::size_t>(row);
    take_or_wait(job, rig_key(trial, end, row, column), entry, [&] {
        if (nothing_in(entry.text)) {
            if (column == 0) take_out(readings, at);
            return;
        }
        const double value = parse(entry.text, rig_specs[column], entry.system, "reading");
        if (at >= readings.size()) {
            if (column == 1) throw BadInput("reading", "a dial without its mass", "type the mass first");
            readings.push_back({});
        }
        (column == 0 ? readings[at].mass : readings[at].dial) = value;
    });
}

std::string check_key(bool trial, End end, const std::string& what) { return place("checks", trial, end, what); }

void type_check(Job& job, bool trial, End end, const FieldSpec& spec, std::optional<double> SetupChecks::*value,
                const Entry& entry) {
    SetupChecks& checks = checks_for(job, of(job, trial, end));
    take_or_wait(job, check_key(trial, end, spec.key), entry, [&] {
        checks.*value = {};
        if (!nothing_in(entry.text)) checks.*value = parse(entry.text, spec, entry.system, spec.key);
    });
}

const LiftSetting lift_settings[] = {
    {{"lift_tolerance", "Alike within", units::Quantity::Length, Tool::Tape, 0.1e-3, 0.1},
     &SetupChecks::lift_tolerance},
    {{"per_wheel", "Contact point rises, of the wheel's rise", units::Quantity::Number, Tool::Tape, 0.1, 3},
     &SetupChecks::per_wheel}};

void type_lift_setting(Job& job, bool trial, End end, const LiftSetting& setting, const Entry& entry) {
    SetupChecks& checks = checks_for(job, of(job, trial, end));
    take_or_wait(job, check_key(trial, end, setting.spec.key), entry,
                 [&] { checks.*setting.value = parse(entry.text, setting.spec, entry.system, setting.spec.key); });
}

std::string round_key(bool trial, End end, int row, int column) {
    return check_key(trial, end, "round " + std::to_string(row) + (column == 0 ? " left" : " right"));
}

void type_round(Job& job, bool trial, End end, int row, int column, const Entry& entry) {
    auto& rounds = checks_for(job, of(job, trial, end)).rounds;
    const auto at = static_cast<std::size_t>(row);
    const std::string key = round_key(trial, end, row, column);
    take_or_wait(job, key, entry, [&] {
        if (nothing_in(entry.text)) return take_out(rounds, at);
        const double value = parse(entry.text, lift_specs[column], entry.system, key);
        if (at < rounds.size()) {
            (column == 0 ? rounds[at].left : rounds[at].right) = value;
            return;
        }
        const std::string other = round_key(trial, end, row, 1 - column);
        const auto waits = job.drafts.find(other);
        if (waits == job.drafts.end()) throw BadInput(key, "one side only", "read the other side too");
        const double second = parse(waits->second.text, lift_specs[1 - column], waits->second.units, other);
        job.drafts.erase(waits);
        rounds.push_back(column == 0 ? LiftRound{value, second} : LiftRound{second, value});
    });
}

std::string test_key(int test, const std::string& what) { return "tests/" + std::to_string(test) + "/" + what; }

} // namespace dervish::edit
