#include "core/study/balance.h"
#include "core/model/tyres.h"

#include "core/num/root.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace dervish::study {
using balance::Limit;

BalanceFigures balance_figures(const Vehicle& v, const Setup& setup, const car::Car& car, Ground ground) {
    BalanceFigures out{};
    out.model = to_model(v, setup, car, ground);
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
    out.still = car::settle(out.model.car, {});
    out.ride = ride_of(out.model);
    balance::Model plane = out.model;
    plane.load_spread = {};
    out.on_plane = out.model.road.plane() ? out.limit().lateral : balance::outright_limit(plane, &out.outright).lateral;
    out.letting_go = balance::letting_go(out.model, out.outright, out.model.road.speed);
    return out;
}

balance::Ride ride_of(const balance::Model& model) {
    balance::Road road = model.road;
    if (road.plane()) road.roughness = balance::roughness_of('A');
    return balance::Shaken(model, {}, car::settle(model.car, {})).on(road);
}

double balance_of(const Limit& l) {
    const balance::Corner& c = l.at;
    return (c.most[0] / c.need[0]) / (c.most[1] / c.need[1]) - 1;
}

car::Car with_bar(car::Car car, End end, double factor) {
    car::Axle& axle = car[end];
    axle.bar *= factor;
    if (axle.linkage) axle.linkage->set_bar(factor * axle.linkage->springs().bar);
    return car;
}

std::vector<BarPoint> sweep_bar(const balance::Model& model, End end) {
    std::vector<BarPoint> out;
    for (const double factor : {0.0, 0.25, 0.5, 0.75, 1.0, 1.5, 2.0, 3.0, 5.0, 10.0, 1000.0}) {
        balance::Model m = model;
        m.car = with_bar(model.car, end, factor);
        const balance::Ride ride = ride_of(m);
        if (!m.road.plane()) m.load_spread = ride.grips;
        out.push_back({factor, balance::outright_limit(m), ride});
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

Setup with_loads(const Vehicle& vehicle, Setup setup, std::size_t which) {
    if (which == 1) return setup;
    setup.aboard.clear();
    if (which == 2)
        for (const Load& l : vehicle.loads) setup.aboard.push_back(l.id);
    return setup;
}

Grid condition_grid(const Vehicle& vehicle, const Setup& setup) {
    Grid out;
    for (const Ground ground : all_grounds) {
        std::array<Limit, 3>& row = out.rows.emplace_back();
        for (std::size_t load = 0; load < 3; ++load) {
            const Setup s = with_loads(vehicle, setup, load);
            row[load] = balance::outright_limit(to_model(vehicle, s, car_with(vehicle, s), ground));
        }
    }
    return out;
}

} // namespace dervish::study
