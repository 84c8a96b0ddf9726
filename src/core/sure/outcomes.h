#pragma once
#include "core/balance/steady.h"
#include "core/study/flex.h"
#include "core/sure/bands.h"

/// What bands and draws are asked of: the tally, the limit on a ground, the reach on ramps.
namespace dervish::sure {
using namespace study;

/// The tally's outcomes of such cars; ramps are climbed near where the first car lifted.
class TallyOutcomes {
public:
    Outcomes operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale);

private:
    Cars cars_;
    std::optional<flex::Ascent> first_;
    std::optional<car::Turns> turns_;
};

/// Bands of the tally.
Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled = {});

/// The outright limit, m/s², and balance_of() there, as outcomes 0 and 1.
class LimitOutcomes {
public:
    explicit LimitOutcomes(balance::Ground ground) : ground_(ground) {}
    Outcomes operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale);

private:
    balance::Ground ground_;
    Cars cars_;
    std::optional<balance::Limit> first_;
};
/// Standard uncertainty of LimitOutcomes, and what they come from.
Bands limit_bands(const Vehicle& vehicle, const Setup& setup, balance::Ground ground,
                  const std::function<bool()>& cancelled = {});

/// Reach, front and rear travel as outcomes 0, 1 and 2; others are climbed from near where the first car's ended.
class ReachOutcomes {
public:
    explicit ReachOutcomes(const flex::Protocol& protocol) : protocol_(protocol) {}
    Outcomes operator()(const Vehicle& vehicle, const Setup& setup, double bar_scale);

private:
    flex::Protocol protocol_;
    Cars cars_;
    std::optional<flex::Ascent> first_;
};
/// Standard uncertainty of ReachOutcomes of a state, and what they come from.
Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled = {});
} // namespace dervish::sure
