#pragma once
#include "core/job/describe_visit.h"

/// The bars of a job with what holds, moves and checks them, described (see describe_visit.h).
namespace dervish::job {

/// What every part has.
template <class V, class T> void describe_part(V& v, T& p) {
    v.text("id", "Id", p.id);
    v.text("name", "Name", p.name);
    v.text("origin", "Origin", p.origin);
    v.text("notes", "Notes", p.notes);
    v.number("price", p.price);
    v.mass("mass", p.mass);
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
    describe_part(v, b);
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
                {"arm_end", "Arm to its end", Length, Tape, 1 * mm, 1000 * mm, "square to the axis, to the arm's end"});
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
    describe_part(v, m);
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
    describe_part(v, l);
    v.choice("joints", "Joints", l.joints, {"unsaid", "ball", "rubber", "urethane", "rod_end"});
    v.field(l.length, {"length", "Link length", Length, Tape, 1 * mm, 1500 * mm, "centre to centre"});
    v.field(l.right_longer, {"right_longer", "Right link longer", Length, Tape, -200 * mm, 200 * mm,
                             "than the left one; shorter is negative", "equal", 0});
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

template <class V, Is<PickupData> T> void describe(V& v, T& p) {
    using namespace detail;
    v.choice("rule", "Pick-ups", p.rule, {"under_eyes", "placed"});
    where(v, p.rule == PickupRule::Placed, [&] { v.group("at", "Pick-up", p.at); });
    where(v, p.rule != PickupRule::Placed, [&] {
        v.choice("end", "Other end", p.end, {"below", "above"});
        v.field(p.forward, {"forward", "Leans forward", Length, Tape, -500 * mm, 500 * mm,
                            "other end ahead of the eye at ride height", "upright", 0});
        v.field(p.outward, {"outward", "Leans outward", Length, Tape, -500 * mm, 500 * mm,
                            "other end outboard of the eye at ride height", "upright", 0});
    });
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
    since(v, 16, [&] {
        v.optional_length("gap_lock", c.gap_lock);
        v.optional_length("gap_droop", c.gap_droop);
        v.optional_length("gap_bump", c.gap_bump);
    });
}

template <class V, Is<PlanData> T> void describe(V& v, T& p) {
    using namespace detail;
    v.field(p.off_square, {"off_square", "Off square, at most", Angle, AngleGauge, 10 * deg, 80 * deg,
                           "of the link at full droop; 55 is the usual caution"});
    v.field(p.preload, {"preload", "Preload, left wheel", Force, Scale, -20000, 20000,
                        "load that the bar is to add to it at rest; for straight-line launches", "none", 0});
}

/// Of an assembly, or of what more an axle carries.
template <class V, class T> void describe_assembly(V& v, T& a) {
    v.flag("fitted", "Bar fitted", a.fitted);
    v.flag("connected", "Links connected", a.connected);
    v.choice("held", "Held by", a.held, {"links", "clamped"});
    v.part("bar", "Bar", a.bar);
    where(v, a.held == Held::Links, [&] {
        v.part("mounts", "Mounts", a.mounts);
        v.part("links", "Links", a.links);
        v.group("pickups", "Pick-ups", a.pickups);
    });
    where(v, a.held != Held::Links, [&] { v.group("trailing_arms", "Trailing arms", a.trailing_arms); });
    v.group("plan", "Link plan", a.plan);
    v.index("left_eye", "Left eye", a.left_eye);
    v.index("right_eye", "Right eye", a.right_eye);
}

template <class V, Is<Assembly> T> void describe(V& v, T& a) { describe_assembly(v, a); }

} // namespace dervish::job
