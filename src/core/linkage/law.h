#pragma once
#include "core/linkage/linkage.h"
#include "core/terms/terms.h"

#include <memory>

/// The bar's force at the wheels. docs/model.md, "The force law".
namespace dervish::linkage {

/// What the bar at two ends, left and right, is as a spring.
struct Springs {
    Eigen::Matrix2d bar = Eigen::Matrix2d::Zero(); ///< between the eyes, moved along their circles, N/m
    PerSide<double> unstrained{0, 0};              ///< the arms' turns at which the bar carries nothing
    PerSide<double> link{1e9, 1e9};                ///< of each link with its joints, along it, N/m
    PerSide<double> play{0, 0};                    ///< slack of each link's joints together, m
    bool operator==(const Springs&) const = default;
};

/// The bar's answer to the two wheels' travels.
struct Answer {
    double energy = 0;                                ///< in bar and links, J
    Eigen::Vector2d force = Eigen::Vector2d::Zero();  ///< ∂energy/∂travel: what holds each wheel's bump back, N
    Eigen::Matrix2d rate = Eigen::Matrix2d::Zero();   ///< ∂force/∂travel, N/m
    Eigen::Vector2d turn = Eigen::Vector2d::Zero();   ///< of the arms, rad
    Eigen::Vector2d link = Eigen::Vector2d::Zero();   ///< in the links, tension positive, N
    Eigen::Vector2d bound = Eigen::Vector2d::Zero();  ///< sideways in joints at their stops, N
    Eigen::Vector2d strain = Eigen::Vector2d::Zero(); ///< of the eyes along their circles from the unstrained bar, m
    bool reached = true;                              ///< false: a path ended, the answer is of its last place
};

/// The bar as a spring between two arms that turn rigidly, with elastic links along their true lines. Its energy is
/// the least over both arms' turns, near the branch of ride height; past over centre the link stretches (it jams).
class Law {
public:
    /// The ends left and right. Throws BadInput at "links/length" where a link cannot reach at ride height, with the
    /// nearest length that does.
    Law(const PerSide<BarEnd>& ends, const Springs& springs);

    /// Example: law({0.05, -0.05}).force is what roll of 50 mm at each wheel costs.
    Answer operator()(const Eigen::Vector2d& travel) const;

    const PerSide<BarEnd>& ends() const;
    const Springs& springs() const;
    Branch branch(std::size_t end) const;
    void set_bar(const Eigen::Matrix2d& bar);
    /// One law and its copies; two that were built alike are not looked into.
    bool operator==(const Law&) const = default;

private:
    struct Inner;
    std::shared_ptr<const Inner> inner_;
    Springs springs_;
};

} // namespace dervish::linkage
