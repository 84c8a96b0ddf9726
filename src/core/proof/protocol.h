#pragma once
#include "core/job/job.h"
#include "core/sure/question.h"

#include <map>

/// The kinds of test a tuner can make. Each is one file of protocols/, which defines a function of its name; it is
/// registered by being there. Example: see protocols/diagonal_ramps.cpp.
namespace dervish::proof {
using namespace sure;

/// The version of the model: changes when its answers do, so that a frozen prediction says what computed it.
inline constexpr const char* model_version = "3";

/// A number that a protocol is done with: a field, its usual value, and words where it is a choice (then 0, 1, ...).
struct Setting {
    FieldSpec spec;
    double usual;
    std::vector<const char*> words{};
};

/// What is read.
struct Channel {
    FieldSpec spec;
    double read_to;        ///< standard uncertainty of one reading with the usual tool, SI
    double read_share = 0; ///< and this share of what is read
    /// Of two tests on different days, each with its tools set up anew: standard uncertainty that all runs of one test
    /// share, SI. Our own guess.
    double apart = 0;
    /// A reading cannot be below 0 where the figure is: no gap is read as 0.
    bool not_below_0 = false;
    /// The setting at which the figure ends: it is that or more.
    const char* ends_at = nullptr;
    /// What the way of doing it adds, as a share of the figure that goes with every run alike: the driver's line, the
    /// ground. Our own guess.
    double by_hand = 0;
};

/// What can only be felt: a scale from 0 to 10 whose ends are words.
struct Scale {
    const char *key, *label, *low, *high;
};

/// The settings of a test, each the protocol's usual one where the test says nothing.
using Settings = std::map<std::string, double>;
/// Of a car: a figure for every channel, SI; NaN where it has none. Asked of the car itself first, then of cars near
/// it (sure::Question). Throws BadInput.
using Answers = std::function<std::vector<double>(const Asked&)>;

enum class Sort { Ramps, Standing, Bench, Driving, Felt };

struct Protocol {
    const char* key;
    const char* name; ///< "Diagonal ramps"
    Sort sort;
    const char* tells; ///< what it is good for, a sentence
    std::vector<Setting> settings;
    std::vector<Channel> channels; ///< the first is what the test is about; none: only felt
    std::vector<const char*> needs, steps;
    const char* ends;          ///< what ends a run
    const char* caution;       ///< where the work can hurt
    std::vector<Scale> scales; ///< beside those of every drive
    /// Begins anew for each car: what it learns of the car is for that car.
    std::function<Answers(const Settings&)> answers;
    std::function<bool(const Settings&, const std::string& path)> bears = [](const Settings&, const std::string& path) {
        return bears_on_outcomes(path);
    };
    bool in_time = false; ///< runs followed in time: Question::part and screen as of sure::manoeuvre()
    /// The wheel that should go light first, where there is one.
    std::function<int(const Snapshot&, const Settings&)> light_wheel{};
};

/// All of them, in the order in which they are offered.
const std::vector<Protocol>& protocols();
/// Throws BadInput at "protocol".
const Protocol& protocol(const std::string& key);
/// Null where there is none of that name (a file of another version).
const Protocol* protocol_of(const PlannedTest& test);

/// Until it is predicted, what the test does not say is usual for a car of the first state's size (job::size_of):
/// lengths go with it, speeds with its root, forces and masses with its cube, as of things alike under one gravity.
Settings settings_of(const Protocol& protocol, const PlannedTest& test);
/// The standard uncertainty of one reading of about `value` in this test; lengths likewise.
double read_to(const PlannedTest& test, const Channel& channel, double value);
/// Channel::apart, likewise.
double apart(const PlannedTest& test, const Channel& channel);
/// The test with all that is usual of it said, as it is kept with its prediction.
PlannedTest said(PlannedTest test);
/// The same test as one of another kind, with that kind's usual settings, neither predicted nor run.
PlannedTest as_kind(PlannedTest test, const Protocol& protocol);
/// Throws BadInput where the protocol has no such channel.
std::size_t channel_at(const Protocol& protocol, const std::string& key);

/// What is felt on every drive: entry, middle, exit under power, throttle lifted, steadiness, roll felt, ride,
/// confidence; and whether one would live with it.
const std::vector<Scale>& drive_scales();
std::vector<Scale> scales_of(const Protocol& protocol);

/// What is held equal and written down for a run: pressures cold and hot, temperature, fuel.
const std::vector<FieldSpec>& conditions();

} // namespace dervish::proof
