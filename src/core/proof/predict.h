#pragma once
#include "core/proof/protocol.h"
#include "core/sure/bands.h"

/// What a test should read, with bands, before anybody reads it.
namespace dervish::proof {

/// A protocol with its settings as a question: an answer for each channel.
Question question(const Protocol& protocol, const Settings& settings);

/// Of one car: values, sigmas and what each input does, rounded as the job file keeps them. `cancelled` as
/// propagate()'s. Throws BadInput for a car that cannot be.
/// Example: predict(protocol("sill_lean"), {}, {job.vehicle, job.fitted}).value[0].
Prediction predict(const Protocol& protocol, const Settings& settings, const Snapshot& car,
                   const std::function<bool()>& cancelled = {});

/// Of every state of a test.
std::vector<Prediction> predict(const PlannedTest& test, const std::function<bool()>& cancelled = {});
/// The test with these, and with all that is usual of it said, since from then on it stands as it was predicted.
PlannedTest predicted(PlannedTest test, const std::function<bool()>& cancelled = {});

} // namespace dervish::proof
