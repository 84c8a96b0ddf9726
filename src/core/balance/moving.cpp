#include "core/balance/moving.h"

#include "core/balance/ride.h"
#include "core/num/root.h"

#include <algorithm>
#include <cmath>

namespace dervish::balance {
namespace {
constexpr double slowest = 1; // m/s: slips are over the speed

/// Of a wheel that hangs in the air a tenth of its tyre's own remains, so that the deflection dies away at a pace that
/// can be followed.
double moving_lag(const Tyre& tyre, const Surface& ground, double load) {
    return std::max(0.1 * tyre.relaxation, relaxation_at(tyre, ground, load));
}

/// Moments about the body's centre of mass of a side force at a height, on the two ends of the body.
PerAxle<double> wind_moments(const Inputs& in, double height, double wheelbase) {
    const double rear = -in.wind_x / wheelbase, moment = in.wind * (in.wind_height - height);
    return {(1 - rear) * moment, rear * moment};
}
} // namespace

Moving::Moving(const Model& m)
    : model_(m), still_(car::settle(m.car, {})), motion_(car::small_motion(m.car, {}, still_)), forces_(m.car) {
    const car::Loaded l = car::loaded(m.car);
    height_ = l.z;
    mass_ = l.mass;
    const Masses masses = masses_of(m, motion_);
    frame_damping_ = masses.frame_damping;
    bush_damping_ = masses.bush_damping;
    Eigen::Matrix<double, 10, 10> inertia = Eigen::Matrix<double, 10, 10>::Zero();
    inertia.topLeftCorner<8, 8>() = masses.mass;
    if (motion_.count == 7) inertia(7, 7) = 1;
    ahead_ = {-l.x, -l.x - m.car.wheelbase};
    double whole = l.mass, first = 0; // and its moment about the body's centre
    for (std::size_t e = 0; e < 2; ++e) {
        whole += m.car[both_ends[e]].unsprung_mass;
        first += m.car[both_ends[e]].unsprung_mass * ahead_[e];
    }
    const double centre = first / whole;
    // The body's own yaw inertia; at least a tenth of that of a body with its mass over the axles.
    double own_yaw = m.yaw_inertia - l.mass * centre * centre;
    for (std::size_t e = 0; e < 2; ++e)
        own_yaw -= m.car[both_ends[e]].unsprung_mass * (ahead_[e] - centre) * (ahead_[e] - centre);
    own_yaw = std::max(own_yaw, -0.1 * l.mass * ahead_[0] * ahead_[1]);
    inertia(8, 8) = l.mass;
    inertia(9, 9) = own_yaw;
    for (std::size_t e = 0; e < 2; ++e) {
        const car::Axle& axle = m.car[both_ends[e]];
        const auto w = static_cast<Eigen::Index>(2 * e);
        const Vector8 tilt = (motion_.contact.col(w) - motion_.contact.col(w + 1)) / axle.track;
        shift_[e] = -axle.roll_centre_height * tilt;
        shift_[e][e == 0 ? 2 : motion_.rear_roll] -= height_ - axle.roll_centre_height;
        // Sideways place of the axle's own mass against the body's centre, by the unknowns, that centre and yaw.
        Eigen::Matrix<double, 10, 1> moves;
        moves << -shift_[e] - axle.unsprung_height * tilt, 1, ahead_[e];
        inertia += axle.unsprung_mass * moves * moves.transpose();
        mass_ += axle.unsprung_mass;
    }
    inverse_inertia_ = inertia.inverse();
}

PerAxle<double> Moving::turned(const PerAxle<double>& roll, const PerAxle<double>& side) const {
    PerAxle<double> out;
    for (std::size_t e = 0; e < 2; ++e) {
        const AxleGrip& a = model_.axle[e];
        out[e] = a.roll_steer * roll[e] + (a.side_steer + a.trail_steer) * side[e];
    }
    return out;
}

Instant Moving::now(const MotionState& q, const Inputs& in) const {
    Instant out;
    const Vector8 place = Eigen::Map<const Vector8>(q.data() + at_body),
                  rate = Eigen::Map<const Vector8>(q.data() + at_rate);
    const double speed = std::max(slowest, q[at_speed]);
    out.load = forces_.loads(place, in.ground);
    const PerAxle<double> roll = end_roll(q);
    PerWheel<WheelLoad> load;
    PerWheel<Surface> ground;
    PerWheel<double> camber, into;
    for (std::size_t w = 0; w < 4; ++w) {
        const Surface &own = model_.surface, &here = in.surface[w];
        ground[w] = {own.grip * here.grip, own.stiffness * here.stiffness, own.fall * here.fall};
        load[w] = {out.load[w], model_.swing[w]};
        const Tyre& tyre = model_.axle[w / 2].tyre[w % 2];
        out.contact[w] = q[at_deflection + w] * tyre.relaxation / moving_lag(tyre, ground[w], out.load[w]);
        camber[w] = camber_at(model_.axle[w / 2], roll[w / 2])[w % 2];
        into[w] = out.contact[w] < 0 ? -camber[w] : camber[w];
    }
    const Along along = balance::along(model_, in.along, load, into);
    out.along = along.force;
    PerAxle<double> side{};
    for (std::size_t w = 0; w < 4; ++w) {
        const Tyre& tyre = model_.axle[w / 2].tyre[w % 2];
        out.side[w] = lateral_force(tyre, ground[w], load[w], out.contact[w], camber[w], out.along[w]);
        const double most = peak_force(tyre, ground[w], load[w], into[w]);
        out.used[w] = most > 0 ? std::min(1.0, std::hypot(out.side[w], out.along[w]) / most) : 1;
        side[w / 2] += out.side[w];
    }
    const PerAxle<double> turned = this->turned(roll, side);
    double turning = 0;
    for (std::size_t e = 0; e < 2; ++e) {
        const double across = q[at_slide] + ahead_[e] * q[at_yaw] - shift_[e].dot(rate);
        out.slip[e] = (e == 0 ? in.steer - turned[e] : turned[e]) - across / speed;
        turning += (out.along[2 * e + 1] - out.along[2 * e]) * model_.car[both_ends[e]].track / 2;
    }
    Eigen::Matrix<double, 10, 1> pushed = Eigen::Matrix<double, 10, 1>::Zero();
    pushed.head<8>() = forces_.force(place, side, in.along, in.ground);
    const PerAxle<double> wind = wind_moments(in, height_, model_.car.wheelbase);
    double sum = 0;
    for (std::size_t e = 0; e < 2; ++e) {
        const AxleGrip& a = model_.axle[e];
        pushed[e == 0 ? 2 : motion_.rear_roll] += wind[e];
        pushed[8] += side[e];
        pushed[9] += ahead_[e] * side[e];
        sum += side[e];
        for (Eigen::Index w = static_cast<Eigen::Index>(2 * e); w < static_cast<Eigen::Index>(2 * e) + 2; ++w) {
            const double bump = motion_.spring.col(w).dot(rate);
            pushed.head<8>() -= (bump > 0 ? a.bump_damping : a.rebound_damping) * bump * motion_.spring.col(w);
        }
        const auto left = static_cast<Eigen::Index>(2 * e);
        const Vector8 opposed = motion_.spring.col(left) - motion_.spring.col(left + 1);
        pushed.head<8>() -= bush_damping_[e] * opposed.dot(rate) * opposed;
    }
    const double twist = frame_damping_ * (rate[2] - rate[motion_.rear_roll]);
    pushed[2] -= twist;
    pushed[motion_.rear_roll] += twist;
    pushed[8] -= in.wind;
    pushed[9] += turning - in.wind * (in.wind_x + ahead_[0]);
    const Eigen::Matrix<double, 10, 1> follows = inverse_inertia_ * pushed;
    out.body = follows.head<8>();
    out.across = follows[8];
    out.yaw = follows[9];
    out.lateral = (sum - in.wind) / mass_;
    out.forward = 0;
    if (in.along != 0) {
        for (const double f : out.along) out.forward += f / mass_;
    }
    return out;
}

bool Moving::slides(End end, const Instant& now, const MotionState& q) const {
    const AxleGrip& a = model_.axle[end];
    const auto camber = camber_at(a, end_roll(q)[end]);
    const auto force = [&](double part) {
        double out = 0;
        for (std::size_t side = 0; side < 2; ++side) {
            const std::size_t w = wheel_at(end, side);
            out += lateral_force(a.tyre[side], model_.surface, WheelLoad{now.load[w], model_.swing[w]},
                                 part * now.contact[w], camber[side], now.along[w]);
        }
        return std::abs(out);
    };
    return force(0.95) > force(1);
}

MotionState Moving::rate(const MotionState& q, const Instant& at) const {
    MotionState dq;
    const double speed = std::max(slowest, q[at_speed]);
    for (std::size_t i = 0; i < 8; ++i) {
        dq[at_body + i] = q[at_rate + i];
        dq[at_rate + i] = at.body[static_cast<Eigen::Index>(i)];
    }
    dq[at_slide] = at.across - q[at_speed] * q[at_yaw];
    dq[at_yaw] = at.yaw;
    dq[at_speed] = at.forward;
    for (std::size_t w = 0; w < 4; ++w)
        dq[at_deflection + w] = speed * (at.slip[w / 2] - at.contact[w]) / model_.axle[w / 2].tyre[w % 2].relaxation;
    dq[at_x] = q[at_speed] * std::cos(q[at_heading]) - q[at_slide] * std::sin(q[at_heading]);
    dq[at_y] = q[at_speed] * std::sin(q[at_heading]) + q[at_slide] * std::cos(q[at_heading]);
    dq[at_heading] = q[at_yaw];
    return dq;
}

/// `slip`: towards y.
MotionState Moving::steady(const car::State& s, double lateral, const PerAxle<double>& slip, double speed,
                           double& steer, const PerWheel<double>& along) const {
    MotionState q{};
    Eigen::Map<Vector8>(q.data() + at_body) = forces_.place_of(s);
    q[at_speed] = speed;
    q[at_yaw] = lateral / speed;
    PerAxle<double> side{};
    for (std::size_t w = 0; w < 4; ++w) {
        const std::size_t e = w / 2;
        const Tyre& tyre = model_.axle[e].tyre[w % 2];
        q[at_deflection + w] = slip[e] * moving_lag(tyre, model_.surface, s.wheels[w].load) / tyre.relaxation;
        side[e] += lateral_force(tyre, model_.surface, WheelLoad{s.wheels[w].load, model_.swing[w]}, slip[e],
                                 camber_at(model_.axle[e], s.roll[e])[w % 2], along[w]);
    }
    const PerAxle<double> turned = this->turned(s.roll, side);
    q[at_slide] = (turned.rear - slip.rear) * speed - ahead_.rear * q[at_yaw];
    steer = slip.front + turned.front + (q[at_slide] + ahead_.front * q[at_yaw]) / speed;
    return q;
}

MotionState Moving::steady(const Corner& c, double speed, double& steer, const PerAxle<double>& more) const {
    const double way = c.lateral < 0 ? -1 : 1;
    return steady(c.state, c.lateral, {way * more.front * c.slip.front, way * more.rear * c.slip.rear}, speed, steer,
                  c.along);
}

std::optional<MotionState> Moving::steady_in_wind(Inputs& in, double speed) const {
    const car::State s =
        car::settle(model_.car, {.wind_force = in.wind, .wind_height = in.wind_height, .wind_x = in.wind_x});
    if (!s.converged) return {};
    const double rear = -in.wind_x / model_.car.wheelbase;
    const PerAxle<double> need{(1 - rear) * in.wind, rear * in.wind};
    PerAxle<double> slip;
    for (std::size_t e = 0; e < 2; ++e) {
        const auto off = [&](double at) {
            double out = -need[e];
            for (std::size_t w = 2 * e; w < 2 * e + 2; ++w)
                out += lateral_force(model_.axle[e].tyre[w % 2], model_.surface,
                                     WheelLoad{s.wheels[w].load, model_.swing[w]}, at,
                                     camber_at(model_.axle[e], s.roll[e])[w % 2]);
            return out;
        };
        constexpr double widest = 0.25; // rad: about where tyres give their most
        const double low = off(-widest), high = off(widest);
        if (!(low < 0 && high > 0)) return {};
        slip[e] = root_between(off, -widest, widest, low, high, 1e-12);
    }
    return steady(s, 0, slip, speed, in.steer, {});
}

} // namespace dervish::balance
