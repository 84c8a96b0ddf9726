#pragma once
#include <Eigen/Core>
#include <vector>

namespace dervish::bar {

using Matrix6 = Eigen::Matrix<double, 6, 6, Eigen::RowMajor>;
using Vector6 = Eigen::Matrix<double, 6, 1>;
using Pair6 = Eigen::Matrix<double, 6, 2, Eigen::RowMajor>;

/// The matrix of v ×.
inline Eigen::Matrix3d cross(const Eigen::Vector3d& v) {
    Eigen::Matrix3d m;
    m << 0, -v.z(), v.y(), v.z(), 0, -v.x(), -v.y(), v.x(), 0;
    return m;
}

/// The inverse of a symmetric positive definite matrix; zeros when it is not.
Matrix6 inverse(Matrix6 m);

/// A symmetric positive definite block-tridiagonal system: 6 × 6 blocks on the diagonal and above it.
struct BlockChain {
    std::vector<Matrix6> diagonal, above;

    /// Solves in place for two right-hand sides a node, by block Cholesky; the blocks are overwritten.
    /// False when the system is singular to working accuracy.
    bool solve(std::vector<Pair6>& x);
};

} // namespace dervish::bar
