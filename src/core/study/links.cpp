#include "core/study/links.h"
#include "core/model/stand.h"

#include "core/car/equilibrium.h"
#include "core/model/lie.h"
#include "core/num/root.h"

#include <algorithm>

namespace dervish::study {
namespace {

const AxleSetup& at_end(const Setup& s, End end) { return s[end]; }
AxleSetup& at_end(Setup& s, End end) { return s[end]; }
} // namespace

std::optional<linkage::Thread> thread_of(const LinkData& l, double length) {
    if (l.adjust == Adjust::No) return {};
    return linkage::Thread{
        l.adjust == Adjust::Opposite, l.pitch.value, l.thread.value, l.engaged.value, length, l.shortest.value};
}

std::optional<PerSide<LinkSide>> link_sides(const AxleSetup& a, const AxleData& axle) {
    if (!a.fitted || a.held != Held::Links) return {};
    const PerSide<linkage::BarEnd> ends = to_ends(a, axle);
    const auto side = [&](std::size_t e) {
        const linkage::Branch branch = linkage::branch_needed(ends[e], e == 0);
        const linkage::Position rest = *linkage::at(ends[e], branch, {}, -1);
        return LinkSide{ends[e], branch, to_room(a, axle, e), rest, linkage::attitude(ends[e], rest.turn)};
    };
    return std::array{side(0), side(1)};
}

std::vector<LinkPoint> through_travel(const LinkSide& s, std::size_t e, const linkage::Law& law, linkage::Mode mode,
                                      int count) {
    std::vector<LinkPoint> out;
    const auto [bump, droop] = linkage::wheel_reach(s.room, mode);
    // From ride height both ways, since a sweep ends where the linkage does.
    const int down = std::max(1, static_cast<int>(std::lround((count - 1) * droop / (bump + droop))));
    const auto add = [&](double to, int steps) {
        const auto sweep = linkage::sweep(s.end, s.branch, mode, 0, to, steps + 1);
        for (std::size_t i = out.empty() ? 0 : 1; i < sweep.size(); ++i) { // ride height once
            const double own = to * static_cast<double>(i) / steps;
            const linkage::Travel t = linkage::in_mode(mode, own);
            const Eigen::Vector2d wheels = e == 0 ? Eigen::Vector2d(t.own, t.other) : Eigen::Vector2d(t.other, t.own);
            const linkage::Position& at = sweep[i];
            out.push_back({own, at, linkage::attitude(s.end, at.turn), law(wheels).force[static_cast<int>(e)],
                           (at.pickup - at.eye).y() - (s.rest.pickup - s.rest.eye).y()});
        }
    };
    if (droop > 0) add(-droop, down);
    std::reverse(out.begin(), out.end());
    if (bump > 0) add(bump, std::max(1, count - 1 - down));
    return out;
}

LinkLimits link_limits(const LinkSide& s, std::size_t e) {
    LinkLimits out;
    out.angles = linkage::angle_margins(s.end, s.branch, s.room, e);
    out.distances = linkage::clearances(s.end, s.branch, s.room, e, 9);
    out.in_droop = linkage::first_in_droop(s.end, s.branch, s.room);
    constexpr double beyond = 0.25; // m
    out.over_centre[0] = linkage::over_centre(s.end, linkage::Mode::Bump, -s.room.droop - beyond);
    const auto up = linkage::over_centre(s.end, linkage::Mode::Roll, s.room.bump + beyond),
               down = linkage::over_centre(s.end, linkage::Mode::Roll, -s.room.droop - beyond);
    out.over_centre[1] = up && (!down || *up < -*down) ? up : down;
    return out;
}

LinkPlan link_plan(const AxleSetup& a, const AxleData& axle, std::size_t e) {
    const linkage::BarEnd end = to_ends(a, axle)[e];
    LinkPlan out;
    out.stance = {0, stop_gaps(a, axle).droop};
    out.now = linkage::with_length(end, end.link, out.stance);
    if (const auto level = linkage::level_length(end, out.stance.ride))
        out.level = linkage::with_length(end, *level, out.stance);
    out.kept = linkage::length_for_droop(end, out.stance, a.plan.off_square.value);
    out.thread = thread_of(a.links, end.link);
    if (out.thread) out.turned = linkage::with_length(end, end.link + out.thread->per_turn(), out.stance);
    out.upright = linkage::mounts_for_upright(end);
    // Another eye on the same arm, its link to the pick-up where that is.
    const bar::Laid laid = to_laid(a);
    for (const std::size_t point : e == 0 ? laid.left_eye : laid.right_eye) {
        linkage::BarEnd other = end;
        other.eye = laid.line.points[point];
        out.by_eye.push_back(linkage::level_length(other, out.stance.ride));
    }
    return out;
}

namespace {
struct Settled {
    Eigen::Vector2d link;
    PerWheel<double> load;
};

/// The car at rest with one of its bars, or without it.
Settled settled(const Vehicle& vehicle, const Setup& setup, End end) {
    const car::Car car = car_with(vehicle, setup);
    const car::State at = car::settle(car, {});
    Settled out{Eigen::Vector2d::Zero(), {}};
    for (std::size_t w = 0; w < 4; ++w) out.load[w] = at.wheels[w].load;
    const std::size_t first = wheel_at(end, 0);
    if (const auto& law = car[end].linkage)
        out.link = (*law)({at.wheels[first].travel, at.wheels[first + 1].travel}).link;
    return out;
}

} // namespace

std::optional<double> solved_longer(const Setup& setup, End end, const std::function<double(double)>& f) {
    constexpr double most = 60e-3, close = 1e-6;
    const double start = at_end(setup, end).links.right_longer.value;
    double a = start, b = start + 1e-3, at_a = f(a), at_b = f(b);
    for (int i = 0; i < 40; ++i) {
        if (std::abs(at_b - at_a) < 1e-12) return {};
        const double next = std::clamp(b - at_b * (b - a) / (at_b - at_a), start - most, start + most);
        a = b;
        at_a = at_b;
        b = next;
        at_b = f(b);
        if (std::abs(b - a) < close) return std::abs(b - start) < most ? std::optional(b) : std::nullopt;
    }
    return {};
}

std::optional<RestState> rest_state(const Vehicle& vehicle, const Setup& setup, End end) {
    const Assembly& a = at_end(setup, end);
    if (!a.fitted || !a.connected || a.held != Held::Links) return {};
    const Settled with = settled(vehicle, setup, end);
    Setup tried = setup;
    at_end(tried, end).connected = false;
    const Settled without = settled(vehicle, tried, end);
    RestState out{with.link, {}, {}};
    for (std::size_t w = 0; w < 4; ++w) out.change[w] = with.load[w] - without.load[w];
    tried = setup;
    try {
        const auto longer = solved_longer(setup, end, [&](double by) {
            at_end(tried, end).links.right_longer.value = by;
            const Eigen::Vector2d link = settled(vehicle, tried, end).link;
            return link[0] - link[1];
        });
        if (longer) out.correction = *longer - a.links.right_longer.value;
    } catch (const BadInput&) { // on the way there a link no longer reaches: no length does
    }
    return out;
}

std::optional<double> longer_for_load(const Vehicle& vehicle, const Setup& setup, End end, double change) {
    const Assembly& a = at_end(setup, end);
    if (!a.fitted || !a.connected || a.held != Held::Links) return {};
    Setup tried = setup;
    at_end(tried, end).connected = false;
    const std::size_t wheel = wheel_at(end, 0);
    const double without = settled(vehicle, tried, end).load[wheel];
    tried = setup;
    try {
        return solved_longer(setup, end, [&](double by) {
            at_end(tried, end).links.right_longer.value = by;
            return settled(vehicle, tried, end).load[wheel] - without - change;
        });
    } catch (const BadInput&) {
        return {};
    }
}

} // namespace dervish::study
