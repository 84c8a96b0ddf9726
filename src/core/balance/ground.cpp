#include "core/balance/ground.h"

namespace dervish::balance {
namespace {
struct Usual {
    const char* name;
    Surface surface;
    Road road;
};
constexpr double km_per_h = 1 / 3.6, between = 128e-6; // m³, class B to C

const Usual& usual(Ground ground) {
    static const Usual all[] = {
        {"dry", {}, {0, 90 * km_per_h}},
        {"dry patched", {}, {between, 72 * km_per_h}},
        {"wet", {0.75, 0.9, 1.1}, {0, 80 * km_per_h}},
        {"wet patched", {0.75, 0.9, 1.1}, {between, 65 * km_per_h}},
        {"gravel", {0.6, 0.45, 0.6}, {512e-6, 50 * km_per_h}},
        {"washboard", {0.6, 0.45, 0.6}, {512e-6, 45 * km_per_h, Sides::Isotropic, 0.005, 0.75, 0.5}},
        {"mud", {0.4, 0.3, 0.5}, {roughness_of('D'), 25 * km_per_h}},
        {"snow", {0.3, 0.35, 0.6}, {roughness_of('B'), 50 * km_per_h}},
        {"race kerbs", {}, {roughness_of('A'), 110 * km_per_h, Sides::Isotropic, 0.004, 1.5, 0}},
    };
    return all[static_cast<int>(ground)];
}
} // namespace

const char* name_of(Ground ground) { return usual(ground).name; }
Surface surface_of(Ground ground) { return usual(ground).surface; }
Road road_of(Ground ground) { return usual(ground).road; }

} // namespace dervish::balance
