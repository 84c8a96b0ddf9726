#include "core/study/cures.h"

#include "core/balance/letting_go.h"

#include "core/job/usual.h"
#include "core/model/stand.h"
#include "core/model/tyres.h"
#include "core/num/root.h"
#include "core/study/choices.h"
#include "core/study/difference.h"
#include "core/study/use.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <functional>

namespace dervish::study {

AimScale scale_of(Aim aim) {
    using units::deg, units::g, units::Quantity;
    switch (aim) {
    case Aim::Limit:
        return {Quantity::Share, 0, {}};
    case Aim::Understeer:
        return {Quantity::RollGradient, 2 * deg / g, {}};
    case Aim::Share:
        return {Quantity::Share, 0.03, {}};
    case Aim::RideFirst:
        return {Quantity::Number, 0.3, "m/s²"};
    case Aim::Lean:
        return {Quantity::RollGradient, 4.5 * deg / g, {}};
    case Aim::Damping:
        return {Quantity::Number, 0.3, "of critical"};
    case Aim::FirstLift:
        return {Quantity::Number, 0.8, "g"};
    case Aim::Ramps:
        return {Quantity::Length, 0.4, {}};
    case Aim::Holds:
        return {Quantity::Number, 0.8, "g"};
    case Aim::Ride:
        break;
    }
    return {Quantity::Share, 0.1, {}};
}

std::optional<double> reading(Aim aim, const balance::Model& m) {
    switch (aim) {
    case Aim::Limit:
        return balance_of(balance::outright_limit(m));
    case Aim::Understeer: {
        const auto u = balance::understeer(m);
        return u ? std::optional(u->whole) : std::nullopt;
    }
    case Aim::Share: {
        const car::Loaded l = car::loaded(m.car);
        const double front = l.share[0] + m.car.front.unsprung_mass, rear = l.share[1] + m.car.rear.unsprung_mass;
        return car::roll_and_share(m.car).second - front / (front + rear);
    }
    case Aim::Ride: {
        const PerAxle<balance::Bump> bumps = balance::bumps(m.car, car::settle(m.car, {}));
        return bumps.rear.one_wheel / bumps.front.one_wheel - 1;
    }
    case Aim::RideFirst:
        return ride_of(m).head;
    case Aim::Lean: {
        const double gradient = car::roll_and_share(m.car).first;
        return std::isfinite(gradient) ? std::optional(gradient) : std::nullopt;
    }
    case Aim::Damping:
        return balance::roll_damping(m);
    case Aim::FirstLift: {
        const double lift = car::handling(m.car).first_lift;
        return std::isfinite(lift) ? std::optional(lift / units::g) : std::nullopt;
    }
    case Aim::Ramps:
        return flex::climb(m.car, {}).height;
    case Aim::Holds:
        return balance::outright_limit(m).lateral / units::g;
    }
    return {};
}

std::string Cure::path() const {
    const std::string on = end ? "trial/" + std::string(name_of(*end)) + "/" : "trial/";
    switch (lever) {
    case Lever::Bar:
        return on + "bar/outer_diameter";
    case Lever::NewBar:
        return on + "bar";
    case Lever::BothBars:
        return "trial/front/bar/outer_diameter";
    case Lever::Springs:
        return on + "springs/rate";
    case Lever::BothSprings:
        return "trial/front/springs/rate";
    case Lever::Dampers:
        return "trial/front/dampers/bump_damping";
    case Lever::Clicks:
        return "trial/front/stand/bump_click";
    case Lever::Traded:
        return "trial/front/bar/outer_diameter";
    case Lever::Height:
        return "trial/front/stand/lift";
    case Lever::Pressure:
        return on + "stand/pressure";
    case Lever::Camber:
        return on + "stand/camber";
    case Lever::Brace:
        return "trial/brace/torsion";
    case Lever::TyreSet:
        return "trial/front/tyres/grip";
    case Lever::Load:
    case Lever::LoadBack:
        return "vehicle/loads/" + std::to_string(item) + "/behind_front_axle";
    }
    return {};
}

namespace {
using L = Cure::Lever;

/// What can be changed by one number. `to`: the setup with it; where the car itself changes, `change` has it in its
/// place. A whole thing, that is changed or not, has its one value at `low` and `high`.
struct Lever {
    L lever;
    std::optional<End> end;
    std::size_t item;
    double from, low, high;
    std::function<Setup(double)> to;
    std::function<void(car::Car&, double)> change = {};
    bool whole() const { return low == high; }
};

/// What is planned was measured by nobody; its spread stays.
void set(Measured& m, double value, units::Quantity quantity) {
    m.value = units::as_filed(value, quantity);
    m.source = Source::Assumed;
}
void scale(Measured& m, double by, units::Quantity quantity) { set(m, by * m.value, quantity); }

std::vector<Lever> levers(const Vehicle& v, const Setup& setup, const balance::Model& model, const Rules& rules,
                          const std::vector<TyreData>& sets) {
    std::vector<Lever> out;
    using units::Quantity;
    const double size = size_of(v.front.track.value);
    const auto with = [&setup](auto&& change) {
        return [&setup, change](double x) {
            Setup s = setup;
            change(s, x);
            return s;
        };
    };
    const auto acts = [&](End end) { return rules.bars[end] && setup[end].fitted && setup[end].connected; };
    const auto make_bar = [](Setup& s, End end, double f) {
        const auto bar = with_rate(s[end], f);
        if (!bar) throw BadInput("bar/outer_diameter", "no such bar", "1 to 100 mm, as its bends allow");
        static_cast<Assembly&>(s[end]) = *bar;
    };
    const auto make_springs = [](SpringData& springs, double f) {
        scale(springs.rate, f, Quantity::Rate);
        for (SpringPoint& p : springs.points) scale(p.force, f, Quantity::Force);
    };
    for (const End end : both_ends) {
        if (!rules.bars[end]) continue;
        if (acts(end))
            out.push_back({L::Bar, end, 0, 1, 0, 6, with([=](Setup& s, double f) { make_bar(s, end, f); })});
        else // none acts: a factor of nothing is nothing, so by what a new one has on the car
            out.push_back(
                {L::NewBar, end, 0, 0, 0, 3000 / units::deg, with([](Setup&, double) {}), [end](car::Car& c, double k) {
                     car::Axle& a = c[end];
                     a.bar_base = a.track;
                     a.bar << 1, -1, -1, 1; // K t² = roll stiffness
                     a.bar *= k / (a.track * a.track);
                 }});
    }
    if (acts(End::Front) && acts(End::Rear))
        out.push_back({L::BothBars, {}, 0, 1, 0.05, 6, with([=](Setup& s, double f) {
                           for (const End end : both_ends) make_bar(s, end, f);
                       })});
    if (rules.springs) {
        for (const End end : both_ends)
            out.push_back(
                {L::Springs, end, 0, 1, 0.5, 2.5, with([=](Setup& s, double f) { make_springs(s[end].springs, f); })});
        out.push_back({L::BothSprings, {}, 0, 1, 0.5, 2.5, with([=](Setup& s, double f) {
                           for (AxleSetup& a : s.both()) make_springs(a.springs, f);
                       })});
    }
    const auto firmer = [model](Setup& s, double f) {
        for (const End end : both_ends) {
            DamperData& d = s[end].dampers;
            const balance::AxleGrip& now = model.axle[end];
            const ByClicks clicks = by_clicks(s[end]); // they stay as they are set
            set(d.bump_damping, f * now.bump_damping / clicks.bump, Quantity::Damping);
            set(d.rebound_damping, f * now.rebound_damping / clicks.rebound, Quantity::Damping);
            for (Measured* m : {&d.bump_damping, &d.rebound_damping}) // it was the usual one
                if (m->sigma == 0) m->sigma = 0.25 * m->value;
        }
    };
    const auto front = clicks_left(setup.front), rear = clicks_left(setup.rear);
    if (rules.dampers) out.push_back({L::Dampers, {}, 0, 1, 0.5, 2.5, with(firmer)});
    if (rules.dampers && front && rear && setup.front.dampers.click.value > 0 && setup.rear.dampers.click.value > 0)
        out.push_back({L::Clicks,
                       {},
                       0,
                       0,
                       -std::max(0.0, std::min(front->open, rear->open)),
                       std::max(0.0, std::min(front->firm, rear->firm)),
                       with([](Setup& s, double by) {
                           for (AxleSetup& a : s.both()) {
                               set(a.stand.bump_click, a.stand.bump_click.value + by, Quantity::Number);
                               set(a.stand.rebound_click, a.stand.rebound_click.value + by, Quantity::Number);
                           }
                       })});
    if (rules.dampers && (acts(End::Front) || acts(End::Rear)))
        out.push_back({L::Traded, {}, 0, 1, 1, 2, with([=](Setup& s, double f) {
                           firmer(s, f);
                           for (const End end : both_ends)
                               if (acts(end)) make_bar(s, end, 1 / f);
                       })});
    if (rules.height)
        out.push_back({L::Height, {}, 0, 0, -0.06 * size, 0.06 * size, with([](Setup& s, double by) {
                           for (AxleSetup& a : s.both()) set(a.stand.lift, a.stand.lift.value + by, Quantity::Length);
                       })});
    if (rules.tyres)
        for (const End end : both_ends)
            out.push_back({L::Pressure, end, 0, setup[end].stand.pressure.value, 0.7, 1.5,
                           with([end](Setup& s, double p) { set(s[end].stand.pressure, p, Quantity::Number); })});
    if (rules.tyres)
        for (const End end : both_ends)
            if (v[end].kind == AxleKind::Independent)
                out.push_back({L::Camber, end, 0, setup[end].stand.camber.value, -6 * units::deg, 3 * units::deg,
                               with([end](Setup& s, double c) { set(s[end].stand.camber, c, Quantity::Angle); })});
    if (rules.braces && std::isfinite(model.car.chassis_torsion))
        out.push_back(
            {L::Brace, {}, 0, setup.brace.torsion.value, 0, 5 * model.car.chassis_torsion, with([](Setup& s, double k) {
                 set(s.brace.torsion, k, Quantity::TorsionalRate);
             })});
    if (rules.tyres)
        for (std::size_t i = 0; i < sets.size(); ++i)
            out.push_back({L::TyreSet, {}, i, 0, 1, 1, with([set = sets[i]](Setup& s, double) {
                               for (AxleSetup& a : s.both()) a.tyres = set;
                           })});
    if (!rules.loads) return out;
    for (std::size_t i = 0, aboard = 0; i < v.loads.size(); ++i) {
        const Load& load = v.loads[i];
        const bool is = is_aboard(load, setup);
        const std::size_t at = aboard;
        aboard += is;
        if (load.mass.value <= 0 || std::ranges::find(rules.people, load.id) != rules.people.end()) continue;
        out.push_back({L::Load, {}, i, double(is), double(!is), double(!is), with([id = load.id](Setup& s, double put) {
                           std::erase(s.aboard, id);
                           if (put > 0) s.aboard.push_back(id);
                       })});
        if (!is) continue;
        out.push_back(
            {L::LoadBack, {}, i, 0, -1.5 * size, 1.5 * size, with([](Setup&, double) {}), [at](car::Car& c, double by) {
                 c.loads[at].x -= by;
             }});
    }
    return out;
}

/// The largest force in a link of either bar in a settled bend, N.
double link_force(const car::Car& car, const car::State& bend) {
    double out = 0;
    for (const End end : both_ends)
        if (const auto& law = car[end].linkage)
            out = std::max(out, (*law)({bend.wheels[wheel_at(end, 0)].travel, bend.wheels[wheel_at(end, 1)].travel})
                                    .link.cwiseAbs()
                                    .maxCoeff());
    return out;
}

} // namespace

std::vector<Difference> not_allowed(const Rules& rules, const Setup& fitted, const Setup& setup) {
    std::vector<Difference> out = differences(fitted, setup);
    std::erase_if(out, [&](const Difference& d) {
        switch (d.lot) {
        case Lot::Bar:
        case Lot::Links:
        case Lot::Eyes:
            return rules.bars[*d.end];
        case Lot::Dampers:
        case Lot::Clicks:
            return rules.dampers;
        case Lot::Height:
            return rules.height;
        case Lot::Tyres:
        case Lot::Pressures:
        case Lot::Alignment:
            return rules.tyres;
        case Lot::Brace:
            return rules.braces;
        case Lot::Aboard:
            return rules.loads;
        default:
            return rules.springs;
        }
    });
    return out;
}

Costs costs_of(const Vehicle& v, const Setup& setup, const car::Car& car) {
    const balance::Model m = to_model(v, setup, car);
    const car::Handling h = car::handling(m.car);
    const balance::Limit limit = balance::outright_limit(m);
    const car::State bend = car::settle(m.car, {.lateral_acceleration = 0.5 * units::g});
    Costs out;
    out.lean = (bend.roll[0] + bend.roll[1]) / 2;
    out.roll = h.roll_gradient;
    const PerAxle<balance::Bump> bumps = balance::bumps(m.car, car::settle(m.car, {}));
    out.one_wheel = {bumps.front.one_wheel_rate, bumps.rear.one_wheel_rate};
    out.limit = limit.lateral;
    out.balance = balance_of(limit);
    out.wet = balance::outright_limit(to_model(v, setup, car, Ground::Wet)).lateral;
    if (std::isfinite(h.first_lift)) out.first_lift = h.first_lift;
    out.articulation = flex::climb(m.car, {}).height;
    const balance::Ride ride = ride_in_use(v, m);
    out.ground = bands_of(v.use).ground;
    out.head = ride.head;
    out.seat = ride.seat;
    out.link = link_force(m.car, bend);
    out.damping = balance::roll_damping(m);
    return out;
}
Edge edge_of(const balance::Model& model) {
    Edge out;
    for (std::size_t i = 0; i < out.limits.size(); ++i)
        out.limits[i] = balance::outright_limit(model, balance::all_phases[i]);
    const balance::Limit middle = balance::outright_limit(model);
    out.sudden = balance::lets_go_suddenly(model, middle, model.road.speed).value_or(false);
    return out;
}

namespace {
void worst_first(std::vector<Danger>& dangers) {
    constexpr int worst[] = {1, 0, 2, 3}; // in the order of What
    std::ranges::stable_sort(dangers, {}, [&](const Danger& d) { return worst[static_cast<int>(d.what)]; });
}
} // namespace

std::vector<Danger> dangers(const Edge& before, const Edge& after) {
    using What = Danger::What;
    constexpr double less = 0.98; // of a limit: what a driver may feel
    std::vector<Danger> out;
    for (std::size_t i = 0; i < before.limits.size(); ++i) {
        const balance::Limit &was = before.limits[i], &is = after.limits[i];
        const auto add = [&](What what) { out.push_back({what, balance::all_phases[i], was.lateral, is.lateral}); };
        if (is.first == balance::Gives::Tips && was.first != balance::Gives::Tips)
            add(What::Tips);
        else if (is.first == balance::Gives::Rear && was.first != balance::Gives::Rear)
            add(What::RearFirst);
        else if (is.lateral < less * was.lateral)
            add(What::HoldsLess);
    }
    if (after.sudden && !before.sudden) out.push_back({What::Sudden});
    worst_first(out);
    return out;
}

Edges edges_of(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground) {
    Edges out;
    for (const Ground on : {ground, Ground::Dry, Ground::Wet})
        if (std::ranges::find(out, on, &Edges::value_type::first) == out.end())
            out.emplace_back(on, edge_of(to_model(vehicle, setup, car, on)));
    return out;
}

std::vector<Danger> dangers(const Edges& before, const Edges& after) {
    std::vector<Danger> out;
    for (std::size_t i = 0; i < before.size(); ++i)
        for (Danger& found : dangers(before[i].second, after[i].second)) {
            if (std::ranges::any_of(out,
                                    [&](const Danger& d) { return d.what == found.what && d.phase == found.phase; }))
                continue;
            if (i > 0) found.elsewhere = before[i].first;
            out.push_back(found);
        }
    worst_first(out);
    return out;
}

Cures cures(const Vehicle& vehicle, const Setup& setup, Ground ground, Aim aim, double wanted, const Rules& rules,
            const std::vector<TyreData>& sets, const std::function<bool()>& cancelled) {
    Cars cars;
    const car::Car built = cars.with(vehicle, setup);
    const balance::Model model = to_model(vehicle, setup, built, ground);
    const std::optional<double> now = reading(aim, model);
    Cures out{now, wanted, costs_of(vehicle, setup, built), {}};
    const Edges edges = edges_of(vehicle, setup, built, ground);
    const double way = wanted - now.value_or(wanted);
    for (const Lever& lever : levers(vehicle, setup, model, rules, sets)) {
        if (cancelled && cancelled()) break;
        const auto changed = [&](double x) {
            const Setup to = lever.to(x);
            check_stand(vehicle, to);
            std::pair<Setup, car::Car> made{to, lever.change ? built : cars.with(vehicle, to)};
            if (lever.change) lever.change(made.second, x);
            car::check(made.second);
            return made;
        };
        const auto off = [&](double x) { // not a number where there is no such car
            try {
                const auto [s, c] = changed(x);
                const auto value = reading(aim, to_model(vehicle, s, c, ground));
                return value ? *value - wanted : std::nan("");
            } catch (const BadInput&) {
                return std::nan("");
            }
        };
        Cure cure{lever.lever, Cure::Answer::Nothing, lever.end, lever.item, lever.from, lever.from, lever.low,
                  lever.high};
        out.ways.push_back(cure);
        Cure& found = out.ways.back();
        if (!now) {
            found.answer = Cure::Answer::NoReading;
            continue;
        }
        if (std::abs(way) < 1e-6 * std::max(1e-3, std::abs(wanted))) {
            found.answer = Cure::Answer::AsItIs;
            continue;
        }
        double best = lever.from, best_off = -way;
        for (const double end : {lever.low, lever.high}) {
            // As far that way as there is such a car.
            double x = end, at = off(x);
            for (int i = 0; !lever.whole() && !std::isfinite(at) && i < 6; ++i) at = off(x = (x + lever.from) / 2);
            if (!std::isfinite(at)) continue;
            if (!lever.whole() && (at > 0) != (-way > 0)) {
                best = root_between(off, lever.from, x, -way, at, 1e-7 * (lever.high - lever.low));
                best_off = off(best);
                if (std::isfinite(best_off)) break;
                best = lever.from;
                best_off = -way;
            } else if (std::abs(at) < std::abs(best_off)) {
                best = x;
                best_off = at;
            }
        }
        if (lever.lever == L::Clicks) { // nobody sets half a one
            best = std::clamp(std::round(best), std::ceil(lever.low), std::floor(lever.high));
            best_off = off(best);
            if (!std::isfinite(best_off)) continue;
        }
        found.share = (best_off + way) / way;
        if (found.share < 0.02) continue;
        try {
            const auto [s, c] = changed(best);
            found.then = costs_of(vehicle, s, c);
            found.dangers = dangers(edges, edges_of(vehicle, s, c, ground));
            if (!lever.change) found.to = s;
            found.value = best;
            found.answer = std::abs(found.share - 1) < 0.01 ? Cure::Answer::Whole : Cure::Answer::Part;
        } catch (const BadInput&) { // not on every ground
        }
    }
    return out;
}

std::vector<std::string> people_aboard(const Job& job) {
    constexpr std::string_view called[] = {"driver",     "drivers",   "rider", "riders", "passenger",
                                           "passengers", "navigator", "crew",  "person"};
    const auto is_called = [&](const std::string& name) { // by a whole word: no screwdriver is a driver
        std::string word;
        for (const char c : name + " ") {
            if (std::isalpha(static_cast<unsigned char>(c))) {
                word += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
                continue;
            }
            if (std::ranges::find(called, word) != std::end(called)) return true;
            word.clear();
        }
        return false;
    };
    std::vector<std::string> out;
    for (const Load& load : job.vehicle.loads)
        if (is_called(load.name) || std::ranges::find(job.people, load.id, &Person::load) != job.people.end())
            out.push_back(load.id);
    return out;
}

std::vector<TyreData> other_tyres(const Job& job, const Setup& setup) {
    std::vector<TyreData> out;
    const auto alike = [](TyreData a, const TyreData& b) { // whatever they are called
        static_cast<Part&>(a) = b;
        return a == b;
    };
    const auto take = [&](const TyreData& set) {
        const bool stands = alike(setup.front.tyres, set) && alike(setup.rear.tyres, set);
        if (!stands && std::ranges::none_of(out, [&](const TyreData& other) { return alike(other, set); }))
            out.push_back(set);
    };
    for (const TyreData& spare : job.spares.tyres) take(spare);
    std::vector<const Setup*> setups{&job.fitted, &job.trial, &job.standard};
    for (const Setup& kept : job.kept) setups.push_back(&kept);
    for (const Setup* s : setups)
        if (s != &job.standard || s->front.tyres.rate.value > 0)
            for (const AxleSetup& a : s->both()) take(a.tyres);
    return out;
}

} // namespace dervish::study
