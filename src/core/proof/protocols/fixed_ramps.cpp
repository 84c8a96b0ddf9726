#include "core/proof/asking.h"

namespace dervish::proof {

Protocol fixed_ramps() {
    using enum units::Quantity;
    // Where the tyre still stands, by how much it is squeezed, below 0: so that the figure has no kink.
    const auto hang = [](const car::Car& car, const flex::FixedRamps& f, int w) {
        return f.state.wheels[w].gap -
               f.state.wheels[w].load / car[dervish::end_of(static_cast<std::size_t>(w))].tyre_rate;
    };
    const auto light = [hang](const car::Car& car, const flex::FixedRamps& f, Diagonal raised) {
        const auto low = flex::low_wheels(raised);
        return hang(car, f, low[0]) >= hang(car, f, low[1]) ? low[0] : low[1];
    };
    Protocol p{
        "fixed_ramps",
        "Diagonal ramps of one height",
        Sort::Ramps,
        "The gap under the hanging tyre on the same ramps as everybody's.",
        {raised_setting("Raised"), {{"ramp_height", "Their height", Length, Tool::Tape, 0.01, 3}, 0.4}},
        with_travels({{{"gap", "Gap under the hanging tyre", Length, Tool::Tape, -0.2, 3}, 5e-3, 0, 4e-3, true}}),
        {"two ramps of one height that cannot slip", "tape"},
        {"Park on firm level ground and drive up slowly, one person guiding.", "Let the car settle by rocking it.",
         "Read the gap under the tyre that hangs highest, 0 where both stand, and each wheel's travel."},
        "Both raised wheels stand on top of their ramps.",
        ramp_caution,
        {},
        [hang, light](const Settings& s) {
            return of_car(
                [hang, light, raised = raised_of(s), height = s.at("ramp_height")](const Asked&, const car::Car& car) {
                    const flex::FixedRamps f = flex::on_fixed_ramps(car, raised, height);
                    return with_travels({hang(car, f, light(car, f, raised))}, f.state);
                });
        }};
    p.light_wheel = [light](const Snapshot& car, const Settings& s) {
        const car::Car c = car_with(car.vehicle, car.setup);
        return light(c, flex::on_fixed_ramps(c, raised_of(s), s.at("ramp_height")), raised_of(s));
    };
    return p;
}

} // namespace dervish::proof
