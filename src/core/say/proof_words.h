#pragma once
#include "core/proof/rig_check.h"

namespace dervish::say {

/// "agrees", "nothing read yet".
std::string words_of(proof::Agreement agreement);

/// "diameter 25.60 mm, not 26.00"; `both_arms`: how the rig was said to be loaded.
std::string words_of(const proof::Suspect& suspect, bool both_arms, units::System system);

} // namespace dervish::say
