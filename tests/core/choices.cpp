#include "core/study/choices.h"
#include "core/job/stock.h"
#include "core/job/usual.h"
#include "core/say/bar_words.h"
#include "core/study/assess.h"

#include "core/job/fields.h"
#include "core/model/model.h"
#include "core/sure/bands.h"

#include <catch2/catch.hpp>
#include <map>
#include <random>

namespace tests::of_choices {
using namespace dervish;
using namespace dervish::job;
using namespace dervish::model;
using namespace dervish::study;
using namespace dervish::sure;
using namespace dervish::say;

using units::mm;

namespace {
const AxleSetup& front() {
    static const Job j = blank();
    return j.fitted.front;
}
const AxleData& axle() {
    static const Job j = blank();
    return j.vehicle.front;
}
double rate_of(const AxleSetup& a) { return bar::roll_rate(solve(a).at_eyes); }
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
        AxleSetup tube = front();
        tube.bar.outer_diameter.value = t.outer_diameter;
        tube.bar.wall.value = t.wall;
        CHECK(rate_of(tube) == Approx(t.rate));
        const double guess = std::pow(t.outer_diameter, 4) - std::pow(t.outer_diameter - 2 * t.wall, 4);
        CHECK(guess == Approx(std::pow(22 * mm, 4)).epsilon(0.07)); // near the first guess, not on it
    }
    CHECK(equal_rate_tubes(front(), {11.5 * mm}).empty()); // thicker than the solid bar's radius
    AxleSetup tight = front(); // its bends hold a tube of 100 mm off, and none of those that serve
    tight.bar.bend_radius.value = 25 * mm;
    const auto round = equal_rate_tubes(tight, {2 * mm, 3 * mm});
    REQUIRE(round.size() == 2);
    for (const Substitute& t : round) CHECK(t.rate == Approx(rate_of(tight)).epsilon(1e-5));
    CHECK(with_rate(tight, 1.5));
}

TEST_CASE("stock is ranked by how near its rate comes, and the solid itself comes first") {
    const auto stock = from_stock(front(), usual_stock());
    REQUIRE(stock.size() > 10);
    CHECK(stock[0].outer_diameter == Approx(22 * mm));
    CHECK(stock[0].wall == 0);
    CHECK(stock[0].stress == Approx(1));
    const double k = rate_of(front());
    for (const Substitute& s : stock) CHECK((s.rate > k / 2 && s.rate < 2 * k));
    CHECK(from_stock(front(), {{12 * mm, 0}}).empty()); // a far softer one is no substitute
    for (std::size_t i = 1; i < stock.size(); ++i)
        CHECK(std::abs(std::log(stock[i].rate / k)) >= std::abs(std::log(stock[i - 1].rate / k)));
    CHECK(from_stock(front(), {{120 * mm, 0}}).empty()); // would not go round its own bends
}

TEST_CASE("what a change is worth: the fourth power of the diameter, eyes, mounts") {
    AxleSetup a = front();
    a.bar.eyes = {{{0.24}}, {{0.22}}, {{0.2}}};
    a.left_eye = a.right_eye = 1;
    const double k = rate_of(a);
    std::map<std::string, double> ratio;
    for (const Worth& w : worths(a, axle(), 1 * mm)) ratio[say::words_of(w, units::System::Metric)] = w.rate / k;
    CHECK(ratio.at("diameter + 1 mm") == Approx(std::pow(23.0 / 22, 4)).epsilon(0.05));
    CHECK(ratio.at("diameter - 1 mm") < 1);
    CHECK(ratio.at("next eye out") < 1);
    CHECK(ratio.at("next eye in") > 1);
    CHECK(ratio.at("bushes twice as stiff") > 1);
    CHECK(ratio.at("bushes half as stiff") < 1);
    CHECK(ratio.at("rigid mounts") > ratio.at("bushes twice as stiff"));
    a.left_eye = 0; // no eye further out on one side: not offered
    for (const Worth& w : worths(a, axle(), 1 * mm)) CHECK(w.change != Worth::Change::EyeOut);
    const auto thicker = [&](double diameter, units::System system) {
        a.bar.outer_diameter.value = diameter;
        return say::words_of(worths(a, axle(), say::diameter_step(diameter, system))[0], system);
    };
    CHECK(thicker(22 * mm, units::System::Inch) == "diameter + 1/32 in");
    CHECK(thicker(22 * mm, units::System::Metric) == "diameter + 1 mm");
    CHECK(thicker(1.6 * mm, units::System::Inch) == "diameter + 0.005 in"); // a model's wire
    CHECK(thicker(1.6 * mm, units::System::Metric) == "diameter + 0.1 mm");
}

TEST_CASE("the travel curve begins at the linear rate and tells where it yields and where it ends") {
    AxleSetup a = front();
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
}

TEST_CASE("a bar clamped to trailing arms at large travel: its closed form where it only twists, and its energy") {
    AxleSetup a = front();
    a.held = Held::Clamped;
    a.trailing_arms.to_wheel.value = 0.45;
    a.trailing_arms.to_bar.value = 0; // on the pivots' axis
    const TravelCurve pure = travel_curve(a, axle(), 0.2);
    REQUIRE(pure.roll.size() == 21);
    CHECK(pure.link_per_wheel == Approx(1));
    const bar::Solution s = solve(a);
    const double gj = a.bar.shear_modulus.value * s.elements[0].constants.torsion, L = a.bar.centre_length.value;
    for (const bar::TravelPoint& p : pure.roll) { // M = G J 2θ/L, the wheel's lever is R cos θ
        const double angle = std::asin(p.travel[1] / 0.45);
        CHECK(-p.force[1] == Approx(gj * 2 * angle / L / (0.45 * std::cos(angle))).epsilon(1e-5).margin(1e-3));
        CHECK(p.force[0] == Approx(-p.force[1]).margin(1e-2));
    }
    a.trailing_arms.to_bar.value = 0.3; // behind them: it bends too
    const TravelCurve bent = travel_curve(a, axle(), 0.1, 100);
    REQUIRE(bent.roll.size() == 101);
    CHECK(bent.rate_at_rest == Approx(bar::roll_rate(solve(a).at_links)).epsilon(1e-3));
    double work = 0;
    for (std::size_t i = 1; i < bent.roll.size(); ++i)
        work += (bent.roll[i].force + bent.roll[i - 1].force).dot(bent.roll[i].travel - bent.roll[i - 1].travel) / -2;
    const bar::Solution fine = solve(a, axle(), 0.12);
    const bar::Mesh mesh = bar::mesh(fine);
    CHECK(work == Approx(bar::reach(mesh, to_pull(a, axle(), fine.bar), {-0.1, 0.1}).energy).epsilon(2e-4));
}

TEST_CASE("friction: nothing without a coefficient or with bonded bushes, more with force and misalignment") {
    Job j = blank();
    AxleSetup& a = j.trial.front;
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
    a.mounts.out_of_line.value = 12 * mm;
    CHECK(band(0.02).from_bind == Approx(2 * bent.from_bind));
    a.mounts.vertical.value = 1e4; // so soft that the bar stays straight: M = k l^2/12 d/span
    const double span = a.mounts.spacing.value, d = a.bar.outer_diameter.value, length = 2 * d,
                 moment = 1e4 * length * length / 12 * 12 * mm / span, arm = a.bar.eyes[0].arm_length.value;
    CHECK(band(0.02).from_bind == Approx(0.3 * d / 2 * moment * (3 / length + 2 / span) / arm).epsilon(1e-4));
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
    const Question asked{{{"rate", units::Quantity::Rate}}, [](const Asked& car) {
                             return std::vector<double>{car.bar_scale *
                                                        bar_figures(car.setup.front, car.vehicle.front)->eye_rate};
                         }};
    for (int i = 0; i < bars; ++i) {
        AxleSetup& a = truth.trial.front;
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
        AxleSetup& r = read.trial.front;
        r.bar.arm_end.value = std::max(r.bar.arm_end.value, r.bar.eyes[0].arm_length.value);
        for (FieldRef& f : fields(read, "vehicle")) f.value->sigma = 0;
        for (FieldRef& f : fields(read, "trial/rear")) f.value->sigma = 0;
        for (FieldRef& f : fields(read, "fitted")) f.value->sigma = 0;
        const Bands b = propagate(read.vehicle, read.trial, asked);
        const double predicted = bar_figures(r, read.vehicle.front)->eye_rate;
        covered += std::abs(predicted - rate) <= band_90 * b.sigma[0];
    }
    INFO(covered << " of " << bars);
    CHECK(covered >= 430);
    CHECK(covered <= 470);
}

TEST_CASE("play and friction make a loop: slack first, more going out than coming back, none of it without them") {
    const Job j = blank();
    AxleSetup a = front();
    const TravelCurve curve = travel_curve(a, axle(), 0.06);
    const BarFigures f = *bar_figures(a, axle());
    const Hysteresis clean = hysteresis(curve, a, f);
    REQUIRE(clean.points.size() == curve.roll.size());
    CHECK(clean.slack == 0);
    for (std::size_t i = 0; i < clean.points.size(); ++i) {
        CHECK(clean.points[i].loading == clean.points[i].unloading);
        CHECK(clean.points[i].loading == Approx(std::abs(curve.roll[i].force[1])));
    }
    a.links.play.value = 2 * mm;
    a.mounts.bore_friction.value = 0.3;
    const Hysteresis worn = hysteresis(curve, a, f);
    CHECK(worn.slack * curve.link_per_wheel == Approx(1 * mm)); // half of the play each way
    CHECK(worn.points[0].wheel_travel == Approx(worn.slack));
    CHECK(worn.points[0].loading == Approx(0).margin(1e-6));
    for (std::size_t i = 1; i < worn.points.size(); ++i) {
        const auto& p = worn.points[i];
        CHECK(p.loading > clean.points[i].loading);
        CHECK(p.loading + p.unloading == Approx(2 * clean.points[i].loading)); // as much below as above
        CHECK(p.loading / p.unloading < 1.15);                                 // a few per cent each way
    }
    // The band told beside the curve is the loop's half width at the same link force.
    const Friction told = friction(a, f, {-0.01, 0.01});
    const double force = std::abs((f.solution.at_links * Eigen::Vector2d(-0.01, 0.01))[1]);
    const auto& last = worn.points.back();
    CHECK((last.loading - last.unloading) / 2 == Approx(told.band * clean.points.back().loading / force).epsilon(1e-6));
}

TEST_CASE("a kind of bush or joint takes the place of what is only assumed, never of what was measured") {
    AxleSetup a = front();
    a.mounts.vertical = {3.1e6, 1e5, Source::Measured};
    a.mounts.axial.source = Source::Quoted;
    const double axial = a.mounts.axial.value;
    set_kind(a.mounts, BushKind::Urethane);
    CHECK(a.mounts.vertical.value == 3.1e6);
    CHECK(a.mounts.axial.value == axial);
    CHECK(a.mounts.fore_aft == usual_mounts(BushKind::Urethane).fore_aft);
    CHECK(a.mounts.fore_aft.sigma == Approx(0.4 * a.mounts.fore_aft.value));
    set_kind(a.links, JointKind::RodEnd);
    CHECK(a.links.joint == usual_links(JointKind::RodEnd).joint);
    CHECK(usual_links(JointKind::Rubber).joint.value < usual_links(JointKind::Urethane).joint.value);
    CHECK(usual_mounts(BushKind::Rubber).vertical.value < usual_mounts(BushKind::Urethane).vertical.value);
    // A grade is worth what the frame says of it.
    std::map<std::string, double> worth;
    for (const Worth& w : worths(a, axle(), 1 * mm)) worth[say::words_of(w, units::System::Metric)] = w.rate;
    CHECK(worth.at("rubber bushes") < rate_of(a));
    CHECK(worth.at("metal bushes") > rate_of(a));
    CHECK(worth.at("metal bushes") < worth.at("rigid mounts"));
    CHECK(worth.count("bushes twice as stiff") == 0);
}

TEST_CASE("a perished bush costs rate like a softer one, and a sound one in its place is worth that much") {
    AxleSetup worn = front(), soft = front();
    worn.mounts.rate_left.value = 0.4;
    for (Measured* k : {&soft.mounts.vertical, &soft.mounts.fore_aft, &soft.mounts.axial}) k->value *= 0.4;
    CHECK(rate_of(worn) == Approx(rate_of(soft)).epsilon(1e-12));
    CHECK(rate_of(worn) < 0.95 * rate_of(front()));
    double sound = 0;
    for (const Worth& w : worths(worn, axle(), 1 * mm))
        if (w.change == Worth::Change::SoundBushes) sound = w.rate;
    CHECK(sound == Approx(rate_of(front())));
}

TEST_CASE("the weakest part comes first: steel, link or bracket, as far as capacities are known") {
    AxleSetup a = front();
    const BarFigures f = *bar_figures(a, axle());
    const Eigen::Vector2d travel(-0.02, 0.02);
    auto parts = reserves(a, f, travel);
    REQUIRE(parts.size() == 1);
    CHECK(parts[0].part == "bar");
    CHECK(parts[0].load == Approx(bar::worst(bar::stress(f.solution, travel)).von_mises));
    const double link = std::abs((f.solution.at_links * travel)[1]);
    a.links.capacity.value = 1.1 * link;
    a.mounts.capacity.value = 1e7;
    parts = reserves(a, f, travel);
    REQUIRE(parts.size() == 3);
    CHECK(parts[0].part == "link");
    CHECK(parts[0].reserve() == Approx(1.1));
    CHECK(parts[2].part == "bracket");
    CHECK(parts[2].load > link); // the mounts bear what the arms' levers make of it
    CHECK(reserves(a, f, {0, 0})[0].reserve() == 99);
}

TEST_CASE("why the three sums differ is told from this bar's own ledger") {
    AxleSetup a = front();
    BarFigures f = *bar_figures(a, axle());
    const std::string soft = why_sums_differ(f);
    CHECK(soft.starts_with("Twist only +" + units::fixed(100 * (f.twist_only / f.eye_rate - 1), 0) + " %"));
    for (Measured* k : {&a.mounts.vertical, &a.mounts.fore_aft}) k->value = 1e12;
    const std::string stiff = why_sums_differ(*bar_figures(a, axle()));
    CHECK_THAT(stiff, Catch::Contains("mounts, 0 %"));
    CHECK(stiff != soft);
    a.held = Held::Clamped;
    CHECK(why_sums_differ(*bar_figures(a, axle())).empty());
}

TEST_CASE("a stock list is read and written as a person has it, and a bad line is named") {
    const auto stock = parse_stock("26\n28 x 4\n\n 30,5×3.5\r\n32*2", units::System::Metric);
    REQUIRE(stock.size() == 4);
    CHECK(stock[1].outer_diameter == Approx(28 * mm));
    CHECK(stock[1].wall == Approx(4 * mm));
    CHECK(stock[2].outer_diameter == Approx(30.5 * mm));
    CHECK(parse_stock(stock_text(stock, units::System::Metric), units::System::Metric) == stock);
    CHECK(parse_stock("1.25 x 0.12", units::System::Inch)[0].wall == Approx(0.12 * 0.0254));
    CHECK(parse_stock("", units::System::Metric).empty());
    for (const char* bad : {"28 x 15", "thick", "26 x", "x 3", "300", "-3"})
        CHECK_THROWS_WITH(parse_stock(std::string("26\n") + bad, units::System::Metric), Catch::Contains(bad));
}

} // namespace tests::of_choices
