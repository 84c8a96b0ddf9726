#include "core/study/use.h"

#include "core/car/handling.h"
#include "core/model/tyres.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace dervish::study {
namespace {
/// Lean in degrees per g, balance in per cent, heads in m/s², reserve in g.
UseBands usual(double lean_least, double lean_most, double balance_least, double balance_most, double head,
               double reserve, Ground ground) {
    constexpr double per_g = units::deg / units::g;
    UseBands out;
    out.lean = {lean_least * per_g, lean_most * per_g};
    out.balance = {balance_least / 100, balance_most / 100};
    out.head.most = head;
    out.reserve.least = reserve * units::g;
    out.ground = ground;
    return out;
}
} // namespace

UseBands usual_bands(Use use) {
    switch (use) {
    case Use::Road:
        return usual(3, 7, -25, -3, 0.3, 0.15, Ground::DryPatched);
    case Use::Loaded:
        return usual(3, 7.5, -25, -5, 0.35, 0.15, Ground::DryPatched);
    case Use::Towing:
        return usual(3, 6.5, -30, -6, 0.35, 0.2, Ground::DryPatched);
    case Use::Sport:
        return usual(2, 4.5, -12, -1, 0.45, 0.2, Ground::DryPatched);
    case Use::RaceSmooth:
        return usual(0.5, 2, -6, 1, 0.8, 0.3, Ground::Dry);
    case Use::RaceRough:
        return usual(1, 3, -8, 0, 1.2, 0.3, Ground::Kerbs);
    case Use::Sprint:
        return usual(0.8, 3, -8, 2, 0.8, 0.3, Ground::DryPatched);
    case Use::Trail:
        return usual(5, 10, -25, -3, 0.6, 0.1, Ground::Gravel);
    case Use::Rocks:
        return usual(7, 15, -40, 5, 0.8, 0, Ground::Mud);
    case Use::Launch:
        return usual(2.5, 7, -20, -2, 0.6, 0.15, Ground::Dry);
    case Use::Model:
        return usual(0.5, 5, -8, 2, std::numeric_limits<double>::infinity(), 0.1, Ground::Dry);
    }
    return {};
}

UseBands bands_of(const UseData& u) {
    UseBands out = usual_bands(u.use);
    const auto set = [](double& bound, const Measured& said, double unit = 1) {
        if (said.value != by_use) bound = said.value * unit;
    };
    set(out.lean.least, u.lean_least);
    set(out.lean.most, u.lean_most);
    set(out.balance.least, u.balance_least);
    set(out.balance.most, u.balance_most);
    set(out.head.most, u.head_most);
    set(out.reserve.least, u.reserve_least, units::g);
    return out;
}

balance::Ride ride_in_use(const Vehicle& v, balance::Model model) {
    model.road = road_of(v.grounds[bands_of(v.use).ground]);
    return ride_of(model);
}

UseFigures use_figures(const Vehicle& v, const Setup& setup, const car::Car& car) {
    const balance::Model dry = to_model(v, setup, car, Ground::Dry);
    const balance::Limit limit = balance::outright_limit(dry);
    const auto over = car::rollover_threshold(car);
    return {car::roll_and_share(car).first, balance_of(limit), ride_in_use(v, dry).head,
            over ? over->acceleration - limit.lateral : std::numeric_limits<double>::infinity()};
}

std::vector<Match> match_to_tyre(const balance::Model& model, const std::function<bool()>& cancelled) {
    static constexpr double grips[] = {0.6, 0.75, 0.9, 1, 1.15, 1.3, 1.5}, factors[] = {0, 0.5, 1, 2, most_bar};
    struct Pair {
        PerAxle<double> bars;
        balance::Model model;
    };
    std::vector<Pair> pairs;
    for (const double front : factors)
        for (const double rear : factors) {
            Pair& p = pairs.emplace_back(Pair{{front, rear}, model});
            p.model.car = with_bar(with_bar(model.car, End::Front, front), End::Rear, rear);
            if (!model.road.plane()) p.model.swing = ride_of(p.model).swing;
        }
    std::vector<Match> out;
    for (const double grip : grips) {
        for (Pair& p : pairs)
            for (std::size_t e = 0; e < 2; ++e)
                for (std::size_t side = 0; side < 2; ++side)
                    p.model.axle[e].tyre[side].grip = grip * model.axle[e].tyre[side].grip;
        const auto fitted = std::ranges::find(pairs, PerAxle<double>{1, 1}, &Pair::bars);
        std::array<double, std::size(balance::all_phases)> now;
        for (std::size_t i = 0; i < now.size(); ++i)
            now[i] = balance::outright_limit(fitted->model, balance::all_phases[i]).lateral;
        Match m{grip, balance::outright_limit(fitted->model), {}, {1, 1}};
        double most = 0.002; // what is fitted is told as the best where another pair gains no more to speak of
        const Pair* best = &*fitted;
        for (const Pair& p : pairs) {
            if (cancelled && cancelled()) return out;
            double gain = std::numeric_limits<double>::infinity();
            for (const balance::Phase phase :
                 {balance::Phase::Middle, balance::Phase::Entry, balance::Phase::Exit, balance::Phase::Lifted}) {
                gain = std::min(
                    gain, balance::outright_limit(p.model, phase).lateral / now[static_cast<std::size_t>(phase)] - 1);
                if (!(gain > most)) break;
            }
            if (!(gain > most)) continue;
            m.gain = most = gain;
            best = &p;
        }
        m.bars = best->bars;
        m.best = best == &*fitted ? m.now : balance::outright_limit(best->model);
        out.push_back(m);
    }
    return out;
}

} // namespace dervish::study
