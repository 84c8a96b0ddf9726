#include "core/job/parts.h"

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

} // namespace dervish::job
