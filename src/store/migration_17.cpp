#include "store/migrations.h"

#include <array>

/// Version 17 had the pick-ups' place in the links, as if a link carried it to another car.
namespace dervish::store {
namespace {
constexpr std::array of_the_pickups{"end", "forward_mm", "outward_mm", "at"};

/// The words for a path from version 18 on; other words as they are.
std::string path_now(std::string path) {
    const auto at = path.find("/links/");
    if (at == path.npos || !(path.starts_with("trial/") || path.starts_with("fitted/"))) return path;
    const std::string own = path.substr(at + 7);
    if (own == "pickups") return path.replace(at, path.npos, "/pickups/rule");
    for (const char* part : {"end", "forward", "outward", "at"})
        if (own == part || own.starts_with(std::string(part) + "/")) return path.replace(at, 7, "/pickups/");
    return path;
}

void rename_paths(Json& in) {
    if (in.is_string()) {
        in = path_now(in.get<std::string>());
    } else if (in.is_array()) {
        for (Json& one : in) rename_paths(one);
    } else if (in.is_object()) {
        Json out = Json::object();
        for (auto& [key, value] : in.items()) {
            rename_paths(value);
            out[path_now(key)] = std::move(value);
        }
        in = std::move(out);
    }
}

/// The links' own, wherever they stand, with their places on the axle taken out.
void take_places_out(Json& in) {
    if (in.is_object() && in.contains("pickups") && in["pickups"].is_string()) {
        in.erase("pickups");
        for (const char* key : of_the_pickups) in.erase(key);
    }
    if (in.is_structured())
        for (Json& one : in) take_places_out(one);
}

/// Links that stand where they are, by their id among the parts, or by their number among what was.
const Json* links_of(const Json& job, const Json& links) {
    const auto within = [&](const char* kind) -> const Json* {
        return job.contains(kind) && job[kind].is_object() && job[kind].contains("links") ? &job[kind]["links"]
                                                                                          : nullptr;
    };
    if (links.is_object()) return &links;
    const Json *parts = within("parts"), *was = within("was");
    if (links.is_string() && parts && parts->is_object() && parts->contains(links.get<std::string>()))
        return &(*parts)[links.get<std::string>()];
    if (links.is_number_unsigned() && was && was->is_array() && links.get<std::size_t>() < was->size())
        return &(*was)[links.get<std::size_t>()];
    return nullptr;
}
} // namespace

void from_version_17(Json& job) {
    const auto in = [&](Json& assembly) {
        if (!assembly.is_object() || !assembly.contains("links")) return;
        const Json* links = links_of(job, assembly["links"]);
        if (!links || !links->is_object()) return; // for the reader to refuse
        Json pickups = Json::object();
        const bool placed = links->contains("pickups") && (*links)["pickups"] == "measured";
        pickups["rule"] = placed ? "placed" : "under_eyes";
        for (const char* key : of_the_pickups)
            if (links->contains(key)) pickups[key] = (*links)[key];
        assembly["pickups"] = std::move(pickups);
    };
    const auto in_setup = [&](Json& setup) {
        if (!setup.is_object()) return;
        for (const char* axle : {"front", "rear"})
            if (setup.contains(axle)) in(setup[axle]);
    };
    const auto each = [&](const char* list, auto&& f) {
        if (job.contains(list) && job[list].is_array())
            for (Json& one : job[list]) f(one);
    };
    for (const char* setup : {"fitted", "trial", "standard"})
        if (job.contains(setup)) in_setup(job[setup]);
    each("kept", in_setup);
    each("shelf", in);
    each("snapshots", [&](Json& car) {
        if (car.is_object() && car.contains("setup")) in_setup(car["setup"]);
    });
    // A hang check tells where a link goes over centre, too: of that an older prediction told nothing.
    each("tests", [&](Json& test) {
        if (!test.is_object() || test.value("protocol", Json()) != "hang_check" || !test.contains("states")) return;
        for (Json& state : test["states"]) {
            if (!state.is_object() || !state.contains("prediction") || !state["prediction"].is_object()) continue;
            Json& told = state["prediction"];
            const auto add = [](Json& of, const char* list, const Json& more) {
                if (!of.is_object() || !of.contains(list) || !of[list].is_array() || of[list].size() != 2) return;
                for (int i = 0; i < 2; ++i) of[list].push_back(more);
            };
            add(told, "value_si", 0.0);
            add(told, "sigma_si", 0.0);
            add(told, "tells", 2);
            if (told.contains("shares") && told["shares"].is_array())
                for (Json& share : told["shares"]) add(share, "change", 0.0);
        }
    });
    take_places_out(job);
    rename_paths(job);
}

} // namespace dervish::store
