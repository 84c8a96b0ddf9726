#pragma once
#include <cmath>

namespace dervish {

/// The lowest place of `f` between `a` and `b`, where it has one dip, and f there: golden section, to `width` of x
/// (Kiefer 1953). f is a callable double → double.
struct Lowest {
    double x, value;
};
template <class F> Lowest lowest_between(F&& f, double a, double b, double width) {
    const double part = (std::sqrt(5.0) - 1) / 2;
    double l = b - part * (b - a), r = a + part * (b - a), at_l = f(l), at_r = f(r);
    while (std::abs(b - a) > width) {
        if (at_l < at_r) {
            b = r;
            r = l;
            at_r = at_l;
            at_l = f(l = b - part * (b - a));
        } else {
            a = l;
            l = r;
            at_l = at_r;
            at_r = f(r = a + part * (b - a));
        }
    }
    return at_l < at_r ? Lowest{l, at_l} : Lowest{r, at_r};
}

} // namespace dervish
