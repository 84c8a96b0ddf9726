#pragma once
#include <Eigen/Core>
#include <variant>

namespace dervish::bar {

/// Elastic constants, Pa; density kg/m³; allowables Pa.
struct Material {
    double youngs_modulus = 206e9;
    double shear_modulus = 79.3e9;
    double density = 7850;
    double yield_strength = 1100e6;

    /// ν from E and G, clamped to what shear coefficients are defined for.
    double poisson() const;
};

/// Round bar; `wall` 0 means solid. Lengths in m.
struct Round {
    double outer_diameter;
    double wall = 0;
    bool operator==(const Round&) const = default;
};

/// Flat blade: `width` × `thickness`, turned by `rotation` rad about its length. At rotation 0 the width lies along the
/// local z (vertical for a level arm), so a vertical load bends it the stiff way.
struct Blade {
    double width;
    double thickness;
    double rotation = 0;
    bool operator==(const Blade&) const = default;
};

using Section = std::variant<Round, Blade>;

/// Section constants about the local axes: x along the bar, y and z across it. Areas m², second moments m⁴.
struct SectionConstants {
    double area;
    double shear_area_y, shear_area_z; ///< κ A (Cowper 1966)
    double torsion;                    ///< J, St Venant
    double bend_y, bend_z;             ///< I about local y (bends in z) and about local z (bends in y)
    double rotation;                   ///< of the principal axes about local x, rad
};

/// Throws BadInput at "outer_diameter", "wall", "width" or "thickness".
/// Shear coefficients: Cowper 1966, eqs for solid and hollow circle and rectangle. Blade torsion: Timoshenko & Goodier,
/// art. 109, in the closed approximation b t³ (1/3 − 0.21 t/b (1 − t⁴/12 b⁴)).
SectionConstants constants(const Section& section, const Material& material);

/// The stress at a section under internal force (N, Vy, Vz) and moment (T, My, Mz) in local axes, Pa von Mises, at the
/// worst of the fibres looked at. `bend_factor` multiplies the bending part: bend_factors() where the bar is bent.
double von_mises(const Section& section, const SectionConstants& c, const Eigen::Vector3d& force,
                 const Eigen::Vector3d& moment, double bend_factor = 1);

/// What bending a bar that is itself bent does, over a straight one: how much more it gives, and how much more the
/// worst fibre bears. A tube's section flattens (von Kármán 1911, three terms for the give, as Rodabaugh & George 1957
/// have them; the first for the stress across the wall); the straights beside it hold its ends round, which leaves of
/// the flattening 1 − 1.3 r/length (fitted to the solids of tests/data/bars-tubes.json). The inside fibre bears
/// Winkler and Bach's factor (Timoshenko, Strength of Materials II, ch. 2). 1 and 1 for a straight bar and for a blade:
/// its bends are at its clamp. `radius`: to the centreline, 0 straight; `length`: of the bend along it, m.
struct BendFactors {
    double give = 1, stress = 1;
};
BendFactors bend_factors(const Section& section, double radius, double length, double poisson);

/// t R/r² of a bent tube, which decides how much it flattens; infinite for anything else. Below about 0.3 a bend can
/// hardly be made without folding, and the sums are at their end.
double bend_characteristic(const Section& section, double radius);

} // namespace dervish::bar
