#include "core/units/spelling.h"

#include <algorithm>

namespace dervish::units {
namespace {
constexpr double foot = 12 * inch, mile = 1609.344;
} // namespace

const std::vector<Named>& named_units() {
    static const std::vector<Named> all = [] {
        using enum Quantity;
        std::vector<Named> out = {
            {"mm", Length, mm},
            {"cm", Length, 0.01},
            {"m", Length, 1},
            {"in", Length, inch},
            {"inch", Length, inch},
            {"\"", Length, inch},
            {"''", Length, inch},
            {"ft", Length, foot},
            {"'", Length, foot},
            {"kg", Mass, 1},
            {"g", Mass, 1e-3},
            {"t", Mass, 1e3},
            {"lb", Mass, pound},
            {"lbs", Mass, pound},
            {"oz", Mass, pound / 16},
            {"N", Force, 1},
            {"kN", Force, 1e3},
            {"lbf", Force, pound_force},
            {"lb", Force, pound_force},
            {"lbs", Force, pound_force},
            {"kgf", Force, g},
            {"km", Distance, 1e3},
            {"m", Distance, 1},
            {"mi", Distance, mile},
            {"mile", Distance, mile},
            {"miles", Distance, mile},
            {"°", Angle, deg},
            {"deg", Angle, deg},
            {"rad", Angle, 1},
            {"bar", Pressure, 1e5},
            {"psi", Pressure, pound_force / (inch * inch)},
            {"kPa", Pressure, 1e3},
            {"MPa", Pressure, MPa},
            {"GPa", Modulus, GPa},
            {"MPa", Modulus, MPa},
            {"N/mm2", Modulus, MPa},
            {"psi", Modulus, pound_force / (inch * inch)},
            {"ksi", Modulus, 1e3 * pound_force / (inch * inch)},
            {"Mpsi", Modulus, 1e6 * pound_force / (inch * inch)},
            {"MPa", Stress, MPa},
            {"GPa", Stress, GPa},
            {"N/mm2", Stress, MPa},
            {"psi", Stress, pound_force / (inch * inch)},
            {"ksi", Stress, 1e3 * pound_force / (inch * inch)},
            {"km/h", Speed, 1 / 3.6},
            {"kph", Speed, 1 / 3.6},
            {"m/s", Speed, 1},
            {"mph", Speed, mile / 3600},
            {"kg/m3", Density, 1},
            {"g/cm3", Density, 1e3},
            {"lb/in3", Density, pound / (inch * inch * inch)},
            {"°/g", RollGradient, deg / g},
            {"deg/g", RollGradient, deg / g},
            {"%", Share, 0.01},
            {"%", Number, 0.01},
            {"kg*m2", Inertia, 1},
            {"kgm2", Inertia, 1},
            {"lb*ft2", Inertia, pound * foot * foot},
            {"lbft2", Inertia, pound * foot * foot},
            {"N/mm3", CubicRate, 1e9},
            {"lbf/in3", CubicRate, pound_force / (inch * inch * inch)},
            {"lb/in3", CubicRate, pound_force / (inch * inch * inch)},
            {"°/kN", SteerPerForce, deg / 1e3},
            {"deg/kN", SteerPerForce, deg / 1e3},
            {"°/klbf", SteerPerForce, deg / (1e3 * pound_force)},
            {"deg/klbf", SteerPerForce, deg / (1e3 * pound_force)},
        };
        const std::pair<const char*, double> forces[] = {
            {"N", 1}, {"kN", 1e3}, {"lbf", pound_force}, {"lb", pound_force}, {"kgf", g}, {"kg", g}};
        const std::pair<const char*, double> lengths[] = {{"mm", mm}, {"cm", 0.01}, {"m", 1}, {"in", inch}};
        for (const auto& [force, f] : forces)
            for (const auto& [length, l] : lengths) {
                out.push_back({std::string(force) + "/" + length, Rate, f / l});
                out.push_back({std::string(force) + "*s/" + length, Damping, f / l});
                out.push_back({std::string(force) + "s/" + length, Damping, f / l});
            }
        std::vector<std::pair<std::string, double>> moments;
        for (const auto& [force, f] : forces)
            for (const auto& [arm, l] : {std::pair{"m", 1.0}, {"mm", mm}, {"ft", foot}, {"in", inch}})
                for (const char* between : {"*", "", "-"}) {
                    moments.emplace_back(std::string(force) + between + arm, f * l);
                    if (arm[0] != 'm') moments.emplace_back(std::string(arm) + between + force, f * l);
                }
        for (const auto& [moment, factor] : moments) {
            out.push_back({moment, Moment, factor});
            for (const auto& [angle, a] : {std::pair{"°", deg}, {"deg", deg}, {"rad", 1.0}})
                for (const Quantity q : {TorsionalRate, TwistRate})
                    out.push_back({moment + "/" + angle, q, factor / a});
        }
        std::stable_sort(out.begin(), out.end(),
                         [](const Named& a, const Named& b) { return a.spelling.size() > b.spelling.size(); });
        return out;
    }();
    return all;
}

std::string plain(std::string_view text) {
    std::string out;
    for (std::size_t i = 0; i < text.size();) {
        const auto byte = [&](std::size_t k) {
            return i + k < text.size() ? static_cast<unsigned char>(text[i + k]) : 0u;
        };
        char32_t c = byte(0);
        std::size_t n = 1;
        if (c >= 0xC2 && c < 0xE0 && (byte(1) & 0xC0) == 0x80)
            c = (c & 31) << 6 | (byte(1) & 63), n = 2;
        else if (c >= 0xE0 && c < 0xF0 && (byte(1) & 0xC0) == 0x80 && (byte(2) & 0xC0) == 0x80)
            c = (c & 15) << 12 | (byte(1) & 63) << 6 | (byte(2) & 63), n = 3;
        const std::string_view own = text.substr(i, n);
        i += n;
        const auto digit = [&](char32_t zero) { return c >= zero && c <= zero + 9; };
        const auto one_of = [&](std::u32string_view set) { return set.find(c) != set.npos; };
        if (digit(0x660))
            out += static_cast<char>('0' + (c - 0x660));
        else if (digit(0x6F0))
            out += static_cast<char>('0' + (c - 0x6F0));
        else if (digit(0xFF10))
            out += static_cast<char>('0' + (c - 0xFF10));
        else if (one_of(U"\u200B\u200E\u200F\u061C\uFEFF"))
            continue; // marks of writing direction
        else if (c == '\t' || c == '\n' || c == '\r' || c == 0xA0 || (c >= 0x2000 && c <= 0x200A) ||
                 one_of(U"\u202F\u205F\u3000\u066C"))
            out += ' ';
        else if (c == 0x66B)
            out += ',';
        else if (one_of(U"\u2212\u2010\u2011\u2012\u2013\u2014"))
            out += '-';
        else if (one_of(U"\u00D7\u00B7\u22C5"))
            out += '*';
        else if (one_of(U"\u2044\u2215"))
            out += '/';
        else if (one_of(U"\u2033\u201C\u201D"))
            out += '"';
        else if (one_of(U"\u2032\u2018\u2019"))
            out += '\'';
        else if (one_of(U"\u00BA\u02DA"))
            out += "°";
        else if (one_of(U"\u00B2\u00B3") && !out.empty() && std::isalpha(static_cast<unsigned char>(out.back())))
            out += c == 0xB2 ? '2' : '3'; // of a unit: behind a figure it is a power, which no entry has
        else if (c == 0x66A)
            out += '%';
        else if (c == 0xBD)
            out += " 1/2";
        else if (c == 0xBC)
            out += " 1/4";
        else if (c == 0xBE)
            out += " 3/4";
        else if (c == 0x215B)
            out += " 1/8";
        else if (c == 0x215C)
            out += " 3/8";
        else if (c == 0x215D)
            out += " 5/8";
        else if (c == 0x215E)
            out += " 7/8";
        else
            out += own;
    }
    out.erase(0, out.find_first_not_of(' '));
    out.erase(out.find_last_not_of(' ') + 1);
    return out;
}

} // namespace dervish::units
