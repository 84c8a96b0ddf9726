#pragma once
#include "core/proof/ramp_test.h"
#include "core/sure/bands.h"

namespace dervish::proof {
using namespace sure;

/// The prediction for a planned test, with sigmas, for the setup and the loads that the test names. Throws BadInput.
job::Prediction predict(const Vehicle& vehicle, const PlannedTest& test);

} // namespace dervish::proof
