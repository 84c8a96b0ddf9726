#include "core/say/balance_words.h"

#include "core/job/stock.h"
#include "core/model/model.h"
#include "core/study/choices.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {
using balance::Gives;
using balance::Limit;
using balance::Turn;

namespace {
std::string limit_words(const Limit& l) {
    return units::fixed(l.lateral / units::g, 2) + (l.turn == Turn::Right ? " g in right turns" : " g");
}
} // namespace

double chance_of_first(const Limit& l, double balance_sigma) {
    const bool end = l.first == Gives::Front || l.first == Gives::Rear;
    return end && balance_sigma > 0 ? normal_below(std::abs(study::balance_of(l)) / balance_sigma) : 1;
}

double chance_of_first(const Limit& l, const sure::PhaseBand& band) {
    return l.first == Gives::Front ? band.front : l.first == Gives::Rear ? 1 - band.front : 1;
}

namespace {
constexpr double told_first = 0.8; // the chance from which on an end is named
}

std::string brief(const Limit& l, const sure::PhaseBand* band) {
    static constexpr const char* ends[] = {"front", "rear", "tips", "none"};
    const bool open = band && chance_of_first(l, *band) < told_first;
    const double half = band ? (band->most - band->least) / 2 : 0;
    return std::string(open ? "front or rear" : ends[static_cast<int>(l.first)]) + " at " +
           units::fixed(l.lateral / units::g, 2) +
           (band ? " ± " + units::fixed(half / units::g, 2) + " g" : std::string(" g"));
}

std::string sentence(const Limit& l, double chance) {
    const std::string of_100 = " in " + units::fixed(100 * chance, 0) + " of 100";
    if (chance < told_first)
        return "As likely the front as the rear gives up first at " + limit_words(l) + " (" +
               (l.first == Gives::Front ? "front" : "rear") + of_100 + ")";
    std::string out = sentence(l);
    if (const auto at = out.find(';'); chance < 0.995 && at != out.npos) out.insert(at, "," + of_100);
    return out;
}

std::string sentence(const Limit& l) {
    const std::string at = limit_words(l), left = units::fixed(100 * l.left, 0) + " % left";
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

AimWords words_of(Aim aim) {
    switch (aim) {
    case Aim::Limit:
        return {"balance at the limit",
                "front beyond rear, by the tyre itself, steady; 0: both ends at once, above: the rear gives up first"};
    case Aim::Understeer:
        return {"understeer at 0.3 g", "how it steers on the road, far from the limit; 1 to 3 is usual"};
    case Aim::Share:
        return {"front share over mass",
                "of roll stiffness over that of mass; a few points above 0 understeers; leaves the tyres out"};
    case Aim::RideFirst:
        return {"ride first: heads tossed", "m/s² on the ground chosen (a plane: a good road), felt from about 0.3; "
                                            "the balance is whatever that leaves"};
    case Aim::Lean:
        return {"lean", "roll gradient; whatever the balance"};
    case Aim::Damping:
        return {"roll damping (S-bends)", "over critical; from about 0.3 it settles in one swing"};
    case Aim::FirstLift:
        return {"a wheel lifts at", "sideways; later is higher"};
    case Aim::Ramps:
        return {"lifts on ramps at", "diagonal ramps, until a wheel lifts"};
    case Aim::Holds:
        return {"holds in a bend", "sideways, on the ground chosen"};
    case Aim::Ride:
        break;
    }
    return {"rear ride over front",
            "one wheel's frequency; 5 to 20 % above settles pitch after a bump; says nothing of grip"};
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

namespace {
/// What the road's swing does that a straight-line sum tells badly, each end once.
void of_the_road(std::vector<std::string>& out, const BalanceFigures& f, units::System system) {
    const std::string speed = units::text(f.model.road.speed, units::Quantity::Speed, system, 0);
    for (const End end : both_ends) {
        double swings = 0, stops = 0;
        for (const std::size_t side : {0, 1}) {
            const std::size_t w = wheel_at(end, side);
            swings = std::max(swings, f.ride.load[w] / std::max(1.0, f.still.wheels[w].load));
            if (f.still.wheels[w].stop == car::Stop::Free) stops = std::max(stops, f.ride.on_stops[w]);
        }
        const std::string wheels = std::string("The ") + name_of(end) + " wheels' loads swing by " +
                                   units::fixed(100 * swings, 0) + " % at " + speed;
        if (swings > 0.6)
            out.push_back(wheels + ": they are in the air for much of it, and what it holds here is a guess: slower");
        else if (swings > 1.0 / 3)
            out.push_back(wheels + ": they leave the ground at times, and less is felt than told");
        if (stops > 0.02)
            out.push_back(std::string("The ") + name_of(end) + " springs are on their stops for " +
                          units::fixed(100 * stops, 0) + " % of the time at " + speed);
    }
}
} // namespace

std::vector<std::string> validity(const BalanceFigures& f, units::System system) {
    std::vector<std::string> out;
    const auto in_g = [](double a) { return units::fixed(a / units::g, 2) + " g"; };
    of_the_road(out, f, system);
    if (f.letting_go && f.letting_go->shakes)
        out.push_back("Just beyond the limit a wheel goes on hopping at " + units::fixed(*f.letting_go->shakes, 1) +
                      " Hz: its dampers do not settle it");
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

namespace {
std::string one_or(bool first, const char* one, const char* other) { return first ? one : other; }

/// The name of one of several, counted where another has it too: "box (2)".
template <class T> std::string told_apart(const std::vector<T>& all, std::size_t which, const char* none) {
    const auto name = [&](std::size_t i) { return all.at(i).name.empty() ? std::string(none) : all[i].name; };
    std::size_t same = 0, place = 0;
    for (std::size_t i = 0; i < all.size(); ++i)
        if (name(i) == name(which)) {
            ++same;
            place += i <= which;
        }
    return name(which) + (same > 1 ? " (" + std::to_string(place) + ")" : "");
}
} // namespace

std::string words_of(const Cure& c, const Vehicle& vehicle, const std::vector<TyreData>& sets) {
    using L = Cure::Lever;
    const std::string end = c.end ? name_of(*c.end) : "", End = c.end == End::Front ? "Front" : "Rear";
    const bool known = c.helps(), up = c.value > c.from;
    switch (c.lever) {
    case L::Bar:
        return !known         ? End + " bar"
               : c.value == 0 ? End + " bar off"
                              : one_or(up, "Stiffer ", "Softer ") + end + " bar";
    case L::BothBars:
        return known ? one_or(up, "Stiffer bars, both", "Softer bars, both") : "Both bars";
    case L::NewBar:
        return "A " + end + " bar";
    case L::BothSprings:
        return known ? one_or(up, "Stiffer springs, all", "Softer springs, all") : "All springs";
    case L::Springs:
        return known ? one_or(up, "Stiffer ", "Softer ") + end + " springs" : End + " springs";
    case L::Dampers:
        return known ? one_or(up, "Firmer dampers", "Softer dampers") : "Dampers";
    case L::Clicks:
        return known ? one_or(up, "Clicks firmer", "Clicks softer") : "Clicks of the dampers";
    case L::Traded:
        return "Softer bars with firmer dampers";
    case L::Height:
        return known ? one_or(up, "Raise the car", "Lower the car") : "Ride height";
    case L::Pressure:
        return known ? one_or(up, "More ", "Less ") + end + " pressure" : End + " pressure";
    case L::Camber:
        return End + " camber";
    case L::Brace:
        return known ? one_or(up, "Brace the frame", "Brace out") : "Frame's brace";
    case L::TyreSet:
        return "Tyres: " + told_apart(sets, c.item, "another set");
    case L::Load:
        return (c.from > 0 ? "Without " : "With ") + told_apart(vehicle.loads, c.item, "a load");
    case L::LoadBack:
        return told_apart(vehicle.loads, c.item, "A load") +
               one_or(!known || up, ", further back", ", further forward");
    }
    return {};
}

std::string nearest_sold(const Cure& c, const std::vector<StockSize>& stock, units::System system) {
    if (c.lever != Cure::Lever::Bar || !c.helps() || !c.to || !c.end || !(c.value > 0)) return {};
    const Assembly& a = (*c.to)[*c.end];
    const std::vector<study::Substitute> all = study::from_stock(a, stock.empty() ? usual_stock() : stock);
    if (all.empty()) return "no size near it is sold";
    const double off = all[0].rate / bar::roll_rate(model::solve(a).at_eyes) - 1;
    std::string size = stock_text({{all[0].outer_diameter, all[0].wall}}, system);
    std::erase(size, '\n');
    return "nearest sold: " + size + " " + std::string(units::shown(units::Quantity::Length, system).symbol) +
           ", rate " + (off < 0 ? "−" : "+") + units::fixed(std::abs(100 * off), 0) + " %";
}

std::string answer_of(const Cure& c, const Setup& before, units::System system) {
    using L = Cure::Lever;
    using units::Quantity;
    const auto text = [&](double v, Quantity q, int decimals) {
        return units::text(v, q, system, decimals + (q == Quantity::Length && system != units::System::Metric ? 2 : 0));
    };
    const auto number = [&](double v, Quantity q, int decimals) { // without its unit
        const std::string whole = text(v, q, decimals);
        return whole.substr(0, whole.find(' '));
    };
    const auto to = [&](double was, double is, Quantity q, int decimals) {
        return number(was, q, decimals) + " to " + text(is, q, decimals);
    };
    const auto degrees = [](double v) { return units::fixed(v / units::deg, 1) + "°"; };
    const auto percent = [](double v) { return units::fixed(100 * v, 0) + " %"; };
    const auto plain = [&](double v) {
        switch (c.lever) {
        case L::Bar:
        case L::BothBars:
        case L::Springs:
        case L::BothSprings:
        case L::Dampers:
        case L::Traded:
            return "× " + units::fixed(v, 2);
        case L::Clicks:
            return units::fixed(v, 0) + " clicks";
        case L::NewBar:
        case L::Brace:
            return text(v, Quantity::TorsionalRate, 0);
        case L::Pressure:
            return percent(v);
        case L::Camber:
            return degrees(v);
        case L::Height:
        case L::LoadBack:
            return text(v, Quantity::Length, 0);
        case L::TyreSet:
        case L::Load:
            break;
        }
        return std::string();
    };
    const auto bars_to = [&] { // "front 26 to 24 mm, "
        std::string all;
        for (const End end : both_ends)
            if (before[end].fitted && before[end].connected)
                all += std::string(name_of(end)) + " " +
                       to(before[end].bar.outer_diameter.value, (*c.to)[end].bar.outer_diameter.value, Quantity::Length,
                          1) +
                       ", ";
        return all;
    };
    std::string out;
    switch (c.answer) {
    case Cure::Answer::AsItIs:
        return "as it is";
    case Cure::Answer::NoReading:
        return "the car has no such reading here";
    case Cure::Answer::Nothing:
        return c.low == c.high ? "does not help" : "does not help between " + plain(c.low) + " and " + plain(c.high);
    case Cure::Answer::Whole:
    case Cure::Answer::Part:
        break;
    }
    switch (c.lever) {
    case L::BothBars:
        out = plain(c.value) + ": " + bars_to();
        out.resize(out.size() - 2);
        break;
    case L::BothSprings:
        out = plain(c.value) + ", all round";
        break;
    case L::Bar:
        out = c.value == 0 ? "links off"
                           : to(before[*c.end].bar.outer_diameter.value, (*c.to)[*c.end].bar.outer_diameter.value,
                                Quantity::Length, 1);
        break;
    case L::Springs:
        out = to(before[*c.end].springs.rate.value, (*c.to)[*c.end].springs.rate.value, Quantity::Rate, 1);
        break;
    case L::Dampers:
        out = plain(c.value) + ", bump and rebound, all round";
        break;
    case L::Clicks:
        out = units::fixed(std::abs(c.value), 0) + (std::abs(c.value) == 1 ? " click" : " clicks") +
              ", bump and rebound, all round";
        break;
    case L::Traded:
        out = bars_to() + "dampers " + plain(c.value);
        break;
    case L::Height:
        out = text(std::abs(c.value), Quantity::Length, 0) + " by the springs, both ends";
        break;
    case L::Pressure:
        out = percent(c.from) + " to " + percent(c.value) + " of the nominal";
        break;
    case L::Camber:
        out = degrees(c.from) + " to " + degrees(c.value);
        break;
    case L::Brace:
        out = to(c.from, c.value, Quantity::TorsionalRate, 0);
        break;
    case L::NewBar:
        out = plain(c.value) + " on the car, to be had";
        break;
    case L::LoadBack:
        out = text(std::abs(c.value), Quantity::Length, 0);
        break;
    case L::TyreSet:
        out = "all round";
        break;
    case L::Load:
        break;
    }
    if (c.answer == Cure::Answer::Part)
        out += (out.empty() ? "" : "; ") + ("does " + units::fixed(100 * std::min(c.share, 9.99), 0) + " % of it");
    return out;
}

std::string words_of(const study::Danger& d) {
    using What = study::Danger::What;
    constexpr const char* phases[] = {"braking in", "in mid-corner", "under power", "throttle lifted"};
    const std::string phase = phases[static_cast<std::size_t>(d.phase)],
                      where = d.elsewhere ? ", " + std::string(name_of(*d.elsewhere)) : std::string(),
                      at = (d.elsewhere ? where + " " : ", ") + units::fixed(d.is / units::g, 2) + " g";
    switch (d.what) {
    case What::RearFirst:
        return "Rear now first " + phase + at;
    case What::Tips:
        return "Now tips first " + phase + at;
    case What::Sudden:
        return "Now lets go suddenly" + where;
    case What::HoldsLess:
        return "Holds less " + phase + at;
    }
    return {};
}

std::vector<CostLine> cost_lines(const Costs& now, const Costs& then, units::System system,
                                 const std::vector<sure::Change>& sure) {
    using units::Quantity;
    std::vector<CostLine> out;
    // `good`: 1 where more is better.
    const auto line = [&](const std::string& what, sure::CostAnswer of, double was, double is, int good,
                          const char* more, const char* less, auto&& text) {
        const auto size_of = [&](double v) {
            const std::string size = text(std::abs(v));
            return size.substr(0, size.find(' '));
        };
        const double change = is - was;
        const bool same = size_of(change) == size_of(0.0), known = !sure.empty() && std::isfinite(sure[of].by),
                   unsure = known && sure::how_sure(sure[of]) == sure::Sure::CannotSay;
        std::string words = same ? "as now" : std::string(change > 0 ? more : less);
        if (unsure && !same) words = "cannot say";
        if (!same) words += (change > 0 ? ", +" : ", −") + size_of(change);
        if (known && !same) words += " ± " + size_of(sure[of].half());
        out.push_back({what, text(is), words, same || unsure ? 0 : (change > 0) == (good > 0) ? 1 : -1});
    };
    const auto in = [&](Quantity q, int decimals) {
        return [=](double v) { return units::text(v, q, system, decimals); };
    };
    const auto g = [](double v) { return units::fixed(v / units::g, 3) + " g"; };
    const int fine = system == units::System::Metric ? 0 : 2;
    line("lean at 0.5 g", sure::CostLean, now.lean, then.lean, -1, "more", "less",
         [](double v) { return units::fixed(v / units::deg, 1) + "°"; });
    line("holds, dry", sure::CostDry, now.limit, then.limit, 1, "more", "less", g);
    line("holds, wet", sure::CostWet, now.wet, then.wet, 1, "more", "less", g);
    const std::size_t end =
        std::abs(then.one_wheel[1] - now.one_wheel[1]) > std::abs(then.one_wheel[0] - now.one_wheel[0]);
    line(end == 0 ? "one wheel, front" : "one wheel, rear", end == 0 ? sure::CostFrontWheel : sure::CostRearWheel,
         now.one_wheel[end], then.one_wheel[end], -1, "rougher", "smoother", in(Quantity::Rate, 1));
    const std::string ground = std::string(", ") + name_of(then.ground);
    line("heads" + ground, sure::CostHeads, now.head, then.head, -1, "more", "less",
         [](double v) { return units::fixed(v, 2) + " m/s²"; });
    line("seat" + ground, sure::CostSeat, now.seat, then.seat, -1, "more", "less",
         [](double v) { return units::fixed(v, 2) + " m/s²"; });
    if (now.first_lift && then.first_lift)
        line("a wheel lifts at", sure::CostFirstLift, *now.first_lift, *then.first_lift, 1, "later", "sooner",
             [](double v) { return units::fixed(v / units::g, 2) + " g"; });
    else
        out.push_back({"a wheel lifts", then.first_lift ? units::fixed(*then.first_lift / units::g, 2) + " g" : "never",
                       !now.first_lift == !then.first_lift ? "as now"
                       : then.first_lift                   ? "did not"
                                                           : "did",
                       !now.first_lift == !then.first_lift ? 0
                       : then.first_lift                   ? -1
                                                           : 1});
    line("diagonal ramps", sure::CostRamps, now.articulation, then.articulation, 1, "later", "sooner",
         in(Quantity::Length, fine));
    line("largest link force", sure::CostLink, now.link, then.link, -1, "more", "less",
         in(Quantity::Force, units::force_decimals(std::max(now.link, then.link))));
    if (now.damping && then.damping)
        line("roll damping", sure::CostDamping, *now.damping, *then.damping, 1, "more", "less",
             [](double v) { return units::fixed(v, 2); });
    return out;
}

} // namespace dervish::say
