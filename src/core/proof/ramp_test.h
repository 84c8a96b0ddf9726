#pragma once
#include "core/band.h"
#include "core/flex/protocol.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// Predictions against tests.
namespace dervish::proof {

/// Changes when the model's answers change, so that a frozen prediction says by which model it was made.
inline constexpr const char* model_version = "1";

/// Wheel travels where they were measured or predicted, bump positive, m.
struct Travels {
    std::array<std::optional<double>, 4> wheel;
    bool operator==(const Travels&) const = default;
};

enum class Method {
    Growing, ///< ramps raised until a wheel goes light; the reading is their height
    Fixed,   ///< ramps of one height; the reading is the gap under the hanging tyre, 0 when it still stands
};

struct Reading {
    double value = 0;       ///< m
    bool more_than = false; ///< the ramps ended before a wheel went light
    Travels travel;
    std::string note;
    bool operator==(const Reading&) const = default;
};

/// Frozen when the test is planned. `value`: lift height, or for fixed ramps the gap, which below zero says by how
/// much the tyre is still squeezed. m.
struct Prediction {
    double value = 0, sigma = 0;
    bool lifted = true; ///< false: growing ramps end first, the height is "more than"
    int light_wheel = -1;
    Travels travel, travel_sigma;
    std::string model;
    bool operator==(const Prediction&) const = default;
};

struct RampTest {
    Method method = Method::Growing;
    flex::Diagonal raised = flex::Diagonal::FrontLeftRearRight;
    double ramp_height = 0.5;     ///< of fixed ramps, or where growing ramps end, m
    double reading_sigma = 0.005; ///< how well one height or gap is read, m
    std::optional<double> guess;  ///< noted before the prediction is shown, m
    bool predicted = false;
    Prediction prediction;
    std::vector<Reading> readings;
    bool operator==(const RampTest&) const = default;
};

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

std::string to_words(Agreement agreement);

} // namespace dervish::proof
