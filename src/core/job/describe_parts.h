#pragma once
#include "core/job/describe_bar.h"

/// What is fitted to a car, described (see describe_visit.h).
namespace dervish::job {

template <class V, Is<SpringPoint> T> void describe(V& v, T& p) {
    using namespace detail;
    v.field(p.travel, {"travel", "at travel", Length, Tape, -1000 * mm, 1000 * mm, "from ride height, bump positive"});
    v.field(p.force, {"force", "force added", Force, Test, -1e6, 1e6, "to the one at ride height; of one spring"});
}

template <class V, Is<SpringData> T> void describe(V& v, T& s) {
    using namespace detail;
    describe_part(v, s);
    v.field(s.rate, {"rate", "Spring rate", Rate, Test, 1, 5e6,
                     "at the wheel on independent suspension, of one spring on a solid axle"});
    v.flag("captive", "Springs held", s.captive);
    v.list("points", "Spring by points", s.points);
}

template <class V, Is<DamperData> T> void describe(V& v, T& d) {
    using namespace detail;
    describe_part(v, d);
    v.field(d.droop_gap, {"droop_gap", "Droop travel", Length, Tape, 0, 1000 * mm,
                          "from ride height until the damper is fully out"});
    v.field(d.droop_k, {"droop_k", "Droop stop rate", Rate, Test, 10, 1e8, "of the damper's end or strap"});
    v.field(d.bump_damping, {"bump_damping", "Bump damping", Damping, Test, 0.01, 1e6,
                             "slow, at the wheel; of one damper on a solid axle", "usual", 0});
    v.field(d.rebound_damping, {"rebound_damping", "Rebound damping", Damping, Test, 0.01, 1e6,
                                "slow, at the wheel; of one damper on a solid axle", "usual", 0});
    v.field(d.bump_clicks,
            {"bump_clicks", "Bump clicks", Number, Count, 0, 200, "that there are, from fully open", "none", 0});
    v.field(d.rebound_clicks,
            {"rebound_clicks", "Rebound clicks", Number, Count, 0, 200, "that there are, from fully open", "none", 0});
    since(v, 13, [&] {
        v.field(d.click,
                {"click", "One click adds", Number, Test, 0, 1,
                 "to the damping, as a share of it: 0.06 is 6 %; unknown: clicks change nothing", "unknown", 0});
        v.field(d.bump_set, {"bump_set", "Bump measured at", Number, Count, 0, 200,
                             "click at which the bump damping was measured, from fully open", "open", 0});
        v.field(d.rebound_set, {"rebound_set", "Rebound measured at", Number, Count, 0, 200,
                                "click at which the rebound damping was measured, from fully open", "open", 0});
    });
}

template <class V, Is<TyreData> T> void describe(V& v, T& t) {
    using namespace detail;
    describe_part(v, t);
    v.field(t.rate, {"rate", "Tyre rate", Rate, Test, 10, 5e6, "vertical, one tyre"});
    v.field(t.nominal_load,
            {"nominal_load", "Tyre's nominal load", Force, Test, 0.1, 1e5,
             "that the figures below are at, as its rating says; \"mean\": of the four wheels as weighed", "mean", 0});
    v.field(t.grip, {"grip", "Peak grip", Number, Test, 0.1, 3, "side force over load, dry, at nominal load"});
    v.field(t.grip_fall,
            {"grip_fall", "Grip falls with load", Number, Test, 0, 0.8, "of the peak, per nominal load more"});
    v.field(t.stiffness, {"stiffness", "Cornering stiffness", Number, Test, 1, 80,
                          "the most of it over nominal load, per radian of slip"});
    v.field(t.stiffness_load, {"stiffness_load", "reached at", Number, Test, 0.3, 6, "times nominal load"});
    v.field(t.camber_thrust, {"camber_thrust", "Camber thrust", Number, Test, 0, 1, "slip angle that camber is worth"});
    v.field(t.camber_loss,
            {"camber_loss", "Grip lost to camber", Number, Test, 0, 50, "of the peak, per rad² off the best"});
    v.field(t.best_camber, {"best_camber", "Grips most at", Angle, Test, -10 * deg, 10 * deg,
                            "inclination to the road in the turn; leaning into it is negative, as camber outside is"});
    v.field(t.relaxation, {"relaxation", "Relaxation length", Length, Test, 5 * mm, 3000 * mm,
                           "rolled until two thirds of the force"});
    v.field(t.best_pressure, {"best_pressure", "Grips most at pressure", Number, Test, 0.3, 2, "over the nominal one"});
    v.field(t.pressure_loss, {"pressure_loss", "Grip lost to pressure", Number, Test, 0, 5,
                              "of the peak, per nominal pressure squared"});
    v.field(t.diameter, {"diameter", "Tyre diameter", Length, Tape, 10 * mm, 2000 * mm,
                         "unloaded; noted, not in the sums", "unknown", 0});
    v.field(t.rim_width, {"rim_width", "Rim width", Length, Tape, 5 * mm, 800 * mm,
                          "between the flanges; noted, not in the sums", "unknown", 0});
    v.field(t.rim_offset, {"rim_offset", "Rim offset", Length, Tape, -300 * mm, 300 * mm,
                           "hub face outboard of the rim's middle is positive; noted, not in the sums"});
}

template <class V, Is<BraceData> T> void describe(V& v, T& b) {
    using namespace detail;
    describe_part(v, b);
    v.field(b.torsion, {"torsion", "Brace, torsion", TorsionalRate, Test, 0, 1e9, "added to the frame's", "none", 0});
}

template <class V, Is<StandData> T> void describe(V& v, T& s) {
    using namespace detail;
    v.choice("lift_by", "Raised by", s.lift_by, {"springs", "spacers", "tyres"});
    v.field(s.lift, {"lift", "Ride height change", Length, Tape, -200 * mm, 400 * mm,
                     "of the body at this axle from where the car was measured; lowered is negative", "none", 0});
    v.field(s.pressure, {"pressure", "Pressure", Number, PressureGauge, 0.3, 2, "over the tyre's nominal one"});
    v.field(s.left_grip, {"left_grip", "Left tyre's grip", Number, Test, 0.3, 3, "over the right one's: unlike tyres"});
    v.field(s.left_pressure,
            {"left_pressure", "Left tyre's pressure", Number, PressureGauge, 0.3, 3, "over the right one's"});
    v.field(s.camber, {"camber", "Camber", Angle, AngleGauge, -15 * deg, 15 * deg, "top inwards is negative"});
    v.field(s.toe, {"toe", "Toe", Angle, AngleGauge, -5 * deg, 5 * deg,
                    "of each wheel, in is positive; noted, not in the sums"});
    v.field(s.bump_click, {"bump_click", "Bump click", Number, Count, 0, 200,
                           "in use, from fully open; counts where it is known what one click adds", "open", 0});
    v.field(s.rebound_click, {"rebound_click", "Rebound click", Number, Count, 0, 200,
                              "in use, from fully open; counts where it is known what one click adds", "open", 0});
    v.choice("differential", "Differential", s.differential, {"open", "limited", "locked"});
}

template <class V, Is<AxleSetup> T> void describe(V& v, T& a) {
    describe_assembly(v, a);
    v.part("springs", "", a.springs);
    v.part("dampers", "", a.dampers);
    v.part("tyres", "", a.tyres);
    v.group("stand", "", a.stand); // their numbers are told as the axle's
}

template <class V, Is<Setup> T> void describe(V& v, T& s) {
    using namespace detail;
    v.text("name", "Setup", s.name);
    v.group("front", "Front axle", s.front);
    v.group("rear", "Rear axle", s.rear);
    v.part("brace", "Brace", s.brace);
    v.field(s.bias_ratio,
            {"bias_ratio", "Limited slip ratio", Number, Test, 1, 10, "torque of the gripping wheel over the other's"});
    v.texts("aboard", "Aboard", s.aboard);
    v.flag("stability_aid", "Stability aid", s.stability_aid);
}

template <class V, Is<Snapshot> T> void describe(V& v, T& s) {
    v.once("vehicle", s.vehicle);
    v.group("setup", "Setup", s.setup);
}

} // namespace dervish::job
