#include "core/job/usual.h"

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

void set_kind(MountData& m, BushKind kind) {
    const MountData of = usual_mounts(kind);
    m.kind = kind;
    for (Measured MountData::*value :
         {&MountData::vertical, &MountData::fore_aft, &MountData::axial, &MountData::bore_friction})
        if ((m.*value).source == Source::Assumed) m.*value = of.*value;
}

void set_kind(LinkData& l, JointKind kind) {
    l.joints = kind;
    if (l.joint.source == Source::Assumed) l.joint = usual_links(kind).joint;
}

} // namespace dervish::job
