#pragma once
#include "core/proof/verdict.h"

/// What a test would do for the question it is planned for. docs/model.md, "Tests".
namespace dervish::proof {

/// An input of the car that a test may be asked for.
struct Unknown {
    std::string path, label;
};
/// Those of a car that are not sure and that some kind of test answers to, in the order of the car's fields.
std::vector<Unknown> unknowns(const Vehicle& vehicle, const Setup& setup);

/// What readings leave of one input's spread: of all inputs together the posterior of the linear model
/// y = f + H x + e, x of unit variance (GUM (JCGM 100:2008) 5.1; Bayes), that is of input j with h its column of H and
/// S = H Hᵀ + R the change hᵀ S⁻¹ (y − f) and the variance 1 − hᵀ S⁻¹ h, in its own σ.
struct Narrowed {
    FieldSpec spec;
    double value, sigma; ///< as the first state's car has it, SI
    double left;         ///< σ of it that stays, SI
    double found;        ///< value with the readings; without any the same
};
/// Of the test's unknown: as its runs are planned, or of what was read. Nothing where the car has no such input, no
/// state is predicted, or nothing was read. Channels that only give a bound say nothing.
std::optional<Narrowed> narrowed_as_planned(const PlannedTest& test);
std::optional<Narrowed> narrowed_as_read(const PlannedTest& test);

/// How much a planned and predicted test would tell of its question.
struct Worth {
    job::Asks asks;
    /// Which: the chance that it tells the first two states apart. SumOrCar: the least error of the sum that shows nine
    /// times in ten, as a share of the figure; Changed: the least change since a test on another day, likewise.
    /// Unknown: the share of its spread that stays.
    double figure;
    double score() const; ///< from 0, it tells nothing, to 1
};
/// Nothing where the question has no answer by this test: one state of Which, no figure, a figure about nought.
std::optional<Worth> worth(const PlannedTest& test);

} // namespace dervish::proof
