#include "core/study/difference.h"

namespace dervish::study {
namespace {
constexpr Lot of_axle[] = {Lot::Bar, Lot::Springs, Lot::Dampers, Lot::Tyres, Lot::Stand},
              of_car[] = {Lot::Brace, Lot::BiasRatio, Lot::Aboard, Lot::StabilityAid};

/// Calls `f` with the lot's part of both.
template <class S, class O, class F> void on(S& one, O& other, const Difference& d, F&& f) {
    if (d.end) {
        auto& a = one[*d.end];
        auto& b = other[*d.end];
        if (d.lot == Lot::Bar)
            f(static_cast<std::conditional_t<std::is_const_v<S>, const Assembly, Assembly>&>(a),
              static_cast<const Assembly&>(b));
        if (d.lot == Lot::Springs) f(a.springs, b.springs);
        if (d.lot == Lot::Dampers) f(a.dampers, b.dampers);
        if (d.lot == Lot::Tyres) f(a.tyres, b.tyres);
        if (d.lot == Lot::Stand) f(a.stand, b.stand);
        return;
    }
    if (d.lot == Lot::Brace) f(one.brace, other.brace);
    if (d.lot == Lot::BiasRatio) f(one.bias_ratio, other.bias_ratio);
    if (d.lot == Lot::Aboard) f(one.aboard, other.aboard);
    if (d.lot == Lot::StabilityAid) f(one.stability_aid, other.stability_aid);
}
} // namespace

std::vector<Difference> differences(const Setup& one, const Setup& other) {
    std::vector<Difference> out;
    const auto look = [&](const Difference& d) {
        on(one, other, d, [&](const auto& a, const auto& b) {
            if (!(a == b)) out.push_back(d);
        });
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
