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

Eigen::MatrixXd solved(Eigen::MatrixXd a, Eigen::MatrixXd b) {
    const auto n = static_cast<lapack_int>(a.rows());
    std::vector<lapack_int> pivots(static_cast<std::size_t>(n));
    if (LAPACKE_dsysv(LAPACK_COL_MAJOR, 'L', n, static_cast<lapack_int>(b.cols()), a.data(), n, pivots.data(), b.data(),
                      n) != 0)
        b.fill(no_number);
    return b;
}

} // namespace dervish
