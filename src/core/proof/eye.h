#pragma once
#include "core/proof/verdict.h"

/// How good people's guesses are, and made-up cars to train them on.
namespace dervish::proof {

/// One person's guesses over all tests of a job that were read.
struct Eye {
    std::string person;
    int sizes = 0, sizes_right = 0;           ///< numbers, and those within a fifth of what was read
    int directions = 0, directions_right = 0; ///< less, same or more than another state; also where two numbers say so
    int spans = 0, spans_hold = 0;            ///< nine of ten should
    /// Guessed differences over those read, each as a share of what the first state read (least squares through
    /// nought): above 1 too bold; nothing without any.
    std::optional<double> bold;
};
std::vector<Eye> eyes(const Job& job);

/// How one guess of a test did; nothing while what it is of was not read.
struct Guessed {
    bool right;  ///< within its span or, where it has none, a fifth; the direction as read
    double read; ///< what it was of, or the difference
};
std::optional<Guessed> guessed(const PlannedTest& test, const Guess& guess);

/// A question of a practice round about a made-up car, with what the model answers to each choice.
struct Practice {
    enum class Kind { FlexesMost, GivesUpFirst, LeansLeast } kind;
    Snapshot car;
    std::vector<std::string> choices;
    std::vector<double> figures; ///< of each choice, SI: reach; what is left at the end that holds (of GivesUpFirst
                                 ///< the margin at front and rear); lean
    std::size_t answer;
};
/// The same seed asks the same. Example: practice(7).choices.
Practice practice(unsigned seed);

} // namespace dervish::proof
