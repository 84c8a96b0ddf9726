#pragma once
#include "core/job/job.h"

/// The parts of a job, wherever they stand.
namespace dervish::job {

/// Calls f(kind, part) for each of a bar with what holds it; `kind` is the key under which the job file has it.
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

/// The same for all parts of a setup.
template <class S, class F> void each_part(S& setup, F&& f) {
    each_axle_part(setup.front, f);
    each_axle_part(setup.rear, f);
    f("brace", setup.brace);
}

/// The same for all spares.
template <class P, class F> void each_spare(P& spares, F&& f) {
    const auto all = [&](const char* kind, auto& parts) {
        for (auto& part : parts) f(kind, part);
    };
    all("bar", spares.bars);
    all("mounts", spares.mounts);
    all("links", spares.links);
    all("springs", spares.springs);
    all("dampers", spares.dampers);
    all("tyres", spares.tyres);
    all("brace", spares.braces);
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
inline std::vector<BarData>& of_kind(Spares& s, const BarData&) { return s.bars; }
inline std::vector<MountData>& of_kind(Spares& s, const MountData&) { return s.mounts; }
inline std::vector<LinkData>& of_kind(Spares& s, const LinkData&) { return s.links; }
inline std::vector<SpringData>& of_kind(Spares& s, const SpringData&) { return s.springs; }
inline std::vector<DamperData>& of_kind(Spares& s, const DamperData&) { return s.dampers; }
inline std::vector<TyreData>& of_kind(Spares& s, const TyreData&) { return s.tyres; }
inline std::vector<BraceData>& of_kind(Spares& s, const BraceData&) { return s.braces; }

} // namespace dervish::job
