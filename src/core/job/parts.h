#pragma once
#include "core/job/job.h"

#include <type_traits>

/// The parts of a job, wherever they stand.
namespace dervish::job {

/// Calls f(kind, spares) for each kind of part: the key under which the job file has it, and where those at hand are.
template <class F> void each_kind(F&& f) {
    f("bar", &Spares::bars);
    f("mounts", &Spares::mounts);
    f("links", &Spares::links);
    f("springs", &Spares::springs);
    f("dampers", &Spares::dampers);
    f("tyres", &Spares::tyres);
    f("brace", &Spares::braces);
}

/// Calls f(kind, part) for each of a bar with what holds it.
template <class A, class F> void each_bar_part(A& assembly, F&& f) {
    f("bar", assembly.bar);
    f("mounts", assembly.mounts);
    f("links", assembly.links);
}

/// The same for all parts on an axle.
template <class A, class F> void each_axle_part(A& axle, F&& f) {
    each_bar_part(axle, f);
    f("springs", axle.springs);
    f("dampers", axle.dampers);
    f("tyres", axle.tyres);
}

/// The same for all parts of a setup that stand on no axle.
template <class S, class F> void each_body_part(S& setup, F&& f) { f("brace", setup.brace); }

/// The same for all parts of a setup.
template <class S, class F> void each_part(S& setup, F&& f) {
    each_axle_part(setup.front, f);
    each_axle_part(setup.rear, f);
    each_body_part(setup, f);
}

/// The same for all spares.
template <class P, class F> void each_spare(P& spares, F&& f) {
    each_kind([&](const char* kind, auto at) {
        for (auto& part : spares.*at) f(kind, part);
    });
}

/// The same for every part of a job that can still be changed: of all setups, the shelf and the spares, not of
/// snapshots.
template <class J, class F> void each_part_of_job(J& job, F&& f) {
    each_part(job.fitted, f);
    each_part(job.trial, f);
    each_part(job.standard, f);
    for (auto& setup : job.kept) each_part(setup, f);
    for (auto& assembly : job.shelf) each_bar_part(assembly, f);
    each_spare(job.spares, f);
}

/// An id that no part of the job has: "springs-3".
std::string fresh_id(const Job& job, const std::string& kind);

/// Gives an id to every part of the setups that has none: equal ones of a kind on the same axle share one. Front and
/// rear ones are two, however alike.
void name_parts(Job& job);

/// Where a spare of its kind is kept.
template <class P> std::vector<P>& of_kind(Spares& spares, const P&) {
    std::vector<P>* out = nullptr;
    each_kind([&]<class Q>(const char*, std::vector<Q> Spares::*at) {
        if constexpr (std::is_same_v<P, Q>) out = &(spares.*at);
    });
    return *out;
}

} // namespace dervish::job
