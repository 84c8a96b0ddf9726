#include "core/job/flex.h"

#include "core/job/choices.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace dervish::job {
namespace {
constexpr const char* sides[] = {"left", "right"};
const Assembly& assembly_of(const Setup& s, bool front) { return front ? s.front : s.rear; }
Assembly& assembly_of(Setup& s, bool front) { return front ? s.front : s.rear; }
const AxleData& axle_of(const Vehicle& v, bool front) { return front ? v.front : v.rear; }
const char* word(bool front) { return front ? "front" : "rear"; }
bool acts(const Assembly& a) { return a.fitted && a.connected; }

/// Moment about x that the ground puts on an axle's wheels, N·m.
double twist(const car::Car& car, const car::State& s, std::size_t end) {
    const double track = (end == 0 ? car.front : car.rear).track;
    return track / 2 * (s.wheels[2 * end].load - s.wheels[2 * end + 1].load);
}

/// Of an axle's bar between its wheels, N·m.
double bar_moment(const car::Axle& a, const car::State& s, std::size_t end) {
    const Eigen::Vector2d d(s.wheels[2 * end].travel, s.wheels[2 * end + 1].travel);
    if (a.linkage) {
        const Eigen::Vector2d f = (*a.linkage)(d).force;
        return a.track / 2 * (f[0] - f[1]);
    }
    const double base = a.kind == car::AxleKind::Solid ? a.bar_base : a.track;
    const Eigen::Vector2d f = a.bar * (d * base / a.track);
    return base / 2 * (f[0] - f[1]);
}

void add_link_limits(std::vector<CornerLimit>& out, const car::Axle& a, const std::array<double, 2>& travel,
                     std::size_t side) {
    if (!a.linkage) return;
    const linkage::Answer answer = (*a.linkage)({travel[0], travel[1]});
    const linkage::End& end = a.linkage->ends()[side];
    const linkage::Travel to{travel[side], travel[1 - side]};
    const int s = static_cast<int>(side);
    const auto position = linkage::at(end, a.linkage->branch(side), to);
    if (!position)
        out.push_back({"link over centre", 0});
    else if (position->off_square > linkage::stop_off_square)
        out.push_back({"link " + units::fixed(position->off_square / units::deg, 0) + "° off square", 0});
    if (std::abs(answer.bound[s]) > 0) out.push_back({"link joint bound", 0});
    for (const double far : {-0.5, 0.5})
        if (const auto over = linkage::over_centre(end, linkage::Mode::Roll, far))
            if (position)
                out.push_back({far < 0 ? "link over centre, drooping" : "link over centre, bumping",
                               far < 0 ? travel[side] - *over : *over - travel[side]});
}
} // namespace

std::vector<FlexState> flex_states(const Job& job, const Setup& setup, const Job* other) {
    std::vector<FlexState> out{{"as it is", job.vehicle, setup}};
    const auto with = [&](const std::string& name, auto&& change) {
        FlexState s{name, job.vehicle, setup};
        change(s);
        out.push_back(std::move(s));
    };
    const bool front = acts(setup.front), rear = acts(setup.rear);
    if (front) with("front off", [](FlexState& s) { s.setup.front.connected = false; });
    if (rear) with("rear off", [](FlexState& s) { s.setup.rear.connected = false; });
    if (front && rear) with("both off", [](FlexState& s) { s.setup.front.connected = s.setup.rear.connected = false; });
    with("dampers 50 mm longer", [](FlexState& s) {
        for (AxleData* a : {&s.vehicle.front, &s.vehicle.rear}) {
            a->droop_gap.value += 0.05;
            a->travel.strap.value = 0;
        }
    });
    if (front)
        if (const auto soft = with_rate(setup.front, 0.4))
            with("soft front bar, × 0.4", [&](FlexState& s) { s.setup.front = *soft; });
    for (const Assembly& bar : job.shelf)
        for (const bool at_front : {true, false}) {
            FlexState s{bar.bar.name + ", " + word(at_front), job.vehicle, setup};
            Assembly& at = assembly_of(s.setup, at_front);
            at = bar;
            at.fitted = at.connected = true;
            try {
                car_with(s.vehicle, s.setup);
                out.push_back(std::move(s));
            } catch (const BadInput&) { // does not go on that axle
            }
        }
    if (other)
        out.push_back({other->vehicle.name.empty() ? other->name : other->vehicle.name, other->vehicle, other->fitted});
    return out;
}

std::array<Corner, 4> corners(const FlexState& of, const car::Car& car, const car::State& at,
                              const car::Situation& ground) {
    std::array<Corner, 4> out;
    for (std::size_t w = 0; w < 4; ++w) {
        const bool front = w < 2;
        const std::size_t side = w % 2, first = front ? 0 : 2;
        const car::Axle& a = front ? car.front : car.rear;
        const AxleData& data = axle_of(of.vehicle, front);
        const car::Wheel& wheel = at.wheels[w];
        Corner& c = out[w];
        // Of a solid axle the wheel goes further than its spring, in roll by track over spring base.
        const double lever = a.kind == car::AxleKind::Solid ? a.track / a.spring_base : 1;
        const double left_up = wheel.room_bump * lever, left_down = wheel.room_droop * lever;
        c = {wheel.load,
             wheel.gap,
             wheel.travel,
             wheel.travel + left_up,
             left_down - wheel.travel,
             ground.wheel_height[w] + wheel.gap,
             {}};
        const bool strapped = data.travel.strap.value > 0 && data.travel.strap.value < data.droop_gap.value;
        c.limits = {{"bump stop", left_up}, {strapped ? "strap" : "damper out", left_down}};
        if (data.travel.hose.value > 0) c.limits.push_back({"brake hose taut", data.travel.hose.value + wheel.travel});
        if (data.travel.body.value > 0) c.limits.push_back({"tyre on body", data.travel.body.value - wheel.travel});
        add_link_limits(c.limits, a, {at.wheels[first].travel, at.wheels[first + 1].travel}, side);
        std::stable_sort(c.limits.begin(), c.limits.end(),
                         [](const CornerLimit& x, const CornerLimit& y) { return x.left < y.left; });
    }
    return out;
}

double FlexResult::lowest() const {
    double out = corner[0].load;
    for (const Corner& c : corner) out = std::min(out, c.load);
    return out;
}

FlexResult flex_of(const FlexState& state, const flex::Protocol& protocol) {
    FlexResult out{state, car_with(state.vehicle, state.setup), {}, {}, {}};
    out.ascent = flex::climb(out.car, protocol);
    out.corner = corners(state, out.car, out.ascent.state, flex::situation(protocol, out.ascent.height));
    // On a slope the side that is asked; else the worse.
    const bool slope = protocol.kind == flex::Kind::Slope;
    auto tips = flex::tipping_slope(out.car, !slope || protocol.wheel % 2 == 0);
    if (!slope)
        if (const auto other = flex::tipping_slope(out.car, false); other && (!tips || *other < *tips)) tips = other;
    out.road = {car::roll_and_share(out.car).first, tips,
                balance::drive(to_model(state.vehicle, out.car), {balance::Manoeuvre::LaneChange, 20, 4}).roll_peak};
    return out;
}

Outcomes ReachOutcomes::operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const flex::Ascent a = flex::climb(cars_.with(vehicle, setup, bar_scale), protocol_, first_ ? &*first_ : nullptr);
    if (!first_) first_ = a;
    return {a.height, a.front_travel, a.rear_travel};
}

Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled) {
    return propagate(state.vehicle, state.setup, ReachOutcomes(protocol), cancelled);
}

std::vector<FlexResult> flex_all(const std::vector<FlexState>& states, const flex::Protocol& protocol,
                                 const std::function<bool()>& cancelled) {
    std::vector<FlexResult> out;
    for (const FlexState& s : states) {
        if (cancelled && cancelled()) break;
        try {
            out.push_back(flex_of(s, protocol));
        } catch (const BadInput&) { // the window says at the field what is wrong
        }
    }
    return out;
}

namespace {
struct Teller {
    units::System system;
    std::vector<std::string> out;
    std::string length(double m) const { return units::text(m, units::Quantity::Length, system, 0); }
    std::string change(double m) const { return (m >= 0 ? "+" : "") + length(m); }
    std::string moment(double m) const { return units::text(m, units::Quantity::Moment, system, 0); }
};

void tell_twist(Teller& t, const FlexResult& now) {
    const car::State& s = now.ascent.state;
    const bool front = now.ascent.light_wheel < 2;
    const auto load = [&](bool f) { return s.wheels[f ? 0 : 2].load + s.wheels[f ? 1 : 3].load; };
    const std::string other = word(!front);
    const double passed = std::abs(twist(now.car, s, front ? 0 : 1));
    t.out.push_back("The " + std::string(word(front)) + " sets the twist: its " + sides[now.ascent.light_wheel % 2] +
                    " wheel goes light with " + units::text(load(front), units::Quantity::Force, t.system, 0) +
                    " on the axle (" + other + " " + units::text(load(!front), units::Quantity::Force, t.system, 0) +
                    "); the frame passes " + t.moment(passed) + " to the " + other);
}

void tell_bars(Teller& t, const FlexResult& now) {
    const car::State& s = now.ascent.state;
    std::string words;
    for (const bool front : {true, false}) {
        if (!acts(assembly_of(now.of.setup, front))) continue;
        const std::size_t end = front ? 0 : 1;
        const double whole = twist(now.car, s, end), bar = bar_moment(front ? now.car.front : now.car.rear, s, end);
        if (std::abs(whole) < 1) continue;
        words += (words.empty() ? "Of it the " : ", the ") + std::string(word(front)) + " bar holds " +
                 units::fixed(100 * bar / whole, 0) + " %";
    }
    if (!words.empty()) t.out.push_back(words);
}

void tell_body(Teller& t, const flex::Protocol& p, const FlexResult& now) {
    if (p.kind == flex::Kind::Slope) return;
    const car::Situation ground = flex::situation(p, now.ascent.height);
    const auto under = [&](std::size_t end) { // right side down positive, as the lean
        return std::atan((ground.wheel_height[2 * end] - ground.wheel_height[2 * end + 1]) /
                         (end == 0 ? now.car.front : now.car.rear).track);
    };
    const double lean = (now.ascent.state.roll[0] + now.ascent.state.roll[1]) / 2;
    const bool front = std::abs(lean - under(0)) < std::abs(lean - under(1));
    const auto deg = [](double a) { return units::fixed(a / units::deg, 1) + "°"; };
    t.out.push_back("The body leans " + deg(lean) + "; the ground leans " + deg(under(0)) + " under the front and " +
                    deg(under(1)) + " under the rear: it follows the " + word(front));
}

void tell_removals(Teller& t, const std::vector<FlexResult>& all) {
    const FlexResult& now = all[0];
    for (const FlexResult& r : all)
        if (r.of.name == "front off" || r.of.name == "rear off" || r.of.name == "both off")
            t.out.push_back(r.of.name + ": front " + t.change(r.ascent.front_travel - now.ascent.front_travel) +
                            ", rear " + t.change(r.ascent.rear_travel - now.ascent.rear_travel) + " of travel");
}

void tell_end(Teller& t, const FlexResult& now) {
    std::string reached;
    std::size_t nearest = 0;
    for (std::size_t w = 0; w < 4; ++w) {
        if (now.corner[w].first().left <= 0)
            reached +=
                (reached.empty() ? "" : ", ") + std::string(car::wheel_names[w]) + ": " + now.corner[w].first().what;
        if (now.corner[w].first().left < now.corner[nearest].first().left) nearest = w;
    }
    if (reached.empty())
        reached = std::string("nothing yet; next the ") + car::wheel_names[nearest] + "'s " +
                  now.corner[nearest].first().what + ", " + t.length(now.corner[nearest].first().left) + " off";
    t.out.push_back("What ends the travel: " + reached);
    if (!now.ascent.lifted) t.out.push_back("The ramps end before a wheel goes light: more than this");
}
} // namespace

std::vector<std::string> why(const flex::Protocol& p, const std::vector<FlexResult>& all, units::System system) {
    Teller t{system, {}};
    if (all.empty()) return t.out;
    tell_twist(t, all[0]);
    tell_bars(t, all[0]);
    tell_body(t, p, all[0]);
    tell_removals(t, all);
    tell_end(t, all[0]);
    return t.out;
}

std::vector<std::size_t> ranked(const std::vector<FlexResult>& all, double track) {
    const auto travel = [](const FlexResult& r) { return r.ascent.front_travel + r.ascent.rear_travel; };
    double most = 1e-9, least = 1e9;
    for (const FlexResult& r : all) {
        most = std::max(most, travel(r));
        least = std::min(least, r.road.roll_gradient);
    }
    const auto score = [&](std::size_t i) {
        const double exact = track * travel(all[i]) / most + (1 - track) * least / all[i].road.roll_gradient;
        return std::round(exact * 1e3); // what is as good stays in order: as it is, first
    };
    std::vector<std::size_t> out(all.size());
    std::iota(out.begin(), out.end(), 0);
    std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) { return score(a) > score(b); });
    return out;
}

std::string words_of(const flex::Protocol& p) {
    const auto pair = flex::raised_wheels(p.raised);
    const auto name = [](int w) { return std::string(car::wheel_names[static_cast<std::size_t>(w)]); };
    const std::string second = p.second == 1 ? "" : ", rear × " + units::trimmed(p.second, 2);
    switch (p.kind) {
    case flex::Kind::Diagonal:
        return "diagonal ramps, " + name(pair[0]) + " and " + name(pair[1]) + " up" + second;
    case flex::Kind::Holes:
        return "cross-axle holes, " + name(pair[0]) + " and " + name(pair[1]) + " down" + second;
    case flex::Kind::Ramp:
        return "ramp of " + units::trimmed(p.angle / units::deg, 1) + "° under the " + name(p.wheel);
    case flex::Kind::Lift:
        return name(p.wheel) + " lifted";
    case flex::Kind::Slope:
        return std::string("side slope, ") + (p.wheel % 2 == 0 ? "left" : "right") + " side uphill" +
               (p.obstacle > 0 ? ", on a stone of " + units::fixed(p.obstacle / units::mm, 0) + " mm" : "");
    }
    return {};
}

} // namespace dervish::job
