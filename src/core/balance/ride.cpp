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

/// Corners, Hz, and qualities of ISO 2631-1's chain: what limits it below and above, a transition from acceleration to
/// velocity, a step up. A corner of 0 or infinity: no such part.
struct Weighting {
    double low, high, f3, f4, q4, f5, q5, f6, q6;
    /// |H|²
    double squared(double f) const {
        const auto second = [f](double corner, double q) { // denominator of a second-order part, squared
            const double r = f * f / (corner * corner);
            return (1 - r) * (1 - r) + r / (q * q);
        };
        const auto square = [](double x) { return x * x; };
        const double root_half = std::sqrt(0.5);
        const double limits = square(f * f / (low * low)) / (second(low, root_half) * second(high, root_half));
        const double transition = (1 + f * f / (f3 * f3)) / second(f4, q4);
        const double step = f5 > 0 ? second(f5, q5) / second(f6, q6) * square(f5 * f5 / (f6 * f6)) : 1;
        return limits * transition * step;
    }
};
constexpr double none = std::numeric_limits<double>::infinity();
constexpr Weighting upright{0.4, 100, 12.5, 12.5, 0.63, 2.37, 0.91, 3.35, 0.91},
    sideways{0.4, 100, 2, 2, 0.63, 0, 1, 0, 1}, sickening{0.08, 0.63, none, 0.25, 0.86, 0.0625, 0.80, 0.1, 0.80};

} // namespace

double felt_upright(double f) { return std::sqrt(upright.squared(f)); }
double felt_sideways(double f) { return std::sqrt(sideways.squared(f)); }
double felt_sickening(double f) { return std::sqrt(sickening.squared(f)); }

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
/// P the road's push, S the springs times the roots of their dampers and Y what is looked at: PᵀDP, SᵀDP, SᵀDS, YᵀDP,
/// YᵀDS.
void Shaken::prepare() {
    const Eigen::Index n = motion_.count;
    using Sized = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, Eigen::ColMajor, 8, 8>; // off the heap
    const Eigen::GeneralizedSelfAdjointEigenSolver<Sized> free(motion_.stiffness.topLeftCorner(n, n),
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
    peaks_ = squares_.array().log() / 2 - std::log(2 * units::pi);
    if (dampings_.maxCoeff() > 0.35) { // strong dampers hold motions together: those that are left are less damped
        peaks_.setConstant(std::numeric_limits<double>::infinity());
        Eigen::Index k = 0;
        for (const Shake& shake : shakes())
            if (shake.damping < 1 - 1e-9 && k < peaks_.size()) {
                peaks_[k] = std::log(shake.frequency);
                dampings_[k++] = shake.damping;
            }
    }
    spring *= damped_.cwiseSqrt().asDiagonal();
    // In the order in which spectra() reads them: each damper's together, so that one that is not there is left out.
    int to = 0;
    const auto put = [&](const auto& one, const auto& other) { parts_.col(to++) = one.cwiseProduct(other); };
    for (int w = 0; w < 4; ++w)
        for (int v = 0; v <= w; ++v) put(push.col(v), push.col(w));
    for (int w = 0; w < 4; ++w)
        for (int i = 0; i < 7; ++i) put(seen.col(i), push.col(w));
    for (int d = 0; d < dampers; ++d) {
        for (int w = 0; w < 4; ++w) put(spring.col(d), push.col(w));
        for (int i = 0; i < 7; ++i) put(seen.col(i), spring.col(d));
        for (int e = 0; e <= d; ++e) put(spring.col(e), spring.col(d));
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

Shaken::Spectra Shaken::spectra(const Road& road, double frequency) const {
    return spectra(road, Four(Four::Constant(frequency))).row(0).transpose();
}

Eigen::Array<double, 4, Shaken::outputs> Shaken::spectra(const Road& road, const Four& f) const {
    return damped_[4] > 0 ? spectra_by<dampers>(road, f) : spectra_by<dampers - 1>(road, f);
}

/// With n dampers, known when it is compiled: a fifth faster.
template <int n> Eigen::Array<double, 4, Shaken::outputs> Shaken::spectra_by(const Road& road, const Four& f) const {
    const Four omega = 2 * units::pi * f, wave_number = f / road.speed;
    // An axle's two wheels as half their sum and half their difference, of which neither belongs to the other: of the
    // front's, the rear's, and both together, which the rear feels later.
    struct Heights {
        Four front, rear, both;
    } together, opposed;
    Four own = road.roughness * n0 * n0 / (wave_number.square() * road.speed), ripples = Four::Zero();
    if (road.ripple > 0) {
        const double crest = 1 / road.ripple_length, wide = 0.15 * crest;
        ripples = road.ripple * road.ripple / (std::sqrt(2 * units::pi) * wide * road.speed) *
                  (-((wave_number - crest) / wide).square() / 2).exp();
    }
    const auto belong = [&](double apart) {
        return Four(wave_number.unaryExpr([&](double along) { return belongs(apart, along, road.sides); }));
    };
    const Four front = belong(track_.front), rear = belong(track_.rear),
               near = belong(std::abs(track_.front - track_.rear) / 2), far = belong((track_.front + track_.rear) / 2);
    const Four shared = ripples * (1 + road.ripple_alike), apart = ripples * (1 - road.ripple_alike);
    together = {own * (1 + front) + shared, own * (1 + rear) + shared, own * (near + far) + shared};
    opposed = {own * (1 - front) + apart, own * (1 - rear) + apart, own * (near - far) + apart};
    const Four turned = omega * (wheelbase_ / road.speed), in_step = turned.cos(), behind = turned.sin();

    // (K − ω²M + iωC)⁻¹ = D − D S (1 + iω SᵀDS)⁻¹ iω SᵀD (Woodbury), the dampers' C being S Sᵀ.
    Four all[sums];
    {
        Four free[8];
        for (Eigen::Index k = 0; k < motion_.count; ++k) free[k] = (squares_[k] - omega.square()).inverse();
        constexpr int wanted = pushes + looks + n * a_damper + n * (n + 1) / 2;
        for (int i = 0; i < wanted; ++i) {
            Four sum = parts_(0, i) * free[0];
            for (Eigen::Index k = 1; k < motion_.count; ++k) sum += parts_(k, i) * free[k];
            all[i] = sum;
        }
    }
    const Four *seen = all + pushes,
               *damper[dampers]; // a damper's own: by the four heights, in the seven, with dampers
    for (int d = 0; d < n; ++d) damper[d] = all + pushes + looks + d * a_damper + d * (d + 1) / 2;
    // With A = ω SᵀDS and B = ω SᵀDP, (1 + iA) X = iB: (1 + A²) Im X = B and Re X = A Im X. 1 + A² = L d Lᵀ.
    Four a[dampers][dampers], lower[dampers][dampers], diagonal[dampers], re[dampers][4], im[dampers][4];
    for (int i = 0; i < n; ++i)
        for (int j = 0; j <= i; ++j) a[i][j] = a[j][i] = omega * damper[i][a_damper + j];
    for (int j = 0; j < n; ++j) {
        for (int i = j; i < n; ++i) {
            Four sum = Four::Constant(i == j ? 1 : 0);
            for (int k = 0; k < n; ++k) sum += a[i][k] * a[j][k];
            for (int k = 0; k < j; ++k) sum -= lower[i][k] * lower[j][k] * diagonal[k];
            if (i == j)
                diagonal[j] = sum;
            else
                lower[i][j] = sum / diagonal[j];
        }
    }
    for (int w = 0; w < 4; ++w) {
        for (int i = 0; i < n; ++i) {
            im[i][w] = omega * damper[i][w];
            for (int k = 0; k < i; ++k) im[i][w] -= lower[i][k] * im[k][w];
        }
        for (int i = n; i-- > 0;) {
            im[i][w] /= diagonal[i];
            for (int k = i + 1; k < n; ++k) im[i][w] -= lower[k][i] * im[k][w];
        }
        for (int i = 0; i < n; ++i) {
            re[i][w] = Four::Zero();
            for (int k = 0; k < n; ++k) re[i][w] += a[i][k] * im[k][w];
        }
    }

    // Of loads, travels, heave, pitch and roll, each by the four wheels' heights.
    Four power[11];
    for (int r = 0; r < 11; ++r) {
        Four real[4], imaginary[4];
        for (int w = 0; w < 4; ++w) {
            const int high = std::max(r, w), low = std::min(r, w);
            if (r < 4)
                real[w] = (r == w ? motion_.tyre_rate[w] : 0) - all[high * (high + 1) / 2 + low];
            else
                real[w] = seen[r - 4 + 7 * w];
            imaginary[w] = Four::Zero();
            for (int k = 0; k < n; ++k) {
                const Four by = r < 4 ? Four(-damper[k][r]) : damper[k][r];
                real[w] -= by * re[k][w];
                imaginary[w] -= by * im[k][w];
            }
        }
        power[r] = Four::Zero();
        for (const double side : {1.0, -1.0}) {
            const Heights& h = side > 0 ? together : opposed;
            const Four fr = real[0] + side * real[1], fi = imaginary[0] + side * imaginary[1],
                       rr = real[2] + side * real[3], ri = imaginary[2] + side * imaginary[3];
            power[r] += h.front * (fr.square() + fi.square()) + h.rear * (rr.square() + ri.square()) +
                        2 * h.both * ((fr * rr + fi * ri) * in_step - (fi * rr - fr * ri) * behind);
        }
        power[r] /= 2;
    }
    Eigen::Array<double, 4, outputs> out;
    for (int i = 0; i < 8; ++i) out.col(i) = power[i];
    for (int w = 0; w < 4; ++w) // the side force follows the load through the tyre's relaxation
        out.col(8 + w) =
            power[w] / (1 + (omega * (relaxation_[static_cast<std::size_t>(w) / 2] / road.speed)).square());
    for (int i = 0; i < 3; ++i) out.col(12 + i) = omega.square().square() * power[8 + i];
    out.col(15) = power[10];
    return out;
}

namespace {
/// Frequencies and weights of four-point Gauss sums between two of their logarithms.
std::pair<Eigen::Array4d, Eigen::Array4d> panel(double from, double to) {
    const Eigen::Array4d x(-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526),
        w(0.3478548451374538, 0.6521451548625461, 0.6521451548625461, 0.3478548451374538);
    const Eigen::Array4d there = ((from + to) / 2 + x * (to - from) / 2).exp();
    return {there, w * (to - from) / 2 * there};
}
} // namespace

/// Panels narrow enough for what the wheelbase's delay does, and graded towards free motions that are little damped.
std::vector<std::pair<Shaken::Four, Shaken::Four>> Shaken::frequencies(double delay) const {
    std::vector<std::pair<Four, Four>> out;
    const double end = std::log(fastest_shake);
    for (double at = std::log(slowest_shake); at < end - 1e-12;) {
        const double f = std::exp(at), narrow = delay > 0 ? 0.8 / delay : 1e9;
        double next = std::min({end, at + 0.5, std::log(f + narrow)});
        for (Eigen::Index k = 0; k < peaks_.size(); ++k) {
            if (!std::isfinite(peaks_[k])) continue;
            const double peak = peaks_[k], wide = std::max(0.004, 1.4 * dampings_[k]); // finer than any car is damped
            next = std::min(next, at + std::max(wide, at < peak ? 0.7 * (peak - at) : at - peak));
        }
        out.push_back(panel(at, next));
        at = next;
    }
    return out;
}

namespace {
Eigen::Array4d weights(const Weighting& by, const Eigen::Array4d& frequency) {
    return frequency.unaryExpr([&](double f) { return by.squared(f); });
}
} // namespace

std::pair<Shaken::Four, Shaken::Four> Shaken::felt(const Four& f, const Eigen::Array<double, 4, outputs>& s) const {
    // Heave and roll of a car alike on both sides do not belong together.
    return {weights(upright, f) * (s.col(12) + seat_out_ * seat_out_ * s.col(14)),
            weights(sideways, f) * head_up_ * head_up_ * s.col(14)};
}

std::vector<Shaken::Tone> Shaken::tones(const Road& road) const {
    constexpr int panels = 40;
    const double from = std::log(slowest_shake), wide = std::log(fastest_shake / slowest_shake) / panels;
    std::vector<Tone> out;
    for (int i = 0; i < panels; ++i) {
        const Four f = panel(from + i * wide, from + (i + 1) * wide).first;
        const Eigen::Array<double, 4, outputs> s = spectra(road, f).colwise() * f;
        const auto [seat, head] = felt(f, s);
        for (int k = 0; k < 4; ++k)
            out.push_back({f[k], seat[k], head[k], {(s(k, 0) + s(k, 1)) / 2, (s(k, 2) + s(k, 3)) / 2}});
    }
    return out;
}

Shaken::Sickness Shaken::sickness(const Road& road) const {
    const double from = 0.05, to = 1;
    constexpr int panels = 10;
    double heave = 0, sway = 0;
    for (int i = 0; i < panels; ++i) {
        const double wide = std::log(to / from) / panels;
        const auto [f, share] = panel(std::log(from) + i * wide, std::log(from) + (i + 1) * wide);
        const Eigen::Array<double, 4, outputs> s = spectra(road, f).colwise() * share;
        const Four sick = weights(sickening, f);
        heave += (sick * s.col(12)).sum();
        const Four leaned = units::g + head_up_ * (2 * units::pi * f).square(); // per lean
        sway += (sick * leaned.square() * s.col(15)).sum();
    }
    return {std::sqrt(heave), std::sqrt(sway)};
}

Ride Shaken::on(const Road& road) const {
    Spectra sum = Spectra::Zero();
    double seat = 0, head = 0;
    for (const auto& [f, share] : frequencies(wheelbase_ / road.speed)) {
        const Eigen::Array<double, 4, outputs> s = spectra(road, f).colwise() * share;
        sum += s.colwise().sum().matrix();
        const auto [at_seat, at_head] = felt(f, s);
        seat += at_seat.sum();
        head += at_head.sum();
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
