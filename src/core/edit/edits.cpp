#include "core/edit/edits.h"

#include "core/model/lie.h"

#include <algorithm>
#include <charconv>

/// Choices, and the guesses that a choice begins with.
namespace dervish::edit {
using namespace model;
namespace {
using units::mm;

Measured guess(double value, double sigma) {
    return {units::as_filed(value, units::Quantity::Length), units::as_filed(sigma, units::Quantity::Length),
            Source::Assumed};
}

Measured place(double value) { return guess(value, 10 * mm); }

/// Of the left side's pick-up or another place, from the bar's axis at the car's middle.
Spot spot(const Eigen::Vector3d& from_middle) {
    return {place(-from_middle.x()), place(from_middle.y()), place(-from_middle.z())};
}

bool unset(const Spot& s) { return s.out.value == 0; }

Eigen::Vector3d left_pickup(const Assembly& a) {
    if (a.held != Held::Links) return {-0.25, 0.5, -0.2};
    const Lie lie = told_in_assembly(a, [&] { return lie_of(a, lay_out(a)); });
    return lie.pickup[0] - lie.middle;
}

void guess_thread(LinkData& l) {
    if (l.adjust == Adjust::No || l.pitch.value > 0) return;
    l.pitch = guess(1.5 * mm, 0.05 * mm);
    l.thread = guess(12 * mm, 0.1 * mm);
    l.engaged = guess(24 * mm, 2 * mm);
    l.shortest = guess(std::max(1 * mm, l.length.value - 16 * mm), 2 * mm);
}

/// A control arm whose inner axis gives the motion ratio at the pick-up.
void guess_arm(LinkageData& l, const AxleData& axle, const Eigen::Vector3d& pickup) {
    if (!unset(l.ball_joint)) return;
    const double ratio = std::clamp(axle.motion_ratio.value, 0.2, 0.9);
    const double inner = 0.5 * pickup.y(), out = inner + (pickup.y() - inner) / ratio;
    l.ball_joint = spot({pickup.x(), out, pickup.z()});
    l.arm_front = spot({pickup.x() + 150 * mm, inner, pickup.z()});
    l.arm_rear = spot({pickup.x() - 150 * mm, inner, pickup.z()});
}

void guess_points(LinkageData& l, const AxleData& axle) {
    if (!l.points.empty()) return;
    for (const double travel : {-axle.droop_gap.value, 0.0, axle.bump_gap.value})
        l.points.push_back({guess(travel, 1.5 * mm), guess(travel * axle.motion_ratio.value, 3 * mm), {}, {}});
    for (PathPoint& p : l.points)
        if (p.travel.value == 0) p.travel.sigma = p.up.sigma = 0; // ride height is where it is measured from
}
} // namespace

void choose(Job& job, const std::string& path, int chosen) {
    set_choice(job, path, chosen);
    const bool front = path.find("/front/") != std::string::npos;
    AxleData& axle = front ? job.vehicle.front : job.vehicle.rear;
    if (path.ends_with("/linkage/path")) {
        const Eigen::Vector3d pickup = left_pickup(front ? job.trial.front : job.trial.rear);
        if (axle.linkage.path == PathKind::Arm) guess_arm(axle.linkage, axle, pickup);
        if (axle.linkage.path == PathKind::Points) guess_points(axle.linkage, axle);
    } else if (path.ends_with("/links/adjust") || path.ends_with("/links/pickups")) {
        Setup& setup = path.starts_with("trial/") ? job.trial : job.fitted;
        Assembly& a = front ? setup.front : setup.rear;
        guess_thread(a.links);
        if (a.links.pickups == Pickups::Measured && unset(a.links.at)) {
            a.links.pickups = Pickups::UnderEyes; // where they are until measured
            a.links.at = spot(left_pickup(a));
            a.links.pickups = Pickups::Measured;
        }
    }
}

void set_link_length(Job& job, bool front, double length) {
    LinkData& links = (front ? job.trial.front : job.trial.rear).links;
    if (links.pickups == Pickups::UnderEyes)
        choose(job, std::string("trial/") + (front ? "front" : "rear") + "/links/pickups", 1);
    links.length.value = units::as_filed(length, units::Quantity::Length);
}

void add_obstacle(Job& job, bool front) {
    LinkageData& l = (front ? job.vehicle.front : job.vehicle.rear).linkage;
    const Eigen::Vector3d pickup = left_pickup(front ? job.trial.front : job.trial.rear);
    ObstacleData o;
    o.name = "part " + std::to_string(l.obstacles.size() + 1);
    o.at = spot(pickup + Eigen::Vector3d(-60 * mm, 0, 60 * mm));
    o.radius = guess(10 * mm, 2 * mm);
    o.keep = guess(10 * mm, 0);
    l.obstacles.push_back(o);
}

void add_spring_point(AxleData& axle) {
    auto& points = axle.travel.springs;
    const double rate = axle.spring_rate.value;
    const auto point = [&](double travel) {
        return SpringPoint{guess(travel, 1.5 * mm), guess(rate * travel, 0.05 * std::abs(rate * travel))};
    };
    if (points.empty())
        for (const double travel : {-axle.droop_gap.value, 0.0, axle.bump_gap.value}) points.push_back(point(travel));
    else
        points.push_back(point(points.back().travel.value + 20 * mm));
}

void remove_test(Job& job, int index) {
    if (index < 0 || index >= static_cast<int>(job.tests.size())) return;
    job.tests.erase(job.tests.begin() + index);
    std::map<std::string, Draft> drafts;
    for (auto& [key, draft] : job.drafts) {
        int of = -1; // "tests/2/guess"
        if (key.starts_with("tests/")) std::from_chars(key.data() + 6, key.data() + key.size(), of);
        if (of < index || of < 0)
            drafts[key] = draft;
        else if (of > index)
            drafts["tests/" + std::to_string(of - 1) + key.substr(key.find('/', 6))] = draft;
    }
    job.drafts = std::move(drafts);
}

void fit_trial(Job& job, const std::string& date) {
    const Setup was = job.fitted;
    job.fitted = job.trial;
    bool comes_off = false;
    std::vector<std::string> gone; // where drafts are of a bar or of links that come off
    for (Assembly Setup::*end : {&Setup::front, &Setup::rear}) {
        const Assembly& before = was.*end;
        Assembly& now = job.fitted.*end;
        const std::string word = end == &Setup::front ? "front/" : "rear/";
        const bool same_bar = before.bar == now.bar && (before.mounts == now.mounts || before.rig.blocks);
        const bool same_links = same_bar && before.links == now.links;
        if (!same_bar) gone.push_back("tests/rig fitted " + word);
        if (!same_links) gone.push_back("tests/checks fitted " + word);
        if (!before.rig.readings.empty()) {
            if (!same_bar)
                comes_off = true;
            else if (now.rig.readings.empty())
                now.rig = before.rig;
            else if (!(now.rig == before.rig))
                comes_off = true; // two sets of one bar: neither is lost
        }
        if (!(before.checks == SetupChecks{})) {
            if (same_links && now.checks == SetupChecks{})
                now.checks = before.checks;
            else if (!(now.checks == before.checks))
                comes_off = true;
        }
    }
    // What was typed of them and never became a number is not of what goes on: the book keeps it.
    std::string waiting;
    for (auto at = job.drafts.begin(); at != job.drafts.end();) {
        const bool goes =
            std::any_of(gone.begin(), gone.end(), [&](const std::string& g) { return at->first.starts_with(g); });
        if (goes) waiting += (waiting.empty() ? "" : "; ") + at->first.substr(6) + ": " + at->second.text;
        at = goes ? job.drafts.erase(at) : std::next(at);
    }
    if (!waiting.empty()) job.book.push_back({date, "typed and not used", waiting, 0, was});
    if (!comes_off) return;
    job.kept.push_back(was);
    job.kept.back().name += ", until " + date;
}

void add_path_point(Job& job, bool front) {
    AxleData& axle = front ? job.vehicle.front : job.vehicle.rear;
    auto& points = axle.linkage.points;
    if (points.empty()) return guess_points(axle.linkage, axle);
    PathPoint next = points.back(); // as far on again as the last one was
    if (points.size() > 1) {
        const PathPoint& before = points[points.size() - 2];
        next.travel.value += next.travel.value - before.travel.value;
        next.up.value += next.up.value - before.up.value;
    }
    points.push_back(next);
}

} // namespace dervish::edit
