#include "core/sure/questions.h"
#include "core/model/tyres.h"

#include <algorithm>
#include <random>

namespace dervish::sure {
using balance::Limit;

namespace {
/// Of a spread, for a derivative: answers are straight over so little, and still change by far more than they round.
constexpr double little = 1.0 / 256;

/// The ascents of a car and of others near it.
class Ascents {
public:
    Ascents(const flex::Protocol& protocol, Near near) : protocol_(protocol), near_(near) {}
    /// Nothing where a part of a spread says nothing of the whole.
    std::optional<flex::Ascent> of(const car::Car& car, double part) {
        if (!first_) {
            first_ = flex::climb(car, protocol_);
            if (near_ == Near::FirstOrder) by_derivative_.emplace(car, protocol_, *first_);
            return first_;
        }
        if (part < 1) return by_derivative_->of(car, 1 / part);
        return flex::climb(car, protocol_, &*first_);
    }

private:
    flex::Protocol protocol_;
    Near near_;
    std::optional<flex::Ascent> first_;
    std::optional<flex::NearbyAscents> by_derivative_;
};

/// The gentle turns of a car and of others near it.
class GentleTurns {
public:
    explicit GentleTurns(Near near) : near_(near) {}
    std::optional<car::Turns> of(const car::Car& car, double part) {
        if (!first_) {
            first_ = car::turns(car);
            if (near_ == Near::FirstOrder) {
                left_.emplace(car, car::turn(true), first_->left);
                right_.emplace(car, car::turn(false), first_->right);
            }
            return first_;
        }
        if (part == 1) return car::turns(car, &*first_);
        const car::Turns found{left_->of(car, car::turn(true), 1 / part), right_->of(car, car::turn(false), 1 / part)};
        if (!found.left.converged || !found.right.converged) return {};
        return found;
    }

private:
    Near near_;
    std::optional<car::Turns> first_;
    std::optional<car::Nearby> left_, right_;
};

/// The outright limits of a car and of others near it.
class Limits {
public:
    explicit Limits(Near near) : near_(near) {}
    std::optional<Limit> of(const balance::Model& model, double part) {
        if (!first_) {
            first_ = balance::outright_limit(model);
            if (near_ == Near::FirstOrder) by_derivative_.emplace(model, *first_);
            return near_ == Near::FirstOrder ? by_derivative_->of(model).value_or(*first_) : first_;
        }
        if (part < 1) return by_derivative_->of(model, 1 / part);
        return balance::outright_limit(model, &*first_);
    }

private:
    Near near_;
    std::optional<Limit> first_;
    std::optional<balance::NearbyLimits> by_derivative_;
};

std::function<bool(const std::string&)> bears_on_limit(Ground ground) {
    return [own = job::path_of(ground)](const std::string& path) {
        if (path.starts_with("vehicle/grounds/")) return path.starts_with(own);
        return path.find("/tyres/") != std::string::npos || path.find("/stand/") != std::string::npos ||
               path.find("/wheels/") != std::string::npos || path.find("/handling/") != std::string::npos ||
               path.find("/dampers/") != std::string::npos || path == "trial/bias_ratio" || bears_on_outcomes(path);
    };
}

std::function<bool(const std::string&)> bears_on_motion(Ground ground) {
    return [limit = bears_on_limit(ground)](const std::string& path) {
        return path.find("inertia") != std::string::npos || limit(path);
    };
}

double part_of(Near near) { return near == Near::Settled ? 1 : little; }
} // namespace

Question tally(Near near) {
    const auto ask = [cars = Cars(), turns = GentleTurns(near), ascents = Ascents({}, near), near,
                      tighter = std::optional<Outcome>()](const Asked& asked) mutable -> std::vector<double> {
        const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale, asked.part < 1);
        const auto gentle = turns.of(car, asked.part);
        const auto ascent = gentle ? ascents.of(stuck(car, asked.stuck), asked.part) : std::nullopt;
        if (!ascent) return {};
        const auto [roll, share] = car::roll_and_share(car, *gentle);
        Outcomes out{roll, share, ascent->height, ascent->front_travel, ascent->rear_travel};
        for (const End end : both_ends)
            put_bar(out, end, asked.setup[end], asked.vehicle[end], cars.sums(end), asked.bar_scale);
        if (!tighter) tighter = out[FrontLinkMargin] <= out[RearLinkMargin] ? FrontLinkMargin : RearLinkMargin;
        if (near == Near::FirstOrder) out[LinkMargin] = out[*tighter]; // the smaller has no derivative where both meet
        return {out.begin(), out.end()};
    };
    return {{outcome_names.begin(), outcome_names.end()}, ask, bears_on_outcomes, part_of(near), {}, true};
}

Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled) {
    return propagate(vehicle, setup, tally(Near::FirstOrder), cancelled);
}

Question limit(Ground ground, Near near) {
    return {{{"outright limit", units::Quantity::Number}, {"balance at the limit", units::Quantity::Share}},
            [cars = Cars(), limits = Limits(near), ground](const Asked& asked) mutable -> std::vector<double> {
                const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale);
                const auto l = limits.of(to_model(asked.vehicle, asked.setup, car, ground), asked.part);
                if (!l) return {};
                return {l->lateral, balance_of(*l)};
            },
            bears_on_limit(ground),
            part_of(near)};
}

Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground, const std::function<bool()>& cancelled) {
    return propagate(vehicle, setup, limit(ground, Near::FirstOrder), cancelled);
}

Question edge(Ground ground) {
    return {{{"front gives up first", units::Quantity::Number}, {"lets go suddenly", units::Quantity::Number}},
            [cars = Cars(), limits = Limits(Near::Settled), ground](const Asked& asked) mutable -> std::vector<double> {
                const balance::Model model = to_model(asked.vehicle, asked.setup,
                                                      cars.with(asked.vehicle, asked.setup, asked.bar_scale), ground);
                const Limit l = limits.of(model, 1).value();
                const auto sudden = balance::lets_go_suddenly(model, l, model.road.speed);
                if (!sudden) return std::vector(2, std::numeric_limits<double>::quiet_NaN());
                return {l.first == balance::Gives::Front ? 1.0 : -1.0, *sudden ? 1.0 : -1.0};
            },
            bears_on_motion(ground)};
}

Question steady(Ground ground) {
    Question out;
    for (const study::Aim school : study::all_schools)
        out.names.push_back({"a school's reading", study::scale_of(school).quantity});
    for (const char* end : {"front", "rear"}) out.names.push_back({end, units::Quantity::Number});
    out.ask = [cars = Cars(), ground](const Asked& asked) mutable -> std::vector<double> {
        const balance::Model model =
            to_model(asked.vehicle, asked.setup, cars.with(asked.vehicle, asked.setup, asked.bar_scale), ground);
        std::vector<double> answers;
        for (const study::Aim school : study::all_schools)
            answers.push_back(study::reading(school, model).value_or(std::numeric_limits<double>::quiet_NaN()));
        const PerAxle<balance::Bump> bumps = balance::bumps(model.car, car::settle(model.car, {}));
        answers.insert(answers.end(), {bumps.front.harshness, bumps.rear.harshness});
        return answers;
    };
    out.bears = [limit = bears_on_limit(ground), ride = heads().bears](const std::string& path) {
        return limit(path) || ride(path);
    };
    return out;
}

Question costs() {
    using units::Quantity;
    Question out;
    out.names = {{"lean at half a g", Quantity::Angle}, {"holds, dry", Quantity::Number},
                 {"holds, wet", Quantity::Number},      {"one wheel, front", Quantity::Rate},
                 {"one wheel, rear", Quantity::Rate},   {"heads tossed", Quantity::Number},
                 {"seat thrown", Quantity::Number},     {"a wheel lifts at", Quantity::Number},
                 {"ramps", Quantity::Length},           {"largest link force", Quantity::Force},
                 {"roll damping", Quantity::Number}};
    out.ask = [cars = Cars()](const Asked& asked) mutable -> std::vector<double> {
        const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale);
        study::Costs c = study::costs_of(asked.vehicle, asked.setup, car);
        if (asked.stuck != PerWheel<double>{}) c.articulation = flex::climb(stuck(car, asked.stuck), {}).height;
        const double none = std::numeric_limits<double>::quiet_NaN();
        return {c.lean,
                c.limit,
                c.wet,
                c.one_wheel[0],
                c.one_wheel[1],
                c.head,
                c.seat,
                c.first_lift.value_or(none),
                c.articulation,
                c.link,
                c.damping.value_or(none)};
    };
    // What is not sure of the road is not the car's.
    out.bears = [dry = bears_on_limit(Ground::Dry), wet = bears_on_limit(Ground::Wet),
                 ride = heads().bears](const std::string& path) { return dry(path) || wet(path) || ride(path); };
    out.at_rest = true; // on the ramps
    return out;
}

Question heads() {
    // Of the whole spread: a part of one would be lost in the sums over frequency, good to a part in a thousand.
    return {{{"heads tossed", units::Quantity::Number}},
            [cars = Cars()](const Asked& asked) mutable -> std::vector<double> {
                const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale);
                return {study::ride_in_use(asked.vehicle, to_model(asked.vehicle, asked.setup, car)).head};
            },
            [](const std::string& path) {
                return path.find("/tyres/rate") != std::string::npos || path.find("/dampers/") != std::string::npos ||
                       path.find("/stand/") != std::string::npos || path.find("inertia") != std::string::npos ||
                       path.find("roll_radius") != std::string::npos || bears_on_outcomes(path);
            }};
}

std::array<double, run_answers> answers_of(const balance::Run& run) {
    std::array<double, run_answers> out;
    out.fill(std::numeric_limits<double>::quiet_NaN());
    if (run.moments.size() < 2) return out;
    out[RunLean] = run.roll_peak;
    out[RunLightest] = run.lowest_load;
    out[RunSides] = run.side_difference;
    out[RunSeat] = run.seat;
    out[RunHead] = run.head;
    out[RunInAir] = run.in_air;
    if (run.yaw_90) out[RunYaw90] = *run.yaw_90;
    if (run.lateral_90) out[RunLateral90] = *run.lateral_90;
    if (run.roll_overshoot) out[RunOvershoot] = *run.roll_overshoot;
    if (run.correct) {
        out[RunAside1s] = run.correct->after_1s;
        out[RunAside] = run.correct->aside;
        out[RunYaw] = run.correct->yaw;
    }
    out[RunDrift] = std::abs(run.moments.back().y);
    out[RunHeading] = std::abs(run.moments.back().heading);
    return out;
}

std::function<std::vector<double>(const Asked&)> motion_screen(Ground ground) {
    return [cars = Cars(), ground, hard = 0.0](const Asked& asked) mutable {
        const balance::Model m =
            to_model(asked.vehicle, asked.setup, cars.with(asked.vehicle, asked.setup, asked.bar_scale), ground);
        if (hard == 0) hard = 0.97 * balance::outright_limit(m).lateral;
        std::vector<double> out{m.yaw_inertia, m.roll_inertia, m.pitch_inertia, balance::head_over_centre(m)};
        const auto stands = [&](const car::State& s) {
            out.insert(out.end(), {s.roll.front, s.roll.rear, s.heave, s.pitch});
            for (const car::Wheel& wheel : s.wheels) out.push_back(wheel.load);
        };
        const car::State still = car::settle(m.car, {});
        const auto bend = [&](double lateral, double along) {
            const balance::Corner c = balance::corner_along(m, lateral, along, &still);
            stands(c.state);
            out.insert(out.end(), {c.slip.front, c.slip.rear, c.most.front, c.most.rear, c.steer});
        };
        for (const double lateral : {0.1 * units::g, 0.4 * hard, hard}) bend(lateral, 0);
        for (const double along : {-m.braking, pedal(m, balance::Phase::Lifted), m.pull}) bend(0.4 * hard, along);
        stands(car::settle(m.car, {.wheel_height = {0.02, 0, 0.02, 0}}));
        stands(car::settle(m.car, {.wheel_height = {0.02, 0, 0, 0}}));
        stands(car::settle(m.car, {.wind_force = 0.1 * units::g * car::loaded(m.car).mass, .wind_height = 1}));
        for (const End end : both_ends) {
            const balance::AxleGrip& a = m.axle[end];
            out.insert(out.end(), {a.bump_damping, a.rebound_damping, a.tyre[0].relaxation, a.tyre[1].relaxation,
                                   m.axle_inertia[end], m.car[end].unsprung_mass});
        }
        return out;
    };
}

Question manoeuvre(const balance::Drive& drive, Ground ground) {
    using units::Quantity;
    const auto ask = [cars = Cars(), drives = balance::DriveNear(), drive,
                      ground](const Asked& asked) mutable -> std::vector<double> {
        const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale);
        const balance::Run run = drives.of(to_model(asked.vehicle, asked.setup, car, ground), drive, asked.part < 1);
        if (asked.part < 1 && !run.done()) return {};
        const auto out = answers_of(run);
        return {out.begin(), out.end()};
    };
    return {{{"most lean", Quantity::Angle},
             {"lightest wheel", Quantity::Force},
             {"lean, side to side", Quantity::Angle},
             {"seat thrown", Quantity::Number},
             {"head tossed", Quantity::Number},
             {"in the air", Quantity::Number},
             {"yaw at 90 %", Quantity::Number},
             {"side force at 90 %", Quantity::Number},
             {"lean overshoots", Quantity::Share},
             {"aside after 1 s", Quantity::Length},
             {"aside in the end", Quantity::Length},
             {"turns more", Quantity::Number},
             {"drift", Quantity::Length},
             {"heading", Quantity::Angle}},
            ask,
            bears_on_motion(ground),
            part_in_time,
            motion_screen(ground)};
}

namespace {
constexpr std::size_t swept = study::swept_factors.size();

/// Where each end would give up by what a limit tells.
PerAxle<double> give_up(const balance::Limit& l) {
    const double other = l.lateral * (1 + l.left);
    return {l.first == balance::Gives::Rear ? other : l.lateral, l.first == balance::Gives::Front ? other : l.lateral};
}

/// Cars drawn from answers that go with the inputs to first order: `take` gets each one's.
constexpr std::size_t drawn_cars = 2000;
void draw(const std::vector<double>& answers, const Bands& bands,
          const std::function<void(const std::vector<double>&)>& take) {
    std::mt19937 random(1);
    std::normal_distribution<double> normal;
    for (std::size_t car = 0; car < drawn_cars; ++car) {
        std::vector<double> drawn = answers;
        for (const Share& share : bands.shares) {
            const double off = normal(random);
            for (std::size_t i = 0; i < drawn.size(); ++i) drawn[i] += off * share.change[i];
        }
        take(drawn);
    }
}

double part_of_all(std::vector<double>& all, double share) {
    const auto at = all.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(all.size()));
    std::nth_element(all.begin(), at, all.end());
    return *at;
}
} // namespace

Question sweep(Ground ground, End end, Near near) {
    const auto ask = [cars = Cars(), limits = std::vector<Limits>(study::swept_factors.size(), Limits(near)), ground,
                      end](const Asked& asked) mutable -> std::vector<double> {
        const balance::Model model =
            to_model(asked.vehicle, asked.setup, cars.with(asked.vehicle, asked.setup, asked.bar_scale), ground);
        std::vector<double> out(2 * swept);
        for (std::size_t i = 0; i < swept; ++i) {
            const auto l = limits[i].of(study::with_bar(model, end, study::swept_factors[i]), asked.part);
            if (!l) return {};
            const PerAxle<double> ends = give_up(*l);
            out[i] = ends.front;
            out[swept + i] = ends.rear;
        }
        return out;
    };
    const OutcomeName name{"where an end gives up with the bar times a factor", units::Quantity::Number};
    return {std::vector(2 * swept, name), ask, bears_on_limit(ground), part_of(near)};
}

BestBarBand best_bar(const Vehicle& vehicle, const Setup& setup, Ground ground, End end,
                     const std::function<bool()>& cancelled) {
    const Question question = sweep(ground, end, Near::FirstOrder);
    const auto ask = question.ask;
    const std::vector<double> ends = ask({vehicle, setup});
    const auto limits_of = [](const std::vector<double>& of) {
        study::SweptLimits out;
        for (std::size_t i = 0; i < swept; ++i) out[i] = std::min(of[i], of[swept + i]);
        return out;
    };
    BestBarBand out{study::best_of(limits_of(ends)), 0, 0, 0, 0, 0, 0};
    std::vector<double> factors, gains;
    draw(ends, propagate(vehicle, setup, question, cancelled), [&](const std::vector<double>& drawn) {
        const study::BestBar best = study::best_of(limits_of(drawn));
        factors.push_back(best.factor);
        gains.push_back(best.gain);
    });
    out.least = part_of_all(factors, 0.05);
    out.most = part_of_all(factors, 0.95);
    out.least_gain = part_of_all(gains, 0.05);
    out.most_gain = part_of_all(gains, 0.95);
    // Of what is as good as now neither is said: within a tenth.
    const auto share_of = [&](auto&& is) {
        return static_cast<double>(std::ranges::count_if(factors, is)) / drawn_cars;
    };
    out.less = share_of([](double f) { return f < 1 / 1.1; });
    out.more = share_of([](double f) { return f > 1.1; });
    return out;
}

Question phases(Ground ground, std::vector<PerAxle<double>> bars) {
    const OutcomeName name{"where an end gives up in a phase", units::Quantity::Number};
    const std::size_t count = bars.size() * 2 * std::size(balance::all_phases);
    const auto ask = [cars = Cars(), ground, bars = std::move(bars)](const Asked& asked) mutable {
        const balance::Model model =
            to_model(asked.vehicle, asked.setup, cars.with(asked.vehicle, asked.setup, asked.bar_scale), ground);
        std::vector<double> out;
        for (const PerAxle<double>& pair : bars) {
            const bool own = pair == PerAxle<double>{1, 1};
            const balance::Model with =
                own ? model : study::with_bar(study::with_bar(model, End::Front, pair.front), End::Rear, pair.rear);
            for (const balance::Phase phase : balance::all_phases) {
                const PerAxle<double> ends = give_up(balance::outright_limit(with, phase));
                out.insert(out.end(), {ends.front, ends.rear});
            }
        }
        return out;
    };
    return {std::vector(count, name), ask, bears_on_limit(ground)};
}

std::array<PhaseBand, 4> phase_bands(const Vehicle& vehicle, const Setup& setup, Ground ground,
                                     const std::function<bool()>& cancelled) {
    const Question question = phases(ground);
    const auto ask = question.ask;
    std::array<PhaseBand, 4> out{};
    std::array<std::vector<double>, 4> limits;
    draw(ask({vehicle, setup}), propagate(vehicle, setup, question, cancelled), [&](const std::vector<double>& drawn) {
        for (std::size_t i = 0; i < 4; ++i) {
            limits[i].push_back(std::min(drawn[2 * i], drawn[2 * i + 1]));
            out[i].front += (drawn[2 * i] < drawn[2 * i + 1]) / static_cast<double>(drawn_cars);
        }
    });
    for (std::size_t i = 0; i < 4; ++i) {
        out[i].least = part_of_all(limits[i], 0.05);
        out[i].most = part_of_all(limits[i], 0.95);
    }
    return out;
}

PairBand pair_band(const Vehicle& vehicle, const Setup& setup, Ground ground, const PerAxle<double>& bars,
                   const std::function<bool()>& cancelled) {
    const Question question = phases(ground, {{1, 1}, bars});
    const auto ask = question.ask;
    std::vector<double> gains;
    draw(ask({vehicle, setup}), propagate(vehicle, setup, question, cancelled), [&](const std::vector<double>& drawn) {
        double gain = std::numeric_limits<double>::infinity();
        for (std::size_t i = 0; i < 8; i += 2)
            gain = std::min(gain, std::min(drawn[8 + i], drawn[9 + i]) / std::min(drawn[i], drawn[i + 1]) - 1);
        gains.push_back(gain);
    });
    const auto better = std::ranges::count_if(gains, [](double gain) { return gain > 0; });
    return {part_of_all(gains, 0.05), part_of_all(gains, 0.95), static_cast<double>(better) / drawn_cars};
}

Question reach(const flex::Protocol& protocol, Near near) {
    const auto quantity = protocol.kind == flex::Kind::Slope ? units::Quantity::Angle : units::Quantity::Length;
    const auto ask = [cars = Cars(), ascents = Ascents(protocol, near)](const Asked& asked) mutable {
        const auto a =
            ascents.of(stuck(cars.with(asked.vehicle, asked.setup, asked.bar_scale), asked.stuck), asked.part);
        return a ? std::vector<double>{a->height, a->front_travel, a->rear_travel} : std::vector<double>();
    };
    return {{{"reach", quantity, protocol.highest},
             {"front travel there", units::Quantity::Length},
             {"rear travel there", units::Quantity::Length}},
            ask,
            bears_on_outcomes,
            part_of(near),
            {},
            true};
}

Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled) {
    return propagate(state.vehicle, state.setup, reach(protocol, Near::FirstOrder), cancelled);
}

} // namespace dervish::sure
