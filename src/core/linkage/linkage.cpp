#include "core/linkage/circle.h"

#include "core/num/bad_input.h"
#include "core/num/golden.h"

#include <algorithm>

namespace dervish::linkage {
namespace {
std::optional<Pickup> along(const ArmCircles& arm, const Travel& travel) {
    const Closing rise{arm.wheel.u.z(), arm.wheel.v.z(), arm.wheel.u.z() + travel.own};
    if (!rise.closes()) return {};
    // From ride height (θ = 0) without passing a dead point.
    const Turn turn = rise.turn(rise.b < 0 ? Branch::First : Branch::Second);
    // By the wheel's rise: θ' = 1/w', θ'' = −w''/w'³.
    const Vector3d way = arm.own.slope(turn), place = arm.own.at(turn);
    const double w1 = arm.wheel.slope(turn).z(), w2 = (arm.wheel.centre - arm.wheel.at(turn)).z(), t1 = 1 / w1;
    return Pickup{
        place,
        {way * t1, Vector3d::Zero()},
        {(arm.own.centre - place) * (t1 * t1) - way * (w2 * t1 * t1 * t1), Vector3d::Zero(), Vector3d::Zero()}};
}

/// A point turned by an angle about a line.
Vector3d turned_about(const std::array<Vector3d, 2>& line, double angle, const Vector3d& p) {
    return line[0] + Eigen::AngleAxisd(angle, (line[1] - line[0]).normalized()) * (p - line[0]);
}

std::optional<Pickup> along(const Straight& s, const Travel& travel) {
    const Vector3d base = s.kingpin && travel.steer != 0 ? turned_about(*s.kingpin, travel.steer, s.pickup) : s.pickup;
    const Vector3d none = Vector3d::Zero();
    return Pickup{base + travel.own * s.per_travel, {s.per_travel, none}, {none, none, none}};
}

std::optional<Pickup> along(const OnAxle& a, const Travel& travel) {
    // ψ = asin((own − other)/t) to the other side, u the mean. On the axle: m + R(ψ) r + u z; on the body, seen from
    // the axle: m + R(−ψ)(r − u z).
    const double side = a.pickup.y() < a.middle.y() ? -1 : 1; // travels are this end's and the other's
    const double sine = side * (travel.own - travel.other) / a.track, rise = (travel.own + travel.other) / 2;
    if (std::abs(sine) >= 1) return {};
    const double cosine = std::sqrt(1 - sine * sine), sign = a.bar_on_axle ? -1 : 1;
    const double by = side / a.track / cosine, by2 = sine / (a.track * a.track * cosine * cosine * cosine);
    const auto lean = [&](const Vector3d& v) {
        const double s = sign * sine;
        return Vector3d(v.x(), cosine * v.y() - s * v.z(), s * v.y() + cosine * v.z());
    };
    const auto across = [](const Vector3d& v) { return Vector3d(0, -v.z(), v.y()); }; // x × v
    Vector3d r = a.pickup - a.middle, up = Vector3d::UnitZ();
    if (a.bar_on_axle) {
        r.z() -= rise;
        up = -lean(up);
    }
    const Vector3d turned = lean(r), swing = sign * across(turned), flat = across(across(turned));
    Pickup out;
    out.place = a.middle + turned;
    if (!a.bar_on_axle) out.place.z() += rise;
    out.rate = {by * swing + up / 2, -by * swing + up / 2};
    // Lean and rise together: only where the rise itself leans (bar on the axle).
    const Vector3d both = a.bar_on_axle ? Vector3d(sign * by * across(up)) : Vector3d(Vector3d::Zero());
    const Vector3d twice = by * by * flat + by2 * swing;
    out.bend = {twice + both, -twice, twice - both};
    return out;
}

std::optional<Pickup> along(const Measured& m, const Travel& travel) {
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
    const Vector3d none = Vector3d::Zero();
    return Pickup{(2 * t3 - 3 * t2 + 1) * a + (t3 - 2 * t2 + t) * ma + (3 * t2 - 2 * t3) * b + (t3 - t2) * mb,
                  {((6 * t2 - 6 * t) * (a - b) + (3 * t2 - 4 * t + 1) * ma + (3 * t2 - 2 * t) * mb) / h, none},
                  {((12 * t - 6) * (a - b) + (6 * t - 4) * ma + (6 * t - 2) * mb) / (h * h), none, none}};
}

template <class P> ReadyPath made_ready(const P& path) { return path; }
ReadyPath made_ready(const Arm& arm) { return ArmCircles{Circle(arm.axis, arm.wheel), Circle(arm.axis, arm.pickup)}; }

double angle_between_lines(const Vector3d& a, const Vector3d& b) {
    const double size = std::sqrt(a.squaredNorm() * b.squaredNorm());
    return size > 0 ? std::acos(std::min(1.0, std::abs(a.dot(b)) / size)) : units::pi / 2;
}
} // namespace

ReadyPath ready(const Path& path) {
    return std::visit([](const auto& p) { return made_ready(p); }, path);
}

std::optional<Pickup> follow(const ReadyPath& path, const Travel& travel) {
    return std::visit([&](const auto& p) { return along(p, travel); }, path);
}

Pickup follow_on(const ReadyPath& path, Travel travel, bool& reached) {
    if (const auto now = follow(path, travel)) return *now;
    reached = false;
    // Back to where the path still goes on, then straight on from there.
    const Travel asked = travel;
    if (const ArmCircles* a = std::get_if<ArmCircles>(&path)) {
        const double reach = 0.999 * std::hypot(a->wheel.u.z(), a->wheel.v.z()), rest = a->wheel.u.z();
        travel.own = std::clamp(travel.own, -reach - rest, reach - rest);
    } else if (const Measured* m = std::get_if<Measured>(&path); m && m->points.size() > 1) {
        travel.own = std::clamp(travel.own, m->points.front().travel, m->points.back().travel);
    } else if (const OnAxle* o = std::get_if<OnAxle>(&path)) {
        const double mean = (travel.own + travel.other) / 2,
                     half = std::clamp((travel.own - travel.other) / 2, -0.49 * o->track, 0.49 * o->track);
        travel.own = mean + half;
        travel.other = mean - half;
    }
    Pickup out = follow(path, travel).value_or(Pickup{});
    out.place += (asked.own - travel.own) * out.rate[0] + (asked.other - travel.other) * out.rate[1];
    out.bend.fill(Vector3d::Zero());
    return out;
}

Carried carried(const ReadyPath& path, const Travel& travel, const Pickup& at, const Vector3d& way) {
    const Vector3d none = Vector3d::Zero();
    if (const ArmCircles* arm = std::get_if<ArmCircles>(&path)) {
        const Circle& c = arm->own;
        const double square = c.u.squaredNorm();
        const Vector3d out = at.place - c.centre, axis = c.u.cross(c.v) / square, ahead = axis.cross(out);
        const double cosine = out.dot(c.u) / square, sine = out.dot(c.v) / square; // Rodrigues
        const Vector3d now = cosine * way + sine * axis.cross(way) + (1 - cosine) * axis.dot(way) * axis;
        const double by = at.rate[0].dot(ahead) / square, by2 = at.bend[0].dot(ahead) / square; // the arm's turn
        const Vector3d turning = axis.cross(now);
        return {now, {by * turning, none}, {by2 * turning + by * by * axis.cross(turning), none, none}};
    }
    if (const Straight* s = std::get_if<Straight>(&path); s && s->kingpin && travel.steer != 0)
        return {turned_about({none, (*s->kingpin)[1] - (*s->kingpin)[0]}, travel.steer, way),
                {none, none},
                {none, none, none}};
    if (const OnAxle* a = std::get_if<OnAxle>(&path)) {
        const double side = (a->pickup.y() < a->middle.y() ? -1 : 1) * (a->bar_on_axle ? -1 : 1);
        const double sine = std::clamp(side * (travel.own - travel.other) / a->track, -0.99, 0.99);
        const double cosine = std::sqrt(1 - sine * sine);
        const Vector3d now(way.x(), cosine * way.y() - sine * way.z(), sine * way.y() + cosine * way.z());
        const double by = side / a->track / cosine, by2 = by * by * sine / cosine;
        const Vector3d turning = Vector3d::UnitX().cross(now);
        const Vector3d rate = by * turning, bend = by2 * turning + by * by * Vector3d::UnitX().cross(turning);
        return {now, {rate, -rate}, {bend, -bend, bend}};
    }
    return {way, {none, none}, {none, none, none}};
}

std::optional<Pickup> pickup(const Path& path, const Travel& travel) { return follow(ready(path), travel); }

std::optional<Path> from(const Path& path, double travel) {
    const Travel to{travel, travel};
    const ReadyPath set = ready(path);
    const auto at = follow(set, to);
    if (!at) return {};
    if (const Arm* arm = std::get_if<Arm>(&path)) {
        const Vector3d out = carried(set, to, *at, arm->wheel - arm->axis[0]).way;
        return Arm{arm->axis, at->place, arm->axis[0] + out};
    }
    if (const Straight* straight = std::get_if<Straight>(&path))
        return Straight{at->place, straight->per_travel, straight->kingpin};
    if (const OnAxle* axle = std::get_if<OnAxle>(&path)) {
        const Vector3d down(0, 0, axle->bar_on_axle ? 0 : travel);
        return OnAxle{at->place, axle->middle + down, axle->track, axle->bar_on_axle};
    }
    Measured out = std::get<Measured>(path);
    for (Measured::Point& p : out.points) p.travel -= travel;
    if (out.points.front().travel > 0 || out.points.back().travel < 0) return {};
    return out;
}

std::optional<Branch> branch_at_rest(const BarEnd& end) {
    const auto to = pickup(end.path, {});
    if (!to) return {};
    const Closing c = closing(end, Circle(end.mounts, end.eye), to->place);
    if (!c.closes()) return {};
    return c.turn(Branch::First).cosine >= c.turn(Branch::Second).cosine ? Branch::First : Branch::Second;
}

Branch branch_needed(const BarEnd& end, bool left) {
    if (const auto found = branch_at_rest(end)) return *found;
    const auto to = pickup(end.path, {});
    const Circle circle(end.mounts, end.eye);
    const bool too_short = to && (to->place - circle.centre).norm() > circle.u.norm();
    const double nearest = end.link + (too_short ? -1 : 1) * reach_left(end, {});
    throw BadInput("links/length",
                   std::string("at ride height the ") + (left ? "left" : "right") + " link is too " +
                       (too_short ? "short" : "long") + ": it does not reach from the eye to its pick-up",
                   std::string("the ") + (too_short ? "shortest" : "longest") + " that does is " +
                       units::trimmed(nearest / units::mm, 1) + " mm; or look at where the pick-up is");
}

namespace {
std::optional<Position> closed(const BarEnd& end, const Circle& circle, Branch branch, const std::optional<Pickup>& to,
                               double other_rate) {
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
    const Vector3d rate = to->rate_with(other_rate);
    out.off_pickup = angle_between_lines(link, rate);
    const double along = link.dot(rate);
    out.motion_ratio = along / end.link;
    out.turn_rate = along / link.dot(way); // |link| does not change
    return out;
}
} // namespace

std::optional<Position> at(const BarEnd& end, Branch branch, const Travel& travel, double other_rate) {
    return closed(end, Circle(end.mounts, end.eye), branch, pickup(end.path, travel), other_rate);
}

std::array<double, 2> joint_angles(const BarEnd& end, const Position& at, const Travel& travel) {
    const Vector3d link = (at.eye - at.pickup).normalized(), along = (end.mounts[1] - end.mounts[0]).normalized();
    const auto tilt = [&](const Vector3d& stud) { return std::asin(std::min(1.0, std::abs(link.dot(stud)))); };
    const Circle circle(end.mounts, end.eye);
    const ReadyPath path = ready(end.path);
    bool reached = true;
    const bool at_eye = end.joints[0].stud == Stud::Sideways, below = end.joints[1].stud == Stud::Sideways;
    return {
        tilt(at_eye ? along : Vector3d((at.eye - circle.centre).normalized())),
        tilt(carried(path, travel, follow_on(path, travel, reached), below ? along : Vector3d(Vector3d::UnitX())).way)};
}

double attitude(const BarEnd& end, double turn) {
    const Circle circle(end.mounts, end.eye);
    const Vector3d arm = circle.at(Turn(turn)) - circle.centre;
    return std::asin(std::clamp(arm.z() / arm.norm(), -1.0, 1.0));
}

double level_turn(const BarEnd& end) {
    const Circle c(end.mounts, end.eye);
    return std::atan(-c.u.z() / c.v.z()); // of the two, the one within a quarter turn
}

double reach_left(const BarEnd& end, const Travel& travel) {
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

/// The last place from `good` towards `bad` where f is not below 0. By halves: the end of a path is a jump.
template <class F> double last_good(F&& f, double good, double bad) {
    while (std::abs(bad - good) > closest) {
        const double middle = (good + bad) / 2;
        (f(middle) < 0 ? bad : good) = middle;
    }
    return good;
}
} // namespace

std::optional<double> over_centre(const BarEnd& end, Mode mode, double far) {
    constexpr int steps = 64;
    const auto left = [&](double own) { return reach_left(end, in_mode(mode, own)); };
    const auto place = [&](int i) { return far * i / steps; };
    double before = left(0), last = before;
    if (last < 0) return 0;
    for (int i = 1; i <= steps; ++i) {
        const double now = left(place(i));
        if (now < 0) return last_good(left, place(i - 1), place(i));
        if (i > 1 && last <= before && last <= now) { // a dip that may go below between the steps
            const double bottom = lowest_between(left, place(i - 2), place(i), closest).x;
            if (left(bottom) < 0) return last_good(left, place(i - 2), bottom);
        }
        before = last;
        last = now;
    }
    return {};
}

std::vector<Position> sweep(const BarEnd& end, Branch branch, Mode mode, double from, double to, int count) {
    std::vector<Position> out;
    out.reserve(static_cast<std::size_t>(count));
    const double other_rate = mode == Mode::Roll ? -1 : mode == Mode::Bump ? 1 : 0;
    const Circle circle(end.mounts, end.eye);
    const ReadyPath path = ready(end.path);
    for (int i = 0; i < count; ++i) {
        const Travel travel = in_mode(mode, from + (to - from) * i / (count - 1));
        const auto position = closed(end, circle, branch, follow(path, travel), other_rate);
        if (!position) break;
        out.push_back(*position);
    }
    return out;
}

std::optional<double> length_for(const BarEnd& end, double turn, const Travel& travel) {
    const auto to = pickup(end.path, travel);
    if (!to) return {};
    return (Circle(end.mounts, end.eye).at(Turn(turn)) - to->place).norm();
}

} // namespace dervish::linkage
