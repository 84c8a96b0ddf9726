#include "core/say/doubts.h"

#include "core/model/model.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
namespace {
using units::deg, units::g, units::inch, units::mm, units::pound_force;
constexpr double pound_per_inch = pound_force / inch;

struct Asker {
    std::vector<Doubt>& out;
    void ask(const std::string& path, std::string words) { out.push_back({path, std::move(words)}); }
    /// A value that is far from `usual` and would be near it by `factor`.
    void unit(const std::string& path, const Measured& m, double usual, double factor, const char* words) {
        if (!(m.value > 0) || !(usual > 0)) return;
        const double off = std::abs(std::log(m.value / usual)), then = std::abs(std::log(m.value * factor / usual));
        if (off > 1.2 && then < 0.6) ask(path, words);
    }
};

std::string percent(double share) { return units::fixed(100 * share, 0) + " %"; }

void of_axle(Asker& t, const AxleData& a, const AxleSetup& trial, const AxleSetup& fitted, const std::string& path,
             double load, double wheelbase) {
    if (a.kind == AxleKind::Independent && a.motion_ratio.value > 1.2)
        t.ask(path + "motion_ratio", "More than 1.2: is it the wheel's travel over the link's? Upside down it is " +
                                         units::trimmed(1 / a.motion_ratio.value, 2));
    t.unit(path + "track", a.track, 0.55 * wheelbase, inch / mm, "Inches? Against the wheelbase it is very small");
    // A sprung corner swings at 1 to 2.5 Hz, of a small car faster by the root of its size; 1 lb/in is 0.175 N/mm.
    const double corner = (load / 2 - a.unsprung_mass.value / 2) * std::pow(2 * units::pi * 1.5, 2) * 2.6 / wheelbase;
    for (const auto& [on, name] : {std::pair{&trial, "trial/"}, {&fitted, "fitted/"}}) {
        const std::string at = name + path.substr(path.find('/') + 1);
        t.unit(at + "springs/rate", on->springs.rate, corner, pound_per_inch / 1000,
               "Pounds an inch? It would swing very fast");
        t.unit(at + "tyres/rate", on->tyres.rate, 8 * corner, pound_per_inch / 1000, "Pounds an inch? It is very hard");
        t.unit(at + "tyres/nominal_load", on->tyres.nominal_load, load / 2 * g, pound_force,
               "Pounds? It is a small part of what the wheel carries");
    }
}

void of_assembly(Asker& t, const AxleSetup& a, const AxleData& axle, const std::string& path) {
    if (!a.fitted) return;
    const BarData& b = a.bar;
    const double track = axle.track.value;
    t.unit(path + "bar/outer_diameter", b.outer_diameter, 0.015 * track, inch / mm,
           "Inches? Against the track it is very thin");
    if (b.form == Form::Sizes) {
        t.unit(path + "bar/centre_length", b.centre_length, 0.6 * track, inch / mm,
               "Inches? Against the track it is very short");
        for (std::size_t i = 0; i < b.eyes.size(); ++i) {
            const Measured& arm = b.eyes[i].arm_length;
            const std::string at = path + "bar/eyes/" + std::to_string(i) + "/arm_length";
            t.unit(at, arm, 0.16 * track, inch / mm, "Inches? Against the track it is very short");
            if (b.splay.value > 12 * deg && arm.source == Source::Measured)
                t.ask(at, "Square to the bar's axis? Along an arm splayed by " + units::fixed(b.splay.value / deg, 0) +
                              "° it is " + percent(1 / std::cos(b.splay.value) - 1) + " longer");
        }
        if (axle.kind == AxleKind::Solid && a.held == Held::Links && a.pickups.rule == PickupRule::UnderEyes &&
            std::abs(b.centre_length.value / track - 1) < 0.02)
            t.ask(path + "bar/centre_length", "As wide as the track: is it between the arms, where the links are?");
    }
    if (axle.kind == AxleKind::Solid && a.pickups.rule == PickupRule::Placed &&
        std::abs(2 * a.pickups.at.out.value / track - 1) < 0.02)
        t.ask(path + "pickups/at/out", "As far out as the wheels: the base is where the links are, not the track");
    t.unit(path + "links/length", a.links.length, 0.13 * track, inch / mm, "Inches? It is a very short link");
    const double lambda =
        bar::bend_characteristic(bar::Round{b.outer_diameter.value, b.wall.value}, b.bend_radius.value);
    if (b.form == Form::Sizes && lambda < 0.3)
        t.ask(path + "bar/wall", "Too thin for its bend: a tube bent to this radius folds, and flattens more than the "
                                 "sums can tell; a thicker wall or a wider bend");
}
} // namespace

std::vector<Doubt> doubts(const Job& job) {
    std::vector<Doubt> out;
    Asker t{out};
    const Vehicle& v = job.vehicle;
    const double front = v.front_left_load.value + v.front_right_load.value,
                 rear = v.rear_left_load.value + v.rear_right_load.value, mass = front + rear;
    // Of a car's mass the cube root gives its size: 2.7 m at 1400 kg.
    const double size = 2.7 * std::cbrt(mass / 1400);
    t.unit("vehicle/wheelbase", v.wheelbase, size, inch / mm, "Inches? For its mass it is very short");
    t.unit("vehicle/cg_height", v.cg_height, 0.2 * v.wheelbase.value, inch / mm,
           "Inches? Against the wheelbase it is very low");
    if (front > 0 && rear > 0) {
        const double left_front = v.front_left_load.value / front - 0.5,
                     left_rear = v.rear_left_load.value / rear - 0.5;
        if (left_front * left_rear < 0 && std::abs(left_front - left_rear) > 0.05)
            t.ask("vehicle/front_left_load",
                  "The front says one side is heavier and the rear the other, by " +
                      percent(2 * std::abs(left_front - left_rear)) +
                      " of an axle: left and right swapped, or a twist in springs or frame?");
    }
    of_axle(t, v.front, job.trial.front, job.fitted.front, "vehicle/front/", front, v.wheelbase.value);
    of_axle(t, v.rear, job.trial.rear, job.fitted.rear, "vehicle/rear/", rear, v.wheelbase.value);
    for (const auto& [setup, name] : {std::pair{&job.trial, "trial/"}, {&job.fitted, "fitted/"}}) {
        of_assembly(t, setup->front, v.front, std::string(name) + "front/");
        of_assembly(t, setup->rear, v.rear, std::string(name) + "rear/");
    }
    return out;
}

} // namespace dervish::say
