#include "core/bar/textbook.h"

namespace dervish::bar {

double twist_only_rate(const PlainU& u, const SectionConstants& c, const Material& m) {
    return m.shear_modulus * c.torsion / (u.arm * u.arm * u.half_length);
}

double textbook_rate(const PlainU& u, const SectionConstants& c, const Material& m) {
    const double overhang = u.half_length - u.mount, EI3 = 3 * m.youngs_modulus * c.bend_y;
    return 1 / (1 / twist_only_rate(u, c, m) + u.arm * u.arm * u.arm / EI3 + overhang * overhang * u.half_length / EI3);
}

} // namespace dervish::bar
