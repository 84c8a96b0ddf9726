#pragma once
#include "core/flex/protocol.h"
#include "core/job/test.h"
#include "core/num/band.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// Predictions against tests.
namespace dervish::proof {
using namespace job;

/// Changes when the model's answers change, so that a frozen prediction says by which model it was made.
inline constexpr const char* model_version = "1";

/// The value and travels the car gives in this test. Sigmas are left 0.
Prediction predict(const car::Car& car, const RampTest& test);

enum class Agreement { NothingRead, Agrees, Doubtful, Disagrees };

/// |z| ≤ 1.645 agrees, ≤ 2.58 doubtful, else disagrees.
Agreement judged(double z);

/// Readings against the prediction: z = (measured − predicted)/√(σ_m² + σ_p²); one-sided where a reading is only a
/// bound. |z| ≤ 1.645 agrees, ≤ 2.58 doubtful, else disagrees.
struct Verdict {
    Agreement agreement = Agreement::NothingRead;
    double measured = 0, measured_sigma = 0, difference = 0, z = 0;
    bool bound = false; ///< the reading was "more than", or no gap
};

Verdict compare(const RampTest& test);

/// The same for one wheel's travel, by the readings that give it.
Verdict compare_travel(const RampTest& test, int wheel);

} // namespace dervish::proof
