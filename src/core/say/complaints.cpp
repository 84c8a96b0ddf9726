#include "core/say/complaints.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/study/outside.h"

#include <cmath>

namespace dervish::say {
namespace {
using balance::Gives;
using Kind = Evidence::Kind;
using units::deg, units::Quantity;

struct Teller {
    std::vector<Evidence>& out;
    EvidenceBands bands;
    units::System system;
    std::string text(double si, Quantity quantity, int decimals) const {
        const bool inches = quantity == Quantity::Length && system != units::System::Metric;
        return units::text(si, quantity, system, decimals + inches);
    }
    void say(Kind kind, std::string words) { out.push_back({kind, std::move(words)}); }
    /// For the story where it holds, else against it.
    void figure(bool fits, std::string words) { say(fits ? Kind::Supports : Kind::Against, std::move(words)); }
    /// The same where `margin`, above 0 for the story, is beyond its band; else neither.
    void figure(double margin, double band, std::string words, const std::string& told_band) {
        if (band > 0) words += " ± " + told_band;
        if (std::abs(margin) < band)
            say(Kind::Open, words + ": cannot say");
        else
            figure(margin > 0, std::move(words));
    }
};

std::string in_g(double a) { return units::fixed(a / units::g, 2) + " g"; }
std::string degrees(double a) { return units::fixed(a / deg, 1) + "°"; }

void phase(Teller& t, const BalanceFigures& f, std::size_t which, Gives first) {
    const balance::Limit& l = which == 1 ? f.limit() : f.phase[which];
    const std::string words = balance::name_of(balance::all_phases[which]) + std::string(": ") + sentence(l);
    if (l.first == Gives::Tips || l.first == Gives::Nothing) return t.figure(false, words);
    // By how much the other end has more left; the band of it is that of the middle of the bend.
    t.figure(l.first == first ? l.left : -l.left, t.bands.balance, words,
             units::fixed(100 * t.bands.balance, 0) + " %");
}

void pushes(Teller& t, const Setup& s, const BalanceFigures& f, bool entry) {
    phase(t, f, entry ? 0 : 1, Gives::Front);
    if (f.understeer)
        t.figure(f.understeer->whole > 0,
                 "understeer gradient " + units::fixed(f.understeer->whole * units::g / deg, 1) + "°/g at 0.3 g");
    if (const auto other = other_turn(f)) t.say(Kind::Measure, "turns to both sides. " + *other);
    if (!entry && t.bands.front_bar) {
        const sure::BestBarBand& best = *t.bands.front_bar;
        const bool open = sure::how_sure_by(std::max(best.less, best.more)) == sure::Sure::CannotSay;
        const auto of_100 = [](double share) { return units::fixed(100 * share, 0); };
        t.say(open                    ? Kind::Open
              : best.less > best.more ? Kind::Supports
                                      : Kind::Against,
              "the front bar corners hardest at " + times_now(best.factor) + " (" + times_now(best.least) + " to " +
                  times_now(best.most) + "); of 100 such cars " + of_100(best.less) + " want less of it, " +
                  of_100(best.more) + " more" + (open ? ": cannot say" : ""));
    }
    if (s.front.stand.pressure.source == Source::Assumed || s.rear.stand.pressure.source == Source::Assumed)
        t.say(Kind::Measure, "pressures, warm, all four");
    t.say(Kind::Measure, "front toe and camber; a worn or unlike pair of tyres pushes one way only");
    t.say(Kind::Same,
          entry ? "turning in late with the brakes still on feels the same: brake in a straight line and try again"
                : "too much speed at the turn-in feels the same: enter slower and see whether it still pushes");
    t.say(Kind::Same, "a bar twisted at rest pushes one way: see Links, At rest");
}

void lets_go(Teller& t, const BalanceFigures& f, bool exit) {
    if (exit) {
        phase(t, f, 2, Gives::Rear);
        const int spins = f.phase[2].at.spins;
        t.figure(spins >= 0,
                 spins >= 0 ? std::string(car::wheel_names[static_cast<std::size_t>(spins)]) + " spins before the limit"
                            : "no driven wheel spins up to the limit at " + units::fixed(f.model.pull / units::g, 2) +
                                  " g along");
        t.figure(f.most_pull.spins >= 0, words_of(f.most_pull, 0.5 * f.limit().lateral));
        t.say(Kind::Measure, "which wheel spins: marks on the tyres, or someone watching");
        t.say(Kind::Same, "an early foot feels the same: feed the power in later");
    } else {
        phase(t, f, 3, Gives::Rear);
        t.say(Kind::Measure, "rear toe under load, bushes of the rear axle, rear pressures");
        t.say(Kind::Same, "a sudden lift feels worse than it is: ease off instead");
    }
}

void leans(Teller& t, const Vehicle& v, const Setup& s, const Assessment& a) {
    if (!std::isfinite(a.outcomes[RollGradient]))
        t.say(Kind::Supports, "it tips before 0.3 g: there is no roll gradient");
    else
        t.figure(a.outcomes[RollGradient] - 4.5 * deg / units::g, t.bands.roll,
                 "roll gradient " + units::fixed(a.outcomes[RollGradient] * units::g / deg, 1) + "°/g",
                 units::fixed(t.bands.roll * units::g / deg, 1) + "°/g");
    double aloft = 0;
    for (const Load& l : v.loads)
        if (is_aboard(l, s) && l.height.value > 1.3 * v.cg_height.value) aloft += l.mass.value;
    if (aloft > 0)
        t.say(Kind::Supports, t.text(aloft, Quantity::Mass, 0) + " ride well above the car's own centre of mass");
    const Outside push = outside(v);
    if (const auto lean = lean_by_person(a.car, push)) // a degree shows by eye, 0.2° on a gauge
        t.say(Kind::Measure, t.text(push.person, Quantity::Mass, 0) + " standing " +
                                 t.text(push.out, Quantity::Length, 0) + " out lean it " + degrees(*lean) +
                                 (*lean > 2 * deg     ? ": to be seen by eye"
                                  : *lean > 0.6 * deg ? ": an angle gauge shows it"
                                                      : ": too little for a gauge, stand more on it"));
    t.say(Kind::Measure, "the lean from a photo at a known speed and radius, or by the sill");
    t.say(Kind::Same, "tired dampers let it lean faster, not further");
}

void rocks(Teller& t, const Setup& s, const BalanceFigures& f) {
    for (const End end : both_ends) {
        const balance::Bump& bump = f.bump[index(end)];
        t.figure(bump.harshness > 1.35, std::string(name_of(end)) + ": one wheel feels " +
                                            units::fixed(bump.harshness, 2) + " times the spring");
        if (!t.bands.rocking || !s[end].fitted || !s[end].connected) continue;
        const double now = t.bands.rocking->now, without = t.bands.rocking->without[end];
        // A tenth more is about what a person notices.
        t.figure(now > 1.1 * without, "a kerb of " +
                                          t.text(rocking_kerb(f.model.car.front.track), Quantity::Length, 0) +
                                          " under one side tosses heads by " + units::fixed(now, 1) +
                                          " m/s², without the " + name_of(end) + " bar by " + units::fixed(without, 1));
    }
    t.say(Kind::Measure, "bar off one end and over the same pothole");
    t.say(Kind::Same, "hard low-speed damping and high pressures rock it too");
}

void slow(Teller& t, const BalanceFigures& f) {
    const balance::Run run = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    if (run.yaw_90)
        t.figure(*run.yaw_90 > 0.3,
                 "yaw reaches 90 % after " + units::fixed(*run.yaw_90, 2) + " s at " + t.text(20, Quantity::Speed, 0));
    if (run.lateral_90)
        t.figure(*run.lateral_90 > 0.45, "side force reaches 90 % after " + units::fixed(*run.lateral_90, 2) + " s");
    if (f.roll_damping)
        t.figure(*f.roll_damping < 0.25, "roll damping ratio " + units::fixed(*f.roll_damping, 2) +
                                             (*f.roll_damping < 0.25 ? ": it swings on" : ": it settles"));
    t.say(Kind::Measure, "dampers on the bench or by the clicks left; play in the links");
    t.say(Kind::Same, "slack in the links leaves the first of the lean without a bar");
}

void wind(Teller& t, const Vehicle& v, const Assessment& a) {
    const Outside push = outside(v);
    const auto lean = lean_in_wind(a.car, push);
    t.figure(!lean || *lean > 0.8 * deg, "a side wind of " + t.text(push.wind, Quantity::Force, 0) + " at " +
                                             t.text(push.height, Quantity::Length, 0) + " up " +
                                             (lean ? "leans it " + degrees(*lean) : std::string("blows it over")));
    t.say(Kind::Same, "toe out at the rear and low rear pressures wander without wind");
    t.say(Kind::Measure, "roof load off and the same road again");
}

void lifts(Teller& t, const Setup& s, const Assessment& a, const BalanceFigures& f) {
    const car::Handling& h = a.handling;
    if (std::isfinite(h.first_lift))
        t.figure(f.limit().lateral - h.first_lift, t.bands.limit,
                 std::string(car::wheel_names[static_cast<std::size_t>(h.first_wheel)]) + " lifts at " +
                     in_g(h.first_lift) + " " + car::turn_that_lifts(h.first_wheel) + ", the tyres hold to " +
                     in_g(f.limit().lateral),
                 units::fixed(t.bands.limit / units::g, 2) + " g");
    t.say(Kind::Measure, "on diagonal ramps a wheel hangs at " + t.text(a.ascent.height, Quantity::Length, 0));
    if (s.front.dampers.droop_gap.source != Source::Measured || s.rear.dampers.droop_gap.source != Source::Measured)
        t.say(Kind::Measure, "droop travel at both axles");
    t.say(Kind::Same, "a kerb taken with the inside wheels lifts one too");
}

void knocks(Teller& t, const Setup& s, const Assessment& a) {
    for (const End at : both_ends) {
        const Assembly& as = s[at];
        const std::string end = name_of(at);
        if (!as.fitted) continue;
        if (!as.connected) t.say(Kind::Supports, end + " links are off: what hangs loose must be tied up");
        if (as.links.play.value > 0)
            t.say(Kind::Supports, end + " links have " + t.text(as.links.play.value, Quantity::Length, 1) + " of play");
    }
    if (const auto least = smallest_link_margin(s, a))
        t.figure(least->first.left < 0, std::string(name_of(least->second)) + " link margin " +
                                            units::fixed(least->first.left / deg, 0) + "°, " + least->first.what);
    t.say(Kind::Measure,
          "each joint by hand, links off; the bar's bores; gaps at full lock and full droop (Links, Limits)");
    t.say(Kind::Same, "a loose damper top or anti-rattle clip knocks the same");
}

void suddenly(Teller& t, const BalanceFigures& f) {
    if (const auto& go = f.letting_go) {
        t.figure(go->growth > std::log(2.0),
                 "just beyond the limit an error " +
                     (go->growth > 0.01 ? "doubles in " + units::fixed(std::log(2.0) / go->growth, 1) + " s"
                                        : std::string("dies away")));
        t.figure(!go->back, go->back ? "steering eased, it follows again in " + units::fixed(*go->back, 1) + " s"
                                     : "easing the steering does not bring it back within 4 s");
        t.figure(go->lean < 0.3 * deg && go->steer < 2 * deg, "the last tenth before the limit is told by " +
                                                                  degrees(go->lean) + " of lean and " +
                                                                  degrees(go->steer) + " of steering");
    }
    t.say(Kind::Measure, "which end goes first, filmed from behind; pressures and tread of that end");
    t.say(Kind::Same, "cold or old tyres, and a bump in the bend, let go suddenly too");
}

void tosses(Teller& t, const BalanceFigures& f) {
    t.figure(f.ride.head > 0.315, "at the head, side to side: " + units::fixed(f.ride.head, 2) +
                                      " m/s² weighted, felt as uncomfortable from about 0.3");
    for (const End end : both_ends) {
        balance::Model without = f.model;
        without.car = with_bar(f.model.car, end, 0);
        const double less = 1 - ride_of(without).head / f.ride.head;
        t.figure(less > 0.1, std::string("without the ") + name_of(end) + " bar " +
                                 units::fixed(100 * std::abs(less), 0) + " % " + (less < 0 ? "more" : "less"));
    }
    t.say(Kind::Measure, "the same rough road with a bar's links off at one end, slowly");
    t.say(Kind::Same, "firm dampers and high pressures toss heads too; a tall seat does more than a bar");
}

void skates(Teller& t, const Vehicle& v, const Setup& s, const Assessment& a) {
    const balance::Model wet = to_model(v, s, a.car, ground_of(Complaint::Skates, {}));
    const balance::Limit limit = balance::outright_limit(wet);
    balance::Model plane = wet;
    plane.swing = {};
    const double cost = 1 - limit.lateral / balance::outright_limit(plane, &limit).lateral;
    t.figure(cost > 0.02, "wet and patched it holds " + in_g(limit.lateral) + ", " + units::fixed(100 * cost, 1) +
                              " % less than as wet a plane");
    for (const End end : both_ends) {
        balance::Model softer = wet;
        softer.car = with_bar(wet.car, end, 0.5);
        softer.swing = ride_of(softer).swing;
        const double more = balance::outright_limit(softer, &limit).lateral / limit.lateral - 1;
        t.figure(more > 0.005, std::string("with half the ") + name_of(end) + " bar there " +
                                   units::fixed(100 * std::abs(more), 1) + " % " + (more < 0 ? "less" : "more"));
    }
    if (const auto go = balance::letting_go(wet, limit, wet.road.speed))
        t.figure(go->sudden(), std::string("wet, its ") + (limit.first == Gives::Front ? "front" : "rear") +
                                   (go->sudden() ? " lets go suddenly" : " lets go gently"));
    t.say(Kind::Measure, "tread depth and pressures, all four; which end skates, filmed from behind");
    t.say(Kind::Same, "hard, old or worn tyres skate with any bar");
}

void skips(Teller& t, const Vehicle& v, const Setup& s, const Assessment& a) {
    const balance::Model ripples = to_model(v, s, a.car, ground_of(Complaint::Skips, {}));
    const car::State still = car::settle(ripples.car, {});
    const auto swing = [&](const balance::Model& m, End end) { // of its load, the wheel that swings more
        const balance::Ride ride = ride_of(m);
        double most = 0;
        for (std::size_t side = 0; side < 2; ++side) {
            const std::size_t w = wheel_at(end, side);
            most = std::max(most, ride.load[w] / std::max(1.0, still.wheels[w].load));
        }
        return most;
    };
    for (const End end : both_ends) {
        balance::Model without = ripples;
        without.car = with_bar(ripples.car, end, 0);
        const double own = swing(ripples, end), less = 1 - swing(without, end) / own;
        t.figure(own > 1.0 / 3, std::string(name_of(end)) + " wheels' loads swing by " + units::fixed(100 * own, 0) +
                                    " % on washboard" + (own > 1.0 / 3 ? ": in the air at times" : ""));
        t.figure(less > 0.05, std::string("without the ") + name_of(end) + " bar " +
                                  units::fixed(100 * std::abs(less), 0) + " % " + (less < 0 ? "more" : "less"));
    }
    t.say(Kind::Measure, "dampers by the clicks left and by hand; pressures hot; which axle skips, filmed from beside");
    t.say(Kind::Same, "tired dampers and hard tyres skip with any bar");
}

void floats(Teller& t, const BalanceFigures& f) {
    const std::vector<balance::Shake> shakes = balance::Shaken(f.model, {}, f.still).shakes();
    // The body on its springs: heave, pitch and roll are the slow ones.
    const balance::Shake* least = nullptr;
    for (const balance::Shake& s : shakes)
        if (s.frequency > 0.1 && s.frequency < 4 && s.damping < 1 && (!least || s.damping < least->damping)) least = &s;
    if (least)
        t.figure(least->damping < 0.2, "the body swings at " + units::fixed(least->frequency, 1) + " Hz damped by " +
                                           units::fixed(least->damping, 2) + " of critical" +
                                           (least->damping < 0.2 ? ": it swings on" : ": it settles"));
    for (const End end : both_ends)
        t.figure(f.bump[index(end)].ride < 1.1, std::string(name_of(end)) + " springs carry it at " +
                                                    units::fixed(f.bump[index(end)].ride, 2) + " Hz");
    t.say(Kind::Measure, "push each corner down and count the swings; damper clicks and leaks");
    t.say(Kind::Same, "a bar does not hold both wheels of an axle: heave floats with any bar");
}
} // namespace

const char* words_of(Complaint c) {
    static constexpr const char* words[] = {"pushes on entry",
                                            "pushes in the middle",
                                            "lets go on the way out",
                                            "lets go, throttle lifted",
                                            "leans",
                                            "rocks over single bumps",
                                            "slow to take a set",
                                            "moved by side wind",
                                            "lifts a wheel",
                                            "knocks underneath",
                                            "lets go suddenly",
                                            "tosses heads",
                                            "skates in the wet",
                                            "skips over ripples",
                                            "floats"};
    return words[static_cast<int>(c)];
}

Ground ground_of(Complaint c, Ground chosen) {
    return c == Complaint::Skates ? Ground::WetPatched : c == Complaint::Skips ? Ground::Washboard : chosen;
}

std::vector<Evidence> evidence(Complaint c, const Vehicle& v, const Setup& s, const Assessment& a,
                               const BalanceFigures& f, const EvidenceBands& bands, units::System system) {
    std::vector<Evidence> out;
    Teller t{out, bands, system};
    switch (c) {
    case Complaint::PushesEntry:
        pushes(t, s, f, true);
        break;
    case Complaint::PushesMiddle:
        pushes(t, s, f, false);
        break;
    case Complaint::LetsGoExit:
        lets_go(t, f, true);
        break;
    case Complaint::LetsGoLifted:
        lets_go(t, f, false);
        break;
    case Complaint::Leans:
        leans(t, v, s, a);
        break;
    case Complaint::Rocks:
        rocks(t, s, f);
        break;
    case Complaint::SlowToSet:
        slow(t, f);
        break;
    case Complaint::Wind:
        wind(t, v, a);
        break;
    case Complaint::LiftsWheel:
        lifts(t, s, a, f);
        break;
    case Complaint::Knocks:
        knocks(t, s, a);
        break;
    case Complaint::LetsGoSuddenly:
        suddenly(t, f);
        break;
    case Complaint::TossesHeads:
        tosses(t, f);
        break;
    case Complaint::Skates:
        skates(t, v, s, a);
        break;
    case Complaint::Skips:
        skips(t, v, s, a);
        break;
    case Complaint::Floats:
        floats(t, f);
        break;
    }
    return out;
}

std::optional<Aim> aim_of(Complaint c) {
    switch (c) {
    case Complaint::PushesEntry:
    case Complaint::PushesMiddle:
    case Complaint::LetsGoExit:
    case Complaint::LetsGoLifted:
        return Aim::Limit;
    case Complaint::Leans:
    case Complaint::Wind:
        return Aim::Lean;
    case Complaint::Rocks:
    case Complaint::TossesHeads:
        return Aim::RideFirst;
    case Complaint::SlowToSet:
    case Complaint::Floats:
        return Aim::Damping;
    case Complaint::LiftsWheel:
        return Aim::FirstLift;
    case Complaint::Skates:
    case Complaint::Skips:
        return Aim::Holds;
    case Complaint::Knocks:
    case Complaint::LetsGoSuddenly:
        break;
    }
    return {};
}

double wanted_for(Complaint c, double now) {
    switch (c) {
    case Complaint::PushesEntry:
    case Complaint::PushesMiddle:
        return now < -0.01 ? 0 : now + 0.02;
    case Complaint::LetsGoExit:
    case Complaint::LetsGoLifted:
        return now > 0.01 ? 0 : now - 0.02;
    case Complaint::SlowToSet:
    case Complaint::Floats:
        return std::max(0.3, 1.2 * now);
    case Complaint::LiftsWheel:
        return 1.1 * now;
    case Complaint::Skates:
    case Complaint::Skips:
        return 1.05 * now;
    default:
        return 0.85 * now;
    }
}

} // namespace dervish::say
