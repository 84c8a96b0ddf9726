#include "core/bar/rate.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

namespace dervish::bar {
namespace {
using Eigen::Matrix3d;
using Eigen::Vector3d;

/// Force and moment inside an element, in section axes (in any across the bar where it is round).
struct Inside {
    Vector3d force, moment;
};

Vector3d in_section(const Element& e, const Vector3d& tangent, const Vector3d& v) {
    if (e.round) {
        const double along = v.dot(tangent);
        return {along, std::sqrt(std::max(0.0, v.squaredNorm() - along * along)), 0};
    }
    return (e.stretch.radius == 0 ? e.axes : section_axes(e.constants, tangent)).transpose() * v;
}

Inside inside(const Element& e, const Stretch::At& at, const Vector6& end) {
    const Vector3d force = end.head<3>(), moment = end.tail<3>() + (e.stretch.to - at.point).cross(force);
    return {in_section(e, at.tangent, force), in_section(e, at.tangent, moment)};
}

/// Energy of a rate under a force; none in a part that does not give.
double energy_under(double force, double rate) {
    return rate > 0 && std::isfinite(rate) ? force * force / (2 * rate) : 0;
}
} // namespace

std::array<LedgerPart, 9> parts(const Ledger& l) {
    return {{{"twist, centre", l.twist_centre},
             {"twist, arms", l.twist_arms},
             {"bend, arms", l.bend_arms},
             {"bend, centre", l.bend_centre},
             {"bushes", l.mounts},
             {"brackets", l.brackets},
             {"links + joints", l.links()},
             {"shear, stretch", l.shear},
             {"bends flatten", l.flattening}}};
}

Ledger ledger(const Solution& solution) {
    const Bar& bar = solution.bar;
    const Moved at = moved(solution, {-1, 1});
    const double E = bar.material.youngs_modulus, G = bar.material.shear_modulus;
    double outermost = 0;
    for (const Mount& m : bar.mounts) outermost = std::max(outermost, std::abs(bar.line.points[m.point].y()));

    Ledger out;
    for (std::size_t i = 0; i < solution.elements.size(); ++i) {
        const Element& e = solution.elements[i];
        const SectionConstants& c = e.constants;
        const Vector6& end = at.end[i];
        for (const Sample& point : samples(e.stretch)) {
            const Stretch::At place = e.stretch.at(point.s);
            const Inside in = inside(e, place, end);
            const bool arm = std::abs(place.tangent.y()) < std::sqrt(0.5) && std::abs(place.point.y()) > outermost;
            const double w = point.weight / 2;
            (arm ? out.twist_arms : out.twist_centre) += w * in.moment.x() * in.moment.x() / (G * c.torsion);
            const double bend =
                w * (in.moment.y() * in.moment.y() / c.bend_y + in.moment.z() * in.moment.z() / c.bend_z) / E;
            (arm ? out.bend_arms : out.bend_centre) += bend;
            out.flattening += (e.bent.give - 1) * bend;
            out.shear +=
                w * (in.force.x() * in.force.x() / (E * c.area) + in.force.y() * in.force.y() / (G * c.shear_area_y) +
                     in.force.z() * in.force.z() / (G * c.shear_area_z));
        }
    }
    for (const Mount& m : bar.mounts) {
        const Vector6& node = at.station[solution.station_of_point(m.point)];
        const Vector3d force = m.rates().cwiseProduct(node.head<3>());
        const double bush[] = {m.fore_aft, m.axial, m.vertical};
        for (int i = 0; i < 3; ++i) {
            out.mounts += energy_under(force[i], bush[i]);
            if (bush[i] > 0) out.brackets += energy_under(force[i], m.bracket);
        }
        out.mounts += energy_under(m.torsional * node[4], m.torsional);
    }
    for (int e = 0; e < 2; ++e) {
        const double f2 = at.force[e] * at.force[e];
        out.link_bodies[e] = f2 / (2 * bar.links[e].body);
        out.link_joints[e] = f2 / (2 * bar.links[e].joints);
    }
    const std::array<double*, 12> parts{&out.twist_centre,   &out.twist_arms,     &out.bend_centre,
                                        &out.bend_arms,      &out.flattening,     &out.shear,
                                        &out.mounts,         &out.brackets,       &out.link_bodies[0],
                                        &out.link_bodies[1], &out.link_joints[0], &out.link_joints[1]};
    for (const double* p : parts) out.energy += *p;
    for (double* p : parts) *p /= out.energy;
    return out;
}

std::vector<StressPoint> stress(const Solution& solution, const Eigen::Vector2d& travel) {
    return stress(solution, moved(solution, travel).end);
}

std::vector<StressPoint> stress(const Solution& solution, const std::vector<Vector6>& ends) {
    std::vector<StressPoint> out;
    out.reserve(3 * solution.elements.size());
    double along = 0;
    for (std::size_t i = 0; i < solution.elements.size(); ++i) {
        const Element& e = solution.elements[i];
        const Section& section = solution.bar.line.sections[e.stretch.section];
        const Vector6& end = ends[i];
        for (double part : {0.0, 0.5, 1.0}) {
            const double s = part * e.stretch.length;
            const Stretch::At place = e.stretch.at(s);
            const Inside in = inside(e, place, end);
            out.push_back({place.point, along + s, von_mises(section, e.constants, in.force, in.moment, e.bent.stress),
                           e.stretch.radius > 0});
        }
        along += e.stretch.length;
    }
    return out;
}

const StressPoint& worst(const std::vector<StressPoint>& points) {
    const StressPoint* out = &points.front();
    for (const StressPoint& p : points)
        if (p.von_mises > out->von_mises * (1 + 1e-6)) out = &p;
    return *out;
}

std::vector<Vector3d> mount_forces(const Solution& solution, const Moved& at) {
    std::vector<Vector3d> out;
    for (const Mount& m : solution.bar.mounts) {
        out.push_back(m.rates().cwiseProduct(at.station[solution.station_of_point(m.point)].head<3>()));
    }
    return out;
}

} // namespace dervish::bar
