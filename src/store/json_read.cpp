#include "store/json_job.h"

#include "core/book/check.h"
#include "core/job/describe.h"
#include "core/job/limits.h"
#include "core/job/parts.h"
#include "core/proof/check.h"
#include "store/migrations.h"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

/// A job out of JSON.
namespace dervish::store {
namespace {
using job::FieldSpec;
using job::Measured;
using units::Quantity;

/// Where a reader finds what stands once, and which parts a setup took from it.
struct Sources {
    const Json &parts, &snapshots, &was;
    int version;                                      ///< of the file
    std::vector<std::optional<job::Snapshot>> read{}; ///< of the snapshots
    std::set<std::pair<std::string, std::string>> taken{};
};

struct Reader {
    const Json& in;
    std::string_view own; ///< where it is: a place of the file, or a key and perhaps a place in the list below `outer`
    Sources& shared;
    bool whole = false; ///< parts among what was: of a snapshot
    const Reader* outer = nullptr;
    std::size_t place = nowhere;
    std::vector<const Json*> met{}; ///< what was asked for and is there
    std::size_t next = 0;           ///< where in the object the next is likely to be
    bool is_part = false;           ///< one that stands among the parts
    bool unasked = false;           ///< what may be missing: older versions, and hands, leave it out

    template <class F> void alternative(bool asked, F&& fields) { may_miss(unasked || !asked, fields); }
    template <class F> void since(int version, F&& fields) { may_miss(unasked || shared.version < version, fields); }
    template <class F> void may_miss(bool may, F&& fields) {
        const bool before = std::exchange(unasked, may);
        fields();
        unasked = before;
    }
    bool left_out(const std::string& key) { return unasked && !find(key); }

    static constexpr std::size_t nowhere = static_cast<std::size_t>(-1);
    Reader within(const Json& at, std::string_view key, std::size_t place_in_list = nowhere) const {
        return {at, key, shared, whole, this, place_in_list};
    }
    std::string path() const {
        std::string out = outer ? outer->path() : std::string();
        if (!out.empty() && !own.empty()) out += "/";
        out += own;
        return place == nowhere ? out : out + "/" + std::to_string(place);
    }
    std::string below(const std::string& key) const {
        const std::string at = path();
        return at.empty() ? key : at + "/" + key;
    }

    /// Mostly the one after that which was asked for last.
    const Json* find(const std::string& key) {
        const auto& all = in.get_ref<const Json::object_t&>();
        if (next >= all.size() || all.data()[next].first != key) {
            next = 0;
            while (next < all.size() && all.data()[next].first != key) ++next;
        }
        if (next == all.size()) return nullptr;
        if (met.empty()) met.reserve(all.size());
        met.push_back(&all.data()[next].second);
        return &all.data()[next++].second;
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
        const double si = number(key, at, quantity), most = job::most_of(quantity);
        const bool spread = job::is_spread(key);
        if (std::abs(si) > most || (spread && si < 0))
            wrong(key, at,
                  "give " + (spread ? "0" : units::trimmed(-most / units::filed(quantity).factor, 3)) + " to " +
                      units::trimmed(most / units::filed(quantity).factor, 3));
        return si;
    }
    void field(Measured& m, const FieldSpec& spec) {
        const std::string key = units::filed_key(spec.key, spec.quantity);
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_object()) wrong(key, at, "give an object with value, sigma and source");
        Reader inner = within(at, key);
        const Json& value = inner.need("value");
        if (spec.word && value == spec.word)
            m.value = spec.word_value;
        else
            m.value = inner.number("value", value, spec.quantity);
        const Json& sigma = inner.need("sigma"); // "null" is what an earlier Dervish made of an infinite one
        int source = 0;
        inner.choice("source", "", source, {sources[0], sources[1], sources[2]});
        m.source = static_cast<job::Source>(source);
        m.sigma = sigma.is_null() ? units::as_filed(job::usual_sigma(spec, m.source, m.value), spec.quantity)
                                  : inner.number("sigma", sigma, spec.quantity);
        inner.nothing_else();
    }
    void text(const char* key, const char*, std::string& value) {
        if (is_part && !whole && std::string_view(key) == "id") return; // it stands as the part's key
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_string()) wrong(key, at, "give a text");
        value = at.get<std::string>(); // within job::longest_in_file, as all texts that are read
    }
    void flag(const char* key, const char*, bool& value) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_boolean()) wrong(key, at, "give true or false");
        value = at.get<bool>();
    }
    void index(const char* key, const char*, int& value) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_number_integer() || at < job::lowest_index || at > job::highest_index)
            wrong(key, at, "give a full number from -1 to 99");
        value = at.get<int>();
    }
    void length(const char* key, double& value) { plain(key, value, Quantity::Length); }
    void mass(const char* key, double& value) { plain(key, value, Quantity::Mass); }
    void distance(const char* key, double& value) { plain(key, value, Quantity::Distance); }
    void plain(const char* key, double& value, Quantity quantity) {
        const std::string full = units::filed_key(key, quantity);
        if (left_out(full)) return;
        value = plain_number(full, need(full), quantity);
    }
    void number(const char* key, double& value) { plain(key, value, Quantity::Number); }
    template <class T> void numbers(const char* key, std::vector<T>& values) {
        if (left_out(key)) return;
        const Json& at = several(key);
        values.clear();
        for (const Json& one : at) {
            if (std::is_integral_v<T> && !(one.is_number_integer() && one >= 0 && one <= 99))
                wrong(key, one, "give whole numbers from 0 to 99");
            values.push_back(static_cast<T>(plain_number(key, one, Quantity::Number)));
        }
    }
    void must_hold(const char* key, const Json& at) const {
        if (at.size() > job::most_entries(key))
            throw BadInput(below(key), std::to_string(at.size()) + " entries",
                           "give at most " + std::to_string(job::most_entries(key)));
    }
    const Json& several(const char* key) {
        const Json& at = need(key);
        if (!at.is_array()) wrong(key, at, "give a list");
        must_hold(key, at);
        return at;
    }
    void optional_length(const char* key, std::optional<double>& value) { maybe(key, value, Quantity::Length); }
    void optional_angle(const char* key, std::optional<double>& value) { maybe(key, value, Quantity::Angle); }
    void maybe(const char* key, std::optional<double>& value, Quantity quantity) {
        const std::string full = units::filed_key(key, quantity);
        const Json* at = find(full);
        value = at ? std::optional(plain_number(full, *at, quantity)) : std::nullopt;
    }
    template <class E> void choice(const char* key, const char*, E& value, std::initializer_list<const char*> names) {
        if (left_out(key)) return;
        const Json& at = need(key);
        const auto* const word = at.get_ptr<const std::string*>();
        if (const auto found = word ? std::ranges::find(names, *word) : names.end(); found != names.end()) {
            value = static_cast<E>(found - names.begin());
            return;
        }
        std::string accepted = "give one of:";
        for (const char* name : names) accepted += std::string(name == *names.begin() ? " " : ", ") + name;
        wrong(key, at, accepted);
    }
    void texts(const char* key, const char*, std::vector<std::string>& values) {
        if (left_out(key)) return;
        const Json& at = need(key);
        bool good = at.is_array();
        for (const Json& one : at) good = good && one.is_string();
        if (!good) wrong(key, at, "give a list of texts");
        must_hold(key, at);
        values = at.get<std::vector<std::string>>();
    }
    void drafts(const char* key, const char*, std::map<std::string, job::Draft>& values) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_object()) wrong(key, at, "give an object of texts that wait");
        must_hold(key, at);
        for (const auto& [field, one] : at.items()) {
            if (!one.is_object()) wrong(std::string(key) + "/" + field, one, "give an object with text and units");
            const std::string where = std::string(key) + "/" + field;
            Reader inner = within(one, where);
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
        Reader inner = within(at, key);
        job::describe(inner, part);
        inner.nothing_else();
    }
    template <class T> void part(const char* key, const char*, T& part) {
        if (whole) return once(key, part);
        if (left_out(key)) return;
        const Json& id = need(key);
        const auto kind = shared.parts.find(key);
        if (!id.is_string() || kind == shared.parts.end() || !kind->contains(id.get<std::string>()))
            wrong(key, id, std::string("give the id of one of parts/") + key);
        shared_part(key, id, part);
        shared.taken.insert({key, id});
    }
    template <class T> void once(const char* key, T& part) {
        if (left_out(key)) return;
        const Json& at = need(key);
        const auto kind = shared.was.find(key);
        const bool there = at.is_number_unsigned() && kind != shared.was.end() && kind->is_array() && at < kind->size();
        if (!there || !(*kind)[at.get<std::size_t>()].is_object())
            wrong(key, at, std::string("give the place of one of was/") + key + ", from 0");
        const std::string where = std::string("was/") + key;
        Reader inner{(*kind)[at.get<std::size_t>()], where, shared, true, nullptr, at.get<std::size_t>()};
        job::describe(inner, part);
        inner.nothing_else();
    }
    template <class T> void shared_part(const std::string& kind, const std::string& id, T& part) {
        const Json& at = shared.parts.at(kind).at(id);
        const std::string where = "parts/" + kind + "/" + id;
        if (!at.is_object()) throw BadInput(where, "not a part", "give an object");
        Reader inner{at, where, shared, whole};
        inner.is_part = true;
        job::describe(inner, part);
        part.id = id;
        inner.nothing_else();
    }
    void snapshot(const char* key, job::Snapshot& car) {
        const Json& at = need(key);
        if (!at.is_number_unsigned() || at >= shared.snapshots.size() ||
            !shared.snapshots[at.get<std::size_t>()].is_object())
            wrong(key, at, "give the place of one of the snapshots, from 0");
        const std::size_t which = at;
        shared.read.resize(shared.snapshots.size());
        if (!shared.read[which]) {
            Reader inner{shared.snapshots[which], "snapshots", shared, true, nullptr, which};
            job::Snapshot& read = shared.read[which].emplace();
            job::describe(inner, read);
            inner.nothing_else();
        }
        car = *shared.read[which];
    }
    void optional_snapshot(const char* key, std::optional<job::Snapshot>& car) {
        if (find(key)) snapshot(key, car.emplace());
    }
    template <class T> void optional_group(const char* key, const char* label, T& part) {
        if (find(key)) group(key, label, part);
    }
    template <class T> void list(const char* key, const char*, std::vector<T>& parts) {
        if (left_out(key)) return;
        const Json& at = need(key);
        if (!at.is_array()) wrong(key, at, "give a list");
        must_hold(key, at);
        parts.clear();
        for (std::size_t i = 0; i < at.size(); ++i) {
            if (!at[i].is_object()) wrong(std::string(key) + "/" + std::to_string(i), at[i], "give an object");
            Reader inner = within(at[i], key, i);
            job::describe(inner, parts.emplace_back());
            inner.nothing_else();
        }
    }
    void nothing_else() const {
        for (const auto& [key, value] : in.get_ref<const Json::object_t&>())
            if (std::find(met.begin(), met.end(), &value) == met.end())
                throw BadInput(below(key), "not known in version " + std::to_string(job_version()),
                               "take it out or correct its spelling");
    }
};

bool is_kind(const std::string& key) {
    bool out = false;
    job::each_kind([&](const char* kind, auto) { out = out || key == kind; });
    return out;
}

void check_shared(const Json& parts, const Json& snapshots, const Json& was) {
    if (!parts.is_object()) throw BadInput("parts", "missing or no object", "a job has its parts here, by kind and id");
    for (const auto& [kind, all] : parts.items()) {
        if (!is_kind(kind)) throw BadInput("parts/" + kind, "no kind of part", "take it out or correct its spelling");
        if (!all.is_object() || all.size() > job::most_entries(kind))
            throw BadInput("parts/" + kind, "not usable", "give an object of at most 20000 parts by their ids");
    }
    job::each_kind([&](const char* kind, auto) {
        if (!parts.contains(kind)) throw BadInput(std::string("parts/") + kind, "missing", "a job has this key here");
    });
    if (!was.is_object()) throw BadInput("was", "missing or no object", "a job has here what cars as they were share");
    if (!snapshots.is_array() || snapshots.size() > job::most_entries("snapshots"))
        throw BadInput("snapshots", "missing or no list", "give a list of at most 20000 cars as they were");
}
} // namespace

job::Job from_json(Json json) {
    if (!json.is_object() || json.value("format", Json()) != "dervish job")
        throw BadInput("format", "not a Dervish job", "a job begins with \"format\": \"dervish job\"");
    const Json told = json.value("version", Json());
    if (!told.is_number_integer() || told < 1)
        throw BadInput("version", told.dump() + " is no version", "give a whole number from 1");
    if (told > job_version())
        throw BadInput("version", "written by a newer Dervish (version " + told.dump() + ")",
                       "this one reads up to version " + std::to_string(job_version()));
    const int version = told;
    Json current = std::move(json);
    migrate(current, version);
    current.erase("format");
    current.erase("version");
    const auto taken = [&](const char* key) {
        Json out_of = current.contains(key) ? std::move(current[key]) : Json();
        current.erase(key);
        return out_of;
    };
    Json parts = taken("parts");
    const Json snapshots = taken("snapshots"), was = taken("was");
    job::each_kind([&](const char* kind, auto) { // an earlier version did not know every kind
        if (version < job_version() && parts.is_object() && !parts.contains(kind)) parts[kind] = Json::object();
    });
    check_shared(parts, snapshots, was);
    job::Job out;
    Sources shared{parts, snapshots, was, version};
    Reader reader{current, "", shared};
    job::describe(reader, out);
    reader.nothing_else();
    if (version < job_version()) job::name_parts(out); // of a kind that it did not know
    for (std::size_t i = 0; i < out.tests.size(); ++i)
        told_within("tests/" + std::to_string(i), [&] { proof::check(out.tests.read()[i]); });
    book::check(out);
    // What no setup took is spare.
    job::each_kind([&](const char* kind, auto spares) {
        for (const auto& [id, part] : parts.at(kind).items())
            if (!shared.taken.contains({kind, id})) reader.shared_part(kind, id, (out.spares.*spares).emplace_back());
    });
    return out;
}

} // namespace dervish::store
