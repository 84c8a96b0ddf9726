#include "core/job/usual.h"

#include <algorithm>

namespace dervish::job {
namespace {
Measured usual(double value) { return {value, 0.4 * value, Source::Assumed}; }
} // namespace

MountData usual_mounts(BushKind kind) {
    struct Usual {
        double radial, axial, friction; // N/mm, N/mm, coefficient
    };
    constexpr Usual of[] = {{2500, 400, 0.3}, {2500, 400, 0.3}, {8000, 1200, 0.2}, {80000, 20000, 0.1}};
    const Usual& u = of[static_cast<std::size_t>(kind)];
    MountData out;
    out.kind = kind;
    out.vertical = out.fore_aft = usual(u.radial * units::N_per_mm);
    out.axial = usual(u.axial * units::N_per_mm);
    out.bore_friction = usual(u.friction);
    return out;
}

LinkData usual_links(JointKind kind) {
    constexpr double of[] = {8000, 20000, 3000, 7000, 50000}; // N/mm, in the order of JointKind
    LinkData out;
    out.joints = kind;
    out.joint = usual(of[static_cast<std::size_t>(kind)] * units::N_per_mm);
    return out;
}

double size_of(double track) {
    const double size = track / 1.5;
    return size > 2.0 / 3 && size < 4.0 / 3 ? 1 : size;
}

double lift_tolerance(const SetupChecks& checks, double track) {
    return checks.lift_tolerance == SetupChecks{}.lift_tolerance ? size_of(track) * checks.lift_tolerance
                                                                 : checks.lift_tolerance;
}

WheelData usual_movement(const AxleData& a) {
    WheelData out = a.wheels;
    out.camber_moves = {};
    out.roll_centre_moves = {0.5, 0.35, Source::Assumed};
    if (a.kind == AxleKind::Solid) return out;
    out.roll_centre_moves = {1, 0.6, Source::Assumed};
    // As the wheels keep part of the body's roll, so they lean as it rises: kept over half of the track.
    const double lean = 0.1 * 2 * a.wheels.camber_kept.value / a.track.value;
    out.camber_moves = {units::as_filed(lean, units::Quantity::Angle), 0.5 * lean, Source::Assumed};
    return out;
}

void set_kind(MountData& m, BushKind kind) {
    const MountData of = usual_mounts(kind);
    m.kind = kind;
    for (Measured MountData::*value : {&MountData::vertical, &MountData::fore_aft, &MountData::axial})
        if ((m.*value).source == Source::Assumed) m.*value = of.*value;
}

void set_kind(LinkData& l, JointKind kind) {
    l.joints = kind;
    if (l.joint.source == Source::Assumed) l.joint = usual_links(kind).joint;
}

namespace {
/// Spreads of a surface's factors: a tenth of grip, more of what is known less; none on dry, which the tyres' own
/// figures are for. Of a roughness half, since it doubles from one road to the next; the speed is chosen, not guessed.
GroundData ground(double grip, double stiffness, double fall, double roughness, double km_per_h, double ripple_mm = 0,
                  double ripple_length_mm = 1000, double ripple_alike = 0) {
    const bool dry = grip == 1;
    // As a file has them, so that a job is the same when it is read again.
    const auto assumed = [](double value, double sigma, double unit = 1) {
        return Measured{value * unit, units::rounded(sigma) * unit, Source::Assumed};
    };
    return {assumed(grip, dry ? 0 : 0.1 * grip),
            assumed(stiffness, dry ? 0 : 0.15 * stiffness),
            assumed(fall, dry ? 0 : 0.2 * fall),
            assumed(roughness, roughness / 2),
            assumed(km_per_h, 0, 1 / 3.6),
            assumed(ripple_mm, 0.4 * ripple_mm, units::mm),
            assumed(ripple_length_mm, ripple_mm > 0 ? 0.3 * ripple_length_mm : 0, units::mm),
            assumed(ripple_alike, ripple_mm > 0 ? 0.3 : 0)};
}
} // namespace

std::string path_of(Ground ground) {
    std::string name = name_of(ground);
    std::replace(name.begin(), name.end(), ' ', '_');
    return "vehicle/grounds/" + name + "/";
}

PerGround<GroundData> usual_grounds() {
    // ISO 8608: class A 16, B 64, C 256, D 1024.
    static const PerGround<GroundData> all{{{
        ground(1, 1, 1, 0, 90),                       // dry
        ground(1, 1, 1, 128, 72),                     // dry patched: B to C
        ground(0.75, 0.9, 1.1, 0, 80),                // wet
        ground(0.75, 0.9, 1.1, 128, 65),              // wet patched
        ground(0.6, 0.45, 0.6, 512, 50),              // gravel: C to D
        ground(0.6, 0.45, 0.6, 512, 45, 5, 750, 0.5), // washboard
        ground(0.4, 0.3, 0.5, 1024, 25),              // mud
        ground(0.3, 0.35, 0.6, 64, 50),               // snow
        ground(1, 1, 1, 16, 110, 4, 1500, 0),         // kerbs of a race track
    }}};
    return all;
}

} // namespace dervish::job
