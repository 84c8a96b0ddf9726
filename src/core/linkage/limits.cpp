#include "core/linkage/limits.h"

#include "core/num/golden.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>

namespace dervish::linkage {
namespace {
using Kind = Margin::Kind;

/// A wheel's inner face as it stands: middle, way out, radius.
struct Face {
    Vector3d middle, out;
    double radius;
};

/// The nearest place of an obstacle's middle to a point, with the distance to its surface.
struct Near {
    double distance;
    Vector3d place;
};

Near near_ball(const Vector3d& p, const Vector3d& at, double radius) { return {(p - at).norm() - radius, at}; }

Near near_tube(const Vector3d& p, const Vector3d& at, double radius) {
    const Vector3d flat(at.x(), p.y(), at.z());
    return {(p - flat).norm() - radius, flat};
}

/// A disc that goes on outward from its inner face; inside it the distance is below 0.
Near near_wheel(const Vector3d& p, const Face& f) {
    const double along = (p - f.middle).dot(f.out);
    const Vector3d radial = p - f.middle - along * f.out;
    const double out = radial.norm() - f.radius;
    const Vector3d on_face = f.middle + (out > 0 ? Vector3d(radial * (f.radius / radial.norm())) : radial);
    if (along <= 0) return {out <= 0 ? -along : std::hypot(out, along), on_face};
    return {std::max(out, -along), on_face + along * f.out};
}

/// The nearest place on a line: the distance is convex along it.
template <class F> std::pair<Vector3d, Near> nearest(const Vector3d& a, const Vector3d& b, F&& f) {
    const auto at = [&](double t) { return Vector3d(a + t * (b - a)); };
    const double best = lowest_between([&](double t) { return f(at(t)).distance; }, 0, 1, 1e-5).x;
    return {at(best), f(at(best))};
}

/// Where an obstacle that was at `p` at ride height is now, seen from the bar: what the wheel carries rises with it or
/// leans with the axle; where the axle carries the bar, it is the body that moves.
Vector3d carried_on(const BarEnd& end, const Room& room, const Travel& travel, bool on_body, const Vector3d& p) {
    if (const OnAxle* axle = std::get_if<OnAxle>(&end.path); axle && room.coupled) {
        if (on_body != axle->bar_on_axle) return p; // goes with the bar
        OnAxle carried = *axle;
        carried.pickup = p;
        if (const auto now = pickup(carried, travel)) return now->place;
    }
    return on_body ? p : Vector3d(p + Vector3d(0, 0, travel.own));
}

Eigen::AngleAxisd steered(const Room& room, const Obstacle& o, const Travel& travel) {
    const bool steers = o.kind == Obstacle::Kind::Wheel && !o.on_body;
    return Eigen::AngleAxisd(steers ? travel.steer : 0, (room.kingpin[1] - room.kingpin[0]).normalized());
}

Face face_of(const BarEnd& end, const Room& room, const Obstacle& o, const Travel& travel) {
    const double side = o.at.y() < 0 ? -1 : 1;
    return {obstacle_at(end, room, o, travel), steered(room, o, travel) * Vector3d(0, side, 0), o.radius};
}

/// The bar's side, turned with its arm.
std::vector<Vector3d> bar_line(const BarEnd& end, const Room& room, double turn) {
    const Eigen::AngleAxisd by(turn, (end.mounts[1] - end.mounts[0]).normalized());
    std::vector<Vector3d> out;
    for (const Vector3d& p : room.bar) out.push_back(end.mounts[0] + by * (p - end.mounts[0]));
    return out;
}

Gap gap_to(const std::vector<Vector3d>& line, bool of_bar, double radius, const Obstacle& o, const Face* face,
           const Vector3d& at) {
    Gap out{&o, of_bar, std::numeric_limits<double>::infinity(), Vector3d::Zero(), Vector3d::Zero()};
    for (std::size_t i = 0; i + 1 < line.size(); ++i) {
        const auto [from, near] = nearest(line[i], line[i + 1], [&](const Vector3d& p) {
            if (face) return near_wheel(p, *face);
            return o.kind == Obstacle::Kind::Tube ? near_tube(p, at, o.radius) : near_ball(p, at, o.radius);
        });
        if (near.distance - radius < out.distance) {
            out.distance = near.distance - radius;
            out.from = from;
            // From the obstacle's middle out to its surface; a wheel is told by its face already.
            const Vector3d way = from - near.place;
            out.to = face || way.norm() == 0 ? near.place : Vector3d(near.place + way.normalized() * o.radius);
        }
    }
    return out;
}
} // namespace

Vector3d obstacle_at(const BarEnd& end, const Room& room, const Obstacle& o, const Travel& travel) {
    const Vector3d at = room.kingpin[0] + steered(room, o, travel) * (o.at - room.kingpin[0]);
    return carried_on(end, room, travel, o.on_body, at);
}

std::vector<Gap> gaps(const BarEnd& end, const Position& now, const Room& room, const Travel& travel) {
    std::vector<Gap> out;
    const std::vector<Vector3d> link{now.eye, now.pickup}, bar = bar_line(end, room, now.turn);
    for (const Obstacle& o : room.obstacles) {
        const bool wheel = o.kind == Obstacle::Kind::Wheel;
        Face face{};
        if (wheel) face = face_of(end, room, o, travel);
        const Vector3d at = obstacle_at(end, room, o, travel);
        out.push_back(gap_to(link, false, room.link_radius, o, wheel ? &face : nullptr, at));
        if (!bar.empty()) out.push_back(gap_to(bar, true, room.bar_radius, o, wheel ? &face : nullptr, at));
    }
    if (room.ground) {
        // The ground comes up as the body goes down; a bar on the axle keeps its height.
        const OnAxle* axle = std::get_if<OnAxle>(&end.path);
        const double rise =
            axle && axle->bar_on_axle ? 0 : (travel.own + (room.coupled ? travel.other : travel.own)) / 2;
        Gap lowest{nullptr, false, std::numeric_limits<double>::infinity(), Vector3d::Zero(), Vector3d::Zero()};
        const auto look = [&](const Vector3d& p, double radius, bool of_bar) {
            const double left = p.z() - radius - (*room.ground + rise);
            if (left < lowest.distance) lowest = {nullptr, of_bar, left, p, {p.x(), p.y(), *room.ground + rise}};
        };
        for (const Vector3d& p : link) look(p, room.link_radius, false);
        for (const Vector3d& p : bar) look(p, room.bar_radius, true);
        out.push_back(lowest);
    }
    return out;
}

Reach wheel_reach(const Room& room, Mode mode) {
    // One wheel alone: half its travel lifts the axle, half leans it, and the spring sees the lean by 1/spread.
    const double further = mode == Mode::Roll       ? room.spread
                           : mode == Mode::OneWheel ? 2 * room.spread / (1 + room.spread)
                                                    : 1;
    return {further * room.bump, further * room.droop};
}

std::vector<Travel> travels(const Room& room, int count) {
    std::vector<Travel> out;
    for (int i = 0; i < count; ++i) {
        const double spring = -room.droop + (room.bump + room.droop) * i / (count - 1);
        if (!room.coupled) {
            out.push_back({spring, spring, 0});
            continue;
        }
        const auto wheels = [&](double own, double other) {
            const double mean = (own + other) / 2, half = (own - other) / 2 * room.spread;
            out.push_back({mean + half, mean - half, 0});
        };
        wheels(spring, spring);
        wheels(spring, 0);
        wheels(spring, std::clamp(-spring, -room.droop, room.bump));
        wheels(spring, room.bump - room.droop - spring);
    }
    return out;
}

namespace {
void keep_least(std::vector<Margin>& all, const Margin& m) {
    const auto same =
        std::find_if(all.begin(), all.end(), [&](const Margin& a) { return a.kind == m.kind && a.what == m.what; });
    if (same == all.end())
        all.push_back(m);
    else if (m.left < same->left)
        *same = m;
}

void tightest_first(std::vector<Margin>& all) {
    std::sort(all.begin(), all.end(), [](const Margin& a, const Margin& b) { return a.left < b.left; });
}

/// Of one travel, or past every stop where the linkage does not close there.
void add_angles(std::vector<Margin>& all, const BarEnd& end, Branch branch, const Travel& t, std::size_t which,
                std::size_t place = 0) {
    const auto now = at(end, branch, t);
    const auto add = [&](Kind kind, const char* what, double value, double stop) {
        keep_least(all, {kind, what, value, stop - value, t, which, place});
    };
    if (!now) { // over centre, or the path has ended: past every stop
        add(Kind::OffSquare, "link off square", units::pi / 2, stop_off_square);
        return;
    }
    add(Kind::OffSquare, "link off square", now->off_square, stop_off_square);
    add(Kind::OffPickup, "link square to its pick-up", now->off_pickup, stop_off_square);
    if (end.joints[0].limit > units::pi / 2 && end.joints[1].limit > units::pi / 2) return;
    const auto joints = joint_angles(end, *now, t);
    if (end.joints[0].limit <= units::pi / 2) add(Kind::EyeJoint, "joint at the eye", joints[0], end.joints[0].limit);
    if (end.joints[1].limit <= units::pi / 2)
        add(Kind::PickupJoint, "joint at the pick-up", joints[1], end.joints[1].limit);
}

/// The travels at which angles are looked at: where a link steers, each straight ahead and at both locks.
std::vector<Travel> angle_places(const BarEnd& end, const Room& room, int count) {
    std::vector<Travel> out = travels(room, count);
    const Straight* straight = std::get_if<Straight>(&end.path);
    if (!(room.lock > 0 && straight && straight->kingpin)) return out;
    const std::vector<Travel> ahead = std::move(out);
    out.clear();
    for (Travel t : ahead)
        for (const double steer : {0.0, -room.lock, room.lock}) {
            t.steer = steer;
            out.push_back(t);
        }
    return out;
}

std::string named(const Gap& g) {
    if (!g.obstacle) return g.of_bar ? "bar to ground" : "link to ground";
    return std::string(g.of_bar ? "bar to " : "link to ") + g.obstacle->name;
}
} // namespace

std::vector<Margin> angle_margins(const BarEnd& end, Branch branch, const Room& room, std::size_t which, int count) {
    std::vector<Margin> out;
    const std::vector<Travel> places = angle_places(end, room, count);
    for (std::size_t i = 0; i < places.size(); ++i) add_angles(out, end, branch, places[i], which, i);
    tightest_first(out);
    return out;
}

Margin same_angle(const Margin& known, const BarEnd& end, Branch branch, const Room& room, int count) {
    std::vector<Margin> here;
    add_angles(here, end, branch, angle_places(end, room, count).at(known.place), known.end, known.place);
    const auto same = std::find_if(here.begin(), here.end(), [&](const Margin& m) { return m.kind == known.kind; });
    return same == here.end() ? here.front() : *same;
}

std::vector<Margin> clearances(const BarEnd& end, Branch branch, const Room& room, std::size_t which, int count) {
    std::vector<Margin> out;
    const auto add = [&](Kind kind, const Gap& g, const std::string& what, const Travel& t) {
        keep_least(out, {g.obstacle ? kind : Kind::Ground, what, g.distance,
                         g.distance - (g.obstacle ? g.obstacle->keep : 0), t, which});
    };
    std::vector<double> steers{0};
    if (room.lock > 0) steers = {0, -room.lock, -room.lock / 2, room.lock / 2, room.lock};
    for (Travel t : travels(room, count))
        for (const double steer : steers) {
            t.steer = steer;
            const auto now = at(end, branch, t);
            if (!now) continue;
            for (const Gap& g : gaps(end, *now, room, t)) add(Kind::Clearance, g, named(g), t);
        }
    // A wheel put on while the suspension hangs comes in from outside, some way above or below its place.
    const Travel hanging{-room.droop, -room.droop, 0};
    if (const auto now = at(end, branch, hanging))
        for (const Obstacle& o : room.obstacles) {
            if (o.kind != Obstacle::Kind::Wheel) continue;
            Room putting = room;
            putting.ground.reset();
            for (const double up : {-0.03, 0.0, 0.03})
                for (const double out_by : {0.0, 0.02, 0.04}) {
                    putting.obstacles = {o};
                    putting.obstacles[0].at += Vector3d(0, (o.at.y() < 0 ? -1 : 1) * out_by, up);
                    for (Gap g : gaps(end, *now, putting, hanging)) {
                        const std::string what = "put on: " + named(g);
                        g.obstacle = &o;
                        add(Kind::Hanging, g, what, hanging);
                    }
                }
        }
    tightest_first(out);
    return out;
}

std::optional<FirstLimit> first_in_droop(const BarEnd& end, Branch branch, const Room& room, double most) {
    // The tightest margin at a droop of both wheels; below 0 past a limit.
    std::string what;
    const auto left = [&](double down) {
        const Travel t{-down, -down, 0};
        std::vector<Margin> all;
        add_angles(all, end, branch, t, 0);
        if (const auto now = at(end, branch, t))
            for (const Gap& g : gaps(end, *now, room, t))
                if (g.obstacle)
                    keep_least(all, {Kind::Clearance, named(g), g.distance, g.distance - g.obstacle->keep, t, 0});
        tightest_first(all);
        what = all.front().what;
        return all.front().left;
    };
    constexpr double step = 2e-3;
    for (double down = 0; down <= room.droop + most; down += step) {
        if (left(down) >= 0) continue;
        double good = std::max(0.0, down - step), bad = down;
        while (bad - good > 1e-6) {
            const double middle = (good + bad) / 2;
            (left(middle) < 0 ? bad : good) = middle;
        }
        left(bad);
        return FirstLimit{bad - room.droop, what};
    }
    return {};
}

} // namespace dervish::linkage
