#include "core/bar/frame.h"
#include "core/num/solves.h"

#include "core/num/bad_input.h"

#include <Eigen/Geometry>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>

namespace dervish::bar {
namespace {
using Eigen::Matrix3d;
using Eigen::Vector3d;

/// Prismatic Timoshenko cantilever: flexibility at its tip in section axes, turned to global ones.
Matrix6 straight_flexibility(const Element& e, const Material& m) {
    const SectionConstants& c = e.constants;
    const double l = e.stretch.length, l2 = l * l, E = m.youngs_modulus, G = m.shear_modulus;
    const double by = l / (E * c.bend_y), bz = l / (E * c.bend_z);
    const Vector3d ff(l / (E * c.area), l2 / 3 * bz + l / (G * c.shear_area_y), l2 / 3 * by + l / (G * c.shear_area_z));
    const Matrix3d& r = e.axes;
    const Matrix3d fm = (l / 2 * bz) * r.col(1) * r.col(2).transpose() - (l / 2 * by) * r.col(2) * r.col(1).transpose();
    Matrix6 f;
    f.topLeftCorner<3, 3>().noalias() = r * ff.asDiagonal() * r.transpose();
    f.topRightCorner<3, 3>() = fm;
    f.bottomLeftCorner<3, 3>() = fm.transpose();
    f.bottomRightCorner<3, 3>().noalias() = r * Vector3d(l / (G * c.torsion), by, bz).asDiagonal() * r.transpose();
    return f;
}

/// A compliance given along the section's axes, in global ones.
Matrix3d turned(const Element& e, const Vector3d& tangent, const Vector3d& along_axes) {
    if (e.round) {
        Matrix3d out = (along_axes[0] - along_axes[1]) * tangent * tangent.transpose();
        out.diagonal().array() += along_axes[1];
        return out;
    }
    const Matrix3d r = section_axes(e.constants, tangent);
    return r * along_axes.asDiagonal() * r.transpose();
}

/// Arc: compliance integrated along it by virtual work.
Matrix6 arc_flexibility(const Element& e, const Material& m) {
    const SectionConstants& c = e.constants;
    const Vector3d force_compliance(1 / (m.youngs_modulus * c.area), 1 / (m.shear_modulus * c.shear_area_y),
                                    1 / (m.shear_modulus * c.shear_area_z));
    const Vector3d moment_compliance(1 / (m.shear_modulus * c.torsion), e.bent.give / (m.youngs_modulus * c.bend_y),
                                     e.bent.give / (m.youngs_modulus * c.bend_z));
    Matrix6 f = Matrix6::Zero();
    for (const Sample& sample : samples(e.stretch)) {
        const Stretch::At at = e.stretch.at(sample.s);
        const Matrix3d lever = cross(e.stretch.to - at.point);
        const Matrix3d cm = turned(e, at.tangent, sample.weight * moment_compliance);
        const Matrix3d cml = cm * lever;
        f.topLeftCorner<3, 3>() += turned(e, at.tangent, sample.weight * force_compliance) + lever.transpose() * cml;
        f.bottomLeftCorner<3, 3>() += cml;
        f.bottomRightCorner<3, 3>() += cm;
    }
    f.topRightCorner<3, 3>() = f.bottomLeftCorner<3, 3>().transpose();
    return f;
}

/// T K, where T carries a force `lever` back.
template <class M> M carried_back(const Vector3d& lever, const M& ahead) {
    M out = ahead;
    out.template bottomRows<3>().noalias() += cross(lever) * ahead.template topRows<3>();
    return out;
}

std::size_t node_at(const std::vector<std::size_t>& nodes, std::size_t point, const char* what) {
    if (point >= nodes.size())
        throw BadInput(what, "point " + std::to_string(point) + " is not on the bar",
                       "give a point from 0 to " + std::to_string(nodes.size() - 1));
    return nodes[point];
}

void add_mount(Matrix6& diagonal, const Mount& m) {
    const Vector3d k = m.rates();
    if (!(k.minCoeff() >= 0)) throw BadInput("mounts", "a rate below 0", "give 0 or more");
    diagonal.diagonal().head<3>() += k;
    diagonal(4, 4) += std::min(m.torsional, stiffest);
}

void build_elements(Solution& out, const std::vector<Stretch>& stretches) {
    const Bar& bar = out.bar;
    std::vector<SectionConstants> constant(bar.line.sections.size());
    for (std::size_t i = 0; i < constant.size(); ++i) constant[i] = constants(bar.line.sections[i], bar.material);
    out.elements.resize(stretches.size());
    for (std::size_t i = 0; i < stretches.size(); ++i) {
        Element& e = out.elements[i];
        e.stretch = stretches[i];
        e.constants = constant[e.stretch.section];
        e.round = e.constants.bend_y == e.constants.bend_z && e.constants.shear_area_y == e.constants.shear_area_z;
        e.bent = bend_factors(bar.line.sections[e.stretch.section], e.stretch.radius, e.stretch.bend,
                              bar.material.poisson());
        e.axes = section_axes(e.constants, e.stretch.tangent);
        e.flexibility =
            e.stretch.radius == 0 ? straight_flexibility(e, bar.material) : arc_flexibility(e, bar.material);
    }
}

void find_stations(Solution& out) {
    for (const Mount& m : out.bar.mounts) out.stations.push_back(node_at(out.node_of_point, m.point, "mounts"));
    for (std::size_t eye : out.bar.eyes) out.stations.push_back(node_at(out.node_of_point, eye, "eyes"));
    std::sort(out.stations.begin(), out.stations.end());
    out.stations.erase(std::unique(out.stations.begin(), out.stations.end()), out.stations.end());
}

/// Stiffness of the elements from station i to i + 1 as one.
Matrix6 between(const Solution& s, std::size_t i) {
    Matrix6 flexibility = s.elements[s.stations[i]].flexibility;
    for (std::size_t e = s.stations[i] + 1; e < s.stations[i + 1]; ++e) {
        carry(flexibility, s.elements[e].stretch.to - s.elements[e].stretch.from);
        flexibility += s.elements[e].flexibility;
    }
    return inverse(flexibility);
}

BlockChain assemble(Solution& out) {
    const auto n = out.stations.size();
    BlockChain chain{std::vector<Matrix6>(n, Matrix6::Zero()), std::vector<Matrix6>(n - 1)};
    for (std::size_t i = 0; i + 1 < n; ++i) {
        const Matrix6& k = out.stiffness.emplace_back(between(out, i));
        const Vector3d lever = out.node(out.stations[i + 1]) - out.node(out.stations[i]);
        const Matrix6 tk = carried_back(lever, k);
        chain.above[i] = -tk;
        chain.diagonal[i] += carried_back<Matrix6>(lever, tk.transpose());
        chain.diagonal[i + 1] += k;
    }
    for (const Mount& m : out.bar.mounts) add_mount(chain.diagonal[out.station_of_point(m.point)], m);
    return chain;
}

/// Holds a node to the one motion `way` (translation, rotation) that its arm allows.
Matrix6 clamp(const Vector6& way) {
    constexpr double reach = 0.1; // m: makes rotations and translations comparable
    Vector6 scale;
    scale << 1, 1, 1, reach, reach, reach;
    const Vector6 y = way.cwiseProduct(scale).normalized();
    const Matrix6 free = Matrix6::Identity() - y * y.transpose();
    return stiffest * (scale.asDiagonal() * free * scale.asDiagonal());
}

/// Bending stiffness over length cubed: a rate of the bar's own order, for springs whose share is taken out again.
double helper_rate(const Solution& s) {
    double length = 0, bend = 0;
    for (const Element& e : s.elements) {
        length += e.stretch.length;
        bend = std::max(bend, s.bar.material.youngs_modulus * e.constants.bend_y);
    }
    return 50 * bend / (length * length * length);
}
} // namespace

void carry(Matrix6& f, const Vector3d& lever) {
    const Matrix3d x = cross(lever);
    const Matrix3d mmx = f.bottomRightCorner<3, 3>() * x;
    const Matrix3d fmx = f.topRightCorner<3, 3>() * x;
    f.topLeftCorner<3, 3>() += fmx + fmx.transpose() + x.transpose() * mmx;
    f.bottomLeftCorner<3, 3>() += mmx;
    f.topRightCorner<3, 3>() = f.bottomLeftCorner<3, 3>().transpose();
}

Samples samples(const Stretch& stretch) {
    const double h = stretch.length / 2;
    if (stretch.radius == 0) {
        const double d = h / std::sqrt(3.0);
        return {{{{h - d, h}, {h + d, h}}}, 2};
    }
    if (stretch.length < 0.35 * stretch.radius) {
        const double d = h * std::sqrt(0.6);
        return {{{{h - d, h * 5 / 9}, {h, h * 8 / 9}, {h + d, h * 5 / 9}}}, 3};
    }
    constexpr double x1 = 0.5384693101056831, x2 = 0.9061798459386640;
    constexpr double w0 = 0.5688888888888889, w1 = 0.4786286704993665, w2 = 0.2369268850561891;
    return {
        {{{h * (1 - x2), h * w2}, {h * (1 - x1), h * w1}, {h, h * w0}, {h * (1 + x1), h * w1}, {h * (1 + x2), h * w2}}},
        5};
}

Matrix3d section_axes(const SectionConstants& constants, const Vector3d& t) {
    const Vector3d up = std::abs(t.z()) < 0.9 ? Vector3d::UnitZ() : Vector3d::UnitX();
    const Vector3d y = up.cross(t).normalized(), z = t.cross(y);
    Matrix3d axes;
    axes.col(0) = t;
    if (constants.rotation == 0) {
        axes.col(1) = y;
        axes.col(2) = z;
    } else {
        const double c = std::cos(constants.rotation), q = std::sin(constants.rotation);
        axes.col(1) = c * y + q * z;
        axes.col(2) = c * z - q * y;
    }
    return axes;
}

Vector3d Mount::rates() const {
    const auto with_bracket = [this](double bush) {
        return bush == 0 || bracket == 0 ? 0 : std::min(1 / (1 / bush + 1 / bracket), stiffest);
    };
    return {with_bracket(fore_aft), with_bracket(axial), with_bracket(vertical)};
}

Vector6 Bar::drive(int side) const {
    Vector6 out = Vector6::Zero();
    if (clamped)
        out = (*clamped)[static_cast<std::size_t>(side)] / (*clamped)[static_cast<std::size_t>(side)].squaredNorm();
    else
        out.head<3>() = links[static_cast<std::size_t>(side)].direction;
    return out;
}

std::size_t Solution::station_of_point(std::size_t point) const {
    const auto at = std::lower_bound(stations.begin(), stations.end(), node_of_point[point]);
    return static_cast<std::size_t>(at - stations.begin());
}

Solution solve(Bar bar, double longest) {
    ++solves;
    Solution out;
    out.bar = std::move(bar);
    std::vector<std::size_t> held(out.bar.eyes.begin(), out.bar.eyes.end());
    for (const Mount& m : out.bar.mounts) held.push_back(m.point);
    Path path = cut(out.bar.line, longest, held);
    out.node_of_point = std::move(path.node_of_point);
    build_elements(out, path.stretches);
    find_stations(out);
    if (out.node_of_point[out.bar.eyes[0]] == out.node_of_point[out.bar.eyes[1]])
        throw BadInput("eyes", "both eyes sit on the same point", "give one on each arm");
    BlockChain chain = assemble(out);

    out.helper = helper_rate(out);
    out.response.assign(out.stations.size(), Pair6::Zero());
    std::array<std::size_t, 2> station;
    for (int e = 0; e < 2; ++e) {
        station[e] = out.station_of_point(out.bar.eyes[e]);
        const Vector6 n = out.bar.drive(e);
        chain.diagonal[station[e]] += out.helper * n * n.transpose();
        if (out.bar.clamped) chain.diagonal[station[e]] += clamp((*out.bar.clamped)[e]);
        out.response[station[e]].col(e) += n;
    }
    if (!chain.solve(out.response))
        throw BadInput("mounts", "nothing holds the bar in some direction",
                       "give two mounts with radial rates, and an axial rate to at least one");

    Eigen::Matrix2d flexibility;
    for (int e = 0; e < 2; ++e) flexibility.row(e) = out.bar.drive(e).transpose() * out.response[station[e]];
    out.at_eyes = flexibility.inverse() - out.helper * Eigen::Matrix2d::Identity();
    const Eigen::Vector2d give(1 / out.bar.links[0].stiffness(), 1 / out.bar.links[1].stiffness());
    out.at_links = (Eigen::Matrix2d::Identity() + out.at_eyes * give.asDiagonal()).inverse() * out.at_eyes;
    for (Eigen::Matrix2d* k : {&out.at_eyes, &out.at_links}) (*k)(0, 1) = (*k)(1, 0) = ((*k)(0, 1) + (*k)(1, 0)) / 2;
    return out;
}

double roll_rate(const Eigen::Matrix2d& k) { return (k(0, 0) - 2 * k(0, 1) + k(1, 1)) / 2; }

double mass(const Bar& bar) {
    double total = 0;
    for (const Stretch& s : cut(bar.line).stretches)
        total += s.length * constants(bar.line.sections[s.section], bar.material).area * bar.material.density;
    return total;
}

namespace {
/// Motion of a rigid body's point `lever` away from one that moves by `u`.
Vector6 rigidly(const Vector6& u, const Vector3d& lever) {
    Vector6 out = u;
    out.head<3>() += u.tail<3>().cross(lever);
    return out;
}
} // namespace

Moved moved(const Solution& solution, const Eigen::Vector2d& travel) {
    Moved out;
    out.force = solution.at_links * travel;
    for (int e = 0; e < 2; ++e) out.eye_travel[e] = travel[e] - out.force[e] / solution.bar.links[e].stiffness();
    const Eigen::Vector2d load = out.force + solution.helper * out.eye_travel;
    out.station.reserve(solution.response.size());
    for (const Pair6& r : solution.response) out.station.push_back(r * load);
    out.end.assign(solution.elements.size(), Vector6::Zero());
    for (std::size_t i = 0; i + 1 < solution.stations.size(); ++i) {
        const std::size_t first = solution.stations[i], last = solution.stations[i + 1];
        const Vector3d b = solution.node(last);
        const Vector6 end =
            solution.stiffness[i] * (out.station[i + 1] - rigidly(out.station[i], b - solution.node(first)));
        for (std::size_t e = first; e < last; ++e) {
            out.end[e] = end;
            out.end[e].tail<3>() += (b - solution.elements[e].stretch.to).cross(end.head<3>());
        }
    }
    return out;
}

std::vector<Vector6> shape(const Solution& solution, const Moved& moved) {
    std::vector<Vector6> out(solution.elements.size() + 1);
    const std::size_t start = solution.stations.front();
    out[start] = moved.station.front();
    for (std::size_t e = start; e < solution.elements.size(); ++e) {
        const Element& element = solution.elements[e];
        out[e + 1] = rigidly(out[e], element.stretch.to - element.stretch.from) + element.flexibility * moved.end[e];
    }
    for (std::size_t e = start; e-- > 0;)
        out[e] = rigidly(out[e + 1], solution.elements[e].stretch.from - solution.elements[e].stretch.to);
    return out;
}

} // namespace dervish::bar
