#include "core/num/dense.h"

#include "core/num/four.h"

#include <Eigen/LU>
#include <catch2/catch.hpp>
#include <cmath>
#include <random>

namespace tests::of_dense {
using namespace dervish;
using Eigen::MatrixXd;

namespace {
constexpr double no_number = std::numeric_limits<double>::quiet_NaN();

/// n × n, each entry between -1 and 1.
MatrixXd any(Eigen::Index n, std::mt19937& random) {
    std::uniform_real_distribution<double> entry(-1, 1);
    return MatrixXd::NullaryExpr(n, n, [&] { return entry(random); });
}
double most(const MatrixXd& a) { return a.cwiseAbs().maxCoeff(); }
} // namespace

TEST_CASE("dense matrices answer to the equations that define their modes, eigenvalues and solutions") {
    std::mt19937 random(7);
    for (const Eigen::Index n : {1, 2, 3, 8, 16})
        for (int again = 0; again < 20; ++again) {
            const MatrixXd a = any(n, random), b = any(n, random), one = MatrixXd::Identity(n, n);
            const MatrixXd k = a + a.transpose(), m = b * b.transpose() + one;

            const Modes found = modes(k, m);
            CHECK(most(k * found.shapes - m * found.shapes * found.values.asDiagonal()) < 1e-11 * most(m));
            CHECK(most(found.shapes.transpose() * m * found.shapes - one) < 1e-11);
            for (Eigen::Index i = 1; i < n; ++i) CHECK(found.values[i - 1] <= found.values[i]);

            const Eigen::VectorXcd values = eigenvalues(a);
            CHECK(std::abs(values.sum() - a.trace()) < 1e-11);
            for (Eigen::Index i = 0; i < n; ++i) { // det (A - λ) over its slope there is how far λ is off
                double slope = 1;
                for (Eigen::Index j = 0; j < n; ++j) slope *= i == j ? 1 : std::abs(values[j] - values[i]);
                CHECK(std::abs((a.cast<std::complex<double>>() - values[i] * one).determinant()) < 1e-10 * slope);
            }

            const MatrixXd definite = k + 3 * static_cast<double>(n) * one; // and an indefinite one below
            CHECK(most(definite * solved(definite, b) - b) < 1e-11);
            if (std::abs(k.determinant()) > 1e-3) CHECK(most(k * solved(k, b) - b) < 1e-9);
        }
}

TEST_CASE("a matrix without an answer answers with no number") {
    const MatrixXd good = MatrixXd::Identity(3, 3);
    MatrixXd bad = good;
    bad(2, 1) = no_number;
    for (const Modes& m : {modes(bad, good), modes(good, bad), modes(good, -good)}) {
        CHECK(m.values.array().isNaN().all());
        CHECK(m.shapes.array().isNaN().all());
    }
    CHECK(eigenvalues(bad).array().isNaN().all());
    CHECK(solved(bad, good).array().isNaN().all());
    CHECK(solved(good * 0, good).array().isNaN().all());
}

TEST_CASE("four numbers at once are worked on as one by one") {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> number(-9, 9);
    for (int again = 0; again < 50; ++again) {
        double a[4], b[4];
        for (double& x : a) x = number(random);
        for (double& x : b) x = number(random);
        const Four x{a[0], a[1], a[2], a[3]}, y{b[0], b[1], b[2], b[3]};
        Four step = x;
        step += y, step *= x, step -= 2, step /= y;
        double sum = 0;
        for (int i = 0; i < 4; ++i) {
            CHECK((-x / y + square(x) * 3 - y)[i] == -a[i] / b[i] + a[i] * a[i] * 3 - b[i]);
            CHECK(step[i] == ((a[i] + b[i]) * a[i] - 2) / b[i]);
            CHECK(x.each([](double v) { return std::cos(v); })[i] == std::cos(a[i]));
            sum += a[i];
        }
        CHECK(x.sum() == Approx(sum));
    }
}

} // namespace tests::of_dense
