#include "core/edit/parts.h"

#include "core/job/parts.h"

#include <algorithm>

namespace dervish::edit {
namespace {
/// Every place of a kind of part in a job, those on the fitted car first, and how many of them these are.
template <class P> struct Places {
    std::vector<P*> all;
    std::size_t fitted = 0;
};
template <class P> Places<P> places(Job& job) {
    Places<P> out;
    const auto take = [&]<class Q>(const char*, Q& part) {
        if constexpr (std::is_same_v<P, Q>) out.all.push_back(&part);
    };
    each_part(job.fitted, take);
    out.fitted = out.all.size();
    out.all.clear();
    each_part_of_job(job, take); // begins with Fitted
    return out;
}

template <class P> const P* part_of(const Job& job, const std::string& id) {
    const P* out = nullptr;
    each_part_of_job(job, [&]<class Q>(const char*, const Q& part) {
        if constexpr (std::is_same_v<P, Q>)
            if (!out && part.id == id) out = &part;
    });
    return out;
}

template <class P> void keep_kind(const char* kind, const Job& before, Job& after) {
    const Places<P> at = places<P>(after);
    for (std::size_t i = 0; i < at.all.size(); ++i) {
        const std::string id = at.all[i]->id;
        const P* const was = id.empty() ? nullptr : part_of<P>(before, id);
        if (!was || *at.all[i] == *was) continue;
        const P now = *at.all[i];
        if (i < at.fitted) {
            for (P* p : at.all)
                if (p->id == id) *p = now;
            continue;
        }
        const bool stands_elsewhere =
            std::any_of(at.all.begin(), at.all.end(), [&](const P* p) { return p->id == id && !(*p == now); });
        if (!stands_elsewhere) continue;
        const std::string fresh = fresh_id(after, kind);
        for (P* p : at.all)
            if (*p == now) {
                p->id = fresh;
                p->origin = "drawn up from " + id;
            }
    }
}
} // namespace

namespace {
/// How the wheels stand is of each setup. Where another stood as Fitted did, it goes on to.
void follow_fitted(const Setup& fitted, const Setup& was, const Setup& before, Setup& after) {
    const auto follow = [](const auto& now, const auto& fitted_was, const auto& old, auto& at) {
        if (old == fitted_was && at == old) at = now;
    };
    follow(fitted.front.stand, was.front.stand, before.front.stand, after.front.stand);
    follow(fitted.rear.stand, was.rear.stand, before.rear.stand, after.rear.stand);
    follow(fitted.bias_ratio, was.bias_ratio, before.bias_ratio, after.bias_ratio);
}
} // namespace

void keep_parts(const Job& before, Job& after) {
    if (nothing_tried(before) && after.trial == before.trial) { // it follows whole
        const std::string name = after.trial.name;
        after.trial = after.fitted;
        after.trial.name = name;
    }
    follow_fitted(after.fitted, before.fitted, before.trial, after.trial);
    follow_fitted(after.fitted, before.fitted, before.standard, after.standard);
    if (before.kept.size() == after.kept.size())
        for (std::size_t i = 0; i < after.kept.size(); ++i)
            follow_fitted(after.fitted, before.fitted, before.kept[i], after.kept[i]);
    each_kind([&]<class P>(const char* kind, std::vector<P> Spares::*) { keep_kind<P>(kind, before, after); });
}

Snapshot as_now(const Job& job, Snapshot of) {
    of.vehicle = job.vehicle;
    each_part(of.setup, [&]<class P>(const char*, P& part) {
        if (const P* const now = part.id.empty() ? nullptr : part_of<P>(job, part.id)) part = *now;
    });
    return of;
}

std::vector<std::string> other_places(const Job& job, const std::string& path) {
    std::vector<std::string> out;
    if (!path.starts_with("trial/")) return out;
    const auto within = [&](const char* axle, const char* kind) {
        const std::string at = std::string("trial/") + axle + "/" + kind;
        return path == at || path.starts_with(at + "/");
    };
    const auto look_for = [&]<class P>(const P& wanted) {
        const auto in = [&](const auto& each, const auto& place, const std::string& name) {
            bool here = false;
            each(place, [&](const char*, const Part& p) { here = here || p.id == wanted.id; });
            if (here && std::find(out.begin(), out.end(), name) == out.end()) out.push_back(name);
        };
        const auto of_setup = [](const auto& s, auto&& f) { each_part(s, f); };
        in(of_setup, job.fitted, "Fitted");
        if (job.standard.front.fitted || job.standard.rear.fitted) in(of_setup, job.standard, "the standard");
        for (const Setup& s : job.kept) in(of_setup, s, s.name);
        for (const Assembly& a : job.shelf) in([](const auto& b, auto&& f) { each_bar_part(b, f); }, a, "the shelf");
    };
    for (const End end : both_ends)
        each_axle_part(job.trial[end], [&](const char* kind, const auto& part) {
            if (within(name_of(end), kind) && !part.id.empty()) look_for(part);
        });
    return out;
}

void spare_what_came_off(Job& job, const Setup& setup) {
    Job known = job;
    if (!job.standard.front.fitted && !job.standard.rear.fitted) known.standard = {}; // nobody said what it is
    each_part(setup, [&]<class P>(const char*, const P& part) {
        bool stands = false;
        each_part_of_job(known, [&](const char*, const Part& p) { stands = stands || p.id == part.id; });
        if (!stands) of_kind(job.spares, part).push_back(part);
    });
}

} // namespace dervish::edit
