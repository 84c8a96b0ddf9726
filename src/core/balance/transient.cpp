#include "core/balance/transient.h"
#include "core/balance/moving.h"
#include "core/balance/ride.h"

#include <algorithm>
#include <bit>
#include <boost/numeric/odeint/stepper/generation/generation_controlled_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_dense_output_runge_kutta.hpp>
#include <boost/numeric/odeint/stepper/generation/generation_runge_kutta_dopri5.hpp>
#include <boost/numeric/odeint/stepper/generation/make_dense_output.hpp>
#include <boost/numeric/odeint/stepper/runge_kutta_dopri5.hpp>
#include <cmath>
#include <mutex>

namespace dervish::balance {
namespace {
constexpr double begins = 0.3; // s, of what is done
/// Between moments, s; a wheel's jolt over an edge is soon over.
constexpr double between(Manoeuvre m) { return bumps(m) ? 0.0025 : 0.01; }
constexpr bool stretches(Manoeuvre m) { return m >= Manoeuvre::LaneChange && m <= Manoeuvre::SBend; }
constexpr double in_air = 0.2; // s, both wheels of a side, until the car counts as gone over

double ramp(double u, double over) { return std::clamp(u / over, 0.0, 1.0); }

/// Steering (of a gust: wind) over time as a share of its height.
double shape(Manoeuvre m, double t, double stretch) {
    const auto sine = [](double u, double period) {
        return u > 0 && u < period ? std::sin(2 * units::pi * u / period) : 0;
    };
    const double u = (t - begins) / (stretches(m) ? stretch : 1);
    switch (m) {
    case Manoeuvre::Step:
        return ramp(u, 0.1);
    case Manoeuvre::SlipRoad:
        return ramp(u, 3.0);
    case Manoeuvre::LaneChange:
        return sine(u, 2.0);
    case Manoeuvre::DoubleLaneChange:
        return sine(u, 2.0) - sine(u - 2.6, 2.0);
    case Manoeuvre::Slalom:
        return sine(std::fmod(std::max(u, 0.0), 2.0), 2.0) * (u < 8 ? 1 : 0);
    case Manoeuvre::SBend:
        return ramp(u, 0.4) - 2 * ramp(u - 2.2, 0.6);
    case Manoeuvre::Gust:
        return ramp(u, 0.2) - ramp(u - 2.0, 0.2);
    case Manoeuvre::WindGap:
        return 1 - ramp(u, 0.1) + ramp(u - 0.8, 0.1);
    default:
        return 1;
    }
}

constexpr double edge = 0.2; // m: of what lies on the road, as long as a tyre lays itself over it
/// What lies on the road between 0 and `length`, with its edges; times `size`, m.
double lies(double at, double length, double size) {
    at /= size;
    const auto smooth = [](double u) { return u * u * (3 - 2 * u); };
    return smooth(ramp(at, edge)) - smooth(ramp(at - (length - edge), edge));
}

} // namespace

struct Script {
    Manoeuvre manoeuvre;
    double speed, wheelbase, steer, straight, braking;
    double way; ///< 1: to the left
    Drive what;

    Inputs at(double t) const {
        Inputs in;
        const double u = t - begins;
        in.steer = straight;
        if (blows(manoeuvre)) {
            in.wind = what.wind * shape(manoeuvre, t, 1);
            in.wind_height = what.wind_height;
            in.wind_x = what.wind_x;
        } else {
            in.steer += steer * shape(manoeuvre, t, what.stretch);
        }
        if (manoeuvre == Manoeuvre::BrakeReleased) in.along = -braking * (1 - ramp(u, 0.15));
        if (manoeuvre == Manoeuvre::ThrottleLifted) in.along = -braking * ramp(u, 0.2);
        for (std::size_t w = 0; w < 4; ++w) {
            const double place = speed * u - (w < 2 ? 0 : wheelbase);
            const bool inner = (w % 2 == 0) == (way > 0);
            if (manoeuvre == Manoeuvre::Kerb && inner) in.ground[w] = what.bump * lies(place, 4, what.size);
            if (manoeuvre == Manoeuvre::Pothole && !inner) in.ground[w] = -what.bump * lies(place, 0.6, what.size);
            if (manoeuvre == Manoeuvre::Patch && !inner) {
                const Surface& wet = what.patch;
                const auto towards = [part = lies(place, 10, what.size)](double factor) {
                    return 1 + part * (factor - 1);
                };
                in.surface[w] = {towards(wet.grip), towards(wet.stiffness), towards(wet.fall)};
            }
        }
        return in;
    }
    double length() const {
        static constexpr double seconds[] = {3.5, 5.0, 4.0, 6.5, 9.5, 5.5, 4.5, 3.5, 3.5, 3.5, 3.5, 3.5, 3.5};
        const double whole = seconds[static_cast<int>(manoeuvre)] * (stretches(manoeuvre) ? what.stretch : 1);
        return what.within > 0 ? std::min(what.within, whole) : whole;
    }
};

namespace {
/// From the middle of the steering to 90 % of what the value comes to.
std::optional<double> time_to_90(const std::vector<Moment>& all, double Moment::*value) {
    const double last = all.back().*value;
    if (std::abs(last) < 1e-6) return {};
    double before = all.front().*value / last;
    for (std::size_t i = 1; i < all.size(); ++i) {
        const double now = all[i].*value / last;
        if (now >= 0.9)
            return all[i].time - (now - 0.9) / (now - std::min(before, 0.9)) * (all[i].time - all[i - 1].time) - 0.35;
        before = now;
    }
    return {};
}

/// Against the circle, or the straight line, that the car was on when it began.
void measure_path(Run& run, double way, double every) {
    const auto first = static_cast<std::size_t>(std::lround(begins / every));
    if (run.moments.size() <= first + 1) return;
    const Moment from = run.moments[first];
    const auto course = [](const Moment& m) { return m.heading + std::atan2(m.slide, m.speed); };
    const double c = std::cos(course(from)), s = std::sin(course(from));
    const double bend = from.yaw / std::hypot(from.speed, from.slide); // 1/m, left positive
    const bool straight = std::abs(bend) < 1e-6;
    Run::Correct out{};
    for (std::size_t i = first; i < run.moments.size(); ++i) {
        Moment& m = run.moments[i];
        const double ahead = (m.x - from.x) * c + (m.y - from.y) * s, left = (m.y - from.y) * c - (m.x - from.x) * s;
        double own = course(from);
        if (straight) {
            m.aside = -left;
        } else {
            m.aside = std::hypot(ahead, left - 1 / bend) - 1 / std::abs(bend);
            own += way * std::atan2(ahead, way * (1 / bend - left));
        }
        m.turned = way * std::remainder(course(m) - own, 2 * units::pi);
        const double beyond = way * (m.yaw - bend * m.speed);
        if (std::abs(beyond) > std::abs(out.yaw)) out.yaw = beyond;
        if (m.time <= begins + 1 + every / 2) out.after_1s = m.aside;
    }
    out.aside = run.moments.back().aside;
    out.turned = run.moments.back().turned;
    run.correct = out;
}

void measure(Run& run, Manoeuvre manoeuvre, double level, double way) {
    const double every = between(manoeuvre);
    double left = 0, right = 0;
    run.lowest_load = 1e30;
    PerWheel<double> off{};
    for (const Moment& m : run.moments) {
        right = std::max(right, m.roll - level);
        left = std::max(left, level - m.roll);
        run.seat = std::max(run.seat, std::abs(m.seat));
        run.head = std::max(run.head, std::abs(m.head));
        for (std::size_t w = 0; w < 4; ++w) {
            if (m.load[w] < run.lowest_load) {
                run.lowest_load = m.load[w];
                run.lowest_wheel = static_cast<int>(w);
            }
            off[w] = m.load[w] > 0 ? 0 : off[w] + every;
            run.in_air = std::max(run.in_air, off[w]);
        }
    }
    run.roll_peak = std::max(left, right);
    if (manoeuvre == Manoeuvre::LaneChange || manoeuvre == Manoeuvre::DoubleLaneChange ||
        manoeuvre == Manoeuvre::Slalom || manoeuvre == Manoeuvre::SBend)
        run.side_difference = std::abs(left - right);
    if (manoeuvre == Manoeuvre::Step && run.done()) {
        run.yaw_90 = time_to_90(run.moments, &Moment::yaw);
        run.lateral_90 = time_to_90(run.moments, &Moment::lateral);
        const double settled = run.moments.back().roll - level;
        if (std::abs(settled) > 1e-6) run.roll_overshoot = run.roll_peak / std::abs(settled) - 1;
    }
    if (disturbs(manoeuvre)) measure_path(run, way, every);
}

double mean_roll(const car::State& s) { return (s.roll[0] + s.roll[1]) / 2; }
} // namespace

const char* name_of(Manoeuvre m) {
    static constexpr const char* names[] = {"step of the wheel",
                                            "slip road",
                                            "lane change",
                                            "double lane change",
                                            "slalom",
                                            "S-bend",
                                            "gust of side wind",
                                            "brakes released",
                                            "throttle lifted",
                                            "kerb, inner wheels",
                                            "pothole, outer wheels",
                                            "wet patch, outer wheels",
                                            "gap in side wind"};
    return names[static_cast<int>(m)];
}

std::optional<double> roll_damping(const Model& model) {
    constexpr double turn = 0.02 * units::g, least = 1e-7; // rad per m/s²: below it, lean says nothing of the turn
    const car::State left = car::settle(model.car, {.lateral_acceleration = turn}),
                     right = car::settle(model.car, {.lateral_acceleration = -turn});
    const double leans = (mean_roll(left) - mean_roll(right)) / (2 * turn);
    if (!left.converged || !right.converged || std::abs(leans) < least) return {};
    const car::Loaded l = car::loaded(model.car);
    double stiffness = 0, damping = 0;
    for (std::size_t e = 0; e < 2; ++e) {
        const car::Axle& a = model.car[both_ends[e]];
        const double base = a.kind == AxleKind::Solid ? a.spring_base : a.track;
        stiffness += (l.z - a.roll_centre_height) * l.share[e] / leans;
        damping += (model.axle[e].bump_damping + model.axle[e].rebound_damping) / 4 * base * base;
    }
    return stiffness > 0 ? std::optional(damping / (2 * std::sqrt(stiffness * model.roll_inertia))) : std::nullopt;
}

namespace {
constexpr double gentle = 0.5; // m/s²: what holds a car straight turns it as much
}

std::optional<double> critical_speed(const Model& model, double lateral) {
    constexpr int steps = 4;
    const double step = std::copysign(std::max(std::abs(lateral), gentle), lateral) / steps;
    double before = 0, most = 0; // rad per m/s², towards oversteer
    for (int i = 1; i <= steps; ++i) {
        const Corner c = corner(model, i * step);
        if (!c.holds) break;
        most = std::max(most, (before - c.steer) / std::abs(step));
        before = c.steer;
    }
    return most > 0 ? std::optional(std::sqrt(model.car.wheelbase / most)) : std::nullopt;
}

/// A car at the beginning of what it is to do.
struct Begun {
    Moving car;
    Script script;
    MotionState q;
};

namespace {
/// Nothing where it is not driven: `out` tells why.
std::optional<Begun> begin(const Model& model, const Drive& what, Run& out) {
    const car::State still = car::settle(model.car, {});
    const auto off = [&](int side) { return still.wheels[side].load <= 0 && still.wheels[side + 2].load <= 0; };
    out.stands = still.converged && !off(0) && !off(1);
    if (!out.stands) return {};
    const Manoeuvre kind = what.manoeuvre;
    if (const auto critical = critical_speed(model, blows(kind) ? gentle : what.lateral);
        what.lateral != 0 && critical && what.speed >= *critical) {
        out.slower = critical;
        return {};
    }
    Moving car(model);
    Script script{kind, what.speed, model.car.wheelbase, 0, 0, 0, what.lateral < 0 && !blows(kind) ? -1.0 : 1.0, what};
    MotionState q{};
    if (disturbs(kind) && !blows(kind)) {
        script.braking = kind == Manoeuvre::BrakeReleased ? model.braking : -pedal(model, Phase::Lifted);
        const double along = kind == Manoeuvre::BrakeReleased ? -model.braking : 0;
        const Corner steady = corner_along(model, what.lateral, along);
        out.holds = steady.holds;
        if (!out.holds) return {};
        q = car.steady(steady, what.speed, script.straight);
    } else {
        Inputs held;
        if (kind == Manoeuvre::WindGap) held = script.at(0);
        const auto begun = car.steady_in_wind(held, what.speed);
        out.holds = begun.has_value();
        if (!out.holds) return {};
        q = *begun;
        script.straight = held.steer;
        if (!blows(kind)) {
            Corner steady = corner(model, what.lateral);
            if (!steady.state.converged) {
                steady = outright_limit(model).at; // it tips there: driven, it is seen to
            } else if (!steady.holds) {            // no steering asks for more
                out.holds = false;
                return {};
            }
            script.steer = model.car.wheelbase * what.lateral / (what.speed * what.speed) +
                           std::copysign(steady.steer, what.lateral * steady.steer);
        }
    }
    return Begun{std::move(car), script, q};
}

Moment moment(const Moving& car, double t, const MotionState& q, const Inputs& in, const Instant& now) {
    const Model& model = car.model();
    const double tilt = (now.body[2] + now.body[car.count() == 7 ? 2 : 3]) / 2;
    const double seat_out = (model.car.front.track + model.car.rear.track) / 8;
    return {t,
            in.steer,
            now.lateral,
            q[at_yaw],
            q[at_slide],
            car.roll(q),
            car.roll_rate(q),
            q[at_x],
            q[at_y],
            q[at_heading],
            q[at_speed],
            now.body[0] + std::copysign(seat_out * tilt, tilt * now.body[0]),
            head_over_centre(model) * tilt,
            0,
            0,
            now.load,
            now.used};
}

/// Adds a run's moments as they come, and says where it ends.
class Notes {
public:
    explicit Notes(const Script& script) : every_(between(script.manoeuvre)), fastest_slide_(0.7 * script.speed) {}
    /// False: the run ended here.
    bool go_on(Run& run, const Moment& m) {
        run.moments.push_back(m);
        for (std::size_t side = 0; side < 2; ++side)
            flown_[side] = m.load[side] <= 0 && m.load[side + 2] <= 0 ? flown_[side] + every_ : 0;
        run.stands = std::max(flown_[0], flown_[1]) <= in_air;
        // Spun, or ploughed on: the tyres say no more.
        if (run.stands) run.holds = std::abs(m.slide) <= fastest_slide_;
        return run.stands && run.holds;
    }

private:
    double every_, fastest_slide_;
    PerSide<double> flown_{};
};

int samples(const Script& script) { return static_cast<int>(std::lround(script.length() / between(script.manoeuvre))); }

/// `also` hears the state at each moment.
template <class F> void follow(const Begun& begun, Run& out, F&& also) {
    namespace odeint = boost::numeric::odeint;
    const auto& [car, script, first] = begun;
    const Manoeuvre kind = script.manoeuvre;
    const auto motion = [&car = car, &script = script](const MotionState& at, MotionState& dq, double t) {
        car(at, dq, script.at(t));
    };
    const double longest_step = bumps(kind) || kind == Manoeuvre::Patch ? std::min(0.02, 0.15 / script.speed) : 0.02;
    auto stepper = odeint::make_dense_output(1e-6, 1e-5, longest_step, odeint::runge_kutta_dopri5<MotionState>());
    MotionState q = first;
    stepper.initialize(q, 0.0, 1e-3);
    constexpr int most_steps = 5000; // a usual car takes some hundreds
    const int count = samples(script);
    out.moments.reserve(static_cast<std::size_t>(count) + 1);
    Notes notes(script);
    int steps = 0;
    for (int i = 0; i <= count; ++i) {
        const double t = i * between(kind);
        try {
            while (stepper.current_time() < t && steps < most_steps) {
                stepper.do_step(motion);
                ++steps;
            }
        } catch (const odeint::odeint_error&) { // no step is small enough
            steps = most_steps;
        }
        if (i > 0 && steps < most_steps) stepper.calc_state(t, q);
        if (steps >= most_steps || !std::all_of(q.begin(), q.end(), [](double x) { return std::isfinite(x); })) {
            out.followed = false;
            if (out.moments.empty()) out.moments.push_back({});
            break;
        }
        also(q);
        const Inputs in = script.at(t);
        if (!notes.go_on(out, moment(car, t, q, in, car.now(q, in)))) break;
    }
}

/// With its figures; of a car that was not driven with one empty moment.
Run finished(Run run, const std::optional<Begun>& begun) {
    if (begun)
        measure(run, begun->script.manoeuvre, mean_roll(begun->car.still()), begun->script.way);
    else
        run.moments.push_back({});
    return run;
}
} // namespace

Run drive(const Model& model, const Drive& what) {
    Run out;
    const auto begun = begin(model, what, out);
    if (begun) follow(*begun, out, [](const MotionState&) {});
    return finished(std::move(out), begun);
}

namespace {
constexpr Eigen::Index states = std::tuple_size_v<MotionState>, noted = sizeof(Moment) / sizeof(double);
/// A state or its rates, then a moment, as numbers that can be taken from one another.
using Off = Eigen::Matrix<double, states, 1>;
using Noted = Eigen::Matrix<double, noted, 1>;
using Told = Eigen::Matrix<double, states + noted, 1>;

Off numbers(const MotionState& q) { return Eigen::Map<const Off>(q.data()); }
Noted numbers(const Moment& m) {
    const auto all = std::bit_cast<std::array<double, noted>>(m);
    return Eigen::Map<const Noted>(all.data());
}
Moment moment_of(const Noted& n) {
    std::array<double, noted> all;
    Eigen::Map<Noted>(all.data()) = n;
    auto out = std::bit_cast<Moment>(all);
    for (double& load : out.load) load = std::max(0.0, load); // a lifted wheel's stays none
    return out;
}
/// A car's rates and its moment in a state.
Told tell(const Begun& begun, double t, const MotionState& q) {
    const Inputs in = begun.script.at(t);
    const Instant now = begun.car.now(q, in);
    Told out;
    out << numbers(begun.car.rate(q, now)), numbers(moment(begun.car, t, q, in, now));
    return out;
}
} // namespace

/// The first car's run and how one that is off a little goes on: over a step of h, with the equations' derivatives J by
/// the state and d what the other car's rates are beyond the first's at the same state,
/// δ' = (1 − h/2 J')⁻¹ ((1 + h/2 J) δ + h/2 (d + d')) (the trapezium's rule). What is noted of a moment goes likewise:
/// the other car's at the first's state, and its derivatives by the state.
struct DriveNear::First {
    static constexpr std::size_t stride = 3; ///< moments a step
    using Matrix = Eigen::Matrix<double, states, states>;
    Model model;
    Drive what;
    Run run; ///< without the figures that finished() adds
    std::optional<Begun> begun;
    std::vector<MotionState> q; ///< at each step's ends
    std::once_flag once;
    std::vector<Told> told;     ///< at each step's ends
    std::vector<Matrix> on, of; ///< of each step: what takes δ on, and what takes in d + d'
    std::vector<Eigen::Matrix<double, noted, states>> notice; ///< at each step's ends: of the moment by the state

    First(const Model& m, const Drive& w) : model(m), what(w), begun(begin(model, what, run)) {
        std::size_t moment = 0;
        if (begun)
            follow(*begun, run, [&](const MotionState& at) {
                if (moment++ % stride == 0) q.push_back(at);
            });
    }
    double time(std::size_t step) const { return static_cast<double>(step * stride) * between(what.manoeuvre); }

    void learn() {
        const double half = time(1) / 2;
        Matrix before;
        for (std::size_t k = 0; k < q.size(); ++k) {
            told.push_back(tell(*begun, time(k), q[k]));
            Eigen::Matrix<double, states + noted, states> by;
            for (std::size_t j = 0; j < q[k].size(); ++j) {
                MotionState off = q[k];
                const double step = j == at_speed ? 1e-3 : 1e-6;
                off[j] += step;
                by.col(static_cast<Eigen::Index>(j)) = (tell(*begun, time(k), off) - told[k]) / step;
            }
            const Matrix now = by.topRows<states>();
            if (k > 0) {
                const Eigen::PartialPivLU<Matrix> solver(Matrix(Matrix::Identity() - half * now));
                on.push_back(solver.solve(Matrix(Matrix::Identity() + half * before)));
                of.push_back(half * solver.inverse());
            }
            before = now;
            notice.push_back(by.bottomRows<noted>());
        }
    }
};

Run DriveNear::of(const Model& car, const Drive& what, bool near) {
    if (!first_) {
        first_ = std::make_shared<First>(car, what);
        return finished(first_->run, first_->begun);
    }
    First& first = *first_;
    const bool edges = bumps(what.manoeuvre) || what.manoeuvre == Manoeuvre::Patch;
    if (!near || !first.run.done() || !(what == first.what) ||
        (edges && edge * what.size < 6 * first.time(1) * what.speed))
        return drive(car, what);
    std::call_once(first.once, [&] { first.learn(); });
    Run out;
    const auto begun = begin(car, what, out);
    if (!begun) return finished(std::move(out), begun);
    Notes notes(begun->script);
    Off off = numbers(begun->q) - numbers(first.q.front()), more = Off::Zero();
    Noted apart = Noted::Zero();
    for (std::size_t k = 0; k < first.q.size(); ++k) {
        const Told beyond = tell(*begun, first.time(k), first.q[k]) - first.told[k];
        const Off more_now = beyond.head<states>();
        if (k > 0) off = first.on[k - 1] * off + first.of[k - 1] * (more + more_now);
        more = more_now;
        const Noted apart_now = beyond.tail<noted>() + first.notice[k] * off;
        // The moments within the step are as far from the first's as its ends are.
        for (std::size_t i = out.moments.size(); i <= k * First::stride; ++i) {
            const double part = 1 - static_cast<double>(k * First::stride - i) / First::stride;
            const Noted there = numbers(first.run.moments[i]) + (1 - part) * apart + part * apart_now;
            if (!notes.go_on(out, moment_of(there))) return finished(std::move(out), begun);
        }
        apart = apart_now;
    }
    for (std::size_t i = out.moments.size(); i < first.run.moments.size(); ++i) // less than a step
        notes.go_on(out, moment_of(numbers(first.run.moments[i]) + apart));
    return finished(std::move(out), begun);
}

Drive same_line(Drive what, double speed) {
    const double part = speed / what.speed;
    what.lateral *= part * part;
    if (stretches(what.manoeuvre)) what.stretch /= part;
    what.speed = speed;
    return what;
}

std::optional<double> fastest_on_line(const Model& model, const Drive& what) {
    const auto does = [&](double speed) { return drive(model, same_line(what, speed)).done(); };
    double high = what.speed, low = high;
    do {
        high = low;
        low *= 0.85;
        if (low < 0.2 * what.speed) return {};
    } while (!does(low));
    while (high - low > 0.01 * low) (does((low + high) / 2) ? low : high) = (low + high) / 2;
    return low;
}

} // namespace dervish::balance
