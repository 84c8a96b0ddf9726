#include "core/job/balance.h"

#include "core/root.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace dervish::job {
using balance::Ground;
using balance::Limit;

namespace {
/// `mean`: load of a wheel of the whole car as weighed, `own`: of this axle, N. What the car carries changes neither.
balance::AxleGrip to_grip(const AxleData& a, double mean, double own) {
    const GripData& g = a.grip;
    balance::AxleGrip out;
    for (std::size_t w = 0; w < 2; ++w) {
        balance::Tyre& t = out.tyre[w];
        t.nominal_load = g.nominal_load.value > 0 ? g.nominal_load.value : mean;
        t.grip = g.grip.value * (w == 0 ? g.left_grip.value : 1);
        t.grip_fall = g.grip_fall.value;
        t.stiffness = g.stiffness.value;
        t.stiffness_load = g.stiffness_load.value;
        t.camber_thrust = g.camber_thrust.value;
        t.camber_loss = g.camber_loss.value;
        t.best_camber = -g.best_camber.value;
        t.relaxation = g.relaxation.value;
        t.best_pressure = g.best_pressure.value;
        t.pressure_loss = g.pressure_loss.value;
        t.pressure = g.pressure.value * (w == 0 ? g.left_pressure.value : 1);
    }
    out.camber = g.camber.value;
    out.camber_kept = a.kind == car::AxleKind::Solid ? 1 : g.camber_kept.value;
    out.roll_steer = g.roll_steer.value;
    out.side_steer = g.side_steer.value;
    out.trail_steer = g.trail_steer.value;
    const double usual = 0.25 * 2 * std::sqrt(a.spring_rate.value * own / units::g);
    out.bump_damping = g.bump_damping.value > 0 ? g.bump_damping.value : 0.7 * usual;
    out.rebound_damping = g.rebound_damping.value > 0 ? g.rebound_damping.value : 1.3 * usual;
    return out;
}
} // namespace

balance::Model to_model(const Vehicle& v, const car::Car& as_built, Ground ground) {
    balance::Model out;
    out.car = as_built;
    const AxleData* data[] = {&v.front, &v.rear};
    car::Axle* axle[] = {&out.car.front, &out.car.rear};
    const car::State still = car::settle(out.car, {});
    const car::Loaded l = car::loaded(out.car);
    const std::array weighed{units::g * (v.front_left_load.value + v.front_right_load.value),
                             units::g * (v.rear_left_load.value + v.rear_right_load.value)};
    std::array<double, 2> rises{};
    for (std::size_t e = 0; e < 2; ++e) {
        const double x = (e == 0 ? 0 : -out.car.wheelbase) - l.x, rise = still.heave - x * std::sin(still.pitch);
        rises[e] = rise;
        axle[e]->roll_centre_height += data[e]->grip.roll_centre_moves.value * rise;
    }
    for (std::size_t e = 0; e < 2; ++e) {
        out.axle[e] = to_grip(*data[e], (weighed[0] + weighed[1]) / 4, weighed[e] / 2);
        out.axle[e].camber += data[e]->grip.camber_moves.value * rises[e] / 0.1;
        out.differential[e] = data[e]->grip.differential;
    }
    out.surface = balance::surface_of(ground);
    const double front = l.share[0] + out.car.front.unsprung_mass, rear = l.share[1] + out.car.rear.unsprung_mass,
                 mass = front + rear, length = out.car.wheelbase;
    const HandlingData& h = v.handling;
    out.yaw_inertia = h.yaw_inertia.value > 0 ? h.yaw_inertia.value : length * length * front * rear / mass;
    const double track = (out.car.front.track + out.car.rear.track) / 2,
                 arm = l.z - (out.car.front.roll_centre_height + out.car.rear.roll_centre_height) / 2;
    out.roll_inertia = h.roll_inertia.value > 0 ? h.roll_inertia.value : l.mass * (track * track / 9 + arm * arm);
    out.drive = h.driven == Driven::Front  ? std::array{1.0, 0.0}
                : h.driven == Driven::Rear ? std::array{0.0, 1.0}
                                           : std::array{0.5, 0.5};
    out.bias_ratio = h.bias_ratio.value;
    out.front_braking = h.front_braking.value;
    out.braking = h.braking.value * units::g;
    out.pull = h.pull.value * units::g;
    return out;
}

std::string words_of(const balance::Pull& pull, double lateral) {
    return "At " + units::fixed(lateral / units::g, 2) + " g sideways it pulls up to " +
           units::fixed(pull.longitudinal / units::g, 2) + " g" +
           (pull.spins >= 0
                ? std::string(", then the ") + car::wheel_names[static_cast<std::size_t>(pull.spins)] + " spins"
            : pull.gives == balance::Gives::Front ? ", then the front slides"
            : pull.gives == balance::Gives::Rear  ? ", then the rear slides"
            : pull.gives == balance::Gives::Tips  ? ", then it tips"
                                                  : " and more");
}

BalanceFigures balance_figures(const Vehicle& v, const car::Car& car, Ground ground) {
    BalanceFigures out{to_model(v, car, ground), {}, {}, {}, {}, {}, {}, {}, 0};
    for (std::size_t i = 0; i < 4; ++i) out.phase[i] = balance::limit(out.model, balance::all_phases[i]);
    out.right = balance::limit(out.model, balance::Phase::Middle, balance::Turn::Right);
    out.outright = out.right.lateral < out.phase[1].lateral - 2e-6 ? out.right : out.phase[1];
    out.most_pull =
        balance::most_pull(out.model, (out.outright.turn == balance::Turn::Right ? -0.5 : 0.5) * out.limit().lateral);
    out.curve = balance::handling_curve(out.model, 40);
    out.understeer = balance::understeer(out.model);
    const car::Loaded l = car::loaded(out.model.car);
    out.bump = {balance::bump(out.model.car.front, l.share[0], out.model.roll_inertia),
                balance::bump(out.model.car.rear, l.share[1], out.model.roll_inertia)};
    out.roll_damping = balance::roll_damping(out.model);
    return out;
}

Outcomes LimitOutcomes::operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const Limit l = balance::outright_limit(to_model(vehicle, cars_.with(vehicle, setup, bar_scale), ground_),
                                            first_ ? &*first_ : nullptr);
    if (!first_) first_ = l;
    return {l.lateral, balance_of(l)};
}

Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground, const std::function<bool()>& cancelled) {
    const auto bears = [](const std::string& path) {
        return path.find("/grip/") != std::string::npos || path.find("/handling/") != std::string::npos ||
               bears_on_outcomes(path);
    };
    return propagate(vehicle, setup, LimitOutcomes(ground), cancelled, bears);
}

std::optional<std::string> other_turn(const BalanceFigures& f) {
    if (std::abs(f.right.lateral - f.phase[1].lateral) <= 0.005 * units::g) return {};
    const bool left = f.outright.turn == balance::Turn::Right;
    Limit other = left ? f.phase[1] : f.right;
    other.turn = balance::Turn::Left; // said before it
    return (left ? "To the left: " : "To the right: ") + balance::sentence(other);
}

std::vector<std::string> validity(const BalanceFigures& f) {
    std::vector<std::string> out;
    const auto in_g = [](double a) { return units::fixed(a / units::g, 2) + " g"; };
    for (std::size_t w = 0; w < 4; ++w) {
        const auto at = std::find_if(f.curve.points.begin(), f.curve.points.end(), [&](const balance::Corner& c) {
            return c.state.wheels[w].stop != car::Stop::Free;
        });
        if (at == f.curve.points.end()) continue;
        out.push_back(
            "From " + in_g(at->lateral) + " the " + car::wheel_names[w] +
            (at->state.wheels[w].stop == car::Stop::Bump ? " is on its bump stop" : " is at the end of its droop") +
            ": beyond, the stop's figures decide");
    }
    const double lean = std::abs(f.limit().at.lean());
    if (lean > 8 * units::deg)
        out.push_back(
            "A lean of " + units::fixed(lean / units::deg, 0) +
            "° at the limit is beyond what geometry at ride height describes: take the order, not the number");
    if (const auto other = other_turn(f)) out.push_back(*other);
    if (!f.understeer) out.push_back("It does not hold 0.3 g here: there is no understeer gradient");
    return out;
}

double balance_of(const Limit& l) {
    const balance::Corner& c = l.at;
    return (c.most[0] / c.need[0]) / (c.most[1] / c.need[1]) - 1;
}

car::Car with_bars(car::Car car, double front, double rear) {
    for (const auto& [axle, factor] : {std::pair{&car.front, front}, {&car.rear, rear}}) {
        axle->bar *= factor;
        if (axle->linkage) axle->linkage->set_bar(factor * axle->linkage->springs().bar);
    }
    return car;
}

std::vector<BarPoint> sweep_bar(const balance::Model& model, bool front) {
    std::vector<BarPoint> out;
    for (const double factor : {0.0, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 5.0, 10.0, 1000.0}) {
        balance::Model m = model;
        m.car = front ? with_bars(model.car, factor, 1) : with_bars(model.car, 1, factor);
        out.push_back({factor, balance::outright_limit(m)});
    }
    return out;
}

BestBar best_of(const std::vector<BarPoint>& sweep) {
    const auto best = std::max_element(sweep.begin(), sweep.end(), [](const BarPoint& a, const BarPoint& b) {
        return a.limit.lateral < b.limit.lateral;
    });
    const auto now = std::find_if(sweep.begin(), sweep.end(), [](const BarPoint& p) { return p.factor == 1; });
    return {best->factor, best->limit.lateral,
            now + 1 != sweep.end() && (now + 1)->limit.lateral < now->limit.lateral - 1e-3};
}

Vehicle with_loads(Vehicle vehicle, std::size_t which) {
    for (Load& l : vehicle.loads) l.aboard = which == 0 ? false : which == 1 ? l.aboard : true;
    return vehicle;
}

Grid condition_grid(const Vehicle& vehicle, const Setup& setup) {
    Grid out;
    for (const Ground ground : balance::all_grounds) {
        std::array<Limit, 3>& row = out.rows.emplace_back();
        for (std::size_t load = 0; load < 3; ++load) {
            const Vehicle v = with_loads(vehicle, load);
            row[load] = balance::outright_limit(to_model(v, car_with(v, setup), ground));
        }
    }
    return out;
}

const SchoolWords& words_of(School school) {
    static constexpr double per_g = units::deg / units::g;
    static constexpr SchoolWords all[] = {
        {"limit: front beyond rear",
         "uses the tyre itself, steady; 0: both ends at once, above: the rear gives up first", units::Quantity::Share,
         0},
        {"understeer at 0.3 g", "how it steers on the road, far from the limit; 1 to 3 is usual",
         units::Quantity::RollGradient, 2 * per_g},
        {"front share over front mass", "a few points above 0 understeers; leaves the tyres out",
         units::Quantity::Share, 0.03},
        {"one-wheel ride, rear over front", "5 to 20 % above settles pitch after a bump; says nothing of grip",
         units::Quantity::Share, 0.1}};
    return all[static_cast<int>(school)];
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
        return balance::bump(m.car.rear, l.share[1], m.roll_inertia).one_wheel /
                   balance::bump(m.car.front, l.share[0], m.roll_inertia).one_wheel -
               1;
    }
    }
    return {};
}

namespace {
/// A car that can be changed by one number, and how that number reads.
struct Lever {
    std::string what, path;
    double from, low, high;
    std::function<void(Vehicle&, car::Car&, double)> set;
    std::function<std::string(double)> told;
};

std::string factor_text(double f) { return "× " + units::fixed(f, 2); }

std::vector<Lever> levers(const Vehicle& v, const car::Car& car, const Rules& rules, units::System system) {
    std::vector<Lever> out;
    const auto scale = [](const char* what, const char* path, auto apply) {
        return Lever{what, path, 1, 0, 6, apply, factor_text};
    };
    for (const bool front : {true, false}) {
        if (!(front ? rules.front_bar : rules.rear_bar)) continue;
        const car::Axle& now = front ? car.front : car.rear;
        if (now.linkage || !now.bar.isZero())
            out.push_back(
                scale(front ? "front bar" : "rear bar",
                      front ? "trial/front/bar/outer_diameter" : "trial/rear/bar/outer_diameter",
                      [front](Vehicle&, car::Car& c, double f) { c = with_bars(c, front ? f : 1, front ? 1 : f); }));
        else // none acts: a factor of nothing is nothing, so by what a new one has on the car
            out.push_back({front ? "a front bar" : "a rear bar", front ? "trial/front/bar" : "trial/rear/bar", 0, 0,
                           3000 / units::deg,
                           [front](Vehicle&, car::Car& c, double k) {
                               car::Axle& a = front ? c.front : c.rear;
                               a.bar_base = a.track;
                               a.bar << 1, -1, -1, 1; // K t² = roll stiffness
                               a.bar *= k / (a.track * a.track);
                           },
                           [system](double k) { return units::text(k, units::Quantity::TorsionalRate, system); }});
    }
    const auto at = [](bool front, const char* field) {
        return std::string(front ? "vehicle/front/" : "vehicle/rear/") + field;
    };
    if (rules.springs)
        for (const bool front : {true, false})
            out.push_back({front ? "front springs" : "rear springs", at(front, "spring_rate"), 1, 0.5, 2.5,
                           [front](Vehicle&, car::Car& c, double f) { (front ? c.front : c.rear).spring_rate *= f; },
                           factor_text});
    if (rules.tyres)
        for (const bool front : {true, false}) {
            const AxleData& a = front ? v.front : v.rear;
            out.push_back({front ? "front pressure" : "rear pressure", at(front, "grip/pressure"),
                           a.grip.pressure.value, 0.7, 1.5,
                           [front](Vehicle& t, car::Car& c, double p) {
                               double& now = (front ? t.front : t.rear).grip.pressure.value;
                               const double left = (1 + (front ? t.front : t.rear).grip.left_pressure.value) / 2;
                               (front ? c.front : c.rear).tyre_rate *=
                                   balance::rate_at_pressure(p * left) / balance::rate_at_pressure(now * left);
                               now = p;
                           },
                           [](double p) { return units::fixed(100 * p, 0) + " %"; }});
            if (a.kind == car::AxleKind::Independent)
                out.push_back(
                    {front ? "front camber" : "rear camber", at(front, "grip/camber"), a.grip.camber.value,
                     -6 * units::deg, 3 * units::deg,
                     [front](Vehicle& t, car::Car&, double c) { (front ? t.front : t.rear).grip.camber.value = c; },
                     [](double c) { return units::fixed(c / units::deg, 1) + "°"; }});
        }
    if (rules.loads)
        for (std::size_t i = 0, aboard = 0; i < v.loads.size(); ++i) {
            if (!v.loads[i].aboard) continue;
            if (v.loads[i].mass.value > 0)
                out.push_back({v.loads[i].name + ", further back",
                               "vehicle/loads/" + std::to_string(i) + "/behind_front_axle", 0, -1.5, 1.5,
                               [aboard](Vehicle&, car::Car& c, double by) { c.loads[aboard].x -= by; },
                               [system](double by) { return units::text(by, units::Quantity::Length, system, 0); }});
            ++aboard;
        }
    return out;
}

struct Costs {
    double roll, one_wheel[2], limit, wet, first_lift, articulation, link;
};

/// The largest force in a link of either bar in a bend of 0.5 g, N.
double link_force(const car::Car& car) {
    const car::State s = car::settle(car, {.lateral_acceleration = 0.5 * units::g});
    double out = 0;
    for (const std::size_t first : {0u, 2u})
        if (const auto& law = (first == 0 ? car.front : car.rear).linkage)
            out =
                std::max(out, (*law)({s.wheels[first].travel, s.wheels[first + 1].travel}).link.cwiseAbs().maxCoeff());
    return out;
}

Costs costs_of(const Vehicle& v, const car::Car& car) {
    const balance::Model m = to_model(v, car);
    const car::Loaded l = car::loaded(m.car);
    const car::Handling h = car::handling(m.car);
    return {h.roll_gradient,
            {balance::bump(m.car.front, l.share[0], m.roll_inertia).one_wheel_rate,
             balance::bump(m.car.rear, l.share[1], m.roll_inertia).one_wheel_rate},
            balance::outright_limit(m).lateral,
            balance::outright_limit(to_model(v, car, Ground::Wet)).lateral,
            std::isfinite(h.first_lift) ? h.first_lift : 0,
            flex::climb(m.car, {}).height,
            link_force(m.car)};
}
} // namespace

std::vector<Means> same_balance(const Vehicle& vehicle, const car::Car& car, Ground ground, School school,
                                double wanted, const Rules& rules, units::System system) {
    std::vector<Means> out;
    const Costs now = costs_of(vehicle, car);
    for (const Lever& lever : levers(vehicle, car, rules, system)) {
        const auto changed = [&](double x) {
            std::pair<Vehicle, car::Car> to{vehicle, car};
            lever.set(to.first, to.second, x);
            return to;
        };
        const auto off = [&](double x) {
            const auto [v, c] = changed(x);
            const auto value = reading(school, to_model(v, c, ground));
            return value ? *value - wanted : std::nan("");
        };
        Means m{lever.what, "", lever.path, lever.from, false, 0, 0, 0, 0, 0, 0, 0};
        const double here = off(lever.from), at_low = off(lever.low), at_high = off(lever.high);
        const bool up = std::isfinite(at_high) && (here > 0) != (at_high > 0),
                   down = std::isfinite(at_low) && (here > 0) != (at_low > 0);
        if (!std::isfinite(here)) {
            m.to = "the car has no such reading here";
        } else if (std::abs(here) < 1e-4 * (school == School::Understeer ? 0.01 : 1)) {
            m.to = "as it is";
        } else if (!up && !down) {
            m.to = "not within " + lever.told(lever.low) + " to " + lever.told(lever.high);
        } else {
            const double end = up ? lever.high : lever.low;
            const double x =
                root_between(off, lever.from, end, here, up ? at_high : at_low, 1e-4 * (lever.high - lever.low));
            m.to = lever.told(x);
            m.value = x;
            m.found = true;
            const auto [v, c] = changed(x);
            const Costs then = costs_of(v, c);
            m.roll = then.roll - now.roll;
            for (std::size_t e = 0; e < 2; ++e)
                if (const double by = then.one_wheel[e] - now.one_wheel[e]; std::abs(by) > std::abs(m.one_wheel))
                    m.one_wheel = by;
            m.limit = then.limit - now.limit;
            m.wet = then.wet - now.wet;
            m.first_lift = then.first_lift > 0 && now.first_lift > 0 ? then.first_lift - now.first_lift : 0;
            m.articulation = then.articulation - now.articulation;
            m.link = then.link - now.link;
        }
        out.push_back(std::move(m));
    }
    return out;
}

} // namespace dervish::job
