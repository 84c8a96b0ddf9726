#include "core/book/shelf.h"

#include "core/job/parts.h"

#include <algorithm>
#include <set>

namespace dervish::book {

std::vector<Thing> things(const Job& job) {
    std::vector<Thing> out;
    std::set<std::string> been, shelved, tried;
    for (const Entry& e : job.book)
        if (e.car) each_part(e.car->setup, [&](const char*, const Part& p) { been.insert(p.id); });
    for (const Assembly& a : job.shelf) each_bar_part(a, [&](const char*, const Part& p) { shelved.insert(p.id); });
    each_spare(job.spares, [&](const char*, const Part& p) { shelved.insert(p.id); });
    each_part(job.trial, [&](const char*, const Part& p) { tried.insert(p.id); });
    std::set<std::string> seen;
    const auto add = [&](const char* kind, const Part& p, bool on_car, std::optional<End> end) {
        if (p.id.empty() || !seen.insert(p.id).second) return;
        Thing t{p.id, kind, p, end, on_car, tried.contains(p.id), been.contains(p.id), {}, {p.id, {}, {}, {}, {}}};
        const auto known = std::ranges::find(job.part_records, p.id, &PartRecord::id);
        if (known != job.part_records.end()) t.record = *known;
        const bool here = known != job.part_records.end() || t.was_on_car || shelved.contains(p.id);
        t.whereabouts = here ? t.record.whereabouts : Whereabouts::DrawnUp;
        out.push_back(std::move(t));
    };
    for (const End end : {End::Front, End::Rear}) {
        const AxleSetup& axle = job.fitted[end];
        each_axle_part(axle, [&](const char* kind, const Part& p) {
            const bool of_bar = std::string_view(kind) == "bar" || std::string_view(kind) == "mounts" ||
                                std::string_view(kind) == "links";
            if (axle.fitted || !of_bar) add(kind, p, true, end);
        });
    }
    each_body_part(job.fitted, [&](const char* kind, const auto& p) {
        if (is_there(p)) add(kind, p, true, {});
    });
    each_part_of_job(job, [&](const char* kind, const auto& p) {
        if (is_there(p)) add(kind, p, false, {});
    });
    return out;
}

std::vector<int> history_of(const Job& job, const std::string& id) {
    std::vector<int> out;
    for (const Moment& m : moments(job))
        if (m.entry >= 0 && is_wanted(job, m, {"", id, ""})) out.push_back(m.entry);
    return out;
}

} // namespace dervish::book
