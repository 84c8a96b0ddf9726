#include "store/migrations.h"

/// Version 9 had the ride height beside the links that it was planned for, and no figure followed it.
namespace dervish::store {
namespace {
const Json& no_lift() {
    static const Json none{{"value", "none"}, {"sigma", 0.0}, {"source", "assumed"}};
    return none;
}

/// The lift of an axle's plan, taken out of it; null where none was planned.
Json taken_lift(Json& axle, Json& by) {
    if (axle.is_object() && axle.contains("stand") && axle["stand"].is_object()) {
        axle["stand"]["lift_by"] = "springs";
        axle["stand"]["lift_mm"] = no_lift();
    }
    if (!axle.is_object() || !axle.contains("plan") || !axle["plan"].is_object()) return {};
    Json& plan = axle["plan"];
    by = plan.value("by", Json());
    Json lift = plan.value("lift_mm", Json());
    plan.erase("by");
    plan.erase("lift_mm");
    return lift == no_lift() ? Json() : lift;
}
} // namespace

void from_version_9(Json& job) {
    std::string lost;
    const auto axle = [&](Json& one, bool planned, const std::string& of) {
        Json by;
        const Json lift = taken_lift(one, by);
        if (lift.is_null()) return;
        if (planned && one.contains("stand") && one["stand"].is_object()) {
            one["stand"]["lift_mm"] = lift;
            if (!by.is_null()) one["stand"]["lift_by"] = by;
            return;
        }
        const Json value = lift.is_object() ? lift.value("value", Json()) : lift;
        lost += (lost.empty() ? "" : "; ") + of + ": " + value.dump() + " mm" +
                (by.is_string() ? " by " + by.get<std::string>() : "");
    };
    const auto setup = [&](Json& one, bool planned, const std::string& of) {
        if (!one.is_object()) return;
        for (const char* end : {"front", "rear"})
            if (one.contains(end)) axle(one[end], planned, of + ", " + end);
    };
    const auto each = [&](const char* list, auto&& f) {
        if (job.contains(list) && job[list].is_array())
            for (Json& one : job[list]) f(one);
    };
    if (job.contains("trial")) setup(job["trial"], true, "Trial");
    each("kept", [&](Json& one) { setup(one, true, "a kept setup"); });
    // These are records of a car where it was measured: the lift was a plan beside them.
    if (job.contains("fitted")) setup(job["fitted"], false, "Fitted");
    if (job.contains("standard")) setup(job["standard"], false, "the standard");
    each("snapshots", [&](Json& one) {
        if (one.is_object() && one.contains("setup")) setup(one["setup"], false, "a setup of the book or of a test");
    });
    each("shelf", [&](Json& one) { axle(one, false, "the shelf"); });
    if (job.contains("drafts") && job["drafts"].is_object()) {
        Json drafts = Json::object();
        for (const auto& [path, draft] : job["drafts"].items()) {
            const auto at = path.find("/plan/lift");
            drafts[at == std::string::npos ? path : path.substr(0, at) + "/stand/lift"] = draft;
        }
        job["drafts"] = std::move(drafts);
    }
    if (!lost.empty() && job.contains("book") && job["book"].is_array())
        job["book"].push_back({{"date", ""},
                               {"kind", "noted"},
                               {"reason", "from an older file, ride heights planned for links: " + lost},
                               {"odometer_km", 0.0},
                               {"parts", Json::array()}});
}

} // namespace dervish::store
