#include "core/study/difference.h"

namespace dervish::study {
namespace {
constexpr Lot of_axle[] = {Lot::Bar,    Lot::Links,     Lot::Eyes,      Lot::Springs, Lot::Dampers,     Lot::Tyres,
                           Lot::Height, Lot::Pressures, Lot::Alignment, Lot::Clicks,  Lot::Differential},
              of_car[] = {Lot::Brace, Lot::BiasRatio, Lot::Aboard, Lot::StabilityAid};

bool same_bar(const Assembly& a, const Assembly& b) {
    return a.bar == b.bar && a.mounts == b.mounts && a.trailing_arms == b.trailing_arms;
}

/// Calls `f` with each part of the lot, of both.
template <class A, class F> void on_axle(A& a, const AxleSetup& b, Lot lot, F&& f) {
    const bool as_one = a.fitted != b.fitted || a.held != b.held; // a bar and links that do not belong together
    const bool bar_too = !same_bar(a, b);
    switch (lot) {
    case Lot::Bar:
        if (as_one)
            f(static_cast<std::conditional_t<std::is_const_v<A>, const Assembly, Assembly>&>(a),
              static_cast<const Assembly&>(b));
        if (as_one || !bar_too) return;
        f(a.bar, b.bar);
        f(a.mounts, b.mounts);
        f(a.trailing_arms, b.trailing_arms);
        f(a.left_eye, b.left_eye);
        f(a.right_eye, b.right_eye);
        return;
    case Lot::Links:
        if (as_one) return;
        f(a.links, b.links);
        f(a.pickups, b.pickups);
        f(a.connected, b.connected);
        f(a.plan, b.plan);
        return;
    case Lot::Eyes:
        if (as_one || bar_too) return;
        f(a.left_eye, b.left_eye);
        f(a.right_eye, b.right_eye);
        return;
    case Lot::Springs:
        return f(a.springs, b.springs);
    case Lot::Dampers:
        return f(a.dampers, b.dampers);
    case Lot::Tyres:
        return f(a.tyres, b.tyres);
    case Lot::Height:
        f(a.stand.lift_by, b.stand.lift_by);
        return f(a.stand.lift, b.stand.lift);
    case Lot::Pressures:
        f(a.stand.pressure, b.stand.pressure);
        f(a.stand.left_grip, b.stand.left_grip);
        return f(a.stand.left_pressure, b.stand.left_pressure);
    case Lot::Alignment:
        f(a.stand.camber, b.stand.camber);
        return f(a.stand.toe, b.stand.toe);
    case Lot::Clicks:
        f(a.stand.bump_click, b.stand.bump_click);
        return f(a.stand.rebound_click, b.stand.rebound_click);
    case Lot::Differential:
        return f(a.stand.differential, b.stand.differential);
    default:
        return;
    }
}

template <class S, class F> void on(S& one, const Setup& other, const Difference& d, F&& f) {
    if (d.end) return on_axle(one[*d.end], other[*d.end], d.lot, f);
    if (d.lot == Lot::Brace) f(one.brace, other.brace);
    if (d.lot == Lot::BiasRatio) f(one.bias_ratio, other.bias_ratio);
    if (d.lot == Lot::Aboard) f(one.aboard, other.aboard);
    if (d.lot == Lot::StabilityAid) f(one.stability_aid, other.stability_aid);
}
} // namespace

std::vector<Difference> differences(const Setup& one, const Setup& other) {
    std::vector<Difference> out;
    const auto look = [&](const Difference& d) {
        bool alike = true;
        on(one, other, d, [&](const auto& a, const auto& b) { alike = alike && a == b; });
        if (!alike) out.push_back(d);
    };
    for (const Lot lot : of_axle)
        for (const End end : both_ends) look({lot, end});
    for (const Lot lot : of_car) look({lot, {}});
    return out;
}

Setup with(Setup base, const Setup& other, const Difference& difference) {
    on(base, other, difference, [](auto& to, const auto& from) { to = from; });
    return base;
}

} // namespace dervish::study
