#pragma once
#include "core/bar/frame.h"
#include "core/terms/terms.h"

namespace dervish::bar {

/// Where the stiffness goes: each part's share of the energy stored when the links' far ends move equal and opposite by
/// unit travel. The shares sum to 1.
struct Ledger {
    double twist_centre = 0, twist_arms = 0, bend_centre = 0, bend_arms = 0;
    double flattening = 0; ///< of tubes in their bends
    double shear = 0;      ///< and stretch
    double mounts = 0, brackets = 0;
    PerSide<double> link_bodies{}, link_joints{}; ///< left, right
    double energy = 0;                            ///< J at ±1 m, the sum that the shares divide

    double links() const { return link_bodies[0] + link_bodies[1] + link_joints[0] + link_joints[1]; }
};

/// The ledger as a person reads it: nine parts whose shares sum to 1.
struct LedgerPart {
    const char* name;
    double share;
};
std::array<LedgerPart, 9> parts(const Ledger& ledger);

/// An inside point counts as arm when the bar there runs within 45° of square to the car's y, outboard of the mounts.
Ledger ledger(const Solution& solution);

struct StressPoint {
    Eigen::Vector3d place; ///< on the unloaded centreline
    double along;          ///< m from the left end
    double von_mises;      ///< Pa
    bool in_bend;
};

/// von Mises stress along the bar at both ends and the middle of each element for the links' far ends moved by `travel`
/// (left, right), m.
std::vector<StressPoint> stress(const Solution& solution, const Eigen::Vector2d& travel);

/// The same for given forces at the elements' far ends (as Moved::end; those of large travel turn with the element).
std::vector<StressPoint> stress(const Solution& solution, const std::vector<Vector6>& end);

/// The point of highest stress, of points alike to a millionth the first: the two ends of a symmetric bar are.
/// `points` must not be empty.
const StressPoint& worst(const std::vector<StressPoint>& points);

/// Forces in the mounts for a moved bar: (fore-aft, axial, vertical), N, in the order of Bar::mounts.
std::vector<Eigen::Vector3d> mount_forces(const Solution& solution, const Moved& moved);

} // namespace dervish::bar
