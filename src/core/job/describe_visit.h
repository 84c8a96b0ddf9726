#pragma once
#include "core/job/job.h"

#include <concepts>
#include <type_traits>

/// Each part of the job, described once: the job file, the window's fields and the uncertainty sum all walk these.
/// A visitor has field(Measured&, FieldSpec), text, texts, flag, choice, number, index, drafts, group(key, label, part)
/// list(key, label, vector), and part(key, label, part) for one that has an identity. Every describe works on const and
/// non-const parts. What the present choices do not ask for is passed by, but for a visitor with alternative(asked,
/// fields): the file keeps it, so that a walk is not lost because the bar's sizes are shown.
/// What the job file did not have before a version stands within since(v, version, fields): a file from before leaves
/// it as job.h begins it, and the format's version follows by itself.
/// Example: since(v, 11, [&] { v.field(a.hub_offset, {"hub_offset", "Hub offset", Length, Tape, 0, 50 * mm}); });
namespace dervish::job {

template <class T, class Part>
concept Is = std::same_as<std::remove_const_t<T>, Part>;

template <class V, class F> void where(V& v, bool asked, F&& fields) {
    if constexpr (requires { v.alternative(asked, fields); })
        v.alternative(asked, fields);
    else if (asked)
        fields();
}

template <class V, class F> void since(V& v, int version, F&& fields) {
    if constexpr (requires { v.since(version, fields); })
        v.since(version, fields);
    else
        fields();
}

namespace detail {
using enum units::Quantity;
using enum Tool;
inline constexpr double mm = units::mm, deg = units::deg;
inline constexpr double endless = std::numeric_limits<double>::infinity();
} // namespace detail

template <class V, Is<Spot> T> void describe(V& v, T& s) {
    using namespace detail;
    v.field(s.behind, {"behind", "Behind", Length, Tape, -2000 * mm, 2000 * mm, "the bar's axis; ahead is negative"});
    v.field(s.out, {"out", "Out", Length, Tape, -200 * mm, 2000 * mm, "from the car's middle"});
    v.field(s.below, {"below", "Below", Length, Tape, -1500 * mm, 1500 * mm, "the bar's axis; above is negative"});
}

} // namespace dervish::job
