#include "core/say/difference_words.h"
#include "core/job/fields.h"
#include "core/sure/compare.h"

#include <algorithm>
#include <map>

namespace dervish::say {
using namespace job;
using study::Difference, study::Lot;

namespace {
/// What is chosen, in words: the file's have lines between them.
std::string chosen(const ChoiceRef& choice) {
    std::string out = choice.words[static_cast<std::size_t>(choice.chosen)];
    std::ranges::replace(out, '_', ' ');
    return out;
}

std::string lot_name(const Difference& d) {
    static const std::map<Lot, std::string> names{{Lot::Bar, "bar"},
                                                  {Lot::Links, "links"},
                                                  {Lot::Eyes, "eyes in use"},
                                                  {Lot::Springs, "springs"},
                                                  {Lot::Dampers, "dampers"},
                                                  {Lot::Tyres, "tyres"},
                                                  {Lot::Height, "ride height"},
                                                  {Lot::Pressures, "pressures"},
                                                  {Lot::Alignment, "camber and toe"},
                                                  {Lot::Clicks, "clicks"},
                                                  {Lot::Differential, "differential"},
                                                  {Lot::Brace, "Brace"},
                                                  {Lot::BiasRatio, "Ratio of the limited differential"},
                                                  {Lot::Aboard, "Loads aboard"},
                                                  {Lot::StabilityAid, "Stability aid"}};
    return (d.end ? std::string(*d.end == End::Front ? "Front " : "Rear ") : "") + names.at(d.lot);
}

std::string name_of_part(const Setup& s, const Difference& d) {
    if (!d.end) return {};
    const AxleSetup& a = s[*d.end];
    return d.lot == Lot::Bar       ? (a.fitted ? a.bar.name : std::string("no bar"))
           : d.lot == Lot::Links   ? a.links.name
           : d.lot == Lot::Springs ? a.springs.name
           : d.lot == Lot::Dampers ? a.dampers.name
           : d.lot == Lot::Tyres   ? a.tyres.name
                                   : std::string();
}
} // namespace

DifferenceWords words_of(const Difference& d, const Vehicle& vehicle, const Setup& before, const Setup& after,
                         units::System system) {
    std::vector<std::string> told;
    const auto from_to = [](const std::string& a, const std::string& b) { return a + " → " + b; };
    if (d.lot == Lot::StabilityAid) {
        told.push_back(after.stability_aid ? "left on" : "off");
    } else if (d.lot == Lot::Aboard) {
        for (const Load& load : vehicle.loads)
            if (const bool now = is_aboard(load, after); now != is_aboard(load, before))
                told.push_back(load.name + (now ? " aboard" : " not aboard"));
    } else {
        const std::string was = name_of_part(before, d), is = name_of_part(after, d);
        if (was != is) told.push_back(from_to(was.empty() ? "no name" : was, is.empty() ? "no name" : is));
        if (d.lot == Lot::Bar || d.lot == Lot::Links || d.lot == Lot::Eyes) {
            const AxleSetup &a = before[*d.end], b = study::with(before, after, d)[*d.end];
            const auto eyes = [](const AxleSetup& of) {
                return std::to_string(of.left_eye + 1) +
                       (of.right_eye != of.left_eye ? " and " + std::to_string(of.right_eye + 1) : "");
            };
            if (a.left_eye != b.left_eye || a.right_eye != b.right_eye)
                told.push_back("eye " + from_to(eyes(a), eyes(b)));
            if (a.connected != b.connected) told.push_back(b.connected ? "links on" : "links off");
        }
        Job a, b;
        a.trial = before;
        b.trial = study::with(before, after, d);
        const std::string prefix = d.end ? std::string("trial/") + dervish::name_of(*d.end) : "trial";
        for (const ChoiceRef& now : choices(b, prefix))
            for (const ChoiceRef& then : choices(a, prefix))
                if (then.path == now.path && then.chosen != now.chosen)
                    told.push_back(now.label + " " + from_to(chosen(then), chosen(now)));
        std::map<std::string, double> values;
        for (const FieldRef& f : fields(a, "trial")) values[f.path] = f.value->value;
        for (const FieldRef& f : fields(b, "trial")) {
            const auto then = values.find(f.path);
            if (then == values.end() || then->second == f.value->value) continue;
            const units::Unit unit = units::shown(f.spec.quantity, system);
            told.push_back(std::string(f.spec.label) + " " +
                           from_to(show(then->second, f.spec, system), show(f.value->value, f.spec, system)) +
                           (unit.symbol.empty() ? "" : " " + std::string(unit.symbol)));
        }
    }
    constexpr std::size_t most = 3;
    std::string detail;
    for (std::size_t i = 0; i < std::min(most, told.size()); ++i) detail += (i ? "; " : "") + told[i];
    if (told.size() > most) detail += "; and " + std::to_string(told.size() - most) + " more";
    if (detail.empty()) detail = "where it is from, or notes";
    return {lot_name(d), detail};
}

std::string sure_words(const sure::Change& change) {
    switch (sure::how_sure(change)) {
    case sure::Sure::Surely:
        return "surely";
    case sure::Sure::Probably:
        return "probably";
    case sure::Sure::CannotSay:
        break;
    }
    return "cannot say";
}

} // namespace dervish::say
