#pragma once
#include "core/balance/steady.h"

#include <array>

/// Eight made-up cars, each typical of its kind, for what is said of all cars.
namespace dervish::examples {

struct Kind {
    const char* name;
    double mass, wheelbase, track, height, front; ///< kg, m, m, m, share of mass
    double ride;                                  ///< Hz, of the body on its springs
    double bars;                                  ///< share of both bars in the roll stiffness
    double front_bar;                             ///< share of the front in the bars'
    double grip, camber_kept;
    bool solid_rear, driven_front;
    double damping; ///< over critical
};
inline constexpr std::array kinds{
    Kind{"small hatchback", 1050, 2.45, 1.45, 0.54, 0.62, 1.3, 0.35, 0.7, 0.95, 0.3, false, true, 0.25},
    Kind{"family estate", 1600, 2.75, 1.55, 0.57, 0.54, 1.2, 0.4, 0.6, 0.95, 0.35, false, true, 0.25},
    Kind{"tall van", 2300, 2.9, 1.6, 0.82, 0.5, 1.25, 0.35, 0.6, 0.9, 0.3, true, false, 0.25},
    Kind{"light roadster", 980, 2.3, 1.42, 0.46, 0.51, 1.5, 0.45, 0.6, 1.05, 0.4, false, false, 0.3},
    Kind{"track car", 900, 2.45, 1.5, 0.38, 0.45, 2.3, 0.4, 0.55, 1.35, 0.5, false, false, 0.4},
    Kind{"trail truck", 2100, 2.75, 1.6, 0.85, 0.52, 1.35, 0.25, 0.7, 0.85, 0.3, true, false, 0.25},
    Kind{"light all-terrain machine", 420, 2.0, 1.3, 0.52, 0.45, 1.4, 0.2, 0.5, 0.85, 0.4, false, false, 0.3},
    Kind{"eighth-scale model", 3.4, 0.325, 0.27, 0.045, 0.45, 3.2, 0.45, 0.5, 1.3, 0.5, false, false, 0.35},
};

inline balance::Model model_of(const Kind& k) {
    balance::Model m;
    m.car.wheelbase = k.wheelbase;
    m.car.sprung_mass = 0.86 * k.mass;
    m.car.cg_behind_front_axle = (1 - k.front) * k.wheelbase;
    m.car.cg_height = 1.06 * k.height;
    const double stiffness = std::pow(2 * units::pi * k.ride, 2);
    const double wheel = 0.25 * k.mass, radius = 0.55 * k.height;
    double springs = 0; // roll stiffness
    for (const End end : both_ends) {
        car::Axle& a = m.car[end];
        const double share = end == End::Front ? k.front : 1 - k.front;
        a.kind = end == End::Rear && k.solid_rear ? AxleKind::Solid : AxleKind::Independent;
        a.track = k.track;
        a.unsprung_mass = 0.14 * k.mass * share;
        a.unsprung_height = radius;
        a.spring_rate = stiffness * 0.43 * k.mass * share;
        a.tyre_rate = 8 * stiffness * wheel;
        a.spring_base = a.kind == AxleKind::Solid ? 0.68 * k.track : 0;
        a.roll_centre_height = a.kind == AxleKind::Solid ? 0.5 * k.height : 0.1 * k.height;
        a.bump_gap = a.droop_gap = 0.13 * k.height + 0.02 * k.track;
        a.bump_k1 = 3 * a.spring_rate;
        a.bump_k3 = 0;
        a.droop_k = 10 * a.spring_rate;
        const double base = a.kind == AxleKind::Solid ? a.spring_base : a.track;
        springs += a.spring_rate * base * base / 2;
    }
    for (const End end : both_ends) {
        car::Axle& a = m.car[end];
        const double own = springs * k.bars / (1 - k.bars) * (end == End::Front ? k.front_bar : 1 - k.front_bar);
        a.bar_base = a.track;
        const double rate = own / (a.track * a.track);
        a.bar << rate, -rate, -rate, rate;
        balance::AxleGrip& grip = m.axle[end];
        grip.camber_kept = a.kind == AxleKind::Solid ? 1 : k.camber_kept;
        grip.bump_damping = 0.7 * 2 * k.damping * std::sqrt(a.spring_rate * 0.43 * k.mass * 0.5);
        grip.rebound_damping = 1.3 / 0.7 * grip.bump_damping;
        for (balance::Tyre& t : grip.tyre) {
            t.nominal_load = wheel * units::g;
            t.grip = k.grip;
            t.relaxation = 0.9 * radius;
        }
    }
    const double a = (1 - k.front) * k.wheelbase, b = k.front * k.wheelbase;
    m.yaw_inertia = k.mass * a * b;
    m.pitch_inertia = 0.86 * k.mass * a * b;
    m.roll_inertia = 0.86 * k.mass * (k.track * k.track / 9 + k.height * k.height);
    if (k.solid_rear) m.axle_inertia.rear = 0.15 * m.car.rear.unsprung_mass * k.track * k.track;
    m.drive = k.driven_front ? PerAxle<double>{1, 0} : PerAxle<double>{0, 1};
    return m;
}

} // namespace dervish::examples
