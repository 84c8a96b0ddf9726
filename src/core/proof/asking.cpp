#include "core/proof/asking.h"
#include "core/num/root.h"

#include <algorithm>
#include <cmath>

namespace dervish::proof {
namespace {
constexpr double slowest = 2, fastest = 70; // m/s

} // namespace

Setting ground_setting() {
    Setting out{{"ground", "Ground", units::Quantity::Number, Tool::Test, 0, all_grounds.size() - 1.0}, 0};
    for (const Ground ground : all_grounds) out.words.push_back(name_of(ground));
    return out;
}

std::vector<Channel> with_travels(std::vector<Channel> first) {
    static constexpr const char* keys[] = {"front_left", "front_right", "rear_left", "rear_right"};
    static constexpr const char* labels[] = {"Front left travel", "Front right travel", "Rear left travel",
                                             "Rear right travel"};
    for (std::size_t w = 0; w < 4; ++w)
        first.push_back(
            {{keys[w], labels[w], units::Quantity::Length, Tool::Tape, -1, 1, "from ride height, bump is +"},
             5e-3,
             0,
             2e-3});
    return first;
}

std::vector<double> with_travels(std::vector<double> first, const car::State& at) {
    for (const car::Wheel& wheel : at.wheels) first.push_back(at.converged ? wheel.travel : std::nan(""));
    return first;
}

double lean_of(const car::State& s) { return s.converged ? (s.roll[0] + s.roll[1]) / 2 : std::nan(""); }
double more_lean(const car::Car& car, const car::State& at) { return lean_of(at) - lean_of(car::settle(car, {})); }

double most_lean(const balance::Run& run) { return run.done() ? run.roll_peak : std::nan(""); }

bool bears_on_drives(const Settings& settings, const std::string& path) {
    if (path.starts_with("vehicle/grounds/")) {
        const auto ground = settings.find("ground");
        return path.starts_with(job::path_of(
            ground == settings.end() ? Ground::Dry : static_cast<Ground>(static_cast<int>(ground->second))));
    }
    for (const char* own : {"/tyres/", "/stand/", "/wheels/", "/handling/", "/dampers/", "inertia"})
        if (path.find(own) != std::string::npos) return true;
    return path == "trial/bias_ratio" || bears_on_outcomes(path);
}

flex::Ascent Climbs::of(const car::Car& car) {
    if (first) return flex::climb(car, protocol, &*first);
    first = flex::climb(car, protocol);
    return *first;
}

Answers reach_and_travels(const flex::Protocol& protocol) {
    return of_car(Climbs{protocol}, [](const Asked&, const car::Car& car, Climbs& climbs) {
        const flex::Ascent a = climbs.of(car);
        return with_travels({a.height}, a.state);
    });
}

std::function<int(const Snapshot&, const Settings&)>
light_wheel_of(std::function<flex::Protocol(const Settings&)> protocol) {
    return [protocol = std::move(protocol)](const Snapshot& car, const Settings& s) {
        return flex::climb(car_with(car.vehicle, car.setup), protocol(s)).light_wheel;
    };
}

balance::Drive Course::at(double speed) const {
    balance::Drive out{manoeuvre, speed};
    if (manoeuvre == balance::Manoeuvre::SBend) {
        out.lateral = speed * speed / aside;
        out.stretch = length / (2.2 * speed);
    } else {
        const double time = length / speed;
        // A sine of sideways acceleration of height a and time T goes a T²/2π aside from rest; about a line, a (T/2π)².
        out.lateral = (manoeuvre == balance::Manoeuvre::Slalom ? 4 * units::pi * units::pi : 2 * units::pi) * aside /
                      (time * time);
        out.stretch = time / 2;
    }
    return out;
}

CleanSpeeds::Tried CleanSpeeds::at(double speed, double limit,
                                   const std::function<balance::Run(const balance::Drive&)>& drive) const {
    balance::Drive what = course_.at(speed);
    const double steady = 1 - what.lateral / limit;
    if (steady < 0) return {steady, true};
    // A slalom's second pair of waves is as its first.
    if (what.manoeuvre == balance::Manoeuvre::Slalom) what.within = 0.3 + 4 * what.stretch;
    const balance::Run run = drive(what);
    double most = 0;
    for (const balance::Moment& m : run.moments)
        for (std::size_t w = 0; w < 4; w += 2)
            if (const double load = m.load[w] + m.load[w + 1]; load > 0)
                most = std::max(most, (m.used[w] * m.load[w] + m.used[w + 1] * m.load[w + 1]) / load);
    return {std::min(clean_use - most, steady), run.done()};
}

double CleanSpeeds::search(const balance::Model& model) {
    const balance::Limit limit = balance::outright_limit(model, limit_ ? &*limit_ : nullptr);
    if (!limit_) limit_ = limit;
    const auto drive = [&](const balance::Drive& what) { return balance::drive(model, what); };
    const auto spare = [&](double v) { return at(v, limit.lateral, drive).whole(); };
    // Near the speed that asks all that it holds sideways most cars are no longer clean, at half of it nearly all are.
    double low = first_ > 0 ? 0.9 * first_
                            : std::clamp(0.7 * std::sqrt(limit.lateral / course_.at(1).lateral), slowest, fastest / 2);
    double high = low, at_low = spare(low), at_high = at_low;
    while (at_low <= 0) {
        if (low <= slowest) return std::nan("");
        high = low;
        at_high = at_low;
        at_low = spare(low = std::max(slowest, low / 1.2));
    }
    while (at_high > 0) {
        if (high >= fastest) return fastest;
        low = high;
        at_low = at_high;
        at_high = spare(high = std::min(fastest, 1.15 * high));
    }
    return root_between(spare, low, high, at_low, at_high, 2e-3);
}

std::optional<double> CleanSpeeds::of(const balance::Model& model, double part) {
    if (first_ == 0) {
        const double found = search(model);
        if (!std::isfinite(found) || found >= fastest) return found;
        first_ = found;
        const auto own = [&](const balance::Drive& what) { return near_.of(model, what, false); };
        const Tried here = at(0.998 * first_, limit_->lateral, own), slower = at(0.99 * first_, limit_->lateral, own);
        spare_ = here.spare;
        slope_ = (here.spare - slower.spare) / (0.008 * first_);
        return found;
    }
    if (part == 1) return search(model);
    // Where it tips before its grip is used, what is to spare does not tell.
    if (!(slope_ < 0) || std::abs(spare_) > 0.02) return {};
    const Tried now = at(0.998 * first_, balance::outright_limit(model, &*limit_).lateral,
                         [&](const balance::Drive& what) { return near_.of(model, what, true); });
    if (!now.kept) return {};
    return first_ + (now.spare - spare_) / -slope_;
}

} // namespace dervish::proof
