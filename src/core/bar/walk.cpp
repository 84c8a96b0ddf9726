#include "core/bar/walk.h"

#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <Eigen/Geometry>
#include <algorithm>
#include <cmath>
#include <string>

namespace dervish::bar {
namespace {
using Eigen::Vector3d;

std::string at(const char* list, std::size_t i, const char* key) {
    return std::string(list) + "/" + std::to_string(i) + "/" + key;
}

double thickness(const Section& s) {
    if (const Round* r = std::get_if<Round>(&s)) return r->outer_diameter;
    const Blade& b = std::get<Blade>(s);
    return std::min(b.width, b.thickness);
}

constexpr int taper_pieces = 8;

/// Which way the walk goes, with its rear and its up carried round the bends.
struct Compass {
    Vector3d heading = Vector3d::UnitY(), back = -Vector3d::UnitX(), up = Vector3d::UnitZ();
    void turn(double bend, double plane) {
        const Vector3d towards = std::cos(plane) * back + std::sin(plane) * up;
        const Eigen::AngleAxisd round(bend, heading.cross(towards).normalized());
        heading = round * heading;
        back = round * back;
        up = round * up;
    }
};

/// A point on the way with the entry it came from, so that a complaint can name that.
struct Way {
    std::vector<Spot> spots; ///< left to right
    std::vector<std::size_t> entry;
    const char* list;

    [[noreturn]] void wrong(std::size_t spot, const char* key, const std::string& problem, const char* accepted) const {
        throw BadInput(at(list, entry[spot], key), problem, accepted);
    }
};

void check_bends(const Way& w) {
    for (std::size_t i = 0; i < w.spots.size(); ++i) {
        const double d = thickness(w.spots[i].section);
        if (w.spots[i].radius > 0 && w.spots[i].radius < d / 2)
            w.wrong(i, "radius",
                    "a bend of " + units::in_mm(w.spots[i].radius) + " is tighter than half the bar's " +
                        units::in_mm(d),
                    "give the radius to the bar's middle, more than half its thickness, or 0 for a sharp corner");
    }
}

/// Places along the way a few millimetres apart, with the spot each follows.
std::vector<std::pair<Vector3d, std::size_t>> sampled(const Way& w, double spacing) {
    std::vector<std::pair<Vector3d, std::size_t>> out;
    for (std::size_t i = 0; i + 1 < w.spots.size(); ++i) {
        const Vector3d leg = w.spots[i + 1].place - w.spots[i].place;
        const int n = std::max(1, static_cast<int>(leg.norm() / spacing));
        for (int k = 0; k < n; ++k) out.emplace_back(w.spots[i].place + leg * k / n, i);
    }
    return out;
}

/// Two places of the bar nearer than its thickness although far apart along it.
void check_crossing(const Way& w) {
    double d = 1;
    for (const Spot& s : w.spots) d = std::min(d, thickness(s.section));
    double length = 0;
    for (std::size_t i = 0; i + 1 < w.spots.size(); ++i) length += (w.spots[i + 1].place - w.spots[i].place).norm();
    const double spacing = std::max(d / 2, length / 600);
    const auto all = sampled(w, spacing);
    const auto apart = static_cast<std::size_t>(std::ceil(3 * d / spacing)) + 2;
    for (std::size_t i = 0; i < all.size(); ++i)
        for (std::size_t j = i + apart; j < all.size(); ++j)
            if ((all[i].first - all[j].first).norm() < 0.8 * d && all[i].second + 1 < all[j].second)
                w.wrong(std::min(all[i].second, all[j].second), "length", "the bar crosses itself here",
                        "look at the bends' directions and the lengths between them");
}

/// A point where the bar passes `y`, going from the middle outwards; the spots before it move on by one.
std::size_t add_mount(Way& w, double y, double spacing) {
    const auto n = w.spots.size();
    std::size_t best = n;
    for (std::size_t i = 0; i + 1 < n; ++i) { // the crossing nearest the middle of the list
        const double a = w.spots[i].place.y() - y, b = w.spots[i + 1].place.y() - y;
        if (a * b > 0 || a == b) continue;
        const auto off = [&](std::size_t k) { return std::abs(static_cast<double>(k) - static_cast<double>(n) / 2); };
        if (best == n || off(i) < off(best)) best = i;
    }
    const auto refuse = [&](const std::string& problem) -> void {
        throw BadInput("mount_spacing", "mounts " + units::in_mm(spacing) + " apart: " + problem,
                       "give the distance between the mounts, on the part of the bar that runs across the car");
    };
    if (best == n) refuse("the bar does not reach that far");
    const Vector3d from = w.spots[best].place, leg = w.spots[best + 1].place - from;
    if (std::abs(leg.normalized().y()) < 0.85) refuse("that is on the arm");
    const double part = (y - from.y()) / leg.y();
    if (part * leg.norm() < 1e-6) return best;
    if ((1 - part) * leg.norm() < 1e-6) return best + 1;
    Spot mount = w.spots[best];
    mount.place = from + part * leg;
    mount.radius = 0;
    mount.mark = Mark::Bend;
    w.spots.insert(w.spots.begin() + static_cast<std::ptrdiff_t>(best) + 1, mount);
    w.entry.insert(w.entry.begin() + static_cast<std::ptrdiff_t>(best) + 1, w.entry[best]);
    return best + 1;
}

Laid finished(Way w, double mount_spacing) {
    Laid out;
    check_bends(w);
    check_crossing(w);
    if (mount_spacing > 0) {
        const std::size_t left = add_mount(w, mount_spacing / 2, mount_spacing);
        const std::size_t right = add_mount(w, -mount_spacing / 2, mount_spacing);
        out.mounts = {left, right};
        if (right <= left) throw BadInput("mount_spacing", "the mounts change sides", "check the bar's left and right");
    }
    const auto n = w.spots.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Spot& s = w.spots[i];
        out.line.points.push_back(s.place);
        out.line.bend_radius.push_back(s.radius);
        if (i + 1 < n) out.line.sections.push_back(s.section);
        if (s.mark != Mark::Eye) continue;
        const bool left = 2 * i < n;
        if ((s.place.y() > 0) != left)
            w.wrong(i, "mark", "an eye on the wrong side of the car", "each arm's eyes lie on its own side");
        if (!out.mounts.empty() && i >= out.mounts[0] && i <= out.mounts[1])
            w.wrong(i, "mark", "an eye between the mounts", "mark eyes on the arms, beyond the mounts");
        if (left)
            out.left_eye.push_back(i);
        else
            out.right_eye.insert(out.right_eye.begin(), i); // outermost first
    }
    if (out.left_eye.empty() || out.right_eye.empty())
        throw BadInput(w.list, "no eye on each arm", "mark where the links sit");
    return out;
}
} // namespace

Laid walk(const std::vector<Step>& steps, double mount_spacing) {
    if (steps.empty()) throw BadInput("walk", "no step", "walk from the bar's middle outwards, one step at a time");
    Way left{{}, {}, "walk"}; // from the middle outwards
    Vector3d here = Vector3d::Zero();
    Compass compass;
    double taken = 0; // of this step by the bend before it
    for (std::size_t i = 0; i < steps.size(); ++i) {
        const Step& s = steps[i];
        if (!(s.length > 0))
            throw BadInput(at("walk", i, "length"), units::in_mm(s.length) + " is no step", "give more than 0 mm");
        const double ahead = s.radius * std::tan(std::abs(s.bend) / 2), even = s.length - taken - ahead;
        const Round* round = std::get_if<Round>(&s.section);
        const bool tapers = round && s.taper_to > 0 && s.taper_to != round->outer_diameter && even > 0;
        const int pieces = tapers ? taper_pieces : 1;
        double gone = 0;
        for (int k = 0; k < pieces; ++k) { // each spot carries the section that leads to it; turned over below
            const bool last = k + 1 == pieces;
            const double next = last ? s.length : taken + even * (k + 1) / pieces;
            Section section = s.section;
            if (tapers)
                section =
                    Round{round->outer_diameter + (s.taper_to - round->outer_diameter) * (gone + next) / 2 / s.length,
                          round->wall};
            here += compass.heading * (next - gone);
            gone = next;
            left.spots.push_back({here, last ? s.radius : 0, section, last ? s.mark : Mark::Bend});
            left.entry.push_back(i);
        }
        taken = ahead;
        compass.turn(s.bend, s.plane);
    }
    Way whole{{}, {}, "walk"};
    for (std::size_t i = left.spots.size(); i-- > 0;) { // left end first; the section that led there follows it now
        whole.spots.push_back(left.spots[i]);
        whole.entry.push_back(left.entry[i]);
    }
    for (std::size_t i = 0; i < left.spots.size(); ++i) {
        Spot s = left.spots[i];
        s.place.y() = -s.place.y();
        if (i + 1 < left.spots.size()) s.section = left.spots[i + 1].section;
        whole.spots.push_back(s);
        whole.entry.push_back(left.entry[i]);
    }
    return finished(std::move(whole), mount_spacing);
}

std::vector<Vector3d> corners(const std::vector<Step>& steps) {
    std::vector<Vector3d> out;
    Compass compass;
    Vector3d here = Vector3d::Zero();
    for (const Step& s : steps) {
        out.push_back(here += compass.heading * s.length);
        compass.turn(s.bend, s.plane);
    }
    return out;
}

std::vector<Step> to_walk(const Laid& laid) {
    const auto& points = laid.line.points;
    std::vector<Step> out;
    Compass compass;
    Vector3d here(points[points.size() / 2].x(), 0, points[points.size() / 2].z());
    for (std::size_t i = points.size() / 2; i-- > 0;) { // the left half, from the middle outwards
        const Vector3d leg = points[i] - here;
        const Vector3d along = leg.normalized();
        const double bend = std::atan2(compass.heading.cross(along).norm(), compass.heading.dot(along));
        const Section section = laid.line.sections[i];
        if (!out.empty() && bend < 1e-9 && out.back().mark == Mark::Bend && out.back().section == section) {
            out.back().length += leg.norm(); // a mount's point, or none at all: straight on
        } else {
            if (!out.empty()) {
                out.back().bend = bend < 1e-9 ? 0 : bend;
                out.back().plane = bend < 1e-9 ? 0 : std::atan2(along.dot(compass.up), along.dot(compass.back));
                compass.turn(out.back().bend, out.back().plane);
            }
            out.push_back({.length = leg.norm(), .section = section});
        }
        const bool eye = std::find(laid.left_eye.begin(), laid.left_eye.end(), i) != laid.left_eye.end();
        out.back().mark = eye ? Mark::Eye : i == 0 ? Mark::End : Mark::Bend;
        out.back().radius = laid.line.bend_radius.empty() ? 0 : laid.line.bend_radius[i];
        here = points[i];
    }
    return out;
}

Laid through(const std::vector<Spot>& spots, double mount_spacing) {
    Way whole{spots, {}, "points"};
    for (std::size_t i = 0; i < spots.size(); ++i) whole.entry.push_back(i);
    return finished(std::move(whole), mount_spacing);
}

} // namespace dervish::bar
