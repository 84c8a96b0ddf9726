#pragma once
#include "core/car/car.h"

/// Sums as they are done by hand.
namespace dervish::study {

/// Roll stiffness of an axle by what gives it, N·m/rad: springs, bar, parasitic in parallel, then the tyres in series.
struct RollStiffness {
    double springs, bar, parasitic, tyres;
    double suspension() const { return springs + bar + parasitic; }
    double whole() const { return 1 / (1 / suspension() + 1 / tyres); }
};
RollStiffness roll_stiffness(const car::Axle& axle);

/// Roll gradient by the textbook sum of linear rates about the roll axis, rad per m/s² (Milliken & Milliken 1995, ch.
/// 18: φ/a = Σ m_s h / (K_f + K_r − Σ m_s g h), h from the roll centres to the sprung mass, tyres in series).
double hand_roll_gradient(const car::Car& car);

} // namespace dervish::study
