#pragma once
#include "core/proof/verdict.h"

/// What the sum says of two states beside what people felt of them.
namespace dervish::proof {

/// One scale that the sum can speak of. Differences: the second state less the first, above 0 towards the scale's
/// high end.
struct SaidAndFelt {
    Scale scale;
    double sum;    ///< change of the figure, SI
    double notice; ///< how much of that a person may notice: our own guess (docs/model.md, "Tests")
    int says;      ///< −1, 0, 1: less, too little to notice, more
    struct Person {
        std::string name;
        double marks; ///< change of the mean mark
        int felt;     ///< the same of half a mark and more
    };
    std::vector<Person> people; ///< who marked it in both states
};
/// Balance by phase, lean, ride. Solves both cars. Throws BadInput for a car that cannot be.
std::vector<SaidAndFelt> said_and_felt(const PlannedTest& test, int first, int second);

} // namespace dervish::proof
