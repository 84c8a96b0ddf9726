#pragma once
#include <cmath>

namespace dervish {

/// A zero of `f` between `a` and `b`, where f changes sign (fa = f(a), fb = f(b)), to `width` of x: false position with
/// the Illinois correction (Dowell & Jarratt 1971). f is a callable double → double.
template <class F> double root_between(F&& f, double a, double b, double fa, double fb, double width) {
    for (int i = 0; i < 100 && std::abs(b - a) > width; ++i) {
        const double x = (a * fb - b * fa) / (fb - fa), fx = f(x);
        if (fx == 0) return x;
        if ((fx > 0) == (fb > 0)) {
            fa *= 0.5;
        } else {
            a = b;
            fa = fb;
        }
        const bool settled = std::abs(x - b) < width / 4;
        b = x;
        fb = fx;
        if (settled) break;
    }
    return b;
}

} // namespace dervish
