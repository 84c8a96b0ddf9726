#pragma once
#include "core/job/describe_visit.h"

/// The car of a job, described (see describe_visit.h).
namespace dervish::job {

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
        v.group("arm_front", "Control arm's front", l.arm_front);
        v.group("arm_rear", "Control arm's rear", l.arm_rear);
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

template <class V, Is<WheelData> T> void describe(V& v, T& w) {
    using namespace detail;
    v.field(w.camber_kept, {"camber_kept", "Roll kept from wheels", Number, Test, -1, 1.5,
                            "0: they lean with the body; 1: they stay upright, as on a solid axle"});
    v.field(w.roll_steer, {"roll_steer", "Roll steer", Number, Test, -0.5, 0.5, "per roll, towards understeer"});
    v.field(w.side_steer,
            {"side_steer", "Side force steer", SteerPerForce, Test, -1e-2, 1e-2, "of bushes, towards understeer"});
    v.field(w.trail_steer, {"trail_steer", "Aligning steer", SteerPerForce, Test, -1e-2, 1e-2,
                            "of the tyres' aligning moment on the steering's give"});
    v.field(w.roll_centre_moves,
            {"roll_centre_moves", "Roll centre moves", Number, Test, -5, 5,
             "its rise per rise of the body; wishbones and struts 0.5 to 2, a solid axle 0 to 1", "stays", 0});
    v.field(w.camber_moves, {"camber_moves", "Camber moves", Angle, Test, -90 * deg, 90 * deg,
                             "per 100 mm that the body rises", "stays", 0});
}

template <class V, Is<HandlingData> T> void describe(V& v, T& h) {
    using namespace detail;
    v.field(h.yaw_inertia, {"yaw_inertia", "Yaw inertia", Inertia, Test, 1e-3, 1e6, "of the whole car", "usual", 0});
    v.field(h.roll_inertia,
            {"roll_inertia", "Roll inertia", Inertia, Test, 1e-3, 1e6, "of the body about its roll axis", "usual", 0});
    since(v, 11, [&] {
        v.field(h.pitch_inertia,
                {"pitch_inertia", "Pitch inertia", Inertia, Test, 1e-3, 1e6,
                 "of the body about its own centre; usual: mass by its distances to both axles", "usual", 0});
    });
    since(v, 18, [&] {
        v.field(h.roll_radius, {"roll_radius", "Roll radius over track", Number, Test, 0.15, 0.8,
                                "of gyration of the body about its own centre, where its roll inertia is the usual"});
    });
    v.choice("driven", "Driven axle", h.driven, {"front", "rear", "all"});
    v.field(h.launch, {"launch", "Launch", Number, Test, 0, 2, "acceleration along, in g"});
    v.field(h.axle_ratio,
            {"axle_ratio", "Final drive", Number, Test, 1, 20, "turns of the propshaft per turn of the wheel"});
    v.field(h.person, {"person", "Person at the side", Mass, Scale, 0.001, 300,
                       "leaning on it or standing on its sill; usual: 80 kg, a tenth of a small car", "usual", 0});
    v.field(h.person_out, {"person_out", "Stands out", Length, Tape, 1 * mm, 3000 * mm,
                           "from the car's middle; \"wheels\": over them", "wheels", 0});
    v.field(h.side_area, {"side_area", "Side area", Number, Test, 1e-4, 80,
                          "m², seen from the side; usual: by wheelbase and height of mass", "usual", 0});
    v.field(h.wind, {"wind", "Side wind", units::Quantity::Speed, Test, 0, 60, "a gust"});
    v.choice("propshaft", "Propshaft, from behind, turns", h.propshaft, {"clockwise", "anticlockwise"});
    v.field(h.front_braking, {"front_braking", "Front brake share", units::Quantity::Share, Test, 0.01, 1,
                              "\"ideal\": by what each axle carries while braking", "ideal", 0});
    v.field(h.braking, {"braking", "Braking into a bend", Number, Test, 0, 1.2, "still held as it turns in, in g"});
    v.field(h.pull, {"pull", "Pull out of a bend", Number, Test, 0, 1.2, "acceleration along, in g"});
    since(v, 17, [&] {
        v.field(h.rear_grip, {"rear_grip", "Rear grip over front", Number, Test, 0.5, 2,
                              "wear, warmth and rubber that nobody knows: alike is 1"});
    });
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
}

template <class V, Is<AxleData> T> void describe(V& v, T& a) {
    using namespace detail;
    v.choice("kind", "Suspension", a.kind, {"independent", "solid"});
    since(v, 17, [&] { v.choice("wheels_a_side", "Wheels a side", a.wheels_a_side, {"one", "two"}); });
    v.field(a.track, {"track", "Track", Length, Tape, 50 * mm, 3000 * mm,
                      "between the middles of the tyres' contact; of pairs, the pairs' middles"});
    v.field(a.unsprung_mass, {"unsprung_mass", "Unsprung mass", Mass, Test, 0, 3000,
                              "both wheels, hubs, brakes; the axle if solid; half of links and springs"});
    v.field(a.unsprung_height, {"unsprung_height", "Unsprung height", Length, Test, 0, 1200 * mm,
                                "of its centre of mass, about the hub's height"});
    v.field(a.bump_gap, {"bump_gap", "Bump travel", Length, Tape, 0, 1000 * mm,
                         "from ride height to the bump stop: wheel travel (independent) or spring travel (solid)"});
    v.field(a.bump_k1, {"bump_k1", "Bump stop rate", Rate, Test, 0, 1e8, "at first touch"});
    v.field(a.bump_k3,
            {"bump_k3", "Bump stop rise", CubicRate, Test, 0, 1e13, "force grows with this times travel cubed"});
    v.field(a.roll_centre_height,
            {"roll_centre_height", "Roll centre height", Length, Test, -500 * mm, 1500 * mm, "above the ground"});
    v.field(a.parasitic_roll_stiffness, {"parasitic_roll_stiffness", "Roll stiffness of bushes", TorsionalRate, Test, 0,
                                         1e7, "of bushes, leaves and radius arms; often the largest unknown"});
    where(v, a.kind == AxleKind::Solid, [&] {
        v.field(a.spring_base, {"spring_base", "Spring base", Length, Tape, 10 * mm, 3000 * mm,
                                "between the springs' seats on the axle, not the track"});
        since(v, 11, [&] {
            v.field(a.inertia, {"inertia", "Axle's roll inertia", Inertia, Test, 1e-4, 1e5,
                                "about its own middle; usual: 0.15 of its mass by track squared", "usual", 0});
        });
    });
    where(v, a.kind != AxleKind::Solid, [&] {
        v.field(a.motion_ratio, {"motion_ratio", "Motion ratio", Number, Test, 0.05, 2,
                                 "how far the links' other end rises, per wheel travel; used squared"});
    });
    v.group("travel", "Travel", a.travel);
    v.group("linkage", "Linkage", a.linkage);
    v.group("wheels", "Wheels", a.wheels);
}

template <class V, Is<Load> T> void describe(V& v, T& l) {
    using namespace detail;
    v.text("name", "Load", l.name);
    v.text("id", "Id", l.id);
    v.field(l.mass, {"mass", "Mass", Mass, Scale, 0, 5000});
    v.field(l.behind_front_axle,
            {"behind_front_axle", "Behind front axle", Length, Test, -3000 * mm, 12000 * mm, "of its middle"});
    v.field(l.left, {"left", "Left of middle", Length, Test, -2000 * mm, 2000 * mm, "negative: to the right"});
    v.field(l.height, {"height", "Height", Length, Test, 0, 4500 * mm, "of its middle above the ground"});
}

template <class V, Is<GroundData> T> void describe(V& v, T& g) {
    using namespace detail;
    v.field(g.grip, {"grip", "Grip there", Number, Test, 0.02, 3, "of a tyre's own on dry"});
    v.field(g.stiffness, {"stiffness", "Cornering stiffness there", Number, Test, 0.02, 3, "of a tyre's own on dry"});
    v.field(g.fall, {"fall", "Fall with load there", Number, Test, 0, 5, "of a tyre's own on dry"});
    v.field(g.roughness, {"roughness", "Roughness, 10⁻⁶ m³", Number, Test, 0, 1e5,
                          "at 0.1 per metre (ISO 8608): class A 16, B 64, C 256, D 1024", "plane", 0});
    v.field(g.speed, {"speed", "Speed there", units::Quantity::Speed, Test, 1, 100, "that one drives there"});
    v.field(g.ripple, {"ripple", "Ripples", Length, Tape, 0, 200 * mm,
                       "of one length on top: standard deviation, about a third of crest to trough", "none", 0});
    v.field(g.ripple_length, {"ripple_length", "Ripples' length", Length, Tape, 50 * mm, 50000 * mm, "crest to crest"});
    v.field(g.ripple_alike, {"ripple_alike", "Ripples alike", Number, Test, 0, 1,
                             "left and right: 1 straight across the road, 0 each side its own"});
}

template <class V, Is<PerGround<GroundData>> T> void describe(V& v, T& grounds) {
    v.group("dry", "Dry", grounds[Ground::Dry]);
    v.group("dry_patched", "Dry patched", grounds[Ground::DryPatched]);
    v.group("wet", "Wet", grounds[Ground::Wet]);
    v.group("wet_patched", "Wet patched", grounds[Ground::WetPatched]);
    v.group("gravel", "Gravel", grounds[Ground::Gravel]);
    v.group("washboard", "Washboard", grounds[Ground::Washboard]);
    v.group("mud", "Mud", grounds[Ground::Mud]);
    v.group("snow", "Snow", grounds[Ground::Snow]);
    v.group("race_kerbs", "Race kerbs", grounds[Ground::Kerbs]);
}

template <class V, Is<UseData> T> void describe(V& v, T& u) {
    using namespace detail;
    v.choice("use", "Use", u.use,
             {"road", "loaded", "towing", "sport", "race, smooth", "race, rough", "hill sprint", "trail", "rocks",
              "launch", "small scale"});
    v.field(u.lean_least, {"lean_least", "Lean, at least", RollGradient, Test, 0, 0.1,
                           "flatter than that costs ride and wet grip; usual: by the use", "usual", by_use});
    v.field(u.lean_most, {"lean_most", "Lean, at most", RollGradient, Test, 0, 0.1,
                          "more lays the tyres over; usual: by the use", "usual", by_use});
    v.field(u.balance_least, {"balance_least", "Rear over front, at least", Share, Test, -0.9, 0.9,
                              "below 0 the front gives up first; usual: by the use", "usual", by_use});
    v.field(u.balance_most, {"balance_most", "Rear over front, at most", Share, Test, -0.9, 0.9,
                             "above 0 the rear gives up first; usual: by the use", "usual", by_use});
    v.field(u.head_most, {"head_most", "Heads tossed, at most", Number, Test, 0.01, 20,
                          "m/s², on the use's ground; usual: by the use", "usual", by_use});
    v.field(u.reserve_least, {"reserve_least", "Reserve, at least", Number, Test, 0, 5,
                              "g, from the limit of grip to tipping over; usual: by the use", "usual", by_use});
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
            {"cg_height", "Height of centre of mass", Length, Test, 5 * mm, 2500 * mm, "whole car as weighed"});
    v.field(c.chassis_torsion, {"chassis_torsion", "Frame torsion", TorsionalRate, Test, 1, 1e9,
                                "twist of the body between the axles", "stiff", endless});
    v.group("front", "Front axle", c.front);
    v.group("rear", "Rear axle", c.rear);
    v.group("handling", "Handling", c.handling);
    v.list("loads", "Loads", c.loads);
    since(v, 12, [&] {
        v.group("grounds", "Grounds", c.grounds);
        v.group("use", "Use", c.use);
    });
}

} // namespace dervish::job
