#include "core/job/complaints.h"

#include <cmath>

namespace dervish::job {
namespace {
using balance::Gives;
using Kind = Evidence::Kind;
using units::deg, units::g;

struct Teller {
    std::vector<Evidence>& out;
    void say(Kind kind, std::string words) { out.push_back({kind, std::move(words)}); }
    /// For the story where it holds, else against it.
    void figure(bool fits, std::string words) { say(fits ? Kind::Supports : Kind::Against, std::move(words)); }
};

std::string in_g(double a) { return units::fixed(a / g, 2) + " g"; }
std::string degrees(double a) { return units::fixed(a / deg, 1) + "°"; }

void phase(Teller& t, const BalanceFigures& f, std::size_t which, Gives end) {
    const balance::Limit& l = f.phase[which];
    const std::string words = balance::name_of(balance::all_phases[which]) + std::string(": ") + balance::sentence(l);
    t.figure(l.first == end, words);
}

void pushes(Teller& t, const Vehicle& v, const BalanceFigures& f, bool entry) {
    phase(t, f, entry ? 0 : 1, Gives::Front);
    if (f.understeer)
        t.figure(f.understeer->whole > 0,
                 "understeer gradient " + units::fixed(f.understeer->whole * g / deg, 1) + "°/g at 0.3 g");
    if (std::abs(f.right.lateral - f.limit().lateral) > 0.005 * g)
        t.say(Kind::Measure, "both ways: to the right " + balance::sentence(f.right));
    if (!entry) {
        const auto sweep = sweep_bar(f.model, true);
        const BestBar best = best_of(sweep);
        if (best.factor < 1)
            t.say(Kind::Supports,
                  "less front bar corners harder: " + in_g(best.limit) + " at × " + units::trimmed(best.factor, 2));
    }
    if (v.front.grip.pressure.source == Source::Assumed || v.rear.grip.pressure.source == Source::Assumed)
        t.say(Kind::Measure, "pressures, warm, all four");
    t.say(Kind::Measure, "front toe and camber; a worn or unlike pair of tyres pushes one way only");
    t.say(Kind::Same,
          entry ? "turning in late with the brakes still on feels the same: brake in a straight line and try again"
                : "too much speed at the turn-in feels the same: enter slower and see whether it still pushes");
    t.say(Kind::Same, "a bar twisted at rest pushes one way: see Links, At rest");
}

void lets_go(Teller& t, const BalanceFigures& f, bool exit) {
    if (exit) {
        const auto pull = balance::along(f.model, balance::pedal(balance::Phase::Exit),
                                         {f.phase[2].at.state.wheels[0].load, f.phase[2].at.state.wheels[1].load,
                                          f.phase[2].at.state.wheels[2].load, f.phase[2].at.state.wheels[3].load},
                                         f.phase[2].at.force);
        phase(t, f, 2, Gives::Rear);
        t.figure(pull.spins, pull.spins ? "the driven inside wheel spins before the limit"
                                        : "the inside wheel holds the drive up to the limit");
        t.say(Kind::Measure, "which wheel spins: marks on the tyres, or someone watching");
        t.say(Kind::Same, "an early foot feels the same: feed the power in later");
    } else {
        phase(t, f, 3, Gives::Rear);
        t.say(Kind::Measure, "rear toe under load, bushes of the rear axle, rear pressures");
        t.say(Kind::Same, "a sudden lift feels worse than it is: ease off instead");
    }
}

void leans(Teller& t, const Vehicle& v, const Assessment& a) {
    const double gradient = a.outcomes[RollGradient] * g / deg;
    t.figure(gradient > 4.5, "roll gradient " + units::fixed(gradient, 1) + "°/g; a few degrees are usual on the road");
    double aloft = 0;
    for (const Load& l : v.loads)
        if (l.aboard && l.height.value > 1.3 * v.cg_height.value) aloft += l.mass.value;
    if (aloft > 0) t.say(Kind::Supports, units::fixed(aloft, 0) + " kg ride well above the car's own centre of mass");
    t.say(Kind::Measure, "80 kg on the sill lean it " + degrees(lean_on_sill(a.car, 80)) + ": easy to check by eye");
    t.say(Kind::Measure, "the lean from a photo at a known speed and radius, or by the sill");
    t.say(Kind::Same, "tired dampers let it lean faster, not further");
}

void rocks(Teller& t, const BalanceFigures& f) {
    for (std::size_t e = 0; e < 2; ++e)
        t.figure(f.bump[e].harshness > 1.35,
                 std::string(e == 0 ? "front" : "rear") + ": one wheel feels " + units::fixed(f.bump[e].harshness, 2) +
                     " times the spring, and rocks the body " + units::fixed(f.bump[e].rock, 0) + " rad/s² per metre");
    t.say(Kind::Measure, "bar off one end and over the same pothole");
    t.say(Kind::Same, "hard low-speed damping and high pressures rock it too");
}

void slow(Teller& t, const BalanceFigures& f) {
    const balance::Run run = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    if (run.yaw_90)
        t.figure(*run.yaw_90 > 0.3, "yaw reaches 90 % after " + units::fixed(*run.yaw_90, 2) + " s at 20 m/s");
    if (run.lateral_90)
        t.figure(*run.lateral_90 > 0.45, "side force reaches 90 % after " + units::fixed(*run.lateral_90, 2) + " s");
    if (f.roll_damping)
        t.figure(*f.roll_damping < 0.25, "roll damping ratio " + units::fixed(*f.roll_damping, 2) +
                                             (*f.roll_damping < 0.25 ? ": it swings on" : ": it settles"));
    t.say(Kind::Measure, "dampers on the bench or by the clicks left; play in the links");
    t.say(Kind::Same, "slack in the links leaves the first of the lean without a bar");
}

void wind(Teller& t, const Vehicle& v, const Assessment& a) {
    const double height = wind_height(v), lean = lean_in_wind(a.car, 1000, height);
    t.figure(lean > 0.8 * deg, "1 kN of side wind at " + units::fixed(height, 2) + " m leans it " + degrees(lean));
    t.say(Kind::Same, "toe out at the rear and low rear pressures wander without wind");
    t.say(Kind::Measure, "roof load off and the same road again");
}

void lifts(Teller& t, const Vehicle& v, const Assessment& a, const BalanceFigures& f) {
    const car::Handling& h = a.handling;
    if (std::isfinite(h.first_lift))
        t.figure(h.first_lift < f.limit().lateral,
                 std::string(car::wheel_names[static_cast<std::size_t>(h.first_wheel)]) + " lifts at " +
                     in_g(h.first_lift) + ", the tyres hold to " + in_g(f.limit().lateral));
    t.say(Kind::Measure, "on diagonal ramps a wheel hangs at " + units::fixed(a.ascent.height / units::mm, 0) + " mm");
    if (v.front.droop_gap.source != Source::Measured || v.rear.droop_gap.source != Source::Measured)
        t.say(Kind::Measure, "droop travel at both axles");
    t.say(Kind::Same, "a kerb taken with the inside wheels lifts one too");
}

void knocks(Teller& t, const Setup& s, const Assessment& a) {
    for (const bool front : {true, false}) {
        const Assembly& as = front ? s.front : s.rear;
        const std::string end = front ? "front" : "rear";
        if (!as.fitted) continue;
        if (!as.connected) t.say(Kind::Supports, end + " links are off: what hangs loose must be tied up");
        if (as.links.play.value > 0)
            t.say(Kind::Supports,
                  end + " links have " + units::fixed(as.links.play.value / units::mm, 1) + " mm of play");
    }
    if (const auto least = smallest_link_margin(s, a))
        t.figure(least->first.left < 0, std::string(least->second ? "front" : "rear") + " link margin " +
                                            units::fixed(least->first.left / deg, 0) + "°, " + least->first.what);
    t.say(Kind::Measure,
          "each joint by hand, links off; the bar's bores; gaps at full lock and full droop (Links, Limits)");
    t.say(Kind::Same, "a loose damper top or anti-rattle clip knocks the same");
}
} // namespace

const char* words_of(Complaint c) {
    static constexpr const char* words[] = {
        "pushes on entry", "pushes in the middle",    "lets go on the way out", "lets go, throttle lifted",
        "leans",           "rocks over single bumps", "slow to take a set",     "moved by side wind",
        "lifts a wheel",   "knocks underneath"};
    return words[static_cast<int>(c)];
}

double wind_height(const Vehicle& v) { return 1.3 * v.cg_height.value; }

double lean_on_sill(const car::Car& car, double mass) {
    car::Car loaded = car;
    loaded.loads.push_back({mass, -car.wheelbase / 2, -(car.front.track + car.rear.track) / 4, 0.4});
    const auto lean = [](const car::Car& c) {
        const car::State s = car::settle(c, {});
        return (s.roll[0] + s.roll[1]) / 2;
    };
    return lean(loaded) - lean(car);
}

double lean_in_wind(const car::Car& car, double force, double height) {
    const auto lean = [&](double f) {
        const car::State s = car::settle(car, {.wind_force = f, .wind_height = height, .wind_x = -car.wheelbase / 2});
        return (s.roll[0] + s.roll[1]) / 2;
    };
    return lean(force) - lean(0);
}

std::vector<Evidence> evidence(Complaint c, const Vehicle& v, const Setup& s, const Assessment& a,
                               const BalanceFigures& f) {
    std::vector<Evidence> out;
    Teller t{out};
    switch (c) {
    case Complaint::PushesEntry:
        pushes(t, v, f, true);
        break;
    case Complaint::PushesMiddle:
        pushes(t, v, f, false);
        break;
    case Complaint::LetsGoExit:
        lets_go(t, f, true);
        break;
    case Complaint::LetsGoLifted:
        lets_go(t, f, false);
        break;
    case Complaint::Leans:
        leans(t, v, a);
        break;
    case Complaint::Rocks:
        rocks(t, f);
        break;
    case Complaint::SlowToSet:
        slow(t, f);
        break;
    case Complaint::Wind:
        wind(t, v, a);
        break;
    case Complaint::LiftsWheel:
        lifts(t, v, a, f);
        break;
    case Complaint::Knocks:
        knocks(t, s, a);
        break;
    }
    return out;
}

} // namespace dervish::job
