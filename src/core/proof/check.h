#pragma once
#include "core/proof/protocol.h"

namespace dervish::proof {

/// Throws BadInput with the place inside the test ("runs/2/state") at the first thing that does not fit together: a
/// state that is not there, lists that are not the protocol's, a setting beyond what it accepts. Of a protocol that is
/// not known only what holds for every test.
void check(const PlannedTest& test);

} // namespace dervish::proof
