#include "core/say/setup_steps.h"
#include "core/job/usual.h"
#include "core/model/stand.h"

#include "core/model/lie.h"

#include <Eigen/Geometry>
#include <cmath>

namespace dervish::say {
namespace {
using units::Quantity, units::mm, units::deg;
using State = StepFound::State;

// Of a car 1.5 m wide; of another size in proportion (StepTeller::size).
constexpr double limit_tolerance = 5 * mm, straight_tolerance = 2 * mm, centred_tolerance = 4 * mm,
                 level_tolerance = 1 * deg, equal_tolerance = 1 * mm, bend_tolerance = 4 * deg, most_slack = 2 * mm;
constexpr double moving_force = 50; // at the eye, N: rubbing of bores and joints and half an arm; assumed

constexpr StepReading of_limits[] = {
    {{"droop", "Droop, from ride height", Quantity::Length, Tool::Tape, 0, 1}, &SetupChecks::droop},
    {{"bump", "Bump, from ride height", Quantity::Length, Tool::Tape, 0, 1}, &SetupChecks::bump}};
constexpr StepReading of_straight[] = {
    {{"table_gap", "Gap under the higher eye", Quantity::Length, Tool::Tape, 0, 0.3}, &SetupChecks::table_gap}};
constexpr StepReading of_centred[] = {
    {{"left_stub", "Left eye to left mount", Quantity::Length, Tool::Tape, 0, 2}, &SetupChecks::left_stub},
    {{"right_stub", "Right eye to right mount", Quantity::Length, Tool::Tape, 0, 2}, &SetupChecks::right_stub}};
constexpr StepReading of_level[] = {
    {{"mount_height", "Bar at its mount, above ground", Quantity::Length, Tool::Tape, 0.001, 2},
     &SetupChecks::mount_height},
    {{"eye_height", "Bar at its eye, above ground", Quantity::Length, Tool::Tape, 0.001, 2}, &SetupChecks::eye_height}};
constexpr StepReading of_equal[] = {
    {{"left_link", "Left link, centre to centre", Quantity::Length, Tool::Tape, 0.001, 1.5}, &SetupChecks::left_link},
    {{"right_link", "Right link, centre to centre", Quantity::Length, Tool::Tape, 0.001, 1.5},
     &SetupChecks::right_link}};
constexpr StepReading of_left_right[] = {
    {{"lift_zero", "Gauge, both wheels down (shows slack)", Quantity::Length, Tool::Tape, -0.2, 2},
     &SetupChecks::lift_zero}};
constexpr StepReading of_hang[] = {
    {{"hang_bend", "Bend left between link and arm", Quantity::Angle, Tool::AngleGauge, 0, 90 * deg},
     &SetupChecks::hang_bend},
    {{"gap_lock", "Least gap at full lock", Quantity::Length, Tool::Tape, 0, 0.5}, &SetupChecks::gap_lock},
    {{"gap_droop", "Least gap at full droop", Quantity::Length, Tool::Tape, 0, 0.5}, &SetupChecks::gap_droop},
    {{"gap_bump", "Least gap at full bump", Quantity::Length, Tool::Tape, 0, 0.5}, &SetupChecks::gap_bump}};
/// Bushes and joints give some of this under load, so that less may come to touch; our own guess, m.
constexpr double near_gap = 0.010;

struct StepTeller {
    units::System system;
    /// Of the car's lengths and forces over a plain car's: what is a hair on a bus is much on a model.
    double track, size, force;
    StepTeller(units::System in, const AxleData& axle)
        : system(in), track(axle.track.value), size(size_of(axle.track.value)),
          force(size == 1 ? 1 : axle.unsprung_mass.value / 90) {}
    double lift_tolerance(const SetupChecks& c) const { return job::lift_tolerance(c, track); }
    std::string length(double si, int decimals = -1) const {
        return units::text(si, Quantity::Length, system, decimals);
    }
    std::string angle(double si) const { return units::text(si, Quantity::Angle, system, 0); }

    /// "2.0 mm shorter (0.7 turns)": what to do to a link.
    std::string change(double by, const std::optional<linkage::Thread>& thread, double from) const {
        std::string out = length(std::abs(by)) + (by < 0 ? " shorter" : " longer");
        if (!thread) return out;
        out += ", " + units::fixed(std::abs(by) / thread->per_turn(), 2) + " turns " + (by < 0 ? "in" : "out");
        if (!thread->reaches(from + by)) out += " (more than its thread has)";
        return out;
    }
};

std::string within(const std::string& read, const std::string& tolerance) {
    return read + "; " + tolerance + " will do";
}

void limits(StepFound& out, const SetupChecks& c, const AxleSetup& a, const AxleData& axle, const StepTeller& t) {
    out.title = "Travel limits";
    out.how =
        "Set straps, stops and dampers first: all that follows holds only between them. On stands, wheels chocked, "
        "read how far the wheel (on a solid axle: the spring) goes from ride height until it is stopped.";
    if (!c.droop || !c.bump) return;
    const StopGaps gaps = stop_gaps(a, axle);
    const double droop = *c.droop - gaps.droop, bump = *c.bump - gaps.bump;
    out.found = "droop " + t.length(*c.droop) + ", bump " + t.length(*c.bump) + "; the car's list has " +
                t.length(gaps.droop) + " and " + t.length(gaps.bump);
    const bool good = std::abs(droop) <= t.size * limit_tolerance && std::abs(bump) <= t.size * limit_tolerance;
    out.state = good ? State::Good : State::Attend;
    if (!good)
        out.next = "Enter the travel as read under Car, or set the stops to it: the margins here count with the list.";
}

void straight(StepFound& out, const Assembly& a, const SetupChecks& c, const StepTeller& t) {
    out.title = "Bar straight";
    out.how = "Bar off the car, on a flat table, one eye held down: read the gap under the other.";
    if (!c.table_gap) return;
    const double gap = *c.table_gap;
    out.found = within(t.length(gap), t.length(t.size * straight_tolerance));
    out.state = gap <= t.size * straight_tolerance ? State::Good : State::Attend;
    const bool entered = std::abs(std::abs(a.bar.bent.value) - gap) < 0.5 * mm * t.size;
    if (gap > t.size * straight_tolerance)
        out.next = std::string("A bent bar loads the car at rest. ") +
                   (entered ? "See At rest for what its links can take out; " : "Enter it as the bar's Bent; ") +
                   "straightening spring steel cold or hot is the maker's word.";
}

void centred(StepFound& out, const SetupChecks& c, const StepTeller& t) {
    out.title = "Bar centred";
    out.how = "From each eye to its mount along the bar. A bar off to one side leans its links and finds the wheel.";
    if (!c.left_stub || !c.right_stub) return;
    const double off = (*c.left_stub - *c.right_stub) / 2;
    out.found = within("off by " + t.length(std::abs(off)), t.length(t.size * centred_tolerance / 2));
    out.state = std::abs(off) <= t.size * centred_tolerance / 2 ? State::Good : State::Attend;
    if (out.state == State::Attend)
        out.next = "Move the bar " + t.length(std::abs(off)) + " to the " + (off > 0 ? "right" : "left") +
                   " and set its collars.";
}

void level(StepFound& out, const Assembly& a, const SetupChecks& c, const PerSide<LinkSide>& sides,
           const StepTeller& t) {
    out.title = "Bar level";
    out.how =
        "On its wheels at ride height, rolled not jacked, usual load aboard: height of the bar at a mount and at an "
        "eye. Links set with the wheels hanging come out wrong.";
    if (!c.mount_height || !c.eye_height) return;
    const linkage::BarEnd& end = sides[0].end;
    const double arm = (end.eye - end.mounts[1]).cross((end.mounts[1] - end.mounts[0]).normalized()).norm();
    const double up = *c.eye_height - *c.mount_height, angle = std::asin(std::clamp(up / arm, -1.0, 1.0));
    out.found = within("eye " + t.length(std::abs(up)) + (up < 0 ? " low, " : " high, ") +
                           units::text(std::abs(angle), Quantity::Angle, t.system, 1),
                       t.angle(level_tolerance));
    out.state = std::abs(angle) <= level_tolerance ? State::Good : State::Attend;
    if (out.state == State::Good) return;
    const double flat = linkage::level_turn(end);
    const double as_read = linkage::attitude(end, flat + angle) * angle > 0 ? flat + angle : flat - angle;
    const auto from = linkage::length_for(end, as_read), to = linkage::length_for(end, flat);
    const std::optional<linkage::Thread> thread = thread_of(a.links, end.link);
    out.next = "Both links " + t.change(*to - *from, thread, end.link) +
               ", unless the bar tips up on purpose for droop. Loosen both sides with both wheels at equal height.";
}

void equal(StepFound& out, const Assembly& a, const SetupChecks& c, const StepTeller& t) {
    out.title = "Links equal";
    out.how = "Links off, both on the bench: centre to centre, and lock nuts sound.";
    if (!c.left_link || !c.right_link) return;
    const double longer = *c.right_link - *c.left_link, off = longer - a.links.right_longer.value;
    out.found = within("right one " + t.length(std::abs(longer)) + (longer < 0 ? " shorter" : " longer") +
                           (a.links.right_longer.value != 0 ? ", meant " + t.length(a.links.right_longer.value) : ""),
                       t.length(t.size * equal_tolerance));
    out.state = std::abs(off) <= t.size * equal_tolerance ? State::Good : State::Attend;
    if (out.state == State::Attend)
        out.next = "Right link " + t.change(-off, thread_of(a.links, *c.right_link), *c.right_link) + ".";
}

void left_right(StepFound& out, const AxleSetup& a, const SetupChecks& c, const AxleData& axle,
                const PerSide<LinkSide>& sides, const StepTeller& t) {
    out.title = "Left against right";
    out.how =
        "Lift one wheel slowly until the other side's arm just starts to move; note the gauge. The same at the other "
        "side's contact point. Stands under the car; nobody under it on a jack.";
    if (c.rounds.empty()) return;
    const LiftRound& last = c.rounds.back();
    const bool below = sides[0].rest.pickup.z() < sides[0].rest.eye.z();
    const double per_contact = link_per_wheel(a, axle) / c.per_wheel, zero = c.lift_zero.value_or(0);
    const linkage::LiftFound found = linkage::lift_found(last.left - zero, last.right - zero, per_contact, below);
    const double differ = last.left - last.right;
    // Before the other arm moves, the bar winds up by what its own rubbing, and the arm's weight, take.
    const double wound_up = t.force * moving_force / solve(a).at_links(0, 0);
    out.found =
        "round " + std::to_string(c.rounds.size()) + ": " +
        within("they differ by " + t.length(std::abs(differ)), t.length(t.lift_tolerance(c))) + "; right link " +
        t.length(std::abs(found.right_longer)) + (found.right_longer < 0 ? " short" : " long") +
        (c.lift_zero
             ? ", slack and wind-up " + t.length(found.slack) + ", of it the bar's own about " + t.length(wound_up)
             : std::string());
    out.state = std::abs(differ) <= t.lift_tolerance(c) ? State::Good : State::Attend;
    if (out.state == State::Attend) {
        const double length = a.links.length.value;
        const auto thread = thread_of(a.links, length);
        out.next = "Left link " + t.change(found.left_change, thread, length) + ", right link " +
                   t.change(-found.left_change, thread, length) +
                   ": shared, so that the bar stays level. Then read a new round." +
                   (thread ? "" : " These links have no thread: fit ones that do, or washers at the eye.");
    } else if (c.lift_zero && found.slack - wound_up > t.size * most_slack) {
        out.state = State::Attend;
        out.next = "Alike, but with " + t.length(found.slack - wound_up) + " of slack: look for worn joints.";
    }
}

void hang(StepFound& out, const AxleSetup& a, const AxleData& axle, const SetupChecks& c,
          const PerSide<LinkSide>& sides, const StepTeller& t) {
    out.title = "Hang check";
    out.how =
        "Car on stands on firm ground, axle lowered slowly to full droop, hands clear: the bend that is left between "
        "link and arm (0: in line, about to go over centre). With the wheels on, at full lock, droop and bump: the "
        "least gap to hose, wheel, arm and body.";
    std::string gaps;
    double least_gap = 1;
    for (const StepReading& r : std::span(of_hang).subspan(1))
        if (const auto& gap = c.*r.value) {
            gaps += (gaps.empty() ? "" : ", ") + std::string(r.spec.label + 10) + " " + t.length(*gap);
            least_gap = std::min(least_gap, *gap);
        }
    const auto tell_gaps = [&] { // after what the bend says
        if (gaps.empty()) return;
        out.found += (out.found.empty() ? "gap " : "; gap ") + gaps;
        if (least_gap > t.size * near_gap) return;
        out.state = State::Attend;
        out.next += std::string(out.next.empty() ? "" : " ") +
                    (least_gap <= 0 ? "It touches: move it, or keep the wheel from there, before it is driven."
                                    : "Close: bushes and joints give more under load. Look for marks after the first "
                                      "drive.");
    };
    if (!c.hang_bend) return tell_gaps();
    const double read = *c.hang_bend, droop = stop_gaps(a, axle).droop;
    const auto at = linkage::at(sides[0].end, sides[0].branch, {-droop, -droop});
    const double expected = at ? units::pi / 2 - at->off_square : 0, least = units::pi / 2 - linkage::stop_off_square;
    out.found = t.angle(read) + " left, by the sum " + t.angle(expected) + "; at least " + t.angle(least);
    if (read < least) {
        out.state = State::Attend;
        out.next = "Too near the dead line: a longer link, a strap, or the bar tipped up; see Length.";
    } else if (std::abs(read - expected) > bend_tolerance) {
        out.state = State::Attend;
        out.next = "Not what the measured geometry gives: measure pick-up, eye and droop again.";
    } else {
        out.state = State::Good;
    }
    tell_gaps();
}

void ticked(StepFound& out, bool done) { out.state = done ? State::Good : State::Todo; }
} // namespace

std::span<const StepReading> readings_of(Step step) {
    switch (step) {
    case Step::Limits:
        return of_limits;
    case Step::Straight:
        return of_straight;
    case Step::Centred:
        return of_centred;
    case Step::Level:
        return of_level;
    case Step::Equal:
        return of_equal;
    case Step::LeftRight:
        return of_left_right;
    case Step::Hang:
        return of_hang;
    default:
        return {};
    }
}

bool SetupChecks::*tick_of(Step step) {
    return step == Step::Joints ? &SetupChecks::joints_free : step == Step::Falls ? &SetupChecks::falls_free : nullptr;
}

StepFound look_at(Step step, const AxleSetup& a, const SetupChecks& c, const AxleData& axle, units::System system) {
    StepFound out;
    const StepTeller t(system, axle);
    const auto sides = link_sides(a, axle);
    if (!sides) throw BadInput("links", "there is no bar with links here", "fit one first");
    switch (step) {
    case Step::Limits:
        limits(out, c, a, axle, t);
        break;
    case Step::Straight:
        straight(out, a, c, t);
        break;
    case Step::Centred:
        centred(out, c, t);
        break;
    case Step::Joints:
        out.title = "Joints free and clean";
        out.how = "Each joint by hand through its whole tilt: no grit, no notch, no play; boots whole; studs turned so "
                  "that they tilt both ways at ride height.";
        ticked(out, c.joints_free);
        break;
    case Step::Falls:
        out.title = "Falls free";
        out.how = "Links off one end: the bar lifted by hand falls by its own weight. If not, bores bind or mounts are "
                  "out of line: clean and grease the bores, shim the mounts.";
        ticked(out, c.falls_free);
        break;
    case Step::Level:
        level(out, a, c, *sides, t);
        break;
    case Step::Equal:
        equal(out, a, c, t);
        break;
    case Step::LeftRight:
        left_right(out, a, c, axle, *sides, t);
        break;
    case Step::Hang:
        hang(out, a, axle, c, *sides, t);
        break;
    }
    return out;
}

Step next_step(const AxleSetup& a, const SetupChecks& c, const AxleData& axle) {
    for (const Step step : all_steps)
        if (look_at(step, a, c, axle, units::System::Metric).state != StepFound::State::Good) return step;
    return Step::Hang;
}

} // namespace dervish::say
