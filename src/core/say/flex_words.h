#pragma once
#include "core/study/flex.h"

namespace dervish::say {
using namespace study;

/// Why the travel ends where it does, in words with numbers: the axle that sets the twist, what the bars take of it,
/// whose ground the body follows, what each removal changes, what ends the travel. `all` as from flex_states().
std::vector<std::string> why(const flex::Protocol& protocol, const std::vector<FlexResult>& all, units::System system);

/// "front off", "dampers 50 mm longer": what a state is called where states stand side by side.
std::string name_of(const FlexState& state, units::System system);

/// Words of a protocol: "diagonal ramps, front left and rear right up", "ramp of 20° under the front left".
std::string words_of(const flex::Protocol& protocol);

/// What ends the travel of a wheel: "bump stop", "damper out", "free, 12 mm to the bump stop".
std::string limit_of(const car::Wheel& wheel, units::System system);

} // namespace dervish::say
