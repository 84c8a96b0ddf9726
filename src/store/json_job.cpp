#include "store/json_job.h"

#include "core/job/describe.h"

#include <cmath>
#include <functional>
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

/// A value of a field that the person never gave.
Json unasked(const Json& value) { return {{"value", value}, {"sigma", 0.0}, {"source", "assumed"}}; }

/// Does `widen` to every bar with its mounts and links in a job.
void each_assembly(Json& job, const std::function<void(Json&)>& widen) {
    const auto in = [&](Json& at) {
        if (at.is_object()) widen(at);
    };
    const auto in_setup = [&](Json& setup) {
        if (!setup.is_object()) return;
        for (const char* axle : {"front", "rear"})
            if (setup.contains(axle)) in(setup[axle]);
    };
    const auto in_list = [&](const char* list, auto&& f) {
        if (job.contains(list) && job[list].is_array())
            for (Json& one : job[list]) f(one);
    };
    for (const char* setup : {"fitted", "trial", "standard"})
        if (job.contains(setup)) in_setup(job[setup]);
    in_list("kept", in_setup);
    in_list("shelf", in);
    for (const auto& [list, inner] : {std::pair{"tests", "as_fitted"}, {"book", "setup"}})
        in_list(list, [&, at = inner](Json& one) {
            if (one.is_object() && one.contains(at)) in_setup(one[at]);
        });
}

/// Version 1 knew only bars by their sizes, held by mounts and upright links.
void from_version_1(Json& job) {
    each_assembly(job, [](Json& assembly) {
        assembly["held"] = "links";
        assembly["rig"] = {
            {"both_arms", false}, {"blocks", false}, {"dial_sigma_mm", 0.02}, {"readings", Json::array()}};
        if (Json& bar = assembly["bar"]; bar.is_object()) {
            bar["form"] = "sizes";
            bar["arms"] = "of_the_bar";
        }
        if (Json& mounts = assembly["mounts"]; mounts.is_object()) {
            mounts["bore_friction"] = unasked("none");
            mounts["out_of_line_mm"] = unasked("none");
        }
        if (Json& links = assembly["links"]; links.is_object()) {
            links["end"] = "below";
            links["forward_mm"] = unasked("upright");
            links["outward_mm"] = unasked("upright");
            links["play_mm"] = unasked("none");
            links["capacity_N"] = unasked("unknown");
        }
    });
    job["stock"] = Json::array();
}

/// Version 2 did not say what bushes and joints are, nor wear, nor a standard.
void from_version_2(Json& job) {
    each_assembly(job, [](Json& assembly) {
        if (assembly.contains("mounts") && assembly["mounts"].is_object()) {
            Json& mounts = assembly["mounts"];
            mounts["kind"] = "unsaid";
            mounts["rate_left"] = unasked("sound");
            mounts["capacity_N"] = unasked("unknown");
        }
        if (assembly.contains("links") && assembly["links"].is_object()) assembly["links"]["joints"] = "unsaid";
    });
    job["standard"] = to_json(job::blank()).at("standard");
}

/// Version 3 knew pick-ups only as they followed from the bar, and nothing of the links' limits or set-up.
void from_version_3(Json& job) {
    each_assembly(job, [](Json& assembly) {
        assembly["checks"] = {{"falls_free", false},
                              {"joints_free", false},
                              {"per_wheel", 1.0},
                              {"lift_tolerance_mm", 2.0},
                              {"rounds", Json::array()}};
        assembly["plan"] = {{"by", "springs"},
                            {"lift_mm", unasked("none")},
                            {"off_square_deg", unasked(55.0)},
                            {"preload_N", unasked("none")}};
        if (assembly.contains("bar") && assembly["bar"].is_object()) assembly["bar"]["bent_mm"] = unasked("straight");
        if (assembly.contains("mounts") && assembly["mounts"].is_object()) {
            assembly["mounts"]["on"] = "body";
            assembly["mounts"]["height_mm"] = unasked("unknown");
        }
        if (assembly.contains("links") && assembly["links"].is_object()) {
            Json& links = assembly["links"];
            links["pickups"] = "under_eyes";
            links["right_longer_mm"] = unasked("equal");
            links["adjust"] = "no";
            links["eye_stud"] = links["pickup_stud"] = "sideways";
            links["tilt_deg"] = unasked("unknown");
            links["thickness_mm"] = unasked("thin");
        }
    });
    job["heard"] = Json::array();
    if (!job.contains("vehicle") || !job["vehicle"].is_object()) return;
    for (const char* axle : {"front", "rear"})
        if (Json& vehicle = job["vehicle"]; vehicle.contains(axle) && vehicle[axle].is_object())
            vehicle[axle]["linkage"] = {{"path", "straight"},
                                        {"steers", false},
                                        {"lock_deg", unasked("none")},
                                        {"kingpin_behind_mm", unasked(0.0)},
                                        {"kingpin_out_mm", unasked(0.0)},
                                        {"obstacles", Json::array()}};
    // What was never asked starts as the guess of a new job.
    const Json blank = to_json(job::blank()).at("vehicle");
    job["vehicle"]["handling"] = blank.at("handling");
    for (const char* axle : {"front", "rear"})
        if (Json& vehicle = job["vehicle"]; vehicle.contains(axle) && vehicle[axle].is_object())
            vehicle[axle]["grip"] = blank.at(axle).at("grip");
}

/// Version 4 took both tyres and both sides of an axle as alike, and knew no end of travel but stops and dampers.
void from_version_4(Json& job) {
    const Json blank = to_json(job::blank()).at("vehicle");
    if (!job.contains("vehicle") || !job["vehicle"].is_object()) return;
    for (const char* axle : {"front", "rear"})
        if (Json& vehicle = job["vehicle"]; vehicle.contains(axle) && vehicle[axle].is_object()) {
            vehicle[axle]["travel"] = blank.at(axle).at("travel");
            if (vehicle[axle].contains("grip") && vehicle[axle]["grip"].is_object())
                for (const char* key : {"left_grip", "left_pressure"})
                    vehicle[axle]["grip"][key] = blank.at(axle).at("grip").at(key);
        }
}

/// Version 5 did not say in which units a text that waits was typed.
void from_version_5(Json& job) {
    if (!job.contains("drafts") || !job["drafts"].is_object()) return;
    for (Json& text : job["drafts"]) text = {{"text", text}, {"units", unit_systems[0]}};
}

/// Version 6 had tyres that grew with what the car carried, hardly minded camber or pressure, and a base of the bar on
/// a solid axle beside the places of its links.
void from_version_6(Json& job) {
    const Json blank = to_json(job::blank()).at("vehicle").at("front").at("grip");
    if (!job.contains("vehicle") || !job["vehicle"].is_object()) return;
    for (const char* end : {"front", "rear"}) {
        if (!job["vehicle"].contains(end) || !job["vehicle"][end].is_object()) continue;
        Json& axle = job["vehicle"][end];
        if (axle.contains("bar_base_mm")) {
            const Json& base = axle["bar_base_mm"];
            Json note{{"date", ""},
                      {"kind", "from an older file"},
                      {"reason", std::string(end) + " bar base " +
                                     (base.is_object() ? base.value("value", Json()) : base).dump() +
                                     " mm: it is where the links are now, see their pick-ups"},
                      {"odometer_km", 0.0}};
            if (job.contains("fitted")) note["setup"] = job["fitted"];
            if (job.contains("book") && job["book"].is_array()) job["book"].push_back(std::move(note));
            axle.erase("bar_base_mm");
        }
        if (!axle.contains("grip") || !axle["grip"].is_object()) continue;
        Json& grip = axle["grip"];
        for (const char* key : {"best_camber_deg", "best_pressure", "pressure_loss"}) grip[key] = blank.at(key);
        if (grip.contains("nominal_load_N") && grip["nominal_load_N"].is_object() &&
            grip["nominal_load_N"].contains("value") && grip["nominal_load_N"]["value"] == "weighed")
            grip["nominal_load_N"]["value"] = "mean";
        // The guess of before, never touched, follows to the better one.
        if (grip.contains("camber_loss") &&
            grip["camber_loss"] == Json{{"value", 2.0}, {"sigma", 1.0}, {"source", "assumed"}})
            grip["camber_loss"] = blank.at("camber_loss");
    }
    if (!job["vehicle"].contains("handling") || !job["vehicle"]["handling"].is_object()) return;
    Json& handling = job["vehicle"]["handling"];
    const Json usual = to_json(job::blank()).at("vehicle").at("handling");
    for (const auto& [key, value] : usual.items())
        if (!handling.contains(key)) handling[key] = value;
    if (handling.contains("front_braking_percent") &&
        handling["front_braking_percent"] == Json{{"value", 65.0}, {"sigma", 5.0}, {"source", "assumed"}})
        handling["front_braking_percent"] = usual.at("front_braking_percent");
}

/// Version 7 had only what the choices ask for.
void from_version_7(Json&) {}

/// migrations[v] turns a job of version v + 1 into one of version v + 2. A new version adds one here and in
/// docs/job-format.md.
const std::vector<std::function<void(Json&)>> migrations{from_version_1, from_version_2, from_version_3, from_version_4,
                                                         from_version_5, from_version_6, from_version_7};
static_assert(job_version == 8, "add the migration from the version before");
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
    for (auto v = version.get<std::size_t>(); v < job_version; ++v) migrations[v - 1](current);
    current.erase("format");
    current.erase("version");
    job::Job out;
    Reader reader{current, ""};
    job::describe(reader, out);
    reader.nothing_else();
    return out;
}

} // namespace dervish::store
