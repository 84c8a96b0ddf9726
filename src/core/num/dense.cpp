#include "core/num/dense.h"

#include <lapacke.h>
#include <limits>
#include <vector>

namespace dervish {
namespace {
constexpr double no_number = std::numeric_limits<double>::quiet_NaN();
}

Modes modes(Eigen::MatrixXd k, Eigen::MatrixXd m) {
    const auto n = static_cast<lapack_int>(k.rows());
    Eigen::VectorXd values(n);
    if (LAPACKE_dsygv(LAPACK_COL_MAJOR, 1, 'V', 'L', n, k.data(), n, m.data(), n, values.data()) != 0) {
        values.fill(no_number);
        k.fill(no_number);
    }
    return {std::move(values), std::move(k)};
}

Eigen::VectorXcd eigenvalues(Eigen::MatrixXd a) {
    const auto n = static_cast<lapack_int>(a.rows());
    Eigen::VectorXd real(n), imaginary(n);
    if (LAPACKE_dgeev(LAPACK_COL_MAJOR, 'N', 'N', n, a.data(), n, real.data(), imaginary.data(), nullptr, 1, nullptr,
                      1) != 0) {
        real.fill(no_number);
        imaginary.fill(no_number);
    }
    Eigen::VectorXcd out(n);
    for (lapack_int i = 0; i < n; ++i) out[i] = {real[i], imaginary[i]};
    return out;
}

FreeMotions free_motions(Eigen::MatrixXd a) {
    const auto n = static_cast<lapack_int>(a.rows());
    Eigen::VectorXd real(n), imaginary(n);
    Eigen::MatrixXd left(n, n), right(n, n);
    if (LAPACKE_dgeev(LAPACK_COL_MAJOR, 'V', 'V', n, a.data(), n, real.data(), imaginary.data(), left.data(), n,
                      right.data(), n) != 0) {
        real.fill(no_number);
        imaginary.fill(no_number);
        left.fill(no_number);
        right.fill(no_number);
    }
    FreeMotions out{Eigen::VectorXcd(n), Eigen::MatrixXd(n, n)};
    for (lapack_int i = 0; i < n; ++i) out.values[i] = {real[i], imaginary[i]};
    for (lapack_int i = 0; i < n;) {
        const bool pair = i + 1 < n && imaginary[i] != 0; // its two columns are the real and the imaginary part
        const auto size = [&](const Eigen::MatrixXd& of) -> Eigen::VectorXd {
            return pair ? Eigen::VectorXd((of.col(i).cwiseAbs2() + of.col(i + 1).cwiseAbs2()).cwiseSqrt())
                        : Eigen::VectorXd(of.col(i).cwiseAbs());
        };
        const Eigen::VectorXd both = size(left).cwiseProduct(size(right));
        for (const lapack_int end = i + (pair ? 2 : 1); i < end; ++i) out.shares.col(i) = both / both.sum();
    }
    return out;
}

Eigen::MatrixXd solved(Eigen::MatrixXd a, Eigen::MatrixXd b) {
    const auto n = static_cast<lapack_int>(a.rows());
    std::vector<lapack_int> pivots(static_cast<std::size_t>(n));
    if (LAPACKE_dsysv(LAPACK_COL_MAJOR, 'L', n, static_cast<lapack_int>(b.cols()), a.data(), n, pivots.data(), b.data(),
                      n) != 0)
        b.fill(no_number);
    return b;
}

} // namespace dervish
