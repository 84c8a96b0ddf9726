#include "core/say/working.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/say/flex_words.h"

#include "core/say/use_words.h"

#include <Eigen/Geometry>
#include <cmath>

namespace dervish::say {
namespace {
using units::Quantity;

constexpr const char* from_model = "docs/model.md, The car";

const char* word(Source s) { return s == Source::Measured ? "measured" : s == Source::Quoted ? "quoted" : "assumed"; }

struct Scribe {
    Working& out;
    units::System system;

    /// Decimals as of millimetres: an inch has two more.
    std::string text(double si, Quantity q, int decimals = -1) const {
        const bool inches = q == Quantity::Length && system != units::System::Metric && decimals >= 0;
        return units::text(si, q, system, inches ? decimals + 2 : decimals);
    }
    void line(const std::string& what, const std::string& value, const std::string& from) {
        out.lines.push_back({what, value, from});
    }
    void input(const std::string& what, const Measured& m, Quantity q) { line(what, text(m.value, q), word(m.source)); }
    void stiffness(const char* end, const car::Axle& axle, const AxleData& data, const AxleSetup& on,
                   const std::optional<BarFigures>& bar) {
        const RollStiffness k = roll_stiffness(axle);
        const std::string name = end;
        const bool solid = axle.kind == AxleKind::Solid;
        line(name + " springs, " + (solid ? "k b²/2" : "k t²/2"), text(k.springs, Quantity::TorsionalRate, 0),
             std::string(word(on.springs.rate.source)) + " rate " + text(on.springs.rate.value, Quantity::Rate));
        line(name + " bar", text(k.bar, Quantity::TorsionalRate, 0),
             k.bar == 0 || !bar
                 ? "no bar, or not connected"
                 : "rate at the links × (link per wheel)² × t²/2, link per wheel " + units::trimmed(bar->sums.gear, 3));
        line(name + " parasitic", text(k.parasitic, Quantity::TorsionalRate, 0),
             word(data.parasitic_roll_stiffness.source));
        line(name + " tyres in series, k t²/2", text(k.tyres, Quantity::TorsionalRate, 0), word(on.tyres.rate.source));
    }
};

double wheel_roll_moment(const car::Car& car, const car::State& s, int left) {
    const car::Axle& axle = car[end_of(static_cast<std::size_t>(left))];
    const auto l = static_cast<std::size_t>(left);
    return axle.track * (s.wheels[l + 1].load - s.wheels[l].load) / 2;
}

void roll(Scribe& s, const Vehicle& v, const Setup& setup, const Assessment& a) {
    const car::Loaded l = car::loaded(a.car);
    s.out.formula = "lean per g = W h / (K front + K rear − W h), W h summed over the axles, h from the roll centre up "
                    "to the sprung mass";
    for (const End end : both_ends) {
        const car::Axle& axle = a.car[end];
        const std::string name = name_of(end);
        s.line(name + " sprung weight, loads aboard", s.text(l.share[index(end)] * units::g, Quantity::Force),
               "scales less unsprung mass, plus loads");
        s.line(name + " roll arm h", s.text(l.z - axle.roll_centre_height, Quantity::Length, 0),
               "sprung mass less roll centre height");
    }
    s.stiffness("front", a.car.front, v.front, setup.front, a.front);
    s.stiffness("rear", a.car.rear, v.rear, setup.rear, a.rear);
    const double hand = hand_roll_gradient(a.car) * units::g / units::deg;
    if (!std::isfinite(a.outcomes[RollGradient])) {
        const auto over = car::rollover_threshold(a.car);
        s.out.remark = "By hand " + units::fixed(hand, 2) + "°/g, but the car tips before 0.3 g" +
                       (over ? ": at " + units::fixed(over->acceleration / units::g, 2) + " g, " +
                                   car::turn_that_lifts(over->wheel)
                             : std::string()) +
                       ". There is no roll gradient.";
        return;
    }
    s.out.remark = "By hand " + units::fixed(hand, 2) +
                   "°/g. The equilibrium, ±0.3 g with stops, frame twist and lean in full: " +
                   units::fixed(a.outcomes[RollGradient] * units::g / units::deg, 2) + "°/g.";
    s.out.source = "Milliken & Milliken 1995, ch. 18; equilibrium: " + std::string(from_model);
}

void share(Scribe& s, const Assessment& a) {
    const car::State level = car::settle(a.car, {}),
                     turn = car::settle(a.car, {.lateral_acceleration = 0.3 * units::g}, &level);
    s.out.formula = "front share = t_f (F right − F left) front / the same summed over both axles";
    const double front = wheel_roll_moment(a.car, turn, 0) - wheel_roll_moment(a.car, level, 0);
    const double rear = wheel_roll_moment(a.car, turn, 2) - wheel_roll_moment(a.car, level, 2);
    for (std::size_t w = 0; w < 4; ++w)
        s.line(std::string(car::wheel_names[w]) + " load at 0.3 g, left turn",
               s.text(turn.wheels[w].load, Quantity::Force), "equilibrium");
    s.line("front moment", s.text(front, Quantity::Moment, 0), "track × load difference / 2, less that at rest");
    s.line("rear moment", s.text(rear, Quantity::Moment, 0), "the same");
    const RollStiffness f = roll_stiffness(a.car.front), r = roll_stiffness(a.car.rear);
    s.line("share of roll stiffness at the front", units::fixed(100 * f.whole() / (f.whole() + r.whole()), 1) + " %",
           "springs, bar, parasitic, tyres");
    s.out.remark = "From this turn alone " + units::fixed(100 * front / (front + rear), 1) +
                   " %; the tally averages left and right turns. Roll centres carry their part directly, so the share "
                   "is not that of stiffness alone.";
    s.out.source = "moments about the ground; " + std::string(from_model);
}

void limit(Scribe& s, const Vehicle& vehicle, const Setup& setup, const Assessment& a) {
    const balance::Limit l = balance::outright_limit(to_model(vehicle, setup, a.car));
    s.out.figure = "Outright limit, dry";
    s.out.result = units::fixed(l.lateral / units::g, 2) + " g";
    s.out.formula =
        "the lateral acceleration at which one axle's two tyres, at the loads that lean and bars give them, "
        "together hold no more than its share of mass times acceleration";
    const std::size_t inner = l.turn == balance::Turn::Left ? 0 : 1;
    for (const End of : both_ends) {
        const std::size_t e = index(of);
        const std::string end = name_of(of);
        s.line(end + " has to hold", s.text(l.at.need[e], Quantity::Force, 0), "its masses times the acceleration");
        s.line(end + " could hold", s.text(l.at.most[e], Quantity::Force, 0),
               "inner " + s.text(l.at.state.wheels[2 * e + inner].load, Quantity::Force, 0) + ", outer " +
                   s.text(l.at.state.wheels[2 * e + 1 - inner].load, Quantity::Force, 0) + ", grip falling with load");
        s.input(end + " peak grip", setup[of].tyres.grip, Quantity::Number);
    }
    const car::Handling& h = a.handling;
    s.line("first wheel lifts at",
           std::isfinite(h.first_lift) ? units::fixed(h.first_lift / units::g, 2) + " g, " +
                                             car::wheel_names[static_cast<std::size_t>(h.first_wheel)] + ", " +
                                             car::turn_that_lifts(h.first_wheel)
                                       : "not below 2 g",
           "equilibrium, turns to either side; side force at the masses' heights");
    if (const auto threshold = car::rollover_threshold(a.car))
        s.line("no longer stands beyond",
               units::fixed(threshold->acceleration / units::g, 2) + " g, " + car::turn_that_lifts(threshold->wheel),
               "equilibrium, both inner wheels light");
    s.out.remark = sentence(l) + ". A steady turn on a flat, dry surface; a kerb, a slope or a quick swerve "
                                 "tips a tall car sooner.";
    s.out.source = std::string(from_model) + "; tyres: Pacejka 2012, 4.3.2";
}

void heads(Scribe& s, const Vehicle& vehicle, const Setup& setup, const Assessment& a) {
    const Ground ground = bands_of(vehicle.use).ground;
    const balance::Model m = to_model(vehicle, setup, a.car, ground);
    const balance::Ride ride = ride_in_use(vehicle, m);
    const double up = balance::head_over_centre(m);
    const auto acceleration = [](double x) { return units::fixed(x, 2) + " m/s²"; };
    s.out.figure = "Heads tossed from side to side";
    s.out.result = acceleration(ride.head);
    s.out.formula =
        "root mean square of the body's roll acceleration on the rough road, each frequency weighted by what "
        "people feel sideways, times the height of a head above the body's centre of mass";
    s.line("use of the car", words_of(vehicle.use.use).name, "Balance, Use");
    s.line("so on ground that is", name_of(ground),
           m.road.plane() ? "a plane: a good road, class A" : "Balance, Ground");
    s.line("at", s.text(m.road.speed, Quantity::Speed, 0), "usual there");
    s.line("roll acceleration, not weighted", units::fixed(ride.roll, 2) + " rad/s²", "road, tyres, dampers, bars");
    s.line("head above the centre of mass", s.text(up, Quantity::Length, 0), "0.7 of its height, assumed");
    s.line("both multiplied", acceleration(ride.roll * up), "what is shaken too fast to be felt included");
    s.line("roll inertia", units::fixed(m.roll_inertia, 0) + " kg·m²",
           vehicle.handling.roll_inertia.value > 0 ? word(vehicle.handling.roll_inertia.source) : "by the car's sizes");
    s.out.remark =
        "Small motion about standing still on dampers that are alike in bump and rebound. Wheels that leave the "
        "ground, stops and play in the joints are not in it.";
    s.out.source = "ISO 2631-1 (W_d), ISO 8608; docs/model.md, Ride";
}

void ramps(Scribe& s, const Assessment& a, Figure figure) {
    const car::State& at = a.ascent.state;
    s.out.formula = figure == Figure::Lift
                        ? "ramps under front left and rear right rise together until another wheel carries nothing"
                        : "travel of the axle's two wheels against each other at the lift height";
    s.line(a.ascent.lifted ? "lift height" : "more than", s.text(a.ascent.height, Quantity::Length, 0),
           a.ascent.lifted
               ? std::string(car::wheel_names[static_cast<std::size_t>(a.ascent.light_wheel)]) + " goes light"
               : "ramps end first");
    for (std::size_t w = 0; w < 4; ++w)
        s.line(std::string(car::wheel_names[w]) + " travel", s.text(at.wheels[w].travel, Quantity::Length, 0),
               limit_of(at.wheels[w], s.system) + ", " + s.text(at.wheels[w].load, Quantity::Force));
    s.line("body lean", s.text(at.roll[0], Quantity::Angle, 1), "front end of the body");
    const double front = a.ascent.front_travel / a.car.front.track, rear = a.ascent.rear_travel / a.car.rear.track;
    s.line("twist between the axles", s.text(front + rear, Quantity::Angle, 1),
           "axle travel over track, front plus rear");
    s.out.remark = "Energy of springs, bars, stops, tyres and weights at its least, solved at each height; no wheel "
                   "may pull on the ground.";
    s.out.source = from_model;
}

void link_margin(Scribe& s, Working& out, const Vehicle& vehicle, const Setup& setup, const Assessment& a) {
    out.formula = "margin = stop − angle, least over both wheels, opposite and one alone, from full droop into the "
                  "bump stop; off square: "
                  "between link and the eye's way, 90° is over centre, stop 70°";
    out.source = "docs/model.md, Limits of the links";
    const auto least = smallest_link_margin(setup, a);
    if (!least) {
        out.result = "no links on";
        return;
    }
    const auto& [margin, at_end] = *least;
    const AxleData& axle = vehicle[at_end];
    const linkage::BarEnd& end = a[at_end]->sums.law->ends()[margin.end];
    out.result = s.text(margin.left, Quantity::Angle, 0);
    s.line("which", margin.what, name_of(at_end) + std::string(" ") + (margin.end == 0 ? "left" : "right"));
    s.line("this wheel at", s.text(margin.at.own, Quantity::Length, 0), "bump positive");
    s.line("the other wheel at", s.text(margin.at.other, Quantity::Length, 0), "bump positive");
    const linkage::Branch branch = linkage::branch_needed(end, margin.end == 0);
    const Eigen::Vector3d axis = (end.mounts[1] - end.mounts[0]).normalized();
    if (const auto at = linkage::at(end, branch, margin.at)) {
        const Eigen::Vector3d link = (at->eye - at->pickup).normalized(),
                              way = axis.cross(at->eye - end.mounts[0]).normalized();
        const auto triple = [&](const Eigen::Vector3d& v) {
            return units::fixed(v.x(), 3) + ", " + units::fixed(v.y(), 3) + ", " + units::fixed(v.z(), 3);
        };
        s.line("the link points", triple(link), "forward, left, up");
        s.line("the eye's way", triple(way), "square to its arm and the bar's axis");
        s.line("off square there", s.text(at->off_square, Quantity::Angle, 1), "acos |link · way|");
        s.line("off its pick-up's way", s.text(at->off_pickup, Quantity::Angle, 1), "the bar stops following at 90°");
    } else {
        s.line("there", "over centre", "the link no longer reaches the eye's circle");
    }
    s.line("the angle itself", s.text(margin.value, Quantity::Angle, 1), "caution from 55°");
    const LinkData& l = setup[at_end].links;
    s.input("link length", l.length, Quantity::Length);
    s.input("droop travel", setup[at_end].dampers.droop_gap, Quantity::Length);
    s.input("bump travel", axle.bump_gap, Quantity::Length);
    out.remark = l.tilt.value < units::pi / 2 ? "Joints counted with what they tilt."
                                              : "Joints not counted: how far they tilt is unknown.";
    out.remark += " Distances to wheels and hoses stand under Links.";
}
} // namespace

Working working(const Vehicle& vehicle, const Setup& setup, const Assessment& a, Figure figure, units::System system) {
    Working out;
    Scribe scribe{out, system};
    switch (figure) {
    case Figure::Roll:
        out.figure = "Roll gradient";
        out.result = units::fixed(a.outcomes[RollGradient] * units::g / units::deg, 2) + "°/g";
        roll(scribe, vehicle, setup, a);
        break;
    case Figure::Share:
        out.figure = "Front share of load transfer";
        out.result = units::fixed(100 * a.outcomes[FrontShare], 1) + " %";
        share(scribe, a);
        break;
    case Figure::Limit:
        limit(scribe, vehicle, setup, a);
        break;
    case Figure::Heads:
        heads(scribe, vehicle, setup, a);
        break;
    case Figure::Lift:
        out.figure = "Lift height on diagonal ramps";
        out.result =
            std::string(a.ascent.lifted ? "" : "more than ") + scribe.text(a.ascent.height, Quantity::Length, 0);
        ramps(scribe, a, figure);
        break;
    case Figure::FrontTravel:
    case Figure::RearTravel:
        out.figure = figure == Figure::FrontTravel ? "Front travel on the ramps" : "Rear travel on the ramps";
        out.result = scribe.text(figure == Figure::FrontTravel ? a.ascent.front_travel : a.ascent.rear_travel,
                                 Quantity::Length, 0);
        ramps(scribe, a, figure);
        break;
    case Figure::LinkMargin:
        out.figure = "Smallest link margin";
        link_margin(scribe, out, vehicle, setup, a);
        break;
    }
    return out;
}

std::string no_figures(const job::Vehicle& vehicle, const study::Assessment& a, units::System system) {
    const car::Loaded l = car::loaded(a.car);
    for (const End end : both_ends)
        if (l.share[index(end)] <= 0)
            return std::string("the car does not stand: with what is aboard, its weight lies ") +
                   (end == End::Front ? "behind the rear axle" : "ahead of the front axle") +
                   "; look at the wheelbase (" + units::text(vehicle.wheelbase.value, Quantity::Length, system) +
                   ") and at where the loads are";
    constexpr double flat = 0.15; // m: more than any tyre gives
    for (const End end : both_ends) {
        const car::Axle& axle = a.car[end];
        const double gives = (l.share[index(end)] + axle.unsprung_mass) * units::g / (2 * axle.tyre_rate);
        if (gives > flat)
            return std::string("the ") + name_of(end) +
                   " tyres are pressed flat: " + units::text(axle.tyre_rate, Quantity::Rate, system) +
                   " would let the car down by " + units::text(gives, Quantity::Length, system) +
                   "; look at the tyres' rate";
    }
    if (const auto over = car::rollover_threshold(a.car))
        return "the car tips over at " + units::fixed(over->acceleration / units::g, 2) + " g " +
               car::turn_that_lifts(over->wheel) +
               ", before the 0.3 g at which these are told; less height of the mass, less load up high or more track "
               "would do";
    return "the car does not stand as it is described; look at the loads, the wheelbase, the tracks and the springs";
}

} // namespace dervish::say
