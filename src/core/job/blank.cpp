#include "core/job/job.h"

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
    static constexpr const char* names[] = {"small car",   "family car", "light two-seater",
                                            "van, camper", "off-roader", "single-seater"};
    return names[static_cast<std::size_t>(kind)];
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
};
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
    for (const End end : both_ends) {
        const bool solid = asked.suspension[end] == AxleKind::Solid;
        AxleData& a = v[end];
        a.kind = asked.suspension[end];
        a.track = assumed(g.track);
        a.unsprung_mass = assumed(solid ? 1.5 * g.unsprung : g.unsprung);
        a.unsprung_height = assumed(g.hub);
        a.spring_base = assumed(0.72 * g.track);
        a.bump_gap = assumed(g.bump);
        // A solid axle's is about where its links or leaves hold it: the hubs.
        if (solid) a.parasitic_roll_stiffness = assumed(80 / units::deg, 0.5); // leaves or links that twist
        a.roll_centre_height = solid ? assumed(g.hub, 0.3) : assumed(g.roll_centre, 1);
        AxleSetup& s = j.fitted[end];
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
