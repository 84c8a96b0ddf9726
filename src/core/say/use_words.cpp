#include "core/say/use_words.h"

#include <cmath>

namespace dervish::say {

UseWords words_of(job::Use use) {
    static constexpr UseWords all[] = {
        {"road", "a few degrees tell the driver how fast it goes; flatter rides hard and lets go with less warning"},
        {"loaded", "what stands high must not swing; the front gives up well before the rear, loaded or empty"},
        {"towing", "what is towed pushes the rear: it needs the steadiest balance, and little sway to answer"},
        {"sport", "quick to take a set, and still a car for the road home"},
        {"race, smooth", "the tyres stand upright and the springs need not swallow much"},
        {"race, rough", "flat enough for the tyres, soft enough to stay on the ground over kerbs"},
        {"hill sprint", "quick in bends that reverse, on a road that is patched and cold"},
        {"trail", "wheels must follow the ground: lean is what that costs on the way there"},
        {"rocks", "reach comes first, speed is a walk; mind the side slope instead"},
        {"launch", "even rear wheels when the drive twists the axle; bends are few"},
        {"small scale", "no one rides in it; what matters is grip and that it does not tip"},
    };
    return all[static_cast<std::size_t>(use)];
}

std::string words_of(const study::Match& m, const sure::PairBand* band) {
    if (m.bars == PerAxle<double>{1, 1}) return "the bars as they are";
    const auto factor = [](double f) { return f == 0 ? "none" : "× " + units::trimmed(f, 1); };
    const auto percent = [](double part) { return (part < 0 ? "−" : "+") + units::fixed(std::abs(100 * part), 1); };
    return "front " + factor(m.bars.front) + ", rear " + factor(m.bars.rear) + ": " + percent(m.gain) +
           (band ? " ± " + units::fixed(50 * (band->most - band->least), 1) : std::string()) + " %";
}

} // namespace dervish::say
