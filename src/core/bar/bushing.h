#pragma once

namespace dervish::bar {

/// Shear modulus of rubber or urethane by its hardness in Shore A, Pa (Gent 1958: E from S, G = E/3). Poor above 80.
/// Throws BadInput at "shore" outside 20 to 95.
double shear_modulus_of(double shore);

/// A bush's radial rate and its standard uncertainty, N/m.
struct BushRate {
    double value, sigma;
    double short_bush, long_bush; ///< the two bounds it lies between
};

/// Radial rate of a bonded bush of inner and outer diameter and length, m (Adkins & Gent 1954, for short and for long
/// bushes). They differ several times over: the value is their geometric mean, its 90 % band reaches the further one.
/// Throws BadInput at "inner", "outer" or "length".
/// Example: radial_rate(60, 0.026, 0.046, 0.04) for a 60 Shore A bush 40 mm long on a 26 mm bar.
BushRate radial_rate(double shore, double inner, double outer, double length);

} // namespace dervish::bar
