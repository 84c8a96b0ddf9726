#include "core/proof/doubts.h"
#include "core/proof/predict.h"
#include "core/study/assess.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace dervish::proof {
namespace {
using What = Fault::What;

std::string mirrored(std::string key) {
    const auto turn = [&](const char* from, const char* to) {
        const auto at = key.find(from);
        if (at == std::string::npos) return false;
        key.replace(at, std::string(from).size(), to);
        return true;
    };
    if (!turn("left", "right")) turn("right", "left");
    return key;
}

/// Root mean square of z over what was read of a state, if the car gave `values`.
double off_by(const PlannedTest& test, int state, const std::vector<double>& values, bool swapped) {
    const Protocol& p = protocol(test.protocol);
    double sum = 0;
    int count = 0;
    for (std::size_t c = 0; c < p.channels.size(); ++c) {
        PlannedTest tried = test;
        Prediction& pr = tried.states[static_cast<std::size_t>(state)].prediction;
        if (c >= values.size() || c >= pr.value.size()) continue;
        std::size_t from = c;
        if (swapped)
            for (std::size_t o = 0; o < p.channels.size(); ++o)
                if (p.channels[o].spec.key == mirrored(p.channels[c].spec.key)) from = o;
        pr.value[c] = std::isfinite(values[from]) ? values[from] : 0;
        pr.tells[c] = std::isfinite(values[from]) ? PredictedValue : PredictedNothing;
        const Verdict v = compare(tried, state, c);
        if (v.agreement == Agreement::NothingRead) continue;
        if (v.agreement == Agreement::CannotTell) return 1e9;
        sum += v.bound && v.agreement == Agreement::Agrees ? 0 : v.z * v.z;
        ++count;
    }
    return count ? std::sqrt(sum / count) : 1e9;
}
} // namespace

std::vector<Culprit> culprits(const PlannedTest& test, int state, std::size_t channel, std::size_t most) {
    std::vector<Culprit> out;
    const Verdict v = compare(test, state, channel);
    if (v.agreement != Agreement::Doubtful && v.agreement != Agreement::Disagrees) return out;
    for (const PredictedShare& s : test.states[static_cast<std::size_t>(state)].prediction.shares)
        if (s.change[channel] != 0)
            if (const double n = (v.measured - v.predicted) / s.change[channel]; std::abs(n) <= 4)
                out.push_back({s.path, s.label, n});
    std::ranges::sort(out, {}, [](const Culprit& c) { return std::abs(c.sigmas); });
    if (out.size() > most) out.resize(most);
    return out;
}

std::vector<Fault> faults(const PlannedTest& test, int state, const std::vector<Setup>& setups) {
    const Protocol& p = protocol(test.protocol);
    const Settings settings = settings_of(p, test);
    const Snapshot& car = test.states[static_cast<std::size_t>(state)].car;
    std::vector<Fault> out;
    // The sound car first: those near it are then found from it.
    const auto ask = p.answers(settings);
    try {
        if (!p.channels.empty()) ask({car.vehicle, car.setup});
    } catch (const BadInput&) {
    }
    const auto look = [&](What what, std::optional<End> end, const Snapshot& tried, const std::string& setup = {},
                          bool swapped = false) {
        try {
            const std::vector<double> values = ask({tried.vehicle, tried.setup});
            const double off = off_by(test, state, values, swapped);
            if (off <= band_90) out.push_back({what, end, setup, values.at(0), off});
        } catch (const BadInput&) { // no such car
        }
    };
    if (p.channels.empty()) return out;
    for (const End end : both_ends) {
        const AxleSetup& a = car.setup[end];
        const auto with = [&](auto&& change) {
            Snapshot tried = car;
            change(tried);
            return tried;
        };
        if (a.fitted && a.connected) {
            look(What::LinkOff, end, with([&](Snapshot& t) { t.setup[end].connected = false; }));
            if (a.held == Held::Links)
                look(What::BushGone, end, with([&](Snapshot& t) {
                         t.setup[end].mounts.vertical.value /= 8;
                         t.setup[end].mounts.fore_aft.value /= 8;
                     }));
        }
        look(What::DroopShort, end, with([&](Snapshot& t) { t.setup[end].dampers.droop_gap.value *= 2.0 / 3; }));
        look(What::BumpShort, end, with([&](Snapshot& t) { t.vehicle[end].bump_gap.value /= 2; }));
        look(What::UnlikeTyres, end, with([&](Snapshot& t) { t.setup[end].stand.left_pressure.value *= 0.8; }));
        look(What::UnlikeTyres, end, with([&](Snapshot& t) { t.setup[end].stand.left_pressure.value *= 1.25; }));
    }
    // Its own runs of the same test, where it has any, are the better witness.
    const auto read_otherwise = [&](const Setup& setup) {
        for (std::size_t s = 0; s < test.states.size(); ++s) {
            Setup named = test.states[s].car.setup;
            named.name = setup.name;
            if (static_cast<int>(s) == state || named != setup) continue;
            for (std::size_t c = 0; c < p.channels.size(); ++c)
                if (const auto apart = back_to_back(test, c, state, static_cast<int>(s));
                    apart && std::abs(apart->difference) > apart->half_90)
                    return true;
        }
        return false;
    };
    for (const Setup& setup : setups)
        if (Setup same = setup; same.name = car.setup.name, same != car.setup && !read_otherwise(setup))
            look(What::OtherSetup, {}, {car.vehicle, setup}, setup.name);
    look(What::SidesSwapped, {}, car, {}, true);
    try {
        const study::Outcomes told = study::assess(car.vehicle, car.setup).outcomes;
        for (const End end : both_ends)
            if (car.setup[end].fitted && car.setup[end].connected &&
                told[study::at(study::FrontLinkMargin, end)] <= 2 * units::deg)
                out.push_back({What::OverCentre, end, {}, std::nan(""), band_90});
    } catch (const BadInput&) {
    }
    std::ranges::stable_sort(out, {}, &Fault::off);
    // The same fault with a tyre down on either side is told once.
    const auto twice = [](const Fault& a, const Fault& b) {
        return a.what == b.what && a.end == b.end && a.setup == b.setup;
    };
    std::vector<Fault> once;
    for (const Fault& f : out)
        if (std::ranges::none_of(once, [&](const Fault& o) { return twice(f, o); })) once.push_back(f);
    return once;
}

std::vector<Unlike> unlike(const PlannedTest& test, int first, int second) {
    std::vector<Unlike> out;
    std::vector<const Run*> a, b;
    std::vector<int> order;
    for (const Run& r : test.runs) {
        if (!r.discarded.empty()) continue;
        if (r.state == first) a.push_back(&r);
        if (r.state == second) b.push_back(&r);
        if (r.state == first || r.state == second) order.push_back(r.state);
    }
    if (a.empty() || b.empty()) return out;
    const auto apart = [&](Unlike what, auto&& of, auto&& said) {
        bool any = false;
        for (const Run* x : a)
            for (const Run* y : b)
                if (said(*x) && said(*y)) {
                    if (of(*x) == of(*y)) return;
                    any = true;
                }
        if (any) out.push_back(what);
    };
    const auto always = [](const Run&) { return true; };
    apart(
        Unlike::Driver, [](const Run& r) { return r.driver; }, [](const Run& r) { return !r.driver.empty(); });
    apart(
        Unlike::Ground, [](const Run& r) { return r.ground; }, [](const Run& r) { return !r.ground.empty(); });
    // Aids and load are told but where the setups themselves differ in them: then that is what is tested.
    const Setup &one = test.states[static_cast<std::size_t>(first)].car.setup,
                &other = test.states[static_cast<std::size_t>(second)].car.setup;
    if (one.stability_aid == other.stability_aid)
        apart(
            Unlike::Aids, [](const Run& r) { return r.aids_on; }, always);
    if (one.aboard == other.aboard)
        apart(
            Unlike::Aboard, [](const Run& r) { return r.aboard; }, always);
    const auto mean = [](const std::vector<const Run*>& runs, const std::string& key) -> std::optional<double> {
        double sum = 0;
        int count = 0;
        for (const Run* r : runs)
            for (const Amount& c : r->conditions)
                if (c.of == key) {
                    sum += c.si;
                    ++count;
                }
        return count ? std::optional(sum / count) : std::nullopt;
    };
    const auto differ = [&](const std::string& key, double share, double least) {
        const auto x = mean(a, key), y = mean(b, key);
        return x && y && std::abs(*x - *y) > std::max(share * std::abs(*x), least);
    };
    for (const FieldSpec& c : conditions())
        if (c.quantity == units::Quantity::Pressure && differ(c.key, 0.02, 0)) {
            out.push_back(Unlike::Pressures);
            break;
        }
    if (differ("temperature", 0, 5)) out.push_back(Unlike::Temperature);
    if (differ("fuel", 0.1, 1)) out.push_back(Unlike::Fuel);
    if (order.front() != order.back() &&
        std::ranges::is_sorted(order, [&](int x, int y) { return (x == order.front()) > (y == order.front()); }))
        out.push_back(Unlike::NoReturn);
    return out;
}

std::optional<Slip> slip(const PlannedTest& test, std::size_t run, std::size_t at, units::System system) {
    using Kind = Slip::Kind;
    const Protocol& p = protocol(test.protocol);
    const Channel& channel = p.channels[at];
    const int state = test.runs[run].state;
    const auto mine = std::ranges::find_if(test.runs[run].readings, [&](const Reading& r) {
        return r.channel == channel.spec.key && r.discarded.empty() && r.bound == Bound::Exact;
    });
    if (mine == test.runs[run].readings.end()) return {};
    const double value = mine->value;
    struct Expected {
        double value, sigma;
    };
    const auto expected = [&](std::size_t c) -> std::optional<Expected> {
        std::vector<double> others;
        for (const Taken& t : taken(test, state, p.channels[c].spec.key))
            if (t.run != run && t.bound == Bound::Exact) others.push_back(t.value);
        if (!others.empty()) {
            const Mean m = mean_of(others, read_to(test, p.channels[c], others[0]));
            return Expected{m.value, std::hypot(m.sigma, read_to(test, p.channels[c], m.value))};
        }
        const Prediction& pr = test.states[static_cast<std::size_t>(state)].prediction;
        if (!pr.made || c >= pr.value.size() || pr.tells[c] != PredictedValue) return {};
        return Expected{pr.value[c], std::hypot(pr.sigma[c], read_to(test, p.channels[c], pr.value[c]))};
    };
    const auto here = expected(at);
    if (!here || std::abs(value - here->value) <= 4 * here->sigma) return {};
    const auto fits = [&](double meant) { return std::abs(meant - here->value) <= 2.58 * here->sigma; };
    const auto other = channel_at(p, [&] {
        for (const Channel& c : p.channels)
            if (c.spec.key == mirrored(channel.spec.key)) return std::string(c.spec.key);
        return std::string(channel.spec.key);
    }());
    if (fits(-value)) return Slip{Kind::Sign, -value};
    const double unit = channel.spec.quantity == units::Quantity::Mass ? 2.20462262185 : 25.4;
    for (const double factor : {unit, 1 / unit})
        if (channel.spec.quantity == units::Quantity::Mass || channel.spec.quantity == units::Quantity::Length)
            if (fits(value * factor)) return Slip{Kind::Unit, value * factor};
    for (const double factor : {10.0, 0.1, 100.0, 0.01, 1000.0, 0.001})
        if (fits(value * factor)) return Slip{Kind::Digit, value * factor};
    if (other != at)
        if (const auto there = expected(other); there && std::abs(value - there->value) <= 2.58 * there->sigma)
            return Slip{Kind::Side, there->value};
    // Two digits the wrong way round, in the unit it was typed in.
    const double factor = units::shown(channel.spec.quantity, system).factor;
    std::string digits = units::trimmed(std::abs(value) / factor, 3);
    for (std::size_t i = 0; i + 1 < digits.size(); ++i) {
        if (digits[i] == '.' || digits[i + 1] == '.' || digits[i] == digits[i + 1]) continue;
        std::string turned = digits;
        std::swap(turned[i], turned[i + 1]);
        double meant = 0;
        std::from_chars(turned.data(), turned.data() + turned.size(), meant);
        meant *= std::copysign(factor, value);
        if (fits(meant)) return Slip{Kind::Swapped, meant};
    }
    return Slip{Kind::Far, here->value};
}

} // namespace dervish::proof
