#include "core/bar/travel.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

namespace dervish::bar {
namespace {
using Eigen::Matrix3d;
using Eigen::Vector3d;

/// Rotation vector to matrix (Rodrigues).
Matrix3d rotation(const Vector3d& v) {
    const double t2 = v.squaredNorm(), t = std::sqrt(t2);
    const double a = t < 1e-4 ? 1 - t2 / 6 : std::sin(t) / t, b = t < 1e-4 ? 0.5 - t2 / 24 : (1 - std::cos(t)) / t2;
    const Matrix3d x = cross(v);
    return Matrix3d::Identity() + a * x + b * x * x;
}

/// Matrix to rotation vector, for turns below half a circle.
Vector3d rotation_vector(const Matrix3d& q) {
    const Vector3d v(q(2, 1) - q(1, 2), q(0, 2) - q(2, 0), q(1, 0) - q(0, 1));
    const double sine = v.norm() / 2, cosine = (q.trace() - 1) / 2, t = std::atan2(sine, cosine);
    return v * (sine < 1e-6 ? 0.5 + t * t / 12 : t / (2 * sine));
}

/// A piece's strain energy, its slope and its second variation over the spins and shifts of its two ends.
struct Variation {
    double energy;
    Vector6 force; ///< at the middle, in turned axes: for stress
    Vector6 a, b;
    Matrix6 aa, ab, bb;
};

Variation vary(const Mesh::Piece& piece, const Vector3d& xa, const Matrix3d& ra, const Vector3d& xb,
               const Matrix3d& rb) {
    const Vector3d theta = rotation_vector(ra.transpose() * rb);
    const Matrix3d mid = ra * rotation(theta / 2);
    const Vector3d r = xb - xa, turned = mid * theta;
    Vector6 w;
    w << mid.transpose() * r - piece.chord, theta;
    Variation out;
    out.force = piece.stiffness * w;
    out.energy = out.force.dot(w) / 2;

    // θ follows the ends' spins ψ = φb − φa by B, the middle's spin is their mean plus D ψ.
    const double t = theta.norm(), half = t / 2;
    const double a = t < 1e-4 ? 1 - t * t / 24 : std::sin(half) / half;
    const double q = t < 2e-4 ? 0.5 : (1 - std::cos(half)) / (half * half);
    Matrix3d B = Matrix3d::Identity() / a;
    if (t > 1e-8) B += (1 - 1 / a) / (t * t) * turned * turned.transpose();
    const Matrix3d D = -q / (4 * a) * cross(turned), R = cross(r), half_one = 0.5 * Matrix3d::Identity();

    const Matrix3d nn = mid * piece.stiffness.topLeftCorner<3, 3>() * mid.transpose();
    const Matrix3d nm = mid * piece.stiffness.topRightCorner<3, 3>() * mid.transpose();
    const Matrix3d mm = mid * piece.stiffness.bottomRightCorner<3, 3>() * mid.transpose();
    const Vector3d N = mid * out.force.head<3>(), m = B * (mid * out.force.tail<3>()), p = N.cross(r),
                   skew = D.transpose() * p;
    out.b << N, p / 2 + skew + m;
    out.a << -N, p / 2 - skew - m;

    const Matrix3d pb = R * (half_one + D), pa = R * (half_one - D);
    const Matrix3d xb_ = nn * pb + nm * B, yb = nm.transpose() * pb + mm * B;
    const Matrix3d xa_ = nn * pa - nm * B, ya = nm.transpose() * pa - mm * B;
    // The middle's turning carries N with it: the geometric part, to first order in θ.
    const Matrix3d n_cross = 0.5 * cross(N);
    const Matrix3d carried = 0.25 * (0.5 * (N * r.transpose() + r * N.transpose()) - N.dot(r) * Matrix3d::Identity());
    const auto fill = [](Matrix6& whole, const Matrix3d& tl, const Matrix3d& tr, const Matrix3d& bl,
                         const Matrix3d& br) {
        whole.topLeftCorner<3, 3>() = tl;
        whole.topRightCorner<3, 3>() = tr;
        whole.bottomLeftCorner<3, 3>() = bl;
        whole.bottomRightCorner<3, 3>() = br;
    };
    const Matrix3d xb_g = xb_ - n_cross, xa_g = -xa_ + n_cross; // transposes of φ–x blocks: [N]×ᵀ = −[N]×
    fill(out.bb, nn, xb_g, xb_g.transpose(), pb.transpose() * xb_ + B * yb + carried);
    fill(out.aa, nn, xa_g, xa_g.transpose(), pa.transpose() * xa_ - B * ya + carried);
    fill(out.ab, -nn, -xb_ + n_cross, pa.transpose() * nn - B * nm.transpose() + n_cross,
         pa.transpose() * xb_ - B * yb + carried + 0.5 * cross(m));
    return out;
}

struct System {
    BlockChain chain;
    std::vector<Pair6> right; ///< columns: −slope, −change of the slope with unit travel step and load
    double energy = 0;
};

void add_mounts(System& s, const Mesh& mesh, const Posture& at) {
    for (std::size_t i = 0; i < mesh.mounts.size(); ++i) {
        const Mount& m = mesh.solution->bar.mounts[i];
        const std::size_t node = mesh.mounts[i];
        const Vector3d k = m.rates(), u = at.place[node] - mesh.nodes[node];
        s.energy += u.cwiseProduct(k).dot(u) / 2;
        s.right[node].col(0).head<3>() -= k.cwiseProduct(u);
        s.chain.diagonal[node].diagonal().head<3>() += k;
        if (m.torsional > 0) { // about the bore: the y part of the rotation
            const Vector3d v = rotation_vector(at.turn[node]);
            const double kt = std::min(m.torsional, stiffest);
            // δv = J⁻¹ δφ, its second row to second order in v
            const Vector3d row = Vector3d::UnitY() + 0.5 * v.cross(Vector3d::UnitY());
            s.energy += kt * v.y() * v.y() / 2;
            s.right[node].col(0).tail<3>() -= kt * v.y() * row;
            s.chain.diagonal[node].bottomRightCorner<3, 3>() += kt * row * row.transpose();
        }
    }
}

/// Holds the bar's end to its arm by springs stiff beside any bar; their moment about the pivot is the arm's.
void add_arm(System& s, const Mesh& mesh, const Swing& arm, std::size_t e, double travel, double step, Posture& at) {
    constexpr double spin = 1e10; // N·m/rad
    // Along the bar only so much that it stays in the middle: pivots and arms give sideways long before a bar
    // stretches.
    const Vector3d shift(stiffest, 1e3, stiffest); // N/m
    const std::size_t node = mesh.eyes[e];
    const double angle = std::asin(std::clamp(travel / arm.reach, -0.99, 0.99)), far = arm.reach * std::cos(angle);
    const Matrix3d turned = rotation(angle * Vector3d::UnitY());
    const Vector3d lever = turned * (mesh.nodes[node] - arm.pivot);
    const Vector3d off = at.place[node] - (arm.pivot + lever),
                   twist = rotation_vector(turned.transpose() * at.turn[node]);
    s.energy += (off.cwiseProduct(shift).dot(off) + spin * twist.squaredNorm()) / 2;
    const Vector3d force = -shift.cwiseProduct(off), moment = -spin * (turned * twist); // on the bar
    s.right[node].col(0).head<3>() += force;
    s.right[node].col(0).tail<3>() += moment;
    s.right[node].col(1).head<3>() += (step / far) * shift.cwiseProduct(Vector3d::UnitY().cross(lever));
    s.right[node].col(1).tail<3>() += spin * (step / far) * Vector3d::UnitY();
    s.chain.diagonal[node].diagonal().head<3>() += shift;
    s.chain.diagonal[node].diagonal().tail<3>().array() += spin;
    at.link_force[e] = -(lever.cross(force) + moment).y() / far;
}

linkage::Travel own_and_other(const Eigen::Vector2d& travel, std::size_t end) {
    return {travel[static_cast<int>(end)], travel[static_cast<int>(1 - end)]};
}

void add_pull(System& s, const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, double load,
              const Eigen::Vector2d& step, double load_step, Posture& at) {
    for (std::size_t e = 0; e < 2; ++e) {
        const std::size_t node = mesh.eyes[e];
        auto g = s.right[node].col(0).head<3>();
        auto ahead = s.right[node].col(1).head<3>();
        g += load * pull.force[e];
        ahead += load_step * pull.force[e];
        auto block = s.chain.diagonal[node].topLeftCorner<3, 3>();
        if (pull.hold[e] > 0) {
            const Vector3d u = at.place[node] - mesh.nodes[node];
            s.energy += pull.hold[e] * u.z() * u.z() / 2;
            g.z() -= pull.hold[e] * u.z();
            block(2, 2) += pull.hold[e];
        }
        if (pull.arms[e])
            add_arm(s, mesh, *pull.arms[e], e, travel[static_cast<int>(e)], step[static_cast<int>(e)], at);
        if (!pull.rods[e]) continue;
        const Rod& rod = *pull.rods[e];
        const auto to = linkage::pickup(rod.path, own_and_other(travel, e));
        if (!to) {
            s.energy = std::numeric_limits<double>::quiet_NaN(); // the path has ended
            return;
        }
        const Vector3d along = at.place[node] - to->place;
        const double length = along.norm(), force = rod.rate * (length - rod.length);
        const Vector3d n = along / length;
        at.link_force[e] = force;
        s.energy += force * force / (2 * rod.rate);
        const Matrix3d k = rod.rate * n * n.transpose() + force / length * (Matrix3d::Identity() - n * n.transpose());
        g -= force * n;
        block += k;
        const linkage::Travel by = own_and_other(step, e);
        ahead += k * (by.own * to->rate[0] + by.other * to->rate[1]);
    }
}

System assemble(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, double load,
                const Eigen::Vector2d& step, double load_step, Posture& at) {
    const auto n = mesh.nodes.size();
    System s{{std::vector<Matrix6>(n, Matrix6::Zero()), std::vector<Matrix6>(n - 1)},
             std::vector<Pair6>(n, Pair6::Zero()),
             0};
    for (std::size_t i = 0; i + 1 < n; ++i) {
        const Variation v = vary(mesh.pieces[i], at.place[i], at.turn[i], at.place[i + 1], at.turn[i + 1]);
        s.energy += v.energy;
        s.right[i].col(0) -= v.a;
        s.right[i + 1].col(0) -= v.b;
        s.chain.diagonal[i] += v.aa;
        s.chain.above[i] = v.ab;
        s.chain.diagonal[i + 1] += v.bb;
        at.end[i] = v.force;
        at.end[i].tail<3>() -= (mesh.pieces[i].chord / 2).cross(v.force.head<3>());
    }
    add_mounts(s, mesh, at);
    add_pull(s, mesh, pull, travel, load, step, load_step, at);
    return s;
}

/// Moves every node by its shift and spin. The pieces turn as their ends do in the mean and are laid end to end
/// outwards from the middle, so that even a large turn does not stretch them.
void move(Posture& at, const std::vector<Pair6>& by, int column, double part) {
    const std::size_t n = by.size(), middle = n / 2;
    const std::vector<Vector3d> before = at.place;
    const auto shift = [&](std::size_t i) -> Vector3d { return part * by[i].col(column).head<3>(); };
    const auto spin = [&](std::size_t i) -> Vector3d { return part * by[i].col(column).tail<3>(); };
    const auto to_next = [&](std::size_t i) -> Vector3d {
        const Vector3d turned = (spin(i) + spin(i + 1)) / 2, r = before[i + 1] - before[i];
        return rotation(turned) * (r + shift(i + 1) - shift(i) - turned.cross(r));
    };
    at.place[middle] += shift(middle);
    for (std::size_t i = middle; i + 1 < n; ++i) at.place[i + 1] = at.place[i] + to_next(i);
    for (std::size_t i = middle; i-- > 0;) at.place[i] = at.place[i + 1] - to_next(i);
    for (std::size_t i = 0; i < n; ++i) at.turn[i] = rotation(spin(i)) * at.turn[i];
}

struct Size {
    double shift = 0, spin = 0;
};
Size size_of(const std::vector<Pair6>& by, int column) {
    Size out;
    for (const Pair6& p : by) {
        out.shift = std::max(out.shift, p.col(column).head<3>().cwiseAbs().maxCoeff());
        out.spin = std::max(out.spin, p.col(column).tail<3>().cwiseAbs().maxCoeff());
    }
    return out;
}

/// Solves the system, leaning on its diagonal as little as makes it definite.
bool solve_leaning(const System& s, std::vector<Pair6>& x) {
    for (const double lean : {1e-10, 1e-5, 1e-3, 1e-1}) {
        BlockChain chain = s.chain;
        for (Matrix6& d : chain.diagonal) d.diagonal() *= 1 + lean;
        x = s.right;
        if (chain.solve(x)) return true;
    }
    return false;
}
} // namespace

Mesh mesh(const Solution& s) {
    Mesh out;
    out.solution = &s;
    out.first = s.stations.front();
    for (std::size_t i = out.first; i <= s.stations.back(); ++i) out.nodes.push_back(s.node(i));
    for (std::size_t i = out.first; i < s.stations.back(); ++i) {
        const Element& e = s.elements[i];
        const Vector3d chord = e.stretch.to - e.stretch.from;
        Matrix6 f = e.flexibility;
        carry(f, -chord / 2);
        out.pieces.push_back({inverse(f), chord});
    }
    for (std::size_t e = 0; e < 2; ++e) out.eyes[e] = s.node_of_point[s.bar.eyes[e]] - out.first;
    for (const Mount& m : s.bar.mounts) out.mounts.push_back(s.node_of_point[m.point] - out.first);
    return out;
}

namespace {
/// settle(), and the motion per `step` of travel and load from there in `ahead`.
Posture settle_along(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, double load,
                     const Eigen::Vector2d& step, double load_step, Posture at) {
    at.converged = false;
    std::vector<Pair6> by;
    for (int i = 0; i < 60; ++i) {
        const System s = assemble(mesh, pull, travel, load, step, load_step, at);
        at.energy = s.energy;
        if (!std::isfinite(s.energy) || !solve_leaning(s, by)) return at;
        const Size size = size_of(by, 0);
        // The forces are those of before this last step: it must be nothing to them.
        at.converged = size.shift < 1e-10 && size.spin < 1e-9;
        move(at, by, 0, std::min({1.0, 0.06 / size.shift, 0.25 / size.spin}));
        if (at.converged) break;
    }
    at.ahead = by;
    return at;
}

Posture at_rest(const Mesh& mesh) {
    Posture at;
    at.place = mesh.nodes;
    at.turn.assign(mesh.nodes.size(), Matrix3d::Identity());
    at.end.assign(mesh.pieces.size(), Vector6::Zero());
    return at;
}

/// From rest to `far` in equal steps; `each` takes the travel and posture of every one. Ends where the bar cannot
/// follow.
template <class F>
Posture walk(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& far, int steps, const F& each) {
    const Eigen::Vector2d step = far / steps;
    Posture at = at_rest(mesh);
    for (int i = 0; i <= steps; ++i) {
        if (i > 0) move(at, at.ahead, 1, 1);
        at = settle_along(mesh, pull, i * step, 1, step, 0, std::move(at));
        if (!at.converged) break;
        each(i * step, at);
    }
    return at;
}

/// The worst angle between a link and the way its eye goes round the mounts' axis.
double off_square(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, const Posture& at) {
    Vector3d axis = Vector3d::Zero();
    for (std::size_t m : mesh.mounts) axis += at.place[m] / static_cast<double>(mesh.mounts.size());
    double worst = 0;
    for (std::size_t e = 0; e < 2; ++e) {
        if (!pull.rods[e]) continue;
        const auto to = linkage::pickup(pull.rods[e]->path, own_and_other(travel, e));
        if (!to) continue;
        const Vector3d eye = at.place[mesh.eyes[e]];
        const Vector3d link = (eye - to->place).normalized();
        const Vector3d way = Vector3d::UnitY().cross(eye - axis).normalized();
        worst = std::max(worst, std::acos(std::min(1.0, std::abs(link.dot(way)))));
    }
    return worst;
}
} // namespace

Posture settle(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, double load, const Posture* start) {
    return settle_along(mesh, pull, travel, load, {0, 0}, 0, start ? *start : at_rest(mesh));
}

Posture reach(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel) {
    constexpr double stride = 0.04;
    const int steps = std::max(1, static_cast<int>(std::ceil(travel.cwiseAbs().maxCoeff() / stride)));
    return walk(mesh, pull, travel, steps, [](const Eigen::Vector2d&, const Posture&) {});
}

void spread(const Mesh& mesh, const Posture& at, std::vector<Vector3d>& nodes, std::vector<Vector6>& end) {
    const Solution& s = *mesh.solution;
    const auto along = [&](std::size_t node, std::size_t of_mesh) {
        return Vector3d(at.place[of_mesh] + at.turn[of_mesh] * (s.node(node) - mesh.nodes[of_mesh]));
    };
    const std::size_t last = mesh.first + mesh.pieces.size();
    for (std::size_t i = 0; i < nodes.size(); ++i)
        nodes[i] = i < mesh.first ? along(i, 0) : i > last ? along(i, mesh.pieces.size()) : at.place[i - mesh.first];
    std::copy(at.end.begin(), at.end.end(), end.begin() + static_cast<std::ptrdiff_t>(mesh.first));
}

std::vector<TravelPoint> sweep(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& far, int steps) {
    std::vector<TravelPoint> out;
    std::vector<Vector6> ends(mesh.solution->elements.size(), Vector6::Zero());
    walk(mesh, pull, far, steps, [&](const Eigen::Vector2d& travel, const Posture& at) {
        std::copy(at.end.begin(), at.end.end(), ends.begin() + static_cast<std::ptrdiff_t>(mesh.first));
        TravelPoint point{travel,
                          {at.link_force[0], at.link_force[1]},
                          {},
                          off_square(mesh, pull, travel, at),
                          worst(stress(*mesh.solution, ends))};
        for (std::size_t e = 0; e < 2; ++e) {
            Vector3d way(0, 0, 1);
            if (pull.rods[e])
                if (const auto rest = linkage::pickup(pull.rods[e]->path, {}); rest && !rest->rate[0].isZero())
                    way = rest->rate[0].normalized();
            point.eye_travel[static_cast<int>(e)] = way.dot(at.place[mesh.eyes[e]] - mesh.nodes[mesh.eyes[e]]);
        }
        out.push_back(point);
    });
    return out;
}

} // namespace dervish::bar
