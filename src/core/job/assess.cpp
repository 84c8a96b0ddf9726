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

Eigen::Matrix2d acting(const Assembly& a, const AxleData& axle, const std::optional<BarFigures>& figures) {
    if (!figures || !a.connected) return Eigen::Matrix2d::Zero();
    return at_axle(axle, a.held) * figures->solution.at_links;
}

std::optional<BarFigures> bar_figures(const Assembly& a, const AxleData& axle) {
    if (!a.fitted) return {};
    BarFigures out{solve(a), to_laid(a), {}, 0, 0, 0, 0, 0, 0, 0, 0};
    out.ledger = bar::ledger(out.solution);
    out.eye_rate = bar::roll_rate(out.solution.at_eyes);
    out.link_rate = bar::roll_rate(out.solution.at_links);
    out.wheel_rate = out.link_rate * at_wheel(axle, a.held);
    out.roll_stiffness = a.connected ? out.link_rate * roll_lever(axle, a.held) : 0;
    out.one_side = out.solution.at_links(0, 0);
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
        return told_within(where,
                           [&]() -> Eigen::Matrix2d { return bar_scale * at_axle(axle, a.held) * solve(a).at_links; });
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
        out.car =
            to_car(vehicle, acting(setup.front, vehicle.front, out.front), acting(setup.rear, vehicle.rear, out.rear));
        out.handling = car::handling(out.car);
        out.ascent = flex::climb(out.car, {});
        return 0;
    });
    out.outcomes = {out.handling.roll_gradient,
                    out.handling.front_share,
                    out.ascent.height,
                    out.ascent.front_travel,
                    out.ascent.rear_travel,
                    out.front ? out.front->eye_rate : 0,
                    out.rear ? out.rear->eye_rate : 0,
                    out.front ? out.front->wheel_rate : 0,
                    out.rear ? out.rear->wheel_rate : 0};
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
