#pragma once
#include "core/proof/doubts.h"
#include "core/proof/eye.h"
#include "core/proof/rig_check.h"
#include "core/proof/sum_and_driver.h"
#include "core/proof/worth.h"

namespace dervish::say {
using job::PlannedTest;

/// "agrees", "nothing read yet".
std::string words_of(proof::Agreement agreement);

/// "diameter 25.60 mm, not 26.00"; `both_arms`: how the rig was said to be loaded.
std::string words_of(const proof::Suspect& suspect, bool both_arms, units::System system);

/// A channel's figure with as many decimals as its tool reads: "329 mm", "2.4°".
std::string figure(double si, const proof::Channel& channel, units::System system, bool unit = true);
/// With its sign.
std::string change(double si, const proof::Channel& channel, units::System system, bool unit = true);

/// A verdict in a headline and the sum behind it.
struct Told {
    std::string headline, detail;
};
Told told(const PlannedTest& test, units::System system);
/// One state's own: "agrees: read 333 mm ± 7, predicted 329 ± 18".
std::string state_told(const PlannedTest& test, int state, std::size_t channel, units::System system);
/// "rear bar off less both on: +20 mm ± 5, surely more and as the sum says".
Told told(const proof::BackToBack& found, const PlannedTest& test, std::size_t channel, int first, int second,
          units::System system);
/// "These runs show 9 mm nine times in ten; the sum expects +21 ± 8: 94 in 100 that they tell the two apart".
Told told(const proof::Power& power, const PlannedTest& test, std::size_t channel, int first, int second,
          units::System system);

/// "88 in 100", "from 12 % on", "40 % stays".
std::string words_of(const proof::Worth& worth);
/// What the runs planned would tell of a question that is not Which; nothing where they tell nothing.
std::optional<Told> worth_told(const PlannedTest& test, units::System system);
/// "Anti-roll bar, front, diameter: 25.8 mm ± 0.1 by these readings; 26.0 ± 0.3 before"; nothing while it was not read.
std::optional<Told> unknown_told(const PlannedTest& test, units::System system);

std::string words_of(const proof::Culprit& culprit);
/// What is wrong, and the quick check that tells.
Told told(const proof::Fault& fault, const PlannedTest& test, units::System system);
/// "Each setup had its own driver: a difference may be theirs".
std::string words_of(proof::Unlike what);
/// "Typed 33; the others read 330: one digit too few? That would be 330 mm."
std::string words_of(const proof::Slip& slip, const PlannedTest& test, std::size_t run, std::size_t channel,
                     units::System system);

/// "Oke guessed 345 mm ± 20 for both on: held", or what was guessed while nothing was read.
std::string words_of(const job::Guess& guess, const PlannedTest& test, units::System system);
std::string words_of(const proof::Eye& eye);
/// "agree closely (rank correlation 0.86)".
std::string agreement_words(double rank_correlation);
/// Of one scale: what the sum says, whom it agrees with.
std::string words_of(const proof::SaidAndFelt& line);
/// What would have to be wrong in the sum, what in the seat, and what would settle it; empty where nobody disagrees.
std::vector<std::string> settle_words(const std::vector<proof::SaidAndFelt>& lines);

/// The question, and the answer with its figures.
struct PracticeWords {
    std::string question, answer;
};
PracticeWords words_of(const proof::Practice& practice, units::System system);

std::string words_of(job::Decision::Kind kind);
std::string words_of(job::Asks asks);

} // namespace dervish::say
