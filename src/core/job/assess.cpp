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

Eigen::Matrix2d acting(const Assembly& a, const std::optional<BarFigures>& figures) {
    if (!figures || !a.connected) return Eigen::Matrix2d::Zero();
    return figures->solution.at_links;
}
} // namespace

std::optional<BarFigures> bar_figures(const Assembly& a, const AxleData& axle) {
    if (!a.fitted) return {};
    BarFigures out{bar::solve(to_bar(a)), {}, 0, 0, 0, 0, 0, 0, 0, 0};
    out.ledger = bar::ledger(out.solution);
    out.eye_rate = bar::roll_rate(out.solution.at_eyes);
    out.link_rate = bar::roll_rate(out.solution.at_links);
    out.wheel_rate = out.link_rate * at_wheel(axle);
    out.roll_stiffness = a.connected ? out.link_rate * roll_lever(axle) : 0;
    out.one_side = out.solution.at_links(0, 0);
    out.mass = bar::mass(out.solution.bar);
    const auto constants = bar::constants(out.solution.bar.line.sections[0], out.solution.bar.material);
    out.twist_only = bar::twist_only_rate(to_plain_u(a), constants, out.solution.bar.material);
    out.textbook = bar::textbook_rate(to_plain_u(a), constants, out.solution.bar.material);
    return out;
}

car::Car car_with(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const auto k = [&](const Assembly& a, const char* where) -> Eigen::Matrix2d {
        if (!a.fitted || !a.connected) return Eigen::Matrix2d::Zero();
        return told_within(where, [&]() -> Eigen::Matrix2d { return bar_scale * bar::solve(to_bar(a)).at_links; });
    };
    const Eigen::Matrix2d front = k(setup.front, "front"), rear = k(setup.rear, "rear");
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
        out.car = to_car(vehicle, acting(setup.front, out.front), acting(setup.rear, out.rear));
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
    const int n = static_cast<int>(a.bar.eyes.size());
    std::vector<std::vector<double>> out(a.bar.eyes.size());
    for (int l = 0; l < n; ++l)
        for (int r = 0; r < n; ++r)
            out[static_cast<std::size_t>(l)].push_back(bar::roll_rate(bar::solve(to_bar(a, l, r)).at_eyes));
    return out;
}

} // namespace dervish::job
