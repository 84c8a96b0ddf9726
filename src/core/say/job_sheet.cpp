#include "core/say/job_sheet.h"
#include "core/job/usual.h"
#include "core/say/cautions.h"

#include "core/job/fields.h"
#include "core/job/torque.h"
#include "core/say/difference_words.h"
#include "core/say/html.h"
#include "core/say/setup_steps.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace dervish::say {
namespace {
using study::Lot;

constexpr const char* maker = " The vehicle's maker, local rules and licensed practice decide.";

std::string upper(std::string words) {
    if (!words.empty() && words[0] >= 'a' && words[0] <= 'z') words[0] = static_cast<char>(words[0] - 32);
    return words;
}
std::string length_words(double si, units::System system) {
    return units::text(si, units::Quantity::Length, system, system == units::System::Metric ? 1 : 3);
}
std::string named(const Part& part, const char* without) { return part.name.empty() ? without : part.name; }

const FieldSpec& spec_of(std::optional<double> SetupChecks::*value) {
    for (const Step step : all_steps)
        for (const StepReading& r : readings_of(step))
            if (r.value == value) return r.spec;
    throw std::logic_error("no such reading of the set-up");
}

/// What the sheet says of one link's length.
std::string link_words(const char* side, const book::LinkChange& c, units::System system) {
    std::string out = std::string(side) + ": " + length_words(c.to, system) + " eye to eye";
    if (c.from == c.to) return out + ", as it is";
    if (!c.by_thread) return out;
    out += ", from " + length_words(c.from, system) + ": " + turns_words(std::abs(c.turns));
    if (c.opposite)
        out += std::string(" of the body, ") + (c.turns > 0 ? "clockwise" : "anticlockwise") +
               " seen from the end with the right-hand thread";
    else
        out += std::string(" of the joint, off its stud, ") + (c.turns > 0 ? "anticlockwise" : "clockwise") +
               " seen from its eye (right-hand thread; a left-hand one the other way)";
    if (!c.reaches) out += ". ITS THREAD DOES NOT REACH: 1.5 diameters must stay in. Another link";
    return out;
}

bool of_the_bar(Lot lot) { return lot == Lot::Bar || lot == Lot::Links || lot == Lot::Eyes; }
/// Done with the wheels on the ground.
bool stands_on_wheels(Lot lot) {
    return lot == Lot::Pressures || lot == Lot::Alignment || lot == Lot::Clicks || lot == Lot::Differential;
}

/// At an end nothing of the bar differs but the hole that its links are in.
bool only_holes(const std::vector<study::Difference>& differences, End end) {
    bool holes = false;
    for (const study::Difference& d : differences) {
        if (d.end != end) continue;
        if (d.lot != Lot::Eyes && of_the_bar(d.lot)) return false;
        holes = holes || d.lot == Lot::Eyes;
    }
    return holes;
}
/// Whether wheels have to hang: what is done at the links' holes and on the wheels does not ask for it.
bool wheels_come_off(const study::Difference& d) { return d.end && d.lot != Lot::Eyes && !stands_on_wheels(d.lot); }

/// In what order things go on at an eye, by what the link's joints are.
std::string eye_stack(JointKind joints) {
    constexpr const char* as_drawn = " As it came off, or as the link's maker draws it.";
    switch (joints) {
    case JointKind::Ball:
        return std::string(
                   "In order at each eye: ball joint's collar, its stud through the arm's eye, washer, nut; the "
                   "stud held by its flats.") +
               as_drawn;
    case JointKind::RodEnd:
        return std::string("In order at each eye: bolt's head, washer, spacer, rod end, spacer, the arm's eye, washer, "
                           "nut; the spacers' narrow ends to the ball.") +
               as_drawn;
    case JointKind::Rubber:
    case JointKind::Urethane:
        return std::string("In order at each eye: cupped washer, bush, the arm's eye, bush, cupped washer, nut; cups "
                           "hollow to the bush, ") +
               (joints == JointKind::Rubber ? "rubber dry." : "a thin film of the maker's grease in the bore.") +
               as_drawn;
    case JointKind::Unsaid:
        break;
    }
    return std::string("In order at each eye: washer, bush or joint, washer, nut.") + as_drawn +
           " What the joints are is not said of this link.";
}

/// "about 165 minutes by 1 sheet like it"; empty where there is none.
std::string minutes_words(const Job& job, const JobSheet& sheet, const std::vector<book::Took>& shop) {
    std::vector<std::string> keys;
    for (const SheetStep& s : sheet.steps) keys.push_back(s.key);
    std::vector<book::Took> before = book::took(job);
    for (const book::Took& t : shop)
        if (std::ranges::find(before, t) == before.end()) before.push_back(t);
    const auto took = book::minutes_of(before, keys);
    if (!took) return {};
    const std::string least = units::fixed(took->least, 0), most = units::fixed(took->most, 0);
    return "about " + (least == most ? least : least + " to " + most) + " minutes by " + std::to_string(took->sheets) +
           (took->sheets == 1 ? " sheet like it" : " sheets like it");
}

/// What is needed: counted from what the setups hold, and the fasteners as typed.
std::vector<std::string> needs_of(const Job& job, const Setup& from, const Setup& to,
                                  const std::vector<study::Difference>& differences, const JobSheet& sheet,
                                  const std::vector<book::Took>& shop) {
    std::vector<std::string> out;
    PerAxle<bool> up{false, false}, touched{false, false};
    std::vector<std::string> counted;
    for (const study::Difference& d : differences) {
        if (!d.end || stands_on_wheels(d.lot)) continue;
        const End end = *d.end;
        if (touched[end] && of_the_bar(d.lot)) continue; // counted with the first of them
        touched[end] = true;
        up[end] = up[end] || wheels_come_off(d);
        const AxleSetup &was = from[end], &is = to[end];
        const auto linked = [](const AxleSetup& a) { return a.fitted && a.connected && a.held == Held::Links; };
        const std::string at = name_of(end);
        if (!of_the_bar(d.lot)) continue;
        if (only_holes(differences, end)) {
            counted.push_back("2 " + at + " link ends, at the arms");
            counted.push_back("2 " + at + " clamps to loosen");
            continue;
        }
        if (linked(was) || linked(is)) counted.push_back("4 " + at + " link ends");
        if (const Adjust how = linked(is) ? is.links.adjust : Adjust::No; how != Adjust::No)
            counted.push_back(std::string(how == Adjust::Opposite ? "4 " : "2 ") + at + " lock nuts");
        if ((was.fitted || is.fitted) && (was.fitted != is.fitted || was.bar.id != is.bar.id ||
                                          was.mounts.id != is.mounts.id || was.held != is.held))
            counted.push_back("2 " + at + " clamps");
    }
    const int axles = up[End::Front] + up[End::Rear];
    if (axles > 0)
        out.push_back(job::size_of(job.vehicle.front.track.value) < 0.5
                          ? std::string("a stand that lets its wheels hang")
                      : axles == 2 ? "4 stands: both axles hang"
                                   : std::string("2 stands: both wheels of the ") +
                                         name_of(up[End::Front] ? End::Front : End::Rear) + " axle hang");
    if (!counted.empty()) {
        std::string words;
        for (const std::string& c : counted) words += (words.empty() ? "" : ", ") + c;
        out.push_back("to undo and do up: " + words);
    }
    std::vector<std::string> spanners;
    std::string fasteners;
    bool wrench = false, adapter = false;
    for (const Torque& t : job.torques) {
        // Those of an end that nothing is done at are left out; what names no end counts for both.
        const bool front = t.of.find("front") != std::string::npos, rear = t.of.find("rear") != std::string::npos;
        if ((front && !rear && !touched[End::Front]) || (rear && !front && !touched[End::Rear])) continue;
        wrench = wrench || t.moment > 0;
        adapter = adapter || t.adapter > 0;
        if (t.size.empty()) continue;
        fasteners += (fasteners.empty() ? "" : ", ") + (t.count > 0 ? std::to_string(t.count) + " × " : std::string()) +
                     t.size + " (" + t.of + ")";
        if (std::ranges::find(spanners, t.size) == spanners.end()) spanners.push_back(t.size);
    }
    if (touched[End::Front] || touched[End::Rear]) {
        std::string words;
        for (const std::string& s : spanners) words += (words.empty() ? "" : ", ") + s;
        out.push_back(words.empty() ? "spanners: no size was typed for these fasteners"
                                    : "spanners " + words + ", two of a size where a bolt has a nut; for " + fasteners);
        if (wrench) out.push_back(adapter ? "torque wrench with its adapter" : "torque wrench");
    }
    if (const std::string minutes = minutes_words(job, sheet, shop); !minutes.empty()) out.push_back(minutes);
    return out;
}

/// The bar with its mounts, links and eyes at one end.
void bar_steps(std::vector<SheetStep>& steps, const Setup& before, const Setup& after, End end, units::System system,
               bool holes_alone) {
    const AxleSetup &was = before[end], &is = after[end];
    const std::string at = name_of(end), key = at + "/";
    const bool bar_was = was.fitted, bar_is = is.fitted, linked = bar_was && was.connected && was.held == Held::Links;
    const bool same_bar = bar_was && bar_is && was.bar.id == is.bar.id;
    const bool new_bar = bar_was != bar_is || !same_bar || was.mounts.id != is.mounts.id || was.held != is.held;
    if (linked)
        steps.push_back({key + "links off",
                         upper(at) + " links off, both sides before anything is moved",
                         {"Loosen both sides first, then take both off: with one link on, the bar holds the other up."},
                         "A twisted bar holds energy: both wheels at one height, hands clear of the arms.",
                         {}});
    if (linked && holes_alone)
        steps.back().lines.push_back(
            "At the arms alone; both clamps loosened, so that the bar turns to its new place.");
    if (bar_was && new_bar)
        steps.push_back({key + "bar out",
                         upper(at) + " bar out: " + named(was.bar, "as it is"),
                         {was.held == Held::Clamped
                              ? "Both trailing arms held up, both clamps loose before either comes off."
                              : "Both clamps loose before either comes off; note which side out and which face up.",
                          same_bar ? "The bar goes back in; its mounts go on the shelf."
                                   : "It goes on the shelf with what held it."},
                         "",
                         {}});
    if (bar_is && new_bar) {
        SheetStep in{key + "bar in", upper(at) + " bar in: " + named(is.bar, "as drawn"), {}, "", {}};
        if (is.held == Held::Clamped) {
            in.lines.push_back("Clamped to both trailing arms by hand only, the same length of bar outside each.");
            steps.push_back(std::move(in));
            return;
        }
        in.lines.push_back("Clamps on by hand only, " + length_words(is.mounts.spacing.value, system) +
                           " apart, the same length of bar outside each.");
        in.lines.push_back(
            "If the holes do not line up: loosen both clamps again and move the bar, never a link by force.");
        if (is.mounts.kind == BushKind::Urethane || is.mounts.kind == BushKind::Metal)
            in.lines.push_back("Grease in the bores only, a thin film of what the bushes' maker names; none outside.");
        if (is.mounts.kind == BushKind::Rubber)
            in.lines.push_back("Rubber bushes dry, or with what their maker names; oil and mineral grease eat them.");
        steps.push_back(std::move(in));
    }
    if (bar_is && is.held == Held::Links && is.connected) {
        SheetStep links{key + "links", upper(at) + " links to length", {}, "", {}};
        for (const bool right : {false, true}) {
            const book::LinkChange c =
                book::link_change(bar_was && was.held == Held::Links ? was.links : is.links, is.links, right);
            links.lines.push_back(link_words(right ? "right" : "left", c, system));
            const auto value = right ? &SetupChecks::right_link : &SetupChecks::left_link;
            links.readings.push_back({end, value, spec_of(value), c.to});
        }
        if (is.links.adjust == Adjust::OneEnd)
            links.lines.push_back("A joint whose stud points one way goes on by half turns only: the nearest of them.");
        if (is.links.adjust != Adjust::No)
            links.lines.push_back(
                "Lock nuts against the body once the length is read, joints held square while they are tightened.");
        if (!holes_alone) steps.push_back(std::move(links));
        const auto hole = [](int eye) { return "hole " + std::to_string(eye + 1) + " from the arm's end"; };
        const bool alike = is.left_eye == is.right_eye;
        steps.push_back({key + "links on",
                         upper(at) + " links on, " +
                             (alike ? hole(is.left_eye) + ", both sides"
                                    : "left " + hole(is.left_eye) + ", right " + hole(is.right_eye)),
                         {"Both sides by hand, then look that neither arm stands higher at ride height.",
                          eye_stack(is.links.joints)},
                         "",
                         {}});
    } else if (bar_is && is.held == Held::Links) {
        steps.push_back({key + "tie up",
                         upper(at) + " links stay off: tie them up or take them out",
                         {"A loose link or arm that swings can reach a tyre or a hose."},
                         "Not for the road where local rules want the bar at work.",
                         {}});
    }
}
} // namespace

std::string turns_words(double turns) {
    const long quarters = std::lround(4 * turns);
    const long whole = quarters / 4;
    constexpr const char* parts[] = {"", "1/4", "1/2", "3/4"};
    const std::string part = parts[quarters % 4];
    if (quarters == 0) return "less than a quarter turn";
    std::string out = whole > 0 ? std::to_string(whole) : "";
    if (!part.empty()) out += (out.empty() ? "" : " ") + part;
    return out + (quarters <= 4 ? " turn" : " turns");
}

namespace {
JobSheet steps_of(const Job& job, const Setup& from, const Setup& to, units::System system,
                  const std::vector<book::Took>& shop) {
    JobSheet out{from.name, to.name, {}, {}, {}, {}};
    const auto differences = study::differences(from, to);
    if (differences.empty()) return out;
    const auto told = [&](const study::Difference& d) { return words_of(d, job.vehicle, from, to, system); };
    const bool wheels_off = std::ranges::any_of(differences, wheels_come_off),
               holes = std::ranges::any_of(differences, [](const auto&d) { return d.lot == Lot::Eyes; });
    if (wheels_off && job::size_of(job.vehicle.front.track.value) < 0.5)
        out.steps.push_back({"stands",
                             "On a stand that lets its wheels hang",
                             {"Both wheels of an axle hang or both stand: a bar between unlike wheels is twisted."},
                             "Battery unplugged, or engine stopped: a wheel that turns takes a finger.",
                             {}});
    else if (wheels_off)
        out.steps.push_back({"stands",
                             "On level ground, wheels chocked, then on stands",
                             {"Lift and support it where its maker says; where that is not at hand, do not lift it.",
                              "Both wheels of an axle up or both down: a bar between unlike wheels is twisted."},
                             "Never under a car on a jack alone.",
                             {}});
    else if (holes)
        out.steps.push_back({"on wheels",
                             "On level ground, wheels chocked, on its wheels at one height",
                             {"Where no hand gets to both link ends so: on stands, as its maker says."},
                             "Never under a car on a jack alone.",
                             {}});
    std::vector<SheetStep> on_wheels; // done last, when it stands
    for (const End end : {End::Front, End::Rear}) {
        bool bar_told = false;
        for (const auto& d : differences) {
            if (d.end != end) continue;
            const std::string key = std::string(name_of(end)) + "/", at = name_of(end);
            const DifferenceWords words = told(d);
            switch (d.lot) {
            case Lot::Bar:
            case Lot::Links:
            case Lot::Eyes:
                if (!std::exchange(bar_told, true))
                    bar_steps(out.steps, from, to, end, system, only_holes(differences, end));
                break;
            case Lot::Height:
                out.steps.push_back({key + "height",
                                     upper(at) + " ride height: " + words.detail,
                                     {"Both sides alike, measured from hub to body on level ground, rolled a metre and "
                                      "back first."},
                                     to[end].stand.lift_by == LiftBy::Springs
                                         ? "A coil under load kills: a compressor in good order, by who has learnt it."
                                         : "",
                                     {}});
                break;
            case Lot::Springs:
                out.steps.push_back({key + "springs",
                                     upper(at) + " springs: " + words.detail,
                                     {"Both sides; seats clean, ends where they were."},
                                     "A coil under load kills: a compressor in good order, by who has learnt it.",
                                     {}});
                break;
            case Lot::Dampers:
                out.steps.push_back({key + "dampers",
                                     upper(at) + " dampers: " + words.detail,
                                     {"Both sides alike; hoses and wires free through full droop."},
                                     "",
                                     {}});
                break;
            case Lot::Tyres:
                out.steps.push_back({key + "tyres",
                                     upper(at) + " tyres: " + words.detail,
                                     {"Both sides; arrows the way they roll."},
                                     "",
                                     {}});
                break;
            case Lot::Clicks:
                on_wheels.push_back({key + "clicks",
                                     upper(at) + " dampers' clicks: " + words.detail,
                                     {"Counted from fully open, both sides."},
                                     "",
                                     {}});
                break;
            case Lot::Pressures:
                on_wheels.push_back(
                    {key + "pressures", upper(at) + " pressures: " + words.detail, {"Cold, by one gauge."}, "", {}});
                break;
            case Lot::Alignment:
                on_wheels.push_back({key + "alignment",
                                     upper(at) + " camber and toe: " + words.detail,
                                     {"Last of all, at ride height, loaded as it is driven."},
                                     "",
                                     {}});
                break;
            case Lot::Differential:
                on_wheels.push_back({key + "differential", upper(at) + " differential: " + words.detail, {}, "", {}});
                break;
            default:
                break;
            }
        }
    }
    for (const auto& d : differences) {
        if (d.end) continue;
        const DifferenceWords words = told(d);
        if (d.lot == Lot::Brace)
            out.steps.push_back({"brace",
                                 "Brace: " + words.detail,
                                 {"Car on its wheels or supported so that the frame hangs untwisted."},
                                 "Welding on a frame is for a qualified welder, after battery and tank are seen to, "
                                 "and may need approval.",
                                 {}});
        else
            out.steps.push_back({d.lot == Lot::Aboard      ? "aboard"
                                 : d.lot == Lot::BiasRatio ? "differential"
                                                           : "aid",
                                 words.name + ": " + words.detail,
                                 {},
                                 "",
                                 {}});
    }
    if (wheels_off) {
        SheetStep hang{
            "hang", "Each wheel put on while it hangs: turn it through full lock, look at every gap", {}, "", {}};
        hang.lines = {"At full droop and full bump too: hoses, wires, links, arms, the bar's ends.",
                      "What touches once will wear through."};
        for (const End end : both_ends)
            if (to[end].fitted && to[end].held == Held::Links &&
                std::ranges::any_of(differences, [&](const auto& d) { return d.end == end && of_the_bar(d.lot); }))
                for (const auto value : {&SetupChecks::gap_lock, &SetupChecks::gap_droop, &SetupChecks::gap_bump})
                    if (value != &SetupChecks::gap_lock || end == End::Front || job.vehicle[end].linkage.steers)
                        hang.readings.push_back({end, value, spec_of(value), {}});
        out.steps.push_back(std::move(hang));
    }
    if (wheels_off || holes) {
        SheetStep tight{"tight", "On its wheels: roll it a metre and back, then final-tighten", {}, "", {}};
        tight.lines.push_back("What twists as the wheel moves (rubber bushes, links on rubber) is tightened at ride "
                              "height, or it is preloaded.");
        for (const Torque& t : job.torques) {
            if (t.moment == 0) continue;
            const double set = wrench_setting(t);
            const auto moment = [&](double si) {
                const units::Unit unit = units::shown(units::Quantity::Moment, system);
                return units::trimmed(si / unit.factor, 1) + " " + std::string(unit.symbol);
            };
            tight.lines.push_back(t.of + ": " + moment(t.moment) + " (" + t.source + ")" +
                                  (set == t.moment ? "" : "; the wrench with its adapter to " + moment(set)));
        }
        tight.lines.push_back(std::ranges::none_of(job.torques, [](const Torque& t) { return t.moment > 0; })
                                  ? "Torques: as the maker gives them; none was typed here with its source."
                                  : "Every other torque as the maker gives it.");
        tight.lines.push_back(
            "Thread lock or new self-locking nuts where the maker wants them; a paint mark on each when it is tight.");
        out.steps.push_back(std::move(tight));
    }
    if (wheels_off)
        out.steps.push_back({"wheels", "Wheel nuts to the maker's torque, crosswise, on the ground", {}, "", {}});
    for (SheetStep& step : on_wheels) out.steps.push_back(std::move(step));
    out.steps.push_back(
        {"drive",
         "A short drive, slowly, then look again",
         {"Noises, warning lamps, brakes; then the set-up's steps in Links: level, left against right."},
         "",
         {}});
    if (wheels_off || holes)
        out.steps.push_back(
            {"again",
             wheels_off ? "After a first distance of 50 to 100 km: every paint mark, lock nut and wheel nut again"
                        : "After a first distance of 50 to 100 km: every paint mark and lock nut again",
             {},
             "",
             {}});
    out.needs = needs_of(job, from, to, differences, out, shop);
    // The way back is the same sheet, turned round.
    for (const study::Difference& d : study::differences(to, from)) {
        const DifferenceWords words = words_of(d, job.vehicle, to, from, system);
        out.back.push_back(words.name + ": " + words.detail);
    }
    return out;
}
} // namespace

JobSheet job_sheet(const Job& job, const Setup& from, const Setup& to, units::System system,
                   const std::vector<book::Took>& shop) {
    JobSheet out = steps_of(job, from, to, system, shop);
    if (!out.steps.empty()) out.cautions = cautions(job.vehicle, to, system);
    return out;
}

std::string work_words(const Job& job, const Setup& from, const Setup& to, const std::vector<book::Took>& shop) {
    const JobSheet sheet = steps_of(job, from, to, units::System::Metric, shop);
    const std::string minutes = minutes_words(job, sheet, shop);
    return std::to_string(sheet.steps.size()) + (sheet.steps.size() == 1 ? " step" : " steps") +
           (minutes.empty() ? "" : ", " + minutes);
}

std::string job_sheet_html(const Job& job, const JobSheet& sheet, units::System system,
                           const std::vector<std::string>& steps_done) {
    std::string out = "<html><body style='font-size: 13pt'><p style='font-size: 20pt'><b>" +
                      in_html(job.name + (job.vehicle.name.empty() ? "" : ": " + job.vehicle.name)) +
                      "</b></p><p style='font-size: 14pt'>" + in_html(sheet.from) + " → <b>" + in_html(sheet.to) +
                      "</b></p>";
    out += "<p>Date ____________ On the clock ____________ By ____________ Begun ______ Done ______</p>";
    if (sheet.steps.empty()) return out + "<p>Nothing differs: there is nothing to do.</p></body></html>";
    if (!sheet.cautions.empty()) {
        out += "<p><b>Caution, by the sums, with this on the car</b>:";
        for (const std::string& line : sheet.cautions) out += "<br>" + in_html(line);
        out += "</p>";
    }
    if (!sheet.needs.empty()) {
        out += "<p><b>Needed</b>:";
        for (const std::string& need : sheet.needs) out += "<br>" + in_html(need);
        out += "</p>";
    }
    out += "<table cellspacing='0' cellpadding='6' width='100%'>";
    for (std::size_t i = 0; i < sheet.steps.size(); ++i) {
        const SheetStep& s = sheet.steps[i];
        const bool done = std::ranges::find(steps_done, s.key) != steps_done.end();
        out += "<tr><td width='30' style='font-size: 20pt'>" + std::string(done ? "☑" : "☐") + "</td><td><b>" +
               std::to_string(i + 1) + ". " + in_html(s.title) + "</b>";
        for (const std::string& line : s.lines) out += "<br>" + in_html(line);
        for (const SheetReading& r : s.readings)
            out += "<br>" + in_html(r.spec.label) + ", " + name_of(r.end) + ": ____________" +
                   (r.wanted ? " (" + length_words(*r.wanted, system) + ")" : std::string());
        if (!s.caution.empty()) out += "<br><b>Caution:</b> " + in_html(s.caution);
        out += "</td></tr>";
    }
    out += "</table><p><b>To go back</b>:";
    for (const std::string& line : sheet.back) out += "<br>" + in_html(line);
    return out + "</p><p>Stands on firm ground, wheels chocked." + maker + "</p></body></html>";
}

} // namespace dervish::say
