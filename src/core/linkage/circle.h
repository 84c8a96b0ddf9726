#pragma once
#include "core/linkage/linkage.h"

#include <Eigen/Geometry>
#include <cmath>

/// What the linkage is worked out with; not for its users.
namespace dervish::linkage {

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
    /// Where the branches meet, or came nearest to it: on the line through the far point, on its near or far side.
    Turn dead() const {
        const double h = (c > 0 ? 1 : -1) * std::sqrt(square());
        return {a / h, b / h};
    }
};

inline Closing closing(const BarEnd& end, const Circle& circle, const Vector3d& to) {
    const Vector3d d = circle.centre - to;
    return {d.dot(circle.u), d.dot(circle.v), (end.link * end.link - circle.u.squaredNorm() - d.squaredNorm()) / 2};
}

/// An arm's two circles, built once for many travels.
struct ArmCircles {
    Circle wheel, own;
};
using ReadyPath = std::variant<ArmCircles, Straight, OnAxle, Measured>;
ReadyPath ready(const Path& path);
std::optional<Pickup> follow(const ReadyPath& path, const Travel& travel);

/// follow(), straight on beyond the path's end; `reached` is cleared there.
Pickup follow_on(const ReadyPath& path, Travel travel, bool& reached);

/// A direction on what carries the pick-up, as it points at a travel, and how it turns by the two wheels' travels:
/// first derivatives, and second ones by own twice, by both, and by other twice.
struct Carried {
    Vector3d way;
    std::array<Vector3d, 2> rate;
    std::array<Vector3d, 3> bend;
};
Carried carried(const ReadyPath& path, const Travel& travel, const Pickup& at, const Vector3d& way);

} // namespace dervish::linkage
