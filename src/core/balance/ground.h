#pragma once

/// What a car stands and drives on. docs/model.md, "Ground".
namespace dervish::balance {

/// What the ground does to a tyre: factors on grip, cornering stiffness, and the fall of grip with load.
struct Surface {
    double grip = 1, stiffness = 1, fall = 1;
    bool operator==(const Surface&) const = default;
};

/// How left and right wheel lines belong together. Alike: one profile under both; unrelated: none of each other.
enum class Sides { Isotropic, Alike, Unrelated };

/// A rough ground at a speed. Its height has the one-sided spectrum roughness (n/n0)^-2, n0 = 0.1 per metre (ISO 8608),
/// and ripples of about one length on top, of whose height the sides share a part.
struct Road {
    double roughness = 0; ///< m³ at n0: class A 16e-6, each further one four times; 0: a plane
    double speed = 20;    ///< m/s
    Sides sides = Sides::Isotropic;
    double ripple = 0;        ///< standard deviation of the ripples' height, m
    double ripple_length = 1; ///< m; of its wave number one standard deviation is 15 %
    double ripple_alike = 0;  ///< correlation of left and right: 1 straight across the road, 0 each side its own
    bool plane() const { return !(roughness > 0) && !(ripple > 0); }
};

/// Of an ISO 8608 class, A to H, m³.
constexpr double roughness_of(char letter) {
    double out = 16e-6;
    for (char c = 'A'; c < letter; ++c) out *= 4;
    return out;
}

} // namespace dervish::balance
