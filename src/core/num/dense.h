#pragma once
#include <Eigen/Core>

/// Dense matrices' eigenvalues and solutions, by LAPACK. Where it finds none (a matrix with what is no number in it, or
/// that cannot be solved), all are NaN.
namespace dervish {

/// Of symmetric n × n matrices: k φ = m φ λ, m positive definite. Example: modes(k, m).values[0], the least λ.
struct Modes {
    Eigen::VectorXd values; ///< λ, rising
    Eigen::MatrixXd shapes; ///< a column φ each: φᵀ m φ = 1
};
Modes modes(Eigen::MatrixXd k, Eigen::MatrixXd m);

/// The eigenvalues of any n × n matrix, in no order.
Eigen::VectorXcd eigenvalues(Eigen::MatrixXd a);

/// The same with what each of the n unknowns has to do with each motion: |left · right| of its two vectors, which sums
/// to about 1 over a motion's unknowns and does not depend on their units (Pérez-Arriaga, Verghese and Schweppe 1982).
struct FreeMotions {
    Eigen::VectorXcd values;
    Eigen::MatrixXd shares; ///< a column a motion, each of sum 1
};
FreeMotions free_motions(Eigen::MatrixXd a);

/// x of a x = b, a symmetric n × n, b n × any. Example: solved(h * h.transpose(), b).
Eigen::MatrixXd solved(Eigen::MatrixXd a, Eigen::MatrixXd b);

} // namespace dervish
