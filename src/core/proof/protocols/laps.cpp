#include "core/proof/asking.h"

namespace dervish::proof {

Protocol laps() {
    using enum units::Quantity;
    return {"laps",
            "Laps of a circuit",
            Sort::Driving,
            "What a change of grip in the bends is worth over a lap.",
            {{{"bends", "Length of all bends", Distance, Tool::Test, 10, 20000}, 600},
             {{"radius", "Their usual radius", Length, Tool::Tape, 5, 500}, 40},
             {{"rest", "Time on the rest, s", Number, Tool::Test, 0, 1000, "straights, from a lap that is known"}, 45},
             ground_setting()},
            {{{"lap", "Time of a lap, s", Number, Tool::Test, 0, 3000}, 0.4, 0, 0.6, false, nullptr, 0.03}},
            {"a closed circuit", "stop watch", "tyres warmed alike"},
            {"Three laps to warm up, then five that count; traffic laps are left out with that as the reason.",
             "Go back to the first setup at the end: the track has changed too."},
            "Five clean laps.",
            "A closed course under its own rules, within the driver's skill.",
            {},
            [](const Settings& s) {
                return of_car(std::optional<balance::Limit>(), [s](const Asked& asked, const car::Car& car,
                                                                   std::optional<balance::Limit>& first) {
                    const balance::Limit limit = balance::outright_limit(
                        to_model(asked.vehicle, asked.setup, car, ground_of(s)), first ? &*first : nullptr);
                    if (!first) first = limit;
                    return std::vector{s.at("rest") + s.at("bends") / std::sqrt(limit.lateral * s.at("radius"))};
                });
            },
            bears_on_drives};
}

} // namespace dervish::proof
