#pragma once
#include "core/num/once.h"
#include "core/terms/terms.h"

#include <optional>
#include <string>
#include <vector>

/// A test as it stands in the job: what was asked, how, of which setups; who guessed what; what was predicted; each run
/// with what was felt and read; what was decided. What a protocol reads and is set to is named by its own keys
/// (core/proof/protocol.h). All numbers SI.
namespace dervish::job {

/// A number by the key of what it is of: a setting, a reading's spread, a condition.
struct Amount {
    std::string of;
    double si = 0;
    bool operator==(const Amount&) const = default;
};

/// What one input does to a predicted figure, with one sigma more of it: of every channel, in the protocol's order.
struct PredictedShare {
    std::string path, label;
    std::vector<double> change;
    bool operator==(const PredictedShare&) const = default;
};

enum PredictedAs {
    PredictedValue,
    PredictedMoreThan, ///< the ramps end first
    PredictedNothing   ///< this car has no such figure
};

/// Frozen before the first reading, for one state. Of every channel in the protocol's order.
struct Prediction {
    bool made = false;
    std::vector<double> value, sigma;
    std::vector<int> tells; ///< of PredictedAs
    int light_wheel = -1;
    std::string model; ///< its version: a fingerprint of what computed it
    std::vector<PredictedShare> shares;
    bool operator==(const Prediction&) const = default;
};

/// What somebody expected of a state before the sum was shown: a number, with the half width that they would bet nine
/// in ten on; or how it compares with another state.
struct Guess {
    enum class Kind { Number, Less, Same, More };
    std::string person;
    int state = 0, than = 0; ///< than: of Less, Same and More
    Kind kind = Kind::Number;
    double value = 0, span = 0;
    bool operator==(const Guess&) const = default;
};

enum class Bound { Exact, More, Less };

struct Reading {
    std::string channel;
    double value = 0;
    Bound bound = Bound::Exact;
    std::string discarded; ///< why it does not count; empty: it counts
    bool operator==(const Reading&) const = default;
};

/// What a person felt, 0 to 10 between a scale's two ends.
struct Impression {
    std::string person, scale;
    double mark = 5;
    bool operator==(const Impression&) const = default;
};

struct Run {
    int state = 0;
    std::string driver, time, ground, note;
    std::vector<std::string> aboard; ///< ids of loads
    bool aids_on = false;
    std::vector<Amount> conditions; ///< as proof::conditions() names them
    bool felt = false;              ///< what was felt is typed, or there was nothing: the numbers may be shown
    std::string discarded;          ///< why it does not count; empty: it counts
    std::vector<Reading> readings;
    std::vector<Impression> impressions;
    DERVISH_COMPILED_ONCE(Run);
    bool operator==(const Run&) const;
};

struct Voice {
    std::string person, why;
    bool agrees = true;
    bool operator==(const Voice&) const = default;
};

struct Decision {
    enum class Kind { None, Keep, Change, GoBack, TestAgain, Compromise };
    Kind kind = Kind::None;
    std::string date, words;
    std::vector<Voice> voices;
    std::string ordered;    ///< what cannot be undone any more
    std::string look_again; ///< when
    bool operator==(const Decision&) const = default;
};

enum class Asks {
    SumOrCar, ///< is it the sum or the car?
    Which,    ///< which of these setups?
    Changed,  ///< has it changed since?
    Unknown   ///< what is this unknown?
};

} // namespace dervish::job
