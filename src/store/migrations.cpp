#include "store/migrations.h"

#include <functional>

namespace dervish::store {
namespace {
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
    job["standard"] = blank_8().at("standard");
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
    job["vehicle"]["handling"] = blank_8().at("handling");
    for (const char* axle : {"front", "rear"})
        if (Json& vehicle = job["vehicle"]; vehicle.contains(axle) && vehicle[axle].is_object())
            vehicle[axle]["grip"] = blank_8().at("grip");
}

/// Version 4 took both tyres and both sides of an axle as alike, and knew no end of travel but stops and dampers.
void from_version_4(Json& job) {
    if (!job.contains("vehicle") || !job["vehicle"].is_object()) return;
    for (const char* axle : {"front", "rear"})
        if (Json& vehicle = job["vehicle"]; vehicle.contains(axle) && vehicle[axle].is_object()) {
            vehicle[axle]["travel"] = blank_8().at("travel");
            if (vehicle[axle].contains("grip") && vehicle[axle]["grip"].is_object())
                for (const char* key : {"left_grip", "left_pressure"})
                    vehicle[axle]["grip"][key] = blank_8().at("grip").at(key);
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
    const Json& blank = blank_8().at("grip");
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
    const Json& usual = blank_8().at("handling");
    for (const auto& [key, value] : usual.items())
        if (!handling.contains(key)) handling[key] = value;
    if (handling.contains("front_braking_percent") &&
        handling["front_braking_percent"] == Json{{"value", 65.0}, {"sigma", 5.0}, {"source", "assumed"}})
        handling["front_braking_percent"] = usual.at("front_braking_percent");
}

/// Version 7 had only what the choices ask for.
void from_version_7(Json&) {}

/// What stands within since() in the description is left out of an older file by itself.
void only_more(Json&) {}

/// migrations[v] turns a job of version v + 1 into one of version v + 2.
const std::vector<std::function<void(Json&)>> migrations{
    from_version_1,  from_version_2,  from_version_3, from_version_4, from_version_5, from_version_6,
    from_version_7,  from_version_8,  from_version_9, only_more,      only_more,      only_more,
    from_version_13, from_version_14, only_more,      only_more,      from_version_17};
} // namespace

int last_migrated() { return static_cast<int>(migrations.size()) + 1; }

void migrate(Json& job, int version) {
    for (auto v = static_cast<std::size_t>(version); v <= migrations.size(); ++v) migrations[v - 1](job);
}

} // namespace dervish::store
