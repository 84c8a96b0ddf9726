#pragma once
#include <nlohmann/json.hpp>
#include <string>
#include <vector>

namespace dervish::store {

/// One computed figure beside the one expected.
struct Compared {
    std::string figure, unit;
    double computed, expected, tolerance;
    double deviation() const; ///< |computed − expected|
    bool within() const { return deviation() <= tolerance; }
    double used() const { return deviation() / tolerance; } ///< of the tolerance
};

struct CheckedCase {
    std::string name;
    std::vector<Compared> figures;
};

/// Computes every case of a reference file from its inputs (formats: docs/model.md, "Checked against") and sets it
/// beside what the file expects. Throws BadInput at "cases/3/mounts/0/point" for anything missing, unknown or wrong.
std::vector<CheckedCase> check_reference(const nlohmann::json& file);

} // namespace dervish::store
