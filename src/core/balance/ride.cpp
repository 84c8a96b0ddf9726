#include "core/balance/ride.h"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <complex>
#include <limits>

namespace dervish::balance {
namespace {
using Complex = std::complex<double>;

constexpr double n0 = 0.1;
constexpr double frame_damping = 0.03; ///< of a frame's own twist, over critical: welds, mounts and panels; assumed

/// Of two lines `apart` metres, the cross spectrum over the own one: x K1(x) (Kamash and Robson 1977).
double belongs(double apart, double wave_number, Sides sides) {
    if (sides == Sides::Alike || apart < 1e-9) return 1;
    if (sides == Sides::Unrelated) return 0;
    // Asked for several hundred times a ride: from a table, straight between its points, to 1e-5.
    constexpr int points = 4096;
    constexpr double end = 16;
    static const std::vector<double> table = [] {
        std::vector<double> out{1};
        for (int i = 1; i <= points; ++i) out.push_back(end * i / points * std::cyl_bessel_k(1.0, end * i / points));
        return out;
    }();
    const double at = 2 * units::pi * wave_number * apart * points / end;
    if (at >= points) return 0;
    const auto i = static_cast<std::size_t>(at);
    return table[i] + (at - static_cast<double>(i)) * (table[i + 1] - table[i]);
}

/// |H| of ISO 2631-1's chain: limits at 0.4 and 100 Hz, a transition from acceleration to velocity, a step up.
double felt(double f, double f3, double f4, double q4, double f5, double q5, double f6, double q6) {
    const auto second = [f](double corner, double q) { // denominator of a second-order part
        const double r = f / corner;
        return std::hypot(1 - r * r, r / q);
    };
    const double low = f * f / (0.4 * 0.4) / second(0.4, std::sqrt(0.5)), high = 1 / second(100, std::sqrt(0.5));
    const double transition = std::hypot(1, f / f3) / second(f4, q4);
    const double step = f5 > 0 ? second(f5, q5) / second(f6, q6) * (f5 * f5) / (f6 * f6) : 1;
    return low * high * transition * step;
}

} // namespace

double felt_upright(double f) { return felt(f, 12.5, 12.5, 0.63, 2.37, 0.91, 3.35, 0.91); }
double felt_sideways(double f) { return felt(f, 2, 2, 0.63, 0, 1, 0, 1); }

double head_over_centre(const Model& m) { return 0.7 * car::loaded(m.car).z; }

Masses masses_of(const Model& m, const car::SmallMotion& motion) {
    const car::Loaded l = car::loaded(m.car);
    Masses out{car::SmallMotion::Matrix::Zero(), 0};
    out.mass(0, 0) = l.mass;
    out.mass(1, 1) = m.pitch_inertia;
    const double own_roll = own_roll_inertia(m);
    out.mass(2, 2) = own_roll;
    if (motion.rear_roll != 2) { // each end of a frame that twists has its share
        out.mass(2, 2) = own_roll * l.share[0] / l.mass;
        out.mass(3, 3) = own_roll * l.share[1] / l.mass;
        out.frame_damping =
            2 * frame_damping * std::sqrt(m.car.chassis_torsion * out.mass(2, 2) * out.mass(3, 3) / own_roll);
    }
    const double least = 1e-3 * l.mass; // of an axle: without any mass it has no motion of its own
    const auto add = [&](double factor, const auto& column) { out.mass += factor * column * column.transpose(); };
    for (std::size_t e = 0; e < 2; ++e) {
        const car::Axle& axle = m.car[both_ends[e]];
        const auto a = static_cast<Eigen::Index>(e);
        if (axle.kind == AxleKind::Solid) {
            add(std::max(least, axle.unsprung_mass), motion.middle.col(a));
            add(std::max(0.1 * least * axle.track * axle.track, m.axle_inertia[e]), motion.turn.col(a));
        } else {
            for (Eigen::Index w = 2 * a; w < 2 * a + 2; ++w)
                add(std::max(least, axle.unsprung_mass) / 2, motion.contact.col(w));
        }
    }
    return out;
}

Shaken::Shaken(const Model& m, const car::Situation& situation, const car::State& settled)
    : motion_(car::small_motion(m.car, situation, settled)), track_{m.car.front.track, m.car.rear.track},
      wheelbase_(m.car.wheelbase) {
    const Masses masses = masses_of(m, motion_);
    mass_ = masses.mass;
    damping_.setZero();
    damped_.setZero();
    damped_[4] = masses.frame_damping;
    for (std::size_t e = 0; e < 2; ++e) {
        const auto a = static_cast<Eigen::Index>(e);
        relaxation_[e] = std::max(0.05, (m.axle[e].tyre[0].relaxation + m.axle[e].tyre[1].relaxation) / 2);
        for (Eigen::Index w = 2 * a; w < 2 * a + 2; ++w) {
            damped_[w] = (m.axle[e].bump_damping + m.axle[e].rebound_damping) / 2;
            damping_ += damped_[w] * motion_.spring.col(w) * motion_.spring.col(w).transpose();
        }
    }
    damping_(2, 2) += damped_[4];
    if (motion_.rear_roll != 2) {
        damping_(3, 3) += damped_[4];
        damping_(2, 3) -= damped_[4];
        damping_(3, 2) -= damped_[4];
    }
    seat_out_ = (track_.front + track_.rear) / 8; // a quarter of the track beside the middle
    head_up_ = head_over_centre(m);
    prepare();
}

/// By the undamped motions Φ (K Φ = M Φ λ), with D = 1/(λ − ω²), every sum over the unknowns is one over them. With
/// P the road's push, S the springs and Y what is looked at: PᵀDP, SᵀDP, SᵀDS, YᵀDP, YᵀDS.
void Shaken::prepare() {
    const Eigen::Index n = motion_.count;
    const Eigen::GeneralizedSelfAdjointEigenSolver<Eigen::MatrixXd> free(motion_.stiffness.topLeftCorner(n, n),
                                                                         mass_.topLeftCorner(n, n));
    squares_.setConstant(std::numeric_limits<double>::infinity());
    squares_.head(n) = free.eigenvalues();
    Matrix shapes = Matrix::Zero();
    shapes.topLeftCorner(n, n) = free.eigenvectors();
    const Eigen::Matrix<double, 8, 4> push = shapes.transpose() * motion_.contact * motion_.tyre_rate.asDiagonal(),
                                      spring4 = shapes.transpose() * motion_.spring;
    Eigen::Matrix<double, 8, dampers> spring;
    spring.leftCols<4>() = spring4;
    spring.col(4) = shapes.row(2) - shapes.row(motion_.rear_roll);
    Eigen::Matrix<double, 8, 7> seen;
    seen.leftCols<4>() = shapes.transpose() * motion_.travel;
    seen.col(4) = shapes.row(0);
    seen.col(5) = shapes.row(1);
    seen.col(6) = (shapes.row(2) + shapes.row(motion_.rear_roll)) / 2;
    dampings_ = (spring.cwiseAbs2() * damped_).array() / (2 * squares_.array().max(0).sqrt());
    for (int k = 0; k < 8; ++k) {
        auto to = parts_.col(k).data();
        const auto put = [&](const auto& one, const auto& other) {
            for (int j = 0; j < other.cols(); ++j)
                for (int i = 0; i < one.cols(); ++i) *to++ = one(k, i) * other(k, j);
        };
        put(push, push);
        put(spring, push);
        put(spring, spring);
        put(seen, push);
        put(seen, spring);
    }
}

double own_roll_inertia(const Model& m) {
    const car::Loaded l = car::loaded(m.car);
    const double arm = l.z - (m.car.front.roll_centre_height + m.car.rear.roll_centre_height) / 2,
                 track = (m.car.front.track + m.car.rear.track) / 2;
    return std::max(m.roll_inertia - l.mass * arm * arm, 0.02 * l.mass * track * track);
}

std::vector<Shake> Shaken::shakes() const {
    const Eigen::Index n = motion_.count;
    Eigen::MatrixXd first = Eigen::MatrixXd::Zero(2 * n, 2 * n);
    const Eigen::LDLT<Eigen::MatrixXd> mass(mass_.topLeftCorner(n, n));
    first.topRightCorner(n, n).setIdentity();
    first.bottomLeftCorner(n, n) = -mass.solve(motion_.stiffness.topLeftCorner(n, n));
    first.bottomRightCorner(n, n) = -mass.solve(damping_.topLeftCorner(n, n));
    std::vector<Shake> out;
    const Eigen::VectorXcd roots = Eigen::EigenSolver<Eigen::MatrixXd>(first, false).eigenvalues();
    for (const Complex& s : roots)
        if (s.imag() >= 0)
            out.push_back({std::abs(s) / (2 * units::pi), std::abs(s) > 0 ? -s.real() / std::abs(s) : 0});
    std::sort(out.begin(), out.end(), [](const Shake& a, const Shake& b) { return a.frequency < b.frequency; });
    return out;
}

Shaken::Spectra Shaken::spectra(const Road& road, double f) const {
    const double omega = 2 * units::pi * f, wave_number = f / road.speed;
    const Complex i_omega(0, omega);
    // The wheels' heights together: S_jk = G c(apart) exp(−iω (delay_j − delay_k)).
    const double own = road.roughness * n0 * n0 / (wave_number * wave_number) / road.speed;
    const double crest = 1 / road.ripple_length, wide = 0.15 * crest, off = (wave_number - crest) / wide;
    const double ripples =
        road.ripple * road.ripple / (std::sqrt(2 * units::pi) * wide) * std::exp(-off * off / 2) / road.speed;
    const PerAxle<double> across{belongs(track_.front, wave_number, road.sides),
                                 belongs(track_.rear, wave_number, road.sides)};
    const double near = belongs(std::abs(track_.front - track_.rear) / 2, wave_number, road.sides),
                 far = belongs((track_.front + track_.rear) / 2, wave_number, road.sides);
    const Complex late = std::exp(-i_omega * (wheelbase_ / road.speed));
    Eigen::Matrix4cd rough, rippled;
    rough << 1, across.front, near * std::conj(late), far * std::conj(late), //
        across.front, 1, far * std::conj(late), near * std::conj(late),      //
        near * late, far * late, 1, across.rear,                             //
        far * late, near * late, across.rear, 1;
    const double shared = road.ripple_alike;
    rippled << 1, shared, std::conj(late), shared * std::conj(late), //
        shared, 1, shared * std::conj(late), std::conj(late),        //
        late, shared * late, 1, shared,                              //
        shared * late, late, shared, 1;
    const Eigen::Matrix4cd heights = own * rough + ripples * rippled;

    // (K − ω²M + iωC)⁻¹ = D − D S (1 + iωc SᵀDS)⁻¹ iωc SᵀD (Woodbury), C being the dampers' S c Sᵀ.
    const Eigen::Matrix<double, sums, 1> all = parts_ * (squares_.array() - omega * omega).inverse().matrix();
    using Held = Eigen::Matrix<double, dampers, dampers>;
    constexpr int after_held = 16 + 4 * dampers + dampers * dampers;
    const Eigen::Map<const Eigen::Matrix4d> pushed(all.data());
    const Eigen::Map<const Eigen::Matrix<double, dampers, 4>> passed(all.data() + 16);
    const Eigen::Map<const Held> held(all.data() + 16 + 4 * dampers);
    const Eigen::Map<const Eigen::Matrix<double, 7, 4>> seen(all.data() + after_held);
    const Eigen::Map<const Eigen::Matrix<double, 7, dampers>> through(all.data() + after_held + 28);
    const Eigen::Matrix<Complex, dampers, 1> slow = i_omega * damped_.cast<Complex>();
    Eigen::Matrix<Complex, dampers, dampers> braked = slow.asDiagonal() * held.cast<Complex>();
    braked.diagonal().array() += 1.0;
    const Eigen::Matrix<Complex, dampers, 4> taken =
        braked.partialPivLu().solve(slow.asDiagonal() * passed.cast<Complex>());

    Eigen::Matrix<Complex, 11, 4> to; // loads, travels, heave, pitch, roll, by the wheels' heights
    to.topRows<4>() = passed.transpose().cast<Complex>() * taken - pushed.cast<Complex>();
    for (int w = 0; w < 4; ++w) to(w, w) += motion_.tyre_rate[w];
    to.bottomRows<7>() = seen.cast<Complex>() - through.cast<Complex>() * taken;
    const Eigen::Matrix<Complex, 11, 4> shaped = to * heights;
    Eigen::Matrix<double, 11, 1> power;
    for (int i = 0; i < 11; ++i) power[i] = shaped.row(i).dot(to.row(i)).real();
    const double fast = omega * omega * omega * omega;
    Spectra out;
    out.head<8>() = power.head<8>();
    for (int w = 0; w < 4; ++w) { // the side force follows the load through the tyre's relaxation
        const double late_by = omega * relaxation_[static_cast<std::size_t>(w) / 2] / road.speed;
        out[8 + w] = power[w] / (1 + late_by * late_by);
    }
    out.segment<3>(12) = fast * power.tail<3>();
    out[15] = power[10];
    return out;
}

/// Points and weights of four-point Gauss sums over panels of the logarithm of frequency, narrow enough for what the
/// wheelbase's delay does, and graded towards free motions that are little damped.
std::vector<std::pair<double, double>> Shaken::frequencies(double delay) const {
    static constexpr double x[] = {-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526};
    static constexpr double w[] = {0.3478548451374538, 0.6521451548625461, 0.6521451548625461, 0.3478548451374538};
    std::vector<std::pair<double, double>> out;
    const double end = std::log(fastest_shake);
    for (double at = std::log(slowest_shake); at < end - 1e-12;) {
        const double f = std::exp(at), narrow = delay > 0 ? 0.7 / delay : 1e9;
        double next = std::min({end, at + 0.4, std::log(f + narrow)});
        for (Eigen::Index k = 0; k < motion_.count; ++k) {
            if (!(squares_[k] > 0)) continue;
            const double peak = std::log(squares_[k]) / 2 - std::log(2 * units::pi),
                         wide = std::max(0.004, 2 * dampings_[k]); // finer than any car is damped
            next = std::min(next, at + std::max(wide, at < peak ? 0.7 * (peak - at) : at - peak));
        }
        for (int i = 0; i < 4; ++i) {
            const double there = std::exp((at + next) / 2 + x[i] * (next - at) / 2);
            out.push_back({there, w[i] * (next - at) / 2 * there});
        }
        at = next;
    }
    return out;
}

Ride Shaken::on(const Road& road) const {
    Spectra sum = Spectra::Zero();
    double seat = 0, head = 0;
    for (const auto& [f, weight] : frequencies(wheelbase_ / road.speed)) {
        const Spectra s = spectra(road, f);
        sum += weight * s;
        const double up = felt_upright(f), side = felt_sideways(f);
        // Heave and roll of a car alike on both sides do not belong together.
        seat += weight * up * up * (s[12] + seat_out_ * seat_out_ * s[14]);
        head += weight * side * side * head_up_ * head_up_ * s[14];
    }
    const auto spread = [&](int i) { return std::sqrt(std::max(0.0, sum[i])); };
    Ride out{};
    for (int w = 0; w < 4; ++w) {
        const auto at = static_cast<std::size_t>(w);
        out.load[at] = spread(w);
        out.travel[at] = spread(4 + w);
        out.grips[at] = spread(8 + w);
    }
    out.heave = spread(12);
    out.pitch = spread(13);
    out.roll = spread(14);
    out.lean = spread(15);
    out.seat = std::sqrt(seat);
    out.head = std::sqrt(head);
    return out;
}

} // namespace dervish::balance
