#pragma once
#include "core/study/links.h"

#include <span>

/// Setting a bar and its links up, step by step: what to do, what was read, whether it will do, what to do next.
namespace dervish::say {
using namespace study;

/// In the order in which they are done: the travel's limits first, then level, then left against right.
enum class Step { Limits, Straight, Centred, Joints, Falls, Level, Equal, LeftRight, Hang };
inline constexpr Step all_steps[] = {Step::Limits, Step::Straight, Step::Centred,   Step::Joints, Step::Falls,
                                     Step::Level,  Step::Equal,    Step::LeftRight, Step::Hang};

/// A number that a step takes, and where it is kept.
struct StepReading {
    FieldSpec spec;
    std::optional<double> SetupChecks::*value;
};
std::span<const StepReading> readings_of(Step step);
/// What a step that is only ticked off is kept in; null for the others.
bool SetupChecks::*tick_of(Step step);

/// How a step stands.
struct StepFound {
    enum class State { Todo, Good, Attend };
    State state = State::Todo;
    std::string title, how; ///< what to do, with the caution that goes with it
    std::string found;      ///< "12 mm, 2 mm will do"; empty: nothing read
    std::string next;       ///< what to do about it; empty when it is good or not done
};

/// Judged with the links' own geometry. Throws BadInput inside the assembly.
StepFound look_at(Step step, const AxleSetup& assembly, const SetupChecks& checks, const AxleData& axle,
                  units::System system);

/// The first step that is not good: where to go on. All done: the last.
Step next_step(const AxleSetup& assembly, const SetupChecks& checks, const AxleData& axle);

} // namespace dervish::say
