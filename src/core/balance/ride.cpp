#include "core/balance/ride.h"

#include "core/num/dense.h"

#include <Eigen/LU>
#include <algorithm>
#include <cmath>
#include <complex>
#include <limits>

namespace dervish::balance {
namespace {
using Complex = std::complex<double>;

/// Sums over the undamped motions with n dampers, in their order: of the road's pushes with each other, of n − 1
/// motions of the body with them, and then for each damper with the pushes, the body's motions and the dampers up to
/// itself.
constexpr int pushes = 10;
constexpr int before_damper(int n, int d) { return pushes + 4 * (n - 1) + d * (4 + n - 1) + d * (d + 1) / 2; }

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
    Four squared(const Four& f) const {
        const Four at = square(f);
        const auto second = [&](double corner, double q) { // denominator of a second-order part, squared
            const Four r = at / (corner * corner);
            return square(1 - r) + r / (q * q);
        };
        const double root_half = std::sqrt(0.5), rise = f5 > 0 ? f5 / f6 : 1;
        Four over = square(at * (rise * rise / (low * low))) * (1 + at / (f3 * f3)),
             under = second(low, root_half) * second(high, root_half) * second(f4, q4);
        if (f5 > 0) {
            over *= second(f5, q5);
            under *= second(f6, q6);
        }
        return over / under;
    }
};
constexpr double none = std::numeric_limits<double>::infinity();
constexpr Weighting upright{0.4, 100, 12.5, 12.5, 0.63, 2.37, 0.91, 3.35, 0.91},
    sideways{0.4, 100, 2, 2, 0.63, 0, 1, 0, 1}, sickening{0.08, 0.63, none, 0.25, 0.86, 0.0625, 0.80, 0.1, 0.80};

double felt(const Weighting& by, double f) { return std::sqrt(by.squared(f)[0]); }
} // namespace

double felt_upright(double f) { return felt(upright, f); }
double felt_sideways(double f) { return felt(sideways, f); }
double felt_sickening(double f) { return felt(sickening, f); }

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
    if (m.bush_loss == 0) return out;
    // The body's roll as its own inertia would push it over, and that shape's frequency (Rayleigh's quotient).
    car::SmallMotion::Vector pushed = car::SmallMotion::Vector::Zero();
    pushed[2] = out.mass(2, 2);
    if (motion.rear_roll != 2) pushed[3] = out.mass(3, 3);
    const car::SmallMotion::Vector shape = solved(motion.stiffness, pushed);
    const double square = shape.dot(pushed) / shape.dot(out.mass * shape);
    if (!(square > 0)) return out;
    for (std::size_t e = 0; e < 2; ++e) {
        const car::Axle& axle = m.car[both_ends[e]];
        const double base = axle.kind == AxleKind::Solid ? axle.spring_base : axle.track,
                     bushes = axle.parasitic_roll_stiffness + axle.bar_in_bushes * motion.bar_roll[e];
        out.bush_damping[e] = m.bush_loss * bushes / (std::sqrt(square) * base * base);
    }
    return out;
}

Shaken::Shaken(const Model& m, const car::Situation& situation, const car::State& settled)
    : motion_(car::small_motion(m.car, situation, settled)), track_{m.car.front.track, m.car.rear.track},
      wheelbase_(m.car.wheelbase) {
    const Masses masses = masses_of(m, motion_);
    mass_ = masses.mass;
    damped_[4] = masses.frame_damping;
    for (std::size_t e = 0; e < 2; ++e) {
        const auto a = static_cast<Eigen::Index>(e);
        for (std::size_t w = 2 * e; w < 2 * e + 2; ++w)
            relaxation_[w] = relaxation_at(m.axle[e].tyre[w % 2], m.surface, settled.wheels[w].load);
        const car::Axle& axle = m.car[both_ends[e]];
        const bool solid = axle.kind == AxleKind::Solid;
        spring_out_[e] = solid ? axle.spring_base / axle.track : 1;
        const double left = settled.wheels[2 * e].travel, right = settled.wheels[2 * e + 1].travel;
        for (const std::size_t side : {0, 1}) {
            const double opposed = (side == 0 ? 1 : -1) * spring_out_[e] * (left - right) / 2;
            stops_[2 * e + side] = {(left + right) / 2 + opposed, axle.bump_room(side), axle.bump_k1, axle.bump_k3,
                                    axle.droop_room(side),        axle.droop_k};
        }
        const double damper = (m.axle[e].bump_damping + m.axle[e].rebound_damping) / 2;
        for (Eigen::Index w = 2 * a; w < 2 * a + 2; ++w) { // bushes resist the springs' motions opposed alone
            const double sign = w == 2 * a ? 1 : -1;
            spring_.col(w) = std::sqrt(0.5) * (motion_.spring.col(2 * a) + sign * motion_.spring.col(2 * a + 1));
            damped_[w] = damper + (sign < 0 ? 2 * masses.bush_damping[e] : 0);
        }
    }
    spring_.col(4).setZero();
    spring_(2, 4) += 1;
    spring_(motion_.rear_roll, 4) -= 1;
    damping_ = spring_.lazyProduct(damped_.asDiagonal() * spring_.transpose());
    seat_out_ = (track_.front + track_.rear) / 8; // a quarter of the track beside the middle
    head_up_ = head_over_centre(m);
    prepare();
}

/// Where the wheels' dampers are strong they hold motions together: beside the undamped motions there may be sharp ones
/// of the car with those dampers locked, in which they give a little. With S the dampers' springs times the roots of
/// their dampers, S Sᵀ = U s Uᵀ: shapes φ with Sᵀφ = 0, so of the columns of U with s = 0 alone; the dampers' forces
/// f = S⁺ K φ, |f|² = |s^−½ Uᵀ K φ|²; over critical |f|²/(2ω³ φᵀMφ), and what the frame's own damper adds.
void Shaken::add_locked(const Eigen::Matrix<double, 8, dampers>& spring) {
    const Eigen::Index n = motion_.count;
    const auto by = spring.topLeftCorner(n, 4);
    const Modes held = modes(by.lazyProduct(by.transpose()), Eigen::MatrixXd::Identity(n, n));
    Eigen::Index free = 0;
    while (free < n && !(held.values[free] > 1e-12 * held.values[n - 1])) ++free;
    const Eigen::MatrixXd open = held.shapes.leftCols(free),
                          scaled = held.shapes.rightCols(n - free) *
                                   held.values.tail(n - free).cwiseSqrt().cwiseInverse().asDiagonal();
    const auto stiffness = squares_.head(n).asDiagonal();
    const Modes locked = modes(open.transpose().lazyProduct(stiffness * open), Eigen::MatrixXd::Identity(free, free));
    const Eigen::MatrixXd shapes = open.lazyProduct(locked.shapes),
                          forces = scaled.transpose().lazyProduct(stiffness * shapes);
    for (Eigen::Index k = 0; k < std::min<Eigen::Index>(free, 4); ++k) {
        const double square = locked.values[k], omega = std::sqrt(std::max(0.0, square));
        if (!(square > 0)) continue;
        peaks_[8 + k] = std::log(omega / (2 * units::pi));
        const double twists = shapes.col(k).dot(spring.col(4).head(n));
        dampings_[8 + k] = forces.col(k).squaredNorm() / (2 * square * omega) + twists * twists / (2 * omega);
    }
}

/// By the undamped motions Φ (K Φ = M Φ λ), with D = 1/(λ − ω²), every sum over the unknowns is one over them. With
/// P the road's push, S the springs times the roots of their dampers and B the body's motions: PᵀDP, BᵀDP, SᵀDP, BᵀDS,
/// SᵀDS. P is of the contacts' rates, 1 under a wheel that hangs, whose own motion is wanted though no road moves it.
void Shaken::prepare() {
    const Eigen::Index n = motion_.count;
    const Modes free = modes(motion_.stiffness.topLeftCorner(n, n), mass_.topLeftCorner(n, n));
    squares_.setConstant(std::numeric_limits<double>::infinity());
    squares_.head(n) = free.values;
    Matrix shapes = Matrix::Zero();
    shapes.topLeftCorner(n, n) = free.shapes;
    Eigen::Matrix<double, 8, 4> push;
    const Eigen::Matrix<double, 8, dampers> spring =
        shapes.transpose().lazyProduct(spring_ * damped_.cwiseSqrt().asDiagonal());
    for (int w = 0; w < 4; ++w) {
        stands_[w] = motion_.tyre_rate[w] > 0;
        rate_[w] = stands_[w] ? motion_.tyre_rate[w] : 1;
        push.col(w) = rate_[w] * shapes.transpose() * motion_.contact.col(w);
    }
    const Eigen::Index seen[] = {0, 1, 2, motion_.rear_roll};
    for (Eigen::Index a = 0; a < 2; ++a) { // the axle's own two unknowns are known by its contacts and the body
        const Eigen::Index own = n - 4 + 2 * a, w = 2 * a;
        const Eigen::Matrix2d by = motion_.contact.block<2, 2>(own, w).inverse() * motion_.travel.block<2, 2>(own, w);
        by_contacts_.middleCols<2>(w) = by;
        const Eigen::Matrix<double, 8, 2> left =
            motion_.travel.middleCols<2>(w) - motion_.contact.middleCols<2>(w) * by;
        for (int b = 0; b < 4; ++b) by_body_.block<1, 2>(b, w) = left.row(seen[b]);
    }
    peaks_.setConstant(std::numeric_limits<double>::infinity());
    dampings_.setZero();
    for (Eigen::Index k = 0; k < n; ++k) {
        if (!(squares_[k] > 0)) continue;
        const double omega = std::sqrt(squares_[k]);
        peaks_[k] = std::log(omega / (2 * units::pi));
        dampings_[k] = spring.row(k).squaredNorm() / (2 * omega);
    }
    if (dampings_.maxCoeff() > 0.35) add_locked(spring);
    static_assert(before_damper(dampers, dampers) == sums);
    int to = 0;
    const auto put = [&](const auto& one, const auto& other) { parts_.col(to++) = one.cwiseProduct(other); };
    const int n_dampers = damped_[4] > 0 ? 5 : 4;
    const auto body = [&](int i) { return shapes.row(seen[i]).transpose(); };
    for (int w = 0; w < 4; ++w)
        for (int v = 0; v <= w; ++v) put(push.col(v), push.col(w));
    for (int w = 0; w < 4; ++w)
        for (int i = 0; i < n_dampers - 1; ++i) put(body(i), push.col(w));
    for (int d = 0; d < n_dampers; ++d) {
        for (int w = 0; w < 4; ++w) put(spring.col(d), push.col(w));
        for (int i = 0; i < n_dampers - 1; ++i) put(body(i), spring.col(d));
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
    const Modes undamped = modes(motion_.stiffness.topLeftCorner(n, n), mass_.topLeftCorner(n, n));
    Eigen::MatrixXd first = Eigen::MatrixXd::Zero(2 * n, 2 * n); // by the undamped motions
    first.topRightCorner(n, n).setIdentity();
    first.bottomLeftCorner(n, n) = (-undamped.values).asDiagonal();
    first.bottomRightCorner(n, n) =
        -undamped.shapes.transpose().lazyProduct(damping_.topLeftCorner(n, n).lazyProduct(undamped.shapes).eval());
    std::vector<Shake> out;
    const Eigen::VectorXcd roots = eigenvalues(std::move(first));
    for (const Complex& s : roots)
        if (s.imag() >= 0)
            out.push_back({std::abs(s) / (2 * units::pi), std::abs(s) > 0 ? -s.real() / std::abs(s) : 0});
    std::sort(out.begin(), out.end(), [](const Shake& a, const Shake& b) { return a.frequency < b.frequency; });
    return out;
}

Shaken::Spectra Shaken::spectra(const Road& road, double frequency) const {
    Spectra out;
    const FourSpectra four = spectra(road, Four(frequency));
    for (int i = 0; i < outputs; ++i) out[i] = four[static_cast<std::size_t>(i)][0];
    return out;
}

Shaken::FourSpectra Shaken::spectra(const Road& road, const Four& f) const {
    return damped_[4] > 0 ? spectra_by<dampers>(road, f) : spectra_by<dampers - 1>(road, f);
}

/// With n dampers, known when it is compiled: a fifth faster.
template <int n> Shaken::FourSpectra Shaken::spectra_by(const Road& road, const Four& f) const {
    const Four omega = 2 * units::pi * f, wave_number = f / road.speed;
    // An axle's two wheels as half their sum and half their difference, of which neither belongs to the other: of the
    // front's, the rear's, and both together, which the rear feels later.
    struct Heights {
        Four front, rear, both;
    } together, opposed;
    Four own = road.roughness * n0 * n0 / (square(wave_number) * road.speed), ripples = 0;
    if (road.ripple > 0) {
        const double crest = 1 / road.ripple_length, wide = 0.15 * crest;
        ripples = road.ripple * road.ripple / (std::sqrt(2 * units::pi) * wide * road.speed) *
                  (-square((wave_number - crest) / wide) / 2).each([](double x) { return std::exp(x); });
    }
    const auto belong = [&](double apart) {
        return wave_number.each([&](double along) { return belongs(apart, along, road.sides); });
    };
    const Four front = belong(track_.front), rear = belong(track_.rear),
               near = belong(std::abs(track_.front - track_.rear) / 2), far = belong((track_.front + track_.rear) / 2);
    const Four shared = ripples * (1 + road.ripple_alike), apart = ripples * (1 - road.ripple_alike);
    together = {own * (1 + front) + shared, own * (1 + rear) + shared, own * (near + far) + shared};
    opposed = {own * (1 - front) + apart, own * (1 - rear) + apart, own * (near - far) + apart};
    const Four turned = omega * (wheelbase_ / road.speed), in_step = turned.each([](double x) { return std::cos(x); }),
               behind = turned.each([](double x) { return std::sin(x); });

    // (K − ω²M + iωC)⁻¹ = D − D S (1 + iω SᵀDS)⁻¹ iω SᵀD (Woodbury), the dampers' C being S Sᵀ.
    Four all[sums];
    {
        Four free[8];
        constexpr int unknowns = n + 3; // the frame's own damper comes with the rear's own roll
        for (int k = 0; k < unknowns; ++k) free[k] = 1 / (squares_[k] - square(omega));
        constexpr int wanted = before_damper(n, n);
        for (int i = 0; i < wanted; ++i) {
            Four sum = parts_(0, i) * free[0];
            for (int k = 1; k < unknowns; ++k) sum += parts_(k, i) * free[k];
            all[i] = sum;
        }
    }
    constexpr int bodies = n - 1;                // heave, pitch, roll, and of a body that twists the rear's
    const Four *seen = all + pushes, *damper[n]; // a damper's own: by the four heights, on the body, with dampers
    for (int d = 0; d < n; ++d) damper[d] = all + before_damper(n, d);
    // With A = ω SᵀDS and B = ω SᵀDP, (1 + iA) X = iB: (1 + A²) Im X = B and Re X = A Im X. 1 + A² = L d Lᵀ.
    Four a[n][n], lower[n][n], diagonal[n], re[n][4], im[n][4];
    for (int i = 0; i < n; ++i)
        for (int j = 0; j <= i; ++j) a[i][j] = a[j][i] = omega * damper[i][4 + bodies + j];
    for (int j = 0; j < n; ++j) {
        for (int i = j; i < n; ++i) {
            Four sum = i == j ? 1 : 0;
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
            re[i][w] = 0;
            for (int k = 0; k < n; ++k) re[i][w] += a[i][k] * im[k][w];
        }
    }

    // By the four wheels' heights: first the contacts' times their rates, and the body's motions.
    Four real[4 + bodies][4], imaginary[4 + bodies][4];
    for (int r = 0; r < 4 + bodies; ++r)
        for (int w = 0; w < 4; ++w) {
            if (!stands_[w]) { // it feels no road
                real[r][w] = imaginary[r][w] = 0;
                continue;
            }
            const int high = std::max(r, w), low = std::min(r, w);
            real[r][w] = r < 4 ? all[high * (high + 1) / 2 + low] : seen[r - 4 + bodies * w];
            imaginary[r][w] = 0;
            for (int k = 0; k < n; ++k) {
                real[r][w] -= damper[k][r] * re[k][w];
                imaginary[r][w] -= damper[k][r] * im[k][w];
            }
        }
    // What a motion's mean square is on this road.
    const auto power = [&](const Four* in, const Four* late) {
        Four out = 0;
        for (const double side : {1.0, -1.0}) {
            const Heights& h = side > 0 ? together : opposed;
            const Four fr = in[0] + side * in[1], fi = late[0] + side * late[1], rr = in[2] + side * in[3],
                       ri = late[2] + side * late[3];
            out += h.front * (square(fr) + square(fi)) + h.rear * (square(rr) + square(ri)) +
                   2 * h.both * ((fr * rr + fi * ri) * in_step - (fi * rr - fr * ri) * behind);
        }
        return out / 2;
    };
    FourSpectra out;
    Four moves[4][4], moves_late[4][4];
    for (int w = 0; w < 4; ++w) {
        Four there[4], late[4];
        if (stands_[w]) {
            for (int v = 0; v < 4; ++v) {
                there[v] = (v == w ? rate_[w] : 0) - real[w][v];
                late[v] = -imaginary[w][v];
            }
            out[w] = power(there, late);
        } else {
            out[w] = 0;
        }
        const int left = w / 2 * 2;
        for (int v = 0; v < 4; ++v) {
            there[v] = late[v] = 0;
            for (const int side : {0, 1}) {
                const double by = by_contacts_(side, w) / rate_[left + side];
                there[v] += by * real[left + side][v];
                late[v] += by * imaginary[left + side][v];
            }
            for (int b = 0; b < bodies; ++b) {
                there[v] += by_body_(b, w) * real[4 + b][v];
                late[v] += by_body_(b, w) * imaginary[4 + b][v];
            }
        }
        out[4 + w] = power(there, late);
        for (int v = 0; v < 4; ++v) {
            moves[w][v] = there[v];
            moves_late[w][v] = late[v];
        }
    }
    for (int w = 0; w < 4; ++w) { // a spring's travel is of both wheels'
        const double mine = (1 + spring_out_[static_cast<std::size_t>(w / 2)]) / 2;
        if (mine == 1) {
            out[8 + w] = out[4 + w];
            continue;
        }
        const int other = w ^ 1;
        Four there[4], late[4];
        for (int v = 0; v < 4; ++v) {
            there[v] = mine * moves[w][v] + (1 - mine) * moves[other][v];
            late[v] = mine * moves_late[w][v] + (1 - mine) * moves_late[other][v];
        }
        out[8 + w] = power(there, late);
    }
    if (bodies == 4)
        for (int v = 0; v < 4; ++v) { // the body's roll is the mean of its two ends'
            real[6][v] = (real[6][v] + real[3 + bodies][v]) / 2;
            imaginary[6][v] = (imaginary[6][v] + imaginary[3 + bodies][v]) / 2;
        }
    const Four fourth = square(square(omega));
    out[15] = power(real[6], imaginary[6]);
    out[12] = fourth * power(real[4], imaginary[4]);
    out[13] = fourth * power(real[5], imaginary[5]);
    out[14] = fourth * out[15];
    return out;
}

namespace {
/// Frequencies and weights of four-point Gauss sums between two of their logarithms.
std::pair<Four, Four> panel(double from, double to) {
    const Four x(-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526),
        w(0.3478548451374538, 0.6521451548625461, 0.6521451548625461, 0.3478548451374538);
    const Four there = ((from + to) / 2 + x * (to - from) / 2).each([](double at) { return std::exp(at); });
    return {there, w * (to - from) / 2 * there};
}

template <std::size_t n> std::array<Four, n> times(std::array<Four, n> all, const Four& by) {
    for (Four& one : all) one *= by;
    return all;
}
} // namespace

/// Panels narrow enough for what the wheelbase's delay does, and graded towards free motions that are little damped.
std::vector<std::pair<Four, Four>> Shaken::frequencies(double delay) const {
    std::vector<std::pair<Four, Four>> out;
    const bool locked = std::isfinite(peaks_[8]); // motions of unlike sharpness near each other
    const double end = std::log(fastest_shake), widest = locked ? 0.5 : 0.6, times = locked ? 1.4 : 1.6;
    for (double at = std::log(slowest_shake); at < end - 1e-12;) {
        const double f = std::exp(at), narrow = delay > 0 ? 0.8 / delay : 1e9;
        double next = std::min({end, at + widest, std::log(f + narrow)});
        for (Eigen::Index k = 0; k < peaks_.size(); ++k) {
            if (!std::isfinite(peaks_[k])) continue;
            const double peak = peaks_[k], wide = std::max(0.004, times * dampings_[k]); // finer than any car is damped
            next = std::min(next, at + std::max(wide, at < peak ? 0.7 * (peak - at) : at - peak));
        }
        out.push_back(panel(at, next));
        at = next;
    }
    return out;
}

std::pair<Four, Four> Shaken::felt(const Four& f, const FourSpectra& s) const {
    // Heave and roll of a car alike on both sides do not belong together.
    return {upright.squared(f) * (s[12] + seat_out_ * seat_out_ * s[14]),
            sideways.squared(f) * head_up_ * head_up_ * s[14]};
}

std::vector<Shaken::Tone> Shaken::tones(const Road& road) const {
    const Shaken car = meeting_stops(road);
    constexpr int panels = 40;
    const double from = std::log(slowest_shake), wide = std::log(fastest_shake / slowest_shake) / panels;
    std::vector<Tone> out;
    for (int i = 0; i < panels; ++i) {
        const Four f = panel(from + i * wide, from + (i + 1) * wide).first;
        const FourSpectra s = times(car.spectra(road, f), f);
        const auto [seat, head] = felt(f, s);
        for (int k = 0; k < 4; ++k)
            out.push_back({f[k], seat[k], head[k], {(s[0] + s[1])[k] / 2, (s[2] + s[3])[k] / 2}});
    }
    return out;
}

Shaken::Sickness Shaken::sickness(const Road& road) const {
    const Shaken car = meeting_stops(road);
    const double from = 0.05, to = 1;
    constexpr int panels = 10;
    double heave = 0, sway = 0;
    for (int i = 0; i < panels; ++i) {
        const double wide = std::log(to / from) / panels;
        const auto [f, share] = panel(std::log(from) + i * wide, std::log(from) + (i + 1) * wide);
        const FourSpectra s = times(car.spectra(road, f), share);
        const Four sick = sickening.squared(f);
        heave += (sick * s[12]).sum();
        const Four leaned = units::g + head_up_ * square(2 * units::pi * f); // per lean
        sway += (sick * square(leaned) * s[15]).sum();
    }
    return {std::sqrt(heave), std::sqrt(sway)};
}

Shaken::Met Shaken::met(const Stops& s, double moved, double spread) {
    struct Beyond {
        double share, first, second, third; // means of 1, u, u² and u³ where u, normal, is above 0
    };
    const auto beyond = [&](double mean) {
        if (!(spread > 0)) return mean > 0 ? Beyond{1, mean, mean * mean, mean * mean * mean} : Beyond{};
        const double at = mean / spread, share = std::erfc(-at / std::sqrt(2.0)) / 2,
                     first = mean * share + spread * std::exp(-at * at / 2) / std::sqrt(2 * units::pi),
                     second = mean * first + spread * spread * share;
        return Beyond{share, first, second, mean * second + 2 * spread * spread * first};
    };
    const auto bump = beyond(s.at + moved - s.bump_room), droop = beyond(-s.at - moved - s.droop_room);
    return {s.bump_k1 * bump.first + s.bump_k3 * bump.third - s.droop_k * droop.first,
            s.bump_k1 * bump.share + 3 * s.bump_k3 * bump.second + s.droop_k * droop.share, bump.share + droop.share};
}

Shaken Shaken::meeting_stops(const Road& road) const {
    const Ride first = linear_on(road);
    PerWheel<Met> rest;
    double most = 0;
    for (std::size_t w = 0; w < 4; ++w) {
        rest[w] = met(stops_[w], 0, 0);
        most = std::max(most, std::abs(met(stops_[w], 0, first.spring[w]).share - rest[w].share));
    }
    Shaken out = *this;
    for (std::size_t w = 0; w < 4; ++w) out.on_stops_[w] = rest[w].share;
    if (most < 1e-4) return out;
    // The mean force moves the springs' means by what each gives for each other's.
    const Eigen::Matrix4d gives = motion_.spring.transpose() * solved(motion_.stiffness, motion_.spring);
    Eigen::Vector4d moved = Eigen::Vector4d::Zero(), stiffer = Eigen::Vector4d::Zero();
    PerWheel<double> spread = first.spring;
    for (int round = 0; round < 40; ++round) {
        Eigen::Vector4d stiffness, force;
        for (int i = 0; i < 20; ++i) {
            for (std::size_t w = 0; w < 4; ++w) {
                const auto k = static_cast<Eigen::Index>(w);
                const Met now = met(stops_[w], moved[k], spread[w]);
                stiffness[k] = now.stiffness - rest[w].stiffness;
                force[k] = now.force - rest[w].force - rest[w].stiffness * moved[k];
                out.on_stops_[w] = now.share;
            }
            const Eigen::Matrix4d slope = Eigen::Matrix4d::Identity() + gives * stiffness.asDiagonal();
            const Eigen::Vector4d step = slope.partialPivLu().solve(moved + gives * force);
            moved -= step;
            if (step.cwiseAbs().maxCoeff() < 1e-9) break;
        }
        if ((stiffness - stiffer).cwiseAbs().maxCoeff() < 1e-4 * motion_.stiffness(0, 0)) break;
        stiffer = (stiffer + stiffness) / 2;
        out.motion_.stiffness = motion_.stiffness + motion_.spring * stiffer.asDiagonal() * motion_.spring.transpose();
        out.prepare();
        spread = out.linear_on(road).spring;
    }
    return out;
}

Ride Shaken::on(const Road& road) const { return meeting_stops(road).linear_on(road); }

Ride Shaken::linear_on(const Road& road) const {
    Spectra sum = Spectra::Zero();
    double seat = 0, head = 0;
    PerWheel<double> followed{}; // of the loads, by their tyres' contacts
    for (const auto& [f, share] : frequencies(wheelbase_ / road.speed)) {
        const FourSpectra s = times(spectra(road, f), share);
        for (int i = 0; i < outputs; ++i) sum[i] += s[i].sum();
        for (std::size_t w = 0; w < 4; ++w)
            followed[w] += (s[w] / (1 + square(2 * units::pi / road.speed * relaxation_[w] * f))).sum();
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
        out.swing[at] = load_swing(std::max(0.0, sum[w]), followed[at], relaxation_[at]);
        out.spring[at] = spread(8 + w);
    }
    out.on_stops = on_stops_;
    out.heave = spread(12);
    out.pitch = spread(13);
    out.roll = spread(14);
    out.lean = spread(15);
    out.seat = std::sqrt(seat);
    out.head = std::sqrt(head);
    return out;
}

} // namespace dervish::balance
