#include "core/edit/edits.h"

#include "core/edit/parts.h"
#include "core/job/parts.h"
#include "core/job/usual.h"

#include "core/model/lie.h"

#include <algorithm>
#include <charconv>
#include <tuple>

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

Eigen::Vector3d where_pickup_is(const Assembly& a) {
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

void guess_points(LinkageData& l, const AxleData& axle, const DamperData& dampers) {
    if (!l.points.empty()) return;
    for (const double travel : {-dampers.droop_gap.value, 0.0, axle.bump_gap.value})
        l.points.push_back({guess(travel, 1.5 * mm), guess(travel * axle.motion_ratio.value, 3 * mm), {}, {}});
    for (PathPoint& p : l.points)
        if (p.travel.value == 0) p.travel.sigma = p.up.sigma = 0; // ride height is where it is measured from
}

/// What a bar needs that is measured or made otherwise than it `was`.
void guess_bar(Assembly& a, const Assembly& was) {
    BarData& b = a.bar;
    try { // the bar as it stands, so that only what differs need be typed
        if (b.form == Form::Walk && b.walk.empty()) b.walk = walk_of(was);
        if (b.form == Form::Points && b.points.empty()) b.points = points_of(was);
    } catch (const BadInput&) { // begins empty
    }
    for (const auto& [value, size] :
         {std::pair{&b.arm_diameter, b.outer_diameter.value}, {&b.blade_width, 35 * mm}, {&b.blade_thickness, 8 * mm}})
        if (b.arms != Arms::OfTheBar && !(value->value > 0)) *value = guess(size, 0.15 * size);
}

void guess_axle(AxleData& a) {
    for (const auto& [value, size] : {std::pair{&a.spring_base, 0.65 * a.track.value}, {&a.motion_ratio, 0.7}})
        if (!(value->value > 0)) *value = guess(size, 0.15 * size);
}

void guess_held(Assembly& a) {
    const Assembly usual = blank().trial.front;
    if (!(a.trailing_arms.to_wheel.value > 0)) a.trailing_arms = usual.trailing_arms;
    if (!(a.mounts.vertical.value > 0)) a.mounts = usual.mounts;
    if (!(a.links.length.value > 0)) a.links = usual.links;
}
} // namespace

void choose(Job& job, const std::string& path, int chosen) {
    const End end = path.find("/front/") != std::string::npos ? End::Front : End::Rear;
    Setup& setup = path.starts_with("trial/") ? job.trial : job.fitted;
    AxleSetup& a = setup[end];
    const Assembly was = a;
    set_choice(job, path, chosen);
    AxleData& axle = job.vehicle[end];
    if (path.ends_with("/linkage/path")) {
        const Eigen::Vector3d pickup = where_pickup_is(job.trial[end]);
        if (axle.linkage.path == PathKind::Arm) guess_arm(axle.linkage, axle, pickup);
        if (axle.linkage.path == PathKind::Points) guess_points(axle.linkage, axle, job.trial[end].dampers);
        return;
    }
    if (path == "vehicle/front/kind" || path == "vehicle/rear/kind") {
        AxleData other = axle; // what was the other kind's usual goes with it
        other.kind = axle.kind == AxleKind::Solid ? AxleKind::Independent : AxleKind::Solid;
        if (axle.wheels == usual_movement(other)) axle.wheels = usual_movement(axle);
        return guess_axle(axle);
    }
    if (path.ends_with("/bar/form") || path.ends_with("/bar/arms")) guess_bar(a, was);
    if (path.ends_with("/held")) guess_held(a);
    if (path.ends_with("/mounts/kind")) set_kind(a.mounts, a.mounts.kind);
    if (path.ends_with("/links/joints")) set_kind(a.links, a.links.joints);
    if (path.ends_with("/links/adjust")) guess_thread(a.links);
    if (path.ends_with("/pickups/rule") && a.pickups.rule == PickupRule::Placed && unset(a.pickups.at)) {
        a.pickups.rule = PickupRule::UnderEyes; // where they are until measured
        place_pickups(a);
    }
}

void hold_pickups(const Job& before, Job& after) {
    for (const End end : both_ends) {
        const AxleSetup& was = before.trial[end];
        AxleSetup& now = after.trial[end];
        // What describes the car goes to Fitted too: where the links' ends are is then not known any better.
        if (!(after.fitted[end] == before.fitted[end]) || now == after.fitted[end]) continue;
        if (was.held != Held::Links || now.held != Held::Links || was.pickups.rule == PickupRule::Placed) continue;
        if (!(now.pickups == was.pickups)) continue;
        Assembly placed = was, there = now;
        try {
            place_pickups(placed);
            place_pickups(there);
        } catch (const BadInput&) { // where they are cannot be told
            continue;
        }
        if (there.pickups == placed.pickups) continue; // what is tried leaves the eyes and the links where they are
        const auto hold = [&](Setup& s) {
            there = s[end];
            if (there.held != Held::Links || there.pickups.rule == PickupRule::Placed) return;
            try {
                place_pickups(there);
            } catch (const BadInput&) {
                return;
            }
            if (there.pickups == placed.pickups) s[end].pickups = placed.pickups; // one car's, known as well in each
        };
        for (Setup* s : {&after.fitted, &after.standard}) hold(*s);
        for (Setup& s : after.kept) hold(s);
        now.pickups = placed.pickups;
    }
}

void set_link_length(Job& job, End end, double length) {
    job.trial[end].links.length.value = units::as_filed(length, units::Quantity::Length);
}

void add_obstacle(Job& job, End end) {
    LinkageData& l = job.vehicle[end].linkage;
    const Eigen::Vector3d pickup = where_pickup_is(job.trial[end]);
    ObstacleData o;
    o.name = "part " + std::to_string(l.obstacles.size() + 1);
    o.at = spot(pickup + Eigen::Vector3d(-60 * mm, 0, 60 * mm));
    o.radius = guess(10 * mm, 2 * mm);
    o.keep = guess(10 * mm, 0);
    l.obstacles.push_back(o);
}

void add_spring_point(AxleSetup& setup, const AxleData& axle) {
    auto& points = setup.springs.points;
    const double rate = setup.springs.rate.value;
    const auto point = [&](double travel) {
        return SpringPoint{guess(travel, 1.5 * mm), guess(rate * travel, 0.05 * std::abs(rate * travel))};
    };
    if (points.empty())
        for (const double travel : {-setup.dampers.droop_gap.value, 0.0, axle.bump_gap.value})
            points.push_back(point(travel));
    else
        points.push_back(point(points.back().travel.value + 20 * mm));
}

namespace {
template <class F> void each_setup(Job& job, F&& f) {
    for (Setup* s : {&job.fitted, &job.trial, &job.standard}) f(*s);
    for (Setup& s : job.kept) f(s);
}
} // namespace

namespace {
Measured assumed(double value, double sigma) { return {value, sigma, Source::Assumed}; }

std::string new_load_id(const Job& job) {
    int number = 1;
    const auto taken = [&] {
        return std::any_of(job.vehicle.loads.begin(), job.vehicle.loads.end(),
                           [&](const Load& l) { return l.id == "load-" + std::to_string(number); });
    };
    while (taken()) ++number;
    return "load-" + std::to_string(number);
}
} // namespace

void add_load(Job& job) {
    const std::string id = new_load_id(job);
    job.vehicle.loads.push_back(
        {id, "load " + std::to_string(job.vehicle.loads.size() + 1), assumed(50, 7.5),
         assumed(units::as_filed(0.6 * job.vehicle.wheelbase.value, units::Quantity::Length), 0.2), assumed(0, 0.05),
         assumed(1, 0.1)});
    each_setup(job, [&](Setup& s) { s.aboard.push_back(id); });
}

void add_person(Job& job, Setup& setup) {
    const std::string id = new_load_id(job);
    const Vehicle& v = job.vehicle;
    const auto filed = [](double metres) { return units::as_filed(metres, units::Quantity::Length); };
    job.vehicle.loads.push_back(
        {id, "Person", assumed(person_of(v), 0.1 * person_of(v)), assumed(filed(0.45 * v.wheelbase.value), 0.1),
         assumed(filed(0.22 * v.front.track.value), 0.05), assumed(filed(v.cg_height.value), 0.1)});
    setup.aboard.push_back(id);
}

void remove_load(Job& job, std::size_t index) {
    const std::string id = job.vehicle.loads.at(index).id;
    job.vehicle.loads.erase(job.vehicle.loads.begin() + static_cast<std::ptrdiff_t>(index));
    each_setup(job, [&](Setup& s) { std::erase(s.aboard, id); });
}

void set_aboard(Setup& setup, const Load& load, bool aboard) {
    std::erase(setup.aboard, load.id);
    if (aboard) setup.aboard.push_back(load.id);
}

void move_load(Job& job, std::size_t index, double behind, std::optional<double> left, std::optional<double> height) {
    if (index >= job.vehicle.loads.size()) return; // taken back while it was dragged
    Load& l = job.vehicle.loads[index];
    const auto filed = [](double metres) { return units::as_filed(metres, units::Quantity::Length); };
    l.behind_front_axle.value = filed(behind);
    if (left) l.left.value = filed(*left);
    if (height) l.height.value = filed(*height);
}

void remove_obstacle(Job& job, End end, std::size_t index) {
    auto& all = job.vehicle[end].linkage.obstacles;
    if (index < all.size()) all.erase(all.begin() + static_cast<std::ptrdiff_t>(index));
}

void remove_path_point(Job& job, End end) {
    if (auto& points = job.vehicle[end].linkage.points; points.size() > 2) points.pop_back();
}

void remove_spring_point(AxleSetup& setup) {
    auto& points = setup.springs.points;
    points.size() > 2 ? points.pop_back() : points.clear();
}

void fit_trial(Job& job, const std::string& date, bool found) {
    const Setup was = job.fitted;
    job.fitted = job.trial;
    bool comes_off = false;
    std::vector<std::string> gone; // where drafts are of a bar or of links that come off
    for (const auto& [before, now, word] :
         {std::tuple<const Assembly&, const Assembly&, const char*>{was.front, job.fitted.front, "front/"},
          {was.rear, job.fitted.rear, "rear/"}}) {
        if (&rig_of(job, before) != &rig_of(job, now) || before.bar.id != now.bar.id) {
            gone.push_back(std::string("tests/rig fitted ") + word);
            comes_off = comes_off || !rig_of(job, before).readings.empty();
        }
        if (before.bar.id != now.bar.id || before.links.id != now.links.id) {
            gone.push_back(std::string("tests/checks fitted ") + word);
            comes_off = comes_off || !(checks_of(job, before) == SetupChecks{});
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
    if (!waiting.empty())
        job.book.push_back(
            {date, EntryKind::Noted, "typed and not used: " + waiting, 0, {}, Snapshot{job.vehicle, was}});
    if (comes_off) {
        job.kept.push_back(was);
        job.kept.back().name += ", until " + date;
    }
    if (!found) spare_what_came_off(job, was);
}

std::vector<std::string> parts_changed(const Setup& before, const Setup& after) {
    std::vector<std::string> was, out;
    each_part(before, [&](const char*, const Part& p) { was.push_back(p.id); });
    std::size_t i = 0;
    each_part(after, [&](const char*, const Part& p) {
        if (p.id != was[i++] && std::find(out.begin(), out.end(), p.id) == out.end()) out.push_back(p.id);
    });
    return out;
}

void add_path_point(Job& job, End end) {
    AxleData& axle = job.vehicle[end];
    auto& points = axle.linkage.points;
    if (points.empty()) return guess_points(axle.linkage, axle, job.trial[end].dampers);
    PathPoint next = points.back(); // as far on again as the last one was
    if (points.size() > 1) {
        const PathPoint& before = points[points.size() - 2];
        next.travel.value += next.travel.value - before.travel.value;
        next.up.value += next.up.value - before.up.value;
    }
    points.push_back(next);
}

} // namespace dervish::edit
