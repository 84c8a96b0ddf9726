#include "core/edit/readings.h"

#include "core/job/parts.h"

namespace dervish::edit {
namespace {
using units::Quantity;

AxleSetup& of(Job& job, bool trial, End end) { return (trial ? job.trial : job.fitted)[end]; }

std::string place(const char* what, bool trial, End end, const std::string& where) {
    return std::string("tests/") + what + (trial ? " trial " : " fitted ") + name_of(end) + "/" + where;
}

/// `take` takes the entry up or throws BadInput, and then it waits at `key`.
template <class Take> void take_or_wait(Job& job, const std::string& key, const Entry& entry, Take&& take) {
    job.drafts.erase(key);
    try {
        take();
    } catch (const BadInput&) {
        job.drafts[key] = {entry.text, entry.system};
    }
}

bool nothing(const std::string& text) { return text.find_first_not_of(" \t") == std::string::npos; }

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
        if (nothing(entry.text)) {
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
        if (!nothing(entry.text)) checks.*value = parse(entry.text, spec, entry.system, spec.key);
    });
}

std::string round_key(bool trial, End end, int row, int column) {
    return check_key(trial, end, "round " + std::to_string(row) + (column == 0 ? " left" : " right"));
}

void type_round(Job& job, bool trial, End end, int row, int column, const Entry& entry) {
    auto& rounds = checks_for(job, of(job, trial, end)).rounds;
    const auto at = static_cast<std::size_t>(row);
    const std::string key = round_key(trial, end, row, column);
    take_or_wait(job, key, entry, [&] {
        if (nothing(entry.text)) return take_out(rounds, at);
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

void type_of_test(Job& job, int test, const FieldSpec& spec, const std::string& what,
                  const std::function<void(PlannedTest&, std::optional<double>)>& set, const Entry& entry) {
    take_or_wait(job, test_key(test, what), entry, [&] {
        const auto typed = read_length(entry, spec);
        set(job.tests[static_cast<std::size_t>(test)], typed ? std::optional(typed->value) : std::nullopt);
    });
}

const FieldSpec& ramp_spec(int column) {
    static const FieldSpec reading{"reading", "Reading", Quantity::Length, Tool::Tape, -0.2, 3},
        travel{"travel", "Travel", Quantity::Length, Tool::Tape, -1, 1};
    return column == 0 ? reading : travel;
}

std::string ramp_key(int test, int row, int column) {
    return test_key(test, "readings/" + std::to_string(row) + "/" + std::to_string(column));
}

void type_ramp_reading(Job& job, int test, int row, int column, const Entry& entry) {
    auto& readings = job.tests[static_cast<std::size_t>(test)].ramp.readings;
    const auto at = static_cast<std::size_t>(row);
    take_or_wait(job, ramp_key(test, row, column), entry, [&] {
        const auto typed = read_length(entry, ramp_spec(column), column == 0);
        if (!typed && (column == 0 || at >= readings.size())) return take_out(readings, at);
        if (at >= readings.size()) {
            if (column > 0)
                throw BadInput("reading", "a travel without a height or gap",
                               "type what was read in the first column first");
            readings.push_back({});
        }
        Reading& r = readings[at];
        if (column == 0) {
            r.value = typed->value;
            r.more_than = typed->more_than;
        } else {
            r.travel.wheel[static_cast<std::size_t>(column - 1)] = typed ? std::optional(typed->value) : std::nullopt;
        }
    });
}

std::optional<Typed> read_length(const Entry& entry, const FieldSpec& spec, bool may_be_more) {
    if (nothing(entry.text)) return {};
    return parse_entry(entry.text, spec, entry.system, "reading", may_be_more);
}

} // namespace dervish::edit
