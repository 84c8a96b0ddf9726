#pragma once
#include "core/bad_input.h"
#include "core/car/car.h"
#include "core/job/measured.h"
#include "core/proof/ramp_test.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

/// The document: one car, what is fitted to it, what is tried, what was tested and why.
namespace dervish::job {

/// An axle as measured; rates and gaps at the wheel (independent) or per spring (solid).
struct AxleData {
    car::AxleKind kind = car::AxleKind::Independent;
    Measured track, unsprung_mass, unsprung_height, tyre_rate, spring_rate, spring_base, bar_base, motion_ratio;
    Measured bump_gap, bump_k1, bump_k3, droop_gap, droop_k, roll_centre_height, parasitic_roll_stiffness;
    bool operator==(const AxleData&) const = default;
};

struct Load {
    std::string name;
    bool aboard = true;
    Measured mass, behind_front_axle, left, height;
    bool operator==(const Load&) const = default;
};

/// The car as weighed on its four wheels, without the loads listed.
struct Vehicle {
    std::string name;
    Measured wheelbase, front_left_load, front_right_load, rear_left_load, rear_right_load, cg_height, chassis_torsion;
    AxleData front, rear;
    std::vector<Load> loads;
    bool operator==(const Vehicle&) const = default;
};

struct Eye {
    Measured arm_length; ///< square to the bar's axis
    bool operator==(const Eye&) const = default;
};

struct BarData {
    std::string name;
    Measured outer_diameter, wall, centre_length, arm_end, splay, drop, bend_radius;
    Measured kink_outer, kink_inner, kink_forward, kink_up;
    std::vector<Eye> eyes; ///< outermost first, the same on both arms
    Measured youngs_modulus, shear_modulus, density, yield_strength;
    bool operator==(const BarData&) const = default;
};

struct MountData {
    Measured spacing, vertical, fore_aft, axial, torsional, bracket;
    bool operator==(const MountData&) const = default;
};

struct LinkData {
    Measured length, body, joint;
    bool operator==(const LinkData&) const = default;
};

/// A bar with what holds it and what it pulls on: what is bought, fitted, or lies on the shelf.
struct Assembly {
    bool fitted = false;
    bool connected = true;
    BarData bar;
    MountData mounts;
    LinkData links;
    int left_eye = 0, right_eye = 0;
    bool operator==(const Assembly&) const = default;
};

struct Setup {
    std::string name;
    Assembly front, rear;
    bool operator==(const Setup&) const = default;
};

struct PlannedTest {
    std::string name, date;
    Setup as_fitted;
    std::vector<std::string> aboard;
    proof::RampTest ramp;
    bool operator==(const PlannedTest&) const = default;
};

/// A line of the book: what was fitted or found, when and why.
struct Entry {
    std::string date, kind, reason;
    double odometer = 0; ///< m driven
    Setup setup;
    bool operator==(const Entry&) const = default;
};

struct Job {
    std::string name, complaint;
    Vehicle vehicle;
    Setup fitted, trial;
    std::vector<Setup> kept; ///< other setups worth keeping, by name
    std::vector<Assembly> shelf;
    std::vector<PlannedTest> tests;
    std::vector<Entry> book;
    /// Typed but not usable yet, by field path: kept with the job so that nothing typed is lost.
    std::map<std::string, std::string> drafts;
    bool operator==(const Job&) const = default;
};

/// "fitted", "trial" or a kept setup's name; throws BadInput at "setup".
const Setup& setup_named(const Job& job, const std::string& name);

/// An empty job that computes: a plain car and bars of assumed sizes, everything marked assumed.
Job blank();

} // namespace dervish::job
