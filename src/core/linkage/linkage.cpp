#include "core/linkage/linkage.h"

#include "core/units/units.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

namespace dervish::linkage {
namespace {
/// An angle by its cosine and sine.
struct Turn {
    double cosine, sine;
    explicit Turn(double angle) : cosine(std::cos(angle)), sine(std::sin(angle)) {}
    Turn(double c, double s) : cosine(c), sine(s) {}
    double angle() const { return std::atan2(sine, cosine); }
};

/// A point's circle about an axis: centre + cos θ · u + sin θ · v.
struct Circle {
    Vector3d centre, u, v;
    Circle(const std::array<Vector3d, 2>& axis, const Vector3d& point) {
        const Vector3d along = (axis[1] - axis[0]).normalized();
        centre = axis[0] + along * along.dot(point - axis[0]);
        u = point - centre;
        v = along.cross(u);
    }
    Vector3d at(const Turn& t) const { return centre + t.cosine * u + t.sine * v; }
    Vector3d slope(const Turn& t) const { return t.cosine * v - t.sine * u; }
};

/// a cos θ + b sin θ = c. With (a, b) = h (cos β, sin β): θ = β ± acos(c/h), worked out without an angle.
struct Closing {
    double a, b, c;
    double square() const { return a * a + b * b; }
    bool closes() const { return c * c <= square() && square() > 0; }
    Turn turn(Branch branch) const {
        const double root = std::sqrt(square() - c * c), side = branch == Branch::First ? root : -root;
        return {(a * c - b * side) / square(), (b * c + a * side) / square()};
    }
};

Closing closing(const End& end, const Circle& circle, const Vector3d& to) {
    const Vector3d d = circle.centre - to;
    return {d.dot(circle.u), d.dot(circle.v), (end.link * end.link - circle.u.squaredNorm() - d.squaredNorm()) / 2};
}

/// An arm's two circles, built once for many travels.
struct ArmCircles {
    Circle wheel, own;
};

std::optional<Pickup> follow(const ArmCircles& arm, const Travel& travel, double) {
    const Closing rise(arm.wheel.u.z(), arm.wheel.v.z(), arm.wheel.u.z() + travel.own);
    if (!rise.closes()) return {};
    // From ride height (θ = 0) without passing a dead point.
    const Turn turn = rise.turn(rise.b < 0 ? Branch::First : Branch::Second);
    return Pickup{arm.own.at(turn), arm.own.slope(turn) / arm.wheel.slope(turn).z()};
}

std::optional<Pickup> follow(const Straight& s, const Travel& travel, double) {
    return Pickup{s.pickup + travel.own * s.per_travel, s.per_travel};
}

std::optional<Pickup> follow(const OnAxle& a, const Travel& travel, double other_rate) {
    const double side = a.pickup.y() < a.middle.y() ? -1 : 1; // travels are this end's and the other's
    const double sine = side * (travel.own - travel.other) / a.track;
    if (std::abs(sine) >= 1) return {};
    const double cosine = std::sqrt(1 - sine * sine), lean_rate = side * (1 - other_rate) / a.track / cosine;
    const Vector3d arm = a.pickup - a.middle;
    const Vector3d turned(arm.x(), cosine * arm.y() - sine * arm.z(), sine * arm.y() + cosine * arm.z());
    return Pickup{a.middle + turned + Vector3d(0, 0, (travel.own + travel.other) / 2),
                  lean_rate * Vector3d::UnitX().cross(turned) + Vector3d(0, 0, (1 + other_rate) / 2)};
}

std::optional<Pickup> follow(const Measured& m, const Travel& travel, double) {
    const auto& p = m.points;
    const auto n = p.size();
    if (n < 2 || travel.own < p.front().travel || travel.own > p.back().travel) return {};
    std::size_t i = 0;
    while (i + 2 < n && travel.own > p[i + 1].travel) ++i;
    const auto mean = [&](std::size_t k) -> Vector3d {
        const std::size_t a = k == 0 ? 0 : k - 1, b = std::min(k + 1, n - 1);
        return (p[b].pickup - p[a].pickup) / (p[b].travel - p[a].travel);
    };
    const double h = p[i + 1].travel - p[i].travel, t = (travel.own - p[i].travel) / h;
    const Vector3d &a = p[i].pickup, &b = p[i + 1].pickup, ma = h * mean(i), mb = h * mean(i + 1);
    const double t2 = t * t, t3 = t2 * t;
    return Pickup{(2 * t3 - 3 * t2 + 1) * a + (t3 - 2 * t2 + t) * ma + (3 * t2 - 2 * t3) * b + (t3 - t2) * mb,
                  ((6 * t2 - 6 * t) * (a - b) + (3 * t2 - 4 * t + 1) * ma + (3 * t2 - 2 * t) * mb) / h};
}

template <class P> const P& ready(const P& path) { return path; }
ArmCircles ready(const Arm& arm) { return {Circle(arm.axis, arm.wheel), Circle(arm.axis, arm.pickup)}; }

double angle_between_lines(const Vector3d& a, const Vector3d& b) {
    const double size = std::sqrt(a.squaredNorm() * b.squaredNorm());
    return size > 0 ? std::acos(std::min(1.0, std::abs(a.dot(b)) / size)) : units::pi / 2;
}
} // namespace

std::optional<Pickup> pickup(const Path& path, const Travel& travel, double other_rate) {
    return std::visit([&](const auto& p) { return follow(ready(p), travel, other_rate); }, path);
}

std::optional<Branch> branch_at_rest(const End& end) {
    const auto to = pickup(end.path, {});
    if (!to) return {};
    const Closing c = closing(end, Circle(end.mounts, end.eye), to->place);
    if (!c.closes()) return {};
    return c.turn(Branch::First).cosine >= c.turn(Branch::Second).cosine ? Branch::First : Branch::Second;
}

namespace {
std::optional<Position> closed(const End& end, const Circle& circle, Branch branch, const std::optional<Pickup>& to) {
    if (!to) return {};
    const Closing c = closing(end, circle, to->place);
    if (!c.closes()) return {};
    Position out;
    const Turn turn = c.turn(branch);
    out.turn = turn.angle();
    out.eye = circle.at(turn);
    out.pickup = to->place;
    const Vector3d link = out.eye - out.pickup, way = circle.slope(turn);
    out.off_square = angle_between_lines(link, way);
    out.off_pickup = angle_between_lines(link, to->rate);
    const double along = link.dot(to->rate);
    out.motion_ratio = along / end.link;
    out.turn_rate = along / link.dot(way); // |link| does not change
    return out;
}
} // namespace

std::optional<Position> at(const End& end, Branch branch, const Travel& travel, double other_rate) {
    return closed(end, Circle(end.mounts, end.eye), branch, pickup(end.path, travel, other_rate));
}

double reach_left(const End& end, const Travel& travel) {
    const auto to = pickup(end.path, travel);
    if (!to) return -1;
    // The eye's circle is nearest and furthest where its plane's radius points at the pick-up.
    const Circle circle(end.mounts, end.eye);
    const Vector3d d = to->place - circle.centre;
    const double r = circle.u.norm(), along = d.dot((end.mounts[1] - end.mounts[0]).normalized());
    const double across = std::sqrt(std::max(0.0, d.squaredNorm() - along * along));
    return std::min(std::hypot(across + r, along) - end.link, end.link - std::hypot(across - r, along));
}

Travel in_mode(Mode mode, double own) { return {own, mode == Mode::Roll ? -own : mode == Mode::Bump ? own : 0}; }

namespace {
constexpr double closest = 1e-9; // m

/// The lowest place of f between a and b, where it has one dip (golden section).
template <class F> double lowest(F&& f, double a, double b) {
    const double part = (std::sqrt(5.0) - 1) / 2;
    double l = b - part * (b - a), r = a + part * (b - a), at_l = f(l), at_r = f(r);
    while (std::abs(b - a) > closest) {
        if (at_l < at_r) {
            b = r;
            r = l;
            at_r = at_l;
            at_l = f(l = b - part * (b - a));
        } else {
            a = l;
            l = r;
            at_l = at_r;
            at_r = f(r = a + part * (b - a));
        }
    }
    return (a + b) / 2;
}

/// The last place from `good` towards `bad` where f is not below 0. By halves: the end of a path is a jump.
template <class F> double last_good(F&& f, double good, double bad) {
    while (std::abs(bad - good) > closest) {
        const double middle = (good + bad) / 2;
        (f(middle) < 0 ? bad : good) = middle;
    }
    return good;
}
} // namespace

std::optional<double> over_centre(const End& end, Mode mode, double far) {
    constexpr int steps = 64;
    const auto left = [&](double own) { return reach_left(end, in_mode(mode, own)); };
    const auto place = [&](int i) { return far * i / steps; };
    double before = left(0), last = before;
    if (last < 0) return 0;
    for (int i = 1; i <= steps; ++i) {
        const double now = left(place(i));
        if (now < 0) return last_good(left, place(i - 1), place(i));
        if (i > 1 && last <= before && last <= now) { // a dip that may go below between the steps
            const double bottom = lowest(left, place(i - 2), place(i));
            if (left(bottom) < 0) return last_good(left, place(i - 2), bottom);
        }
        before = last;
        last = now;
    }
    return {};
}

std::vector<Position> sweep(const End& end, Branch branch, Mode mode, double from, double to, int count) {
    std::vector<Position> out;
    out.reserve(static_cast<std::size_t>(count));
    const double other_rate = mode == Mode::Roll ? -1 : mode == Mode::Bump ? 1 : 0;
    const Circle circle(end.mounts, end.eye);
    std::visit(
        [&](const auto& p) {
            const auto& path = ready(p);
            for (int i = 0; i < count; ++i) {
                const Travel travel = in_mode(mode, from + (to - from) * i / (count - 1));
                const auto position = closed(end, circle, branch, follow(path, travel, other_rate));
                if (!position) break;
                out.push_back(*position);
            }
        },
        end.path);
    return out;
}

std::optional<double> length_for(const End& end, double turn, const Travel& travel) {
    const auto to = pickup(end.path, travel);
    if (!to) return {};
    return (Circle(end.mounts, end.eye).at(Turn(turn)) - to->place).norm();
}

} // namespace dervish::linkage
