#include "store/json_job.h"

#include "core/job/describe.h"
#include "store/migrations.h"

#include <cmath>
#include <set>
#include <utility>

namespace dervish::store {
namespace {
using job::FieldSpec;
using job::Measured;
using units::Quantity;

constexpr std::size_t most_entries = 2000; ///< of a list
constexpr std::array<const char*, 3> sources{"measured", "quoted", "assumed"};

double written(double si, Quantity quantity) { return units::rounded(si / units::filed(quantity).factor); }

struct Writer {
    Json& out;

    template <class F> void alternative(bool, F&& fields) { fields(); } // written like all else

    void field(const Measured& m, const FieldSpec& spec) {
        Json& at = out[units::filed_key(spec.key, spec.quantity)];
        if (spec.word && m.value == spec.word_value)
            at["value"] = spec.word;
        else
            at["value"] = written(m.value, spec.quantity);
        at["sigma"] = written(m.sigma, spec.quantity);
        at["source"] = sources[static_cast<std::size_t>(m.source)];
    }
    void text(const char* key, const char*, const std::string& value) { out[key] = value; }
    void flag(const char* key, const char*, bool value) { out[key] = value; }
    void index(const char* key, const char*, int value) { out[key] = value; }
    void length(const char* key, double value) {
        out[units::filed_key(key, Quantity::Length)] = written(value, Quantity::Length);
    }
    void mass(const char* key, double value) {
        out[units::filed_key(key, Quantity::Mass)] = written(value, Quantity::Mass);
    }
    void distance(const char* key, double value) {
        out[units::filed_key(key, Quantity::Distance)] = written(value, Quantity::Distance);
    }
    void number(const char* key, double value) { out[key] = units::rounded(value); }
    void optional_length(const char* key, const std::optional<double>& value) { maybe(key, value, Quantity::Length); }
    void optional_angle(const char* key, const std::optional<double>& value) { maybe(key, value, Quantity::Angle); }
    void maybe(const char* key, const std::optional<double>& value, Quantity quantity) {
        if (value) out[units::filed_key(key, quantity)] = written(*value, quantity);
    }
    template <class E> void choice(const char* key, const char*, E value, std::initializer_list<const char*> names) {
        out[key] = names.begin()[static_cast<std::size_t>(value)];
    }
    void texts(const char* key, const char*, const std::vector<std::string>& values) {
        out[key] = values.empty() ? Json::array() : Json(values);
    }
    void drafts(const char* key, const char*, const std::map<std::string, job::Draft>& values) {
        Json& at = out[key] = Json::object();
        for (const auto& [path, draft] : values)
            at[path] = {{"text", draft.text}, {"units", unit_systems[static_cast<std::size_t>(draft.units)]}};
    }
    template <class T> void group(const char* key, const char*, const T& part) {
        out[key] = Json::object();
        Writer inner{out[key]};
        job::describe(inner, part);
    }
    template <class T> void list(const char* key, const char*, const std::vector<T>& parts) {
        Json& at = out[key] = Json::array();
        for (const T& part : parts) {
            at.push_back(Json::object());
            Writer inner{at.back()};
            job::describe(inner, part);
        }
    }
};

struct Reader {
    const Json& in;
    std::string path;
    std::set<std::string> known{};
    bool unasked = false; ///< what may be missing: older versions, and hands, leave it out

    template <class F> void alternative(bool asked, F&& fields) {
        const bool before = std::exchange(unasked, !asked);
        fields();
        unasked = before;
    }
    bool left_out(const std::string& key) { return unasked && !find(key); }

    std::string below(const std::string& key) const { return path.empty() ? key : path + "/" + key; }

    const Json* find(const std::string& key) {
        known.insert(key);
        const auto at = in.find(key);
        return at == in.end() ? nullptr : &*at;
    }
    const Json& need(const std::string& key) {
        if (const Json* at = find(key)) return *at;
        throw BadInput(below(key), "missing", "a job has this key here");
    }
    [[noreturn]] void wrong(const std::string& key, const Json& found, const std::string& accepted) const {
        std::string shown = found.dump(-1, ' ', false, Json::error_handler_t::replace);
        if (shown.size() > 40) shown = shown.substr(0, 40) + "…";
        throw BadInput(below(key), shown + " is not usable", accepted);
    }
    double number(const std::string& key, const Json& at, Quantity quantity) const {
        const double si = at.is_number() ? at.get<double>() * units::filed(quantity).factor : std::nan("");
        if (!std::isfinite(si)) wrong(key, at, "give a number that can be");
        return si;
    }
    /// A number that is no field: within what any car, part or drive could have.
    double plain_number(const std::string& key, const Json& at, Quantity quantity) const {
        const double si = number(key, at, quantity), most = most_of(quantity);
        const bool spread = key.find("sigma") != std::string::npos;
        if (std::abs(si) > most || (spread && si < 0))
            wrong(key, at,
                  "give " + (spread ? "0" : units::trimmed(-most / units::filed(quantity).factor, 3)) + " to " +
                      units::trimmed(most / units::filed(quantity).factor, 3));
        return si;
    }
    static double most_of(Quantity quantity) {
        if (quantity == Quantity::Length) return 100;    // m
        if (quantity == Quantity::Mass) return 1e5;      // kg
        if (quantity == Quantity::Distance) return 1e10; // m
        return 1e6;
    }

    void field(Measured& m, const FieldSpec& spec) {
        const std::string key = units::filed_key(spec.key, spec.quantity);
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_object()) wrong(key, at, "give an object with value, sigma and source");
        Reader inner{at, below(key)};
        const Json& value = inner.need("value");
        if (spec.word && value == spec.word)
            m.value = spec.word_value;
        else
            m.value = inner.number("value", value, spec.quantity);
        const Json& sigma = inner.need("sigma"); // "null" is what an earlier Dervish made of an infinite one
        m.sigma = sigma.is_null() ? std::nan("") : inner.number("sigma", sigma, spec.quantity);
        int source = 0;
        inner.choice("source", "", source, {sources[0], sources[1], sources[2]});
        m.source = static_cast<job::Source>(source);
        inner.nothing_else();
    }
    void text(const char* key, const char*, std::string& value) {
        const Json& at = need(key);
        if (!at.is_string()) wrong(key, at, "give a text");
        value = at.get<std::string>();
    }
    void flag(const char* key, const char*, bool& value) {
        const Json& at = need(key);
        if (!at.is_boolean()) wrong(key, at, "give true or false");
        value = at.get<bool>();
    }
    void index(const char* key, const char*, int& value) {
        const Json& at = need(key);
        if (!at.is_number_integer() || at < -1 || at > 99) wrong(key, at, "give a whole number from -1 to 99");
        value = at.get<int>();
    }
    void length(const char* key, double& value) { plain(key, value, Quantity::Length); }
    void mass(const char* key, double& value) { plain(key, value, Quantity::Mass); }
    void distance(const char* key, double& value) { plain(key, value, Quantity::Distance); }
    void plain(const char* key, double& value, Quantity quantity) {
        const std::string whole = units::filed_key(key, quantity);
        value = plain_number(whole, need(whole), quantity);
    }
    void number(const char* key, double& value) { plain(key, value, Quantity::Number); }
    void optional_length(const char* key, std::optional<double>& value) { maybe(key, value, Quantity::Length); }
    void optional_angle(const char* key, std::optional<double>& value) { maybe(key, value, Quantity::Angle); }
    void maybe(const char* key, std::optional<double>& value, Quantity quantity) {
        const std::string whole = units::filed_key(key, quantity);
        const Json* at = find(whole);
        value = at ? std::optional(plain_number(whole, *at, quantity)) : std::nullopt;
    }
    template <class E> void choice(const char* key, const char*, E& value, std::initializer_list<const char*> names) {
        if (left_out(key)) return;
        const Json& at = need(key);
        std::string accepted = "give one of:";
        for (std::size_t i = 0; i < names.size(); ++i) {
            if (at == names.begin()[i]) {
                value = static_cast<E>(i);
                return;
            }
            accepted += std::string(i ? ", " : " ") + names.begin()[i];
        }
        wrong(key, at, accepted);
    }
    void texts(const char* key, const char*, std::vector<std::string>& values) {
        const Json& at = need(key);
        bool good = at.is_array() && at.size() <= most_entries;
        for (const Json& one : at) good = good && one.is_string();
        if (!good) wrong(key, at, "give at most 2000 texts");
        values = at.get<std::vector<std::string>>();
    }
    void drafts(const char* key, const char*, std::map<std::string, job::Draft>& values) {
        const Json& at = need(key);
        if (!at.is_object() || at.size() > most_entries)
            wrong(key, at, "give an object of at most 2000 texts that wait");
        for (const auto& [field, one] : at.items()) {
            if (!one.is_object()) wrong(std::string(key) + "/" + field, one, "give an object with text and units");
            Reader inner{one, below(key) + "/" + field};
            job::Draft& draft = values[field];
            inner.text("text", "", draft.text);
            inner.choice("units", "", draft.units, {unit_systems[0], unit_systems[1], unit_systems[2]});
            inner.nothing_else();
        }
    }
    template <class T> void group(const char* key, const char*, T& part) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_object()) wrong(key, at, "give an object");
        Reader inner{at, below(key)};
        job::describe(inner, part);
        inner.nothing_else();
    }
    template <class T> void list(const char* key, const char*, std::vector<T>& parts) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_array()) wrong(key, at, "give a list");
        if (at.size() > most_entries)
            throw BadInput(below(key), std::to_string(at.size()) + " entries", "give at most 2000");
        parts.clear();
        for (std::size_t i = 0; i < at.size(); ++i) {
            if (!at[i].is_object()) wrong(std::string(key) + "/" + std::to_string(i), at[i], "give an object");
            Reader inner{at[i], below(key) + "/" + std::to_string(i)};
            job::describe(inner, parts.emplace_back());
            inner.nothing_else();
        }
    }
    void nothing_else() const {
        for (const auto& [key, value] : in.items())
            if (!known.contains(key))
                throw BadInput(below(key), "not known in version " + std::to_string(job_version),
                               "take it out or correct its spelling");
    }
};
} // namespace

Json to_json(const job::Job& job) {
    Json out;
    out["format"] = "dervish job";
    out["version"] = job_version;
    Writer writer{out};
    job::describe(writer, job);
    return out;
}

job::Job from_json(const Json& json) {
    if (!json.is_object() || json.value("format", Json()) != "dervish job")
        throw BadInput("format", "not a Dervish job", "a job begins with \"format\": \"dervish job\"");
    const Json version = json.value("version", Json());
    if (!version.is_number_integer() || version < 1)
        throw BadInput("version", version.dump() + " is no version", "give a whole number from 1");
    if (version > job_version)
        throw BadInput("version", "written by a newer Dervish (version " + version.dump() + ")",
                       "this one reads up to version " + std::to_string(job_version));
    Json current = json;
    migrate(current, version.get<int>());
    current.erase("format");
    current.erase("version");
    job::Job out;
    Reader reader{current, ""};
    job::describe(reader, out);
    reader.nothing_else();
    return out;
}

} // namespace dervish::store
