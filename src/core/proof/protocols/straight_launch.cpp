#include "core/proof/asking.h"
#include "core/study/launch.h"

namespace dervish::proof {

Protocol straight_launch() {
    using enum units::Quantity;
    return {
        "straight_launch",
        "Straight launch",
        Sort::Driving,
        "How the car leans and which driven wheel is the lighter one off the line: what a preloaded bar is set for.",
        {},
        {{{"lean", "Lean", Angle, Tool::AngleGauge, -0.3, 0.3, "right side down is +"},
          0.15 * units::deg,
          0,
          0.1 * units::deg,
          false,
          nullptr,
          0.05},
         {{"pull", "Pull at which a wheel spins, in g", Number, Tool::Test, 0, 3},
          0.02,
          0,
          0.015,
          false,
          nullptr,
          0.05}},
        {"a closed straight", "camera from behind", "accelerometer or a timed distance"},
        {"Straight off the line with the pull that the car's list has; picture from behind.",
         "More pull by steps until a driven wheel spins; look which one."},
        "A wheel spins.",
        "A closed straight; nobody in front of or behind the car.",
        {},
        [](const Settings&) {
            return of_car([](const Asked& asked, const car::Car& car) {
                const balance::Model model = to_model(asked.vehicle, asked.setup, car);
                car::Situation s{.longitudinal_acceleration = asked.vehicle.handling.launch.value * units::g};
                if (const auto off = study::propshaft_torque(asked.vehicle, car))
                    s.axle_torque[dervish::index(off->end)] = off->torque;
                const balance::Pull most = balance::most_pull(model, 0);
                return std::vector{more_lean(car, car::settle(car, s)),
                                   most.gives == balance::Gives::Nothing && most.spins >= 0
                                       ? most.longitudinal / units::g
                                       : std::nan("")};
            });
        },
        bears_on_drives};
}

} // namespace dervish::proof
