#pragma once
#include "core/proof/protocol.h"
#include "core/sure/compare.h"

#include <cmath>

/// Readings against predictions. docs/model.md, "Tests".
namespace dervish::proof {

/// TooWide: it agrees, and nearly anything would have.
enum class Agreement { NothingRead, CannotTell, TooWide, Agrees, Doubtful, Disagrees };

/// |z| ≤ 1.645 agrees, ≤ 2.58 doubtful, else disagrees.
Agreement judged(double z);

/// A reading that counts.
struct Taken {
    std::size_t run; ///< its place in the test's order
    double value;
    Bound bound;
};
/// Of one state and channel, in the order of the runs; without those left out, alone or with their run.
std::vector<Taken> taken(const PlannedTest& test, int state, const std::string& channel);

/// Mean of n repeats and its standard uncertainty: the tool's own spread, but where the repeats scatter by more than
/// that explains (χ² at 95 %), theirs.
struct Mean {
    double value, sigma;
    std::size_t count;
};
Mean mean_of(const std::vector<double>& values, double one);

/// z = (measured − predicted)/√(σ_m² + σ_p²), one-sided where either is only a bound: only a difference on the wrong
/// side speaks against the prediction. Too wide to tell: it agrees within a band of over a quarter of the figure, most
/// of which is the prediction's (a quarter is our own choice).
struct Verdict {
    Agreement agreement = Agreement::NothingRead;
    double measured = 0, measured_sigma = 0, predicted = 0, predicted_sigma = 0, z = 0;
    bool bound = false;    ///< the reading, or the prediction, is only a bound
    std::size_t count = 0; ///< of readings
};
Verdict compare(const PlannedTest& test, int state, std::size_t channel);

/// All states and channels that were read, together: χ² = rᵀ C⁻¹ r of the residuals with what the predictions share in
/// C, and the chance of so much or more if the sum is right. Too wide to tell where that is all that the first channel
/// read says. Where C cannot be solved, which
/// takes readings without a spread, it cannot tell.
struct Whole {
    Agreement agreement = Agreement::NothingRead;
    double chi_squared = 0, chance = 1;
    int count = 0;
};
Whole compare(const PlannedTest& test);

/// One state against another on one channel, from the runs in their order: what all runs share cancels, a drift that is
/// straight over the runs is taken out where the order tells it apart (a state before and after another).
struct BackToBack {
    double difference = 0, sigma = 0; ///< of the second state less the first, as read
    double half_90 = 0;               ///< half the 90 % interval of that (Student's t where the scatter decides)
    std::optional<double> drift;      ///< a run
    double apart_half_90 = 0;         ///< the same of two tests on two days
    std::optional<double> predicted;
    double predicted_sigma = 0; ///< of the difference: what both states share cancels
    double z = 0;
    Agreement agreement = Agreement::CannotTell; ///< of read and predicted difference
    sure::Sure sure = sure::Sure::CannotSay;     ///< of the sign that was read
};
/// Nothing where either state was not read.
std::optional<BackToBack> back_to_back(const PlannedTest& test, std::size_t channel, int first, int second);
/// Predicted difference of two states and its σ; nothing where either has none.
std::optional<std::pair<double, double>> predicted_difference(const PlannedTest& test, std::size_t channel, int first,
                                                              int second);

/// How the difference of two states comes out of runs in an order: its σ over that of one reading. Nothing where the
/// order does not tell it (a state without a run). With the drift where the order allows.
std::optional<double> spread_of_difference(const std::vector<int>& order, int first, int second);

/// What a test can tell before it is run.
struct Power {
    double predicted, predicted_sigma; ///< difference
    double read_sigma;                 ///< of the difference as these runs will read it
    double smallest;                   ///< difference that nine of ten such tests would show
    double chance; ///< that this test shows it: its 90 % interval leaves out 0 on the side that is predicted
    bool none() const { return std::abs(predicted) < 0.05 * read_sigma; } ///< the sum has next to no difference
};
std::optional<Power> power(const PlannedTest& test, std::size_t channel, int first, int second);
/// The fewest rounds (every state once, and back to the first) with which nine of ten tests tell the two apart; nothing
/// up to `most`. Of states that are predicted.
std::optional<int> rounds_needed(const PlannedTest& test, std::size_t channel, int first, int second, int most = 12);

/// The mean of a person's marks on a scale in a state's runs that count; nothing where they gave none.
std::optional<double> mark_of(const PlannedTest& test, int state, const std::string& person, const std::string& scale);

/// A name for how much the people's marks go together: Spearman's rank correlation over what both marked; nothing below
/// four marks or where one person's are all alike.
std::optional<double> agreement_of(const PlannedTest& test, const std::string& one, const std::string& other);
std::vector<std::string> people_of(const PlannedTest& test); ///< who guessed, drove, marked or spoke

} // namespace dervish::proof
