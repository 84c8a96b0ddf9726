#include "core/book/upkeep.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace dervish::book {
namespace {
constexpr double km = 1000, soon = 0.1;

/// A usual interval of a kind of part; ends it is asked for at.
struct Usual {
    const char *what, *of;
    double every, days;
    Wears after;
    bool (*asked)(const AxleSetup&);
};
const Usual usual[] = {
    {"bores: clean, grease inside only", "mounts", 10000 * km, 365, Wears::Water,
     [](const AxleSetup& a) { return a.fitted; }},
    {"clamps and brackets: cracks", "mounts", 10000 * km, 365, Wears::Rocks,
     [](const AxleSetup& a) { return a.fitted; }},
    {"lock nuts by their paint marks", "links", 5000 * km, 180, Wears::Track,
     [](const AxleSetup& a) { return a.fitted && a.held == Held::Links && a.links.adjust != Adjust::No; }},
    {"joints: grease sparingly", "links", 10000 * km, 365, Wears::Water,
     [](const AxleSetup& a) { return a.fitted && a.held == Held::Links; }},
    {"play and noises", "links", 5000 * km, 180, Wears::Rocks,
     [](const AxleSetup& a) { return a.fitted && a.held == Held::Links; }},
};

int number_of(const std::string& id) {
    int out = 0;
    if (id.starts_with("upkeep-")) std::from_chars(id.data() + 7, id.data() + id.size(), out);
    return out;
}
} // namespace

std::vector<Due> due(const Job& job, const Now& now) {
    const std::vector<Moment> all = moments(job);
    std::vector<Due> out;
    for (std::size_t i = 0; i < job.upkeep.size(); ++i) {
        const Upkeep& u = job.upkeep[i];
        Due d;
        d.upkeep = i;
        double day = day_of(u.since).value_or(static_cast<int>(now.day)), metres = u.since_odometer;
        std::size_t after = 0; // in `all`, what lies behind it
        for (std::size_t m = 0; m < all.size(); ++m) {
            if (all[m].entry < 0) continue;
            const Entry& e = job.book[static_cast<std::size_t>(all[m].entry)];
            if (e.kind != EntryKind::Serviced || e.more.task != u.id || !e.more.struck.empty()) continue;
            day = all[m].day;
            metres = all[m].odometer;
            d.last = all[m].entry;
            after = m + 1;
        }
        const auto left = [&](double of, double since, double at) {
            const double rest = of - (at - since);
            if (rest <= 0)
                d.when = When::Due;
            else if (rest <= soon * of)
                d.when = std::max(d.when, When::Soon);
            return rest;
        };
        if (u.every > 0) d.metres = left(u.every, metres, now.odometer);
        if (u.days > 0) d.days = left(u.days, day, now.day);
        for (std::size_t m = after; m < all.size() && u.after != Wears::Road; ++m) {
            if (all[m].entry < 0) continue;
            const Entry& e = job.book[static_cast<std::size_t>(all[m].entry)];
            const bool used = e.kind == EntryKind::Driven && e.more.wears == u.after && e.more.struck.empty();
            d.by_use = d.by_use || (used && all[m].day >= day);
        }
        if (d.by_use) d.when = When::Due;
        out.push_back(d);
    }
    return out;
}

int count_due(const std::vector<Due>& all) { return static_cast<int>(std::ranges::count(all, When::Due, &Due::when)); }

std::vector<Upkeep> usual_upkeep(const Job& job, const Now& now) {
    std::vector<Upkeep> out;
    int next = number_of(fresh_upkeep_id(job));
    for (const End end : {End::Front, End::Rear})
        for (const Usual& u : usual)
            if (u.asked(job.fitted[end]))
                out.push_back({"upkeep-" + std::to_string(next++), u.what,
                               std::string(end == End::Front ? "front/" : "rear/") + u.of, u.every, u.days, u.after,
                               date_of(static_cast<int>(std::floor(now.day))), now.odometer});
    return out;
}

std::string fresh_upkeep_id(const Job& job) {
    int last = 0;
    for (const Upkeep& u : job.upkeep) last = std::max(last, number_of(u.id));
    for (const Entry& e : job.book) last = std::max(last, number_of(e.more.task));
    return "upkeep-" + std::to_string(last + 1);
}

} // namespace dervish::book
