#include "core/job/job.h"
#include "core/job/usual.h"

#include <cmath>

namespace dervish::job {

const Setup& setup_named(const Job& job, const std::string& name) {
    if (name == "fitted") return job.fitted;
    if (name == "trial") return job.trial;
    std::string known = "fitted, trial";
    for (const Setup& s : job.kept) {
        if (s.name == name) return s;
        known += ", " + s.name;
    }
    throw BadInput("setup", "\"" + name + "\" is not in this job", "give one of: " + known);
}

namespace {
Measured assumed(double value, double share = 0.15) { return {value, share * std::abs(value), Source::Assumed}; }

AxleData blank_axle(AxleKind kind) {
    using units::mm, units::N_per_mm;
    AxleData a;
    a.kind = kind;
    a.track = assumed(1500 * mm);
    a.unsprung_mass = assumed(90);
    a.unsprung_height = assumed(320 * mm);
    a.spring_base = assumed(1000 * mm);
    a.motion_ratio = assumed(0.7);
    a.bump_gap = assumed(80 * mm);
    a.bump_k1 = assumed(60 * N_per_mm);
    a.bump_k3 = assumed(3e7);
    a.roll_centre_height = assumed(80 * mm);
    a.parasitic_roll_stiffness = assumed(20 / units::deg);
    a.wheels = usual_movement(a);
    return a;
}

AxleSetup blank_setup(double diameter) {
    using units::mm, units::N_per_mm;
    AxleSetup a;
    a.fitted = true;
    a.bar.name = "bar as found";
    a.bar.outer_diameter = assumed(diameter);
    a.bar.centre_length = assumed(950 * mm);
    a.bar.arm_end = assumed(250 * mm);
    a.bar.eyes = {{assumed(240 * mm)}};
    a.bar.bend_radius = assumed(50 * mm);
    a.bar.youngs_modulus = assumed(206e9, 0.01);
    a.bar.shear_modulus = assumed(79.3e9, 0.01);
    a.bar.density = assumed(7850, 0.01);
    a.bar.yield_strength = assumed(1100e6);
    a.mounts.spacing = assumed(700 * mm);
    a.mounts.vertical = a.mounts.fore_aft = assumed(2500 * N_per_mm);
    a.mounts.axial = assumed(400 * N_per_mm);
    a.mounts.bracket = {std::numeric_limits<double>::infinity(), 0, Source::Assumed};
    a.mounts.rate_left = {1, 0, Source::Assumed};
    a.links.length = assumed(200 * mm);
    a.links.body = {std::numeric_limits<double>::infinity(), 0, Source::Assumed};
    a.links.joint = assumed(8000 * N_per_mm);
    a.trailing_arms = {assumed(300 * mm), assumed(450 * mm)};
    a.bar.arm_diameter = assumed(diameter);
    a.bar.blade_width = assumed(35 * mm);
    a.bar.blade_thickness = assumed(8 * mm);
    a.springs.rate = assumed(25 * N_per_mm);
    a.dampers.droop_gap = assumed(90 * mm);
    a.dampers.droop_k = assumed(500 * N_per_mm);
    a.tyres.rate = assumed(220 * N_per_mm);
    return a;
}
} // namespace

Job blank() {
    using units::mm;
    Job j;
    j.name = "New job";
    j.vehicle.name = "car";
    j.vehicle.wheelbase = assumed(2600 * mm);
    for (Measured* corner : {&j.vehicle.front_left_load, &j.vehicle.front_right_load, &j.vehicle.rear_left_load,
                             &j.vehicle.rear_right_load})
        *corner = assumed(350);
    j.vehicle.cg_height = assumed(580 * mm);
    j.vehicle.chassis_torsion = {std::numeric_limits<double>::infinity(), 0, Source::Assumed};
    j.vehicle.front = blank_axle(AxleKind::Independent);
    j.vehicle.rear = blank_axle(AxleKind::Independent);
    j.fitted.name = "as found";
    j.fitted.front = blank_setup(22 * mm);
    j.fitted.rear = blank_setup(18 * mm);

    j.trial = j.fitted;
    j.trial.name = "trial";
    j.standard = j.fitted; // sizes that can be, of bars that are not there
    j.standard.name = "standard";
    j.standard.front.fitted = j.standard.rear.fitted = false;
    name_parts(j);
    return j;
}

const char* name_of(CarKind kind) {
    static constexpr const char* names[] = {
        "small car",  "family car",    "light two-seater",        "van, camper",
        "off-roader", "single-seater", "four-wheeler with rider", "truck or bus, pairs at the rear",
        "1:10 model"};
    return names[static_cast<std::size_t>(kind)];
}

PerAxle<AxleKind> usual_suspension(CarKind kind) {
    const auto solid = [](bool is) { return is ? AxleKind::Solid : AxleKind::Independent; };
    return {solid(kind == CarKind::OffRoad || kind == CarKind::Truck),
            solid(kind == CarKind::Van || kind == CarKind::OffRoad || kind == CarKind::Truck)};
}

Driven usual_drive(CarKind kind) {
    const bool all = kind == CarKind::OffRoad || kind == CarKind::FourWheeler || kind == CarKind::Model;
    return all ? Driven::All : kind == CarKind::Small || kind == CarKind::Family ? Driven::Front : Driven::Rear;
}

namespace {
/// Guesses of a kind of car, m, kg, N/mm at the wheel or per spring. Round figures of our own.
struct OfKind {
    double wheelbase, track, mass, on_front, cg_height, unsprung, hub, front_spring, rear_spring, tyre, roll_centre,
        bump, droop, front_bar, rear_bar;
};
constexpr OfKind guesses[] = {
    {2.45, 1.45, 1050, 0.62, 0.53, 70, 0.29, 20, 19, 190, 0.06, 0.08, 0.09, 0.020, 0.017},
    {2.70, 1.55, 1500, 0.57, 0.56, 85, 0.315, 25, 25, 220, 0.07, 0.08, 0.09, 0.023, 0.019},
    {2.35, 1.46, 1000, 0.50, 0.46, 65, 0.30, 24, 22, 200, 0.05, 0.07, 0.08, 0.020, 0.014},
    {3.00, 1.60, 2000, 0.55, 0.75, 110, 0.34, 38, 40, 260, 0.10, 0.09, 0.10, 0.025, 0.020},
    {2.60, 1.50, 1900, 0.52, 0.72, 140, 0.38, 26, 30, 230, 0.10, 0.10, 0.12, 0.026, 0.018},
    {2.50, 1.35, 520, 0.44, 0.32, 45, 0.28, 35, 45, 180, 0.03, 0.04, 0.04, 0.018, 0.016},
    {1.25, 0.95, 280, 0.50, 0.42, 26, 0.29, 10, 12, 55, 0.14, 0.12, 0.10, 0.016, 0.016},
    {5.00, 2.05, 12000, 0.40, 1.20, 450, 0.50, 165, 240, 900, 0.50, 0.09, 0.10, 0.045, 0.045},
    {0.26, 0.17, 1.7, 0.49, 0.034, 0.14, 0.033, 0.25, 0.25, 4, 0.006, 0.007, 0.005, 0.0014, 0.0014},
};

/// What a kind says nothing of is a plain car's, scaled: lengths by the track, rates by the mass over the length, so
/// that it bends and gives in the same proportion.
void scale(AxleData& a, AxleSetup& s, double length, double mass) {
    const double rate = mass / length;
    for (Measured* m : {&s.bar.arm_end, &s.bar.bend_radius, &s.links.length, &s.trailing_arms.to_wheel,
                        &s.trailing_arms.to_bar, &s.bar.blade_width, &s.bar.blade_thickness})
        *m = {units::as_filed(length * m->value, units::Quantity::Length), length * m->sigma, m->source};
    for (Eye& eye : s.bar.eyes)
        eye.arm_length = {units::as_filed(length * eye.arm_length.value, units::Quantity::Length),
                          length * eye.arm_length.sigma, eye.arm_length.source};
    for (Measured* m :
         {&s.mounts.vertical, &s.mounts.fore_aft, &s.mounts.axial, &s.links.joint, &s.dampers.droop_k, &a.bump_k1})
        *m = {units::as_filed(rate * m->value, units::Quantity::Rate), rate * m->sigma, m->source};
    const double rise = rate / (length * length);
    a.bump_k3 = {rise * a.bump_k3.value, rise * a.bump_k3.sigma, a.bump_k3.source};
    const double roll = rate * length * length;
    a.parasitic_roll_stiffness = {roll * a.parasitic_roll_stiffness.value, roll * a.parasitic_roll_stiffness.sigma,
                                  a.parasitic_roll_stiffness.source};
}
} // namespace

Job new_car(const NewCar& asked) {
    using units::N_per_mm;
    const OfKind& g = guesses[static_cast<std::size_t>(asked.kind)];
    Job j = blank();
    j.name = asked.name;
    Vehicle& v = j.vehicle;
    v.wheelbase = assumed(g.wheelbase);
    v.front_left_load = v.front_right_load = assumed(g.on_front * g.mass / 2);
    v.rear_left_load = v.rear_right_load = assumed((1 - g.on_front) * g.mass / 2);
    v.cg_height = assumed(g.cg_height);
    v.handling.driven = asked.driven;
    if (asked.kind == CarKind::SingleSeater) v.use.use = Use::RaceSmooth;
    if (asked.kind == CarKind::Model) {
        v.use.use = Use::Model;
        // As much slower as it falls sooner: by the root of its size.
        for (GroundData& ground : v.grounds)
            ground.speed.value =
                units::as_filed(std::sqrt(size_of(g.track)) * ground.speed.value, units::Quantity::Speed);
    }
    if (asked.kind == CarKind::FourWheeler) {
        v.use.use = Use::Trail;
        v.loads.push_back(
            {"load-1", "rider", assumed(80), assumed(0.7), {0, 0.05, Source::Assumed}, assumed(0.95, 0.1)});
        j.fitted.aboard = {"load-1"};
    }
    for (const End end : both_ends) {
        const bool solid = asked.suspension[end] == AxleKind::Solid;
        AxleData& a = v[end];
        AxleSetup& s = j.fitted[end];
        if (const double size = size_of(g.track); size != 1) scale(a, s, size, g.mass / 1400);
        a.kind = asked.suspension[end];
        a.track = assumed(g.track);
        a.wheels = usual_movement(a);
        a.unsprung_mass = assumed(solid ? 1.5 * g.unsprung : g.unsprung);
        a.unsprung_height = assumed(g.hub);
        a.spring_base = assumed(0.72 * g.track);
        a.bump_gap = assumed(g.bump);
        // A solid axle's is about where its links or leaves hold it: the hubs.
        if (solid) // leaves or links that twist
            a.parasitic_roll_stiffness = assumed(4 * a.parasitic_roll_stiffness.value, 0.5);
        if (asked.kind == CarKind::Truck && end == End::Rear) {
            a.wheels_a_side = WheelsASide::Two;
            a.track = assumed(0.9 * g.track);
            a.wheels = usual_movement(a);
            a.unsprung_mass = assumed(1.5 * a.unsprung_mass.value);
        }
        a.roll_centre_height = solid ? assumed(g.hub, 0.3) : assumed(g.roll_centre, 1);
        s.fitted = s.connected = asked.bar[end];
        s.bar.outer_diameter = s.bar.arm_diameter = assumed(end == End::Front ? g.front_bar : g.rear_bar);
        s.bar.centre_length = assumed(0.63 * g.track);
        s.mounts.spacing = assumed(0.47 * g.track);
        s.springs.rate = assumed((end == End::Front ? g.front_spring : g.rear_spring) * N_per_mm, 0.25);
        s.dampers.droop_gap = assumed(g.droop);
        s.tyres.rate = assumed(g.tyre * N_per_mm);
    }
    const std::string trial = j.trial.name;
    j.trial = j.fitted;
    j.trial.name = trial;
    j.standard = j.fitted;
    j.standard.name = "standard";
    j.standard.front.fitted = j.standard.rear.fitted = false;
    name_parts(j);
    return j;
}

bool nothing_tried(const Job& job) {
    Setup trial = job.trial;
    trial.name = job.fitted.name;
    return trial == job.fitted;
}

} // namespace dervish::job
