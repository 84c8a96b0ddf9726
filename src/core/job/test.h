#pragma once
#include "core/terms/terms.h"

#include <array>
#include <optional>
#include <string>
#include <vector>

/// A ramp test as it stands in the book: how it is done, what was predicted, what was read.
namespace dervish::job {

/// Wheel travels where they were measured or predicted, bump positive, m.
struct Travels {
    PerWheel<std::optional<double>> wheel;
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
    Diagonal raised = Diagonal::FrontLeftRearRight;
    double ramp_height = 0.5;     ///< of fixed ramps, or where growing ramps end, m
    double reading_sigma = 0.005; ///< how well one height or gap is read, m
    std::optional<double> guess;  ///< noted before the prediction is shown, m
    bool predicted = false;
    Prediction prediction;
    std::vector<Reading> readings;
    bool operator==(const RampTest&) const = default;
};

} // namespace dervish::job
