#include "core/study/balance.h"
#include "core/job/usual.h"
#include "core/model/tyres.h"

#include "core/num/root.h"

#include <algorithm>
#include <cmath>
#include <functional>

namespace dervish::study {
using balance::Limit;

namespace {
/// The model's, or where that is a plane a good one.
balance::Road rough_road(const balance::Model& model) {
    balance::Road road = model.road;
    if (road.plane()) road.roughness = balance::roughness_of('A');
    return road;
}
} // namespace

BalanceFigures balance_figures(const Vehicle& v, const Setup& setup, const car::Car& car, Ground ground) {
    BalanceFigures out{};
    out.model = to_model(v, setup, car, ground);
    for (std::size_t i = 0; i < 4; ++i)
        out.phase[i] = i == 1 ? balance::limit(out.model) : balance::outright_limit(out.model, balance::all_phases[i]);
    out.right = balance::limit(out.model, balance::Phase::Middle, balance::Turn::Right);
    out.outright = out.right.lateral < out.phase[1].lateral - 2e-6 ? out.right : out.phase[1];
    out.most_pull =
        balance::most_pull(out.model, (out.outright.turn == balance::Turn::Right ? -0.5 : 0.5) * out.limit().lateral);
    out.curve = balance::handling_curve(out.model, 40);
    out.understeer = balance::understeer(out.model);
    out.roll_damping = balance::roll_damping(out.model);
    out.still = car::settle(out.model.car, {});
    out.bump = balance::bumps(out.model.car, out.still);
    const balance::Road road = rough_road(out.model);
    const balance::Shaken shaken(out.model, {}, out.still);
    out.ride = shaken.on(road);
    out.sickness = shaken.sickness(road);
    out.tones = shaken.tones(road);
    balance::Model plane = out.model;
    plane.swing = {};
    out.on_plane = out.model.road.plane() ? out.limit().lateral : balance::outright_limit(plane, &out.outright).lateral;
    out.letting_go = balance::letting_go(out.model, out.outright, out.model.road.speed);
    return out;
}

balance::Ride ride_of(const balance::Model& model) {
    return balance::Shaken(model, {}, car::settle(model.car, {})).on(rough_road(model));
}

balance::Drive of_size(balance::Drive drive, double track) {
    drive.size = size_of(track);
    drive.bump *= drive.size;
    drive.speed *= std::sqrt(drive.size);
    drive.stretch *= std::sqrt(drive.size);
    return drive;
}

double rocking_kerb(double track) { return 0.03 * size_of(track); }

Rocking rocking(const balance::Model& model) {
    const auto run = [](const balance::Model& m) {
        balance::Drive kerb = of_size({balance::Manoeuvre::Kerb}, m.car.front.track);
        kerb.lateral = 0;
        kerb.speed = m.road.speed;
        kerb.bump = rocking_kerb(m.car.front.track);
        kerb.within = 0.6 + m.car.wheelbase / m.road.speed; // until both axles are on it
        return balance::drive(m, kerb);
    };
    balance::Run as_it_is = run(model);
    Rocking out{as_it_is.head, {}, std::move(as_it_is.moments)};
    for (const End end : both_ends) {
        balance::Model without = model;
        without.car = with_bar(model.car, end, 0);
        out.without[end] = run(without).head;
    }
    return out;
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

balance::Model with_bar(balance::Model model, End end, double factor) {
    model.car = with_bar(std::move(model.car), end, factor);
    if (!model.road.plane()) model.swing = ride_of(model).swing;
    return model;
}

std::vector<BarPoint> sweep_bar(const balance::Model& model, End end) {
    std::vector<BarPoint> out;
    for (const double factor : swept_factors) {
        const balance::Model m = with_bar(model, end, factor);
        out.push_back({factor, balance::outright_limit(m), ride_of(m)});
    }
    return out;
}

BestBar best_of(const SweptLimits& limits) {
    const auto at = static_cast<std::size_t>(std::max_element(limits.begin(), limits.end()) - limits.begin());
    double factor = swept_factors[at], highest = limits[at];
    if (at > 0 && at + 1 < limits.size()) {
        const auto along = [](std::size_t i) { return swept_factors[i] / (1 + swept_factors[i]); };
        const double l = along(at - 1) - along(at), r = along(at + 1) - along(at), yl = limits[at - 1] - highest,
                     yr = limits[at + 1] - highest;
        const double bend = (yr / r - yl / l) / (r - l), slope = yr / r - bend * r;
        if (bend < 0) {
            const double there = along(at) - slope / (2 * bend);
            factor = there / (1 - there);
            highest -= slope * slope / (4 * bend);
        }
    }
    return {factor, highest - limits[swept_now], limits[swept_now + 1] < limits[swept_now] - 1e-3};
}

BestBar best_of(const std::vector<BarPoint>& sweep) {
    SweptLimits limits;
    std::transform(sweep.begin(), sweep.end(), limits.begin(), [](const BarPoint& p) { return p.limit.lateral; });
    return best_of(limits);
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
