#include "core/job/assess.h"

#include "core/job/model.h"

namespace dervish::job {
namespace {
template <class F> auto told_within(const char* where, F&& f) {
    try {
        return f();
    } catch (const BadInput& e) {
        throw e.within(where);
    }
}

} // namespace

const std::array<OutcomeName, outcome_count> outcome_names{{{"roll gradient", units::Quantity::RollGradient},
                                                            {"front share of load transfer", units::Quantity::Share},
                                                            {"lift height on ramps", units::Quantity::Length},
                                                            {"front travel there", units::Quantity::Length},
                                                            {"rear travel there", units::Quantity::Length},
                                                            {"front bar's rate at the eye", units::Quantity::Rate},
                                                            {"rear bar's rate at the eye", units::Quantity::Rate},
                                                            {"front bar's rate at the wheel", units::Quantity::Rate},
                                                            {"rear bar's rate at the wheel", units::Quantity::Rate},
                                                            {"front bar, one side alone", units::Quantity::Rate},
                                                            {"rear bar, one side alone", units::Quantity::Rate},
                                                            {"front bar on the car", units::Quantity::TorsionalRate},
                                                            {"rear bar on the car", units::Quantity::TorsionalRate},
                                                            {"front bar yields at", units::Quantity::Length},
                                                            {"rear bar yields at", units::Quantity::Length}}};

BarSums bar_sums(const bar::Solution& s) {
    return {s.at_eyes, s.at_links, bar::worst(bar::stress(s, {-1, 1})).von_mises};
}

void put_bar(Outcomes& out, bool front, const Assembly& a, const AxleData& axle, const BarSums& sums, double scale) {
    const double link = scale * bar::roll_rate(sums.links);
    const auto put = [&](Outcome of_front, double value) {
        out[static_cast<std::size_t>(of_front) + (front ? 0 : 1)] = value;
    };
    put(FrontRate, scale * bar::roll_rate(sums.eyes));
    put(FrontWheelRate, link * at_wheel(axle, a.held));
    put(FrontOneSide, scale * sums.links(0, 0));
    put(FrontRollStiffness, a.connected ? link * roll_lever(axle, a.held) : 0);
    put(FrontYieldTravel,
        sums.stress > 0 ? a.bar.yield_strength.value / (scale * sums.stress * link_per_wheel(axle, a.held)) : 0);
}

Eigen::Matrix2d acting(const Assembly& a, const AxleData& axle, const Eigen::Matrix2d& at_links) {
    if (!a.fitted || !a.connected) return Eigen::Matrix2d::Zero();
    return at_axle(axle, a.held) * at_links;
}

std::optional<BarFigures> bar_figures(const Assembly& a, const AxleData& axle) {
    if (!a.fitted) return {};
    BarFigures out{solve(a), to_laid(a), {}, {}, 0, 0, 0, 0, 0, 0, 0, 0};
    out.ledger = bar::ledger(out.solution);
    out.sums = bar_sums(out.solution);
    Outcomes figures{};
    put_bar(figures, true, a, axle, out.sums);
    out.eye_rate = figures[FrontRate];
    out.link_rate = bar::roll_rate(out.solution.at_links);
    out.wheel_rate = figures[FrontWheelRate];
    out.roll_stiffness = figures[FrontRollStiffness];
    out.one_side = figures[FrontOneSide];
    out.mass = bar::mass(out.solution.bar);
    if (a.held == Held::Links) {
        const auto constants =
            bar::constants(bar::Round{a.bar.outer_diameter.value, a.bar.wall.value}, out.solution.bar.material);
        const bar::PlainU u = to_plain_u(a, out.laid);
        out.twist_only = bar::twist_only_rate(u, constants, out.solution.bar.material);
        out.textbook = bar::textbook_rate(u, constants, out.solution.bar.material);
    }
    return out;
}

car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const auto k = [&](const Assembly& a, const AxleData& axle, const char* where) -> Eigen::Matrix2d {
        if (!a.fitted || !a.connected) return Eigen::Matrix2d::Zero();
        return told_within(where, [&]() -> Eigen::Matrix2d { return bar_scale * acting(a, axle, solve(a).at_links); });
    };
    const Eigen::Matrix2d front = k(setup.front, vehicle.front, "front"), rear = k(setup.rear, vehicle.rear, "rear");
    return told_within("vehicle", [&] {
        car::Car car = to_car(vehicle, front, rear);
        car::check(car);
        return car;
    });
}

Assessment assess(const Vehicle& vehicle, const Setup& setup) {
    Assessment out{told_within("front", [&] { return bar_figures(setup.front, vehicle.front); }),
                   told_within("rear", [&] { return bar_figures(setup.rear, vehicle.rear); }),
                   {},
                   {},
                   {},
                   {}};
    told_within("vehicle", [&] {
        const auto bar = [](const Assembly& a, const AxleData& axle, const std::optional<BarFigures>& f) {
            return acting(a, axle, f ? f->solution.at_links : Eigen::Matrix2d::Zero());
        };
        out.car = to_car(vehicle, bar(setup.front, vehicle.front, out.front), bar(setup.rear, vehicle.rear, out.rear));
        out.handling = car::handling(out.car);
        out.ascent = flex::climb(out.car, {});
        return 0;
    });
    out.outcomes = {out.handling.roll_gradient, out.handling.front_share, out.ascent.height, out.ascent.front_travel,
                    out.ascent.rear_travel};
    if (out.front) put_bar(out.outcomes, true, setup.front, vehicle.front, out.front->sums);
    if (out.rear) put_bar(out.outcomes, false, setup.rear, vehicle.rear, out.rear->sums);
    return out;
}

std::vector<std::vector<double>> eye_ladder(const Assembly& a) {
    const bar::Laid laid = to_laid(a);
    std::vector<std::vector<double>> out(laid.left_eye.size());
    Assembly tried = a;
    for (std::size_t l = 0; l < laid.left_eye.size(); ++l)
        for (std::size_t r = 0; r < laid.right_eye.size(); ++r) {
            tried.left_eye = static_cast<int>(l);
            tried.right_eye = static_cast<int>(r);
            out[l].push_back(bar::roll_rate(solve(tried).at_eyes));
        }
    return out;
}

} // namespace dervish::job
