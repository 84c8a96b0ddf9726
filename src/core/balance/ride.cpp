#include "core/balance/ride.h"

#include <Eigen/Eigenvalues>
#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <complex>

namespace dervish::balance {
namespace {
using Complex = std::complex<double>;
using ComplexMatrix = Eigen::Matrix<Complex, 8, 8>;
using Responses = Eigen::Matrix<Complex, Shaken::outputs, 4>;

constexpr double n0 = 0.1;

/// Of two lines `apart` metres, the cross spectrum over the own one: x K1(x) (Kamash and Robson 1977).
double belongs(double apart, double wave_number, Sides sides) {
    if (sides == Sides::Alike || apart < 1e-9) return 1;
    if (sides == Sides::Unrelated) return 0;
    const double x = 2 * units::pi * wave_number * apart;
    return x < 1e-6 ? 1 : x > 40 ? 0 : x * std::cyl_bessel_k(1.0, x);
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

/// Points and weights of four-point Gauss sums over panels of the logarithm of frequency, narrow enough for what the
/// wheelbase's delay does.
std::vector<std::pair<double, double>> frequencies(double delay) {
    static constexpr double x[] = {-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526};
    static constexpr double w[] = {0.3478548451374538, 0.6521451548625461, 0.6521451548625461, 0.3478548451374538};
    std::vector<std::pair<double, double>> out;
    const double end = std::log(fastest_shake);
    for (double at = std::log(slowest_shake); at < end - 1e-12;) {
        const double f = std::exp(at), narrow = delay > 0 ? 0.7 / delay : 1e9;
        const double next = std::min({end, at + 0.28, std::log(f + narrow)});
        for (int i = 0; i < 4; ++i) {
            const double there = std::exp((at + next) / 2 + x[i] * (next - at) / 2);
            out.push_back({there, w[i] * (next - at) / 2 * there});
        }
        at = next;
    }
    return out;
}
} // namespace

double felt_upright(double f) { return felt(f, 12.5, 12.5, 0.63, 2.37, 0.91, 3.35, 0.91); }
double felt_sideways(double f) { return felt(f, 2, 2, 0.63, 0, 1, 0, 1); }

Shaken::Shaken(const Model& m, const car::Situation& situation, const car::State& settled)
    : motion_(car::small_motion(m.car, situation, settled)), track_{m.car.front.track, m.car.rear.track},
      wheelbase_(m.car.wheelbase) {
    const car::Loaded l = car::loaded(m.car);
    mass_.setZero();
    damping_.setZero();
    mass_(0, 0) = l.mass;
    mass_(1, 1) = m.pitch_inertia;
    const double own_roll = own_roll_inertia(m);
    mass_(2, 2) = own_roll;
    if (motion_.rear_roll != 2) { // each end of a frame that twists has its share
        mass_(2, 2) = own_roll * l.share[0] / l.mass;
        mass_(3, 3) = own_roll * l.share[1] / l.mass;
    }
    const auto add = [](auto& to, double factor, const auto& column) { to += factor * column * column.transpose(); };
    for (std::size_t e = 0; e < 2; ++e) {
        const car::Axle& axle = m.car[both_ends[e]];
        const auto a = static_cast<Eigen::Index>(e);
        relaxation_[e] = std::max(0.05, (m.axle[e].tyre[0].relaxation + m.axle[e].tyre[1].relaxation) / 2);
        if (axle.kind == AxleKind::Solid) {
            add(mass_, axle.unsprung_mass, motion_.middle.col(a));
            add(mass_, m.axle_inertia[e], motion_.turn.col(a));
        }
        for (Eigen::Index w = 2 * a; w < 2 * a + 2; ++w) {
            if (axle.kind == AxleKind::Independent) add(mass_, axle.unsprung_mass / 2, motion_.contact.col(w));
            add(damping_, (m.axle[e].bump_damping + m.axle[e].rebound_damping) / 2, motion_.spring.col(w));
        }
    }
    seat_out_ = (track_.front + track_.rear) / 8; // a quarter of the track beside the middle
    head_up_ = l.z * 0.7;                         // over the centre of mass: seated people's heads
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

    const ComplexMatrix stiff = motion_.stiffness.cast<Complex>() + i_omega * damping_.cast<Complex>() -
                                (omega * omega) * mass_.cast<Complex>();
    const Eigen::Matrix<double, 8, 4> push = motion_.contact * motion_.tyre_rate.asDiagonal();
    const Eigen::Matrix<Complex, 8, 4> moves = stiff.partialPivLu().solve(push.cast<Complex>());

    Responses to;
    const double fast = -omega * omega;
    to.topRows<4>() = -(push.transpose() * moves);
    for (int w = 0; w < 4; ++w) to(w, w) += motion_.tyre_rate[w];
    to.middleRows<4>(4) = motion_.travel.transpose() * moves;
    for (int w = 0; w < 4; ++w) // the side force follows the load through the tyre's relaxation
        to.row(8 + w) = to.row(w) / (1.0 + i_omega * relaxation_[static_cast<std::size_t>(w) / 2] / road.speed);
    const auto roll = ((moves.row(2) + moves.row(motion_.rear_roll)) / 2).eval();
    to.row(12) = fast * moves.row(0);
    to.row(13) = fast * moves.row(1);
    to.row(14) = fast * roll;
    to.row(15) = roll;
    Spectra out;
    const Eigen::Matrix<Complex, outputs, 4> shaped = to * heights;
    for (int i = 0; i < outputs; ++i) out[i] = shaped.row(i).dot(to.row(i)).real();
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
