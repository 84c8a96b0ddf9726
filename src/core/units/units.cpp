#include "core/units/units.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>

namespace dervish::units {
namespace {
Unit metric(Quantity quantity) {
    switch (quantity) {
    case Quantity::Length:
        return {"mm", mm, 1};
    case Quantity::Mass:
        return {"kg", 1, 1};
    case Quantity::Force:
        return {"N", 1, 0};
    case Quantity::Rate:
        return {"N/mm", N_per_mm, 1};
    case Quantity::CubicRate:
        return {"N/mm³", 1e9, 3};
    case Quantity::TorsionalRate:
        return {"N·m/°", 1 / deg, 1};
    case Quantity::TwistRate:
        return {"N·m/rad", 1, 1};
    case Quantity::Angle:
        return {"°", deg, 2};
    case Quantity::Modulus:
        return {"GPa", GPa, 1};
    case Quantity::Stress:
        return {"N/mm²", MPa, 0};
    case Quantity::Density:
        return {"kg/m³", 1, 0};
    case Quantity::Distance:
        return {"km", 1e3, 0};
    case Quantity::RollGradient:
        return {"°/g", deg / g, 2};
    case Quantity::Share:
        return {"%", 0.01, 1};
    case Quantity::Damping:
        return {"N·s/m", 1, 0};
    case Quantity::Inertia:
        return {"kg·m²", 1, 0};
    case Quantity::SteerPerForce:
        return {"°/kN", deg / 1e3, 2};
    case Quantity::Pressure:
        return {"bar", 1e5, 2};
    case Quantity::Speed:
        return {"km/h", 1 / 3.6, 0};
    case Quantity::Moment:
        return {"N·m", 1, 1};
    case Quantity::Number:
        return {"", 1, 3};
    }
    return {"", 1, 3};
}

Unit imperial(Quantity quantity) {
    switch (quantity) {
    case Quantity::Length:
        return {"in", inch, 3};
    case Quantity::Mass:
        return {"lb", pound, 1};
    case Quantity::Force:
        return {"lbf", pound_force, 0};
    case Quantity::Rate:
        return {"lbf/in", pound_force / inch, 0};
    case Quantity::CubicRate:
        return {"lbf/in³", pound_force / (inch * inch * inch), 0};
    case Quantity::TorsionalRate:
        return {"lbf·ft/°", pound_force * 12 * inch / deg, 1};
    case Quantity::TwistRate:
        return {"lbf·ft/rad", pound_force * 12 * inch, 1};
    case Quantity::Modulus:
        return {"Mpsi", 1e6 * pound_force / (inch * inch), 2};
    case Quantity::Stress:
        return {"ksi", 1e3 * pound_force / (inch * inch), 1};
    case Quantity::Density:
        return {"lb/in³", pound / (inch * inch * inch), 4};
    case Quantity::Distance:
        return {"mi", 1609.344, 0};
    case Quantity::Damping:
        return {"lbf·s/in", pound_force / inch, 1};
    case Quantity::Inertia:
        return {"lb·ft²", pound * 144 * inch * inch, 0};
    case Quantity::SteerPerForce:
        return {"°/klbf", deg / (1e3 * pound_force), 2};
    case Quantity::Pressure:
        return {"psi", pound_force / (inch * inch), 1};
    case Quantity::Speed:
        return {"mph", 1609.344 / 3600, 1};
    case Quantity::Moment:
        return {"lbf·ft", pound_force * 12 * inch, 1};
    case Quantity::Angle:
    case Quantity::RollGradient:
    case Quantity::Share:
    case Quantity::Number:
        return metric(quantity);
    }
    return metric(quantity);
}

bool stays_metric_when_mixed(Quantity q) {
    return q == Quantity::Rate || q == Quantity::CubicRate || q == Quantity::Force || q == Quantity::TorsionalRate ||
           q == Quantity::TwistRate || q == Quantity::Damping || q == Quantity::Inertia ||
           q == Quantity::SteerPerForce || q == Quantity::Moment || q == Quantity::Mass || q == Quantity::Modulus ||
           q == Quantity::Stress || q == Quantity::Density;
}
} // namespace

int force_decimals(double si) { return std::abs(si) >= 100 ? 0 : std::abs(si) >= 10 ? 1 : 2; }

Unit shown(Quantity quantity, System system) {
    if (system == System::Metric) return metric(quantity);
    if (system == System::InchMetricRates && stays_metric_when_mixed(quantity)) return metric(quantity);
    return imperial(quantity);
}

Unit filed(Quantity quantity) {
    switch (quantity) {
    case Quantity::Length:
        return {"mm", mm, 9};
    case Quantity::Mass:
        return {"kg", 1, 9};
    case Quantity::Force:
        return {"N", 1, 9};
    case Quantity::Rate:
        return {"N_per_mm", N_per_mm, 9};
    case Quantity::CubicRate:
        return {"N_per_mm3", 1e9, 9};
    case Quantity::TorsionalRate:
        return {"N_m_per_deg", 1 / deg, 9};
    case Quantity::TwistRate:
        return {"N_m_per_rad", 1, 9};
    case Quantity::Angle:
        return {"deg", deg, 9};
    case Quantity::Modulus:
        return {"GPa", GPa, 9};
    case Quantity::Stress:
        return {"MPa", MPa, 9};
    case Quantity::Density:
        return {"kg_per_m3", 1, 9};
    case Quantity::Distance:
        return {"km", 1e3, 9};
    case Quantity::RollGradient:
        return {"deg_per_g", deg / g, 9};
    case Quantity::Share:
        return {"percent", 0.01, 9};
    case Quantity::Damping:
        return {"N_s_per_m", 1, 9};
    case Quantity::Inertia:
        return {"kg_m2", 1, 9};
    case Quantity::SteerPerForce:
        return {"deg_per_kN", deg / 1e3, 9};
    case Quantity::Pressure:
        return {"bar", 1e5, 9};
    case Quantity::Speed:
        return {"km_per_h", 1 / 3.6, 9};
    case Quantity::Moment:
        return {"N_m", 1, 9};
    case Quantity::Number:
        return {"", 1, 9};
    }
    return {"", 1, 9};
}

std::string filed_key(const char* key, Quantity quantity) {
    const auto suffix = filed(quantity).symbol;
    return suffix.empty() ? key : std::string(key) + "_" + std::string(suffix);
}

// std::to_chars and std::from_chars, here and in entry.cpp: what is printed and read never follows the locale.
double rounded(double value) {
    if (value == 0 || !std::isfinite(value)) return value;
    std::array<char, 40> text;
    const auto written =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::scientific, 11);
    std::from_chars(text.data(), written.ptr, value);
    return value;
}

double as_filed(double si, Quantity quantity) {
    const double factor = filed(quantity).factor;
    return rounded(si / factor) * factor;
}

std::string fixed(double value, int decimals) {
    if (!std::isfinite(value)) return "none"; // a figure that cannot be: whoever tells it says why
    std::array<char, 400> text;               // the largest double has 309 figures
    const auto written =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::fixed, std::min(decimals, 20));
    std::string out(text.data(), written.ptr);
    if (out[0] == '-' && out.find_first_not_of("-0.") == std::string::npos) out.erase(0, 1);
    return out;
}

std::string trimmed(double value, int decimals) {
    std::string out = fixed(value, decimals);
    if (out.find('.') == std::string::npos) return out;
    out.erase(out.find_last_not_of('0') + 1);
    if (out.back() == '.') out.pop_back();
    return out;
}

std::string in_mm(double metres) { return trimmed(metres / mm, 3) + " mm"; }

std::string text(double si, Quantity quantity, System system, int decimals) {
    Unit unit = shown(quantity, system);
    if (unit.symbol == "kg" && std::abs(si) < 0.1) unit = {"g", 1e-3, 1};
    std::string out = fixed(si / unit.factor, decimals < 0 ? unit.decimals : decimals);
    if (unit.symbol.empty() || !std::isfinite(si)) return out;
    const bool joined = unit.symbol == "°";
    return out + (joined ? "" : " ") + std::string(unit.symbol);
}

} // namespace dervish::units
