#include "core/job/choices.h"

#include "core/job/bands.h"
#include "core/job/fields.h"
#include "core/job/model.h"

#include <catch2/catch.hpp>
#include <map>
#include <random>

using namespace dervish;
using namespace dervish::job;
using units::mm;

namespace {
const Assembly& front() {
    static const Job j = blank();
    return j.fitted.front;
}
const AxleData& axle() {
    static const Job j = blank();
    return j.vehicle.front;
}
double rate_of(const Assembly& a) { return bar::roll_rate(solve(a).at_eyes); }
} // namespace

TEST_CASE(
    "equal-rate tubes have the rate on the full model, are larger, lighter and no more stressed than they must be") {
    const auto tubes = equal_rate_tubes(front(), {2 * mm, 3 * mm, 4 * mm, 5 * mm});
    REQUIRE(tubes.size() == 4);
    const double k = rate_of(front()), m = bar::mass(to_bar(front()));
    double last = 1;
    for (const Substitute& t : tubes) {
        CHECK(t.rate == Approx(k).epsilon(1e-5));
        CHECK(t.outer_diameter > 22 * mm);
        CHECK(t.mass < m);
        CHECK(t.outer_diameter < last); // a thicker wall needs less diameter
        last = t.outer_diameter;
        Assembly tube = front();
        tube.bar.outer_diameter.value = t.outer_diameter;
        tube.bar.wall.value = t.wall;
        CHECK(rate_of(tube) == Approx(t.rate));
        const double guess = std::pow(t.outer_diameter, 4) - std::pow(t.outer_diameter - 2 * t.wall, 4);
        CHECK(guess == Approx(std::pow(22 * mm, 4)).epsilon(0.05)); // near the first guess, not on it
    }
    CHECK(equal_rate_tubes(front(), {11.5 * mm}).empty()); // thicker than the solid bar's radius
}

TEST_CASE("stock is ranked by how near its rate comes, and the solid itself comes first") {
    const auto stock = from_stock(front(), usual_stock());
    REQUIRE(stock.size() > 20);
    CHECK(stock[0].outer_diameter == Approx(22 * mm));
    CHECK(stock[0].wall == 0);
    CHECK(stock[0].stress == Approx(1));
    const double k = rate_of(front());
    for (std::size_t i = 1; i < stock.size(); ++i)
        CHECK(std::abs(std::log(stock[i].rate / k)) >= std::abs(std::log(stock[i - 1].rate / k)));
    CHECK(from_stock(front(), {{120 * mm, 0}}).empty()); // would not go round its own bends
}

TEST_CASE("what a change is worth: the fourth power of the diameter, eyes, mounts") {
    Assembly a = front();
    a.bar.eyes = {{{0.24}}, {{0.22}}, {{0.2}}};
    a.left_eye = a.right_eye = 1;
    const double k = rate_of(a);
    std::map<std::string, double> ratio;
    for (const Worth& w : worths(a, units::System::Metric)) ratio[w.change] = w.rate / k;
    CHECK(ratio.at("diameter + 1 mm") == Approx(std::pow(23.0 / 22, 4)).epsilon(0.05));
    CHECK(ratio.at("diameter - 1 mm") < 1);
    CHECK(ratio.at("next eye out") < 1);
    CHECK(ratio.at("next eye in") > 1);
    CHECK(ratio.at("bushes twice as stiff") > 1);
    CHECK(ratio.at("bushes half as stiff") < 1);
    CHECK(ratio.at("rigid mounts") > ratio.at("bushes twice as stiff"));
    a.left_eye = 0; // no eye further out on one side: not offered
    for (const Worth& w : worths(a, units::System::Metric)) CHECK(w.change != "next eye out");
    CHECK(worths(a, units::System::Inch)[0].change == "diameter + 1/32 in");
}

TEST_CASE("the travel curve begins at the linear rate and tells where it yields and where it ends") {
    Assembly a = front();
    const TravelCurve c = travel_curve(a, axle(), 0.08);
    REQUIRE(c.roll.size() == 21);
    REQUIRE(c.one_side.size() == 21);
    CHECK(c.link_per_wheel == Approx(0.7));
    const auto& first = c.roll[1];
    CHECK(-first.force[1] / first.travel[1] == Approx(bar::roll_rate(solve(a).at_links)).epsilon(0.01));
    CHECK(c.one_side[20].travel[0] == 0);
    CHECK(std::abs(c.one_side[20].force[1]) < std::abs(c.roll[20].force[1]));
    CHECK_FALSE(c.ends_at);
    a.bar.yield_strength.value = c.roll[10].worst.von_mises;
    const TravelCurve soft = travel_curve(a, axle(), 0.08);
    REQUIRE(soft.yields_at);
    CHECK(*soft.yields_at == Approx(0.04).epsilon(0.02));
    a.links.length.value = 0.03; // far too short for this
    CHECK(travel_curve(a, axle(), 0.6, 60).ends_at);
    a.held = Held::Clamped;
    CHECK(travel_curve(a, axle(), 0.08).roll.empty());
}

TEST_CASE("friction: nothing without a coefficient or with bonded bushes, more with force and misalignment") {
    Job j = blank();
    Assembly& a = j.trial.front;
    const auto band = [&](double travel) { return friction(a, *bar_figures(a, j.vehicle.front), {-travel, travel}); };
    CHECK(band(0.02).band == 0);
    a.mounts.bore_friction.value = 0.3;
    const Friction one = band(0.02);
    CHECK(one.band > 0);
    CHECK(one.share > 0.005); // a few per cent of the bar's own
    CHECK(one.share < 0.1);
    CHECK(one.from_bind == 0);
    CHECK(band(0.04).band == Approx(2 * one.band).epsilon(1e-6));
    CHECK(band(0.04).share == Approx(one.share).epsilon(1e-6));
    a.mounts.out_of_line.value = 6 * mm;
    const Friction bent = band(0.02);
    CHECK(bent.from_bind > 0);
    CHECK(bent.band == Approx(one.band + bent.from_bind));
    a.mounts.torsional.value = 50;
    CHECK(band(0.02).band == 0);
}

TEST_CASE("duty: rougher ground takes more, and a stronger steel bears it") {
    Job j = blank();
    const auto at = [&] {
        return duties(j.trial.front, j.vehicle.front, *bar_figures(j.trial.front, j.vehicle.front));
    };
    const auto now = at();
    REQUIRE(now.size() == 4);
    for (std::size_t i = 1; i < now.size(); ++i) {
        CHECK(now[i].stress > now[i - 1].stress);
        CHECK(now[i].reserve < now[i - 1].reserve);
    }
    CHECK(now[0].reserve == Approx(0.4 * j.trial.front.bar.yield_strength.value / now[0].stress));
    j.trial.front.bar.yield_strength.value *= 1.3;
    CHECK(at()[2].reserve == Approx(1.3 * now[2].reserve));
}

TEST_CASE("500 synthetic bars: the 90 % band covers the true rate in 86 to 94 of 100", "[coverage]") {
    // Each bar's true sizes are drawn, then read with errors of their own sigma; the band is worked out from the
    // readings.
    std::mt19937 engine(90125);
    std::normal_distribution<double> gauss;
    std::uniform_real_distribution<double> any(0, 1);
    Job truth = blank();
    int covered = 0;
    const int bars = 500;
    const auto outcomes = [](const Vehicle& v, const Setup& s, double scale) {
        return Outcomes{scale * bar_figures(s.front, v.front)->eye_rate};
    };
    for (int i = 0; i < bars; ++i) {
        Assembly& a = truth.trial.front;
        a = blank().trial.front;
        a.bar.outer_diameter.value = (15 + 20 * any(engine)) * mm;
        a.bar.wall.value = any(engine) < 0.5 ? 0 : (0.12 + 0.2 * any(engine)) * a.bar.outer_diameter.value;
        a.bar.centre_length.value = 0.8 + 0.5 * any(engine);
        a.bar.eyes[0].arm_length.value = 0.18 + 0.15 * any(engine);
        a.bar.arm_end.value = a.bar.eyes[0].arm_length.value + 20 * mm;
        a.mounts.spacing.value = 0.6 * a.bar.centre_length.value;
        for (FieldRef& f : fields(truth, "trial/front")) {
            const bool metal = f.path.ends_with("modulus");
            f.value->source = any(engine) < 0.6 || metal ? Source::Measured : Source::Quoted;
            f.value->sigma = metal ? 0.01 * f.value->value : usual_sigma(f.spec, f.value->source, f.value->value);
        }
        const double beam = 1 + beam_model_sigma * gauss(engine); // the real bar is no beam
        const double rate = beam * bar_figures(a, truth.vehicle.front)->eye_rate;
        Job read = truth;
        for (FieldRef& f : fields(read, "trial/front"))
            if (std::isfinite(f.value->value)) f.value->value += f.value->sigma * gauss(engine);
        Assembly& r = read.trial.front;
        r.bar.arm_end.value = std::max(r.bar.arm_end.value, r.bar.eyes[0].arm_length.value);
        for (FieldRef& f : fields(read, "vehicle")) f.value->sigma = 0;
        for (FieldRef& f : fields(read, "trial/rear")) f.value->sigma = 0;
        for (FieldRef& f : fields(read, "fitted")) f.value->sigma = 0;
        const Bands b = propagate(read.vehicle, read.trial, outcomes);
        const double predicted = bar_figures(r, read.vehicle.front)->eye_rate;
        covered += std::abs(predicted - rate) <= band_90 * b.sigma[0];
    }
    INFO(covered << " of " << bars);
    CHECK(covered >= 430);
    CHECK(covered <= 470);
}
