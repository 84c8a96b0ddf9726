#include "app/balance/balance_station.h"
#include "core/say/complaints.h"
#include "core/study/assess.h"
#include <catch2/catch.hpp>

#include "app/bar/bar_readings.h"
#include "app/bar/bar_station.h"
#include "app/bar/choices_reading.h"
#include "app/bar/rig_reading.h"
#include "app/bar/travel_reading.h"
#include "bench_window.h"

#include "app/shell/draws_card.h"
#include "core/model/model.h"
#include "ink.h"

using namespace dervish;
using namespace dervish::app;

namespace {
void choose(Bench& bench, const QString& box, int entry) {
    auto* combo = bench.find<QComboBox>(box);
    REQUIRE(combo);
    combo->setCurrentIndex(entry);
    emit combo->activated(entry);
}

void cell(Bench& bench, const QString& table, int row, int column, const QString& text) {
    auto* w = bench.find<QTableWidget>(table);
    REQUIRE(w);
    REQUIRE(w->item(row, column));
    w->item(row, column)->setText(text);
}

double rate(Bench& bench) { return bench.document().trial().front->eye_rate; }
} // namespace

TEST_CASE("callipers and a tape, an empty job: a rate with a band in a handful of entries", "[path]") {
    Bench bench(false);
    bench.click("rail Bar");
    int entries = 0;
    const auto enter = [&](const char* field, const char* value) {
        bench.type(QString("fitted/front/bar/") + field, value); // the car as it is
        ++entries;
    };
    // As measured: solid 21.4 mm, 905 mm between the arms, eye at 231 mm, arm 250 mm, bends of 45 mm.
    enter("outer_diameter", "21.4");
    enter("centre_length", "905");
    enter("arm_end", "250");
    enter("eyes/0/arm_length", "231");
    enter("bend_radius", "45");
    bench.click("Mounts");
    bench.type("fitted/front/mounts/spacing", "640");
    ++entries;
    CHECK_FALSE(bench.document().old());
    CHECK(bench.job().drafts.empty());
    bench.document().finish_bands();
    REQUIRE(bench.document().bands());
    const double band = band_90 * bench.document().bands()->sigma[study::FrontRate];
    CHECK(rate(bench) > 20e3);
    CHECK(band > 0.02 * rate(bench));
    CHECK(entries == 6); // and two clicks: the rail and Mounts
    const Ink ink = Ink::of(*bench.window.findChild<BarDrawing*>());
    CHECK(ink.says(QString::fromStdString(units::fixed(rate(bench) / 1e3, 1))));
    CHECK(ink.says("± "));
    // And on to something that would help: three clicks from what is heard to a Trial, the car as it is untouched.
    const job::Setup car = bench.job().fitted;
    CHECK(job::nothing_tried(bench.job()));
    bench.click("rail Balance");
    auto& station = *static_cast<BalanceStation*>(bench.window.station("Balance"));
    bench.click("heard leans");
    station.finish();
    auto* told = bench.find<QLabel>("evidence");
    QTRY_VERIFY(told->text().contains("<a href="));
    emit told->linkActivated(QString::number(static_cast<int>(say::Complaint::Leans)));
    station.finish();
    const double before = bench.document().looked().outcomes[study::RollGradient];
    bench.click("cure on trial");
    CHECK(bench.document().look() == Look::Trial);
    CHECK(bench.job().fitted == car);
    CHECK_FALSE(job::nothing_tried(bench.job()));
    CHECK(bench.document().looked().outcomes[study::RollGradient] == Approx(0.85 * before).epsilon(0.002));
    bench.document().undo().undo();
    CHECK(job::nothing_tried(bench.job()));
}

TEST_CASE("a bar entered by sizes goes on as a walk with the same rate, and the walk is edited in its table",
          "[path]") {
    Bench bench;
    bench.click("rail Bar");
    const job::Job before = bench.job();
    const double sizes = rate(bench);
    choose(bench, "form", 1);
    CHECK(bench.job().trial.front.bar.form == job::Form::Walk);
    CHECK(rate(bench) == Approx(sizes).epsilon(1e-6)); // to the figures of the file
    auto* table = bench.find<QTableWidget>("list");
    REQUIRE(table);
    const int lines = table->rowCount();
    CHECK(lines == static_cast<int>(bench.job().trial.front.bar.walk.size()));
    cell(bench, "list", 0, 0, "500");
    INFO(bench.document().waiting().toStdString());
    REQUIRE(bench.job().trial.front.bar.walk[0].length.value == Approx(0.5));
    CHECK(rate(bench) < sizes); // longer is softer
    cell(bench, "list", 0, 0, "half a metre");
    CHECK(bench.job().trial.front.bar.walk[0].length.value == Approx(0.471)); // as before this typing
    CHECK(table->item(0, 0)->text() == "half a metre");
    bool told = false;
    for (QLabel* label : bench.window.findChildren<QLabel*>("list problem"))
        told = told ||
               (label->isVisible() && label->text().contains("Line 1") && label->text().contains("is not a number"));
    CHECK(told);
    bench.document().undo().undo();
    bench.click("add line");
    CHECK(table->rowCount() == lines + 1);
    bench.click("take line off");
    CHECK(table->rowCount() == lines);
    choose(bench, "form", 2);
    CHECK(bench.job().trial.front.bar.points.size() >= 6);
    choose(bench, "form", 0);
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job() == before);
}

TEST_CASE("each number of a walk shows where it comes from") {
    Bench bench;
    bench.click("rail Bar");
    choose(bench, "form", 1);
    auto* table = bench.find<QTableWidget>("list");
    REQUIRE(table);
    CHECK(table->item(0, 0)->toolTip().startsWith("assumed ± 1.5")); // taken over from the sizes
    bench.document().set_source("trial/front/bar/walk/0/length", job::Source::Measured);
    bench.document().set_sigma("trial/front/bar/walk/0/length", 0.4e-3);
    CHECK(table->item(0, 0)->toolTip().startsWith("measured ± 0.4"));
    CHECK_FALSE(table->item(0, 0)->icon().isNull());
    // By the menu key, from the cell with the caret.
    table->setCurrentCell(1, 0);
    QTimer::singleShot(0, [&] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        REQUIRE(menu);
        menu->actions()[1]->trigger();
        menu->close();
    });
    QContextMenuEvent key(QContextMenuEvent::Keyboard, {1, 1}, table->mapToGlobal(QPoint(1, 1)));
    QApplication::sendEvent(table, &key);
    CHECK(bench.job().trial.front.bar.walk[1].length.source == job::Source::Quoted);
}

TEST_CASE("a bad walk is named at its line and the last good bar stays") {
    Bench bench;
    bench.click("rail Bar");
    choose(bench, "form", 1);
    const double good = rate(bench);
    auto* table = bench.find<QTableWidget>("list");
    int radius = -1;
    for (int c = 0; c < table->columnCount(); ++c)
        if (table->horizontalHeaderItem(c)->text().startsWith("Bend radius")) radius = c;
    REQUIRE(radius > 0);
    cell(bench, "list", 0, radius, "4");
    CHECK(bench.document().old());
    CHECK(rate(bench) == good);
    CHECK(bench.document().waiting().contains("tighter than half the bar"));
    CHECK(Ink::of(*bench.window.findChild<BarDrawing*>()).says("line 1 waits"));
}

TEST_CASE("separate arms, clamps and links up are chosen in the panel, computed and drawn") {
    Bench bench;
    bench.click("rail Bar");
    const double bent = rate(bench);
    choose(bench, "arms", 2);
    CHECK(bench.job().trial.front.bar.arms == job::Arms::Blade);
    CHECK(bench.find<QLineEdit>("trial/front/bar/blade_width"));
    CHECK(rate(bench) != Approx(bent).epsilon(1e-3));
    bench.document().undo().undo();
    bench.click("Links");
    CHECK_FALSE(bench.find<QComboBox>("link end")); // measured pick-ups say where they are
    bench.document().edit("pick-ups", {}, [](job::Job& j) { j.trial.front.pickups.rule = job::PickupRule::UnderEyes; });
    choose(bench, "link end", 1);
    CHECK(bench.job().trial.front.pickups.end == job::LinkEnd::Above);
    bench.click("Mounts");
    choose(bench, "held", 1);
    CHECK(bench.job().trial.front.held == job::Held::Clamped);
    CHECK_FALSE(bench.document().old());
    CHECK(bench.find<QLineEdit>("trial/front/trailing_arms/to_wheel"));
    const Ink ink = Ink::of(*bench.window.findChild<BarDrawing*>());
    CHECK(ink.says("clamped to the trailing arm"));
    CHECK(ink.faults().isEmpty());
    for (const char* page : {"Travel", "Choices", "Rig check", "Stiffness"}) bench.click(QString("reading ") + page);
    choose(bench, "held", 0);
    CHECK_FALSE(bench.document().old());
}

TEST_CASE("the centreline goes out as CSV and comes back, a bad file changes nothing") {
    Bench bench;
    bench.click("rail Bar");
    auto* station = static_cast<BarStation*>(bench.window.station("Bar"));
    const QString file = bench.folder.filePath("bar.csv"), bad = bench.folder.filePath("bad.csv");
    const double before = rate(bench);
    station->write_centreline(file);
    station->take_centreline(file);
    CHECK(bench.job().trial.front.bar.form == job::Form::Points);
    bench.document().edit("eyes", {}, [](job::Job& j) { j.trial.front.left_eye = j.trial.front.right_eye = 1; });
    CHECK(rate(bench) == Approx(before).epsilon(1e-5));
    const job::Job now = bench.job();
    QFile(bad).open(QIODevice::WriteOnly);
    CHECK_THROWS_WITH(station->take_centreline(bad), Catch::Contains("0 points"));
    CHECK_THROWS_WITH(station->take_centreline("/none/at.csv"), Catch::Contains("no such file"));
    CHECK_THROWS_WITH(station->write_centreline("/none/at.csv"), Catch::Contains("cannot be written"));
    CHECK(bench.job() == now);
}

TEST_CASE("drawing and curves are exported in each format, and an unknown one is refused") {
    Bench bench;
    bench.click("rail Bar");
    auto* station = static_cast<BarStation*>(bench.window.station("Bar"));
    const std::pair<const char*, const char*> kinds[] = {
        {"a.svg", "<?xml"}, {"a.png", "\x89PNG"}, {"a.pdf", "%PDF"}, {"a.csv", "case,wheel_travel_mm"}};
    for (const auto& [name, begins] : kinds) {
        const QString file = bench.folder.filePath(name);
        station->export_to(file);
        QFile in(file);
        REQUIRE(in.open(QIODevice::ReadOnly));
        const QByteArray bytes = in.readAll();
        INFO(name);
        CHECK(bytes.startsWith(begins));
        CHECK(bytes.size() > 1500);
    }
    CHECK_THROWS_WITH(station->export_to(bench.folder.filePath("a.doc")), Catch::Contains(".svg, .png, .pdf or .csv"));
    CHECK_THROWS_WITH(station->export_to("/none/a.png"), Catch::Contains("cannot be written"));
}

TEST_CASE("the travel reading follows the bar: force, yield, play, friction, the link's load") {
    Bench bench;
    bench.click("rail Bar");
    bench.click("reading Travel");
    auto* travel = bench.window.findChild<TravelReading*>();
    Ink ink = Ink::of(*travel);
    CHECK(ink.says("rate at the link, at rest"));
    CHECK(ink.says("times what the standard puts on it"));
    CHECK(ink.says("bore friction"));
    CHECK_FALSE(ink.says("yields at"));
    CHECK(ink.faults().isEmpty());
    bench.document().edit("soft", {}, [](job::Job& j) {
        j.trial.front.bar.yield_strength.value = 400e6;
        j.trial.front.links.play.value = 2e-3;
        j.trial.front.links.capacity.value = 3000;
    });
    bench.settle();
    ink = Ink::of(*travel);
    CHECK(ink.says("yields at"));
    CHECK(ink.says("play: nothing until"));
    CHECK(travel->csv().find("right_link_coming_back_N\n") != std::string::npos);
    CHECK(ink.says("link load, of its capacity"));
    const std::string csv = travel->csv();
    CHECK(std::count(csv.begin(), csv.end(), '\n') == 43);
}

TEST_CASE("a click on a tube or a stock size tries it, and the stock list is the job's own") {
    Bench bench;
    bench.click("rail Bar");
    bench.click("reading Choices");
    auto* choices = bench.window.findChild<ChoicesReading*>();
    const double before = rate(bench);
    const Ink ink = Ink::of(*choices);
    CHECK(ink.faults().isEmpty());
    CHECK(ink.says("diameter + 1 mm"));
    CHECK(ink.says("109.4 ± "));
    for (const Word& w : ink.words)
        if (w.text.endsWith("× 3")) {
            QTest::mouseClick(choices, Qt::LeftButton, {}, w.box.center().toPoint());
            break;
        }
    CHECK(bench.job().trial.front.bar.wall.value == Approx(3e-3));
    CHECK(rate(bench) == Approx(before).epsilon(1e-4));
    QTimer::singleShot(50, &bench.window, [] {
        auto* dialog = qobject_cast<QInputDialog*>(QApplication::activeModalWidget());
        REQUIRE(dialog);
        dialog->setTextValue("25\n30 x 3.5\n");
        dialog->accept();
    });
    QTest::mouseClick(choices, Qt::LeftButton, {}, QPoint(choices->width() - 60, 26));
    REQUIRE(bench.job().stock.size() == 2);
    CHECK(bench.job().stock[1].wall == Approx(3.5e-3));
    bench.settle();
    CHECK(Ink::of(*choices).says("30 × 3.5"));
}

TEST_CASE("the rig: readings are typed, judged, explained, saved, and bad ones wait in their cell") {
    Bench bench;
    bench.click("rail Bar");
    bench.click("reading Rig check");
    auto* rig = bench.window.findChild<RigReading*>();
    rig->grab();
    CHECK(rig->verdict().startsWith("The bench agrees"));
    const std::size_t readings = job::rig_of(bench.job(), bench.job().trial.front).readings.size();
    REQUIRE(readings == 5);
    cell(bench, "rig readings", 5, 0, "60");
    cell(bench, "rig readings", 5, 1, "a lot");
    CHECK(job::rig_of(bench.job(), bench.job().trial.front).readings.size() == 6);
    CHECK(bench.find<QTableWidget>("rig readings")->item(5, 1)->text() == "a lot");
    CHECK_FALSE(bench.document().old());
    cell(bench, "rig readings", 5, 1, "11.5");
    CHECK(bench.job().drafts.empty());
    CHECK(job::rig_of(bench.job(), bench.job().trial.front).readings[5].dial == Approx(0.0115));
    cell(bench, "rig readings", 5, 0, ""); // emptied: gone
    CHECK(job::rig_of(bench.job(), bench.job().trial.front).readings.size() == 5);
    bench.click("rigid blocks"); // then the same readings mean a softer bar
    const Ink ink = Ink::of(*rig);
    CHECK(ink.faults().isEmpty());
    bench.document().edit("only on Trial", {}, [](job::Job& j) {
        j.kept.clear();
        j.shelf.clear();
    });
    bench.document().edit("thick", {}, [](job::Job& j) { j.trial.front.bar.outer_diameter.value = 29e-3; });
    rig->grab();
    CHECK(rig->verdict().startsWith("The bench disagrees"));
    CHECK(Ink::of(*rig).says("diameter "));
    CHECK(Ink::of(*rig).says("it is a tube, wall "));
}

TEST_CASE("a bush is estimated from hardness and size, with a wide band, after a refusal") {
    Bench bench;
    bench.click("rail Bar");
    bench.click("Mounts");
    QString told;
    QTimer::singleShot(0, &bench.window, [&] {
        auto* card = bench.window.findChild<QDialog*>("bush card");
        REQUIRE(card);
        const auto enter = [&](const char* shore, const char* outer, const char* length) {
            card->findChild<QLineEdit*>("shore")->setText(shore);
            card->findChild<QLineEdit*>("outer")->setText(outer);
            card->findChild<QLineEdit*>("length")->setText(length);
            card->findChild<QPushButton*>("take bush")->click();
        };
        enter("60", "25", "40"); // smaller than the bar
        told = card->findChild<QLabel*>("bush error")->text();
        enter("60", "46", "40");
    });
    bench.click("estimate bush");
    CHECK(told.contains("leaves no rubber"));
    const job::Measured& k = bench.job().trial.front.mounts.vertical;
    CHECK(k.source == job::Source::Assumed);
    CHECK(k.sigma > 0.3 * k.value);
    CHECK(k.value > 500e3);
    bench.document().undo().undo();
    CHECK(bench.job().trial.front.mounts.vertical.value == Approx(2400e3));
}

TEST_CASE("callipers at several places go into one field, parted by semicolons") {
    Bench bench;
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "25.8; 26.2; 26.0");
    const job::Measured& d = bench.job().trial.front.bar.outer_diameter;
    CHECK(d.value == Approx(0.026));
    CHECK(d.source == job::Source::Measured);
    CHECK(d.sigma > 0.1e-3);
    CHECK(bench.find<QLineEdit>("trial/front/bar/outer_diameter")->text() ==
          "25.8; 26.2; 26.0"); // while it has the caret
    CHECK_FALSE(bench.document().old());
    CHECK(bench.document().undo().count() == 1);
}

TEST_CASE("bands are checked by drawn cars on request, and the drawing can be stopped", "[worker]") {
    Bench bench;
    bench.document().finish_bands();
    bench.click("draw cars");
    auto* card = bench.window.findChild<DrawsCard*>("draws card");
    REQUIRE(card);
    REQUIRE(card->isVisible());
    auto* state = card->findChild<QLabel*>("draws state");
    REQUIRE(QTest::qWaitFor([&] { return !state->text().isEmpty(); }, 600000));
    CHECK(state->text().contains(QString("%1 cars drawn").arg(cars_drawn)));
    CHECK(card->findChild<QProgressBar*>()->value() == cars_drawn);
    QStringList words;
    for (QLabel* label : card->findChildren<QLabel*>()) words << label->text();
    CHECK(words.contains("front bar's rate at the eye"));
    CHECK(words.filter(" to ").size() >= 10);
    CHECK(words.filter("± ").size() >= 10);
    delete card;

    bench.click("draw cars");
    card = bench.window.findChild<DrawsCard*>("draws card");
    QTest::mouseClick(card->findChild<QPushButton*>("stop draws"), Qt::LeftButton);
    state = card->findChild<QLabel*>("draws state");
    REQUIRE(QTest::qWaitFor([&] { return !state->text().isEmpty(); }, 600000));
    CHECK(state->text().startsWith("Stopped after"));
    delete card; // closing while it draws waits for its thread
    bench.click("draw cars");
    delete bench.window.findChild<DrawsCard*>("draws card");
}

TEST_CASE("pointing at a part of the bar tells its figures with unit and band") {
    Bench bench;
    bench.click("rail Bar");
    bench.document().finish_bands();
    auto* drawing = bench.window.findChild<BarDrawing*>();
    (void)drawing->grab();
    CHECK(drawing->readout({2, 2}).isEmpty());
    const QString bar = drawing->readout(drawing->part_place("bar"));
    CHECK(bar.contains("bar 26.00 ± 0.08 mm"));
    CHECK(bar.contains("reserve"));
    CHECK(bar.contains("× standard 2.16"));
    const QString mount = drawing->readout(drawing->part_place("mounts"));
    CHECK(mount.contains("left mount"));
    CHECK(mount.contains("2400.0 ± 1184.3 N/mm"));
    CHECK(drawing->readout(drawing->part_place("links")).contains(" N at this roll"));
    CHECK(drawing->readout(drawing->eye_places(false)[0]).contains("right eye, 1\narm 250.0"));
    CHECK(drawing->readout(drawing->eye_places(true)[2]).contains("both sides there: 132.0 ± "));
    auto* readings = bench.window.findChild<BarReadings*>();
    const Ink ink = Ink::of(*readings);
    const auto at = [&](const QString& text) {
        for (const Word& w : ink.words)
            if (w.text == text) return readings->readout(w.box.center());
        FAIL("nothing painted says " << text.toStdString());
        return QString();
    };
    const QString cell = at("120.4");
    CHECK(cell.contains("right eye"));
    CHECK(cell.contains("120.4 ± "));
    CHECK(cell.contains("× standard 2.38"));
    CHECK(ink.says("one side 52.2 ± 2.9 · 6.00 kg"));
    CHECK(at("bushes").startsWith("bushes: 8.4 ± "));
    drawing->show_axle(End::Rear);
    (void)drawing->grab();
    CHECK_FALSE(drawing->readout(drawing->part_place("bar")).isEmpty());
    // Turning the view, both ways, moves the bar on the paper and nothing else.
    const QPointF before = drawing->part_place("bar");
    QTest::mousePress(drawing, Qt::LeftButton, {}, {10, drawing->height() - 40});
    QTest::mouseMove(drawing, {10, drawing->height() - 140});
    QTest::mouseRelease(drawing, Qt::LeftButton, {}, {10, drawing->height() - 140});
    (void)drawing->grab();
    CHECK(QLineF(before, drawing->part_place("bar")).length() > 5);
    CHECK_FALSE(bench.document().undo().canUndo());
}

TEST_CASE("rates are told as times of the setup that is called the standard") {
    Bench bench;
    bench.click("rail Bar");
    auto* drawing = bench.window.findChild<BarDrawing*>();
    CHECK(Ink::of(*drawing).says("times standard"));
    bench.document().edit("none", {}, [](job::Job& j) { j.standard.front.fitted = false; });
    CHECK(Ink::of(*drawing).says("times Fitted"));
    bench.document().edit("trial", {}, [](job::Job& j) { j.standard = j.trial; });
    const Ink ink = Ink::of(*drawing);
    CHECK(ink.says("times standard"));
    CHECK(ink.says("1.00"));
    CHECK(drawing->readout(drawing->part_place("bar")).contains("× standard 1.00"));
}

TEST_CASE("kinds of bushes and joints are chosen in the panel, and undone") {
    Bench bench;
    bench.click("rail Bar");
    bench.click("Mounts");
    const double before = rate(bench);
    choose(bench, "bush kind", 2);
    CHECK(bench.job().trial.front.mounts.kind == job::BushKind::Urethane);
    const double sound = rate(bench);
    CHECK(sound > before);
    bench.type("trial/front/mounts/rate_left", "0.4");
    CHECK(rate(bench) < sound);
    bench.click("Links");
    choose(bench, "joint kind", 4);
    CHECK(bench.job().trial.front.links.joints == job::JointKind::RodEnd);
    for (int i = 0; i < 3; ++i) bench.document().undo().undo();
    CHECK(rate(bench) == Approx(before));
}
