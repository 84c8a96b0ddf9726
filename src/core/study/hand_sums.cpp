#include "core/study/hand_sums.h"

#include "core/car/equilibrium.h"

namespace dervish::study {

RollStiffness roll_stiffness(const car::Axle& a) {
    const bool solid = a.kind == AxleKind::Solid;
    const double springs = solid ? a.spring_base : a.track, bar = solid && !a.linkage ? a.bar_base : a.track;
    const Eigen::Matrix2d at_wheels = a.linkage ? (*a.linkage)({0, 0}).rate : a.bar;
    const double k = at_wheels(0, 0) - 2 * at_wheels(0, 1) + at_wheels(1, 1);
    return {a.spring_rate * springs * springs / 2, k * bar * bar / 4, a.parasitic_roll_stiffness,
            a.tyre_rate * a.track * a.track / 2};
}

double hand_roll_gradient(const car::Car& car) {
    const car::Loaded l = car::loaded(car);
    const double arm =
        l.share[0] * (l.z - car.front.roll_centre_height) + l.share[1] * (l.z - car.rear.roll_centre_height);
    return arm / (roll_stiffness(car.front).whole() + roll_stiffness(car.rear).whole() - units::g * arm);
}

} // namespace dervish::study
