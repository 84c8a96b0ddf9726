#include "core/proof/asking.h"

namespace dervish::proof {

Protocol diagonal_ramps() {
    using enum units::Quantity;
    const auto of = [](const Settings& s) {
        return flex::Protocol{.raised = raised_of(s), .highest = s.at("ramp_height")};
    };
    Protocol p{
        "diagonal_ramps",
        "Diagonal ramps",
        Sort::Ramps,
        "How far front and rear follow a twisted track before a wheel goes light.",
        {raised_setting("Raised"), {{"ramp_height", "They end at", Length, Tool::Tape, 0, 3}, 0.8}},
        with_travels({{{"height", "Height when a wheel goes light", Length, Tool::Tape, -0.2, 3},
                       5e-3,
                       0,
                       4e-3,
                       false,
                       "ramp_height"}}),
        {"two ramps that cannot slip", "blocks or a jack that raises them by steps", "tape",
         "paper to draw from under a tyre"},
        {"Park on firm level ground, brake off, in gear, one person guiding.",
         "Raise both ramps by equal steps; let the car settle by rocking it.",
         "Read the height at which paper slips from under a tyre, and each wheel's travel."},
        "The first tyre from under which paper slips; or the ramps end: type \"> height\".",
        "Firm level ground, ramps that cannot slip, low gear, one person guiding. Nobody under or beside the car "
        "while it is up. Stop when a tyre, hose or link touches. A disconnected link must be tied up or taken off.",
        {},
        [of](const Settings& s) {
            return of_car(Climbs{of(s)}, [](const Asked&, const car::Car& car, Climbs& climbs) {
                const flex::Ascent a = climbs.of(car);
                return with_travels({a.height}, a.state);
            });
        }};
    p.light_wheel = [of](const Snapshot& car, const Settings& s) {
        return flex::climb(car_with(car.vehicle, car.setup), of(s)).light_wheel;
    };
    return p;
}

} // namespace dervish::proof
