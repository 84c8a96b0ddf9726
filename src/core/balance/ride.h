#pragma once
#include "core/balance/ground.h"
#include "core/balance/steady.h"
#include "core/num/four.h"

/// What a rough road does to the car: small motion about a settled state. docs/model.md, "Ride".
namespace dervish::balance {

inline constexpr double slowest_shake = 0.2, fastest_shake = 30; ///< Hz, that are summed over

/// A free motion of the car on its wheels.
struct Shake {
    double frequency; ///< |s|/2π, Hz
    double damping;   ///< over critical
};

/// Spreads are standard deviations.
struct Ride {
    PerWheel<double> load;     ///< spread of each wheel's load, N
    PerWheel<double> travel;   ///< of its travel, m
    PerWheel<double> spring;   ///< of its spring's: of a solid axle's nearer its middle, m
    PerWheel<LoadSwing> swing; ///< of each wheel's load, as the tyre meets it
    PerWheel<double> on_stops; ///< share of the time that each spring is on a stop
    double heave, pitch, roll; ///< r.m.s. accelerations of the body, m/s², rad/s²
    double lean;               ///< spread of the body's roll, rad
    double seat;               ///< weighted up and down at a seat beside the middle, m/s²
    double head;               ///< weighted sideways at a head, m/s²
};

/// The masses that move with a SmallMotion, in its order, and what damps it beside the dampers.
struct Masses {
    car::SmallMotion::Matrix mass;
    double frame_damping = 0; ///< of the frame's own twist, N·m·s/rad
    /// Of each axle's bushes, per difference of its two springs' speeds, N·s/m: a loss factor of what roll stiffness
    /// they and the bar's bushes give, made viscous at the frequency of the body's roll.
    PerAxle<double> bush_damping{0, 0};
};
Masses masses_of(const Model& model, const car::SmallMotion& motion);

/// A car at a settled state, ready for any road.
class Shaken {
public:
    Shaken(const Model& model, const car::Situation& situation, const car::State& settled);
    /// Example: Shaken(model, {}, car::settle(model.car, {})).on({256e-6, 20}).load[0].
    Ride on(const Road& road) const;
    /// The car whose springs are as stiff as its stops make them, in the mean over how far a road swings them (Gaussian
    /// equivalent linearisation): what on(), tones() and sickness() are of. The same car where no stop is met.
    Shaken meeting_stops(const Road& road) const;
    /// How much of what is felt and of the loads' spread is at a frequency: the variance in each part of its logarithm,
    /// so that areas over a logarithmic scale are variances.
    struct Tone {
        double frequency;     ///< Hz
        double seat, head;    ///< as felt, (m/s²)²
        PerAxle<double> load; ///< of an axle's wheels, their mean, N²
    };
    /// From slowest_shake to fastest_shake.
    std::vector<Tone> tones(const Road& road) const;
    /// Slow heave weighted for sickness (ISO 2631-1, W_f), m/s²; and the same of a head's slow sideways motion, its own
    /// weight along the floor in it, which no standard covers.
    struct Sickness {
        double heave, sway;
    };
    Sickness sickness(const Road& road) const;
    /// Free motions by rising frequency.
    std::vector<Shake> shakes() const;

    /// One-sided spectra at a frequency, per Hz: of what Ride has the spreads of, in its order.
    static constexpr int outputs = 16;
    using Spectra = Eigen::Matrix<double, outputs, 1>;
    Spectra spectra(const Road& road, double frequency) const;
    /// M q̈ + C q̇ + K q = P r, r the heights under the wheels and P what their tyres' rates make of them: contact times
    /// tyre_rate.
    const car::SmallMotion& motion() const { return motion_; }
    const car::SmallMotion::Matrix& mass() const { return mass_; }
    const car::SmallMotion::Matrix& damping() const { return damping_; }

private:
    using Matrix = car::SmallMotion::Matrix;
    static constexpr int dampers = 5;              ///< an axle's two together and opposed, and the frame's own
    static constexpr int sums = 81;                ///< over the undamped motions: see prepare()
    using FourSpectra = std::array<Four, outputs>; ///< at four frequencies
    /// Of a spring: its travel where the car stands, and its stops.
    struct Stops {
        double at, bump_room, bump_k1, bump_k3, droop_room, droop_k;
    };
    struct Met { ///< in the mean, beyond what the small motion has of it at rest
        double force, stiffness, share;
    };
    static Met met(const Stops& stops, double moved, double spread);
    Ride linear_on(const Road& road) const;
    void prepare();
    void add_locked(const Eigen::Matrix<double, 8, dampers>& spring);
    FourSpectra spectra(const Road& road, const Four& frequency) const;
    template <int n> FourSpectra spectra_by(const Road& road, const Four& frequency) const;
    std::vector<std::pair<Four, Four>> frequencies(double delay) const;
    /// Of spectra() at those frequencies, what is felt: seat and head, (m/s²)² per Hz.
    std::pair<Four, Four> felt(const Four& frequency, const FourSpectra& spectra) const;
    car::SmallMotion motion_;
    Matrix mass_, damping_;
    Eigen::Matrix<double, 8, dampers> spring_; ///< what each damper's travel is of the unknowns
    Eigen::Matrix<double, dampers, 1> damped_; ///< N·s/m; of the frame N·m·s/rad
    Eigen::Matrix<double, 8, 1> squares_;      ///< of the undamped motions' ω; infinite where there is none
    /// Where there may be a sharp motion: logarithms of frequencies, Hz, and about how it is damped, over critical. Of
    /// the undamped motions, then of those with dampers locked; infinite where there is none.
    Eigen::Matrix<double, 12, 1> peaks_, dampings_;
    PerWheel<bool> stands_;
    PerWheel<Stops> stops_;
    PerWheel<double> on_stops_{};
    PerAxle<double> spring_out_; ///< of a solid axle's springs, over half the track; 1
    Eigen::Vector4d rate_;       ///< of each tyre, N/m; 1 where it hangs
    /// Each wheel's travel by its axle's two contacts, and by the body's heave, pitch, roll and the rear's roll.
    Eigen::Matrix<double, 2, 4> by_contacts_;
    Eigen::Matrix4d by_body_;
    Eigen::Matrix<double, 8, sums> parts_; ///< what each undamped motion gives to each sum
    PerAxle<double> track_;
    PerWheel<double> relaxation_; ///< of each tyre under the load that it stands at, m
    double wheelbase_, seat_out_, head_up_;
};

/// The body's roll inertia about its own centre: that about the roll axis less what its mass there adds; at least that
/// of a radius of gyration of a seventh of the track, kg·m².
double own_roll_inertia(const Model& model);

/// From the loaded body's centre of mass up to seated people's heads: assumed 0.7 of its height, m.
double head_over_centre(const Model& model);

/// What a person feels of an acceleration at a frequency (ISO 2631-1, annex A): W_k up and down, W_d sideways.
double felt_upright(double frequency);
double felt_sideways(double frequency);
/// What makes sick (W_f), and of a hundred people those who may vomit in an hour of so much of it (annex D: a third of
/// a per cent for each m/s^1.5), standing or sitting still with no view out; people differ by several times.
double felt_sickening(double frequency);
constexpr double sick_in_an_hour(double weighted) { return 20 * weighted; }

} // namespace dervish::balance
