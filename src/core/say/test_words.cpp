#include "core/say/proof_words.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
namespace {
using proof::Agreement, proof::Channel;
using units::System;

const Channel& channel_of(const PlannedTest& test, std::size_t at) {
    return proof::protocol(test.protocol).channels[at];
}
const std::string& name_of(const PlannedTest& test, int state) {
    return test.states[static_cast<std::size_t>(state)].name;
}
double half_90(double sigma) { return band_90 * sigma; }
std::string in_100(double chance) { return units::fixed(std::round(100 * chance), 0) + " in 100"; }
std::string in_words(double z) { return units::fixed(std::abs(z), 1); }
std::string end_word(const std::optional<End>& end) { return end ? dervish::name_of(*end) : ""; }
std::string begun_large(std::string words) {
    if (!words.empty()) words[0] = static_cast<char>(std::toupper(static_cast<unsigned char>(words[0])));
    return words;
}
/// The two inputs that widen a figure most, in words.
std::string widest_inputs(const job::Prediction& of, std::size_t at) {
    std::vector<const job::PredictedShare*> shares;
    for (const job::PredictedShare& s : of.shares)
        if (s.path.find('/') != s.path.npos) shares.push_back(&s);
    std::ranges::sort(shares, std::greater(), [&](const job::PredictedShare* s) { return std::abs(s->change[at]); });
    std::string out;
    for (std::size_t i = 0; i < std::min<std::size_t>(2, shares.size()); ++i)
        out += (i ? " and " : "") + shares[i]->label;
    return out;
}
} // namespace

std::string figure(double si, const Channel& channel, System system, bool unit) {
    const units::Unit u = units::shown(channel.spec.quantity, system);
    const double resolves = std::max(channel.read_to, channel.read_share * std::abs(si)) / u.factor;
    const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(std::max(resolves, 1e-9) / 1.4))), 0, 4);
    return unit ? units::text(si, channel.spec.quantity, system, decimals) : units::fixed(si / u.factor, decimals);
}

std::string change(double si, const Channel& channel, System system, bool unit) {
    return (si >= 0 ? "+" : "−") + figure(std::abs(si), channel, system, unit);
}

std::string state_told(const PlannedTest& test, int state, std::size_t at, System system) {
    const Channel& c = channel_of(test, at);
    const proof::Verdict v = proof::compare(test, state, at);
    if (v.agreement == Agreement::NothingRead) return "nothing read yet";
    const bool more = test.states[static_cast<std::size_t>(state)].prediction.tells[at] == job::PredictedMoreThan;
    if (v.agreement == Agreement::CannotTell)
        return "cannot tell: the sum has no such figure for this car; read " + figure(v.measured, c, system);
    return words_of(v.agreement) + ": read " + figure(v.measured, c, system) + " ± " +
           figure(half_90(v.measured_sigma), c, system, false) + ", predicted " + (more ? "more than " : "") +
           figure(v.predicted, c, system) + " ± " + figure(half_90(v.predicted_sigma), c, system, false);
}

Told told(const proof::BackToBack& b, const PlannedTest& test, std::size_t at, int first, int second, System system) {
    const Channel& c = channel_of(test, at);
    Told out;
    const std::string size = change(b.difference, c, system) + " ± " + figure(b.half_90, c, system, false);
    const char* sign = b.difference > 0 ? "more" : "less";
    out.headline = size + ": " +
                   (b.sure == sure::Sure::Surely     ? std::string("surely ") + sign
                    : b.sure == sure::Sure::Probably ? std::string("probably ") + sign
                                                     : std::string("cannot say that there is any"));
    if (b.predicted) {
        out.headline += b.agreement == Agreement::CannotTell ? "; these runs tell neither for nor against the sum"
                        : b.agreement == Agreement::Agrees   ? ", and as the sum says"
                        : b.agreement == Agreement::Doubtful ? ", hardly as the sum says"
                                                             : ", not as the sum says";
        out.detail = "the sum: " + change(*b.predicted, c, system) + " ± " +
                     figure(half_90(b.predicted_sigma), c, system, false) + "; ";
    }
    out.detail += "two tests on two days: ± " + figure(b.apart_half_90, c, system, false);
    if (b.drift) out.detail += "; a drift of " + change(*b.drift, c, system) + " a run is taken out";
    out.detail = name_of(test, second) + " less " + name_of(test, first) + ": " + out.detail;
    return out;
}

Told told(const PlannedTest& test, System system) {
    const proof::Protocol& p = proof::protocol(test.protocol);
    const proof::Whole whole = proof::compare(test);
    Told out;
    if (p.channels.empty())
        return {"Felt, not computed", "What people felt stands below; nothing is predicted for it."};
    if (whole.agreement == Agreement::NothingRead)
        return {"Predicted: nothing read yet", "Type what the first run read at the right."};
    // The first channel's farthest state carries the headline.
    int worst = -1;
    double most = -1;
    for (int s = 0; s < static_cast<int>(test.states.size()); ++s) {
        const proof::Verdict v = proof::compare(test, s, 0);
        if (v.agreement == Agreement::NothingRead || v.agreement == Agreement::CannotTell) continue;
        if (const double off = v.bound && v.agreement == Agreement::Agrees ? 0 : std::abs(v.z); off > most) {
            most = off;
            worst = s;
        }
    }
    switch (whole.agreement) {
    case Agreement::CannotTell:
        out.headline = worst < 0 ? "Cannot tell: the sum has no figure for what was read"
                                 : "Cannot tell: a reading is given no spread";
        break;
    case Agreement::TooWide:
        out.headline = "Too wide to tell: nearly anything would have agreed";
        break;
    case Agreement::Agrees:
        out.headline = "Right: sum and car agree";
        break;
    case Agreement::Doubtful:
        out.headline = "Doubtful: nine in ten right sums would be nearer";
        break;
    default:
        out.headline = "Wrong: sum and car disagree";
    }
    if (worst >= 0) {
        const proof::Verdict v = proof::compare(test, worst, 0);
        if (!(v.bound && v.agreement == Agreement::Agrees) && whole.agreement != Agreement::TooWide)
            out.headline += ", " + change(v.measured - v.predicted, p.channels[0], system) + " from the prediction";
        if (test.states.size() > 1) out.headline += " with " + name_of(test, worst);
        out.detail = state_told(test, worst, 0, system);
    }
    if (whole.agreement == Agreement::TooWide && worst >= 0) {
        const std::string first = widest_inputs(test.states[static_cast<std::size_t>(worst)].prediction, 0);
        if (!first.empty()) out.detail += "; to narrow it measure " + first;
    }
    if (whole.count > 1 && test.states.size() > 1 && test.asks != job::Asks::SumOrCar)
        if (const auto b = proof::back_to_back(test, 0, 0, 1)) { // the answer to what was asked leads
            out.detail = out.headline + (out.detail.empty() ? "" : "; " + out.detail);
            out.headline = name_of(test, 1) + ", " + told(*b, test, 0, 0, 1, system).headline;
        }
    if (whole.count > 1)
        out.detail += std::string(out.detail.empty() ? "" : "; ") + "all " + std::to_string(whole.count) +
                      " figures together: a right sum is this far off " + in_100(whole.chance) + " times";
    return out;
}

Told told(const proof::Power& w, const PlannedTest& test, std::size_t at, int first, int second, System system) {
    const Channel& c = channel_of(test, at);
    const bool can = w.chance >= 0.8, hardly = w.chance < 0.5;
    if (w.none())
        return {"The sum has no difference of this to show", name_of(test, second) + " less " + name_of(test, first) +
                                                                 ": the sum expects " + change(w.predicted, c, system) +
                                                                 "; nine of ten such tests would show " +
                                                                 figure(w.smallest, c, system)};
    return {(hardly ? "These runs will hardly tell the two apart: "
             : can  ? "These runs can tell the two apart: "
                    : "These runs may tell the two apart: ") +
                in_100(w.chance),
            name_of(test, second) + " less " + name_of(test, first) + ": the sum expects " +
                change(w.predicted, c, system) + " ± " + figure(half_90(w.predicted_sigma), c, system, false) +
                "; the smallest difference that nine of ten such tests show is " + figure(w.smallest, c, system)};
}

std::string words_of(const proof::Culprit& c) {
    return c.label + ": " + in_words(c.sigmas) + " of its own spreads " + (c.sigmas > 0 ? "more" : "less");
}

Told told(const proof::Fault& f, const PlannedTest& test, System system) {
    using What = proof::Fault::What;
    const std::string end = end_word(f.end);
    Told out;
    switch (f.what) {
    case What::LinkOff:
        out = {end + " bar idle: a link off or broken",
               "push each link by hand, rock the car: does the bar turn in its mounts?"};
        break;
    case What::BushGone:
        out = {end + " bar's bushes gone", "lever the bar in its mounts: it moves before it twists"};
        break;
    case What::DroopShort:
        out = {end + " droop ends early: damper, strap or hose", "hang the wheel on stands and measure its droop"};
        break;
    case What::BumpShort:
        out = {end + " bump stop comes early", "grease a mark on the damper's rod, see how far it is wiped"};
        break;
    case What::UnlikeTyres:
        out = {end + " tyres unlike left and right", "gauge all four, cold"};
        break;
    case What::OtherSetup:
        out = {"it was “" + f.setup + "” that was fitted", "read the bar's diameter and the holes in use on the car"};
        break;
    case What::SidesSwapped:
        out = {"left and right were swapped in the reading", "look at the run's note or picture: which tyre hung?"};
        break;
    case What::OverCentre:
        out = {end + " link comes into line with its arm", "hang check on stands, hands clear"};
        break;
    }
    out.headline = begun_large(out.headline);
    if (std::isfinite(f.reads)) out.headline += ": would read " + figure(f.reads, channel_of(test, 0), system);
    return out;
}

std::string words_of(proof::Unlike what) {
    using enum proof::Unlike;
    switch (what) {
    case Driver:
        return "Each setup had its own driver: the difference may be theirs.";
    case Ground:
        return "Each setup had its own ground: the difference may be its.";
    case Aids:
        return "Driving aids were on with one setup and off with the other.";
    case Aboard:
        return "Not the same was aboard: the difference may be the load's.";
    case Pressures:
        return "Tyre pressures were not the same: the difference may be theirs.";
    case Temperature:
        return "The air was not as warm: tyres and rubber follow it.";
    case Fuel:
        return "The fuel was not the same.";
    case NoReturn:
        return "Neither setup was run again after the other: warming tyres or a drying road may be all of it.";
    }
    return {};
}

std::string words_of(const proof::Slip& s, const PlannedTest& test, std::size_t run, std::size_t at, System system) {
    using Kind = proof::Slip::Kind;
    const Channel& c = channel_of(test, at);
    double value = 0;
    for (const job::Reading& r : test.runs[run].readings)
        if (r.channel == c.spec.key) value = r.value;
    const std::string typed = std::string(c.spec.label) + ": typed " + figure(value, c, system) + ". ",
                      would = " That would be " + figure(s.meant, c, system) + ".";
    switch (s.kind) {
    case Kind::Unit:
        return typed + "Read in another unit?" + would;
    case Kind::Digit:
        return typed + "A digit too many or too few?" + would;
    case Kind::Swapped:
        return typed + "Two digits the wrong way round?" + would;
    case Kind::Sign:
        return typed + "The other sign?" + would;
    case Kind::Side:
        return typed + "Left and right swapped? The other side reads about so.";
    case Kind::Far:
        break;
    }
    return typed + "Far from the " + figure(s.meant, c, system) + " expected. Read again; left out only with a reason.";
}

std::string words_of(const job::Guess& g, const PlannedTest& test, System system) {
    const std::string who = g.person.empty() ? "guess" : g.person;
    const bool number = g.kind == job::Guess::Kind::Number;
    const proof::Protocol* p = proof::protocol_of(test);
    if (!p || p->channels.empty() || g.state >= static_cast<int>(test.states.size())) return who;
    const Channel& c = p->channels[0];
    std::string out = who + ", " + name_of(test, g.state) + ": ";
    if (number) {
        out += figure(g.value, c, system);
        if (g.span > 0) out += " ± " + figure(g.span, c, system, false);
    } else {
        static constexpr const char* ways[] = {"less than ", "the same as ", "more than "};
        out += ways[static_cast<int>(g.kind) - 1] + name_of(test, g.than);
    }
    if (const auto how = proof::guessed(test, g)) {
        out += how->right ? ": held" : ": not so";
        out += number ? ", read " + figure(how->read, c, system) : ", " + change(how->read, c, system) + " read";
    }
    return out;
}

std::string words_of(const proof::Eye& e) {
    std::string out = (e.person.empty() ? "Unnamed" : e.person) + ": ";
    const auto of = [](const char* what, int right, int all) {
        return std::string(what) + " " + std::to_string(right) + " of " + std::to_string(all);
    };
    std::string list;
    const auto add = [&](const std::string& one) { list += (list.empty() ? "" : ", ") + one; };
    if (e.sizes) add(of("size right", e.sizes_right, e.sizes));
    if (e.directions) add(of("direction", e.directions_right, e.directions));
    if (e.spans) add(of("spans hold", e.spans_hold, e.spans));
    if (e.bold)
        add(*e.bold < 0      ? "the wrong way on the whole"
            : *e.bold > 1.25 ? "too bold: " + units::fixed(*e.bold, 1) + " times what is read"
            : *e.bold < 0.8  ? "too timid: " + units::fixed(*e.bold, 1) + " times what is read"
                             : "of the right boldness");
    return out + list;
}

std::string agreement_words(double r) {
    const char* how = r > 0.7    ? "feel much alike"
                      : r > 0.3  ? "feel somewhat alike"
                      : r > -0.3 ? "feel unalike"
                                 : "feel the opposite";
    return std::string(how) + " (rank correlation " + units::fixed(r, 2) + ")";
}

std::string words_of(const proof::SaidAndFelt& line) {
    const auto way = [&](int w) {
        return w == 0 ? std::string("no change to feel")
                      : "more “" + std::string(w > 0 ? line.scale.high : line.scale.low) + "”";
    };
    std::string out = "the sum says " + way(line.says);
    for (const auto& p : line.people)
        out += "; " + p.name + (p.felt == line.says ? " felt so too" : " felt " + way(p.felt));
    return out;
}

std::vector<std::string> settle_words(const std::vector<proof::SaidAndFelt>& lines) {
    std::string apart;
    for (const auto& line : lines)
        for (const auto& p : line.people)
            if (p.felt != line.says && apart.find(line.scale.label) == std::string::npos)
                apart += (apart.empty() ? "" : ", ") + std::string(line.scale.label);
    if (apart.empty()) return {};
    return {
        "At odds: " + apart + ".",
        "In the sum it would have to be an input that nobody measured (see Measure next), or what is not in it: "
        "friction, worn joints, the aids.",
        "In the seat it would have to be the order (the first is felt as the norm), warm tyres, or knowing what "
        "was fitted.",
        "To settle it: with, without and with again, drawn by lot, the driver not told, a gauge or a watch beside."};
}

PracticeWords words_of(const proof::Practice& p, System system) {
    using Kind = proof::Practice::Kind;
    PracticeWords out;
    const job::Vehicle& v = p.car.vehicle;
    const auto length = [&](double m) { return units::text(m, units::Quantity::Length, system); };
    const auto axle = [&](End end) {
        const job::AxleSetup& a = p.car.setup[end];
        return std::string(v[end].kind == AxleKind::Solid ? "solid" : "independent") + " " + dervish::name_of(end) +
               ", springs " + units::text(a.springs.rate.value, units::Quantity::Rate, system, 0) +
               (a.fitted ? ", bar " + length(a.bar.outer_diameter.value) : ", no bar");
    };
    const double mass =
        v.front_left_load.value + v.front_right_load.value + v.rear_left_load.value + v.rear_right_load.value;
    const std::string car = "A car of " + units::text(mass, units::Quantity::Mass, system, 0) + ", wheelbase " +
                            length(v.wheelbase.value) + ", centre of mass at " + length(v.cg_height.value) + "; " +
                            axle(End::Front) + "; " + axle(End::Rear) + ". ";
    std::string figures;
    for (std::size_t i = 0; i < p.choices.size(); ++i) {
        figures += (i ? "; " : "") + p.choices[i] + " ";
        figures += p.kind == Kind::FlexesMost   ? length(p.figures[i])
                   : p.kind == Kind::LeansLeast ? units::text(p.figures[i], units::Quantity::RollGradient, system, 2)
                                                : units::fixed(100 * p.figures[i], 0) + " % of its grip left";
    }
    out.question =
        car + (p.kind == Kind::FlexesMost   ? "On diagonal ramps, which state goes highest before a wheel goes light?"
               : p.kind == Kind::LeansLeast ? "Which state leans least in a bend?"
                                            : "Which end gives up first on dry ground?");
    out.answer =
        p.choices[p.answer] + ": " + figures + ". " +
        (p.kind == Kind::FlexesMost ? "A bar holds its own axle's twist back; taking off the stiffer one of the two in "
                                      "twist frees most."
         : p.kind == Kind::LeansLeast
             ? "Every bar that is on adds to roll stiffness; the lean goes with one over their sum."
             : "The end that takes more of the load transfer for its share of the mass, on "
               "tyres that lose grip with load, is first.");
    return out;
}

std::string words_of(job::Decision::Kind kind) {
    static constexpr const char* names[] = {"not decided", "keep", "change", "go back", "test again", "a compromise"};
    return names[static_cast<std::size_t>(kind)];
}
std::string words_of(job::Asks asks) {
    static constexpr const char* names[] = {"Is it the sum or the car?", "Which of these setups?", "Has it changed?",
                                            "What is this unknown?"};
    return names[static_cast<std::size_t>(asks)];
}

} // namespace dervish::say
