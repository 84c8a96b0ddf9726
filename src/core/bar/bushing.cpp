#include "core/bar/bushing.h"

#include "core/num/bad_input.h"
#include "core/num/band.h"
#include "core/units/units.h"

#include <cmath>

namespace dervish::bar {

double shear_modulus_of(double shore) {
    if (!(shore >= 20 && shore <= 95))
        throw BadInput("shore", units::trimmed(shore, 1) + " Shore A is no bush",
                       "give 20 to 95; rubber 50 to 70, urethane 70 to 95");
    return 0.0981 * (56 + 7.62336 * shore) / (0.137505 * (254 - 2.54 * shore)) / 3 * units::MPa;
}

BushRate radial_rate(double shore, double inner, double outer, double length) {
    const double G = shear_modulus_of(shore), a = inner / 2, b = outer / 2;
    if (!(inner > 0)) throw BadInput("inner", units::in_mm(inner) + " is no bore", "give the bar's diameter");
    if (!(outer > 1.02 * inner))
        throw BadInput("outer", units::in_mm(outer) + " leaves no rubber on a bar of " + units::in_mm(inner),
                       "give the bush's outer diameter");
    if (!(length > 0))
        throw BadInput("length", units::in_mm(length) + " is no length", "give the bush's length along the bar");
    const double sum = a * a + b * b, difference = b * b - a * a, ratio = std::log(b / a);
    BushRate out{};
    out.short_bush = G * length * 80 * units::pi * sum / (25 * sum * ratio - 9 * difference);
    out.long_bush = G * length * 4 * units::pi / (ratio - difference / sum);
    out.value = std::sqrt(out.short_bush * out.long_bush);
    out.sigma = (out.long_bush - out.value) / band_90;
    return out;
}

} // namespace dervish::bar
