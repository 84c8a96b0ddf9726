#include "core/bar/section.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <limits>

namespace dervish::bar {
namespace {
using units::pi;

void require_positive(double value, const char* where) {
    if (!(value > 0) || !std::isfinite(value))
        throw BadInput(where, units::in_mm(value) + " is not a size", "give more than 0 mm");
}

double inner_radius(const Round& r) { return r.wall > 0 ? r.outer_diameter / 2 - r.wall : 0; }

SectionConstants of(const Round& r, double nu) {
    require_positive(r.outer_diameter, "outer_diameter");
    const double ro = r.outer_diameter / 2;
    if (!(r.wall >= 0) || r.wall > ro)
        throw BadInput(
            "wall", "a wall of " + units::in_mm(r.wall) + " does not fit in a bar of " + units::in_mm(r.outer_diameter),
            "give less than half the diameter, " + units::in_mm(ro) + ", or 0 for a solid bar");
    const double ri = inner_radius(r);
    const double m = ri / ro, m2 = m * m, q = (1 + m2) * (1 + m2);
    const double kappa = 6 * (1 + nu) * q / ((7 + 6 * nu) * q + (20 + 12 * nu) * m2);
    const double area = pi * (ro * ro - ri * ri);
    const double inertia = pi / 4 * (ro * ro * ro * ro - ri * ri * ri * ri);
    return {area, kappa * area, kappa * area, 2 * inertia, inertia, inertia, 0};
}

SectionConstants of(const Blade& b, double nu) {
    require_positive(b.width, "width");
    require_positive(b.thickness, "thickness");
    const double longer = std::max(b.width, b.thickness), shorter = std::min(b.width, b.thickness);
    const double ratio = shorter / longer;
    const double torsion = longer * std::pow(shorter, 3) * (1.0 / 3 - 0.21 * ratio * (1 - std::pow(ratio, 4) / 12));
    const double area = b.width * b.thickness;
    const double kappa = 10 * (1 + nu) / (12 + 11 * nu);
    return {area,
            kappa * area,
            kappa * area,
            torsion,
            b.thickness * std::pow(b.width, 3) / 12,
            b.width * std::pow(b.thickness, 3) / 12,
            b.rotation};
}

double combine(double normal, double shear) { return std::sqrt(normal * normal + 3 * shear * shear); }

double stress(const Round& r, const SectionConstants& c, const Eigen::Vector3d& f, const Eigen::Vector3d& m,
              double factor) {
    const double ro = r.outer_diameter / 2, ri = inner_radius(r);
    const double axial = std::abs(f.x()) / c.area;
    const double bending = factor * std::sqrt(m.y() * m.y() + m.z() * m.z()) * ro / c.bend_y;
    const double torsion = std::abs(m.x()) * ro / c.torsion;
    // Peak transverse shear at the neutral axis of a ring: 4/3 (ro² + ro ri + ri²)/(ro² + ri²) V/A.
    const double peak = 4.0 / 3 * (ro * ro + ro * ri + ri * ri) / (ro * ro + ri * ri);
    const double shear = peak * std::sqrt(f.y() * f.y() + f.z() * f.z()) / c.area;
    return std::max(combine(axial + bending, torsion), combine(axial, torsion + shear));
}

double stress(const Blade& b, const SectionConstants& c, const Eigen::Vector3d& f, const Eigen::Vector3d& m, double) {
    const Eigen::Rotation2D<double> turn(-c.rotation);
    const Eigen::Vector2d v = turn * f.tail<2>(), bend = turn * m.tail<2>();
    const double stiff = std::abs(bend.x()) * b.width / 2 / c.bend_y;
    const double weak = std::abs(bend.y()) * b.thickness / 2 / c.bend_z;
    const double axial = std::abs(f.x()) / c.area;
    // Middle of the long face carries the torsion's peak: T/(k₂ b t²), k₂ from Roark's closed approximation.
    const double longer = std::max(b.width, b.thickness), shorter = std::min(b.width, b.thickness),
                 q = shorter / longer;
    const double torsion = 3 * std::abs(m.x()) / (longer * shorter * shorter) *
                           (1 + 0.6095 * q + 0.8865 * q * q - 1.8023 * q * q * q + 0.91 * q * q * q * q);
    const double shear = 1.5 * v.norm() / c.area;
    const double face = b.width >= b.thickness ? weak : stiff;
    const double edge = b.width >= b.thickness ? stiff : weak;
    return std::max(
        {combine(axial + stiff + weak, 0), combine(axial + face, torsion + shear), combine(axial + edge, shear)});
}
} // namespace

double Material::poisson() const { return std::clamp(youngs_modulus / (2 * shear_modulus) - 1, 0.0, 0.5); }

SectionConstants constants(const Section& section, const Material& material) {
    return std::visit([&](const auto& s) { return of(s, material.poisson()); }, section);
}

double von_mises(const Section& section, const SectionConstants& c, const Eigen::Vector3d& force,
                 const Eigen::Vector3d& moment, double bend_factor) {
    return std::visit([&](const auto& s) { return stress(s, c, force, moment, bend_factor); }, section);
}

namespace {
/// On the inside fibre of a bent beam whose section keeps its shape.
double curved_beam_factor(const Round& round, double radius) {
    const double ro = round.outer_diameter / 2, ri = inner_radius(round);
    if (radius <= ro) radius = ro * 1.01;
    const double area = pi * (ro * ro - ri * ri);
    // The neutral axis lies e inside the middle; written so that nothing cancels at large radii.
    const auto half = [&](double r) { return r * r / (2 * (radius + std::sqrt(radius * radius - r * r))); };
    const double e = half(ro) + half(ri);
    const double inside = (ro - e) / (area * e * (radius - ro));
    return inside * pi / 4 * (ro * ro * ro * ro - ri * ri * ri * ri) / ro;
}
} // namespace

double bend_characteristic(const Section& section, double radius) {
    const Round* round = std::get_if<Round>(&section);
    if (!round || radius == 0 || round->wall == 0) return std::numeric_limits<double>::infinity();
    const double r = (round->outer_diameter - round->wall) / 2;
    return round->wall * radius / (r * r);
}

BendFactors bend_factors(const Section& section, double radius, double length, double poisson) {
    const Round* round = std::get_if<Round>(&section);
    if (!round || radius == 0) return {};
    const double inside = curved_beam_factor(*round, radius);
    if (round->wall == 0) return {1, inside};
    const double plate = 1 - poisson * poisson, r = (round->outer_diameter - round->wall) / 2;
    const double free = std::max(0.0, 1 - 1.3 * r / length); // of the ends
    const double l2 = std::pow(bend_characteristic(section, radius), 2) / plate;
    const double give =
        (252 + l2 * (73912 + l2 * (2446176 + l2 * 2822400))) / (3 + l2 * (3280 + l2 * (329376 + l2 * 2822400)));
    // Over M r/I at the crown: along the bar, and across its wall, which there is of the other sign on one face.
    const double across = free * 18 * std::sqrt(l2 / plate) / (1 + 12 * l2);
    const double along = inside * (1 + free * ((12 * l2 - 2) / (1 + 12 * l2) - 1));
    const double crown = std::sqrt(along * along + across * across + std::abs(along * across));
    return {1 + free * (give - 1), std::max({inside, crown, across})};
}

} // namespace dervish::bar
