#include "store/json_job.h"

#include "core/job/describe.h"
#include "core/job/parts.h"

#include <map>
#include <unordered_map>
#include <utility>

/// A job into JSON.
namespace dervish::store {
namespace {
using job::FieldSpec;
using job::Measured;
using units::Quantity;

double written(double si, Quantity quantity) { return units::rounded(si / units::filed(quantity).factor); }

/// What was met last of one kind, by where it stands among what was: cars as they were mostly share their parts.
struct Recent {
    static constexpr std::size_t most = 8;
    std::vector<std::pair<const void*, std::size_t>> met{};
    template <class T> const std::size_t* find(const T& part) const {
        for (const auto& [at, place] : met)
            if (*static_cast<const T*>(at) == part) return &place;
        return nullptr;
    }
    void keep(const void* part, std::size_t place) {
        if (met.size() == most) met.erase(met.begin());
        met.emplace_back(part, place);
    }
};

/// What stands once in a file and is referred to: parts by kind and id; cars as they were, and of these the vehicle and
/// the parts, by their places.
struct Shared {
    Json parts = Json::object(), snapshots = Json::array(), was = Json::object();
    std::unordered_map<std::string, std::size_t> places{}; ///< of all of these lists, by kind and what they say
    std::map<std::string, Recent> recent{};                ///< by kind, a vehicle being one

    std::size_t place(const char* kind, Json& list, Json json) {
        const auto [at, is_new] =
            places.try_emplace(kind + json.dump(-1, ' ', false, Json::error_handler_t::replace), list.size());
        if (is_new) list.push_back(std::move(json));
        return at->second;
    }
};

/// An object with room for so many keys: one that grows copies all that is in it.
Json roomy(std::size_t keys = 24) {
    Json out = Json::object();
    out.get_ref<Json::object_t&>().reserve(keys);
    return out;
}

struct Writer {
    Json& out;
    Shared& shared;
    bool whole = false; ///< parts among what was: of a snapshot

    template <class F> void alternative(bool, F&& fields) { fields(); } // written like all else

    void field(const Measured& m, const FieldSpec& spec) {
        Json& at = out[units::filed_key(spec.key, spec.quantity)] = roomy(3);
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
    template <class T> void numbers(const char* key, const std::vector<T>& values) {
        Json& at = out[key] = Json::array();
        for (const T value : values)
            if constexpr (std::is_floating_point_v<T>)
                at.push_back(units::rounded(value));
            else
                at.push_back(value);
    }
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
        Json& at = out[key] = roomy();
        Writer inner{at, shared, whole};
        job::describe(inner, part);
    }
    template <class T> void part(const char* key, const char*, const T& part) {
        if (whole) return once(key, part);
        out[key] = shared_id(key, part);
    }
    template <class T> void once(const char* key, const T& part) {
        Recent& recent = shared.recent[key];
        if (const std::size_t* known = recent.find(part)) {
            out[key] = *known;
            return;
        }
        Json json = roomy();
        Writer inner{json, shared, true};
        job::describe(inner, part);
        const std::size_t place = shared.place(key, shared.was[key], std::move(json));
        recent.keep(&part, place);
        out[key] = place;
    }
    /// The id under which the part stands among those of its kind. One that is there with other figures, which no edit
    /// leaves behind, gets an id beside it: nothing is lost.
    template <class T> std::string shared_id(const char* kind, const T& part) {
        Json json = roomy();
        Writer inner{json, shared, whole};
        job::describe(inner, part);
        Json& all = shared.parts[kind];
        const std::string own = part.id.empty() ? kind : part.id;
        json.erase("id");
        std::string id = own;
        for (int n = 2; all.contains(id) && all[id] != json; ++n) id = own + "-" + std::to_string(n);
        all[id] = std::move(json);
        return id;
    }
    void snapshot(const char* key, const job::Snapshot& car) {
        Json json = roomy();
        Writer inner{json, shared, true};
        job::describe(inner, car);
        out[key] = shared.place("snapshots", shared.snapshots, std::move(json));
    }
    void optional_snapshot(const char* key, const std::optional<job::Snapshot>& car) {
        if (car) snapshot(key, *car);
    }
    template <class T> void optional_group(const char* key, const char* label, const T& part) {
        if (!(part == T{})) group(key, label, part);
    }
    template <class T> void list(const char* key, const char*, const std::vector<T>& parts) {
        Json& at = out[key] = Json::array();
        for (const T& part : parts) {
            at.push_back(roomy());
            Writer inner{at.back(), shared, whole};
            job::describe(inner, part);
        }
    }
};
} // namespace

Json to_json(const job::Job& job) {
    Json out = roomy(32);
    out["format"] = "dervish job";
    out["version"] = job_version();
    Shared shared;
    job::each_kind([&](const char* kind, auto) { shared.parts[kind] = Json::object(); });
    Writer writer{out, shared};
    job::describe(writer, job);
    job::each_spare(job.spares, [&](const char* kind, const auto& part) { writer.shared_id(kind, part); });
    out["parts"] = std::move(shared.parts);
    out["snapshots"] = std::move(shared.snapshots);
    out["was"] = std::move(shared.was);
    return out;
}

} // namespace dervish::store
