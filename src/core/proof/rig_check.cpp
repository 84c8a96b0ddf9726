#include "core/proof/rig_check.h"

#include "core/job/fields.h"
#include "core/model/model.h"
#include "core/num/root.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace dervish::proof {
namespace {
/// Masses hung on are known to half a per cent.
constexpr double mass_share = 0.005;

/// The value of `size` with which the assembly would have `wanted` in the rig, within `low` to `high`.
std::optional<double> solve_for(const Assembly& a, const RigCheck& rig, double wanted, double low, double high,
                                const std::function<void(Assembly&, double)>& set) {
    const auto off = [&](double value) {
        Assembly tried = a;
        set(tried, value);
        try {
            return rig_rate(tried, rig) - wanted;
        } catch (const BadInput&) {
            return std::nan("");
        }
    };
    const double at_low = off(low), at_high = off(high);
    if (!(at_low * at_high < 0)) return {};
    return root_between(off, low, high, at_low, at_high, 1e-6 * high);
}

std::vector<Suspect> suspects(const Assembly& a, const RigCheck& rig, double measured) {
    using Cause = Suspect::What;
    std::vector<Suspect> out;
    constexpr double mistake = std::numeric_limits<double>::infinity();
    const auto spread = [&](Cause what, const Measured& m, double part,
                            const std::function<void(Assembly&, double)>& set) {
        const auto value = solve_for(a, rig, measured, (1 - part) * m.value, (1 + part) * m.value, set);
        if (value && m.sigma > 0) out.push_back({what, *value, m.value, std::abs(*value - m.value) / m.sigma});
    };
    spread(Cause::Diameter, a.bar.outer_diameter, 0.3, [](Assembly& t, double v) { t.bar.outer_diameter.value = v; });
    if (!rig.blocks)
        spread(Cause::Mount, a.mounts.vertical, 0.9, [](Assembly& t, double v) {
            t.mounts.fore_aft.value *= v / t.mounts.vertical.value;
            t.mounts.vertical.value = v;
        });
    if (a.bar.form == Form::Sizes) {
        const Measured& arm = a.bar.eyes[static_cast<std::size_t>(a.left_eye)].arm_length;
        spread(Cause::Arm, arm, 0.3, [&](Assembly& t, double v) {
            t.bar.arm_end.value = std::max(t.bar.arm_end.value, v);
            t.bar.eyes = {t.bar.eyes[static_cast<std::size_t>(t.left_eye)]};
            t.bar.eyes[0].arm_length.value = v;
            t.left_eye = t.right_eye = 0;
        });
        spread(Cause::BetweenArms, a.bar.centre_length, 0.3,
               [](Assembly& t, double v) { t.bar.centre_length.value = v; });
    }
    if (!(a.bar.wall.value > 0)) {
        const double d = a.bar.outer_diameter.value;
        const auto wall =
            solve_for(a, rig, measured, 0.04 * d, 0.45 * d, [](Assembly& t, double v) { t.bar.wall.value = v; });
        if (wall) out.push_back({Cause::Tube, *wall, 0, mistake});
    }
    RigCheck other = rig;
    other.both_arms = !rig.both_arms;
    if (std::abs(measured / rig_rate(a, other) - 1) < 0.1) out.push_back({Cause::OtherLoading, 0, 0, mistake});
    std::stable_sort(out.begin(), out.end(), [](const Suspect& x, const Suspect& y) { return x.sigmas < y.sigmas; });
    return out;
}
} // namespace

bar::Bar in_rig(const Assembly& a, const RigCheck& rig) {
    if (a.held == Held::Clamped)
        throw BadInput("held", "a bar clamped at its ends cannot stand in this rig",
                       "check a bar with mounts and eyes");
    bar::Bar out = to_bar(a);
    out.links = {};
    if (rig.blocks)
        for (bar::Mount& m : out.mounts) m = {m.point, bar::rigid, bar::rigid, bar::rigid};
    return out;
}

double rig_rate(const Assembly& a, const RigCheck& rig) {
    const Eigen::Matrix2d k = bar::solve(in_rig(a, rig)).at_eyes;
    return rig.both_arms ? bar::roll_rate(k) : k(1, 1);
}

double rig_dial(const Assembly& a, const RigCheck& rig, double mass) {
    const bar::Solution solution = bar::solve(in_rig(a, rig), 0.12);
    const bar::Mesh mesh = bar::mesh(solution);
    bar::Pull pull;
    const Eigen::Vector3d weight(0, 0, -mass * units::g);
    pull.force = {rig.both_arms ? Eigen::Vector3d(-weight) : Eigen::Vector3d::Zero(), weight};
    if (!rig.both_arms) pull.hold = {1e10, 0};
    // Hung on a little at a time, so that the bar can be followed.
    const double linear = mass * units::g / (rig.both_arms ? bar::roll_rate(solution.at_eyes) : solution.at_eyes(1, 1));
    const int steps = std::max(1, static_cast<int>(std::ceil(linear / 0.02)));
    bar::Posture at = bar::settle(mesh, pull, {0, 0}, 1.0 / steps);
    for (int i = 2; i <= steps && at.converged; ++i)
        at = bar::settle(mesh, pull, {0, 0}, static_cast<double>(i) / steps, &at);
    return at.converged ? mesh.nodes[mesh.eyes[1]].z() - at.place[mesh.eyes[1]].z() : std::nan("");
}

std::optional<RigFit> fit_rate(const RigCheck& check) {
    const auto n = static_cast<double>(check.readings.size());
    double force = 0, dial = 0;
    for (const RigReading& r : check.readings) {
        force += r.mass * units::g / n;
        dial += r.dial / n;
    }
    double ff = 0, fd = 0;
    for (const RigReading& r : check.readings) {
        const double f = r.mass * units::g - force;
        ff += f * f;
        fd += f * (r.dial - dial);
    }
    if (check.readings.size() < 2 || !(ff > 1e-6) || !(fd > 0)) return {};
    const double give = fd / ff;
    double left = 0;
    for (const RigReading& r : check.readings) left += std::pow(r.dial - dial - give * (r.mass * units::g - force), 2);
    const int freedom = static_cast<int>(n) - 2;
    const double own = check.dial_sigma / std::sqrt(ff), scatter = freedom > 0 ? std::sqrt(left / freedom / ff) : 0;
    RigFit out;
    out.readings = static_cast<int>(n);
    out.rate = 1 / give;
    out.offset = dial - give * force;
    out.sigma = out.rate * std::hypot(std::max(own, scatter) / give, mass_share);
    // Where the scatter decides, few readings know it badly.
    const double by_scatter = student_90(std::max(1, freedom)) * scatter, by_dial = band_90 * own;
    out.interval_90 = out.rate * std::hypot((scatter > own ? by_scatter : by_dial) / give, band_90 * mass_share);
    return out;
}

std::optional<RigVerdict> judge(const Assembly& a, const RigCheck& rig) {
    const auto fit = fit_rate(rig);
    if (!fit) return {};
    Vehicle still = blank().vehicle;
    for (Measured* m : {&still.wheelbase, &still.cg_height}) m->sigma = 0;
    Setup setup;
    static_cast<Assembly&>(setup.front) = a;
    setup.rear.fitted = false;
    const Question rate{{{"rate on the rig", units::Quantity::Rate}}, [&](const Asked& car) {
                            return std::vector<double>{car.bar_scale * rig_rate(car.setup.front, rig)};
                        }};
    const Bands b = propagate(still, setup, rate);
    RigVerdict out{*fit, rig_rate(a, rig), b.sigma[0], 0, {}, {}};
    out.z = (fit->rate - out.predicted) / std::hypot(fit->interval_90 / band_90, out.predicted_sigma);
    out.agreement = proof::judged(out.z);
    if (out.agreement != proof::Agreement::Agrees) out.suspects = suspects(a, rig, fit->rate);
    return out;
}

} // namespace dervish::proof
