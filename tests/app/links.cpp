#include "core/edit/edits.h"
#include "core/model/room.h"
#include "core/say/working.h"
#include "core/study/assess.h"
#include <algorithm>
#include <catch2/catch.hpp>

#include "app/links/link_pages.h"
#include "app/links/links_drawing.h"
#include "app/links/links_station.h"
#include "app/links/steps_page.h"
#include "app/links/sweep_reading.h"
#include "app/widgets/figure_rows.h"
#include "bench_window.h"
#include "ink.h"

#include "core/job/fields.h"

using namespace dervish;
using namespace dervish::app;
using units::mm;

namespace {
LinksDrawing& links_drawing(Bench& bench) { return *bench.window.findChild<LinksDrawing*>(); }

const job::LinkData& link(Bench& bench) { return bench.job().trial.front.links; }

void pick(Bench& bench, const QString& box, int entry) {
    auto* combo = bench.find<QComboBox>(box);
    REQUIRE(combo);
    combo->setCurrentIndex(entry);
    emit combo->activated(entry);
}

/// What a page under the drawing says, once its blink has passed.
const FigureRows& page(Bench& bench, const QString& chip, const QString& name) {
    bench.click("reading " + chip);
    bench.settle();
    auto* rows = bench.find<FigureRows>(name);
    REQUIRE(rows);
    return *rows;
}

void drag(QWidget& w, QPointF from, QPointF by) {
    QTest::mousePress(&w, Qt::LeftButton, {}, from.toPoint());
    for (int i = 1; i <= 5; ++i) {
        const QPointF to = from + by * i / 5;
        QMouseEvent move(QEvent::MouseMove, to, w.mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
        QCoreApplication::sendEvent(&w, &move);
    }
    QTest::mouseRelease(&w, Qt::LeftButton, {}, (from + by).toPoint());
    QCoreApplication::processEvents();
}
} // namespace

TEST_CASE("scrub the wheel, drag the link, follow a left/right check to its end", "[path]") {
    Bench bench;
    bench.click("rail Links");
    LinksDrawing& d = links_drawing(bench);
    (void)d.grab();
    // Space plays, brackets step, the joint is dragged, the slider too.
    bench.window.setFocus();
    const double start = d.own();
    QTest::keyClick(&bench.window, ']');
    CHECK(d.own() > start);
    QTest::keyClick(&bench.window, '[');
    CHECK(d.own() == Approx(start).margin(0.5 * mm)); // a slider's step
    (void)d.grab();
    drag(d, d.wheel_handle(), {0, 40});
    CHECK(d.own() < start - 10 * mm);
    bench.find<QSlider>("travel scrub")->setValue(1000);
    CHECK(
        d.own() ==
        Approx(model::to_room(bench.job().trial.front, bench.job().vehicle.front).bump)); // into the bump stop of 85 mm
    CHECK(Ink::of(d).says("this wheel 119 mm up, the other 119 mm down"));
    pick(bench, "travel mode", 1);
    CHECK(d.mode() == linkage::Mode::Bump);
    bench.find<QSlider>("travel scrub")->setValue(528);

    // The link's handle: longer by eighths of a turn, told with its turns, and undone as one step.
    (void)d.grab();
    const double before = link(bench).length.value, per_turn = 2 * link(bench).pitch.value;
    QTest::mousePress(&d, Qt::LeftButton, {}, d.link_handle().toPoint());
    const QPointF to = d.link_handle() + QPointF(2, 14);
    QMouseEvent move(QEvent::MouseMove, to, d.mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QCoreApplication::sendEvent(&d, &move);
    CHECK(link(bench).length.value > before + 3 * mm);
    const double turns = (link(bench).length.value - before) / per_turn;
    CHECK(8 * turns == Approx(std::round(8 * turns)));
    CHECK(Ink::of(d).says(QString::fromStdString(units::fixed(turns, 2)) + " turns out"));
    QTest::mouseRelease(&d, Qt::LeftButton, {}, to.toPoint());
    bench.document().undo().undo();
    CHECK(link(bench).length.value == before);

    // The check: a round, the turns told, another round, good.
    bench.click("reading Set-up");
    bench.click("step 8");
    auto* steps = bench.find<StepsPage>("set-up steps");
    REQUIRE(steps);
    CHECK(steps->verdict().contains("Left link 0.7 mm longer, 0.29 turns out"));
    auto* rounds = bench.find<QTableWidget>("lift rounds");
    REQUIRE(rounds);
    rounds->item(1, 0)->setText("4,4");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).rounds.size() ==
          1); // the other side is missing: it waits
    CHECK(bench.job().drafts.size() == 1);
    CHECK_FALSE(bench.document().old());
    rounds->item(1, 1)->setText("much");
    CHECK(rounds->item(1, 1)->text() == "much");
    rounds->item(1, 1)->setText("3.9");
    REQUIRE(job::checks_of(bench.job(), bench.job().trial.front).rounds.size() == 2);
    CHECK(bench.job().drafts.empty());
    CHECK_FALSE(steps->verdict().contains("worn joints")); // nobody read the gauge's zero
    QTRY_VERIFY(bench.find<QLineEdit>("check lift_zero"));
    // Without a bar the step has no lines; they come back with it.
    bench.document().edit("bar out", {}, [](job::Job& j) { j.trial.front.fitted = false; });
    CHECK_FALSE(bench.find<QLineEdit>("check lift_zero"));
    bench.document().undo().undo();
    CHECK(bench.find<QLineEdit>("check lift_zero"));
    bench.type("check lift_zero", "-3");
    CHECK(steps->verdict().contains("worn joints")); // alike, but the slack stands
    bench.type("per_wheel", "2");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).per_wheel == 2);
    CHECK_FALSE(steps->verdict().contains("worn joints"));
    CHECK(steps->verdict().contains("round 2"));
    bench.type("lift_tolerance", "two");
    CHECK(bench.job().drafts.size() == 1); // as typed, until it can be used
    bench.click("step 9");
    bench.click("step 8");
    CHECK(bench.find<QLineEdit>("lift_tolerance")->text() == "two");
    bench.type("lift_tolerance", "3");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).lift_tolerance == Approx(3 * mm));
    CHECK(bench.job().drafts.empty());
    bench.click("step 9");
    QTRY_VERIFY(bench.find<QLineEdit>("check hang_bend"));
    bench.type("check hang_bend", "64");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).hang_bend);
    CHECK(steps->verdict().contains("by the sum"));
    bench.type("check hang_bend", "640");
    CHECK_FALSE(job::checks_of(bench.job(), bench.job().trial.front).hang_bend);
    CHECK(bench.job().drafts.size() == 1);

    const QString file = bench.folder.filePath("links.dervish");
    bench.document().save(file.toStdString());
    Bench again(false);
    again.document().open(file.toStdString());
    CHECK(again.job() == bench.job());
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job().drafts.empty());
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).rounds.size() == 1);
}

TEST_CASE("a lift is planned: the length told, taken by a click, and the droop margin comes back") {
    Bench bench;
    bench.click("rail Links");
    CHECK(page(bench, "Length", "link plan").value("levels the bar") != "");
    pick(bench, "trial/front/stand/lift_by", 1); // spacers
    bench.type("trial/front/stand/lift", "50");
    bench.settle();
    const FigureRows& rows = *bench.find<FigureRows>("link plan");
    const QString level = rows.value("levels the bar");
    CHECK(level.section(' ', 0, 0).toDouble() > 225);
    CHECK(rows.rows()[0].what.contains("50 mm higher"));
    CHECK(rows.rows()[1].note.contains("down")); // the arm, with the old link
    // On a line that holds both: where it should be, and the link as it is.
    const auto drawn = std::ranges::find(rows.rows(), QString("levels the bar"), &FigureRow::what);
    REQUIRE(drawn->scale);
    CHECK(drawn->scale->value == Approx(level.section(' ', 0, 0).toDouble() * mm).margin(0.06 * mm));
    CHECK(drawn->scale->was == Approx(200 * mm));
    CHECK((drawn->scale->low <= 200 * mm && drawn->scale->high >= drawn->scale->value));
    bench.click("take level length");
    CHECK(link(bench).length.value == Approx(level.section(' ', 0, 0).toDouble() * mm).margin(0.06 * mm));
    bench.settle();
    CHECK(rows.rows()[1].note.contains("arm 0.0°"));
    bench.document().undo().undo();
    CHECK(link(bench).length.value == Approx(200 * mm));
    bench.document().set_look(Look::Fitted);
    bench.settle();
    CHECK_FALSE(bench.find<QPushButton>("take level length"));
}

TEST_CASE("limits name what is near, rest tells the preload, each with a mark where it is past") {
    Bench bench;
    bench.click("rail Links");
    const FigureRows& limits = page(bench, "Limits", "link limits");
    CHECK(limits.value("bar to brake hose").endsWith("mm"));
    bool marked = false;
    for (const FigureRow& r : limits.rows())
        marked = marked || (r.what.contains("winter wheel") && r.mark == FigureRow::Mark::Bad);
    CHECK(marked); // the winter wheel at full lock
    for (const FigureRow& r : limits.rows())
        if (r.scale && r.mark == FigureRow::Mark::Bad) CHECK(r.scale->value < 0.3 * r.scale->high);
    const FigureRows& rest = page(bench, "At rest", "links at rest");
    const QString load = rest.value("left link carries");
    bench.type("trial/front/links/right_longer", "6");
    bench.settle();
    CHECK(rest.value("left link carries") != load);
    CHECK(rest.value("taken out: right link").endsWith("mm"));
    bench.type("trial/front/plan/preload", "150");
    bench.settle();
    CHECK(rest.value("right link longer by").endsWith("mm"));
    bench.document().edit("off", {}, [](job::Job& j) { j.trial.front.connected = false; });
    bench.settle();
    CHECK(rest.rows().empty());
}

TEST_CASE("pick-ups, paths and parts to keep clear of are entered, named, removed and undone") {
    Bench bench;
    bench.click("rail Links");
    bench.click("path group");
    pick(bench, "vehicle/front/linkage/path", 2);
    REQUIRE(bench.job().vehicle.front.linkage.points.size() == 3);
    bench.click("add to list");
    CHECK(bench.job().vehicle.front.linkage.points.size() == 4);
    bench.click("remove from list");
    CHECK(bench.find<QLineEdit>("vehicle/front/linkage/points/0/up"));
    bench.click("near group");
    bench.click("add to list");
    REQUIRE(bench.job().vehicle.front.linkage.obstacles.size() == 5);
    bench.type("part name", "steering rack");
    CHECK(bench.job().vehicle.front.linkage.obstacles.back().name == "steering rack");
    bench.type("vehicle/front/linkage/obstacles/4/radius", "30");
    CHECK(bench.job().vehicle.front.linkage.obstacles.back().radius.value == Approx(30 * mm));
    bench.click("remove from list");
    CHECK(bench.job().vehicle.front.linkage.obstacles.size() == 4);
    bench.click("links group");
    pick(bench, "trial/front/links/adjust", 0);
    CHECK_FALSE(bench.find<QLineEdit>("trial/front/links/pitch"));
    const job::Job entered = bench.job();
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(link(bench).adjust == job::Adjust::Opposite);
    while (bench.document().undo().canRedo()) bench.document().undo().redo();
    CHECK(bench.job() == entered);
}

TEST_CASE("a link that cannot reach is told at its number with the nearest that would") {
    Bench bench;
    bench.click("rail Links");
    bench.type("trial/front/links/length", "20");
    const QString problem = bench.document().problem("trial/front/links/length");
    CHECK(problem.contains("too short"));
    const double nearest = problem.section("the shortest that does is ", 1).section(' ', 0, 0).toDouble();
    CHECK(nearest > 20);
    bench.type("trial/front/links/length", QString::number(std::ceil(nearest + 1)));
    CHECK_FALSE(bench.document().old());
}

TEST_CASE("the tally's link margin leads to its place and writes its sum out") {
    Bench bench;
    CHECK(bench.tally(say::Figure::LinkMargin) == "2");
    bench.window.show_station("Car");
    Tally& tally = bench.window.tally();
    const QPoint last(tally.width() - 40, 40);
    QTest::mouseClick(&tally, Qt::LeftButton, {}, last);
    auto* station = static_cast<LinksStation*>(bench.window.station("Links"));
    CHECK(station->isVisible());
    CHECK(links_drawing(bench).own() ==
          Approx(model::to_room(bench.job().trial.front, bench.job().vehicle.front).bump)); // well into the bump stop
    CHECK(Ink::of(tally).says("near its stop"));
    bench.document().edit("short", {}, [](job::Job& j) { j.trial.front.links.tilt.value = 10 * units::deg; });
    CHECK(Ink::of(tally).says("past its stop"));
    bench.document().finish_bands();
    CHECK(bench.document().bands()->sigma[study::FrontLinkMargin] > 0.2 * units::deg);
    const say::Working w = say::working(bench.job().vehicle, bench.job().trial, bench.document().trial(),
                                        say::Figure::LinkMargin, units::System::Metric);
    CHECK(w.lines.size() > 8);
}

TEST_CASE("right ends, rear axles, bars without links: each is drawn or says what is missing") {
    Bench bench;
    bench.click("rail Links");
    bench.click("right link");
    CHECK(Ink::of(links_drawing(bench)).says("Front right link"));
    bench.click("rear links");
    Ink ink = Ink::of(links_drawing(bench));
    CHECK(ink.says("Rear right link"));
    CHECK(ink.says("the other"));
    bench.document().edit("none", {}, [](job::Job& j) { j.trial.rear.fitted = false; });
    CHECK(Ink::of(links_drawing(bench)).says("No bar on this axle"));
    bench.document().edit("clamped", {}, [](job::Job& j) {
        j.trial.rear.fitted = true;
        j.trial.rear.held = job::Held::Clamped;
        j.trial.rear.trailing_arms = job::blank().trial.rear.trailing_arms;
    });
    CHECK(Ink::of(links_drawing(bench)).says("no links"));
    for (const char* chip : {"Through travel", "Length", "Limits", "At rest", "Set-up"})
        CHECK_NOTHROW(bench.click(QString("reading ") + chip));
    auto* station = static_cast<LinksStation*>(bench.window.station("Links"));
    CHECK_THROWS_AS(station->write_sweep(bench.folder.filePath("none.csv")), BadInput);
    bench.click("front links");
    const QString file = bench.folder.filePath("sweep.csv");
    station->write_sweep(file);
    QFile csv(file);
    REQUIRE(csv.open(QIODevice::ReadOnly));
    CHECK(csv.readAll().count('\n') == 82);
    CHECK_THROWS_AS(station->write_sweep("/nowhere/sweep.csv"), BadInput);
}

TEST_CASE("over centre is drawn as such, and a short link's margin is past its stop") {
    Bench bench;
    bench.document().edit("short", {}, [](job::Job& j) {
        edit::set_link_length(j, End::Front, 70 * mm);
        j.trial.front.pickups.at.below.value = 70 * mm;
        j.fitted.front.dampers.droop_gap.value = 320 * mm;
        edit::choose(j, "vehicle/front/linkage/path", 0);
    });
    bench.click("rail Links");
    bench.find<QSlider>("travel scrub")->setValue(0);
    CHECK(Ink::of(links_drawing(bench)).says("over centre"));
    CHECK(bench.tally(say::Figure::LinkMargin) == "-20");
}
