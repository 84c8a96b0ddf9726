#include "core/study/balance.h"
#include "core/model/tyres.h"
#include "core/say/working.h"
#include "core/study/means.h"
#include <catch2/catch.hpp>

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/balance/balance_station.h"
#include "app/balance/conditions_page.h"
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
    QTest::qWait(80);
    auto* rows = bench.find<FigureRows>(name);
    REQUIRE(rows);
    return *rows;
}

QString note_of(const FigureRows& rows, const QString& what) {
    for (const FigureRow& r : rows.rows())
        if (r.what == what) return r.note;
    return {};
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
    CHECK(Ink::of(*reading).says("leans more than it bears")); // 8.1 degrees per g
    CHECK(Ink::of(*reading).says("dots: the bars that hold most"));
    bench.click("balance group 3");
    auto* use = bench.find<QComboBox>("vehicle/use/use");
    use->setCurrentIndex(static_cast<int>(job::Use::Rocks));
    emit use->activated(use->currentIndex());
    reading->finish();
    CHECK(Ink::of(*reading).says("Use: rocks"));
    CHECK_FALSE(Ink::of(*reading).says("leans more than it bears"));
    bench.type("vehicle/use/lean_most", "7.5");
    reading->finish();
    CHECK(Ink::of(*reading).says("leans more than it bears"));
    bench.type("vehicle/use/lean_most", "usual");
    CHECK(bench.job().vehicle.use.lean_most == job::Measured{job::by_use});
}

} // namespace

TEST_CASE("from a complaint to a cure on trial: what is heard, the evidence, a means, the bar changed, the limit moved",
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
    bench.click("reading Cures");
    constexpr double wanted = -0.11;
    bench.find<NumberBox>("wanted balance")->set_value(wanted);
    auto* rule = bench.find<QComboBox>("rule");
    rule->setCurrentIndex(3);
    bench.click("work out means");
    station(bench).finish();
    const FigureRows& means = *bench.find<FigureRows>("other means");
    REQUIRE(means.rows().size() >= 2);
    const QString rear = means.value("rear bar");
    REQUIRE(rear.startsWith("× "));
    const double factor = rear.mid(2).toDouble();
    CHECK((factor > 1.2 && factor < 6));
    CHECK(note_of(means, "rear bar").contains("ramps"));
    const double before = study::balance_of(
        balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car)));
    auto* cure = bench.find<QComboBox>("cure");
    REQUIRE(cure);
    CHECK(cure->currentText().startsWith("rear bar"));
    const double was = bench.job().trial.rear.bar.outer_diameter.value;
    bench.click("cure on trial");
    CHECK(bench.job().trial.rear.bar.outer_diameter.value == Approx(was * std::pow(factor, 0.25)).epsilon(0.05));
    const job::Job once = bench.job();
    bench.click("cure on trial"); // not a second time
    CHECK(bench.job() == once);
    CHECK(cure->count() == 0);
    const double after = study::balance_of(
        balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car)));
    CHECK(before < wanted - 0.01);
    CHECK(after == Approx(wanted).margin(0.005));
    CHECK(station(bench).isVisible());
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job().heard.size() == 2);
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

TEST_CASE("bars from none to rigid, one wheel, manoeuvres, conditions and schools say their figures", "[worker]") {
    Bench bench;
    bench.click("rail Balance");
    station(bench).finish();
    bench.click("reading Bars");
    const Ink bars = Ink::of(*bench.window.findChild<BarsReading*>());
    CHECK(bars.says("holds most at"));
    CHECK(bars.says("surely more: 100"));
    CHECK(bars.says("rigid"));
    CHECK(page(bench, "Bump", "one wheel").value("that over both wheels") == "× 1.62");
    bench.click("reading Ride");
    const Ink ride = Ink::of(*bench.window.findChild<QWidget*>("ride reading"));
    for (const char* words : {"seat, up and down", "front wheels' loads", "under 1 of 100", "How fast it shakes",
                              "lets go", "gently", "dies away"})
        CHECK(ride.says(words));
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
    QTest::qWait(120);
    CHECK_FALSE(said("±")); // they were of another car
    CHECK(page(bench, "Schools", "schools").value("limit: front beyond rear").startsWith("-"));
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
    QTest::qWait(200);
    CHECK(Ink::of(drawing(bench)).says("steered at"));
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
    bench.type("fitted/front/tyres/grip", "0.8");
    CHECK(balance::outright_limit(model::to_model(bench.job().vehicle, bench.job().trial, bench.document().trial().car))
              .lateral < before - 0.05 * g);
    bench.type("fitted/front/tyres/grip", "80");
    CHECK(bench.document().old());
    auto* differential = bench.find<QComboBox>("fitted/front/stand/differential");
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
    auto* school = bench.find<QComboBox>("school");
    school->setCurrentIndex(static_cast<int>(study::School::Understeer));
    emit school->activated(school->currentIndex());
    auto* wanted = bench.find<NumberBox>("wanted balance");
    bench.click("wanted as fitted");
    const auto fitted =
        study::reading(study::School::Understeer,
                       model::to_model(bench.job().vehicle, bench.job().fitted, bench.document().fitted().car));
    CHECK(wanted->value() == Approx(*fitted).margin(0.006 * units::deg / units::g));
    bench.click("work out means");
    station(bench).finish();
    auto* cure = bench.find<QComboBox>("cure");
    const int springs = cure->findText("rear springs", Qt::MatchStartsWith);
    REQUIRE(springs >= 0);
    cure->setCurrentIndex(springs);
    const job::Job before = bench.job();
    bench.click("cure on trial");
    CHECK(bench.job().fitted == before.fitted); // the car is as it was
    const job::Setup& trial = bench.job().trial;
    CHECK(trial.rear.springs.id != before.fitted.rear.springs.id);
    CHECK(*study::reading(study::School::Understeer,
                          model::to_model(bench.job().vehicle, trial, bench.document().trial().car)) ==
          Approx(*fitted).margin(0.01 * units::deg / units::g));
    CHECK(static_cast<const job::Assembly&>(trial.front) == before.trial.front);
    bench.document().set_look(Look::Fitted); // worked out on Fitted, Trial keeps its bars
    station(bench).finish();
    bench.click("wanted as fitted");
    wanted->set_value(wanted->value() + 0.3 * units::deg / units::g);
    bench.click("work out means");
    station(bench).finish();
    if (const int soft = cure->findText("rear springs", Qt::MatchStartsWith); soft >= 0) {
        cure->setCurrentIndex(soft);
        bench.click("cure on trial");
        CHECK(static_cast<const job::Assembly&>(bench.job().trial.front) == before.trial.front);
        CHECK(bench.job().fitted == before.fitted);
    }
    bench.document().set_look(Look::Trial);
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
