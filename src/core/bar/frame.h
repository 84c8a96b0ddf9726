#pragma once
#include "core/bar/block_chain.h"
#include "core/bar/centreline.h"
#include "core/terms/terms.h"

#include <Eigen/Core>
#include <array>
#include <limits>
#include <optional>
#include <vector>

namespace dervish::bar {

inline constexpr double rigid = std::numeric_limits<double>::infinity();

/// A mount at a point of the bar, its bore along car y: the bush's rates, and the bracket's in series with the radial
/// and axial ones. N/m and N·m/rad; `rigid` where nothing gives; torsional 0 when the bar slides in the bore.
struct Mount {
    std::size_t point;
    double vertical, fore_aft, axial;
    double torsional = 0;
    double bracket = rigid;

    /// Of bush and bracket in series: fore and aft, along the bar, vertical; at most `stiffest`, N/m.
    Eigen::Vector3d rates() const;
};

/// Stands for "rigid" in the frame: far above any real mount, far below what would spoil the arithmetic. N/m.
inline constexpr double stiffest = 1e12;

/// What hangs on an eye: the unit direction along the link and what the link gives in series. N/m.
struct Link {
    Eigen::Vector3d direction = Eigen::Vector3d::UnitZ();
    double body = rigid;
    double joints = rigid; ///< both joints in series
    double stiffness() const { return 1 / (1 / body + 1 / joints); }
};

struct Bar {
    Centreline line;
    Material material;
    std::vector<Mount> mounts;
    PerSide<std::size_t> eyes; ///< points, left and right
    PerSide<Link> links;
    /// A bar without links, clamped at its eyes to arms that swing: the motion of each clamped end (translation m,
    /// rotation rad) per metre that its arm's far end travels. Travels and forces are then those of the arms' far ends.
    std::optional<PerSide<Vector6>> clamped;

    /// Eye travel is this times the motion of the eye's node; a force along it does work on nothing else.
    Vector6 drive(int side) const;
};

/// An element: a stretch with its exact flexibility at end b while a is clamped (global axes; rows translation,
/// rotation).
struct Element {
    Stretch stretch;
    SectionConstants constants;
    bool round;           ///< the same in every direction across the bar
    BendFactors bent;     ///< where it is an arc
    Eigen::Matrix3d axes; ///< section_axes at its a end
    Matrix6 flexibility;
};

/// A solved bar. Only the nodes where something is attached are stations of the equation; the elements between two
/// stations are one link of the chain, their flexibilities summed. `response` is each station's motion (translation,
/// rotation) under unit forces at the two eyes along the links, with the eyes held by springs of `helper` N/m: enough
/// to get the forces and the shape for any travel.
struct Solution {
    Bar bar;
    std::vector<Element> elements;
    std::vector<std::size_t> node_of_point;
    std::vector<std::size_t> stations; ///< nodes, ascending
    std::vector<Matrix6> stiffness;    ///< between stations i and i + 1, at the latter with the former clamped
    std::vector<Pair6> response;       ///< one a station
    double helper;
    Eigen::Matrix2d at_eyes;  ///< K between the eyes, N/m
    Eigen::Matrix2d at_links; ///< K between the links' far ends, N/m: links in series

    Eigen::Vector3d node(std::size_t i) const { return i == 0 ? elements[0].stretch.from : elements[i - 1].stretch.to; }
    std::size_t station_of_point(std::size_t point) const;
};

/// Linear frame of Timoshenko beams, exact for any stretch (unit-load theorem, e.g. Przemieniecki 1968 ch. 5 and 6).
/// Straights are divided to at most `longest` m, which changes where stress is read and nothing else. Throws BadInput
/// when the bar is not held, or at the centreline's, mounts' or eyes' own paths.
Solution solve(Bar bar, double longest = 1e9);

/// (K11 − 2 K12 + K22)/2: the force at each end when the two sides move equal and opposite, per travel. N/m.
double roll_rate(const Eigen::Matrix2d& k);

/// kg.
double mass(const Bar& bar);

/// Forces in the bar when its links' far ends are moved by `travel` (left, right), m.
struct Moved {
    Eigen::Vector2d force;        ///< along the links, N
    Eigen::Vector2d eye_travel;   ///< m
    std::vector<Vector6> station; ///< translation m, rotation rad
    std::vector<Vector6> end;     ///< each element's force and moment at its b end, global axes
};
Moved moved(const Solution& solution, const Eigen::Vector2d& travel);

/// Motion of every node (translation m, rotation rad) of a moved bar.
std::vector<Vector6> shape(const Solution& solution, const Moved& moved);

/// Tᵀ F T: turns a flexibility at a point into the one seen `lever` further on, rigidly joined.
void carry(Matrix6& flexibility, const Eigen::Vector3d& lever);

/// Where the inside of an element is looked at: positions along it and weights (m) that integrate its energy exactly
/// (straight: 2 Gauss points) or to rounding (arc: 3 or 5, by how far it turns).
struct Sample {
    double s, weight;
};
struct Samples {
    std::array<Sample, 5> at;
    int count;
    const Sample* begin() const { return at.data(); }
    const Sample* end() const { return at.data() + count; }
};
Samples samples(const Stretch& stretch);

/// Axes of the section where the bar runs along `tangent`: columns along the bar and the section's principal
/// directions.
Eigen::Matrix3d section_axes(const SectionConstants& constants, const Eigen::Vector3d& tangent);

} // namespace dervish::bar
