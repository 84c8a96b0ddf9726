#include "core/say/cautions.h"

#include "core/model/tyres.h"
#include "core/study/assess.h"
#include "core/study/links.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace dervish::say {
namespace {
std::string length(double si, units::System system) {
    return units::text(std::abs(si), units::Quantity::Length, system, system == units::System::Metric ? 0 : 2);
}
std::string told_in_g(double lateral) { return units::fixed(lateral / units::g, 2) + " g"; }
std::string travel(double si, units::System system) { return length(si, system) + (si < 0 ? " of droop" : " of bump"); }

/// Of one end, each fault once: sides are mostly alike.
void of_links(std::vector<std::string>& out, const Vehicle& v, const Setup& setup, End end, units::System system) {
    const AxleSetup& a = setup[end];
    if (!a.fitted || !a.connected || a.held != Held::Links) return;
    const auto sides = study::link_sides(a, v[end]);
    if (!sides) return;
    const std::string at = end == End::Front ? "Front" : "Rear";
    std::string over, touches;
    for (std::size_t side = 0; side < 2; ++side) {
        const study::LinkSide& s = (*sides)[side];
        const study::LinkLimits limits = study::link_limits(s, side);
        for (const auto& place : limits.over_centre)
            if (place && (*place < 0 ? -*place <= s.room.droop : *place <= s.room.bump) && over.empty())
                over =
                    at + " links go over centre at " + travel(*place, system) + ", before the stop: a bar snaps over.";
        if (!limits.distances.empty() && limits.distances[0].value <= 0 && touches.empty())
            touches = at + ": " + limits.distances[0].what + " touches at " +
                      travel(limits.distances[0].at.own, system) + ".";
    }
    for (const std::string& words : {over, touches})
        if (!words.empty()) out.push_back(words);
}

/// Where one wheel goes up as far as the other goes down, between their stops.
void of_steel(std::vector<std::string>& out, const study::Assessment& a, const Setup& setup, End end,
              units::System system) {
    const double yields = a.outcomes[end == End::Front ? study::FrontYieldTravel : study::RearYieldTravel];
    if (!setup[end].fitted || !setup[end].connected || !(yields > 0)) return;
    const car::Axle& axle = a.car[end];
    const double wheel = axle.kind == AxleKind::Solid ? axle.track / axle.spring_base : 1;
    double reach = std::numeric_limits<double>::infinity();
    for (const std::size_t up : {0u, 1u})
        reach = std::min(reach, wheel * (axle.bump_room(up) + axle.droop_room(1 - up)) / 2);
    if (yields < reach)
        out.push_back(std::string(end == End::Front ? "Front" : "Rear") + " bar yields with one wheel " +
                      length(yields, system) + " up and the other as far down, before the stops at " +
                      length(reach, system) + ": it takes a set.");
}
} // namespace

std::vector<std::string> cautions(const Vehicle& v, const Setup& setup, units::System system) {
    std::vector<std::string> out;
    try {
        const study::Assessment a = study::assess(v, setup);
        for (const End end : both_ends) {
            of_links(out, v, setup, end, system);
            of_steel(out, a, setup, end, system);
        }
        const balance::Limit limit = balance::outright_limit(model::to_model(v, setup, a.car));
        if (limit.first == balance::Gives::Tips)
            out.push_back("It tips over at " + told_in_g(limit.lateral) + ", before its tyres let go on dry ground.");
        else if (a.handling.first_lift < limit.lateral)
            out.push_back("The " + std::string(car::wheel_names[static_cast<std::size_t>(a.handling.first_wheel)]) +
                          " wheel lifts at " + told_in_g(a.handling.first_lift) + ", before the limit of " +
                          told_in_g(limit.lateral) + ".");
    } catch (const BadInput&) { // told at its field
    }
    return out;
}

} // namespace dervish::say
