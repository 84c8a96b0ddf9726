#include "core/study/balance.h"
#include "core/model/tyres.h"
#include "core/say/cautions.h"
#include "core/say/working.h"
#include "core/study/cures.h"
#include "core/sure/draws.h"
#include <catch2/catch.hpp>

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/balance/balance_station.h"
#include "app/balance/conditions_page.h"
#include "app/balance/cures_page.h"
#include "app/balance/manoeuvre_page.h"
#include "app/balance/use_reading.h"
#include "app/widgets/figure_rows.h"
#include "bench_window.h"
#include "ink.h"

#include "core/say/complaints.h"

#include "app/widgets/number_edit.h"

using namespace dervish;
using namespace dervish::app;
using units::g;

namespace {
BalanceDrawing& drawing(Bench& bench) { return *bench.window.findChild<BalanceDrawing*>(); }
BalanceStation& station(Bench& bench) { return *static_cast<BalanceStation*>(bench.window.station("Balance")); }

const FigureRows& page(Bench& bench, const QString& chip, const QString& name) {
    bench.click("reading " + chip);
    bench.settle();
    auto* rows = bench.find<FigureRows>(name);
    REQUIRE(rows);
    return *rows;
}

TEST_CASE("a ground's own figures are changed where the ground is chosen, and bear on it alone", "[worker]") {
    Bench bench;
    bench.click("rail Balance");
    auto* ground = bench.find<QComboBox>("ground");
    ground->setCurrentIndex(static_cast<int>(Ground::Gravel));
    emit ground->activated(ground->currentIndex());
    bench.click("balance group 4");
    station(bench).finish();
    const auto limit = [&](Ground on) {
        const job::Job& j = bench.job();
        return balance::outright_limit(model::to_model(j.vehicle, j.trial, bench.document().trial().car, on)).lateral;
    };
    const double gravel = limit(Ground::Gravel), dry = limit(Ground::Dry);
    bench.type("vehicle/grounds/gravel/grip", "0.5");
    CHECK(limit(Ground::Gravel) < 0.9 * gravel);
    CHECK(limit(Ground::Dry) == dry);
    bench.type("vehicle/grounds/gravel/roughness", "plane");
    CHECK(bench.job().vehicle.grounds[Ground::Gravel].roughness.value == 0);
    bench.document().undo().undo();
    bench.document().undo().undo();
    CHECK(bench.job().vehicle.grounds == job::usual_grounds());
    // Found from elsewhere, the ground is chosen with it.
    CHECK(station(bench).go_to("vehicle/grounds/snow/speed"));
    CHECK(ground->currentIndex() == static_cast<int>(Ground::Snow));
    CHECK(bench.find<QLineEdit>("vehicle/grounds/snow/speed"));
}

TEST_CASE("a use is chosen, what it wants is changed, and the window says where the car stands in it", "[worker]") {
    Bench bench;
    bench.click("rail Balance");
    bench.click("reading Use");
    auto* reading = bench.window.findChild<UseReading*>();
    reading->finish();
    CHECK(Ink::of(*reading).says("Use: road"));
    CHECK(Ink::of(*reading).says("leans too much")); // 8.1 degrees per g
    CHECK(Ink::of(*reading).says("dots: best bars"));
    bench.click("balance group 3");
    auto* use = bench.find<QComboBox>("vehicle/use/use");
    use->setCurrentIndex(static_cast<int>(job::Use::Rocks));
    emit use->activated(use->currentIndex());
    reading->finish();
    CHECK(Ink::of(*reading).says("Use: rocks"));
    CHECK_FALSE(Ink::of(*reading).says("leans too much"));
    bench.type("vehicle/use/lean_most", "7.5");
    reading->finish();
    CHECK(Ink::of(*reading).says("leans too much"));
    bench.type("vehicle/use/lean_most", "usual");
    CHECK(bench.job().vehicle.use.lean_most == job::Measured{job::by_use});
}

/// The place of a way of that name that helps; −1: none.
int way_named(const CuresPage& page, const char* name) {
    const auto& ways = page.found()->cures.ways;
    for (std::size_t i = 0; i < ways.size(); ++i)
        if (ways[i].helps() && say::words_of(ways[i], page.found()->of.vehicle(), page.found()->sets) == name)
            return static_cast<int>(i);
    return -1;
}
} // namespace

TEST_CASE(
    "from a complaint to a cure on trial: what is heard, the evidence, two ways, the bar changed, the limit moved",
    "[path]") {
    Bench bench;
    bench.click("rail Balance");
    station(bench).finish();
    bench.click("heard pushes in the middle");
    CHECK(bench.job().heard.size() == 3);
    auto* told = bench.find<QLabel>("evidence");
    REQUIRE(told);
    QTRY_VERIFY(told->text().contains("pushes"));
    CHECK(told->text().contains("Front gives up first at"));
    CHECK(told->text().contains("measure"));
    CHECK(told->text().contains("feels the same"));
    auto* curve = bench.window.findChild<CurveReading*>();
    CHECK(Ink::of(*curve).says("Who gives up first"));

    // A stiffer rear bar brings the ends nearer: so it is told, and so it is.
    const double before = study::balance_of(
        balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car)));
    emit told->linkActivated(QString::number(static_cast<int>(say::Complaint::PushesMiddle))); // from what is heard
    CuresPage& page = *bench.window.findChild<CuresPage*>();
    CHECK(page.drawing()->isVisible());
    CHECK(bench.find<NumberBox>("wanted")->value() == 0);
    constexpr double wanted = -0.11;
    bench.find<NumberBox>("wanted")->set_value(wanted);
    bench.find<QComboBox>("rule")->setCurrentIndex(2); // counted from Fitted: Trial has another front bar
    bench.click("work out cures");
    CHECK(bench.find<QLabel>("cure note")->text().contains("front bar"));
    bench.find<QComboBox>("rule")->setCurrentIndex(3);
    bench.click("work out cures");
    CHECK(bench.find<QLabel>("cure note")->text() == "Heads and seat on dry patched ground at 72 km/h, loads as now.");
    station(bench).finish();
    REQUIRE(page.found());
    auto& ways = *bench.find<WaysList>("ways");
    const int rear = way_named(page, "Stiffer rear bar");
    REQUIRE(rear >= 0);
    const Ink cards = Ink::of(*page.drawing());
    CHECK((cards.says("Stiffer rear bar") && cards.says("ramps")));
    // What is dangerous of a way is said before what it costs, and ways without such come first.
    const Ink list = Ink::of(ways);
    CHECK((list.says("Front bar off") && list.says("Holds less braking in")));
    CHECK(page.found()->way(0)->dangers.empty());
    QTest::mouseClick(&ways, Qt::LeftButton, {}, ways.row(rear).center().toPoint());
    CHECK(page.found()->way(page.found()->chosen)->end == End::Rear);
    const job::Job all = bench.job();
    bench.click("cure on trial");
    CHECK(bench.job().trial.rear.bar.outer_diameter.value > 1.04 * all.trial.rear.bar.outer_diameter.value);
    CHECK(bench.job().fitted == all.fitted);
    CHECK(bench.job().trial.front == all.trial.front);
    const job::Job once = bench.job();
    CHECK_FALSE(page.found()); // not a second time
    CHECK_FALSE(bench.find<QPushButton>("cure on trial")->isEnabled());
    CHECK(bench.job() == once);
    CHECK(Ink::of(*page.drawing()).says("The car or its ground has changed since"));
    const double after = study::balance_of(
        balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car)));
    CHECK(before < wanted - 0.01);
    CHECK(after == Approx(wanted).margin(0.0005));
    CHECK(station(bench).isVisible());
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job().heard.size() == 2);
}

TEST_CASE("a cure that makes a part touch says so on its card") {
    Bench bench;
    bench.click("rail Balance");
    bench.click("reading Cures");
    CuresPage& page = *bench.window.findChild<CuresPage*>();
    page.want(study::Aim::Lean, 4 * units::deg / units::g);
    station(bench).finish();
    REQUIRE(page.found());
    const int way = way_named(page, "Stiffer front bar");
    REQUIRE(way >= 0);
    auto& ways = *bench.find<WaysList>("ways");
    QTest::mouseClick(&ways, Qt::LeftButton, {}, ways.row(way).center().toPoint());
    page.finish();
    constexpr const char* words = "bar to winter wheel, 235 touches";
    const auto all = say::cautions(bench.job().vehicle, *page.found()->cures.ways[static_cast<std::size_t>(way)].to,
                                   units::System::Metric);
    CHECK(std::ranges::any_of(all, [&](const std::string& caution) { return caution.find(words) != caution.npos; }));
    CHECK(say::cautions(bench.job().vehicle, bench.job().trial, units::System::Metric).size() < all.size());
    CHECK(Ink::of(*page.drawing()).says(words));
}

TEST_CASE("the bend is scrubbed by slider, keys and the mass's handle, and the grounds follow") {
    Bench bench;
    bench.click("rail Balance");
    BalanceDrawing& d = drawing(bench);
    bench.find<QSlider>("bend scrub")->setValue(30);
    CHECK(d.lateral() == Approx(0.3 * g));
    CHECK(Ink::of(d).says("left-hand bend at 0.30 g"));
    bench.window.setFocus();
    QTest::keyClick(&bench.window, ']');
    CHECK(d.lateral() == Approx(0.32 * g));
    (void)d.grab();
    QTest::mousePress(&d, Qt::LeftButton, {}, d.mass_handle().toPoint());
    const QPointF to = d.mass_handle() + QPointF(30, 0);
    QMouseEvent move(QEvent::MouseMove, to, d.mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&d, &move);
    QTest::mouseRelease(&d, Qt::LeftButton, {}, to.toPoint());
    CHECK(d.lateral() > 0.4 * g);
    auto* ground = bench.find<QComboBox>("ground");
    ground->setCurrentIndex(static_cast<int>(Ground::Snow));
    emit ground->activated(ground->currentIndex());
    CHECK(d.ground() == Ground::Snow);
    bench.find<QSlider>("bend scrub")->setValue(60);
    CHECK(Ink::of(d).says("more than the"));
    CHECK(Ink::of(d).says("slides"));
    bench.find<QSlider>("bend scrub")->setValue(120);
    CHECK_FALSE(Ink::of(d).words.empty());
}

TEST_CASE("bars from none to rigid, one wheel, the ride, conditions and schools say their figures", "[worker]") {
    Bench bench;
    bench.click("rail Balance");
    station(bench).finish();
    bench.click("reading Bars");
    const Ink bars = Ink::of(*bench.window.findChild<BarsReading*>());
    CHECK(bars.says("holds most at"));
    CHECK(bars.says("more: ")); // of so many cars in a hundred
    CHECK(bars.says("rigid"));
    bench.click("reading Bump");
    const auto& figures = *bench.window.findChild<BalanceSums*>();
    const Ink over_bump = Ink::of(*bench.window.findChild<QWidget*>("bump reading"));
    CHECK(over_bump.says("× 1.62"));
    CHECK(over_bump.says("without the front bar"));
    CHECK(over_bump.says(QString::fromStdString(units::fixed(figures.rocking(false)->now, 1))));
    // What is drawn is what is told.
    double most = 0;
    for (const balance::Moment& m : figures.rocking(false)->moments) most = std::max(most, std::abs(m.head));
    CHECK(most == Approx(figures.rocking(false)->now).epsilon(0.02));
    bench.window.setFocus();
    QTest::keyClick(&bench.window, Qt::Key_Space);
    QTRY_VERIFY(Ink::of(*bench.window.findChild<BalanceDrawing*>()).says("over a kerb"));
    QTest::keyClick(&bench.window, Qt::Key_Space);
    bench.click("reading Ride");
    station(bench).finish();
    const Ink ride = Ink::of(*bench.window.findChild<QWidget*>("ride reading"));
    for (const char* words : {"seat, up and down", "front wheels' loads", "under 1 of 100", "How fast it shakes",
                              "lets go", "gently", "dies away", "suddenly, in 100 such cars"})
        CHECK(ride.says(words));
    for (const job::Setup* of : {&bench.job().fitted, &bench.job().trial}) {
        const double share = sure::goes_over(bench.job().vehicle, *of, Ground::Dry).sudden;
        CHECK(ride.says(QString::number(std::lround(100 * share))));
    }
    for (const Word& w : ride.words) {
        INFO(w.text.toStdString());
        CHECK_FALSE(w.text.contains(QString::fromUtf8("…")));
    }
    CHECK(ride.faults().join("; ") == "");
    bench.click("reading Conditions");
    auto* grid = bench.window.findChild<ConditionsPage*>();
    grid->finish();
    auto& conditions = *bench.find<QWidget>("conditions");
    const auto said = [&](const char* words) { return Ink::of(conditions).says(words); };
    CHECK(said("gravel"));
    CHECK(said("front, 15 %"));
    CHECK(said("everything aboard"));
    CHECK(conditions.accessibleDescription().contains("snow, loaded as now: "));
    CHECK_FALSE(said("±"));
    bench.click("conditions with bands");
    CHECK(grid->working());
    bench.click("conditions with bands"); // stopped
    CHECK_FALSE(grid->working());
    bench.click("conditions with bands");
    grid->finish();
    CHECK(said("±"));
    bench.document().edit("heavier", {}, [](job::Job& j) { j.vehicle.loads[0].mass.value = 200; });
    bench.settle();
    CHECK_FALSE(said("±")); // they were of another car
    CHECK(page(bench, "Schools", "schools").value("balance at the limit").startsWith("-"));
}

TEST_CASE("manoeuvres, kerbs, gusts and what a driver lets go of say their figures, and are played") {
    Bench bench;
    bench.click("rail Balance");
    bench.click("reading Manoeuvre");
    auto* reading = bench.window.findChild<ManoeuvreReading*>();
    reading->finish();
    CHECK(Ink::of(*reading).says("most lean"));
    auto* kind = bench.find<QComboBox>("manoeuvre");
    kind->setCurrentIndex(0);
    emit kind->activated(0);
    reading->finish();
    CHECK(Ink::of(*reading).says("yaw at 90 % after"));
    bench.find<QSlider>("manoeuvre push")->setValue(20);
    CHECK(reading->drive().lateral == Approx(0.2 * g));
    kind->setCurrentIndex(static_cast<int>(balance::Manoeuvre::Gust));
    emit kind->activated(kind->currentIndex());
    CHECK(reading->drive().wind == Approx(1000));
    reading->finish();
    CHECK(Ink::of(*reading).says("drifts in the end"));
    auto* bump = bench.window.findChild<QSlider*>("manoeuvre bump");
    CHECK_FALSE(bump->isVisible());
    const auto disturbed = [&](balance::Manoeuvre m) {
        kind->setCurrentIndex(static_cast<int>(m));
        emit kind->activated(kind->currentIndex());
        reading->finish();
        return Ink::of(*reading);
    };
    CHECK(disturbed(balance::Manoeuvre::Kerb).says("longest in the air"));
    CHECK(bump->isVisible());
    const double jolt = reading->run()->seat;
    bump->setValue(10);
    CHECK(reading->drive().bump == Approx(0.01));
    bench.document().set_units(units::System::Inch);
    bump->setValue(12); // half an inch, and not 0 in
    const auto labels = bench.window.findChild<ManoeuvrePage*>()->findChildren<QLabel*>();
    CHECK(std::any_of(labels.begin(), labels.end(), [](QLabel* l) { return l->text().endsWith("0.5 in"); }));
    bench.document().set_units(units::System::Metric);
    bump->setValue(10);
    reading->finish();
    CHECK(reading->run()->seat < jolt);
    CHECK(disturbed(balance::Manoeuvre::ThrottleLifted).says("outwards after 1 s"));
    CHECK(disturbed(balance::Manoeuvre::WindGap).says("to the right after 1 s"));
    bench.find<QSlider>("manoeuvre push")->setValue(90);
    CHECK(disturbed(balance::Manoeuvre::Patch).says("more than the tyres hold"));
    bench.find<QSlider>("manoeuvre push")->setValue(20);
    CHECK_FALSE(disturbed(balance::Manoeuvre::BrakeReleased).says("more than the tyres hold"));
    // Played: the drawing shows the moment, and the bend again on another page.
    bench.window.setFocus();
    QTest::keyClick(&bench.window, ' ');
    CHECK(QTest::qWaitFor([&] { return Ink::of(drawing(bench)).says("steered at"); }, 600000));
    QTest::keyClick(&bench.window, ' ');
    bench.click("reading Limit");
    CHECK(Ink::of(drawing(bench)).says("left-hand bend"));
}

TEST_CASE("tyre figures are entered with their source, and the limit and its band follow", "[worker]") {
    Bench bench;
    bench.click("rail Balance");
    station(bench).finish();
    auto* curve = bench.window.findChild<CurveReading*>();
    CHECK(Ink::of(*curve).says("± 0."));
    bench.click("balance group 1");
    const double before =
        balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car))
            .lateral;
    bench.type("trial/front/tyres/grip", "0.8");
    CHECK(balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car))
              .lateral < before - 0.05 * g);
    bench.type("trial/front/tyres/grip", "80");
    CHECK(bench.document().old());
    auto* differential = bench.find<QComboBox>("trial/front/stand/differential");
    REQUIRE(differential);
    bench.click("balance group 3");
    CHECK(bench.find<QComboBox>("vehicle/handling/driven"));
    bench.document().set_units(units::System::Inch);
    bench.click("reading Manoeuvre");
    CHECK_FALSE(Ink::of(*bench.window.findChild<ManoeuvreReading*>()).words.empty());
}

TEST_CASE("another school's goal, Fitted's own reading, and springs go on Trial as a bar does") {
    Bench bench;
    bench.click("rail Balance");
    bench.click("reading Cures");
    auto* aim = bench.find<QComboBox>("aim");
    aim->setCurrentIndex(static_cast<int>(study::Aim::Understeer));
    emit aim->activated(aim->currentIndex());
    auto* wanted = bench.find<NumberBox>("wanted");
    bench.click("wanted as fitted");
    const auto fitted = study::reading(study::Aim::Understeer, model::to_model(bench.job().vehicle, bench.job().fitted,
                                                                               bench.document().fitted().car));
    CHECK(wanted->value() == Approx(*fitted).margin(0.006 * units::deg / units::g));
    bench.click("work out cures");
    station(bench).finish();
    CuresPage& page = *bench.window.findChild<CuresPage*>();
    auto& ways = *bench.find<WaysList>("ways");
    const auto take = [&](const char* name) {
        const int way = way_named(page, name);
        if (way < 0) return false;
        while (page.found()->shown[page.found()->chosen] != way) { // by the keyboard
            const int now = page.found()->shown[page.found()->chosen];
            QTest::keyClick(&ways, way > now ? Qt::Key_Down : Qt::Key_Up);
            if (page.found()->shown[page.found()->chosen] == now) return false;
        }
        bench.click("cure on trial");
        return true;
    };
    auto* ground = bench.find<QComboBox>("ground");
    ground->setCurrentIndex(static_cast<int>(Ground::Wet));
    emit ground->activated(ground->currentIndex());
    CHECK_FALSE(page.found()); // they were of the dry
    ground->setCurrentIndex(static_cast<int>(Ground::Dry));
    emit ground->activated(ground->currentIndex());
    bench.click("work out cures");
    station(bench).finish();
    const job::Job before = bench.job();
    REQUIRE((take("Stiffer rear springs") || take("Softer rear springs")));
    CHECK(bench.job().fitted == before.fitted); // the car is as it was
    const job::Setup& trial = bench.job().trial;
    CHECK(trial.rear.springs.id != before.fitted.rear.springs.id);
    CHECK(*study::reading(study::Aim::Understeer,
                          model::to_model(bench.job().vehicle, trial, bench.document().trial().car)) ==
          Approx(*fitted).margin(0.01 * units::deg / units::g));
    CHECK(static_cast<const job::Assembly&>(trial.front) == before.trial.front);
    bench.document().set_look(Look::Fitted); // worked out on Fitted, Trial keeps its bars
    station(bench).finish();
    bench.click("wanted as fitted");
    wanted->set_value(wanted->value() + 0.3 * units::deg / units::g);
    bench.click("work out cures");
    station(bench).finish();
    REQUIRE((take("Softer rear springs") || take("Stiffer rear springs")));
    CHECK(static_cast<const job::Assembly&>(bench.job().trial.front) == before.trial.front);
    CHECK(bench.job().fitted == before.fitted);
    CHECK(bench.document().look() == Look::Trial);
    bench.window.go_to_field("trial/rear/springs/rate"); // the Trial's own springs, in Car
    CHECK(bench.find<QWidget>("trial/rear/springs/rate")->isVisible());
    bench.document().set_look(Look::Fitted);
    bench.window.go_to_field("fitted/rear/springs/rate");
    CHECK(bench.find<QWidget>("fitted/rear/springs/rate")->isVisible());
    bench.document().set_look(Look::Trial);
    // The tally says it too, with its band.
    bench.document().finish_bands();
    CHECK(Ink::of(*bench.find<QWidget>("tally")).says("front gives up"));
}
