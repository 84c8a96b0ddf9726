#include "core/bar/block_chain.h"

#include <cmath>

namespace dervish::bar {
namespace {
/// Lower Cholesky factor in place, reciprocals on its diagonal. Written out because this is most of a bar's cost.
bool factor(Matrix6& a) {
    for (int j = 0; j < 6; ++j) {
        const double before = a(j, j);
        double pivot = before;
        for (int k = 0; k < j; ++k) pivot -= a(j, k) * a(j, k);
        if (!(pivot > 1e-13 * before)) return false;
        const double inverse = 1 / std::sqrt(pivot);
        a(j, j) = inverse;
        for (int i = j + 1; i < 6; ++i) {
            double v = a(i, j);
            for (int k = 0; k < j; ++k) v -= a(i, k) * a(j, k);
            a(i, j) = v * inverse;
        }
    }
    return true;
}

/// x ← L⁻¹ x, a row at a time so that the columns go side by side.
template <class M> void forward(const Matrix6& l, M& x) {
    for (int i = 0; i < 6; ++i) {
        for (int k = 0; k < i; ++k) x.row(i) -= l(i, k) * x.row(k);
        x.row(i) *= l(i, i);
    }
}

template <class M> void backward(const Matrix6& l, M& x) {
    for (int i = 5; i >= 0; --i) {
        for (int k = i + 1; k < 6; ++k) x.row(i) -= l(k, i) * x.row(k);
        x.row(i) *= l(i, i);
    }
}

/// x −= wᵀ y
template <class M> void subtract_transposed(M& x, const Matrix6& w, const M& y) {
    for (int k = 0; k < 6; ++k)
        for (int i = 0; i < 6; ++i) x.row(i) -= w(k, i) * y.row(k);
}
} // namespace

Matrix6 inverse(Matrix6 m) {
    if (!factor(m)) return Matrix6::Zero();
    Matrix6 out = Matrix6::Identity();
    forward(m, out);
    backward(m, out);
    return out;
}

bool BlockChain::solve(std::vector<Pair6>& x) {
    const auto n = diagonal.size();
    for (std::size_t i = 0; i < n; ++i) {
        const Vector6 whole = diagonal[i].diagonal();
        if (i > 0) {
            subtract_transposed(diagonal[i], above[i - 1], above[i - 1]);
            subtract_transposed(x[i], above[i - 1], x[i - 1]);
        }
        if (!(diagonal[i].diagonal().array() > 1e-13 * whole.array()).all() || !factor(diagonal[i])) return false;
        forward(diagonal[i], x[i]);
        if (i + 1 < n) forward(diagonal[i], above[i]);
    }
    for (std::size_t i = n; i-- > 0;) {
        if (i + 1 < n) x[i].noalias() -= above[i] * x[i + 1];
        backward(diagonal[i], x[i]);
    }
    return true;
}

} // namespace dervish::bar
