#include "core/model/check.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/sure/bands.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
#include "store/job_file.h"

#include <catch2/catch.hpp>
#include <cmath>
#include <random>

using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::sure;

namespace {
/// Of `count` other cars drawn: the shares that lie below and above the band that the window shows of each figure.
void check_coverage(const Job& j, int count, unsigned seed) {
    const Setup& s = j.trial;
    const auto check = [&](const Question& question, const Bands& linear, const std::vector<std::size_t>& figures) {
        const Bands shown = with_draws(linear, j.vehicle, s, question);
        std::vector<std::vector<double>> all;
        Question others = question;
        others.ask = [&all, ask = question.ask](const Asked& asked) {
            all.push_back(ask(asked));
            return all.back();
        };
        draw(j.vehicle, s, others, count, seed);
        const std::vector<double> nominal = all.front(); // the car itself
        for (const std::size_t o : figures) {
            const Sides band = shown.sides(o);
            int below = 0, above = 0;
            for (std::size_t i = 1; i < all.size(); ++i) {
                below += all[i][o] < nominal[o] - band.below;
                above += all[i][o] > nominal[o] + band.above;
            }
            const double n = static_cast<double>(all.size() - 1);
            CAPTURE(question.names[o].words, nominal[o], band.below, band.above, below / n, above / n);
            CHECK(below / n > 0.03);
            CHECK(below / n < 0.07);
            CHECK(above / n > 0.03);
            CHECK(above / n < 0.07);
        }
    };
    std::vector<std::size_t> told;
    const Assessment a = assess(j.vehicle, s);
    for (const Outcome o : {RollGradient, FrontShare, FrontRate, RearRate, FrontWheelRate, RearWheelRate,
                            FrontRollStiffness, RearRollStiffness, LinkMargin})
        told.push_back(o);
    if (a.ascent.lifted) // a bound is told without a band
        for (const Outcome o : {LiftHeight, FrontTravel, RearTravel}) told.push_back(o);
    check(tally(), bands(j.vehicle, s), told);
    check(limit(Ground::Dry), limit_bands(j.vehicle, s, Ground::Dry), {LimitLateral});
}
} // namespace

TEST_CASE("the bands shown hold 86 to 94 of 100 drawn cars, each tail 3 to 7: the demos and made-up cars of theirs",
          "[slow]") {
    std::mt19937 engine(15);
    const auto around = [&](double part) { return std::uniform_real_distribution<double>(1 - part, 1 + part)(engine); };
    for (const char* demo : {"hut-van", "hill-sprint"}) {
        const Job j = store::load(std::string(DEMO) + "/" + demo + ".dervish").job;
        CAPTURE(demo);
        check_coverage(j, 8000, 77);
        for (int i = 0; i < 5; ++i) {
            Job other = j;
            Vehicle& v = other.vehicle;
            for (Measured* m : {&v.front_left_load, &v.front_right_load, &v.rear_left_load, &v.rear_right_load})
                m->value *= around(0.15);
            v.cg_height.value *= around(0.15);
            for (AxleData* a : {&v.front, &v.rear}) a->bump_gap.value *= around(0.3);
            for (AxleSetup* a : {&other.trial.front, &other.trial.rear}) {
                a->springs.rate.value *= around(0.3);
                a->tyres.grip_fall.value *= around(0.3);
            }
            for (AxleSetup* a : {&other.trial.front, &other.trial.rear}) a->bar.outer_diameter.value *= around(0.1);
            CAPTURE(i);
            check_coverage(other, 8000, 78);
        }
    }
}
