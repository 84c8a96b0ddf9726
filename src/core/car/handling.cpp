#include "core/car/handling.h"

#include "core/root.h"
#include "core/units/units.h"

#include <algorithm>
#include <limits>

namespace dervish::car {
namespace {
double axle_moment(const Axle& axle, const State& s, int left) {
    return axle.track * (s.wheels[left + 1].load - s.wheels[left].load) / 2;
}

/// Load above zero, gap below it: crosses zero with a kink when the wheel lifts.
double load_or_gap(const Axle& axle, const Wheel& w) { return w.load - axle.tyre_rate * w.gap; }

/// The left turn at which `measure` of the settled car falls through zero, walking up with warm starts. A car that tips
/// over before that ends the walk at the last turn it stood, found to 1e-4 m/s².
struct Walked {
    Lift lift;
    bool tipped;
};
template <class Measure> std::optional<Walked> walk(const Car& car, Measure&& measure) {
    constexpr double top = 2 * units::g;
    State low = settle(car, {});
    if (!low.converged) return {};
    double f_low = measure(low).first, from = 0, step = top / 20;
    const auto at = [&](double lateral) { return settle(car, {.lateral_acceleration = lateral}, &low); };
    while (from < top) {
        const State high = at(from + step);
        if (!high.converged) {
            if (step < 1e-4) return Walked{{from, measure(low).second, low}, true};
            step /= 2;
            continue;
        }
        const double f_high = measure(high).first;
        if (f_high <= 0) {
            const double found =
                root_between([&](double x) { return measure(at(x)).first; }, from, from + step, f_low, f_high, 1e-6);
            const State state = at(found);
            return Walked{{found, measure(state).second, state}, false};
        }
        low = high;
        f_low = f_high;
        from += step;
    }
    return {};
}
} // namespace

double front_share_of_load_transfer(const Car& car, const State& s) {
    const double front = axle_moment(car.front, s, front_left);
    return front / (front + axle_moment(car.rear, s, rear_left));
}

double load_transfer_moment(const Car& car, const State& s) {
    return axle_moment(car.front, s, front_left) + axle_moment(car.rear, s, rear_left);
}

std::optional<Lift> first_lift(const Car& car) {
    const auto found = walk(car, [&](const State& s) {
        const double front = load_or_gap(car.front, s.wheels[front_left]),
                     rear = load_or_gap(car.rear, s.wheels[rear_left]);
        return front < rear ? std::pair{front, front_left} : std::pair{rear, rear_left};
    });
    return found ? std::optional(found->lift) : std::nullopt;
}

std::optional<double> rollover_threshold(const Car& car) {
    const auto both = walk(car, [&](const State& s) {
        return std::pair{
            std::max(load_or_gap(car.front, s.wheels[front_left]), load_or_gap(car.rear, s.wheels[rear_left])), 0};
    });
    return both ? std::optional(both->lift.acceleration) : std::nullopt;
}

std::pair<double, double> roll_and_share(const Car& car, std::optional<Turns>* near) {
    constexpr double a = 0.3 * units::g;
    std::optional<Turns> from = near ? *near : std::nullopt;
    if (!from) {
        const State level = settle(car, {});
        from = Turns{level, level};
    }
    const State left = settle(car, {.lateral_acceleration = a}, &from->left),
                right = settle(car, {.lateral_acceleration = -a}, &from->right);
    if (near) *near = Turns{left, right};
    const Loaded l = loaded(car);
    const auto lean = [&](const State& s) { return (l.share[0] * s.roll[0] + l.share[1] * s.roll[1]) / l.mass; };
    const double front = axle_moment(car.front, left, front_left) - axle_moment(car.front, right, front_left);
    const double whole = load_transfer_moment(car, left) - load_transfer_moment(car, right);
    return {(lean(left) - lean(right)) / (2 * a), front / whole};
}

Handling handling(const Car& car) {
    const auto [roll, share] = roll_and_share(car);
    const auto lift = first_lift(car);
    return {roll, share, lift ? lift->acceleration : std::numeric_limits<double>::infinity(), lift ? lift->wheel : -1};
}

} // namespace dervish::car
