#include "core/linkage/law.h"

#include "core/linkage/circle.h"

#include <Eigen/LU>
#include <algorithm>

namespace dervish::linkage {
using Eigen::Matrix2d;
using Eigen::Vector2d;

struct Law::Inner {
    PerSide<BarEnd> ends;
    PerSide<Circle> circle;
    PerSide<ReadyPath> path;
    PerSide<Branch> branch;
    PerSide<double> radius;
    PerSide<std::array<double, 2>> most_lean; ///< along the stud, by end and joint, m; infinite: not known
};

namespace {
constexpr double close_enough = 2e-5; // rad that the arms may still have to go; its square counts

struct Turned {
    Vector3d eye, way, back; ///< its place, first and second derivative by its turn
    Turned(const Circle& c, const Turn& t) {
        eye = c.at(t);
        way = c.slope(t);
        back = c.centre - eye;
    }
};

/// A spring that carries nothing for `slack` each way.
struct Slack {
    double energy, force, rate;
    Slack(double k, double stretch, double slack) {
        const double past = stretch > slack ? stretch - slack : stretch < -slack ? stretch + slack : 0;
        energy = k * past * past / 2;
        force = k * past;
        rate = std::abs(stretch) < slack ? 0 : k;
    }
};

/// An energy of one end, over (turn, own travel, other travel).
struct Terms {
    double energy = 0, tension = 0, sideways = 0;
    Vector3d slope = Vector3d::Zero();
    Eigen::Matrix3d curve = Eigen::Matrix3d::Zero();
};

Terms link_terms(const BarEnd& end, const Turned& arm, const Pickup& to, double rate, double play, bool whole) {
    Terms out;
    const Vector3d d = arm.eye - to.place;
    const double length = d.norm();
    const Vector3d n = d / length;
    const Slack spring(rate, length - end.link, play / 2);
    out.energy = spring.energy;
    out.tension = spring.force;
    // d = e(θ) − p(s): its first derivatives, and the second ones along n.
    const Vector3d by[3] = {arm.way, -to.rate[0], -to.rate[1]};
    const double n_by[3] = {n.dot(by[0]), n.dot(by[1]), n.dot(by[2])};
    const int count = whole ? 3 : 1; // the arm's turn alone
    for (int i = 0; i < count; ++i) {
        out.slope[i] = spring.force * n_by[i];
        for (int j = i; j < count; ++j)
            out.curve(i, j) = out.curve(j, i) =
                spring.rate * n_by[i] * n_by[j] + spring.force * (by[i].dot(by[j]) - n_by[i] * n_by[j]) / length;
    }
    out.curve(0, 0) += spring.force * n.dot(arm.back);
    if (!whole) return out;
    out.curve(1, 1) -= spring.force * n.dot(to.bend[0]);
    out.curve(2, 2) -= spring.force * n.dot(to.bend[2]);
    out.curve(1, 2) -= spring.force * n.dot(to.bend[1]);
    out.curve(2, 1) = out.curve(1, 2);
    return out;
}

/// A direction that a lean is measured along, with its derivatives by turn, own and other travel.
struct LeanAxis {
    Vector3d way, rate[3], bend[3][3];
    explicit LeanAxis(const Vector3d& w) : way(w) {
        for (int i = 0; i < 3; ++i) {
            rate[i].setZero();
            for (Vector3d& b : bend[i]) b.setZero();
        }
    }
};

/// A link's length with its direction, from pick-up to eye, with its derivatives by turn, own and other travel.
struct Span {
    Vector3d d, by[3], bend[3][3];
    Span(const Turned& arm, const Pickup& to) : d(arm.eye - to.place), by{arm.way, -to.rate[0], -to.rate[1]} {
        for (auto& row : bend)
            for (Vector3d& b : row) b.setZero();
        bend[0][0] = arm.back;
        bend[1][1] = -to.bend[0];
        bend[1][2] = bend[2][1] = -to.bend[1];
        bend[2][2] = -to.bend[2];
    }
};

/// A joint at its stop holds the link from leaning further along its stud.
void add_stop(Terms& out, double most, double rate, const Span& link, const LeanAxis& stud) {
    const Slack stop(rate, link.d.dot(stud.way), most);
    Vector3d slope;
    for (int i = 0; i < 3; ++i) slope[i] = link.by[i].dot(stud.way) + link.d.dot(stud.rate[i]);
    out.energy += stop.energy;
    out.sideways = std::max(out.sideways, std::abs(stop.force));
    out.slope += stop.force * slope;
    for (int i = 0; i < 3; ++i)
        for (int j = 0; j < 3; ++j)
            out.curve(i, j) += stop.rate * slope[i] * slope[j] +
                               stop.force * (link.bend[i][j].dot(stud.way) + link.by[i].dot(stud.rate[j]) +
                                             link.by[j].dot(stud.rate[i]) + link.d.dot(stud.bend[i][j]));
}

void add_stops(Terms& out, const BarEnd& end, const std::array<double, 2>& most, const Circle& circle,
               const Turned& arm, const Pickup& to, const std::optional<Carried>& below, double rate) {
    const auto at_stop = [d = Vector3d(arm.eye - to.place)](double limit, const Vector3d& way) {
        return std::abs(d.dot(way)) >= limit;
    };
    if (std::isfinite(most[0])) {
        const double r2 = circle.u.squaredNorm(), r = std::sqrt(r2);
        const bool sideways = end.joints[0].stud == Stud::Sideways;
        const Vector3d way = sideways ? Vector3d(circle.u.cross(circle.v) / r2) : Vector3d(-arm.back / r);
        if (at_stop(most[0], way)) {
            LeanAxis stud(way);
            if (!sideways) {
                stud.rate[0] = arm.way / r;
                stud.bend[0][0] = arm.back / r;
            }
            add_stop(out, most[0], rate, Span(arm, to), stud);
        }
    }
    if (!below || !at_stop(most[1], below->way)) return;
    LeanAxis stud(below->way);
    stud.rate[1] = below->rate[0];
    stud.rate[2] = below->rate[1];
    stud.bend[1][1] = below->bend[0];
    stud.bend[1][2] = stud.bend[2][1] = below->bend[1];
    stud.bend[2][2] = below->bend[2];
    add_stop(out, most[1], rate, Span(arm, to), stud);
}

/// A turn some way on; small ones without an angle's sine and cosine.
Turn turned_on(const Turn& from, double by) {
    const double b2 = by * by;
    const Turn small(1 - b2 / 2 + b2 * b2 / 24, by * (1 - b2 / 6 + b2 * b2 / 120));
    const Turn step = b2 < 1e-3 ? small : Turn(by);
    return {from.cosine * step.cosine - from.sine * step.sine, from.sine * step.cosine + from.cosine * step.sine};
}
} // namespace

Law::Law(const PerSide<BarEnd>& ends, const Springs& springs) : springs_(springs) {
    const PerSide<Branch> branch{branch_needed(ends[0], true), branch_needed(ends[1], false)};
    PerSide<Circle> circle{Circle(ends[0].mounts, ends[0].eye), Circle(ends[1].mounts, ends[1].eye)};
    PerSide<std::array<double, 2>> most{};
    for (std::size_t e = 0; e < 2; ++e)
        for (std::size_t j = 0; j < 2; ++j)
            most[e][j] = ends[e].joints[j].limit < units::pi / 2 ? ends[e].link * std::sin(ends[e].joints[j].limit)
                                                                 : std::numeric_limits<double>::infinity();
    inner_ = std::make_shared<Inner>(Inner{ends,
                                           circle,
                                           {ready(ends[0].path), ready(ends[1].path)},
                                           branch,
                                           {circle[0].u.norm(), circle[1].u.norm()},
                                           most});
}

const PerSide<BarEnd>& Law::ends() const { return inner_->ends; }
const Springs& Law::springs() const { return springs_; }
Branch Law::branch(std::size_t end) const { return inner_->branch[end]; }
void Law::set_bar(const Matrix2d& bar) { springs_.bar = bar; }

Answer Law::operator()(const Vector2d& travel) const {
    const Inner& in = *inner_;
    Answer out;
    const Travel to[2] = {{travel[0], travel[1]}, {travel[1], travel[0]}};
    const Pickup at[2] = {follow_on(in.path[0], to[0], out.reached), follow_on(in.path[1], to[1], out.reached)};
    const Vector2d radius(in.radius[0], in.radius[1]);
    std::array<std::optional<Carried>, 2> below;
    PerSide<Turn> at_turn{Turn(1, 0), Turn(1, 0)};
    for (std::size_t e = 0; e < 2; ++e) {
        const Joint& joint = in.ends[e].joints[1];
        if (std::isfinite(in.most_lean[e][1]))
            below[e] = carried(in.path[e], to[e], at[e],
                               joint.stud == Stud::Sideways
                                   ? Vector3d(in.circle[e].u.cross(in.circle[e].v) / (in.radius[e] * in.radius[e]))
                                   : Vector3d(Vector3d::UnitX()));
        const Closing c = closing(in.ends[e], in.circle[e], at[e].place);
        at_turn[e] = c.closes() ? c.turn(in.branch[e]) : c.dead();
    }
    Vector2d turn(at_turn[0].angle(), at_turn[1].angle());
    PerSide<Terms> ends;
    Matrix2d hessian;
    Vector2d slope;
    const auto evaluate = [&](const Vector2d& by, bool whole) {
        const Vector2d turned = turn + by;
        out.energy = 0;
        for (std::size_t e = 0; e < 2; ++e) {
            const Turned arm(in.circle[e], turned_on(at_turn[e], by[static_cast<int>(e)]));
            ends[e] = link_terms(in.ends[e], arm, at[e], springs_.link[e], springs_.play[e], whole);
            add_stops(ends[e], in.ends[e], in.most_lean[e], in.circle[e], arm, at[e], below[e], springs_.link[e]);
            out.energy += ends[e].energy;
        }
        out.strain = radius.cwiseProduct(turned - Vector2d(springs_.unstrained[0], springs_.unstrained[1]));
        const Vector2d bar = springs_.bar * out.strain;
        out.energy += bar.dot(out.strain) / 2;
        slope = radius.cwiseProduct(bar) + Vector2d(ends[0].slope[0], ends[1].slope[0]);
        hessian = radius.asDiagonal() * springs_.bar * radius.asDiagonal();
        hessian(0, 0) += ends[0].curve(0, 0);
        hessian(1, 1) += ends[1].curve(0, 0);
        // Both links slack leave the bar free to turn: a hair of the bar's own stiffness keeps it where it is, and of
        // anything where the bar has none.
        hessian.diagonal().array() += 1e-9 * hessian.trace() + 1e-9;
    };
    const auto newton = [&]() -> Vector2d {
        Matrix2d h = hessian;
        const double scale = std::max(h.diagonal().cwiseAbs().maxCoeff(), 1e-6);
        double raise = 1e-6 * scale;
        for (int i = 0; i < 40 && !(h.determinant() > 0 && h(0, 0) > 0); ++i, raise *= 8) h.diagonal().array() += raise;
        return -h.inverse() * slope;
    };
    evaluate(Vector2d::Zero(), false);
    Vector2d step = newton();
    for (int i = 0; i < 60; ++i) {
        const double largest = step.cwiseAbs().maxCoeff();
        if (largest > 0.2) step *= 0.2 / largest;
        const double before = out.energy, down = slope.dot(step);
        double part = 1;
        for (int halving = 0; halving < 30; ++halving, part /= 2) {
            evaluate(part * step, true);
            if (out.energy <= before + 1e-4 * part * down + 1e-12 * before) break;
        }
        turn += part * step;
        for (std::size_t e = 0; e < 2; ++e) at_turn[e] = turned_on(at_turn[e], part * step[static_cast<int>(e)]);
        step = newton();
        if (!(step.cwiseAbs().maxCoeff() > close_enough) || part * largest < 1e-12) break;
    }
    // The arms have settled, so the energy's slope by travel is its partial one; its curve sheds what they take up.
    // What little they still have to go is allowed for to first order, so its square is left.
    Eigen::Matrix<double, 2, 2> cross;
    for (int e = 0; e < 2; ++e) {
        const Terms& t = ends[static_cast<std::size_t>(e)];
        const int own = e, other = 1 - e;
        out.force[own] += t.slope[1];
        out.force[other] += t.slope[2];
        out.rate(own, own) += t.curve(1, 1);
        out.rate(other, other) += t.curve(2, 2);
        out.rate(0, 1) += t.curve(1, 2);
        out.rate(1, 0) += t.curve(1, 2);
        cross(e, own) = t.curve(0, 1);
        cross(e, other) = t.curve(0, 2);
        out.link[e] = t.tension;
        out.bound[e] = t.sideways;
    }
    out.rate -= cross.transpose() * hessian.inverse() * cross;
    out.force += cross.transpose() * step;
    out.energy += slope.dot(step) / 2;
    out.turn = turn + step;
    return out;
}

} // namespace dervish::linkage
