#include "core/sure/questions.h"
#include "core/model/tyres.h"

#include "core/study/balance.h"

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

double part_of(Near near) { return near == Near::Settled ? 1 : little; }
} // namespace

Question tally(Near near) {
    const auto ask = [cars = Cars(), turns = GentleTurns(near), ascents = Ascents({}, near), near,
                      tighter = std::optional<Outcome>()](const Asked& asked) mutable -> std::vector<double> {
        const car::Car car = cars.with(asked.vehicle, asked.setup, asked.bar_scale);
        const auto gentle = turns.of(car, asked.part);
        const auto ascent = gentle ? ascents.of(car, asked.part) : std::nullopt;
        if (!ascent) return {};
        const auto [roll, share] = car::roll_and_share(car, *gentle);
        Outcomes out{roll, share, ascent->height, ascent->front_travel, ascent->rear_travel};
        for (const End end : both_ends)
            put_bar(out, end, asked.setup[end], asked.vehicle[end], cars.sums(end), asked.bar_scale);
        if (!tighter) tighter = out[FrontLinkMargin] <= out[RearLinkMargin] ? FrontLinkMargin : RearLinkMargin;
        if (near == Near::FirstOrder) out[LinkMargin] = out[*tighter]; // the smaller has no derivative where both meet
        return {out.begin(), out.end()};
    };
    return {{outcome_names.begin(), outcome_names.end()}, ask, bears_on_outcomes, part_of(near)};
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
            [own = job::path_of(ground)](const std::string& path) {
                if (path.starts_with("vehicle/grounds/")) return path.starts_with(own);
                return path.find("/tyres/") != std::string::npos || path.find("/stand/") != std::string::npos ||
                       path.find("/wheels/") != std::string::npos || path.find("/handling/") != std::string::npos ||
                       path == "trial/bias_ratio" || bears_on_outcomes(path);
            },
            part_of(near)};
}

Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground, const std::function<bool()>& cancelled) {
    return propagate(vehicle, setup, limit(ground, Near::FirstOrder), cancelled);
}

Question reach(const flex::Protocol& protocol, Near near) {
    const auto quantity = protocol.kind == flex::Kind::Slope ? units::Quantity::Angle : units::Quantity::Length;
    const auto ask = [cars = Cars(), ascents = Ascents(protocol, near)](const Asked& asked) mutable {
        const auto a = ascents.of(cars.with(asked.vehicle, asked.setup, asked.bar_scale), asked.part);
        return a ? std::vector<double>{a->height, a->front_travel, a->rear_travel} : std::vector<double>();
    };
    return {{{"reach", quantity, protocol.highest},
             {"front travel there", units::Quantity::Length},
             {"rear travel there", units::Quantity::Length}},
            ask,
            bears_on_outcomes,
            part_of(near)};
}

Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled) {
    return propagate(state.vehicle, state.setup, reach(protocol, Near::FirstOrder), cancelled);
}

} // namespace dervish::sure
