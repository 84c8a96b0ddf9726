#include "core/sure/outcomes.h"
#include "core/model/tyres.h"

#include "core/study/balance.h"

namespace dervish::sure {
using balance::Ground;
using balance::Limit;

Outcomes TallyOutcomes::operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const car::Car car = cars_.with(vehicle, setup, bar_scale);
    const auto [roll, share] = car::roll_and_share(car, &turns_);
    const flex::Ascent ascent = flex::climb(car, {}, first_ ? &*first_ : nullptr);
    if (!first_) first_ = ascent;
    Outcomes out{roll, share, ascent.height, ascent.front_travel, ascent.rear_travel};
    for (const End end : both_ends) put_bar(out, end, setup[end], vehicle[end], cars_.sums(end), bar_scale);
    return out;
}

Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled) {
    return propagate(vehicle, setup, TallyOutcomes(), cancelled);
}

Outcomes LimitOutcomes::operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const Limit l = balance::outright_limit(to_model(vehicle, setup, cars_.with(vehicle, setup, bar_scale), ground_),
                                            first_ ? &*first_ : nullptr);
    if (!first_) first_ = l;
    return {l.lateral, balance_of(l)};
}

Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground, const std::function<bool()>& cancelled) {
    const auto bears = [](const std::string& path) {
        return path.find("/tyres/") != std::string::npos || path.find("/stand/") != std::string::npos ||
               path.find("/wheels/") != std::string::npos || path.find("/handling/") != std::string::npos ||
               path == "trial/bias_ratio" || bears_on_outcomes(path);
    };
    return propagate(vehicle, setup, LimitOutcomes(ground), cancelled, bears);
}

Outcomes ReachOutcomes::operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale) {
    const flex::Ascent a = flex::climb(cars_.with(vehicle, setup, bar_scale), protocol_, first_ ? &*first_ : nullptr);
    if (!first_) first_ = a;
    return {a.height, a.front_travel, a.rear_travel};
}

Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled) {
    return propagate(state.vehicle, state.setup, ReachOutcomes(protocol), cancelled);
}

} // namespace dervish::sure
