#include "core/job/limits.h"

#include "core/job/describe.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

namespace dervish::job {
namespace {
constexpr std::string_view told[] = {"complaint", "reason", "noticed", "note",      "notes",   "words", "why",
                                     "question",  "struck", "accepts", "discarded", "ordered", "heard", "text"};

struct Limits {
    bool in_file;                                                        ///< as long as any text in a file may be
    const std::unordered_map<std::string, std::size_t>* known = nullptr; ///< sizes that were beyond before, by place
    std::unordered_map<std::string, std::size_t>* found = nullptr;       ///< to be filled with them: nothing is thrown
    bool snapshots = true;
    const Job* before = nullptr; ///< whose tests and book are not looked at again where they stayed
    std::string path{};

    std::string below(std::string_view key) const {
        return path.empty() ? std::string(key) : path + "/" + std::string(key);
    }
    void beyond(std::string_view key, std::size_t size, const std::string& problem, const std::string& accepted) const {
        const std::string at = below(key);
        if (found) {
            (*found)[at] = size;
            return;
        }
        if (known)
            if (const auto old = known->find(at); old != known->end() && size <= old->second) return;
        throw BadInput(at, problem, accepted);
    }
    void not_a_number(std::string_view key) const { beyond(key, 0, "not a number", "give a number that can be"); }

    void field(const Measured& m, const FieldSpec& spec) const {
        const bool word = spec.word && m.value == spec.word_value; // such as "rigid"
        if (!(std::isfinite(m.value) || word) || !std::isfinite(m.sigma)) not_a_number(spec.key);
    }
    void text(const char* key, const char*, const std::string& value) const {
        const std::size_t most = in_file ? longest_in_file : longest_text(key);
        if (value.size() > most)
            beyond(key, value.size(), "a text of " + std::to_string(value.size()) + " letters",
                   "at most " + std::to_string(most));
    }
    void count(std::string_view key, std::size_t size) const {
        if (size > most_entries(key))
            beyond(key, size, std::to_string(size) + " entries", "give at most " + std::to_string(most_entries(key)));
    }
    void flag(const char*, const char*, bool) const {}
    template <class E> void choice(const char*, const char*, E, std::initializer_list<const char*>) const {}
    void index(const char* key, const char*, int value) const {
        if (value < lowest_index || value > highest_index)
            beyond(key, 0, std::to_string(value) + " is not usable", "give a full number from -1 to 99");
    }
    void plain(const char* key, double value, units::Quantity quantity) const {
        if (!std::isfinite(value)) return not_a_number(key);
        const double most = most_of(quantity), least = is_spread(key) ? 0 : -most, unit = units::filed(quantity).factor;
        if (value < least || value > most)
            beyond(key, 0, units::trimmed(value / unit, 3) + " is not usable",
                   "give " + units::trimmed(least / unit, 3) + " to " + units::trimmed(most / unit, 3));
    }
    void length(const char* key, double value) const { plain(key, value, units::Quantity::Length); }
    void mass(const char* key, double value) const { plain(key, value, units::Quantity::Mass); }
    void distance(const char* key, double value) const { plain(key, value, units::Quantity::Distance); }
    void number(const char* key, double value) const { plain(key, value, units::Quantity::Number); }
    template <class T> void numbers(const char* key, const std::vector<T>& values) const {
        count(key, values.size());
        for (const T value : values) plain(key, static_cast<double>(value), units::Quantity::Number);
    }
    void optional_length(const char* key, const std::optional<double>& value) const {
        if (value) plain(key, *value, units::Quantity::Length);
    }
    void optional_angle(const char* key, const std::optional<double>& value) const {
        if (value) plain(key, *value, units::Quantity::Angle);
    }
    void texts(const char* key, const char* label, const std::vector<std::string>& values) const {
        count(key, values.size());
        for (const std::string& value : values) text(key, label, value);
    }
    void drafts(const char* key, const char*, const std::map<std::string, Draft>& values) const {
        count(key, values.size());
        for (const auto& [at, draft] : values) text("text", "", draft.text);
    }
    template <class T> void within(const std::string& key, const T& part) {
        const std::size_t here = path.size();
        path.append(here > 0 ? "/" : "").append(key);
        describe(*this, part);
        path.resize(here);
    }
    template <class T> void group(const char* key, const char*, const T& part) { within(key, part); }
    template <class T> void part(const char* key, const char*, const T& part) { within(key, part); }
    template <class T> void once(const char* key, const T& part) { within(key, part); }
    template <class T> void optional_group(const char* key, const char*, const T& part) { within(key, part); }
    void snapshot(const char* key, const Snapshot& car) {
        if (snapshots) within(key, car);
    }
    void optional_snapshot(const char* key, const std::optional<Snapshot>& car) {
        if (car) snapshot(key, *car);
    }
    template <class T> void list(const char* key, const char*, const std::vector<T>& parts) {
        count(key, parts.size());
        if constexpr (std::same_as<T, PlannedTest>)
            if (before && &before->tests.read() == &parts) return;
        if constexpr (std::same_as<T, Entry>)
            if (before && &before->book.read() == &parts) return;
        for (std::size_t i = 0; i < parts.size(); ++i) within(std::string(key) + "/" + std::to_string(i), parts[i]);
    }
};
} // namespace

std::size_t longest_text(std::string_view key) { return std::ranges::find(told, key) != std::end(told) ? 20'000 : 300; }

std::size_t most_entries(std::string_view key) { return key == "loads" ? 64 : key == "torques" ? 500 : 20'000; }

bool is_spread(std::string_view key) { return key.find("sigma") != key.npos; }

double most_of(units::Quantity quantity) {
    if (quantity == units::Quantity::Length) return 100;    // m
    if (quantity == units::Quantity::Mass) return 1e5;      // kg
    if (quantity == units::Quantity::Distance) return 1e10; // m
    return 1e6;
}

void check_limits(const Job& job, const Job* before) {
    if (!before) {
        Limits limits{.in_file = true};
        describe(limits, job);
        return;
    }
    try {
        Limits limits{.in_file = false, .snapshots = false, .before = before};
        describe(limits, job);
    } catch (const BadInput&) {
        std::unordered_map<std::string, std::size_t> known;
        Limits old{.in_file = false, .found = &known, .snapshots = false};
        describe(old, *before);
        Limits limits{.in_file = false, .known = &known, .snapshots = false, .before = before};
        describe(limits, job);
    }
}

} // namespace dervish::job
