#include "core/study/means.h"

#include "core/model/tyres.h"
#include "core/num/root.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace dervish::study {

SchoolScale scale_of(School school) {
    switch (school) {
    case School::Limit:
        return {units::Quantity::Share, 0};
    case School::Understeer:
        return {units::Quantity::RollGradient, 2 * units::deg / units::g};
    case School::Share:
        return {units::Quantity::Share, 0.03};
    case School::RideFirst:
        return {units::Quantity::Number, 0.3};
    case School::Ride:
        break;
    }
    return {units::Quantity::Share, 0.1};
}

std::optional<double> reading(School school, const balance::Model& m) {
    switch (school) {
    case School::Limit:
        return balance_of(balance::outright_limit(m));
    case School::Understeer: {
        const auto u = balance::understeer(m);
        return u ? std::optional(u->whole) : std::nullopt;
    }
    case School::Share: {
        const car::Loaded l = car::loaded(m.car);
        const double front = l.share[0] + m.car.front.unsprung_mass, rear = l.share[1] + m.car.rear.unsprung_mass;
        return car::roll_and_share(m.car).second - front / (front + rear);
    }
    case School::Ride: {
        const car::Loaded l = car::loaded(m.car);
        return balance::bump(m.car.rear, l.share[1]).one_wheel /
                   balance::bump(m.car.front, l.share[0]).one_wheel -
               1;
    }
    case School::RideFirst:
        return ride_of(m).head;
    }
    return {};
}

std::string Means::path() const {
    const std::string on = "trial/" + std::string(name_of(end)) + "/";
    switch (lever) {
    case Lever::Bar:
        return on + "bar/outer_diameter";
    case Lever::NewBar:
        return on + "bar";
    case Lever::Springs:
        return on + "springs/rate";
    case Lever::Pressure:
        return on + "stand/pressure";
    case Lever::Camber:
        return on + "stand/camber";
    case Lever::Load:
        return "vehicle/loads/" + std::to_string(load) + "/behind_front_axle";
    }
    return {};
}

namespace {
/// A car that can be changed by one number.
struct Lever {
    Means::Lever lever;
    End end;
    std::size_t load;
    double from, low, high;
    std::function<void(Setup&, car::Car&, double)> set;
};

std::vector<Lever> levers(const Vehicle& v, const Setup& setup, const car::Car& car, const Rules& rules) {
    using L = Means::Lever;
    std::vector<Lever> out;
    for (const End end : both_ends) {
        if (!rules.bars[end]) continue;
        if (car[end].linkage || !car[end].bar.isZero())
            out.push_back({L::Bar, end, 0, 1, 0, 6, [end](Setup&, car::Car& c, double f) { c = with_bar(c, end, f); }});
        else // none acts: a factor of nothing is nothing, so by what a new one has on the car
            out.push_back({L::NewBar, end, 0, 0, 0, 3000 / units::deg, [end](Setup&, car::Car& c, double k) {
                               car::Axle& a = c[end];
                               a.bar_base = a.track;
                               a.bar << 1, -1, -1, 1; // K t² = roll stiffness
                               a.bar *= k / (a.track * a.track);
                           }});
    }
    if (rules.springs)
        for (const End end : both_ends)
            out.push_back(
                {L::Springs, end, 0, 1, 0.5, 2.5, [end](Setup&, car::Car& c, double f) { c[end].spring_rate *= f; }});
    if (rules.tyres)
        for (const End end : both_ends) {
            const StandData& stand = setup[end].stand;
            out.push_back({L::Pressure, end, 0, stand.pressure.value, 0.7, 1.5, [end](Setup& t, car::Car& c, double p) {
                               double& now = t[end].stand.pressure.value;
                               const double left = (1 + t[end].stand.left_pressure.value) / 2;
                               c[end].tyre_rate *=
                                   balance::rate_at_pressure(p * left) / balance::rate_at_pressure(now * left);
                               now = p;
                           }});
            if (v[end].kind == AxleKind::Independent)
                out.push_back({L::Camber, end, 0, stand.camber.value, -6 * units::deg, 3 * units::deg,
                               [end](Setup& t, car::Car&, double c) { t[end].stand.camber.value = c; }});
        }
    if (rules.loads)
        for (std::size_t i = 0, aboard = 0; i < v.loads.size(); ++i) {
            if (!is_aboard(v.loads[i], setup)) continue;
            if (v.loads[i].mass.value > 0)
                out.push_back({L::Load, End::Front, i, 0, -1.5, 1.5,
                               [aboard](Setup&, car::Car& c, double by) { c.loads[aboard].x -= by; }});
            ++aboard;
        }
    return out;
}

struct Costs {
    double roll, one_wheel[2], limit, wet, first_lift, articulation, head, link;
};

/// The largest force in a link of either bar in a bend of 0.5 g, N.
double link_force(const car::Car& car) {
    const car::State s = car::settle(car, {.lateral_acceleration = 0.5 * units::g});
    double out = 0;
    for (const End end : both_ends)
        if (const auto& law = car[end].linkage)
            out = std::max(out, (*law)({s.wheels[wheel_at(end, 0)].travel, s.wheels[wheel_at(end, 1)].travel})
                                    .link.cwiseAbs()
                                    .maxCoeff());
    return out;
}

Costs costs_of(const Vehicle& v, const Setup& setup, const car::Car& car) {
    const balance::Model m = to_model(v, setup, car);
    const car::Loaded l = car::loaded(m.car);
    const car::Handling h = car::handling(m.car);
    return {h.roll_gradient,
            {balance::bump(m.car.front, l.share[0]).one_wheel_rate,
             balance::bump(m.car.rear, l.share[1]).one_wheel_rate},
            balance::outright_limit(m).lateral,
            balance::outright_limit(to_model(v, setup, car, Ground::Wet)).lateral,
            std::isfinite(h.first_lift) ? h.first_lift : 0,
            flex::climb(m.car, {}).height,
            ride_of(to_model(v, setup, car, Ground::DryPatched)).head,
            link_force(m.car)};
}
} // namespace

std::vector<Means> same_balance(const Vehicle& vehicle, const Setup& setup, const car::Car& car, Ground ground,
                                School school, double wanted, const Rules& rules) {
    std::vector<Means> out;
    const Costs now = costs_of(vehicle, setup, car);
    for (const Lever& lever : levers(vehicle, setup, car, rules)) {
        const auto changed = [&](double x) {
            std::pair<Setup, car::Car> to{setup, car};
            lever.set(to.first, to.second, x);
            return to;
        };
        const auto off = [&](double x) {
            const auto [s, c] = changed(x);
            const auto value = reading(school, to_model(vehicle, s, c, ground));
            return value ? *value - wanted : std::nan("");
        };
        Means m{lever.lever, Means::Answer::Found, lever.end, lever.load, lever.from, lever.low, lever.high};
        const double here = off(lever.from), at_low = off(lever.low), at_high = off(lever.high);
        const bool up = std::isfinite(at_high) && (here > 0) != (at_high > 0),
                   down = std::isfinite(at_low) && (here > 0) != (at_low > 0);
        if (!std::isfinite(here)) {
            m.answer = Means::Answer::NoReading;
        } else if (std::abs(here) < 1e-4 * (school == School::Understeer ? 0.01 : 1)) {
            m.answer = Means::Answer::AsItIs;
        } else if (!up && !down) {
            m.answer = Means::Answer::OutOfReach;
        } else {
            const double end = up ? lever.high : lever.low;
            const double x =
                root_between(off, lever.from, end, here, up ? at_high : at_low, 1e-4 * (lever.high - lever.low));
            m.value = x;
            const auto [s, c] = changed(x);
            const Costs then = costs_of(vehicle, s, c);
            m.roll = then.roll - now.roll;
            for (std::size_t e = 0; e < 2; ++e)
                if (const double by = then.one_wheel[e] - now.one_wheel[e]; std::abs(by) > std::abs(m.one_wheel))
                    m.one_wheel = by;
            m.limit = then.limit - now.limit;
            m.wet = then.wet - now.wet;
            m.first_lift = then.first_lift > 0 && now.first_lift > 0 ? then.first_lift - now.first_lift : 0;
            m.articulation = then.articulation - now.articulation;
            m.head = then.head - now.head;
            m.link = then.link - now.link;
        }
        out.push_back(std::move(m));
    }
    return out;
}

} // namespace dervish::study
