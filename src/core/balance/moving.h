#pragma once
#include "core/balance/steady.h"

#include <algorithm>
#include <cmath>

/// A car's equations of motion on the road, for what follows it in time. docs/model.md, "Manoeuvres".
namespace dervish::balance {
using MotionState = std::array<double, 9>; // slide, yaw, roll, roll rate, front force, rear force, x, y, heading

/// What the equilibrium says of a lean: the steady lateral acceleration it belongs to, and the loads there.
struct Lean {
    double roll, lateral;
    PerWheel<double> load;
    PerAxle<double> end_roll;
};

/// The equilibrium of steady turns both ways, in the order of their lateral acceleration; straight on between and
/// beyond its entries. Looked up by lean, which grows or falls along it as the body leans out or in; a table whose
/// lean does not change is looked up by lateral acceleration alone.
class Leans {
public:
    explicit Leans(const car::Car& car) {
        constexpr double step = 0.03 * units::g, top = 1.3 * units::g;
        const car::State level = car::settle(car, {});
        if (!level.converged || tipped(level, 0) || tipped(level, 1)) return;
        for (const double side : {-1.0, 1.0}) {
            car::State at = level;
            if (side > 0) table_.push_back(entry(level, 0));
            for (double a = step; a <= top; a += step) {
                const car::State next = car::settle(car, {.lateral_acceleration = side * a}, &at);
                if (!next.converged || tipped(next, side > 0 ? 0 : 1)) break;
                at = next;
                table_.push_back(entry(at, side * a));
            }
            if (side < 0) std::reverse(table_.begin(), table_.end());
        }
        if (table_.size() < 2) return;
        const double whole = table_.back().roll - table_.front().roll,
                     turned = table_.back().lateral - table_.front().lateral;
        constexpr double least = 1e-7; // rad per m/s²: below it, lean says nothing of the turn
        way_ = std::abs(whole) < least * turned ? 0 : whole > 0 ? 1 : -1;
        keep_monotone();
    }
    bool settles() const { return table_.size() >= 2; }
    bool lean_tells() const { return way_ != 0; }
    Lean at(double roll) const {
        return between([this](const Lean& l) { return way_ * l.roll; }, way_ * roll);
    }
    Lean at_lateral(double lateral) const {
        return between([](const Lean& l) { return l.lateral; }, lateral);
    }
    double level() const { return root_; }

private:
    static bool tipped(const car::State& s, std::size_t inner) {
        return s.wheels[inner].load <= 0 && s.wheels[inner + 2].load <= 0;
    }
    /// The stretch about the level car along which lean keeps its way: a car past it leans back on its stops.
    void keep_monotone() {
        if (way_ == 0) return;
        const auto rises = [this](std::size_t i) { return way_ * (table_[i + 1].roll - table_[i].roll) > 0; };
        std::size_t middle = 0;
        while (middle + 1 < table_.size() && table_[middle].lateral < 0) ++middle;
        std::size_t first = middle, last = middle;
        while (first > 0 && rises(first - 1)) --first;
        while (last + 1 < table_.size() && rises(last)) ++last;
        if (last - first < 1) {
            way_ = 0;
            return;
        }
        table_ = {table_.begin() + static_cast<std::ptrdiff_t>(first),
                  table_.begin() + static_cast<std::ptrdiff_t>(last) + 1};
    }
    template <class Key> Lean between(Key key, double wanted) const {
        const auto above = std::lower_bound(table_.begin() + 1, table_.end() - 1, wanted,
                                            [&](const Lean& l, double w) { return key(l) < w; });
        const Lean &b = *above, &a = *(above - 1);
        const double part = (wanted - key(a)) / (key(b) - key(a));
        Lean out = a;
        out.roll += part * (b.roll - a.roll);
        out.lateral += part * (b.lateral - a.lateral);
        for (std::size_t w = 0; w < 4; ++w) out.load[w] += part * (b.load[w] - a.load[w]);
        for (std::size_t e = 0; e < 2; ++e) out.end_roll[e] += part * (b.end_roll[e] - a.end_roll[e]);
        return out;
    }
    Lean entry(const car::State& s, double lateral) {
        Lean out{(s.roll[0] + s.roll[1]) / 2, lateral, {}, s.roll};
        for (std::size_t w = 0; w < 4; ++w) out.load[w] = s.wheels[w].load;
        if (lateral == 0) root_ = out.roll;
        return out;
    }
    std::vector<Lean> table_;
    int way_ = 0; ///< of the lean along the table: 1 outwards, -1 inwards, 0 none
    double root_ = 0;
};

struct AxleNow {
    double mass, unsprung, arm, roll_centre, unsprung_height, track, damping; ///< arm: from c to the axle along x
};

/// The car as the equations of motion see it.
struct Moving {
    const Model& model;
    Leans leans;
    PerAxle<AxleNow> end;
    double mass, height, yaw_inertia, roll_inertia, speed;

    Moving(const Model& m, double v) : model(m), leans(m.car), speed(v) {
        const car::Loaded l = car::loaded(m.car);
        height = l.z;
        mass = 0;
        for (std::size_t e = 0; e < 2; ++e) {
            const car::Axle& a = m.car[static_cast<End>(e)];
            const double base = a.kind == AxleKind::Solid ? a.spring_base : a.track;
            const double damper = (m.axle[e].bump_damping + m.axle[e].rebound_damping) / 2;
            end[e] = {l.share[e], a.unsprung_mass,         0, a.roll_centre_height, a.unsprung_height,
                      a.track,    damper * base * base / 2};
            mass += l.share[e] + a.unsprung_mass;
        }
        // Steady yaw balance by the axles' whole masses, as corner() has it.
        end[0].arm = m.car.wheelbase * (end[1].mass + end[1].unsprung) / mass;
        end[1].arm = -m.car.wheelbase * (end[0].mass + end[0].unsprung) / mass;
        yaw_inertia = m.yaw_inertia;
        roll_inertia = m.roll_inertia;
    }

    /// The steady turn that the body stands in now: by its lean, or by the side force where lean says nothing.
    Lean lean(const MotionState& q, double wind) const {
        return leans.lean_tells() ? leans.at(q[2]) : leans.at_lateral((q[4] + q[5] - wind) / mass);
    }
    double roll_damping() const { return end[0].damping + end[1].damping; }
    double lever(std::size_t e) const { return height - end[e].roll_centre; }

    /// Loads now: those of the lean, moved by the dampers and by what each axle's force differs from the steady one.
    PerWheel<double> loads(const MotionState& q, const Lean& lean, double wind) const {
        const double lateral = (q[4] + q[5] - wind) / mass;
        PerWheel<double> out = lean.load;
        for (std::size_t e = 0; e < 2; ++e) {
            const AxleNow& a = end[e];
            const double couple = (q[4 + e] - a.unsprung * lateral) * a.roll_centre +
                                  a.unsprung * lateral * a.unsprung_height,
                         steady = (a.mass * a.roll_centre + a.unsprung * a.unsprung_height) * lean.lateral;
            const double across = (couple - steady + a.damping * q[3]) / a.track, both = out[2 * e] + out[2 * e + 1];
            out[2 * e] = std::clamp(out[2 * e] - across, 0.0, both);
            out[2 * e + 1] = both - out[2 * e];
        }
        return out;
    }

    PerAxle<double> slips(const MotionState& q, const Lean& lean, double steer) const {
        PerAxle<double> out;
        for (std::size_t e = 0; e < 2; ++e) {
            const AxleGrip& a = model.axle[e];
            const double turned = a.roll_steer * lean.end_roll[e] + (a.side_steer + a.trail_steer) * q[4 + e];
            out[e] = (e == 0 ? steer - turned : turned) - (q[0] + end[e].arm * q[1]) / speed;
        }
        return out;
    }

    PerWheel<double> used(const MotionState& q, const PerWheel<double>& load, const Lean& lean, double steer) const {
        const auto slip = slips(q, lean, steer);
        PerWheel<double> out;
        for (std::size_t w = 0; w < 4; ++w) {
            const AxleGrip& a = model.axle[w / 2];
            const double camber = camber_at(a, lean.end_roll[w / 2])[w % 2];
            const WheelLoad on{load[w], model.load_spread[w]};
            const double force = lateral_force(a.tyre[w % 2], model.surface, on, slip[w / 2], camber);
            const double most = peak_force(a.tyre[w % 2], model.surface, on, force < 0 ? -camber : camber);
            out[w] = most > 0 ? std::min(1.0, std::abs(force) / most) : 1;
        }
        return out;
    }

    /// `wind`: side force towards the right on the body, N, at `wind_height`, `wind_ahead` of the centre of mass.
    void operator()(const MotionState& q, MotionState& dq, double steer, double wind, double wind_height,
                    double wind_ahead) const {
        const Lean lean = this->lean(q, wind);
        const auto load = loads(q, lean, wind);
        const auto slip = slips(q, lean, steer);
        for (std::size_t e = 0; e < 2; ++e) {
            const AxleGrip& a = model.axle[e];
            const auto camber = camber_at(a, lean.end_roll[e]);
            double force = 0;
            for (std::size_t w = 0; w < 2; ++w)
                force += lateral_force(a.tyre[w], model.surface,
                                       WheelLoad{load[2 * e + w], model.load_spread[2 * e + w]}, slip[e], camber[w]);
            dq[4 + e] = (force - q[4 + e]) * speed / std::max(0.05, a.tyre[0].relaxation);
        }
        const double lateral = (q[4] + q[5] - wind) / mass;
        dq[0] = lateral - speed * q[1];
        dq[1] = (end[0].arm * q[4] + end[1].arm * q[5] - wind_ahead * wind) / yaw_inertia;
        dq[2] = q[3];
        double moment = -roll_damping() * q[3] + wind * (wind_height - height);
        for (std::size_t e = 0; e < 2; ++e)
            moment += lever(e) * (q[4 + e] - end[e].unsprung * lateral - end[e].mass * lean.lateral);
        dq[3] = leans.lean_tells() ? moment / roll_inertia : 0;
        dq[6] = speed * std::cos(q[8]) - q[0] * std::sin(q[8]);
        dq[7] = speed * std::sin(q[8]) + q[0] * std::cos(q[8]);
        dq[8] = q[1];
    }
};

} // namespace dervish::balance
