#include "core/study/launch.h"

#include "core/car/equilibrium.h"
#include "core/study/hand_sums.h"
#include "core/study/links.h"

namespace dervish::study {

std::optional<Launch> launch(const Vehicle& v, const Setup& setup) {
    const HandlingData& h = v.handling;
    const bool rear = h.driven != Driven::Front && v.rear.kind == AxleKind::Solid;
    const bool front = !rear && h.driven != Driven::Rear && v.front.kind == AxleKind::Solid;
    if (!rear && !front) return {};
    const AxleData& axle = front ? v.front : v.rear;
    const car::Car car = car_with(v, setup);
    const double mass = car::loaded(car).mass + car.front.unsprung_mass + car.rear.unsprung_mass,
                 along = h.launch.value * units::g, share = h.driven == Driven::All ? 0.5 : 1;
    // A propshaft that turns with the clock, seen from behind, presses the axle's right wheel down: about +x.
    const double torque = (h.propshaft == Turns::Clockwise ? 1 : -1) * mass * along * share *
                          axle.unsprung_height.value / h.axle_ratio.value;
    const std::size_t first = front ? 0 : 2;
    const auto off_the_line = [&](const car::Car& c) {
        car::Situation s{.longitudinal_acceleration = along};
        s.axle_torque[front ? 0 : 1] = torque;
        return car::settle(c, s);
    };
    const car::State at = off_the_line(car);
    const RollStiffness kf = roll_stiffness(car.front), kr = roll_stiffness(car.rear);
    const double other = front ? kr.whole() : kf.whole();
    Launch out{front,
               torque,
               {},
               std::abs(torque) * other / (kf.whole() + kr.whole()) / axle.track.value,
               (at.roll[0] + at.roll[1]) / 2,
               torque,
               {}};
    for (std::size_t w = 0; w < 4; ++w) out.load[w] = at.wheels[w].load;
    const Assembly& a = front ? setup.front : setup.rear;
    if (!a.fitted || !a.connected || a.held != Held::Links) return out;
    Setup tried = setup;
    // What stands unlike without the torque (a tank, a driver) is not the propshaft's to even.
    const car::State untwisted = car::settle(car, {.longitudinal_acceleration = along});
    const double standing = untwisted.wheels[first].load - untwisted.wheels[first + 1].load;
    try {
        out.longer = solved_longer(setup, front, [&](double by) {
            (front ? tried.front : tried.rear).links.right_longer.value = by;
            const car::State s = off_the_line(car_with(v, tried));
            return s.wheels[first].load - s.wheels[first + 1].load - standing;
        });
    } catch (const BadInput&) { // on the way there a link no longer reaches
    }
    return out;
}

} // namespace dervish::study
