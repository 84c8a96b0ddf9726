#pragma once
#include "core/proof/protocol.h"

namespace dervish::say {

/// A test for the clipboard as HTML: its question, what is held equal, steps, a box for each run and reading, what ends
/// it, cautions. An order drawn by lot stands on a second page alone; on the first a run is only a number. No
/// prediction and no guess stands on it.
std::string test_sheet(const job::Job& job, const job::PlannedTest& test, units::System system);

} // namespace dervish::say
