#include "core/study/launch.h"

#include "core/car/equilibrium.h"
#include "core/study/hand_sums.h"
#include "core/study/links.h"

namespace dervish::study {

std::optional<PropshaftTorque> propshaft_torque(const Vehicle& v, const car::Car& car) {
    const HandlingData& h = v.handling;
    const auto driven_and_solid = [&](End end) {
        return h.driven != (end == End::Front ? Driven::Rear : Driven::Front) && v[end].kind == AxleKind::Solid;
    };
    const End end = driven_and_solid(End::Rear) ? End::Rear : End::Front;
    if (!driven_and_solid(end)) return {};
    const double mass = car::loaded(car).mass + car.front.unsprung_mass + car.rear.unsprung_mass,
                 along = h.launch.value * units::g, share = h.driven == Driven::All ? 0.5 : 1;
    // A propshaft that turns with the clock, seen from behind, presses the axle's right wheel down: about +x.
    return PropshaftTorque{end, (h.propshaft == Turns::Clockwise ? 1 : -1) * mass * along * share *
                                    car[end].unsprung_height / h.axle_ratio.value};
}

std::optional<Launch> launch(const Vehicle& v, const Setup& setup) {
    const car::Car car = car_with(v, setup);
    const auto pressed = propshaft_torque(v, car);
    if (!pressed) return {};
    const auto [end, torque] = *pressed;
    const double along = v.handling.launch.value * units::g;
    const std::size_t first = wheel_at(end, 0);
    const auto off_the_line = [&, end = end, torque = torque](const car::Car& c) {
        car::Situation s{.longitudinal_acceleration = along};
        s.axle_torque[index(end)] = torque;
        return car::settle(c, s);
    };
    const car::State at = off_the_line(car);
    const double own = roll_stiffness(car[end]).whole(), others = roll_stiffness(car[other(end)]).whole();
    Launch out{
        *pressed, {}, std::abs(torque) * others / (own + others) / v[end].track.value, (at.roll[0] + at.roll[1]) / 2,
        torque,   {}};
    for (std::size_t w = 0; w < 4; ++w) out.load[w] = at.wheels[w].load;
    const Assembly& a = setup[end];
    if (!a.fitted || !a.connected || a.held != Held::Links) return out;
    Setup tried = setup;
    // What stands unlike without the torque (a tank, a driver) is not the propshaft's to even.
    const car::State untwisted = car::settle(car, {.longitudinal_acceleration = along});
    const double standing = untwisted.wheels[first].load - untwisted.wheels[first + 1].load;
    try {
        out.longer = solved_longer(setup, end, [&, end = end](double by) {
            tried[end].links.right_longer.value = by;
            const car::State s = off_the_line(car_with(v, tried));
            return s.wheels[first].load - s.wheels[first + 1].load - standing;
        });
    } catch (const BadInput&) { // on the way there a link no longer reaches
    }
    return out;
}

} // namespace dervish::study
