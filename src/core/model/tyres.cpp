#include "core/model/tyres.h"
#include "core/balance/ride.h"
#include "core/model/stand.h"

#include <cmath>

namespace dervish::model {

namespace {
/// `mean`: load of a tyre of the whole car as weighed, `own`: of a wheel of this axle, N. What the car carries changes
/// neither. `grip`: a factor on both sides'.
balance::AxleGrip to_grip(const AxleData& a, const AxleSetup& s, double mean, double own, double grip) {
    const TyreData& g = s.tyres;
    const StandData& stand = s.stand;
    const WheelData& w = a.wheels;
    balance::AxleGrip out;
    for (std::size_t side = 0; side < 2; ++side) {
        balance::Tyre& t = out.tyre[side];
        // A pair at half of the load each: the same share of twice the nominal one.
        t.nominal_load = tyres_a_side(a) * (g.nominal_load.value > 0 ? g.nominal_load.value : mean);
        t.grip = grip * g.grip.value * (side == 0 ? stand.left_grip.value : 1);
        t.grip_fall = g.grip_fall.value;
        t.stiffness = g.stiffness.value;
        t.stiffness_load = g.stiffness_load.value;
        t.camber_thrust = g.camber_thrust.value;
        t.camber_loss = g.camber_loss.value;
        t.best_camber = -g.best_camber.value;
        t.relaxation = g.relaxation.value;
        t.best_pressure = g.best_pressure.value;
        t.pressure_loss = g.pressure_loss.value;
        t.pressure = stand.pressure.value * (side == 0 ? stand.left_pressure.value : 1);
    }
    out.camber = stand.camber.value;
    out.camber_kept = a.kind == AxleKind::Solid ? 1 : w.camber_kept.value;
    out.roll_steer = w.roll_steer.value;
    out.side_steer = w.side_steer.value;
    out.trail_steer = w.trail_steer.value;
    const double usual = 0.25 * 2 * std::sqrt(s.springs.rate.value * own / units::g);
    out.bump_damping = s.dampers.bump_damping.value > 0 ? s.dampers.bump_damping.value : 0.7 * usual;
    out.rebound_damping = s.dampers.rebound_damping.value > 0 ? s.dampers.rebound_damping.value : 1.3 * usual;
    const ByClicks clicks = by_clicks(s);
    out.bump_damping *= clicks.bump;
    out.rebound_damping *= clicks.rebound;
    return out;
}
} // namespace

balance::Surface surface_of(const GroundData& ground) {
    return {ground.grip.value, ground.stiffness.value, ground.fall.value};
}

balance::Surface wet_patch(const PerGround<GroundData>& grounds, Ground on) {
    const balance::Surface wet = surface_of(grounds[Ground::Wet]), from = surface_of(grounds[on]);
    return {std::min(1.0, wet.grip / from.grip), std::min(1.0, wet.stiffness / from.stiffness),
            std::max(1.0, wet.fall / from.fall)};
}

balance::Road road_of(const GroundData& g) {
    return {1e-6 * g.roughness.value, g.speed.value,         balance::Sides::Isotropic,
            g.ripple.value,           g.ripple_length.value, g.ripple_alike.value};
}

balance::Model to_model(const Vehicle& v, const Setup& setup, const car::Car& as_built, Ground ground) {
    balance::Model out;
    out.car = as_built;
    const car::State still = car::settle(out.car, {});
    const car::Loaded l = car::loaded(out.car);
    const std::array weighed{units::g * (v.front_left_load.value + v.front_right_load.value),
                             units::g * (v.rear_left_load.value + v.rear_right_load.value)};
    const PerAxle<double> rises = car::rises(out.car, still);
    for (const End end : both_ends) {
        const std::size_t e = index(end);
        const double tyres = 2 * (tyres_a_side(v.front) + tyres_a_side(v.rear));
        out.axle[e] = to_grip(v[end], setup[end], (weighed[0] + weighed[1]) / tyres, weighed[e] / 2,
                              end == End::Rear ? v.handling.rear_grip.value : 1);
        out.axle[e].camber += v[end].wheels.camber_moves.value * (rises[e] + raised(setup[end].stand).body) / 0.1;
        out.differential[e] = setup[end].stand.differential;
    }
    out.surface = surface_of(v.grounds[ground]);
    out.road = road_of(v.grounds[ground]);
    const double front = l.share[0] + out.car.front.unsprung_mass, rear = l.share[1] + out.car.rear.unsprung_mass,
                 mass = front + rear, length = out.car.wheelbase;
    const HandlingData& h = v.handling;
    out.bush_loss = bush_loss;
    out.yaw_inertia = h.yaw_inertia.value > 0 ? h.yaw_inertia.value : length * length * front * rear / mass;
    const double track = (out.car.front.track + out.car.rear.track) / 2,
                 arm = l.z - (out.car.front.roll_centre_height + out.car.rear.roll_centre_height) / 2;
    out.roll_inertia = h.roll_inertia.value > 0 ? h.roll_inertia.value
                                                : l.mass * (std::pow(h.roll_radius.value * track, 2) + arm * arm);
    // Of a body as long as its axles are apart, and of an axle whose mass is mostly in its ends.
    const double behind = -l.x;
    out.pitch_inertia = h.pitch_inertia.value > 0 ? h.pitch_inertia.value : l.mass * behind * (length - behind);
    for (const End end : both_ends)
        if (const car::Axle& axle = out.car[end]; axle.kind == AxleKind::Solid)
            out.axle_inertia[end] =
                v[end].inertia.value > 0 ? v[end].inertia.value : 0.15 * axle.unsprung_mass * axle.track * axle.track;
    out.drive = h.driven == Driven::Front  ? PerAxle<double>{1, 0}
                : h.driven == Driven::Rear ? PerAxle<double>{0, 1}
                                           : PerAxle<double>{0.5, 0.5};
    out.bias_ratio = setup.bias_ratio.value;
    out.front_braking = h.front_braking.value;
    out.braking = h.braking.value * units::g;
    out.pull = h.pull.value * units::g;
    if (!out.road.plane()) out.swing = balance::Shaken(out, {}, still).on(out.road).swing;
    return out;
}

} // namespace dervish::model
