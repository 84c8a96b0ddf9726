#include "core/flex/scene.h"

#include <Eigen/Geometry>
#include <cmath>

namespace dervish::flex {
namespace {
/// Turned by pitch and roll as the equilibrium has it.
Vector3d turned(const Vector3d& v, double pitch, double roll) {
    return Eigen::AngleAxisd(pitch, Vector3d::UnitY()) * (Eigen::AngleAxisd(roll, Vector3d::UnitX()) * v);
}

struct Axle {
    const car::Axle& of;
    double x;
    std::size_t end;
};

WheelPlace place(const car::Car& car, const car::State& s, const Axle& a, std::size_t side) {
    const double sign = side == 0 ? 1 : -1, y = sign * a.of.track / 2, high = a.of.unsprung_height;
    const double left = s.wheels[2 * a.end].travel, right = s.wheels[2 * a.end + 1].travel;
    const double roll = s.roll[a.end];
    if (a.of.kind == AxleKind::Independent)
        return {on_body(car, s, {a.x, y, high + (side == 0 ? left : right)}), turned(Vector3d::UnitZ(), s.pitch, roll),
                high};
    // Heave and roll of the axle about the roll centre's point.
    const double lean = std::asin(std::clamp((left - right) / a.of.track, -1.0, 1.0));
    const Vector3d middle = on_body(car, s, {a.x, 0, a.of.roll_centre_height + (left + right) / 2});
    return {middle + turned({0, y, high - a.of.roll_centre_height}, s.pitch, roll + lean),
            turned(Vector3d::UnitZ(), s.pitch, roll + lean), high};
}

std::optional<BarPlace> bar_place(const car::Car& car, const car::State& s, const Axle& a) {
    if (!a.of.linkage) return {};
    BarPlace out;
    const linkage::Law& law = *a.of.linkage;
    for (std::size_t side = 0; side < 2; ++side) {
        const linkage::BarEnd& end = law.ends()[side];
        const double own = s.wheels[2 * a.end + side].travel, other = s.wheels[2 * a.end + 1 - side].travel;
        const auto rest = linkage::at(end, law.branch(side), {});
        const auto now = linkage::at(end, law.branch(side), {own, other});
        if (!rest) return {};
        const linkage::Position& at = now ? *now : *rest;
        // The pick-up at rest stands at the hub's height and beside it.
        const Vector3d origin(a.x - rest->pickup.x(), 0, a.of.unsprung_height - rest->pickup.z());
        const double inwards = 0.75 * at.eye.y();
        out.mount[side] = on_body(car, s, origin + Vector3d(end.mounts[side].x(), inwards, end.mounts[side].z()));
        out.eye[side] = on_body(car, s, origin + at.eye);
        out.pickup[side] = on_body(car, s, origin + at.pickup);
    }
    return out;
}
} // namespace

Vector3d on_body(const car::Car& car, const car::State& s, const Vector3d& level) {
    const car::Loaded l = car::loaded(car);
    const Vector3d centre(l.x, l.y, l.z);
    const double behind = std::clamp(-level.x() / car.wheelbase, 0.0, 1.0);
    const double roll = s.roll[0] + behind * (s.roll[1] - s.roll[0]);
    return centre + Vector3d(0, 0, s.heave) + turned(level - centre, s.pitch, roll);
}

Scene scene(const car::Car& car, const car::State& s) {
    Scene out;
    for (std::size_t end = 0; end < 2; ++end) {
        const Axle a{car[static_cast<End>(end)], end == 0 ? 0 : -car.wheelbase, end};
        const bool solid = a.of.kind == AxleKind::Solid;
        for (std::size_t side = 0; side < 2; ++side) {
            const double sign = side == 0 ? 1 : -1;
            const std::size_t w = 2 * end + side;
            out.wheel[w] = place(car, s, a, side);
            const double y = sign * (solid ? a.of.spring_base / 2 : 0.36 * a.of.track);
            out.seat[end][side] = on_body(car, s, {a.x, y, 2.1 * a.of.unsprung_height});
            out.inner[end][side] = on_body(car, s, {a.x, 0.2 * sign * a.of.track, a.of.unsprung_height});
        }
        for (std::size_t side = 0; side < 2; ++side) {
            const std::size_t w = 2 * end + side;
            const Vector3d& hub = out.wheel[w].centre;
            const Vector3d across = out.wheel[2 * end + 1 - side].centre - hub;
            if (solid) out.inner[end][side] = hub + 0.5 * across;
            const double in = solid ? (a.of.track - a.of.spring_base) / 2 / a.of.track : 0.22;
            out.foot[end][side] =
                solid ? Vector3d(hub + in * across) : Vector3d(hub + 0.5 * (out.inner[end][side] - hub));
        }
        out.bar[end] = bar_place(car, s, a);
    }
    return out;
}

} // namespace dervish::flex
