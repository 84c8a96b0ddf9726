#include "core/proof/asking.h"

namespace dervish::proof {

Protocol noise_hunt() {
    return {
        "noise_hunt",
        "Noise hunt",
        Sort::Felt,
        "Which corner a noise comes from, and what brings it on. Nothing is predicted: it is heard, not computed.",
        {},
        {},
        {"a driver and a listener", "chalk"},
        {"One input at a time: one wheel over a board, both wheels, steering at rest, braking, a slow bend each way.",
         "Mark each corner after each; then take one link off, tied up, and listen again."},
        "Each input has been tried with links on and off.",
        "Nobody under a car that moves. A disconnected link must be tied up or taken off.",
        {{"front_left", "Front left", "silent", "knocks hard"},
         {"front_right", "Front right", "silent", "knocks hard"},
         {"rear_left", "Rear left", "silent", "knocks hard"},
         {"rear_right", "Rear right", "silent", "knocks hard"},
         {"one_wheel", "Over one wheel's bump", "silent", "knocks hard"},
         {"both_wheels", "Over both wheels' bump", "silent", "knocks hard"},
         {"steering", "Turning the steering at rest", "silent", "knocks hard"}},
        [](const Settings&) -> Answers { return [](const Asked&) { return std::vector<double>{}; }; }};
}

} // namespace dervish::proof
