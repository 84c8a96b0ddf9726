#include "core/car/handling.h"

#include "core/num/root.h"
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

constexpr double gentle = 0.3 * units::g; ///< of turns(), m/s²
constexpr double most = 2 * units::g;     ///< looked for up to here, m/s²

/// The turn to one side (`way` 1 left, −1 right) at which `measure` of the settled car falls through zero, walking up
/// with warm starts from `level`; nothing up to `top`. A car that tips over before that ends the walk at the last turn
/// it stood, found to 1e-4 m/s².
template <class Measure>
std::optional<Lift> walk(const Car& car, const State& level, double way, double top, Measure&& measure) {
    State low = level, near = level;
    Eigen::Matrix<double, 8, 1> ahead = Eigen::Matrix<double, 8, 1>::Zero(); // of the state, per m/s²
    double f_low = measure(low).first, from = 0, step = most / 10, fall = 0;
    bool fell = false; // over, at a step: they grow no more
    const auto at = [&](double lateral) {
        const State out = settle(car, {.lateral_acceleration = way * lateral}, &near);
        if (out.converged) near = out;
        return out;
    };
    while (from < top) {
        step = std::min(step, top - from);
        near = low;
        near.q += step * ahead;
        const State high = at(from + step);
        if (!high.converged) {
            if (step < 1e-4) return Lift{from, measure(low).second, low};
            step /= 2;
            fell = true;
            continue;
        }
        const double f_high = measure(high).first;
        if (f_high <= 0) {
            const auto path = [&](double lateral) { return Situation{.lateral_acceleration = way * lateral}; };
            // Loads fall evenly, gaps open far faster: it is reckoned from below.
            const double reckoned = from + f_low / (fall > 0 ? fall : (f_low - f_high) / step);
            const double guess = std::min(reckoned, from + step);
            const auto light = settle_light(car, path, measure(high).second, 0, guess, low);
            if (light && light->at > from && light->at <= from + step && std::abs(measure(light->state).first) < 1e-3)
                return Lift{light->at, measure(light->state).second, light->state};
            const double found =
                root_between([&](double x) { return measure(at(x)).first; }, from, from + step, f_low, f_high, 1e-6);
            const State state = at(found);
            return Lift{found, measure(state).second, state};
        }
        fall = (f_low - f_high) / step;
        ahead = (high.q - low.q) / step;
        low = high;
        f_low = f_high;
        from += step;
        if (!fell && fall > 0) step = std::clamp(0.9 * f_low / fall, most / 10, most / 5); // short of where it lifts
    }
    return {};
}

/// Of turns to either side the one that comes first.
template <class Measure> std::optional<Lift> sooner(const Car& car, const State& level, Measure&& measure) {
    std::optional<Lift> out;
    if (!level.converged) return {};
    for (const int inside : {0, 1}) { // the other side no further than the first one's
        const double top = out ? out->acceleration : most;
        const auto found = walk(car, level, inside == 0 ? 1 : -1, top, [&](const State& s) {
            const int front = front_left + inside, rear = rear_left + inside;
            return measure(std::pair{load_or_gap(car.front, s.wheels[static_cast<std::size_t>(front)]), front},
                           std::pair{load_or_gap(car.rear, s.wheels[static_cast<std::size_t>(rear)]), rear});
        });
        if (found && (!out || found->acceleration < out->acceleration)) out = found;
    }
    return out;
}

bool tips(const State& s) {
    return !s.converged || (s.wheels[front_left].load <= 0 && s.wheels[rear_left].load <= 0) ||
           (s.wheels[front_right].load <= 0 && s.wheels[rear_right].load <= 0);
}
} // namespace

double front_share_of_load_transfer(const Car& car, const State& s) {
    const double front = axle_moment(car.front, s, front_left);
    return front / (front + axle_moment(car.rear, s, rear_left));
}

double load_transfer_moment(const Car& car, const State& s) {
    return axle_moment(car.front, s, front_left) + axle_moment(car.rear, s, rear_left);
}

Situation turn(bool left) { return {.lateral_acceleration = left ? gentle : -gentle}; }

namespace {
std::optional<Lift> first_lift(const Car& car, const State& level) {
    return sooner(car, level,
                  [](const auto& front, const auto& rear) { return front.first < rear.first ? front : rear; });
}

Turns turns(const Car& car, const State& level) {
    return {settle(car, turn(true), &level), settle(car, turn(false), &level)};
}
} // namespace

std::optional<Lift> first_lift(const Car& car) { return first_lift(car, settle(car, {})); }

std::optional<Lift> rollover_threshold(const Car& car) {
    return sooner(car, settle(car, {}),
                  [](const auto& front, const auto& rear) { return front.first > rear.first ? front : rear; });
}

Turns turns(const Car& car, const Turns* near) {
    if (near) return {settle(car, turn(true), &near->left), settle(car, turn(false), &near->right)};
    return turns(car, settle(car, {}));
}

std::pair<double, double> roll_and_share(const Car& car) { return roll_and_share(car, turns(car)); }

std::pair<double, double> roll_and_share(const Car& car, const Turns& turns) {
    const auto& [left, right] = turns;
    constexpr double none = std::numeric_limits<double>::infinity();
    if (tips(left) || tips(right)) return {none, none};
    const Loaded l = loaded(car);
    const auto lean = [&](const State& s) { return (l.share[0] * s.roll[0] + l.share[1] * s.roll[1]) / l.mass; };
    const double front = axle_moment(car.front, left, front_left) - axle_moment(car.front, right, front_left);
    const double whole = load_transfer_moment(car, left) - load_transfer_moment(car, right);
    return {(lean(left) - lean(right)) / (2 * gentle), front / whole};
}

Handling handling(const Car& car) {
    const State level = settle(car, {});
    const auto [roll, share] = roll_and_share(car, turns(car, level));
    const auto lift = first_lift(car, level);
    return {roll, share, lift ? lift->acceleration : std::numeric_limits<double>::infinity(), lift ? lift->wheel : -1};
}

} // namespace dervish::car
