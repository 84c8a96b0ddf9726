#include "core/car/equilibrium.h"
#include "core/num/solves.h"

#include "core/car/axle.h"
#include "core/num/bad_input.h"
#include "core/units/units.h"

#include <Eigen/Cholesky>
#include <algorithm>
#include <cmath>

namespace dervish::car {
/// A car in a situation, as the energy takes it.
struct Problem {
    PerAxle<AxleFrame> axle;
    double sprung_weight, pitch_moment, frame, twist, weight;
    bool stiff;
};

namespace {
using Vector8 = Eigen::Matrix<double, 8, 1>;
using Matrix8 = Eigen::Matrix<double, 8, 8>;

/// Unknowns: heave, pitch, front roll, rear roll, front axle's two, rear axle's two.
constexpr int index[2][5] = {{0, 1, 2, 4, 5}, {0, 1, 3, 6, 7}};

struct Whole {
    double value = 0;
    Vector8 gradient = Vector8::Zero();
    Matrix8 hessian = Matrix8::Zero();
};

Vector5 own(const Vector8& q, int a) {
    Vector5 out;
    for (int i = 0; i < 5; ++i) out[i] = q[index[a][i]];
    return out;
}

Loaded loaded(const Car& car, const std::vector<PointMass>& loads);

Problem pose(const Car& car, const Situation& s) {
    const Loaded now = loaded(car, car.loads), weighed = car.relevelled ? now : loaded(car, {});
    const double lateral = s.lateral_acceleration * std::cos(s.side_slope) + units::g * std::sin(s.side_slope);
    const double g = units::g * std::cos(s.side_slope) - s.lateral_acceleration * std::sin(s.side_slope);
    const double wind_rear = s.wind_force * -s.wind_x / car.wheelbase;

    Problem p{};
    for (int a = 0; a < 2; ++a) {
        const Axle& axle = car[static_cast<End>(a)];
        AxleFrame& f = p.axle[a];
        f = {&axle,
             (a == 0 ? 0 : -car.wheelbase) - now.x,
             now.y,
             now.z,
             now.share[a],
             {},
             {},
             g,
             lateral,
             a == 0 ? s.wind_force - wind_rear : wind_rear,
             s.wind_height,
             {s.wheel_height[2 * a], s.wheel_height[2 * a + 1]},
             s.axle_torque[static_cast<std::size_t>(a)],
             {s.held == 2 * a, s.held == 2 * a + 1}};
        const double base = axle.kind == AxleKind::Solid ? axle.spring_base : axle.track;
        for (int side = 0; side < 2; ++side) {
            const double sign = side == 0 ? 1 : -1, sprung = weighed.share[a] * units::g;
            const double moment =
                sprung * weighed.y + (a == 0 ? car.twist : -car.twist); // about x, taken by the two sides
            f.spring_static[side] = sprung / 2 + sign * moment / base + axle.stuck[static_cast<std::size_t>(side)];
            f.tyre_static[side] =
                (sprung / 2 + sign * moment / axle.track + axle.unsprung_mass * units::g / 2) / axle.tyre_rate;
        }
    }
    p.sprung_weight = now.mass * g;
    p.pitch_moment =
        s.longitudinal_acceleration * (now.mass * now.z + car.front.unsprung_mass * car.front.unsprung_height +
                                       car.rear.unsprung_mass * car.rear.unsprung_height);
    p.twist = car.twist;
    p.stiff = !std::isfinite(car.chassis_torsion);
    p.frame = p.stiff ? 0 : car.chassis_torsion;
    p.weight = (now.mass + car.front.unsprung_mass + car.rear.unsprung_mass) * units::g;
    return p;
}

PerAxle<AxleEnergy> energies(const Problem& p, const Vector8& q, bool curved = true) {
    return {energy(p.axle[0], own(q, 0), curved), energy(p.axle[1], own(q, 1), curved)};
}

/// ∂V/∂q. A stiff body has one roll: the second folds into it and is held equal to it.
Vector8 gradient(const Problem& p, const Vector8& q, const PerAxle<AxleEnergy>& axles) {
    Vector8 out = Vector8::Zero();
    for (int a = 0; a < 2; ++a)
        for (int i = 0; i < 5; ++i) out[index[a][i]] += axles[a].gradient[i];
    out[0] += p.sprung_weight;
    out[1] += p.pitch_moment * std::cos(q[1]);
    if (p.stiff) {
        out[2] += out[3];
        out[3] = 0;
    } else {
        const double moment = p.frame * (q[2] - q[3]) + p.twist; // the frame holds the static twist
        out[2] += moment;
        out[3] -= moment;
    }
    return out;
}

Whole evaluate(const Problem& p, const Vector8& q, const PerAxle<AxleEnergy>& axles) {
    Whole out;
    out.gradient = gradient(p, q, axles);
    for (int a = 0; a < 2; ++a) {
        const AxleEnergy& e = axles[a];
        out.value += e.value;
        for (int i = 0; i < 5; ++i)
            for (int j = 0; j < 5; ++j) out.hessian(index[a][i], index[a][j]) += e.hessian(i, j);
    }
    out.value += p.sprung_weight * q[0] + p.pitch_moment * std::sin(q[1]);
    out.hessian(1, 1) -= p.pitch_moment * std::sin(q[1]);

    const double twist = q[2] - q[3];
    out.value += p.frame * twist * twist / 2 + p.twist * twist;
    if (p.stiff) {
        out.hessian.row(2) += out.hessian.row(3);
        out.hessian.col(2) += out.hessian.col(3);
        out.hessian.row(3).setZero();
        out.hessian.col(3).setZero();
        out.hessian(3, 3) = 1;
    } else {
        out.hessian(2, 2) += p.frame;
        out.hessian(3, 3) += p.frame;
        out.hessian(2, 3) -= p.frame;
        out.hessian(3, 2) -= p.frame;
    }
    return out;
}

Whole evaluate(const Problem& p, const Vector8& q) { return evaluate(p, q, energies(p, q)); }

/// Newton's step; the Hessian is raised along its diagonal until it is positive definite.
Vector8 newton_step(const Whole& at) {
    double raise = 0;
    const double scale = at.hessian.diagonal().cwiseAbs().maxCoeff();
    for (int attempt = 0; attempt < 40; ++attempt) {
        Matrix8 h = at.hessian;
        h.diagonal().array() += raise;
        const Eigen::LLT<Matrix8> factor(h);
        if (factor.info() == Eigen::Success) return -factor.solve(at.gradient);
        raise = raise == 0 ? 1e-8 * scale : 4 * raise;
    }
    return -at.gradient / scale;
}

/// Forces and moments over the weight; a metre is the lever for moments.
double residual(const Problem& p, const Whole& at) { return at.gradient.cwiseAbs().maxCoeff() / p.weight; }

Vector8 step_by(const Problem& p, const Vector8& q, const Vector8& step, double length) {
    Vector8 out = q + length * step;
    if (p.stiff) out[3] = out[2];
    return out;
}

/// Called in every solve, so nothing is built unless it fails.
void require(bool good, const char* end, const char* key, double value, const char* accepted) {
    if (!good) throw BadInput(std::string(end) + key, units::trimmed(value, 6) + " cannot be", accepted);
}

void check(const Axle& a, const char* end) {
    constexpr const char* above = "give more than 0";
    require(a.track > 0, end, "track", a.track, above);
    require(a.unsprung_mass >= 0, end, "unsprung_mass", a.unsprung_mass, "give 0 or more");
    require(a.tyre_rate > 0, end, "tyre_rate", a.tyre_rate, above);
    require(a.spring_rate > 0 || a.spring_table.size() > 1, end, "spring_rate", a.spring_rate, above);
    require(a.droop_k >= 0 && a.bump_k1 >= 0 && a.bump_k3 >= 0, end, "bump_k1", a.bump_k1,
            "give stop rates of 0 or more");
    for (std::size_t i = 1; i < a.spring_table.size(); ++i)
        require(a.spring_table[i].travel > a.spring_table[i - 1].travel, end, "spring_table", a.spring_table[i].travel,
                "give travels in rising order");
    if (a.kind == AxleKind::Solid) require(a.spring_base > 0, end, "spring_base", a.spring_base, above);
    if (a.kind == AxleKind::Solid && !a.bar.isZero()) require(a.bar_base > 0, end, "bar_base", a.bar_base, above);
}
} // namespace

void check(const Car& car) {
    require(car.wheelbase > 0, "", "wheelbase", car.wheelbase, "give more than 0");
    require(car.sprung_mass > 0, "", "sprung_mass", car.sprung_mass, "give more than 0");
    require(car.cg_behind_front_axle > 0 && car.cg_behind_front_axle < car.wheelbase, "", "cg_behind_front_axle",
            car.cg_behind_front_axle, "give a length between the axles");
    require(car.chassis_torsion > 0, "", "chassis_torsion", car.chassis_torsion,
            "give more than 0, or leave it out for a stiff body");
    check(car.front, "front/");
    check(car.rear, "rear/");
}

namespace {
Loaded loaded(const Car& car, const std::vector<PointMass>& loads) {
    Loaded out{car.sprung_mass,
               -car.cg_behind_front_axle * car.sprung_mass,
               car.cg_left * car.sprung_mass,
               car.cg_height * car.sprung_mass,
               {}};
    for (const PointMass& m : loads) {
        out.mass += m.mass;
        out.x += m.mass * m.x;
        out.y += m.mass * m.y;
        out.z += m.mass * m.z;
    }
    out.x /= out.mass;
    out.y /= out.mass;
    out.z /= out.mass;
    out.share[1] = out.mass * -out.x / car.wheelbase;
    out.share[0] = out.mass - out.share[1];
    return out;
}

void set_wheels(State& state, const Problem& p) {
    state.heave = state.q[0];
    state.pitch = state.q[1];
    state.roll = {state.q[2], state.q[3]};
    for (int a = 0; a < 2; ++a) {
        const auto pair = wheels(p.axle[a], own(state.q, a));
        state.wheels[2 * a] = pair[0];
        state.wheels[2 * a + 1] = pair[1];
    }
}
} // namespace

Loaded loaded(const Car& car) { return loaded(car, car.loads); }

PerAxle<double> rises(const Car& car, const State& settled) {
    const Loaded l = loaded(car);
    const auto at = [&](double x) { return settled.heave - (x - l.x) * std::sin(settled.pitch); };
    return {at(0), at(-car.wheelbase)};
}

double energy(const Car& car, const Situation& situation, const Vector8& q) {
    return evaluate(pose(car, situation), q).value;
}

SmallMotion small_motion(const Car& car, const Situation& situation, const State& settled) {
    const Problem p = pose(car, situation);
    // Rows of the stiff body's second roll fold into its first, as evaluate() folds them, and fall away.
    const auto place = [&](int of_eight) { return p.stiff && of_eight > 2 ? of_eight - 1 : of_eight; };
    SmallMotion out;
    out.count = p.stiff ? 7 : 8;
    out.rear_roll = place(3);
    const PerAxle<AxleEnergy> axles = energies(p, settled.q);
    out.bar_roll = {axles.front.bar_roll, axles.rear.bar_roll};
    const Matrix8 whole = evaluate(p, settled.q, axles).hessian;
    out.stiffness.setIdentity();
    for (int i = 0; i < 8; ++i)
        for (int j = 0; j < 8; ++j)
            if (!p.stiff || (i != 3 && j != 3)) out.stiffness(place(i), place(j)) = whole(i, j);
    out.contact.setZero();
    out.spring.setZero();
    out.travel.setZero();
    out.middle.setZero();
    out.turn.setZero();
    for (int a = 0; a < 2; ++a) {
        const AxleMotion axle = motion(p.axle[a], own(settled.q, a));
        for (int i = 0; i < 5; ++i) {
            const int at = place(index[a][i]);
            for (int side = 0; side < 2; ++side) {
                const int w = 2 * a + side;
                out.contact(at, w) += axle.contact[side][i];
                out.spring(at, w) += axle.spring[side][i];
                out.travel(at, w) += axle.travel[side][i];
                out.tyre_rate[w] = settled.wheels[w].load > 0 ? p.axle[a].axle->tyre_rate : 0;
            }
            out.middle(at, a) += axle.middle[i];
            out.turn(at, a) += axle.turn[i];
        }
    }
    return out;
}

struct InMotion::Posed {
    Problem problem;
    double pitch_lever; ///< moment of the masses per longitudinal acceleration, N·m per m/s²
    Vector8 own_q(const Vector8& q) const;
};

InMotion::InMotion(const Car& car)
    : posed_(std::make_unique<Posed>(Posed{pose(car, {}), pose(car, {.longitudinal_acceleration = 1}).pitch_moment})) {}
InMotion::~InMotion() = default;
InMotion::InMotion(InMotion&&) noexcept = default;

Vector8 InMotion::place_of(const State& state) const {
    Vector8 out = state.q;
    if (posed_->problem.stiff) out << state.q.head<3>(), state.q.tail<4>(), 0;
    return out;
}

Vector8 InMotion::Posed::own_q(const Vector8& q) const {
    Vector8 out = q;
    if (problem.stiff) out << q.head<3>(), q[2], q.segment<4>(3);
    return out;
}

Vector8 InMotion::force(const Vector8& q, const PerAxle<double>& side, double longitudinal,
                        const PerWheel<double>& ground) const {
    Problem p = posed_->problem;
    p.pitch_moment = longitudinal * posed_->pitch_lever;
    for (std::size_t a = 0; a < 2; ++a) {
        p.axle[a].wind = side[a]; // at the height of the centre of mass: what is left there is the force itself
        p.axle[a].wind_height = p.axle[a].cz;
        p.axle[a].ground = {ground[2 * a], ground[2 * a + 1]};
    }
    const Vector8 own_q = posed_->own_q(q), slope = gradient(p, own_q, energies(p, own_q, false));
    Vector8 out = -slope;
    if (p.stiff) out << -slope.head<3>(), -slope.tail<4>(), 0;
    return out;
}

PerWheel<double> InMotion::loads(const Vector8& q, const PerWheel<double>& ground) const {
    const Vector8 own_q = posed_->own_q(q);
    PerWheel<double> out;
    for (std::size_t a = 0; a < 2; ++a) {
        AxleFrame frame = posed_->problem.axle[a];
        frame.ground = {ground[2 * a], ground[2 * a + 1]};
        const auto pair = wheels(frame, own(own_q, static_cast<int>(a)));
        out[2 * a] = pair[0].load;
        out[2 * a + 1] = pair[1].load;
    }
    return out;
}

State settle(const Car& car, const Situation& situation, const State* start) {
    ++solves;
    check(car);
    const Problem p = pose(car, situation);
    State out;
    if (start) out.q = start->q;
    if (p.stiff) out.q[3] = out.q[2];
    Whole at = evaluate(p, out.q);
    int stuck = 0; // line searches in a row that found next to no way down: further ones find none either
    for (int iteration = 0; iteration < 200 && stuck < 3; ++iteration) {
        out.residual = residual(p, at);
        if (out.residual < 1e-10) break;
        Vector8 step = newton_step(at);
        const double largest = step.cwiseAbs().maxCoeff();
        if (largest > 0.3) step *= 0.3 / largest; // no further than the model is smooth
        const double slope = at.gradient.dot(step);
        double length = 1;
        Whole next;
        int halving = 0;
        for (; halving < 24; ++halving, length /= 2) {
            next = evaluate(p, step_by(p, out.q, step, length));
            if (next.value <= at.value + 1e-4 * length * slope || residual(p, next) < 0.5 * out.residual) break;
        }
        stuck = halving > 12 ? stuck + 1 : 0;
        out.q = step_by(p, out.q, step, length);
        at = next;
        if (length * largest < 1e-15) break;
    }
    out.residual = residual(p, at);
    out.converged = out.residual < 1e-6 && std::abs(out.q[2]) < 1.2 && std::abs(out.q[1]) < 1.2;
    set_wheels(out, p);
    return out;
}

std::optional<Light> settle_light(const Car& car, const std::function<Situation(double)>& path, int wheel, double load,
                                  double at, const State& start) {
    ++solves;
    check(car);
    const auto posed = [&](double place) {
        Situation there = path(place);
        there.held = wheel;
        return pose(car, there);
    };
    const std::size_t a = static_cast<std::size_t>(wheel / 2), side = static_cast<std::size_t>(wheel % 2);
    const auto above = [&](const Problem& p, const Vector8& q) {
        return wheels(p.axle[a], own(q, static_cast<int>(a)))[side].load - load;
    };
    constexpr double bit = 1e-6; // of the path, for its slope
    Light out{at, 0, {}};
    out.state.q = start.q;
    for (int iteration = 0; iteration < 12; ++iteration) {
        const Problem here = posed(out.at), further = posed(out.at + bit);
        const Whole now = evaluate(here, out.state.q);
        const Eigen::LLT<Matrix8> factor(now.hessian);
        if (factor.info() != Eigen::Success) return {};
        out.state.residual = residual(here, now);
        const Vector8 step = -factor.solve(now.gradient);
        const Vector8 further_on = gradient(further, out.state.q, energies(further, out.state.q, false));
        const Vector8 along = -factor.solve(further_on - now.gradient) / bit;
        if (step.cwiseAbs().maxCoeff() > 0.3) return {};
        const Vector8 there = step_by(here, out.state.q, step, 1);
        const double above_there = above(here, there);
        out.slope = (above(further, step_by(here, there, along, bit)) - above_there) / bit;
        if (!(out.slope < 0)) return {};
        const double on = -above_there / out.slope;
        if (std::abs(out.at + on - at) > 0.2) return {};
        if (out.state.residual < 1e-10 && std::abs(on) < 1e-9) {
            set_wheels(out.state, here);
            out.state.wheels[static_cast<std::size_t>(wheel)].load = load;
            out.state.converged = true;
            return out;
        }
        out.at += on;
        out.state.q = step_by(here, there, along, on);
    }
    return {};
}

struct Nearby::Axles {
    Car car; ///< that the frames point to
    PerAxle<AxleFrame> frame;
    PerAxle<KnownBar> bar;
    PerAxle<AxleEnergy> energy;

    bool as_known(AxleFrame f, std::size_t a) const {
        const Axle& axle = *f.axle;
        f.axle = frame[a].axle;
        return f == frame[a] && axle == *frame[a].axle;
    }
};

Nearby::Nearby(const Car& car, const Situation& situation, const State& settled) : settled_(settled) {
    ++solves;
    const auto axles = std::make_shared<Axles>();
    axles->car = car;
    Problem p = pose(axles->car, situation);
    for (int a = 0; a < 2; ++a) {
        axles->bar[a] = known_bar(p.axle[a], own(settled.q, a));
        p.axle[a].known_bar = &axles->bar[a];
    }
    axles->frame = p.axle;
    axles->energy = energies(p, settled.q);
    const Eigen::LLT<Matrix8> factor(evaluate(p, settled.q, axles->energy).hessian);
    stands_ = settled.converged && factor.info() == Eigen::Success;
    compliance_ = factor.solve(Matrix8::Identity());
    set_wheels(settled_, p);
    axles_ = axles;
}

Vector8 Nearby::unknowns(const Car& other, const Situation& there) const {
    check(other);
    Problem p = pose(other, there);
    PerAxle<AxleEnergy> energy;
    for (int a = 0; a < 2; ++a) {
        p.axle[a].known_bar = &axles_->bar[a];
        energy[a] =
            axles_->as_known(p.axle[a], a) ? axles_->energy[a] : car::energy(p.axle[a], own(settled_.q, a), false);
    }
    return step_by(p, settled_.q, -(compliance_ * gradient(p, settled_.q, energy)), 1);
}

State Nearby::of(const Car& other, const Situation& there, double times) const {
    return at(unknowns(other, there), other, there, times);
}

State Nearby::at(const Vector8& q, const Car& other, const Situation& there, double times) const {
    State out;
    out.q = q;
    set_wheels(out, pose(other, there));
    out.converged = stands_ && (q - settled_.q).cwiseAbs().maxCoeff() < 0.3;
    const auto keeps_its_side = [&](double here, double now) { return times * std::abs(now - here) < std::abs(here); };
    for (std::size_t w = 0; w < 4; ++w) {
        const Wheel &here = settled_.wheels[w], &now = out.wheels[w];
        const double rate = other[end_of(static_cast<int>(w))].tyre_rate;
        const auto held = static_cast<int>(w) == there.held;
        out.converged =
            out.converged && keeps_its_side(here.room_bump, now.room_bump) &&
            keeps_its_side(here.room_droop, now.room_droop) &&
            (axles_->car[end_of(static_cast<int>(w))].captive_springs || keeps_its_side(here.spring, now.spring)) &&
            (held || keeps_its_side(here.load - rate * here.gap, now.load - rate * now.gap));
    }
    return out;
}

} // namespace dervish::car
