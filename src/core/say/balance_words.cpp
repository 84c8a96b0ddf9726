#include "core/say/balance_words.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
using balance::Gives;
using balance::Limit;
using balance::Turn;

std::string sentence(const Limit& l) {
    const std::string at = units::fixed(l.lateral / units::g, 2) + (l.turn == Turn::Right ? " g in right turns" : " g"),
                      left = units::fixed(100 * l.left, 0) + " % left";
    switch (l.first) {
    case Gives::Front:
        return "Front gives up first at " + at + "; rear has " + left;
    case Gives::Rear:
        return "Rear gives up first at " + at + "; front has " + left;
    case Gives::Tips:
        return "It tips over at " + at + " before the tyres let go";
    case Gives::Nothing:
        break;
    }
    return "Nothing gives up below 2 g";
}

SchoolWords words_of(School school) {
    switch (school) {
    case School::Limit:
        return {"limit: front beyond rear",
                "uses the tyre itself, steady; 0: both ends at once, above: the rear gives up first"};
    case School::Understeer:
        return {"understeer at 0.3 g", "how it steers on the road, far from the limit; 1 to 3 is usual"};
    case School::Share:
        return {"front share over front mass", "a few points above 0 understeers; leaves the tyres out"};
    case School::RideFirst:
        return {"ride first: heads tossed",
                "m/s² on the ground chosen, felt from about 0.3; the balance is whatever that leaves"};
    case School::Ride:
        break;
    }
    return {"one-wheel ride, rear over front", "5 to 20 % above settles pitch after a bump; says nothing of grip"};
}

std::string words_of(const balance::Pull& pull, double lateral) {
    return "At " + units::fixed(lateral / units::g, 2) + " g sideways it pulls up to " +
           units::fixed(pull.longitudinal / units::g, 2) + " g" +
           (pull.spins >= 0
                ? std::string(", then the ") + car::wheel_names[static_cast<std::size_t>(pull.spins)] + " spins"
            : pull.gives == balance::Gives::Front ? ", then the front slides"
            : pull.gives == balance::Gives::Rear  ? ", then the rear slides"
            : pull.gives == balance::Gives::Tips  ? ", then it tips"
                                                  : " and more");
}

std::optional<std::string> other_turn(const BalanceFigures& f) {
    if (std::abs(f.right.lateral - f.phase[1].lateral) <= 0.005 * units::g) return {};
    const bool left = f.outright.turn == balance::Turn::Right;
    Limit other = left ? f.phase[1] : f.right;
    other.turn = balance::Turn::Left; // said before it
    return (left ? "To the left: " : "To the right: ") + sentence(other);
}

std::string times_now(double factor) {
    return factor < 0.02 ? "none" : factor > 100 ? "rigid" : "× " + units::trimmed(factor, factor < 10 ? 1 : 0);
}

std::vector<std::string> validity(const BalanceFigures& f) {
    std::vector<std::string> out;
    const auto in_g = [](double a) { return units::fixed(a / units::g, 2) + " g"; };
    for (std::size_t w = 0; w < 4; ++w) {
        const auto at = std::find_if(f.curve.points.begin(), f.curve.points.end(), [&](const balance::Corner& c) {
            return c.state.wheels[w].stop != car::Stop::Free;
        });
        if (at == f.curve.points.end()) continue;
        out.push_back(
            "From " + in_g(at->lateral) + " the " + car::wheel_names[w] +
            (at->state.wheels[w].stop == car::Stop::Bump ? " is on its bump stop" : " is at the end of its droop") +
            ": beyond, the stop's figures decide");
    }
    const double lean = std::abs(f.limit().at.lean());
    if (lean > 8 * units::deg)
        out.push_back(
            "A lean of " + units::fixed(lean / units::deg, 0) +
            "° at the limit is beyond what geometry at ride height describes: take the order, not the number");
    if (const auto other = other_turn(f)) out.push_back(*other);
    if (!f.understeer) out.push_back("It does not hold 0.3 g here: there is no understeer gradient");
    return out;
}

std::string words_of(const Means& m, const Vehicle& vehicle) {
    using L = Means::Lever;
    const std::string end = name_of(m.end);
    switch (m.lever) {
    case L::Bar:
        return end + " bar";
    case L::NewBar:
        return "a " + end + " bar";
    case L::Springs:
        return end + " springs";
    case L::Pressure:
        return end + " pressure";
    case L::Camber:
        return end + " camber";
    case L::Load:
        return vehicle.loads.at(m.load).name + ", further back";
    }
    return {};
}

std::string answer_of(const Means& m, units::System system) {
    using L = Means::Lever;
    const auto told = [&](double value) {
        switch (m.lever) {
        case L::Bar:
        case L::Springs:
            return "× " + units::fixed(value, 2);
        case L::NewBar:
            return units::text(value, units::Quantity::TorsionalRate, system);
        case L::Pressure:
            return units::fixed(100 * value, 0) + " %";
        case L::Camber:
            return units::fixed(value / units::deg, 1) + "°";
        case L::Load:
            return units::text(value, units::Quantity::Length, system, 0);
        }
        return std::string();
    };
    switch (m.answer) {
    case Means::Answer::Found:
        return told(m.value);
    case Means::Answer::AsItIs:
        return "as it is";
    case Means::Answer::OutOfReach:
        return "not within " + told(m.low) + " to " + told(m.high);
    case Means::Answer::NoReading:
        return "the car has no such reading here";
    }
    return {};
}

} // namespace dervish::say
