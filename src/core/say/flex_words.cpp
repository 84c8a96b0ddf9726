#include "core/say/flex_words.h"

#include <cmath>

namespace dervish::say {
namespace {
using Compared = FlexState::What::Kind;
constexpr const char* side_names[] = {"left", "right"};
bool acts(const Assembly& a) { return a.fitted && a.connected; }

/// Moment about x that the ground puts on an axle's wheels, N·m.
double twist(const car::Car& car, const car::State& s, End end) {
    return car[end].track / 2 * (s.wheels[wheel_at(end, 0)].load - s.wheels[wheel_at(end, 1)].load);
}

/// Of an axle's bar between its wheels, N·m.
double bar_moment(const car::Axle& a, const car::State& s, End end) {
    const Eigen::Vector2d d(s.wheels[wheel_at(end, 0)].travel, s.wheels[wheel_at(end, 1)].travel);
    if (a.linkage) {
        const Eigen::Vector2d f = (*a.linkage)(d).force;
        return a.track / 2 * (f[0] - f[1]);
    }
    const double base = a.kind == AxleKind::Solid ? a.bar_base : a.track;
    const Eigen::Vector2d f = a.bar * (d * base / a.track);
    return base / 2 * (f[0] - f[1]);
}

struct FlexTeller {
    units::System system;
    std::vector<std::string> out;
    std::string length(double m) const { return units::text(m, units::Quantity::Length, system, 0); }
    std::string change(double m) const { return (m >= 0 ? "+" : "") + length(m); }
    std::string moment(double m) const { return units::text(m, units::Quantity::Moment, system, 0); }
};

void tell_twist(FlexTeller& t, const FlexResult& now) {
    const car::State& s = now.ascent.state;
    const End end = end_of(static_cast<std::size_t>(now.ascent.light_wheel));
    const auto load = [&](End of) { return s.wheels[wheel_at(of, 0)].load + s.wheels[wheel_at(of, 1)].load; };
    const std::string others = name_of(other(end));
    const double passed = std::abs(twist(now.car, s, end));
    t.out.push_back("The " + std::string(name_of(end)) + " sets the twist: its " +
                    side_names[now.ascent.light_wheel % 2] + " wheel goes light with " +
                    units::text(load(end), units::Quantity::Force, t.system, 0) + " on the axle (" + others + " " +
                    units::text(load(other(end)), units::Quantity::Force, t.system, 0) + "); the frame passes " +
                    t.moment(passed) + " to the " + others);
}

void tell_bars(FlexTeller& t, const FlexResult& now) {
    const car::State& s = now.ascent.state;
    std::string words;
    for (const End end : both_ends) {
        if (!acts(now.of.setup[end])) continue;
        const double whole = twist(now.car, s, end), bar = bar_moment(now.car[end], s, end);
        if (std::abs(whole) < 1) continue;
        words += (words.empty() ? "Of it the " : ", the ") + std::string(name_of(end)) + " bar holds " +
                 units::fixed(100 * bar / whole, 0) + " %";
    }
    if (!words.empty()) t.out.push_back(words);
}

void tell_body(FlexTeller& t, const flex::Protocol& p, const FlexResult& now) {
    if (p.kind == flex::Kind::Slope) return;
    const car::Situation ground = flex::situation(p, now.ascent.height);
    const auto under = [&](End end) { // right side down positive, as the lean
        return std::atan((ground.wheel_height[wheel_at(end, 0)] - ground.wheel_height[wheel_at(end, 1)]) /
                         now.car[end].track);
    };
    const double front = under(End::Front), rear = under(End::Rear);
    const double lean = (now.ascent.state.roll[0] + now.ascent.state.roll[1]) / 2;
    const End end = std::abs(lean - front) < std::abs(lean - rear) ? End::Front : End::Rear;
    const auto angle = [](double a) { return units::fixed(a / units::deg, 1) + "°"; };
    t.out.push_back("The body leans " + angle(lean) + "; the ground leans " + angle(front) + " under the front and " +
                    angle(rear) + " under the rear: it follows the " + name_of(end));
}

void tell_removals(FlexTeller& t, const std::vector<FlexResult>& all) {
    const FlexResult& now = all[0];
    for (const FlexResult& r : all)
        if (const auto kind = r.of.what.kind; kind == Compared::EndOff || kind == Compared::BothOff)
            t.out.push_back(name_of(r.of, t.system) + ": front " +
                            t.change(r.ascent.front_travel - now.ascent.front_travel) + ", rear " +
                            t.change(r.ascent.rear_travel - now.ascent.rear_travel) + " of travel");
}

void tell_end(FlexTeller& t, const FlexResult& now) {
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

std::string name_of(const FlexState& state, units::System system) {
    const FlexState::What& what = state.what;
    const std::string end = dervish::name_of(what.end);
    switch (what.kind) {
    case Compared::AsItIs:
        return "as it is";
    case Compared::Fitted:
        return "as Fitted";
    case Compared::EndOff:
        return end + " off";
    case Compared::BothOff:
        return "both off";
    case Compared::LongerDampers:
        return "dampers " + units::text(what.longer, units::Quantity::Length, system, 0) + " longer";
    case Compared::SofterBar:
        return "soft " + end + " bar, × " + units::trimmed(softer_bar, 2);
    case Compared::Kept:
        return what.called;
    case Compared::FromShelf:
        return what.called + ", " + end;
    case Compared::OtherJob:
        return what.called;
    }
    return {};
}

std::vector<std::string> why(const flex::Protocol& p, const std::vector<FlexResult>& all, units::System system) {
    FlexTeller t{system, {}};
    if (all.empty()) return t.out;
    tell_twist(t, all[0]);
    tell_bars(t, all[0]);
    tell_body(t, p, all[0]);
    tell_removals(t, all);
    tell_end(t, all[0]);
    return t.out;
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

std::string limit_of(const car::Wheel& w, units::System system) {
    const auto length = [&](double m) {
        return units::text(m, units::Quantity::Length, system, system == units::System::Metric ? 0 : 2);
    };
    if (w.stop == car::Stop::Bump) return "on the bump stop, pressed in " + length(-w.room_bump);
    if (w.stop == car::Stop::Droop) return "damper out";
    return w.travel >= 0 ? length(w.room_bump) + " to the bump stop" : length(w.room_droop) + " of droop left";
}

} // namespace dervish::say
