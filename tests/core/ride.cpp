#include "core/balance/ride.h"
#include "core/model/tyres.h"
#include "core/study/balance.h"
#include "examples.h"

#include <Eigen/LU>
#include <catch2/catch.hpp>
#include <complex>

namespace tests::of_ride {
using namespace dervish;
using namespace dervish::balance;

namespace {
/// A car alike on both sides, independent all round, on equal tracks.
Model even_car() {
    examples::Random r;
    Model m;
    m.car = r.car();
    m.car.loads.clear();
    m.car.chassis_torsion = std::numeric_limits<double>::infinity();
    m.car.rear = r.axle(AxleKind::Independent);
    m.car.rear.track = m.car.front.track;
    m.roll_inertia = 700;
    m.pitch_inertia = 1900;
    return m;
}
Shaken at_rest(const Model& m) { return {m, {}, car::settle(m.car, {})}; }
} // namespace

TEST_CASE("lines that are alike rock nobody, and unrelated ones halve the heave's variance") {
    const Shaken car = at_rest(even_car());
    const Ride isotropic = car.on({256e-6, 15}), alike = car.on({256e-6, 15, Sides::Alike}),
               unrelated = car.on({256e-6, 15, Sides::Unrelated});
    CHECK(alike.roll < 1e-9 * isotropic.roll);
    CHECK(alike.heave == Approx(std::sqrt(2.0) * unrelated.heave).epsilon(1e-9));
    CHECK(alike.load[0] == Approx(alike.load[1]).epsilon(1e-9));
    CHECK((isotropic.roll > 0 && isotropic.roll < unrelated.roll));
    CHECK(car.on({1024e-6, 15}).load[2] == Approx(2 * isotropic.load[2]).epsilon(1e-12));
    CHECK(car.on({0, 15, Sides::Isotropic, 0.01, 0.8, 1}).roll < 1e-9); // ripples straight across
}

TEST_CASE("a car of two axles that do not feel each other is two quarter cars") {
    Model m = even_car();
    // Centre of mass and roll centres on the ground: weight has no lever; dynamic index 1 parts the axles.
    m.car.cg_height = m.car.front.roll_centre_height = m.car.rear.roll_centre_height = 0;
    const double ahead = m.car.cg_behind_front_axle, behind = m.car.wheelbase - ahead;
    m.pitch_inertia = m.car.sprung_mass * ahead * behind;
    const Shaken car = at_rest(m);
    const Road road{64e-6, 20, Sides::Alike};
    for (const End end : both_ends) {
        const car::Axle& a = m.car[end];
        const double sprung = m.car.sprung_mass * (end == End::Front ? behind : ahead) / m.car.wheelbase,
                     damper = m.axle[end].bump_damping + m.axle[end].rebound_damping;
        for (const double f : {0.4, 1.3, 4.0, 11.0, 25.0}) {
            // (−ω²m + iωc + k) zs = (iωc + k) zu;  load = 2 kt (r − zu), by hand for r = 1.
            using C = std::complex<double>;
            const double w = 2 * units::pi * f;
            const C link = C(2 * a.spring_rate + (a.bar(0, 0) + a.bar(0, 1)) * 2, w * damper);
            const C over = link / (link - sprung * w * w);
            const C wheel = 2 * a.tyre_rate / (2 * a.tyre_rate - w * w * a.unsprung_mass + link * (1.0 - over));
            const double height = road.roughness * 0.01 * road.speed / (f * f);
            const double wanted = std::norm(a.tyre_rate * (1.0 - wheel)) * height;
            CHECK(car.spectra(road, f)[static_cast<int>(wheel_at(end, 0))] == Approx(wanted).epsilon(1e-6));
        }
    }
}

TEST_CASE("spreads are those of a drive over a made road, and the dampers take what the road gives") {
    const Model m = even_car();
    const Shaken shaken = at_rest(m);
    const Road road{256e-6, 14};
    const Ride ride = shaken.on(road);
    const car::SmallMotion& small = shaken.motion();
    const Eigen::Matrix<double, 8, 8> mass =
        shaken.mass() +
        Eigen::Matrix<double, 8, 8>(
            Eigen::Matrix<double, 8, 1>(0, 0, 0, 0, 0, 0, 0, small.count == 7 ? 1.0 : 0.0).asDiagonal());
    const auto part = mass.inverse();
    const Eigen::Matrix<double, 8, 8> spring = part * small.stiffness, damper = part * shaken.damping();
    const Eigen::Matrix<double, 8, 4> pushed = small.contact * small.tyre_rate.asDiagonal(), push = part * pushed;

    // Lines as sums of waves with drawn phases: their half sum and half difference belong together as isotropy has it.
    constexpr int waves = 170;
    constexpr double half = 0.002, seconds = 130;
    examples::Random r;
    struct Wave {
        double omega, phase, both, apart_phase, apart;
    };
    std::vector<Wave> all;
    for (int i = 0; i < waves; ++i) {
        const double step = std::log(fastest_shake / slowest_shake) / waves,
                     f = slowest_shake * std::exp((i + r(0.2, 0.8)) * step), n = f / road.speed,
                     x = 2 * units::pi * n * m.car.front.track, alike = x * std::cyl_bessel_k(1.0, x),
                     amplitude = std::sqrt(2 * road.roughness * 0.01 / (n * n) / road.speed * f * step);
        all.push_back({2 * units::pi * f, r(0, 6.283), amplitude * std::sqrt((1 + alike) / 2), r(0, 6.283),
                       amplitude * std::sqrt((1 - alike) / 2)});
    }
    const auto lines = [&](double t) {
        double both = 0, apart = 0;
        for (const Wave& w : all) {
            both += w.both * std::cos(w.omega * t + w.phase);
            apart += w.apart * std::cos(w.omega * t + w.apart_phase);
        }
        return std::pair{both + apart, both - apart};
    };
    std::vector<std::pair<double, double>> heights;
    const double late = m.car.wheelbase / road.speed;
    const int lag = static_cast<int>(std::lround(late / half)), count = static_cast<int>(seconds / half);
    for (int i = -lag; i < count + 4; ++i) heights.push_back(lines(i * half));
    const auto at = [&](int i) {
        const auto &front = heights[static_cast<std::size_t>(i + lag)], &rear = heights[static_cast<std::size_t>(i)];
        return Eigen::Vector4d(front.first, front.second, rear.first, rear.second);
    };
    using V = Eigen::Matrix<double, 8, 1>;
    V q = V::Zero(), v = V::Zero();
    double loads = 0, heave = 0, roll = 0, given = 0, taken = 0;
    int seen = 0;
    // Beside it, contacts that roll along under the front left wheel's load, its swing as it is and twice.
    const Tyre tyre = m.axle.front.tyre[0];
    const double rests = car::settle(m.car, {}).wheels[0].load;
    struct Contact {
        double times, slip, deflection, force;
    };
    std::vector<Contact> contacts;
    for (const double times : {1.0, 2.0})
        for (const double slip : {0.02, 0.06, 0.15}) contacts.push_back({times, slip, slip * tyre.relaxation, 0});
    for (int i = 2; i + 2 < count; i += 2) {
        const auto pull = [&](int there, const V& x, const V& dx) -> V {
            return push * at(there) - spring * x - damper * dx;
        };
        constexpr double h = 2 * half;
        const V k1 = pull(i, q, v), k2 = pull(i + 1, q + h / 2 * v, v + h / 2 * k1),
                k3 = pull(i + 1, q + h / 2 * v + h * h / 4 * k1, v + h / 2 * k2),
                k4 = pull(i + 2, q + h * v + h * h / 2 * k2, v + h * k3);
        if (i * half > 8) { // the start has died away
            const Eigen::Vector4d load = small.tyre_rate.cwiseProduct(at(i) - small.contact.transpose() * q);
            loads += load[0] * load[0];
            heave += k1[0] * k1[0];
            roll += k1[2] * k1[2];
            for (Contact& c : contacts) {
                const double now = std::max(1.0, rests + c.times * load[0]), lags = relaxation_at(tyre, {}, now),
                             follows = std::exp(-road.speed * h / lags);
                c.deflection = c.slip * lags + (c.deflection - c.slip * lags) * follows;
                c.force += lateral_force(tyre, {}, now, c.deflection / lags, 0);
            }
            given += load.dot(at(i + 1) - at(i - 1)) / (2 * half);
            taken += v.dot(shaken.damping() * v);
            ++seen;
        }
        q += h * v + h * h / 6 * (k1 + k2 + k3);
        v += h / 6 * (k1 + 2 * k2 + 2 * k3 + k4);
    }
    CHECK(std::sqrt(loads / seen) == Approx(ride.load[0]).epsilon(0.03));
    double most_lost = 0;
    for (const Contact& c : contacts) {
        const LoadSwing swing{c.times * ride.swing[0].spread, ride.swing[0].changes};
        const double steady = lateral_force(tyre, {}, rests, c.slip, 0),
                     mean = lateral_force(tyre, {}, WheelLoad{rests, swing}, c.slip, 0);
        INFO("swing " << swing.spread / rests << ", slip " << c.slip);
        CHECK(mean == Approx(c.force / seen).margin((c.times > 1 ? 0.03 : 0.01) * steady));
        most_lost = std::max(most_lost, 1 - mean / steady);
    }
    CHECK(most_lost > 0.03);
    CHECK(std::sqrt(heave / seen) == Approx(ride.heave).epsilon(0.03));
    CHECK(std::sqrt(roll / seen) == Approx(ride.roll).epsilon(0.03));
    CHECK(given == Approx(taken).epsilon(0.02));
}

namespace {
/// The mean force over swings of one frequency and of sizes as a normal load has them, followed in time.
double followed(const Tyre& t, const WheelLoad& load, double turns, double slip) {
    constexpr int sizes = 12, steps = 400;
    double carried = 0, out = 0;
    for (const bool weigh : {true, false})
        for (int k = 0; k < sizes; ++k) {
            const double size = load.swing.spread * std::sqrt(-2 * std::log(1 - (k + 0.5) / sizes)),
                         far = 2 * units::pi / turns / steps; // rolled in a step
            double v = slip * t.relaxation, before = -1;
            for (int round = 0; round < 60 && std::abs(v - before) > 1e-7 * slip; ++round) {
                double sum = 0;
                before = v;
                for (int i = 0; i < steps; ++i) {
                    const double on = std::max(0.0, load.mean + size * std::sin(2 * units::pi * (i + 0.5) / steps));
                    if (weigh) {
                        sum += on / load.mean / steps;
                        continue;
                    }
                    const double now = on / carried, lags = relaxation_at(t, {}, now);
                    if (!(lags > 1e-6)) {
                        v = 0;
                        continue;
                    }
                    const double there = slip * lags, middle = there + (v - there) * std::exp(-far / lags / 2);
                    v = there + (v - there) * std::exp(-far / lags);
                    sum += lateral_force(t, {}, now, middle / lags, 0.01) / steps;
                }
                if (weigh) {
                    carried += sum / sizes;
                    break;
                }
                if (std::abs(v - before) <= 1e-7 * slip) out += sum / sizes;
            }
        }
    return out;
}
} // namespace

TEST_CASE("a swinging load costs a tyre's mean force what it does followed in time, slow, fast and deep") {
    for (const double nominal : {2200.0, 4000.0, 7000.0}) {
        Tyre t;
        t.nominal_load = nominal;
        t.relaxation = 0.2 + nominal / 10000;
        for (const auto& [part, within] : {std::pair{0.15, 0.004}, {0.3, 0.012}, {0.45, 0.03}})
            for (const double times : {0.1, 0.5, 1.0, 3.0, 12.0}) // what swings in a relaxation length, rad
                for (const double slip : {0.01, 0.06, 0.15, 0.24}) {
                    const double lags = relaxation_at(t, {}, 4000);
                    const WheelLoad load{4000, {part * 4000, times * times / lags}};
                    INFO("nominal " << nominal << " swing " << part << " times " << times << " slip " << slip);
                    const double steady = lateral_force(t, {}, 4000, slip, 0.01);
                    CHECK(lateral_force(t, {}, load, slip, 0.01) / steady ==
                          Approx(followed(t, load, times / lags, slip) / steady).margin(within));
                }
    }
}

TEST_CASE("a tyre's mean grip under slow swings is that of drawn loads, and without a spread it is the tyre's") {
    const Tyre t;
    std::mt19937 engine{7};
    std::normal_distribution<double> drawn;
    for (const double spread : {0.1, 0.3, 0.5})
        for (const double slip : {0.02, 0.08, 0.2}) {
            double sum = 0, carried = 0;
            constexpr int count = 200000;
            for (int i = 0; i < count; ++i) {
                const double load = 3500 * (1 + spread * drawn(engine));
                sum += lateral_force(t, {}, std::max(0.0, load), slip, 0.02);
                carried += std::max(0.0, load) / 3500;
            }
            // What the tyre does not carry in the air it carries on the ground.
            CHECK(lateral_force(t, {}, WheelLoad{3500, {spread * 3500, 0}}, slip, 0.02) ==
                  Approx(sum / carried).epsilon(0.005));
        }
    CHECK(lateral_force(t, {}, WheelLoad{3500, {}}, 0.08, 0) == lateral_force(t, {}, 3500, 0.08, 0));
    Model m = even_car();
    const Limit still = limit(m);
    m.swing.fill({1e-6, 2});
    CHECK(limit(m).lateral == Approx(still.lateral).epsilon(1e-9));
    m.swing.fill({900, 0});
    const double slow = limit(m).lateral;
    CHECK(slow < still.lateral);
    m.swing.fill({900, 8});
    CHECK(limit(m).lateral < slow);
}

TEST_CASE("spectra are those of the whole equations solved at each frequency, with a wheel off the ground too") {
    examples::Random random;
    int hanging = 0;
    for (int i = 0; i < 12; ++i) {
        Model m;
        m.car = random.car();
        m.car.rear.track = m.car.front.track;
        m.bush_loss = 0.1;
        const car::Situation bend{.lateral_acceleration = i % 3 == 0 ? 0.0 : 4.0 + i};
        const car::State settled = car::settle(m.car, bend);
        for (const car::Wheel& wheel : settled.wheels) hanging += wheel.load == 0;
        const Shaken car(m, bend, settled);
        const car::SmallMotion& by = car.motion();
        const Road road{128e-6, 17, Sides::Unrelated};
        for (const double f : {0.9, 3.1, 12.0}) {
            const double w = 2 * units::pi * f, own = road.roughness * 0.01 * road.speed / (f * f);
            const Eigen::MatrixXcd whole = by.stiffness.cast<std::complex<double>>() - w * w * car.mass() +
                                           std::complex<double>(0, w) * car.damping();
            const Eigen::MatrixXcd moved =
                Eigen::MatrixXcd(whole.topLeftCorner(by.count, by.count))
                    .partialPivLu()
                    .solve(Eigen::MatrixXcd(
                        (by.contact * by.tyre_rate.asDiagonal()).topRows(by.count).cast<std::complex<double>>()));
            const double turned = w * m.car.wheelbase / road.speed;
            const auto power = [&](const Eigen::RowVector4cd& of) { // each side its own road, the rear later
                const std::complex<double> late = std::polar(1.0, -turned);
                return own * (std::norm(of[0] + late * of[2]) + std::norm(of[1] + late * of[3]));
            };
            const Shaken::Spectra got = car.spectra(road, f);
            for (int wheel = 0; wheel < 4; ++wheel) {
                Eigen::RowVector4cd load =
                    -by.tyre_rate[wheel] * by.contact.col(wheel).head(by.count).transpose() * moved;
                load[wheel] += by.tyre_rate[wheel];
                const Eigen::RowVector4cd travel = by.travel.col(wheel).head(by.count).transpose() * moved;
                CHECK(got[wheel] == Approx(power(load)).epsilon(1e-7).margin(1e-9));
                CHECK(got[4 + wheel] == Approx(power(travel)).epsilon(1e-7));
            }
            CHECK(got[12] == Approx(std::pow(w, 4) * power(moved.row(0))).epsilon(1e-7));
            CHECK(got[15] == Approx(power((moved.row(2) + moved.row(by.rear_roll)) / 2)).epsilon(1e-7));
        }
    }
    CHECK(hanging > 0);
}

TEST_CASE("bushes damp a body's roll by half the loss factor times their share of its stiffness") {
    Model m = even_car();
    m.bush_loss = 0.1;
    for (car::Axle& a : m.car.both()) {
        a.tyre_rate = 1e8;
        a.unsprung_mass = 1e-3;
        a.parasitic_roll_stiffness = 4000;
        a.bar_in_bushes = 0.25;
    }
    for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = 0;
    double bushes = 0;
    for (const car::Axle& a : m.car.both()) bushes += 4000 + 0.25 * a.track * a.track / 2 * (a.bar(0, 0) - a.bar(0, 1));
    int damped = 0;
    for (const Shake& shake : at_rest(m).shakes()) {
        if (shake.frequency > 20 || shake.damping < 1e-6) continue; // of wheels; heave and pitch
        const double omega = 2 * units::pi * shake.frequency;
        CHECK(shake.damping == Approx(m.bush_loss / 2 * bushes / (own_roll_inertia(m) * omega * omega)).epsilon(0.01));
        ++damped;
    }
    CHECK(damped == 1);
}

TEST_CASE("a car without dampers, or whose axle has no mass, still has a ride") {
    Model m = even_car();
    const Ride damped = at_rest(m).on({512e-6, 14});
    for (AxleGrip& a : m.axle.both()) a.bump_damping = a.rebound_damping = 0;
    m.car.front.unsprung_mass = 0;
    const Ride bare = at_rest(m).on({512e-6, 14});
    CHECK((std::isfinite(bare.load[2]) && bare.load[2] > damped.load[2] && bare.heave > damped.heave));
}

TEST_CASE("on loose rough ground a light car holds most with some bar, and a very stiff one costs what a plane hides") {
    Model m = even_car();
    m.car.sprung_mass = 560;
    m.car.cg_behind_front_axle = m.car.wheelbase / 2;
    m.car.cg_height = 0.38;
    for (const End end : both_ends) {
        car::Axle& a = m.car[end];
        a.unsprung_mass = 70;
        a.spring_rate = 26000;
        a.tyre_rate = 150000;
        a.parasitic_roll_stiffness = 0;
        a.roll_centre_height = 0.05;
        m.axle[end].bump_damping = m.axle[end].rebound_damping = 1900;
        m.axle[end].tyre[0].nominal_load = m.axle[end].tyre[1].nominal_load = 1700;
        m.axle[end].camber_kept = 0.3;
    }
    m.roll_inertia = 150;
    m.pitch_inertia = 560;
    const job::GroundData gravel = job::usual_grounds()[Ground::Gravel];
    m.surface = model::surface_of(gravel);
    const auto limit_with = [&](double bar, bool rough) {
        for (car::Axle& a : m.car.both()) a.bar << bar, -bar, -bar, bar;
        m.swing = {};
        if (rough) m.swing = at_rest(m).on(model::road_of(gravel)).swing;
        return outright_limit(m).lateral;
    };
    const double none = limit_with(0, true), some = limit_with(15000, true), rigid = limit_with(400000, true);
    CHECK(some > none);
    CHECK(rigid < some);
    const double lost_on_plane = limit_with(15000, false) - limit_with(400000, false);
    CHECK(some - rigid > lost_on_plane + 0.02); // m/s²: the roughness is what costs it
}

TEST_CASE("what a person feels is weighted as the standard's tables have it") {
    // ISO 2631-1, table 3: factors at third-octave frequencies.
    for (const auto& [f, up, side] : {std::tuple{0.5, 0.418, 0.853},
                                      {1.0, 0.482, 1.011},
                                      {2.0, 0.531, 0.890},
                                      {4.0, 0.967, 0.512},
                                      {8.0, 1.036, 0.253},
                                      {16.0, 0.768, 0.125}}) {
        CHECK(felt_upright(f) == Approx(up).margin(0.006));
        CHECK(felt_sideways(f) == Approx(side).margin(0.006));
    }
    for (const auto& [f, sick] : {std::pair{0.05, 0.157}, {0.1, 0.695}, {0.16, 1.006}, {0.25, 0.854}, {0.5, 0.224}})
        CHECK(felt_sickening(f) == Approx(sick).epsilon(0.02));
}

TEST_CASE("the tones' areas are the ride's variances, and slow rough roads make sick") {
    const Shaken car = at_rest(even_car());
    const Road road{256e-6, 14};
    const Ride ride = car.on(road);
    double seat = 0, head = 0, load = 0;
    const auto tones = car.tones(road);
    for (std::size_t i = 1; i < tones.size(); ++i) {
        const double wide = std::log(tones[i].frequency / tones[i - 1].frequency);
        seat += wide * (tones[i].seat + tones[i - 1].seat) / 2;
        head += wide * (tones[i].head + tones[i - 1].head) / 2;
        load += wide * (tones[i].load.front + tones[i - 1].load.front) / 2;
    }
    CHECK(std::sqrt(seat) == Approx(ride.seat).epsilon(0.01));
    CHECK(std::sqrt(head) == Approx(ride.head).epsilon(0.01));
    CHECK(load == Approx((ride.load[0] * ride.load[0] + ride.load[1] * ride.load[1]) / 2).epsilon(0.01));
    // So slowly the body goes with the road: G(f) (2πf)⁴ weighted, summed here step by step.
    double heave = 0;
    constexpr double step = 1e-4;
    for (double f = 0.05; f < 1; f += step) {
        const double own = road.roughness * 0.01 * road.speed / (f * f), up = std::pow(2 * units::pi * f, 4);
        heave += step * own * up * std::pow(felt_sickening(f), 2);
    }
    CHECK(car.sickness({256e-6, 14, Sides::Alike}).heave == Approx(std::sqrt(heave)).epsilon(0.1));
    CHECK(car.sickness({1024e-6, 14}).sway == Approx(2 * car.sickness(road).sway).epsilon(1e-9));
    CHECK(sick_in_an_hour(0.5) == Approx(0.5 * std::sqrt(3600.0) / 3));
}

TEST_CASE("spreads are the whole sum of their spectra, however strong the dampers") {
    const Road road{128e-6, 20};
    for (const double times : {0.3, 1.0, 3.0, 6.0}) {
        Model m = even_car();
        for (AxleGrip& a : m.axle.both()) {
            a.bump_damping *= times;
            a.rebound_damping *= times;
        }
        for (car::Axle& a : m.car.both()) a.bar.setZero();
        const Shaken car = at_rest(m);
        const Ride ride = car.on(road);
        Shaken::Spectra sum = Shaken::Spectra::Zero();
        constexpr double step = 5e-4; // of the logarithm
        for (double log = std::log(slowest_shake) + step / 2; log < std::log(fastest_shake); log += step)
            sum += step * std::exp(log) * car.spectra(road, std::exp(log));
        INFO(times);
        for (int w = 0; w < 4; ++w) {
            CHECK(ride.load[static_cast<std::size_t>(w)] == Approx(std::sqrt(sum[w])).epsilon(3e-3));
            CHECK(ride.travel[static_cast<std::size_t>(w)] == Approx(std::sqrt(sum[4 + w])).epsilon(3e-3));
        }
        CHECK(ride.heave == Approx(std::sqrt(sum[12])).epsilon(3e-3));
        CHECK(ride.pitch == Approx(std::sqrt(sum[13])).epsilon(3e-3));
        CHECK(ride.roll == Approx(std::sqrt(sum[14])).epsilon(3e-3));
    }
}

} // namespace tests::of_ride
