#pragma once
#include "core/job/job.h"

#include <concepts>
#include <type_traits>

/// Each part of the job, described once: the job file, the window's fields and the uncertainty sum all walk these.
/// A visitor has field(Measured&, FieldSpec), text, texts, flag, choice, number, index, drafts, group(key, label, part)
/// and list(key, label, vector). Every describe works on const and non-const parts. What the present choices do not ask
/// for is passed by, but for a visitor with alternative(asked, fields): the file keeps it, so that a walk is not lost
/// because the bar's sizes are shown.
namespace dervish::job {

template <class T, class Part>
concept Is = std::same_as<std::remove_const_t<T>, Part>;

template <class V, class F> void where(V& v, bool asked, F&& fields) {
    if constexpr (requires { v.alternative(asked, fields); })
        v.alternative(asked, fields);
    else if (asked)
        fields();
}

namespace detail {
using enum units::Quantity;
using enum Tool;
inline constexpr double mm = units::mm, deg = units::deg;
inline constexpr double endless = std::numeric_limits<double>::infinity();
} // namespace detail

template <class V, Is<Spot> T> void describe(V& v, T& s) {
    using namespace detail;
    v.field(s.behind, {"behind", "Behind", Length, Tape, -2000 * mm, 2000 * mm, "the bar's axis; ahead is negative"});
    v.field(s.out, {"out", "Out", Length, Tape, -200 * mm, 2000 * mm, "from the car's middle"});
    v.field(s.below, {"below", "Below", Length, Tape, -1500 * mm, 1500 * mm, "the bar's axis; above is negative"});
}

template <class V, Is<PathPoint> T> void describe(V& v, T& p) {
    using namespace detail;
    v.field(p.travel,
            {"travel", "Wheel travel", Length, Tape, -1000 * mm, 1000 * mm, "from ride height, bump positive"});
    v.field(p.up, {"up", "Pick-up rises", Length, Tape, -1000 * mm, 1000 * mm, "from ride height"});
    v.field(p.out, {"out", "Moves out", Length, Tape, -500 * mm, 500 * mm, "from ride height", "none", 0});
    v.field(p.back, {"back", "Moves back", Length, Tape, -500 * mm, 500 * mm, "from ride height", "none", 0});
}

template <class V, Is<ObstacleData> T> void describe(V& v, T& o) {
    using namespace detail;
    v.text("name", "Part", o.name);
    v.choice("kind", "Shape", o.kind, {"part", "tube", "wheel"});
    v.choice("moves", "Moves with", o.moves, {"body", "wheel"});
    v.group("at", "At", o.at);
    v.field(o.radius, {"radius", "Radius", Length, Tape, 0, 1000 * mm, "of a part or tube; of the tyre"});
    v.field(o.keep, {"keep", "Keep clear", Length, Tape, 0, 200 * mm, "what must be left between"});
}

template <class V, Is<LinkageData> T> void describe(V& v, T& l) {
    using namespace detail;
    v.choice("path", "Pick-up moves", l.path, {"straight", "arm", "points"});
    where(v, l.path == PathKind::Arm, [&] {
        v.group("arm_front", "Arm's front", l.arm_front);
        v.group("arm_rear", "Arm's rear", l.arm_rear);
        v.group("ball_joint", "Outer joint", l.ball_joint);
    });
    where(v, l.path == PathKind::Points, [&] { v.list("points", "Points", l.points); });
    v.flag("steers", "Pick-up steers", l.steers);
    v.field(l.lock, {"lock", "Steering lock", Angle, AngleGauge, 0, 60 * deg, "of the wheels, each way", "none", 0});
    v.field(l.kingpin_behind, {"kingpin_behind", "Kingpin behind", Length, Tape, -2000 * mm, 2000 * mm,
                               "the bar's axis, at hub height; taken upright"});
    v.field(l.kingpin_out,
            {"kingpin_out", "Kingpin out", Length, Tape, 0, 2000 * mm, "from the car's middle, at hub height"});
    v.list("obstacles", "Keep clear of", l.obstacles);
}

template <class V, Is<GripData> T> void describe(V& v, T& g) {
    using namespace detail;
    v.field(g.nominal_load,
            {"nominal_load", "Tyre's nominal load", Force, Test, 0.1, 1e5,
             "that the figures below are at, as its rating says; \"mean\": of the four wheels as weighed", "mean", 0});
    v.field(g.grip, {"grip", "Peak grip", Number, Test, 0.1, 3, "side force over load, dry, at nominal load"});
    v.field(g.grip_fall,
            {"grip_fall", "Grip falls with load", Number, Test, 0, 0.8, "of the peak, per nominal load more"});
    v.field(g.stiffness, {"stiffness", "Cornering stiffness", Number, Test, 1, 80,
                          "the most of it over nominal load, per radian of slip"});
    v.field(g.stiffness_load, {"stiffness_load", "reached at", Number, Test, 0.3, 6, "times nominal load"});
    v.field(g.camber_thrust, {"camber_thrust", "Camber thrust", Number, Test, 0, 1, "slip angle that camber is worth"});
    v.field(g.camber_loss,
            {"camber_loss", "Grip lost to camber", Number, Test, 0, 50, "of the peak, per rad² off the best"});
    v.field(g.best_camber, {"best_camber", "Grips most at", Angle, AngleGauge, -10 * deg, 10 * deg,
                            "inclination to the road in the turn; leaning into it is negative, as camber outside is"});
    v.field(g.relaxation, {"relaxation", "Relaxation length", Length, Tape, 5 * mm, 3000 * mm,
                           "rolled until two thirds of the force"});
    v.field(g.pressure, {"pressure", "Pressure", Number, Test, 0.3, 2, "over the tyre's nominal one"});
    v.field(g.best_pressure, {"best_pressure", "Grips most at pressure", Number, Test, 0.3, 2, "over the nominal one"});
    v.field(g.pressure_loss, {"pressure_loss", "Grip lost to pressure", Number, Test, 0, 5,
                              "of the peak, per nominal pressure squared"});
    v.field(g.left_grip, {"left_grip", "Left tyre's grip", Number, Test, 0.3, 3, "over the right one's: unlike tyres"});
    v.field(g.left_pressure, {"left_pressure", "Left tyre's pressure", Number, Test, 0.3, 3, "over the right one's"});
    v.field(g.camber, {"camber", "Camber", Angle, AngleGauge, -15 * deg, 15 * deg, "top inwards is negative"});
    v.field(g.camber_kept, {"camber_kept", "Roll kept from wheels", Number, Test, -1, 1.5,
                            "0: they lean with the body; 1: they stay upright, as on a solid axle"});
    v.field(g.roll_steer, {"roll_steer", "Roll steer", Number, Test, -0.5, 0.5, "per roll, towards understeer"});
    v.field(g.side_steer,
            {"side_steer", "Side force steer", SteerPerForce, Test, -1e-5, 1e-5, "of bushes, towards understeer"});
    v.field(g.trail_steer, {"trail_steer", "Aligning steer", SteerPerForce, Test, -1e-5, 1e-5,
                            "of the tyres' aligning moment on the steering's give"});
    v.field(g.roll_centre_moves, {"roll_centre_moves", "Roll centre moves", Number, Test, -5, 5,
                                  "its rise per rise of the body; double wishbones 1 to 2", "stays", 0});
    v.field(g.camber_moves, {"camber_moves", "Camber moves", Angle, AngleGauge, -20 * deg, 20 * deg,
                             "per 100 mm that the body rises", "stays", 0});
    v.field(g.bump_damping, {"bump_damping", "Bump damping", Damping, Test, 0.01, 1e6,
                             "slow, at the wheel; of one damper on a solid axle", "usual", 0});
    v.field(g.rebound_damping, {"rebound_damping", "Rebound damping", Damping, Test, 0.01, 1e6,
                                "slow, at the wheel; of one damper on a solid axle", "usual", 0});
    v.choice("differential", "Differential", g.differential, {"open", "limited", "locked"});
}

template <class V, Is<HandlingData> T> void describe(V& v, T& h) {
    using namespace detail;
    v.field(h.yaw_inertia, {"yaw_inertia", "Yaw inertia", Inertia, Test, 1e-3, 1e6, "of the whole car", "usual", 0});
    v.field(h.roll_inertia,
            {"roll_inertia", "Roll inertia", Inertia, Test, 1e-3, 1e6, "of the body about its roll axis", "usual", 0});
    v.choice("driven", "Driven axle", h.driven, {"front", "rear", "all"});
    v.field(h.bias_ratio,
            {"bias_ratio", "Limited slip ratio", Number, Test, 1, 10, "torque of the gripping wheel over the other's"});
    v.field(h.launch, {"launch", "Launch", Number, Test, 0, 2, "acceleration along, in g"});
    v.field(h.axle_ratio,
            {"axle_ratio", "Final drive", Number, Test, 1, 20, "turns of the propshaft per turn of the wheel"});
    v.field(h.person, {"person", "Person at the side", Mass, Scale, 0.001, 300,
                       "leaning on it or standing on its sill; usual: 80 kg, a tenth of a small car", "usual", 0});
    v.field(h.person_out, {"person_out", "Stands out", Length, Tape, 1 * mm, 3000 * mm,
                           "from the car's middle; \"wheels\": over them", "wheels", 0});
    v.field(h.side_area, {"side_area", "Side area", Number, Tape, 1e-4, 80,
                          "m², seen from the side; usual: by wheelbase and height of mass", "usual", 0});
    v.field(h.wind, {"wind", "Side wind", units::Quantity::Speed, Test, 0, 60, "a gust"});
    v.choice("propshaft", "Propshaft, from behind, turns", h.propshaft, {"clockwise", "anticlockwise"});
    v.field(h.front_braking, {"front_braking", "Front brake share", units::Quantity::Share, Test, 0.01, 1,
                              "\"ideal\": by what each axle carries while braking", "ideal", 0});
    v.field(h.braking, {"braking", "Braking into a bend", Number, Test, 0, 1.2, "still held as it turns in, in g"});
    v.field(h.pull, {"pull", "Pull out of a bend", Number, Test, 0, 1.2, "acceleration along, in g"});
}

template <class V, Is<SpringPoint> T> void describe(V& v, T& p) {
    using namespace detail;
    v.field(p.travel, {"travel", "at travel", Length, Tape, -1000 * mm, 1000 * mm, "from ride height, bump positive"});
    v.field(p.force, {"force", "force added", Force, Test, -1e6, 1e6, "to the one at ride height; of one spring"});
}

template <class V, Is<TravelData> T> void describe(V& v, T& t) {
    using namespace detail;
    v.field(t.left_bump, {"left_bump", "Left bump, more", Length, Tape, -300 * mm, 300 * mm,
                          "than the right side's, to the stop", "alike", 0});
    v.field(t.left_droop, {"left_droop", "Left droop, more", Length, Tape, -300 * mm, 300 * mm,
                           "than the right side's, to the damper's end", "alike", 0});
    v.field(t.strap, {"strap", "Strap holds at", Length, Tape, 0, 1000 * mm,
                      "droop; where shorter than the damper it ends the travel", "none", 0});
    v.field(t.hose, {"hose", "Brake hose taut at", Length, Tape, 0, 1000 * mm,
                     "droop of the wheel; reached, it must be longer", "unknown", 0});
    v.field(t.body, {"body", "Tyre meets body at", Length, Tape, 0, 1000 * mm, "bump of the wheel", "clear", 0});
    v.flag("captive", "Springs held", t.captive);
    v.list("springs", "Spring by points", t.springs);
}

template <class V, Is<AxleData> T> void describe(V& v, T& a) {
    using namespace detail;
    v.choice("kind", "Suspension", a.kind, {"independent", "solid"});
    v.field(a.track, {"track", "Track", Length, Tape, 50 * mm, 3000 * mm, "between the middles of the tyres' contact"});
    v.field(a.unsprung_mass, {"unsprung_mass", "Unsprung mass", Mass, Scale, 0, 3000,
                              "both wheels, hubs, brakes; the axle if solid; half of links and springs"});
    v.field(a.unsprung_height, {"unsprung_height", "Unsprung height", Length, Tape, 0, 1200 * mm,
                                "of its centre of mass, about the hub's height"});
    v.field(a.tyre_rate, {"tyre_rate", "Tyre rate", Rate, Test, 10, 5e6, "vertical, one tyre"});
    v.field(a.spring_rate, {"spring_rate", "Spring rate", Rate, Test, 1, 5e6,
                            "at the wheel on independent suspension, of one spring on a solid axle"});
    v.field(a.bump_gap, {"bump_gap", "Bump travel", Length, Tape, 0, 1000 * mm,
                         "from ride height to the bump stop: wheel travel (independent) or spring travel (solid)"});
    v.field(a.bump_k1, {"bump_k1", "Bump stop rate", Rate, Test, 0, 1e8, "at first touch"});
    v.field(a.bump_k3,
            {"bump_k3", "Bump stop rise", CubicRate, Test, 0, 1e13, "force grows with this times travel cubed"});
    v.field(a.droop_gap, {"droop_gap", "Droop travel", Length, Tape, 0, 1000 * mm,
                          "from ride height until the damper is fully out"});
    v.field(a.droop_k, {"droop_k", "Droop stop rate", Rate, Test, 10, 1e8, "of the damper's end or strap"});
    v.field(a.roll_centre_height,
            {"roll_centre_height", "Roll centre height", Length, Tape, -500 * mm, 1500 * mm, "above the ground"});
    v.field(a.parasitic_roll_stiffness, {"parasitic_roll_stiffness", "Parasitic roll stiffness", TorsionalRate, Test, 0,
                                         1e7, "of bushes, leaves and radius arms; often the largest unknown"});
    where(v, a.kind == car::AxleKind::Solid, [&] {
        v.field(a.spring_base, {"spring_base", "Spring base", Length, Tape, 10 * mm, 3000 * mm,
                                "between the springs' seats on the axle, not the track"});
    });
    where(v, a.kind != car::AxleKind::Solid, [&] {
        v.field(a.motion_ratio, {"motion_ratio", "Motion ratio", Number, Test, 0.05, 2,
                                 "link pick-up travel along the link, per wheel travel; used squared"});
    });
    v.group("travel", "Travel", a.travel);
    v.group("linkage", "Linkage", a.linkage);
    v.group("grip", "Grip", a.grip);
}

template <class V, Is<Load> T> void describe(V& v, T& l) {
    using namespace detail;
    v.text("name", "Load", l.name);
    v.flag("aboard", "Aboard", l.aboard);
    v.field(l.mass, {"mass", "Mass", Mass, Scale, 0, 5000});
    v.field(l.behind_front_axle,
            {"behind_front_axle", "Behind front axle", Length, Tape, -3000 * mm, 12000 * mm, "of its middle"});
    v.field(l.left, {"left", "Left of middle", Length, Tape, -2000 * mm, 2000 * mm, "negative: to the right"});
    v.field(l.height, {"height", "Height", Length, Tape, 0, 4500 * mm, "of its middle above the ground"});
}

template <class V, Is<Vehicle> T> void describe(V& v, T& c) {
    using namespace detail;
    v.text("name", "Car", c.name);
    v.field(c.wheelbase, {"wheelbase", "Wheelbase", Length, Tape, 100 * mm, 8000 * mm});
    v.field(c.front_left_load,
            {"front_left_load", "Front left scale", Mass, Scale, 0.01, 5000, "as weighed, without the loads listed"});
    v.field(c.front_right_load,
            {"front_right_load", "Front right scale", Mass, Scale, 0.01, 5000, "as weighed, without the loads listed"});
    v.field(c.rear_left_load,
            {"rear_left_load", "Rear left scale", Mass, Scale, 0.01, 5000, "as weighed, without the loads listed"});
    v.field(c.rear_right_load,
            {"rear_right_load", "Rear right scale", Mass, Scale, 0.01, 5000, "as weighed, without the loads listed"});
    v.field(c.cg_height,
            {"cg_height", "Height of centre of mass", Length, Tape, 5 * mm, 2500 * mm, "whole car as weighed"});
    v.field(c.chassis_torsion, {"chassis_torsion", "Frame torsion", TorsionalRate, Test, 1, 1e9,
                                "twist of the body between the axles", "stiff", endless});
    v.group("front", "Front axle", c.front);
    v.group("rear", "Rear axle", c.rear);
    v.group("handling", "Handling", c.handling);
    v.list("loads", "Loads", c.loads);
}

template <class V, Is<Eye> T> void describe(V& v, T& e) {
    using namespace detail;
    v.field(e.arm_length, {"arm_length", "Arm to eye", Length, Tape, 1 * mm, 1000 * mm,
                           "square to the bar's axis, not along the arm"});
}

inline constexpr const char* mark_names[] = {"bend", "eye", "end"};

template <class V, Is<StepData> T> void describe(V& v, T& s) {
    using namespace detail;
    v.field(s.length, {"length", "Length", Length, Tape, 0.1 * mm, 3000 * mm, "from corner to corner"});
    v.choice("mark", "At its end", s.mark, {mark_names[0], mark_names[1], mark_names[2]});
    v.field(s.bend,
            {"bend", "Bend", Angle, AngleGauge, -175 * deg, 175 * deg, "how far the bar turns there", "none", 0});
    v.field(s.plane, {"plane", "Towards", Angle, AngleGauge, -360 * deg, 360 * deg,
                      "0 to the rear, 90 up, 180 forwards, -90 down, seen along the bar"});
    v.field(s.radius, {"radius", "Bend radius", Length, Tape, 0, 500 * mm, "to the middle of the bar; 0 is sharp"});
    v.field(s.outer_diameter,
            {"outer_diameter", "Diameter", Length, Calliper, 0.2 * mm, 100 * mm, "of this step", "same", 0});
    v.field(s.wall, {"wall", "Wall", Length, Calliper, 0, 50 * mm, "where the diameter is given", "solid", 0});
    v.field(s.taper_to,
            {"taper_to", "Tapers to", Length, Calliper, 0.2 * mm, 100 * mm, "diameter at its end", "even", 0});
}

template <class V, Is<PointData> T> void describe(V& v, T& p) {
    using namespace detail;
    v.field(p.x, {"x", "Forward", Length, Tape, -3000 * mm, 3000 * mm, "of the bar's middle"});
    v.field(p.y, {"y", "Left", Length, Tape, -3000 * mm, 3000 * mm, "of the bar's middle"});
    v.field(p.z, {"z", "Up", Length, Tape, -3000 * mm, 3000 * mm, "of the bar's middle"});
    v.choice("mark", "There", p.mark, {mark_names[0], mark_names[1], mark_names[2]});
    v.field(p.radius, {"radius", "Bend radius", Length, Tape, 0, 500 * mm, "to the middle of the bar; 0 is sharp"});
    v.field(p.outer_diameter,
            {"outer_diameter", "Diameter", Length, Calliper, 0.2 * mm, 100 * mm, "from here on", "same", 0});
    v.field(p.wall, {"wall", "Wall", Length, Calliper, 0, 50 * mm, "where the diameter is given", "solid", 0});
}

template <class V, Is<BarData> T> void describe(V& v, T& b) {
    using namespace detail;
    v.text("name", "Bar", b.name);
    v.choice("form", "Entered by", b.form, {"sizes", "walk", "points"});
    v.field(b.outer_diameter,
            {"outer_diameter", "Outer diameter", Length, Calliper, 0.2 * mm, 100 * mm, "bare metal, without paint"});
    v.field(b.wall, {"wall", "Wall", Length, Calliper, 0, 50 * mm, "of a tube, or \"solid\"", "solid", 0});
    where(v, b.form == Form::Walk, [&] { v.list("walk", "Steps", b.walk); });
    where(v, b.form == Form::Points, [&] { v.list("points", "Points", b.points); });
    where(v, b.form == Form::Sizes, [&] {
        v.field(b.centre_length, {"centre_length", "Between arms", Length, Tape, 5 * mm, 3000 * mm,
                                  "along the axis, between the arms' middles"});
        v.field(b.arm_end,
                {"arm_end", "Arm length", Length, Tape, 1 * mm, 1000 * mm, "square to the axis, to the arm's end"});
        v.list("eyes", "Eyes", b.eyes);
        v.field(b.splay,
                {"splay", "Splay", Angle, AngleGauge, -60 * deg, 60 * deg, "arms turned outwards from square"});
        v.field(b.drop, {"drop", "Drop", Angle, AngleGauge, -60 * deg, 60 * deg, "arms turned downwards"});
        v.field(b.bend_radius, {"bend_radius", "Bend radius", Length, Tape, 0, 500 * mm,
                                "to the middle of the bar; 0 for a sharp corner or separate arms"});
        v.field(b.kink_outer, {"kink_outer", "Kink, outer", Length, Tape, 0, 3000 * mm,
                               "where the centre leaves its axis, left to right", "none", 0});
        v.field(b.kink_inner, {"kink_inner", "Kink, inner", Length, Tape, 0, 3000 * mm,
                               "where it is fully offset, left to right", "none", 0});
        v.field(b.kink_forward, {"kink_forward", "Kink, forward", Length, Tape, -500 * mm, 500 * mm,
                                 "offset of the middle", "none", 0});
        v.field(b.kink_up,
                {"kink_up", "Kink, up", Length, Tape, -500 * mm, 500 * mm, "offset of the middle", "none", 0});
        v.choice("arms", "Arms", b.arms, {"of_the_bar", "round", "blade"});
        where(v, b.form == Form::Sizes && b.arms == Arms::Round, [&] {
            v.field(b.arm_diameter,
                    {"arm_diameter", "Arm diameter", Length, Calliper, 0.2 * mm, 100 * mm, "of the separate arms"});
            v.field(b.arm_wall,
                    {"arm_wall", "Arm wall", Length, Calliper, 0, 50 * mm, "of a tube, or \"solid\"", "solid", 0});
        });
        where(v, b.form == Form::Sizes && b.arms == Arms::Blade, [&] {
            v.field(b.blade_width, {"blade_width", "Blade width", Length, Calliper, 0.5 * mm, 200 * mm});
            v.field(b.blade_thickness, {"blade_thickness", "Blade thickness", Length, Calliper, 0.1 * mm, 100 * mm});
            v.field(b.blade_rotation, {"blade_rotation", "Blade set to", Angle, AngleGauge, -180 * deg, 180 * deg,
                                       "0: on edge, stiff; 90: flat, soft"});
        });
    });
    v.field(b.youngs_modulus,
            {"youngs_modulus", "Young's modulus", Modulus, Test, 10e9, 400e9, "spring steel 206 GPa"});
    v.field(b.shear_modulus, {"shear_modulus", "Shear modulus", Modulus, Test, 3e9, 160e9, "spring steel 79.3 GPa"});
    v.field(b.density, {"density", "Density", Density, Test, 1000, 20000, "steel 7850 kg/m³"});
    v.field(b.yield_strength,
            {"yield_strength", "Yield strength", Stress, Test, 50e6, 3000e6, "of the bar's steel as treated"});
    v.field(b.bent, {"bent", "Bent", Length, Tape, -200 * mm, 200 * mm,
                     "right eye above the left one, the bar flat on a table", "straight", 0});
}

template <class V, Is<MountData> T> void describe(V& v, T& m) {
    using namespace detail;
    v.choice("kind", "Bushes", m.kind, {"unsaid", "rubber", "urethane", "metal"});
    v.choice("on", "Carried by", m.on, {"body", "axle"});
    v.field(m.height, {"height", "Bar above ground", Length, Tape, 1 * mm, 2000 * mm,
                       "its axis at the mounts, at ride height", "unknown", 0});
    v.field(m.spacing,
            {"spacing", "Between mounts", Length, Tape, 2 * mm, 3000 * mm, "left to right, middle to middle"});
    v.field(m.vertical, {"vertical", "Bush, vertical", Rate, Test, 10, 1e12, "radial rate of one bush"});
    v.field(m.fore_aft, {"fore_aft", "Bush, fore and aft", Rate, Test, 10, 1e12, "radial rate of one bush"});
    v.field(m.axial, {"axial", "Bush, along the bar", Rate, Test, 1, 1e12, "with collars: high"});
    v.field(m.torsional,
            {"torsional", "Bush, in twist", TwistRate, Test, 0, 1e6, "when bonded to the bar", "slides", 0});
    v.field(m.bracket, {"bracket", "Bracket", Rate, Test, 10, 1e12,
                        "bracket and what it bolts to, in series with the bush", "rigid", endless});
    v.field(m.rate_left, {"rate_left", "Bush rate left", Number, Test, 0.05, 1,
                          "what wear has left of the rates above: tired 0.7, perished 0.4", "sound", 1});
    v.field(m.bore_friction, {"bore_friction", "Bore friction", Number, Test, 0, 1.5,
                              "coefficient where the bar slides in the bush: greased 0.1, dry rubber 0.5", "none", 0});
    v.field(m.out_of_line, {"out_of_line", "Out of line", Length, Tape, -50 * mm, 50 * mm,
                            "how much higher the right mount's bore is than the bar wants", "none", 0});
    v.field(m.capacity, {"capacity", "Bracket capacity", Force, Test, 1, 1e7,
                         "what a bracket may bear across the bar, by its maker", "unknown", 0});
}

template <class V, Is<LinkData> T> void describe(V& v, T& l) {
    using namespace detail;
    v.choice("pickups", "Pick-ups", l.pickups, {"under_eyes", "measured"});
    v.choice("joints", "Joints", l.joints, {"unsaid", "ball", "rubber", "urethane", "rod_end"});
    v.field(l.length, {"length", "Link length", Length, Tape, 1 * mm, 1500 * mm, "centre to centre"});
    v.field(l.right_longer, {"right_longer", "Right link longer", Length, Tape, -200 * mm, 200 * mm,
                             "than the left one; shorter is negative", "equal", 0});
    where(v, l.pickups == Pickups::Measured, [&] { v.group("at", "Pick-up", l.at); });
    where(v, l.pickups != Pickups::Measured, [&] {
        v.choice("end", "Other end", l.end, {"below", "above"});
        v.field(l.forward, {"forward", "Leans forward", Length, Tape, -500 * mm, 500 * mm,
                            "other end ahead of the eye at ride height", "upright", 0});
        v.field(l.outward, {"outward", "Leans outward", Length, Tape, -500 * mm, 500 * mm,
                            "other end outboard of the eye at ride height", "upright", 0});
    });
    v.choice("adjust", "Adjusts", l.adjust, {"no", "one_end", "opposite"});
    where(v, l.adjust != Adjust::No, [&] {
        v.field(l.pitch, {"pitch", "Thread pitch", Length, Calliper, 0.2 * mm, 6 * mm, "from crest to crest"});
        v.field(l.thread, {"thread", "Thread diameter", Length, Calliper, 1 * mm, 60 * mm});
        v.field(l.engaged, {"engaged", "Thread engaged", Length, Tape, 0, 300 * mm, "at each end, as it stands"});
        v.field(l.shortest,
                {"shortest", "Screwed right in", Length, Tape, 1 * mm, 1500 * mm, "shortest length, centre to centre"});
    });
    v.choice("eye_stud", "Stud at eye", l.eye_stud, {"sideways", "lengthways"});
    v.choice("pickup_stud", "Stud at pick-up", l.pickup_stud, {"sideways", "lengthways"});
    v.field(l.tilt, {"tilt", "Joints tilt", Angle, AngleGauge, 1 * deg, 89 * deg,
                     "each way from square to the stud, by their maker", "unknown", units::pi});
    v.field(l.thickness, {"thickness", "Link thickness", Length, Calliper, 0, 100 * mm, "of its body", "thin", 0});
    v.field(l.body,
            {"body", "Link body", Rate, Test, 10, 1e12, "stretch or bend of the link itself", "rigid", endless});
    v.field(l.joint, {"joint", "Each joint", Rate, Test, 10, 1e12, "give of one joint along the link; there are two",
                      "rigid", endless});
    v.field(l.play, {"play", "Play", Length, Calliper, 0, 30 * mm, "slack of both joints together", "none", 0});
    v.field(l.capacity,
            {"capacity", "Link capacity", Force, Test, 1, 1e7, "what the link may carry, by its maker", "unknown", 0});
}

template <class V, Is<TrailingArms> T> void describe(V& v, T& a) {
    using namespace detail;
    v.field(a.to_bar, {"to_bar", "Pivot to bar", Length, Tape, 0, 2000 * mm, "along the trailing arm"});
    v.field(a.to_wheel, {"to_wheel", "Pivot to wheel", Length, Tape, 1 * mm, 2000 * mm, "along the trailing arm"});
}

template <class V, Is<RigReading> T> void describe(V& v, T& r) {
    v.mass("mass", r.mass);
    v.length("dial", r.dial);
}

template <class V, Is<RigCheck> T> void describe(V& v, T& r) {
    v.flag("both_arms", "Both arms pulled apart", r.both_arms);
    v.flag("blocks", "Rigid blocks for mounts", r.blocks);
    v.length("dial_sigma", r.dial_sigma);
    v.list("readings", "Readings", r.readings);
}

template <class V, Is<LiftRound> T> void describe(V& v, T& r) {
    v.length("left", r.left);
    v.length("right", r.right);
}

template <class V, Is<SetupChecks> T> void describe(V& v, T& c) {
    v.optional_length("table_gap", c.table_gap);
    v.optional_length("droop", c.droop);
    v.optional_length("bump", c.bump);
    v.optional_length("left_stub", c.left_stub);
    v.optional_length("right_stub", c.right_stub);
    v.flag("falls_free", "Falls free", c.falls_free);
    v.flag("joints_free", "Joints free and clean", c.joints_free);
    v.optional_length("mount_height", c.mount_height);
    v.optional_length("eye_height", c.eye_height);
    v.optional_length("left_link", c.left_link);
    v.optional_length("right_link", c.right_link);
    v.optional_length("lift_zero", c.lift_zero);
    v.number("per_wheel", c.per_wheel);
    v.length("lift_tolerance", c.lift_tolerance);
    v.list("rounds", "Rounds", c.rounds);
    v.optional_angle("hang_bend", c.hang_bend);
}

template <class V, Is<PlanData> T> void describe(V& v, T& p) {
    using namespace detail;
    v.choice("by", "Raised by", p.by, {"springs", "spacers", "tyres"});
    v.field(p.lift, {"lift", "Ride height change", Length, Tape, -200 * mm, 400 * mm,
                     "of the body; lowered is negative", "none", 0});
    v.field(p.off_square, {"off_square", "Off square, at most", Angle, AngleGauge, 10 * deg, 80 * deg,
                           "of the link at full droop; 55 is the usual caution"});
    v.field(p.preload, {"preload", "Preload, left wheel", Force, Scale, -20000, 20000,
                        "load that the bar is to add to it at rest; for straight-line launches", "none", 0});
}

template <class V, Is<Assembly> T> void describe(V& v, T& a) {
    v.flag("fitted", "Bar fitted", a.fitted);
    v.flag("connected", "Links connected", a.connected);
    v.choice("held", "Held by", a.held, {"links", "clamped"});
    v.group("bar", "Bar", a.bar);
    where(v, a.held == Held::Links, [&] {
        v.group("mounts", "Mounts", a.mounts);
        v.group("links", "Links", a.links);
    });
    where(v, a.held != Held::Links, [&] { v.group("trailing_arms", "Trailing arms", a.trailing_arms); });
    v.group("rig", "Rig check", a.rig);
    v.group("checks", "Set-up checks", a.checks);
    v.group("plan", "Link plan", a.plan);
    v.index("left_eye", "Left eye", a.left_eye);
    v.index("right_eye", "Right eye", a.right_eye);
}

template <class V, Is<Setup> T> void describe(V& v, T& s) {
    v.text("name", "Setup", s.name);
    v.group("front", "Front bar", s.front);
    v.group("rear", "Rear bar", s.rear);
}

template <class V, Is<proof::Travels> T> void describe(V& v, T& t) {
    static constexpr const char* keys[4] = {"front_left", "front_right", "rear_left", "rear_right"};
    for (int i = 0; i < 4; ++i) v.optional_length(keys[i], t.wheel[static_cast<std::size_t>(i)]);
}

template <class V, Is<proof::Reading> T> void describe(V& v, T& r) {
    v.length("value", r.value);
    v.flag("more_than", "More than", r.more_than);
    v.group("travel", "Travel", r.travel);
    v.text("note", "Note", r.note);
}

template <class V, Is<proof::Prediction> T> void describe(V& v, T& p) {
    v.length("value", p.value);
    v.length("sigma", p.sigma);
    v.flag("lifted", "Lifts", p.lifted);
    v.index("light_wheel", "Light wheel", p.light_wheel);
    v.group("travel", "Travel", p.travel);
    v.group("travel_sigma", "Travel, sigma", p.travel_sigma);
    v.text("model", "Model", p.model);
}

template <class V, Is<proof::RampTest> T> void describe(V& v, T& t) {
    v.choice("method", "Method", t.method, {"growing", "fixed"});
    v.choice("raised", "Raised wheels", t.raised, {"front_left_rear_right", "front_right_rear_left"});
    v.length("ramp_height", t.ramp_height);
    v.length("reading_sigma", t.reading_sigma);
    v.optional_length("guess", t.guess);
    v.flag("predicted", "Predicted", t.predicted);
    v.group("prediction", "Prediction", t.prediction);
    v.list("readings", "Readings", t.readings);
}

template <class V, Is<PlannedTest> T> void describe(V& v, T& t) {
    v.text("name", "Test", t.name);
    v.text("date", "Date", t.date);
    v.group("as_fitted", "As fitted", t.as_fitted);
    v.texts("aboard", "Aboard", t.aboard);
    v.group("ramp", "Ramp test", t.ramp);
}

template <class V, Is<Entry> T> void describe(V& v, T& e) {
    v.text("date", "Date", e.date);
    v.text("kind", "Kind", e.kind);
    v.text("reason", "Reason", e.reason);
    v.distance("odometer", e.odometer);
    v.group("setup", "Setup", e.setup);
}

template <class V, Is<StockSize> T> void describe(V& v, T& s) {
    v.length("outer_diameter", s.outer_diameter);
    v.length("wall", s.wall);
}

template <class V, Is<Job> T> void describe(V& v, T& j) {
    v.text("name", "Job", j.name);
    v.text("complaint", "Complaint", j.complaint);
    v.texts("heard", "Heard", j.heard);
    v.group("vehicle", "Car", j.vehicle);
    v.group("fitted", "Fitted", j.fitted);
    v.group("trial", "Trial", j.trial);
    v.group("standard", "Standard", j.standard);
    v.list("kept", "Kept setups", j.kept);
    v.list("shelf", "Shelf", j.shelf);
    v.list("stock", "Stock", j.stock);
    v.list("tests", "Tests", j.tests);
    v.list("book", "Book", j.book);
    v.drafts("drafts", "Typed, not usable yet", j.drafts);
}

} // namespace dervish::job
