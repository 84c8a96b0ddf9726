#include "core/bar/block_chain.h"

#include <Eigen/Cholesky>
#include <Eigen/LU>
#include <catch2/catch.hpp>
#include <random>

namespace tests::of_block_chain {
using namespace dervish::bar;

namespace {
struct Dice {
    std::mt19937 engine{411};
    double operator()() { return std::uniform_real_distribution<double>(-1, 1)(engine); }
    Matrix6 matrix() {
        return Matrix6::NullaryExpr([this] { return (*this)(); });
    }
};

/// A random positive definite chain: each link adds J Jᵀ over two neighbours, each node a little of its own.
BlockChain random_chain(Dice& dice, std::size_t n) {
    BlockChain chain{std::vector<Matrix6>(n, 0.1 * Matrix6::Identity()), std::vector<Matrix6>(n - 1)};
    for (std::size_t i = 0; i + 1 < n; ++i) {
        const Matrix6 a = dice.matrix(), b = dice.matrix();
        chain.diagonal[i] += a * a.transpose();
        chain.above[i] = a * b.transpose();
        chain.diagonal[i + 1] += b * b.transpose();
    }
    return chain;
}

Eigen::MatrixXd dense(const BlockChain& chain) {
    const auto n = static_cast<Eigen::Index>(chain.diagonal.size());
    Eigen::MatrixXd out = Eigen::MatrixXd::Zero(6 * n, 6 * n);
    for (Eigen::Index i = 0; i < n; ++i) {
        out.block<6, 6>(6 * i, 6 * i) = chain.diagonal[static_cast<std::size_t>(i)];
        if (i + 1 < n) {
            out.block<6, 6>(6 * i, 6 * i + 6) = chain.above[static_cast<std::size_t>(i)];
            out.block<6, 6>(6 * i + 6, 6 * i) = chain.above[static_cast<std::size_t>(i)].transpose();
        }
    }
    return out;
}
} // namespace

TEST_CASE("a chain solves what the dense matrix solves, for chains of any length") {
    Dice dice;
    for (const std::size_t n : {1u, 2u, 3u, 8u, 40u}) {
        BlockChain chain = random_chain(dice, n);
        const Eigen::MatrixXd whole = dense(chain);
        std::vector<Pair6> x(n);
        Eigen::MatrixXd b(6 * n, 2);
        for (std::size_t i = 0; i < n; ++i) {
            x[i] = Pair6::NullaryExpr([&] { return dice(); });
            b.block<6, 2>(static_cast<Eigen::Index>(6 * i), 0) = x[i];
        }
        const Eigen::MatrixXd expected = whole.llt().solve(b);
        REQUIRE(chain.solve(x));
        for (std::size_t i = 0; i < n; ++i)
            CHECK((x[i] - expected.block<6, 2>(static_cast<Eigen::Index>(6 * i), 0)).norm() <
                  1e-8 * (1 + expected.norm()));
    }
}

TEST_CASE("a chain that floats is told, not solved") {
    Dice dice;
    BlockChain chain = random_chain(dice, 4);
    for (Matrix6& d : chain.diagonal) { // nothing holds direction 2 of any node
        d.row(2).setZero();
        d.col(2).setZero();
    }
    for (Matrix6& a : chain.above) {
        a.row(2).setZero();
        a.col(2).setZero();
    }
    std::vector<Pair6> x(4, Pair6::Ones());
    CHECK_FALSE(chain.solve(x));
    BlockChain wrong = random_chain(dice, 3);
    wrong.diagonal[2](0, 0) = -5;
    x.assign(3, Pair6::Ones());
    CHECK_FALSE(wrong.solve(x));
    wrong = random_chain(dice, 3);
    wrong.diagonal[1](3, 3) = std::nan("");
    x.assign(3, Pair6::Ones());
    CHECK_FALSE(wrong.solve(x));
}

TEST_CASE("the inverse of a flexibility is its stiffness, of what is none, nothing") {
    Dice dice;
    for (int i = 0; i < 20; ++i) {
        const Matrix6 a = dice.matrix();
        const Matrix6 m = a * a.transpose() + 0.05 * Matrix6::Identity();
        CHECK((inverse(m) * m - Matrix6::Identity()).norm() < 1e-9);
    }
    CHECK(inverse(-Matrix6::Identity()).isZero());
    CHECK(inverse(Matrix6::Zero()).isZero());
}

} // namespace tests::of_block_chain
