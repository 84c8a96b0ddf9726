#include "core/job/fields.h"

#include "core/job/describe.h"
#include "core/units/entry.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <span>
#include <string_view>
#include <utility>

namespace dervish::job {
namespace {

bool lies_below(const std::string& path, const std::string& prefix) {
    return path.starts_with(prefix) && (prefix.empty() || path.size() == prefix.size() || path[prefix.size()] == '/');
}

/// Collects the measurable numbers, and the choices where they are asked for; everything else passes by.
struct Collect {
    std::vector<FieldRef>& out;
    std::vector<ChoiceRef>* choices = nullptr;
    const std::pair<std::string, int>* to_choose = nullptr; ///< path and word to be chosen
    const std::string* only = nullptr;                      ///< numbers below it alone
    const std::string* to_write = nullptr;                  ///< the words at `only`; null once written
    bool spread_only = false;                               ///< numbers that have one alone
    std::string path{};                                     ///< of what is described now
    std::string group_label{};
    bool is_list_item = false;

    std::string below(const char* key) const {
        std::string at;
        at.reserve(path.size() + 1 + std::strlen(key));
        at.append(path).append(path.empty() ? "" : "/").append(key);
        return at;
    }
    bool leads_there() const { return !only || lies_below(path, *only) || lies_below(*only, path); }
    /// Asked of every number there is: without making its path.
    bool is_wanted(std::string_view key) const {
        return !only || lies_below(path, *only) ||
               (only->size() == path.size() + 1 + key.size() && only->starts_with(path) &&
                (*only)[path.size()] == '/' && only->ends_with(key));
    }
    void field(Measured& m, const FieldSpec& spec) {
        if (spread_only && !(m.sigma > 0)) return;
        if (is_wanted(spec.key)) out.push_back({below(spec.key), group_label, spec, &m});
    }
    void text(const char* key, const char*, std::string& value) {
        if (to_write && below(key) == *only) value = *std::exchange(to_write, nullptr);
        if (is_list_item) group_label = value;
        is_list_item = false;
    }
    void flag(const char* key, const char* label, bool& value) {
        if (choices) choices->push_back({below(key), label, {"no", "yes"}, value, out.size()});
        if (to_choose && to_choose->first == below(key)) value = to_choose->second == 1;
    }
    void index(const char*, const char*, int&) {}
    void length(const char*, double&) {}
    void distance(const char*, double&) {}
    void mass(const char*, double&) {}
    void number(const char*, double&) {}
    template <class T> void numbers(const char*, const T&) {}
    void optional_length(const char*, std::optional<double>&) {}
    void optional_angle(const char*, std::optional<double>&) {}
    template <class E>
    void choice(const char* key, const char* label, E& value, std::initializer_list<const char*> names) {
        if (choices)
            choices->push_back({below(key), label, {names.begin(), names.end()}, static_cast<int>(value), out.size()});
        if (to_choose && to_choose->first == below(key) && to_choose->second < static_cast<int>(names.size()))
            value = static_cast<E>(to_choose->second);
    }
    template <class T> void texts(const char*, const char*, T&) {}
    template <class T> void drafts(const char*, const char*, T&) {}
    template <class T> void within(const std::string& key, std::string label, bool of_a_list, T& part) {
        const std::size_t here = path.size();
        path.append(here > 0 ? "/" : "").append(key);
        if (leads_there()) {
            std::swap(group_label, label);
            std::swap(is_list_item, of_a_list);
            describe(*this, part);
            std::swap(is_list_item, of_a_list);
            std::swap(group_label, label);
        }
        path.resize(here);
    }
    template <class T> void group(const char* key, const char* label, T& part) {
        within(key, *label ? label : group_label, false, part);
    }
    template <class T> void part(const char* key, const char* label, T& part) { group(key, label, part); }
    template <class T> void list(const char* key, const char* label, std::vector<T>& parts) {
        for (std::size_t i = 0; i < parts.size(); ++i)
            within(key + ("/" + std::to_string(i)), label + (" " + std::to_string(i + 1)), true, parts[i]);
    }
};

std::string with_unit(double si, const FieldSpec& spec, units::System system) {
    const units::Unit unit = units::shown(spec.quantity, system);
    const double value = si / unit.factor;
    const int decimals = std::abs(value) >= 100 ? 0 : std::abs(value) >= 10 ? 1 : 3;
    return units::trimmed(value, decimals) + (unit.symbol.empty() ? "" : " ") + std::string(unit.symbol);
}

/// What else the number could have been meant in: "950 mm" for a diameter is more likely 9.50 or 0.950 of something.
std::string unit_hint(double value, const FieldSpec& spec, units::System system) {
    if (spec.quantity != units::Quantity::Length && spec.quantity != units::Quantity::Mass) return {};
    const double typed = value / units::shown(spec.quantity, system).factor;
    struct Guess {
        const char* unit;
        double factor;
    };
    static constexpr Guess lengths[] = {
        {"in", 0.0254}, {"cm", 0.01}, {"m", 1}, {"mm", 0.001}, {"thousandths of an inch", 2.54e-5}};
    static constexpr Guess masses[] = {{"lb", units::pound}, {"kg", 1}, {"g", 1e-3}};
    const bool length = spec.quantity == units::Quantity::Length;
    for (const Guess& g : length ? std::span<const Guess>(lengths) : std::span<const Guess>(masses)) {
        const double si = typed * g.factor;
        if (si >= spec.lowest && si <= spec.highest && std::abs(si - value) > 1e-12)
            return "; was it read in " + std::string(g.unit) + "? That would be " + with_unit(si, spec, system);
    }
    return {};
}
} // namespace

double usual_sigma(const FieldSpec& spec, Source source, double value) {
    if (!std::isfinite(value) || (spec.word && value == spec.word_value)) return 0;
    const double size = std::abs(value);
    const bool angle = spec.quantity == units::Quantity::Angle;
    if (source == Source::Quoted) return angle ? units::deg : 0.03 * size;
    if (source == Source::Assumed) return angle ? 3 * units::deg : 0.15 * size;
    switch (spec.tool) {
    case Tool::Calliper:
        return 0.05 * units::mm;
    case Tool::Tape:
        return 1.5 * units::mm;
    case Tool::AngleGauge:
        return 0.2 * units::deg;
    case Tool::Scale:
        return 0.005 * size;
    case Tool::PressureGauge:
        return 0.02 * size;
    case Tool::Count:
        return 0;
    case Tool::Test: // nobody knows a height to less than some millimetres, were it nought
        return std::max(0.03 * size, spec.quantity == units::Quantity::Length ? 3 * units::mm
                                     : angle                                  ? 0.3 * units::deg
                                                                              : 0);
    }
    return 0;
}

const char* name_of(Tool tool) {
    static constexpr const char* names[] = {"callipers",        "a tape",   "an angle gauge", "a scale",
                                            "a pressure gauge", "counting", "a test"};
    return names[static_cast<std::size_t>(tool)];
}

namespace {
void walk(Job& job, Collect& collect) {
    collect.group("vehicle", "Car", job.vehicle);
    collect.group("fitted", "Fitted", job.fitted);
    collect.group("trial", "Trial", job.trial);
}
} // namespace

std::vector<FieldRef> fields(Job& job, const std::string& prefix) {
    std::vector<FieldRef> all;
    Collect collect{.out = all, .only = &prefix};
    walk(job, collect);
    return all;
}

namespace {
/// To be walked for what it has: nothing is written.
Job& only_read(const Job& job) { return const_cast<Job&>(job); }
} // namespace

std::vector<FieldSeen> fields(const Job& job, const std::string& prefix) {
    std::vector<FieldSeen> out;
    for (FieldRef& f : fields(only_read(job), prefix))
        out.push_back({std::move(f.path), std::move(f.group), f.spec, f.value});
    return out;
}

std::vector<Input> inputs(Job& job) {
    static const char* const one_thing[] = {"/tyres/rate",          "/tyres/nominal_load",  "/tyres/grip",
                                            "/tyres/grip_fall",     "/tyres/stiffness",     "/tyres/stiffness_load",
                                            "/tyres/camber_thrust", "/tyres/camber_loss",   "/tyres/best_camber",
                                            "/tyres/relaxation",    "/tyres/best_pressure", "/tyres/pressure_loss",
                                            "/bar/youngs_modulus",  "/bar/shear_modulus",   "/bar/density"};
    std::vector<FieldRef> all;
    Collect collect{.out = all, .spread_only = true};
    collect.group("vehicle", "Car", job.vehicle);
    collect.group("trial", "Trial", job.trial);
    std::vector<Input> out;
    out.reserve(all.size());
    std::map<std::string, std::size_t> at_front; // of the twin's path, the place in `out`
    for (FieldRef& f : all) {
        if (const auto first = at_front.find(f.path);
            first != at_front.end() && *out[first->second].field.value == *f.value) {
            out[first->second].twin = f;
            continue;
        }
        const std::size_t front = f.path.find("/front/");
        if (f.value->source == Source::Assumed && front != std::string::npos)
            for (const std::string_view end : one_thing)
                if (f.path.ends_with(end) && f.path.size() == front + 6 + end.size())
                    at_front[f.path.substr(0, front) + "/rear/" + f.path.substr(front + 7)] = out.size();
        out.push_back({std::move(f), {}});
    }
    return out;
}

std::vector<ChoiceRef> choices(const Job& job, const std::string& prefix) {
    std::vector<FieldRef> all; // those below the prefix alone, which are counted
    std::vector<ChoiceRef> out;
    Collect collect{.out = all, .choices = &out, .only = &prefix};
    walk(only_read(job), collect);
    std::erase_if(out, [&](const ChoiceRef& c) { return !lies_below(c.path, prefix); });
    return out;
}

void set_choice(Job& job, const std::string& path, int chosen) {
    const auto all = choices(job, path);
    if (all.size() != 1 || chosen < 0 || chosen >= static_cast<int>(all[0].words.size()))
        throw BadInput(path, "there is no such choice", "choose one that the field shows");
    std::vector<FieldRef> ignored;
    const std::pair to_choose{path, chosen};
    Collect collect{.out = ignored, .to_choose = &to_choose};
    walk(job, collect);
}

void set_words(Job& job, const std::string& path, const std::string& words) {
    std::vector<FieldRef> ignored;
    Collect collect{.out = ignored, .only = &path, .to_write = &words};
    walk(job, collect);
    if (collect.to_write) throw BadInput(path, "there are no such words", "give the path of a name or a note");
}

std::optional<FieldRef> field(Job& job, const std::string& path) {
    const auto found = fields(job, path);
    return found.size() == 1 ? std::optional(found.front()) : std::nullopt;
}

std::optional<FieldSeen> field(const Job& job, const std::string& path) {
    auto found = fields(job, path);
    return found.size() == 1 ? std::optional(std::move(found.front())) : std::nullopt;
}

namespace {
constexpr double filed = 1e-9; ///< of a limit, by which a file rounds it
}

void check_range(double value, const FieldSpec& spec, units::System system, const std::string& path) {
    if (spec.word && value == spec.word_value) return;
    if (value >= spec.lowest - filed * std::abs(spec.lowest) && value <= spec.highest + filed * std::abs(spec.highest))
        return;
    std::string accepted =
        "give " + with_unit(spec.lowest, spec, system) + " to " + with_unit(spec.highest, spec, system);
    if (spec.word) accepted += ", or \"" + std::string(spec.word) + "\"";
    const std::string what = std::isnan(value) ? "not a number" : with_unit(value, spec, system) + " cannot be";
    throw BadInput(path, std::string(spec.label) + ": " + what, accepted + unit_hint(value, spec, system));
}

FieldSpec sigma_spec(const FieldSpec& spec) {
    return {"sigma", "One sigma", spec.quantity, spec.tool, 0, std::max(std::abs(spec.lowest), std::abs(spec.highest))};
}

std::string draft_text(const Draft& draft, units::Quantity quantity, units::System now) {
    const auto unit = units::shown(quantity, draft.units);
    if (unit.factor == units::shown(quantity, now).factor || unit.symbol.empty()) return draft.text;
    try {
        if (units::read_entry(draft.text, quantity, draft.units).values ==
            units::read_entry(draft.text, quantity, now).values)
            return draft.text; // it names its own unit
    } catch (const BadInput&) {
    }
    return draft.text + " " + std::string(unit.symbol);
}

void check_sigma(double sigma, const FieldSpec& spec, const std::string& path) {
    const double most = sigma_spec(spec).highest;
    if (sigma >= 0 && sigma <= most * (1 + filed)) return;
    throw BadInput(path, std::string(spec.label) + ": a spread that cannot be",
                   "give 0 to " + with_unit(most, spec, units::System::Metric));
}

namespace {
bool same_word(std::string text, std::string_view word) {
    text.erase(0, text.find_first_not_of(" \t"));
    text.erase(text.find_last_not_of(" \t") + 1);
    const auto low = [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; };
    return std::equal(text.begin(), text.end(), word.begin(), word.end(),
                      [&](char a, char b) { return low(a) == low(b); });
}
} // namespace

Typed parse_entry(const std::string& typed, const FieldSpec& spec, units::System system, const std::string& path,
                  bool may_be_more) {
    if (spec.word && same_word(typed, spec.word)) return {spec.word_value, {}};
    const std::string label = std::string(spec.label) + ": ",
                      or_word = spec.word ? ", or \"" + std::string(spec.word) + "\"" : "";
    units::Entry entry;
    try {
        if (typed.find_first_not_of(" \t") == std::string::npos) {
            const auto symbol = units::shown(spec.quantity, system).symbol;
            throw BadInput("", "the field is empty",
                           "give a number in " + std::string(symbol.empty() ? "plain figures" : symbol));
        }
        entry = units::read_entry(typed, spec.quantity, system,
                                  [&](double si) { return si >= spec.lowest && si <= spec.highest; });
    } catch (const BadInput& e) {
        throw BadInput(path, label + e.problem(), e.accepted() + or_word);
    }
    if (entry.more_than && !may_be_more)
        throw BadInput(path, label + "\"" + typed + "\" is no single value", "give it without >" + or_word);
    for (const double value : entry.values) check_range(value, spec, system, path);
    Typed out{0, {}, entry.values.size(), entry.more_than};
    const auto n = static_cast<double>(out.readings);
    for (const double value : entry.values) out.value += value / n;
    if (out.readings > 1) {
        double squares = 0;
        for (const double value : entry.values) squares += (value - out.value) * (value - out.value);
        const double tool = usual_sigma(spec, Source::Measured, out.value);
        out.sigma = units::as_filed(std::hypot(tool, std::sqrt(squares / (n - 1) / n)), spec.quantity);
    }
    out.value = units::as_filed(out.value, spec.quantity);
    return out;
}

double parse(const std::string& typed, const FieldSpec& spec, units::System system, const std::string& path) {
    return parse_entry(typed, spec, system, path).value;
}

std::string understood(const Typed& typed, const FieldSpec& spec, units::System system) {
    if (spec.word && typed.value == spec.word_value) return std::string("= ") + spec.word;
    const units::Unit unit = units::shown(spec.quantity, system);
    const auto figures = [&](double si) {
        const double value = si / unit.factor, size = std::abs(value);
        return units::trimmed(value, size >= 1e4 ? 1 : size >= 100 ? 2 : size >= 1 ? 3 : 5);
    };
    const std::string behind = unit.symbol.empty() ? "" : (unit.symbol == "°" ? "" : " ") + std::string(unit.symbol);
    const std::string value = (typed.more_than ? "more than " : "") + figures(typed.value) + behind;
    if (typed.readings == 1) return "= " + value;
    return std::to_string(typed.readings) + " readings: " + value + " ± " + figures(*typed.sigma);
}

std::string show(double value, const FieldSpec& spec, units::System system) {
    if (spec.word && value == spec.word_value) return spec.word;
    const units::Unit unit = units::shown(spec.quantity, system);
    const double written = value / unit.factor;
    // One more figure for callipers, and for small numbers in units that are coarse.
    const int finer = (spec.tool == Tool::Calliper ? 1 : 0) + (std::abs(written) < 10 && unit.decimals < 3 ? 1 : 0);
    return units::trimmed(written, unit.decimals + finer);
}

std::vector<std::string> differences(const Job& before, const Job& after, units::System system) {
    constexpr std::size_t most = 8;
    std::vector<std::string> out;
    const auto count = [&](const char* what, std::size_t a, std::size_t b) {
        if (a != b) out.push_back(std::string(what) + ": " + std::to_string(a) + " -> " + std::to_string(b));
    };
    if (before.name != after.name) out.push_back("name: " + before.name + " -> " + after.name);
    count("tests", before.tests.size(), after.tests.size());
    count("entries in the book", before.book.size(), after.book.size());
    count("texts that wait", before.drafts.size(), after.drafts.size());
    Job a = before, b = after;
    std::map<std::string, Measured> was;
    for (const FieldRef& f : fields(a)) was[f.path] = *f.value;
    std::size_t more = 0;
    for (const FieldRef& f : fields(b)) {
        const auto old = was.find(f.path);
        if (old != was.end() && old->second == *f.value) continue;
        if (out.size() >= most - 1) {
            ++more;
            continue;
        }
        const bool alike = old != was.end() && old->second.value == f.value->value; // by its spread or source alone
        const auto told = [&](const Measured& m) {
            static constexpr const char* sources[] = {"measured", "quoted", "assumed"};
            std::string words = show(m.value, f.spec, system);
            if (alike)
                words += " ± " + show(m.sigma, f.spec, system) + ", " + sources[static_cast<std::size_t>(m.source)];
            return words;
        };
        out.push_back(f.group + ", " + f.spec.label + ": " + (old == was.end() ? "new" : told(old->second)) + " -> " +
                      told(*f.value));
    }
    if (more > 0) out.push_back("and " + std::to_string(more) + " more");
    if (out.empty() && !(before == after)) out.push_back("readings, words or choices");
    return out;
}

} // namespace dervish::job
