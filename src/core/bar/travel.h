#pragma once
#include "core/bar/rate.h"
#include "core/linkage/linkage.h"
#include "core/terms/terms.h"

#include <optional>

/// Large travel: the same bar with nothing taken as small but the strain inside an element.
namespace dervish::bar {

/// An elastic, ball-jointed link from an eye to a pick-up on its path, m. It carries nothing at `length`.
struct Rod {
    linkage::Path path;
    double length;
    double rate; ///< of the link with its joints, N/m
};

/// A pick-up that moves straight up by its own travel.
inline linkage::Path upward(const Eigen::Vector3d& pickup) {
    return linkage::Straight{pickup, Eigen::Vector3d::UnitZ()};
}

/// An arm that swings about car y through a pivot, with the bar's end clamped to it (as Bar::clamped, but on its true
/// circle). It does not hold the bar along itself: pivots give there. Its travel is that of its far end, `reach` behind
/// the pivot.
struct Swing {
    Eigen::Vector3d pivot;
    double reach;
};

/// What acts on the two eyes (left, right): links to pick-ups that travel, and dead forces, N. `hold` holds an eye
/// where it is against its mean, N/m (a rig's clamp); 0: free.
struct Pull {
    std::array<std::optional<Rod>, 2> rods;
    PerSide<Eigen::Vector3d> force{Eigen::Vector3d::Zero(), Eigen::Vector3d::Zero()};
    PerSide<double> hold{0, 0};
    std::array<std::optional<Swing>, 2> arms; ///< of a clamped bar; its force stands in Posture::link_force
};

/// The elements of a solved bar made ready for large travel: stiffness of each about the middle of its chord.
struct Mesh {
    struct Piece {
        Matrix6 stiffness;
        Eigen::Vector3d chord;
    };
    const Solution* solution;
    std::size_t first; ///< node of the solution at which the mesh begins; the overhanging ends carry nothing
    std::vector<Piece> pieces;
    std::vector<Eigen::Vector3d> nodes; ///< unloaded, pieces + 1
    PerSide<std::size_t> eyes;          ///< nodes of the mesh
    std::vector<std::size_t> mounts;    ///< nodes of the mesh, in the order of Bar::mounts
};

/// `solution` must outlive the mesh; solve it with a `longest` of some 0.12 m.
Mesh mesh(const Solution& solution);

/// An equilibrium at large travel. `turn` is each node's rotation from the unloaded bar.
struct Posture {
    std::vector<Eigen::Vector3d> place;
    std::vector<Eigen::Matrix3d> turn;
    std::vector<Vector6> end;     ///< of each piece at its far end, in axes that turn with it (as Moved::end)
    PerSide<double> link_force{}; ///< tension positive; of an arm's far end, downwards positive, N
    double energy = 0;            ///< J, without the dead forces' own
    bool converged = false;       ///< false: the bar jammed, went over centre or was asked beyond its reach
    std::vector<Pair6> ahead;     ///< second columns: motion per step of a sweep, where the next one starts
};

/// The equilibrium with the pick-ups `travel` (left, right) along their paths, m, and `load` times the dead forces, by
/// Newton's method on the energy from `start` (null: the unloaded bar). Elements are corotational: each keeps its exact
/// linear flexibility in axes that turn with the middle of its chord (after Crisfield 1990; Simo & Vu-Quoc 1986 for the
/// rotations). Never an exception: a bar that cannot follow has `converged` false.
Posture settle(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel, double load = 1,
               const Posture* start = nullptr);

/// settle() at a travel, walked to from rest in steps that the bar can follow.
Posture reach(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& travel);

/// Writes a posture over a solution's nodes (places, m) and elements' end forces: the ends beyond the mesh go along
/// with it rigidly.
void spread(const Mesh& mesh, const Posture& posture, std::vector<Eigen::Vector3d>& nodes, std::vector<Vector6>& end);

/// One position of a sweep.
struct TravelPoint {
    Eigen::Vector2d travel;     ///< of the pick-ups, m
    Eigen::Vector2d force;      ///< in the links, tension positive, N
    Eigen::Vector2d eye_travel; ///< of the eyes along the pick-ups' way at rest, m
    double off_square;          ///< worst angle between a link and its eye's direction of motion, rad
    StressPoint worst;
};

/// Walks from rest to `far` (left, right) in `steps` equal steps. Ends early where the bar cannot follow.
/// Example: sweep(mesh, pull, {-0.05, 0.05}, 20) is full roll in one direction.
std::vector<TravelPoint> sweep(const Mesh& mesh, const Pull& pull, const Eigen::Vector2d& far, int steps);

} // namespace dervish::bar
