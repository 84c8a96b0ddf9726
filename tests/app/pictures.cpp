#include "core/say/working.h"
#include "core/study/assess.h"
#include <catch2/catch.hpp>

#include "app/balance/balance_drawing.h"
#include "app/balance/balance_readings.h"
#include "app/balance/manoeuvre_page.h"
#include "app/bar/bar_readings.h"
#include "app/car/measuring_list.h"
#include "app/links/links_drawing.h"
#include "app/links/sweep_reading.h"
#include "app/paint/pen.h"
#include "app/prove/plan_drawing.h"
#include "app/shell/stations.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/measure_next.h"
#include "bench_window.h"
#include "ink.h"
#include "solving_paints.h"

#include <random>
#include <set>

using namespace dervish;
using namespace dervish::app;
using say::Figure;

namespace {
/// Every painted widget of the window that is seen now.
std::vector<QWidget*> painted(Bench& bench) {
    std::vector<QWidget*> out;
    const auto take = [&](auto* w) {
        if (w && w->isVisible()) out.push_back(w);
    };
    take(bench.window.findChild<CarDrawing*>());
    take(bench.window.findChild<MeasuringList*>());
    take(bench.window.findChild<BarDrawing*>());
    take(bench.window.findChild<BarReadings*>());
    take(bench.window.findChild<RunChart*>());
    take(bench.window.findChild<PlanDrawing*>());
    take(bench.window.findChild<PeopleDrawing*>());
    take(bench.window.findChild<BalanceDrawing*>());
    take(bench.window.findChild<CurveReading*>());
    take(bench.window.findChild<BarsReading*>());
    take(bench.window.findChild<ManoeuvreReading*>());
    take(bench.window.findChild<LinksDrawing*>());
    take(bench.window.findChild<SweepReading*>());
    for (FigureRows* rows : bench.window.findChildren<FigureRows*>()) take(rows);
    take(&bench.window.tally());
    for (MeasureNext* next : bench.window.findChildren<MeasureNext*>()) take(next);
    return out;
}

/// No word cut off and none over another, in every station.
void check_clean(Bench& bench, const char* state) {
    for (const StationKind& kind : station_kinds()) {
        const char* station = kind.title;
        bench.window.show_station(station);
        for (int i = 0; i < 3; ++i) QCoreApplication::processEvents();
        for (QWidget* w : painted(bench)) {
            const Ink ink = Ink::of(*w);
            INFO(state << ", " << station << ", " << w->metaObject()->className() << " " << w->width() << " x "
                       << w->height() << ": " << ink.faults().join("; ").toStdString());
            CHECK(ink.faults().isEmpty());
            CHECK_FALSE(ink.words.empty());
        }
    }
}

template <class W> Ink ink_of(Bench& bench) {
    W* w = bench.window.findChild<W*>();
    REQUIRE(w);
    return Ink::of(*w);
}
} // namespace

TEST_CASE("the pictures of every station are written whole, and nothing is solved inside a paint event", "[.shots]") {
    Bench bench;
    solving_paints.clear();
    bench.document().edit("diameter", {}, [](job::Job& j) { j.trial.front.bar.outer_diameter.value = 25e-3; });
    bench.window.take_shots(bench.folder.filePath("shots"));
    CAPTURE(solving_paints.join(", ").toStdString());
    CHECK(solving_paints.isEmpty());
    const QDir written(bench.folder.filePath("shots")), kept(DERVISH_SCREENSHOTS);
    CHECK(written.entryList({"*.png"}) == kept.entryList({"*.png"}));
    CHECK(kept.entryList({"*.png"}).size() > 10);
    for (const QString& name : written.entryList({"*.png"})) {
        CAPTURE(name.toStdString());
        CHECK(QImage(written.filePath(name)).size() == QSize(1280, 800) * bench.window.devicePixelRatio());
        CHECK(QFileInfo(written.filePath(name)).size() > 30000); // blank or half drawn it packs far smaller
    }
}

TEST_CASE("no word is cut or covered: the demo, both looks, all units") {
    Bench bench;
    bench.document().finish_bands();
    for (const units::System system : {units::System::Metric, units::System::Inch, units::System::InchMetricRates}) {
        bench.document().set_units(system);
        for (const Look look : {Look::Trial, Look::Fitted}) {
            bench.document().set_look(look);
            bench.document().finish_bands();
            check_clean(bench, look == Look::Trial ? "trial" : "fitted");
        }
    }
}

TEST_CASE("no word is cut or covered in the smallest window") {
    Bench bench;
    bench.window.resize(1024, 700);
    bench.document().finish_draws(); // unlike sides are the longest words
    check_clean(bench, "small");
}

TEST_CASE("no word is cut or covered in an empty job, at night, and in a large window") {
    Bench bench(false);
    bench.document().finish_bands();
    check_clean(bench, "empty");
    bench.window.resize(1900, 1000);
    check_clean(bench, "large");
}

TEST_CASE("no word is cut or covered while a field waits, with links off, without a bar") {
    Bench bench;
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "950");
    check_clean(bench, "waiting");
    bench.document().undo().undo();
    bench.document().edit("links off", {}, [](job::Job& j) { j.trial.front.connected = false; });
    check_clean(bench, "links off");
    bench.document().edit("no bar", {}, [](job::Job& j) { j.trial.front.fitted = false; });
    check_clean(bench, "no bar");
}

TEST_CASE("the bar's drawing says what it shows") {
    Bench bench;
    bench.window.show_station("Bar");
    bench.document().finish_bands();
    Ink ink = ink_of<BarDrawing>(bench);
    CHECK(ink.says("Front bar"));
    CHECK(ink.says("26.00 mm ± 0.05, solid"));
    CHECK(ink.says("roll-mode rate at the eye"));
    CHECK(ink.says("times standard"));
    CHECK(ink.says("of the give"));
    CHECK(ink.says("links and joints take"));
    CHECK(ink.says(QString::fromStdString(units::fixed(bench.document().trial().front->eye_rate / 1e3, 1))));
    bench.document().set_look(Look::Fitted);
    ink = ink_of<BarDrawing>(bench);
    CHECK(ink.says("as fitted"));
    CHECK(ink.says("1.00")); // times standard, which is Fitted
    bench.document().set_look(Look::Trial);
    bench.document().edit("tube", {}, [](job::Job& j) { j.trial.front.bar.wall.value = 4e-3; });
    CHECK(ink_of<BarDrawing>(bench).says("tube, wall 4.0 mm"));
    bench.document().edit("off", {}, [](job::Job& j) { j.trial.front.connected = false; });
    ink = ink_of<BarDrawing>(bench);
    CHECK(ink.says("link off: tie it up or take it off"));
    CHECK_FALSE(ink.says("weakest here"));
    bench.document().edit("none", {}, [](job::Job& j) { j.trial.front.fitted = false; });
    CHECK(ink_of<BarDrawing>(bench).says("No bar on this axle"));
    bench.click("rear bar");
    CHECK(ink_of<BarDrawing>(bench).says("Rear bar"));
}

TEST_CASE("a bar that would yield says so, and where") {
    Bench bench;
    bench.window.show_station("Bar");
    CHECK(ink_of<BarDrawing>(bench).says("weakest here, reserve"));
    bench.document().edit("soft", {}, [](job::Job& j) { j.trial.front.bar.yield_strength.value = 60e6; });
    CHECK(ink_of<BarDrawing>(bench).says("yields here"));
}

TEST_CASE("a thick line covers what a round pen covers, round any corner and over itself") {
    std::mt19937 dice(7);
    std::uniform_real_distribution<double> place(40, 260), turn(-0.5, 0.5);
    for (int drawn = 0; drawn < 62; ++drawn) {
        QPolygonF line;
        if (drawn == 60) { // further out and back again
            line << QPointF(60, 150) << QPointF(240, 150) << QPointF(150, 150);
        } else if (drawn == 61) { // round to where it began
            line << QPointF(60, 60) << QPointF(240, 60) << QPointF(240, 240) << QPointF(60, 60);
        } else if (drawn % 2) { // sharp corners anywhere
            for (int i = 0; i < 6; ++i) line << QPointF(place(dice), place(dice));
        } else { // smooth, a few pixels a step
            QPointF at(150, 150);
            double way = 0, bend = 0;
            for (int i = 0; i < 40; ++i) {
                line << at;
                bend = std::clamp(bend + turn(dice) / 2, -0.4, 0.4);
                way += bend;
                at += 4 * QPointF(std::cos(way), std::sin(way));
            }
        }
        const double thick = 3 + drawn % 20;
        QImage by_pen(300, 300, QImage::Format_RGB32), by_us = by_pen;
        by_pen.fill(Qt::white);
        by_us.fill(Qt::white);
        QPainter pen(&by_pen), us(&by_us);
        for (QPainter* p : {&pen, &us}) p->setRenderHint(QPainter::Antialiasing);
        pen.setPen(QPen(Qt::black, thick, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        pen.drawPolyline(line);
        paint::thick_line(us, line, thick, Qt::black);
        int covered = 0, unlike = 0;
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 300; ++x) {
                covered += qGray(by_pen.pixel(x, y)) < 128;
                unlike += std::abs(qGray(by_pen.pixel(x, y)) - qGray(by_us.pixel(x, y))) > 128;
            }
        INFO("line " << drawn << ", " << thick << " px: " << unlike << " of " << covered << " pixels");
        CHECK(covered > 200);
        CHECK(unlike <= covered / 200 + 3);
    }
}

TEST_CASE("the readings under the bar: shares that add up, a ladder, three formulas") {
    Bench bench;
    bench.window.show_station("Bar");
    const Ink ink = ink_of<BarReadings>(bench);
    double sum = 0;
    int shares = 0;
    for (const Word& w : ink.words)
        if (w.text.endsWith(" %") && w.text.contains('.')) {
            sum += w.text.chopped(2).toDouble();
            ++shares;
        }
    CHECK(shares == 8);
    CHECK(sum == Approx(100).margin(0.5));
    const auto ladder = study::eye_ladder(bench.job().trial.front, bench.job().vehicle.front);
    for (const auto& row : ladder)
        for (const double k : row) CHECK(ink.says(QString::fromStdString(units::fixed(k / 1e3, 1))));
    const study::BarFigures& f = *bench.document().trial().front;
    for (const double k : {f.twist_only, f.textbook, f.one_side})
        CHECK(ink.says(QString::fromStdString(units::fixed(k / 1e3, 1))));
}

TEST_CASE("a click on the ladder takes the eyes, as one step back") {
    Bench bench;
    bench.window.show_station("Bar");
    auto* readings = bench.window.findChild<BarReadings*>();
    const job::Job before = bench.job();
    const double softest = study::eye_ladder(bench.job().trial.front, bench.job().vehicle.front)[0][0];
    for (const Word& w : Ink::of(*readings).words)
        if (w.text == QString::fromStdString(units::fixed(softest / 1e3, 1)) && w.box.top() > 50) {
            QTest::mouseClick(readings, Qt::LeftButton, {}, w.box.center().toPoint());
            break;
        }
    CHECK(bench.job().trial.front.left_eye == 0);
    CHECK(bench.job().trial.front.right_eye == 0);
    CHECK(bench.document().trial().front->eye_rate == Approx(softest));
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job() == before);
}

TEST_CASE("the car's drawing shows the loads, the masses and the wheels' loads") {
    Bench bench;
    bench.window.show_station("Car");
    Ink ink = ink_of<CarDrawing>(bench);
    const car::State level = car::settle(bench.document().trial().car, {});
    for (const car::Wheel& w : level.wheels)
        CHECK(ink.says(
            QString::fromStdString(units::text(w.load / units::g, units::Quantity::Mass, units::System::Metric, 0))));
    for (const job::Load& l : bench.job().vehicle.loads) CHECK(ink.says(QString::fromStdString(l.name)));
    CHECK(ink.says("wheelbase"));
    CHECK(ink.says("roll axis"));
    bench.document().set_units(units::System::Inch);
    ink = ink_of<CarDrawing>(bench);
    CHECK(ink.says(" lb"));
    CHECK_FALSE(ink.says(" kg"));
}

TEST_CASE("the measuring list counts where numbers come from, and a click goes to the field") {
    Bench bench;
    bench.window.show_station("Car");
    auto* list = bench.window.findChild<MeasuringList*>();
    Ink ink = Ink::of(*list);
    CHECK(ink.says(" measured, "));
    for (const Word& w : ink.words)
        if (w.text == "Track" && w.box.left() > list->width() / 2) {
            QTest::mouseClick(list, Qt::LeftButton, {}, w.box.center().toPoint());
            break;
        }
    CHECK(bench.find<QLineEdit>("vehicle/rear/track")->hasFocus());
    bench.type("vehicle/rear/track", "2");
    CHECK(QTest::qWaitFor([&] { return Ink::of(*list).says("waits"); }, 120000));
}

TEST_CASE("the tally: value, band, change from Fitted, and old while a field waits") {
    Bench bench;
    bench.document().finish_bands();
    Ink ink = Ink::of(bench.window.tally());
    for (const char* label : {"roll", "front share", "front gives up", "lifts on ramps at", "flex front", "flex rear"})
        CHECK(ink.says(label));
    CHECK(ink.says("± "));
    CHECK(ink.says(" from fitted"));
    bench.document().set_look(Look::Fitted);
    CHECK_FALSE(Ink::of(bench.window.tally()).says(" from fitted"));
    bench.document().set_look(Look::Trial);
    bench.click("rail Bar");
    bench.type("trial/front/bar/wall", "20");
    ink = Ink::of(bench.window.tally());
    CHECK(ink.says("old: a field waits"));
    CHECK(bench.window.tally().accessibleDescription().contains("front share"));
}

TEST_CASE("a car that lifts nothing on its ramps shows more than") {
    Bench bench;
    bench.document().edit("stands", {}, [](job::Job& j) {
        for (job::AxleData* a : {&j.vehicle.front, &j.vehicle.rear}) a->bump_gap.value = 0.9;
        for (job::AxleSetup* a : {&j.fitted.front, &j.fitted.rear}) a->dampers.droop_gap.value = 0.9;
        j.trial.front.connected = j.trial.rear.connected = false;
        for (job::AxleSetup* a : {&j.fitted.front, &j.fitted.rear}) a->springs.rate.value = 4000;
    });
    REQUIRE_FALSE(bench.document().trial().ascent.lifted);
    CHECK(bench.tally(Figure::Lift).startsWith("> "));
}

TEST_CASE("the test's chart: each state says what it is") {
    Bench bench;
    bench.window.show_station("Prove");
    Ink ink = ink_of<RunChart>(bench);
    CHECK(ink.says("agrees: read "));
    CHECK(ink.says("Height when a wheel goes light, mm"));
    bench.document().set_units(units::System::Inch);
    CHECK(ink_of<RunChart>(bench).says("Height when a wheel goes light, in"));
    bench.document().set_units(units::System::Metric);
    bench.document().edit("none", {}, [](job::Job& j) { j.tests.clear(); });
    CHECK_FALSE(ink_of<RunChart>(bench).words.empty()); // an empty state teaches
}

TEST_CASE("measure next names the guesses, widest first, once the bands are there", "[worker]") {
    Bench bench;
    bench.window.show_station("Bar");
    bench.document().set_sigma("trial/front/bar/outer_diameter", 0.8e-3);
    auto* next = bench.window.station("Bar")->findChild<MeasureNext*>();
    CHECK(Ink::of(*next).says("working it out"));
    bench.document().finish_bands();
    const Ink ink = Ink::of(*next);
    CHECK(ink.says("front bar's rate"));
    CHECK(ink.says("outer dia"));
    CHECK_FALSE(ink.says("working it out"));
}

namespace {
QStringList told_by_qt; ///< such as that an arc is nowhere
}

TEST_CASE("a car that cannot stand or tips at once is told as such on every page, and nothing is not a number") {
    Bench bench;
    told_by_qt.clear();
    QString page;
    const auto before = qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString& words) {
        if (words.contains("NaN") || words.contains("nan")) told_by_qt << words;
    });
    const auto look = [&] {
        bench.settle();
        solving_paints.clear();
        bench.window.grab();
        CAPTURE(page.toStdString(), solving_paints.join(", ").toStdString());
        CHECK(told_by_qt.isEmpty());
        CHECK(solving_paints.isEmpty());
        told_by_qt.clear();
        static const QRegularExpression odd("\\b(nan|inf)\\b");
        for (QWidget* w : bench.window.findChildren<QWidget*>())
            if (w->isVisible())
                for (const Word& word : Ink::of(*w).words)
                    if (odd.match(word.text).hasMatch()) FAIL_CHECK(word.text.toStdString());
    };
    const std::pair<const char*, const char*> cars[] = {
        {"vehicle/wheelbase", "100"}, {"vehicle/wheelbase", "400"}, {"trial/front/tyres/rate", "2.55"}};
    for (const auto& [field, value] : cars) {
        bench.document().type(field, value);
        for (const StationKind& kind : station_kinds()) {
            bench.window.show_station(kind.title);
            page = QString("%1 %2, %3").arg(field, value, kind.title);
            look();
            std::set<QString> seen{"reading Plan"}; // what else would tell is asked of the test's own car
            for (bool more = true; more;) {
                more = false;
                for (QAbstractButton* b : bench.window.station(kind.title)->findChildren<QAbstractButton*>()) {
                    if (!b->group() || !b->isVisible() || !b->isEnabled() || !seen.insert(b->objectName()).second)
                        continue;
                    b->click();
                    page = QString("%1 %2, %3, %4").arg(field, value, kind.title, b->objectName());
                    look();
                    more = true;
                    break;
                }
            }
        }
        bench.document().undo().undo();
    }
    qInstallMessageHandler(before);
}
