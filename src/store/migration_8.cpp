#include "store/migrations.h"

#include <algorithm>
#include <map>

/// Version 8 had springs, dampers, tyres and what is aboard in the car, bars once in each setup, readings in the bar
/// they were of, and tests that took the car as it was when they were looked at.
namespace dervish::store {
namespace {

/// Takes a key out; null where there is none.
Json taken(Json& from, const char* key) {
    if (!from.is_object() || !from.contains(key)) return nullptr;
    Json out = std::move(from[key]);
    from.erase(key);
    return out;
}

void put(Json& to, const char* key, Json value) {
    if (!value.is_null()) to[key] = std::move(value);
}

void move(Json& from, const char* key, Json& to, const char* name = nullptr) {
    put(to, name ? name : key, taken(from, key));
}

Json plain(const Json& value) { return {{"value", value}, {"sigma", 0.0}, {"source", "assumed"}}; }

/// What every part has, `part`'s own after it.
Json named(Json part) {
    Json out = {{"name", ""}, {"origin", ""}, {"notes", ""}, {"price", 0.0}, {"mass_kg", 0.0}};
    if (part.is_object()) out.update(part);
    return out;
}

/// What an axle had on it and how it stood, out of the car's axle.
struct OnAxle {
    Json springs = named({}), dampers = named({}), tyres = named({}), stand = Json::object();
};

OnAxle taken_off(Json& axle) {
    OnAxle out;
    Json travel = taken(axle, "travel"), grip = taken(axle, "grip"), wheels = Json::object();
    move(axle, "spring_rate_N_per_mm", out.springs, "rate_N_per_mm");
    move(travel, "captive", out.springs);
    move(travel, "springs", out.springs, "points");
    move(axle, "droop_gap_mm", out.dampers);
    move(axle, "droop_k_N_per_mm", out.dampers);
    for (const char* key : {"bump_damping_N_s_per_m", "rebound_damping_N_s_per_m"}) move(grip, key, out.dampers);
    for (const char* key : {"bump_clicks", "rebound_clicks"}) out.dampers[key] = plain("none");
    move(axle, "tyre_rate_N_per_mm", out.tyres, "rate_N_per_mm");
    for (const char* key : {"pressure", "left_grip", "left_pressure", "camber_deg", "differential"})
        move(grip, key, out.stand);
    out.stand["toe_deg"] = plain(0.0);
    for (const char* key : {"bump_click", "rebound_click"}) out.stand[key] = plain("open");
    for (const char* key : {"camber_kept", "roll_steer", "side_steer_deg_per_kN", "trail_steer_deg_per_kN",
                            "roll_centre_moves", "camber_moves_deg"})
        move(grip, key, wheels);
    if (grip.is_object()) out.tyres.update(grip); // what is left is the tyre's
    for (const char* key : {"diameter_mm", "rim_width_mm"}) out.tyres[key] = plain("unknown");
    out.tyres["rim_offset_mm"] = plain(0.0);
    put(axle, "travel", std::move(travel));
    axle["wheels"] = std::move(wheels);
    return out;
}

/// The parts of the new file: equal ones of one axle once, front and rear ones apart.
struct Parts {
    Json all = {{"bar", Json::object()},     {"mounts", Json::object()},  {"links", Json::object()},
                {"springs", Json::object()}, {"dampers", Json::object()}, {"tyres", Json::object()},
                {"brace", Json::object()}};
    std::map<std::string, std::string> axle_of; ///< by id
    /// `axle`: "front", "rear"; empty: of either.
    std::string id(const char* kind, const Json& part, const std::string& axle) {
        Json& of = all[kind];
        for (const auto& [id, known] : of.items())
            if (known == part && (axle.empty() || axle_of[id] == axle)) return id;
        const std::string id = std::string(kind) + "-" + std::to_string(of.size() + 1);
        of[id] = part;
        axle_of[id] = axle;
        return id;
    }
};

struct Mover {
    Json& job;
    Json vehicle;
    OnAxle front, rear;
    Json bias_ratio, aboard = Json::array();
    Parts parts{};
    Json rig_tests = Json::array(), setup_tests = Json::array(), snapshots = Json::array();

    /// An assembly with its parts named; what was read of them becomes tests.
    void assembly(Json& a, const std::string& axle = {}) {
        if (!a.is_object()) return;
        Json rig = taken(a, "rig"), checks = taken(a, "checks");
        std::string id[3];
        std::size_t i = 0;
        for (const char* kind : {"bar", "mounts", "links"}) {
            Json part = taken(a, kind);
            if (part.is_null()) { // a clamped bar may leave them out
            } else if (part.is_object()) {
                id[i] = parts.id(kind, named(std::move(part)), axle);
                a[kind] = id[i];
            } else {
                a[kind] = std::move(part);
            }
            ++i;
        }
        const auto add = [](Json& to, Json test) {
            if (std::find(to.begin(), to.end(), test) == to.end()) to.push_back(std::move(test));
        };
        if (rig.is_object() && rig.contains("readings") && !rig["readings"].empty())
            add(rig_tests, {{"bar", id[0]}, {"mounts", id[1]}, {"check", rig}});
        if (checks.is_object() && checks != blank_8().at("standard").at("front").at("checks"))
            add(setup_tests, {{"bar", id[0]}, {"links", id[2]}, {"checks", checks}});
    }
    void on_axle(Json& a, const OnAxle& on, const std::string& axle) {
        if (!a.is_object()) return;
        a["springs"] = parts.id("springs", on.springs, axle);
        a["dampers"] = parts.id("dampers", on.dampers, axle);
        a["tyres"] = parts.id("tyres", on.tyres, axle);
        a["stand"] = on.stand;
    }
    void setup(Json& s, const Json& loads) {
        if (!s.is_object()) return;
        for (const auto& [key, on] : {std::pair{"front", &front}, {"rear", &rear}})
            if (s.contains(key)) {
                assembly(s[key], key);
                on_axle(s[key], *on, key);
            }
        Json brace = named({});
        brace["torsion_N_m_per_deg"] = plain("none");
        s["brace"] = parts.id("brace", brace, {});
        put(s, "bias_ratio", bias_ratio);
        s["aboard"] = loads;
        s["stability_aid"] = false;
    }
    /// A setup as it was with the car, its parts where they stand.
    std::size_t snapshot(Json s, const Json& loads) {
        setup(s, loads);
        const auto whole = [&](Json& at, const char* kind) {
            if (!at.is_object() || !at.contains(kind) || !at[kind].is_string()) return;
            if (!parts.all[kind].contains(at[kind].get<std::string>())) return; // no part: refused where it stands
            Json part = {{"id", at[kind]}};
            part.update(parts.all[kind][at[kind].get<std::string>()]);
            at[kind] = std::move(part);
        };
        for (const char* end : {"front", "rear"})
            if (s.is_object() && s.contains(end))
                for (const char* kind : {"bar", "mounts", "links", "springs", "dampers", "tyres"}) whole(s[end], kind);
        whole(s, "brace");
        Json car = {{"vehicle", vehicle}, {"setup", std::move(s)}};
        const auto at = std::find(snapshots.begin(), snapshots.end(), car);
        const auto place = static_cast<std::size_t>(at - snapshots.begin());
        if (at == snapshots.end()) snapshots.push_back(std::move(car));
        return place;
    }
};

/// The ids of loads, by their names, as a test of version 8 had them.
Json ids_of(const Json& names, const Json& vehicle) {
    Json out = Json::array();
    if (!names.is_array() || !vehicle.contains("loads") || !vehicle["loads"].is_array()) return out;
    for (const Json& load : vehicle["loads"])
        if (load.is_object() && std::find(names.begin(), names.end(), load.value("name", Json())) != names.end())
            out.push_back(load.value("id", ""));
    return out;
}

/// Where a draft's field went.
std::string moved(const std::string& path) {
    static const std::map<std::string, std::string> to = {{"spring_rate", "springs/rate"},
                                                          {"droop_gap", "dampers/droop_gap"},
                                                          {"droop_k", "dampers/droop_k"},
                                                          {"tyre_rate", "tyres/rate"},
                                                          {"grip/bump_damping", "dampers/bump_damping"},
                                                          {"grip/rebound_damping", "dampers/rebound_damping"},
                                                          {"grip/pressure", "stand/pressure"},
                                                          {"grip/left_grip", "stand/left_grip"},
                                                          {"grip/left_pressure", "stand/left_pressure"},
                                                          {"grip/camber", "stand/camber"}};
    if (path == "vehicle/handling/bias_ratio") return "fitted/bias_ratio";
    for (const std::string end : {"front/", "rear/"}) {
        if (!path.starts_with("vehicle/" + end)) continue;
        const std::string key = path.substr(8 + end.size());
        if (const auto at = to.find(key); at != to.end()) return "fitted/" + end + at->second;
        if (key.starts_with("travel/springs/")) return "fitted/" + end + "springs/points/" + key.substr(15);
        for (const char* wheel :
             {"camber_kept", "roll_steer", "side_steer", "trail_steer", "roll_centre_moves", "camber_moves"})
            if (key == std::string("grip/") + wheel) return "vehicle/" + end + "wheels/" + wheel;
        if (key.starts_with("grip/")) return "fitted/" + end + "tyres/" + key.substr(5);
    }
    return path;
}
} // namespace

void from_version_8(Json& job) {
    Json vehicle = job.contains("vehicle") ? job["vehicle"] : Json::object();
    Mover to{job, {}, {}, {}, {}};
    if (vehicle.is_object()) {
        if (vehicle.contains("front") && vehicle["front"].is_object()) to.front = taken_off(vehicle["front"]);
        if (vehicle.contains("rear") && vehicle["rear"].is_object()) to.rear = taken_off(vehicle["rear"]);
        if (vehicle.contains("handling")) to.bias_ratio = taken(vehicle["handling"], "bias_ratio");
        if (vehicle.contains("loads") && vehicle["loads"].is_array())
            for (Json& load : vehicle["loads"]) {
                if (!load.is_object()) continue;
                load["id"] = "load-" + std::to_string(&load - &vehicle["loads"][0] + 1);
                const Json aboard = taken(load, "aboard");
                if (aboard.is_boolean() && aboard.get<bool>()) to.aboard.push_back(load["id"]);
            }
        job["vehicle"] = vehicle;
    }
    to.vehicle = vehicle;
    for (const char* key : {"fitted", "trial", "standard"})
        if (job.contains(key)) to.setup(job[key], to.aboard);
    const auto each = [&](const char* list, auto&& f) {
        if (job.contains(list) && job[list].is_array())
            for (Json& one : job[list])
                if (one.is_object()) f(one);
    };
    each("kept", [&](Json& setup) { to.setup(setup, to.aboard); });
    each("shelf", [&](Json& assembly) { to.assembly(assembly); });
    const Json standing = to.parts.all; // what only a test or the book had is no part at hand
    each("tests", [&](Json& test) {
        Json as_fitted = taken(test, "as_fitted");
        const Json aboard = ids_of(taken(test, "aboard"), vehicle);
        if (as_fitted.is_object()) test["car"] = to.snapshot(std::move(as_fitted), aboard);
    });
    each("book", [&](Json& entry) {
        const Json kind = entry.value("kind", Json());
        const auto known = [&](const char* word) { return kind == word; };
        if (known("found so"))
            entry["kind"] = "found";
        else if (!known("fitted")) {
            if (kind.is_string() && entry.contains("reason") && entry["reason"].is_string())
                entry["reason"] = kind.get<std::string>() + ": " + entry["reason"].get<std::string>();
            entry["kind"] = "noted";
        }
        entry["parts"] = Json::array();
        Json setup = taken(entry, "setup");
        if (setup.is_object()) entry["car"] = to.snapshot(std::move(setup), to.aboard);
    });
    if (job.contains("drafts") && job["drafts"].is_object()) {
        Json drafts = Json::object();
        for (const auto& [path, draft] : job["drafts"].items()) drafts[moved(path)] = draft;
        job["drafts"] = std::move(drafts);
    }
    job["rig_tests"] = std::move(to.rig_tests);
    job["setup_tests"] = std::move(to.setup_tests);
    job["parts"] = standing;
    job["snapshots"] = std::move(to.snapshots);
}

} // namespace dervish::store
