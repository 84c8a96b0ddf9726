#include "core/study/outside.h"

namespace dervish::study {

Outside outside(const Vehicle& v) {
    const HandlingData& h = v.handling;
    const double area = h.side_area.value > 0 ? h.side_area.value : 1.4 * v.wheelbase.value * 1.9 * v.cg_height.value;
    return {person_of(v), h.person_out.value > 0 ? h.person_out.value : (v.front.track.value + v.rear.track.value) / 4,
            0.6 * h.wind.value * h.wind.value * area, 1.3 * v.cg_height.value};
}

namespace {
std::optional<double> more_lean(const car::Car& car, const car::Car& pushed, const car::Situation& by) {
    const car::State before = car::settle(car, {}), after = car::settle(pushed, by);
    if (!before.converged || !after.converged) return {};
    return (after.roll[0] + after.roll[1] - before.roll[0] - before.roll[1]) / 2;
}
} // namespace

std::optional<double> lean_by_person(const car::Car& car, const Outside& push) {
    car::Car loaded = car;
    loaded.loads.push_back({push.person, -car.wheelbase / 2, -push.out, car.front.unsprung_height});
    return more_lean(car, loaded, {});
}

std::optional<double> lean_in_wind(const car::Car& car, const Outside& push) {
    return more_lean(car, car, {.wind_force = push.wind, .wind_height = push.height, .wind_x = -car.wheelbase / 2});
}

} // namespace dervish::study
