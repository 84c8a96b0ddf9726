#pragma once
#include "core/balance/steady.h"
#include "core/study/flex.h"
#include "core/sure/bands.h"

/// What bands and draws are asked of: the tally, the limit on a ground, the reach on ramps.
namespace dervish::sure {
using namespace study;

/// How cars near the first are answered: settled in full from where it stands, or by the derivative there
/// (car::Nearby), in full only where a stop, a spring or a wheel lets go in between.
enum class Near { Settled, FirstOrder };

/// The tally: an answer for each Outcome, in their order.
Question tally(Near near = Near::Settled);
/// Bands of the tally, to first order.
Bands bands(const Vehicle& vehicle, const Setup& setup, const std::function<bool()>& cancelled = {});

/// The outright limit, m/s², and balance_of() there.
enum LimitAnswer { LimitLateral, LimitBalance };
Question limit(Ground ground, Near near = Near::Settled);
Bands limit_bands(const Vehicle& vehicle, const Setup& setup, Ground ground,
                  const std::function<bool()>& cancelled = {});

/// Where a protocol ends and the axles' travels there.
enum ReachAnswer { Reach, ReachFrontTravel, ReachRearTravel };
Question reach(const flex::Protocol& protocol, Near near = Near::Settled);
Bands flex_bands(const FlexState& state, const flex::Protocol& protocol, const std::function<bool()>& cancelled = {});

} // namespace dervish::sure
