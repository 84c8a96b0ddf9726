#include "core/say/bar_words.h"

#include "core/num/band.h"

#include <algorithm>
#include <cmath>

namespace dervish::say {

std::string band_text(double value, Sides band, int decimals, bool positive) {
    auto [below, above] = band;
    if (!(below + above > 0) || !std::isfinite(below + above)) return {};
    if (below == above && positive && below > 0.25 * value && value > 0) {
        const double factor = std::exp(below / value);
        below = value - value / factor;
        above = value * factor - value;
    }
    if (std::max(below, above) <= 1.25 * std::min(below, above))
        return "± " + units::fixed((below + above) / 2, decimals);
    return "−" + units::fixed(below, decimals) + " +" + units::fixed(above, decimals);
}

std::string why_sums_differ(const BarFigures& f) {
    if (!(f.textbook > 0)) return {};
    const bar::Ledger& l = f.ledger;
    const double links = l.links();
    const auto part = [&](double share) { return units::fixed(100 * share / (1 - links), 0) + " %"; };
    const auto off = [&](double rate) {
        const double by = 100 * (rate / f.eye_rate - 1);
        return (by >= 0 ? "+" : "") + units::fixed(by, 0) + " %";
    };
    const bool tube = l.flattening > 0.005;
    std::string out = "Twist only " + off(f.twist_only) + ": it leaves out bending, " +
                      part(l.bend_centre + l.bend_arms) + " of the give, " + (tube ? "" : "and ") + "mounts, " +
                      part(l.mounts + l.brackets) +
                      (tube ? ", and that bends of tubes flatten, " + part(l.flattening) : std::string()) +
                      ". Textbook " + off(f.textbook) + ": mounts rigid, corners sharp.";
    return out;
}

double diameter_step(double diameter, units::System system) {
    const bool wire = diameter < thickest_wire;
    if (system == units::System::Metric) return wire ? 0.1 * units::mm : units::mm;
    return 0.0254 * (wire ? 0.005 : 1.0 / 32);
}

std::string words_of(const Worth& worth, units::System system) {
    static constexpr const char* bushes[] = {"bushes", "rubber bushes", "urethane bushes", "metal bushes"};
    const std::string by = system == units::System::Metric ? units::trimmed(worth.step / units::mm, 1) + " mm"
                           : worth.step < 0.0254 / 64      ? units::trimmed(worth.step / 0.0254, 3) + " in"
                                                           : "1/32 in";
    switch (worth.change) {
    case Worth::Change::Thicker:
        return "diameter + " + by;
    case Worth::Change::Thinner:
        return "diameter - " + by;
    case Worth::Change::EyeOut:
        return "next eye out";
    case Worth::Change::EyeIn:
        return "next eye in";
    case Worth::Change::Stiffer:
        return "bushes twice as stiff";
    case Worth::Change::Softer:
        return "bushes half as stiff";
    case Worth::Change::Bushes:
        return bushes[static_cast<std::size_t>(worth.bushes)];
    case Worth::Change::SoundBushes:
        return "sound bushes";
    case Worth::Change::RigidMounts:
        return "rigid mounts";
    }
    return {};
}

} // namespace dervish::say
