#include "store/migrations.h"

#include <map>

/// Version 14 had every car as it was whole, with its vehicle and its parts.
namespace dervish::store {

void from_version_14(Json& job) {
    Json was = Json::object();
    std::map<std::string, std::size_t> places;
    const auto once = [&](Json& at, const std::string& kind) {
        if (!at.is_object() || !at.contains(kind)) return; // for the reader to refuse
        Json& list = was[kind];
        const auto [place, is_new] =
            places.try_emplace(kind + at[kind].dump(-1, ' ', false, Json::error_handler_t::replace), list.size());
        if (is_new) list.push_back(std::move(at[kind]));
        at[kind] = place->second;
    };
    if (job.contains("snapshots") && job["snapshots"].is_array())
        for (Json& car : job["snapshots"]) {
            once(car, "vehicle");
            if (!car.is_object() || !car.contains("setup")) continue;
            Json& setup = car["setup"];
            once(setup, "brace");
            for (const char* axle : {"front", "rear"})
                for (const char* kind : {"bar", "mounts", "links", "springs", "dampers", "tyres"})
                    if (setup.is_object() && setup.contains(axle)) once(setup[axle], kind);
        }
    job["was"] = std::move(was);
}

} // namespace dervish::store
