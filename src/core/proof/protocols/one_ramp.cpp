#include "core/proof/asking.h"

namespace dervish::proof {

Protocol one_ramp() {
    using enum units::Quantity;
    const auto of = [](const Settings& s) {
        return flex::Protocol{.kind = flex::Kind::Ramp,
                              .wheel = wheel_of(s),
                              .angle = s.at("angle"),
                              .highest = s.at("ramp_length") * std::sin(s.at("angle"))};
    };
    Protocol p{
        "one_ramp",
        "One ramp under one wheel",
        Sort::Ramps,
        "How far one wheel drives up a ramp before another goes light, and the index that it is told as.",
        {wheel_setting("Drives up", 0),
         {{"angle", "Ramp's angle", Angle, Tool::AngleGauge, 5 * units::deg, 45 * units::deg}, 20 * units::deg},
         {{"ramp_length", "Ramp's length", Length, Tool::Tape, 0.01, 10}, 2.4}},
        with_travels(
            {{{"distance", "Distance along the ramp", Length, Tool::Tape, 0, 10},
              15e-3,
              0,
              10e-3,
              false,
              "ramp_length"},
             {{"index", "Index", Number, Tool::Tape, 0, 5000, "distance over wheelbase, times 1000"}, 6, 0, 4}}),
        {"a ramp that cannot slip", "chock for the other wheels' stop", "tape"},
        {"Drive the wheel up slowly, one person guiding, until another wheel goes light.",
         "Read how far up the ramp the tyre's contact is."},
        "Another tyre goes light; or the ramp ends: type \"> distance\".",
        "Firm level ground, a ramp that cannot slip, low gear, one person guiding. Nobody beside the car on the low "
        "side. Stop when a tyre, hose or link touches. Stop well before the car feels that it may go over.",
        {},
        [of](const Settings& s) {
            const double angle = s.at("angle");
            return of_car(Climbs{of(s)}, [angle](const Asked& asked, const car::Car& car, Climbs& climbs) {
                const flex::Ascent a = climbs.of(car);
                const double along = a.height / std::sin(angle);
                return with_travels({along, 1000 * along / asked.vehicle.wheelbase.value}, a.state);
            });
        }};
    p.light_wheel = light_wheel_of(of);
    return p;
}

} // namespace dervish::proof
