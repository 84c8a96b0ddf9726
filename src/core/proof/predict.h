#pragma once
#include "core/proof/ramp_test.h"
#include "core/sure/bands.h"

namespace dervish::proof {
using namespace sure;

/// The prediction for a planned test, with sigmas, for the car that the test holds. Throws BadInput.
job::Prediction predict(const PlannedTest& test);

} // namespace dervish::proof
