#include "core/proof/rig_check.h"
#include "core/proof/verdict.h"

#include "core/model/model.h"
#include "core/say/proof_words.h"

#include <catch2/catch.hpp>
#include <random>

namespace tests::of_rig_check {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::proof;

using units::mm;

namespace {
/// A bar with what is read of it.
struct OnRig : Assembly {
    RigCheck rig;
};
double rig_rate(const OnRig& a) { return proof::rig_rate(a, a.rig); }
double rig_dial(const OnRig& a, double mass) { return proof::rig_dial(a, a.rig, mass); }
std::string words(const Suspect& s, bool both_arms = false) {
    return say::words_of(s, both_arms, units::System::Metric);
}
std::optional<RigVerdict> judge(const OnRig& a) { return proof::judge(a, a.rig); }

/// Readings that a bar would give, with the dial set anywhere and read with noise.
void hang(OnRig& on, const OnRig& real, std::initializer_list<double> masses, double noise = 0, unsigned seed = 3) {
    std::mt19937 engine(seed);
    std::normal_distribution<double> gauss(0, 1);
    for (const double m : masses)
        on.rig.readings.push_back({m, 1.3e-3 + m * units::g / rig_rate(real) + noise * gauss(engine)});
}

OnRig front() { return {blank().trial.front, {}}; }
} // namespace

TEST_CASE("one arm held gives half the roll-mode rate of a free bar, blocks give more") {
    OnRig a = front();
    const double held = rig_rate(a);
    a.rig.both_arms = true;
    CHECK(rig_rate(a) == Approx(2 * held).epsilon(1e-6));
    a.rig.blocks = true;
    CHECK(rig_rate(a) > 2.02 * held);
    a.links.joint.value = 1e5; // links are off in the rig
    const double without = rig_rate(a);
    a.links.joint.value = 1e9;
    CHECK(rig_rate(a) == Approx(without));
    a.held = Held::Clamped;
    CHECK_THROWS_AS(rig_rate(a), BadInput);
}

TEST_CASE("the dial follows the rate at small masses and nothing is taken as small at large ones") {
    const OnRig a = front();
    CHECK(rig_dial(a, 0) == Approx(0).margin(1e-9));
    CHECK(rig_dial(a, 5) == Approx(5 * units::g / rig_rate(a)).epsilon(2e-3));
    OnRig thin = a;
    thin.bar.outer_diameter.value = 10 * mm;
    const double linear = 30 * units::g / rig_rate(thin);
    REQUIRE(linear > 0.1);
    CHECK(rig_dial(thin, 30) < 0.98 * linear); // the arm swings down
    CHECK(rig_dial(thin, 30) > 0.6 * linear);
}

TEST_CASE("a straight line through exact readings gives the rate and where the dial was set") {
    OnRig a = front();
    hang(a, a, {10, 20, 30, 40});
    const auto fit = fit_rate(a.rig);
    REQUIRE(fit);
    CHECK(fit->rate == Approx(rig_rate(a)).epsilon(1e-9));
    CHECK(fit->offset == Approx(1.3e-3).epsilon(1e-6));
    CHECK(fit->interval_90 > 0.008 * fit->rate); // never surer than its masses
    CHECK(fit->readings == 4);
}

TEST_CASE("no rate from nothing, one mass, or a dial that goes the wrong way") {
    RigCheck r;
    CHECK_FALSE(fit_rate(r));
    r.readings = {{20, 3e-3}};
    CHECK_FALSE(fit_rate(r));
    r.readings = {{20, 3e-3}, {20, 3.1e-3}};
    CHECK_FALSE(fit_rate(r));
    r.readings = {{10, 3e-3}, {20, 1e-3}};
    CHECK_FALSE(fit_rate(r));
    OnRig a = front();
    CHECK_FALSE(judge(a));
}

TEST_CASE("the interval covers the true rate nine times in ten, few readings or many") {
    const OnRig a = front();
    const double k = rig_rate(a);
    for (const int count : {3, 6}) {
        int covered = 0;
        const int runs = 400;
        std::mt19937 engine(77);
        std::normal_distribution<double> gauss(0, 1);
        for (int i = 0; i < runs; ++i) {
            RigCheck r;
            for (int n = 1; n <= count; ++n)
                r.readings.push_back({10.0 * n, 10.0 * n * units::g / k + 0.15e-3 * gauss(engine)});
            const auto fit = fit_rate(r);
            covered += fit && std::abs(fit->rate - k) <= fit->interval_90;
        }
        CHECK(covered > 0.86 * runs);
        CHECK(covered < 0.97 * runs);
    }
}

TEST_CASE("a bar that is what it seems agrees, one that is not is told with what would explain it") {
    OnRig a = front();
    a.bar.outer_diameter = {22 * mm, 0.05 * mm, Source::Measured};
    for (Measured* m : {&a.mounts.vertical, &a.mounts.fore_aft}) m->sigma = 0.05 * m->value;
    a.bar.centre_length.sigma = a.bar.eyes[0].arm_length.sigma = 1.5 * mm;
    a.mounts.spacing.sigma = a.bar.arm_end.sigma = a.bar.bend_radius.sigma = 1.5 * mm;
    OnRig same = a;
    hang(same, a, {10, 20, 30, 40, 50}, 0.02e-3);
    const auto good = judge(same);
    REQUIRE(good);
    CHECK(good->agreement == proof::Agreement::Agrees);
    CHECK(good->suspects.empty());
    CHECK(good->z == Approx((good->fit.rate - good->predicted) /
                            std::hypot(good->fit.interval_90 / 1.6448536, good->predicted_sigma)));

    OnRig tube = a; // sold as solid
    tube.bar.wall.value = 3.5 * mm;
    OnRig read = a;
    hang(read, tube, {10, 20, 30, 40, 50});
    const auto bad = judge(read);
    REQUIRE(bad);
    CHECK(bad->agreement == proof::Agreement::Disagrees);
    CHECK(bad->z < -3);
    bool wall = false, diameter = false;
    double last = 0;
    for (const Suspect& s : bad->suspects) {
        CHECK(s.sigmas >= last);
        last = s.sigmas;
        wall = wall || words(s) == "it is a tube, wall 3.5 mm";
        diameter = diameter || words(s).starts_with("diameter ");
    }
    CHECK(wall);
    CHECK(diameter);

    OnRig thick = a;
    thick.bar.outer_diameter.value = 23 * mm;
    read.rig.readings.clear();
    hang(read, thick, {10, 20, 30, 40, 50});
    const auto more = judge(read);
    REQUIRE(more);
    CHECK(more->z > 2.58);
    bool found = false;
    for (const Suspect& s : more->suspects)
        if (words(s) == "diameter 23.00 mm, not 22.00") {
            found = true;
            CHECK(s.sigmas == Approx(20).epsilon(0.01)); // a millimetre at 0.05 mm
        }
    CHECK(found);
}

TEST_CASE("a rate read in the other way of loading is taken for that") {
    for (const bool both : {false, true}) {
        OnRig a = front();
        a.bar.outer_diameter = {22 * mm, 0.05 * mm, Source::Measured};
        for (Measured* m : {&a.mounts.vertical, &a.mounts.fore_aft}) m->sigma = 0.05 * m->value;
        for (Measured* m : {&a.bar.centre_length, &a.bar.eyes[0].arm_length, &a.mounts.spacing}) m->sigma = 1.5 * mm;
        OnRig real = a;
        a.rig.both_arms = both;
        real.rig.both_arms = !both;
        hang(a, real, {10, 20, 30, 40});
        const auto verdict = judge(a);
        REQUIRE(verdict);
        CHECK(verdict->agreement == proof::Agreement::Disagrees);
        bool told = false;
        for (const Suspect& s : verdict->suspects)
            told = told || words(s, both) == (both ? "one arm was held: that rate is near half"
                                                   : "both arms moved: that rate is near twice");
        CHECK(told);
    }
}

} // namespace tests::of_rig_check
