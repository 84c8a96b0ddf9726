#include "app/shell/differs_card.h"
#include "core/say/working.h"
#include <catch2/catch.hpp>

#include "app/shell/stations.h"
#include "app/shell/theme.h"
#include "app/widgets/field_row.h"
#include "bench_window.h"
#include "ink.h"

#include <QPdfWriter>
#include <thread>

using namespace dervish;
using namespace dervish::app;
using say::Figure;

namespace {
/// Presses what opens a menu and takes the entry that begins with `entry`; false when it is not there to be taken.
bool take(Bench& bench, const QString& button, const QString& entry) {
    bool taken = false;
    QTimer::singleShot(60, &bench.window, [&] {
        auto* menu = qobject_cast<QMenu*>(QApplication::activePopupWidget());
        if (!menu) return;
        for (QAction* action : menu->actions())
            if (action->text().startsWith(entry) && action->isEnabled()) {
                taken = true;
                action->trigger();
                break;
            }
        menu->close();
    });
    bench.click(button);
    return taken;
}

/// Answers the dialogs that ask for one text, in order.
void answer(Bench& bench, QStringList texts, int wait = 140) {
    QTimer::singleShot(wait, &bench.window, [&bench, texts]() mutable {
        QWidget* card = QApplication::activeModalWidget();
        if (!card) return;
        if (auto* number = card->findChild<QLineEdit*>("number")) { // Dervish's own
            number->setText(texts.takeFirst());
            QTest::keyClick(number, Qt::Key_Return);
            return;
        }
        auto* dialog = qobject_cast<QInputDialog*>(card);
        if (!dialog) return;
        dialog->setTextValue(texts.takeFirst());
        if (!texts.empty()) answer(bench, texts, 60);
        dialog->accept();
    });
}

void trigger(Bench& bench, const QString& text) {
    for (QAction* action : bench.window.actions())
        if (action->text().startsWith(text)) return action->trigger();
    FAIL("no action " << text.toStdString());
}

template <class W> W* open_window(const QString& name) {
    for (QWidget* w : QApplication::topLevelWidgets())
        if (w->isVisible() && w->objectName() == name) return qobject_cast<W*>(w);
    return nullptr;
}
} // namespace

TEST_CASE("setups are kept, tried again, started over and named, each as one step back") {
    Bench bench;
    const job::Setup trial = bench.job().trial;
    const std::size_t kept = bench.job().kept.size();
    CHECK(take(bench, "setups", "Keep Trial as"));
    REQUIRE(bench.job().kept.size() == kept + 1);
    CHECK(bench.job().kept.back() == trial);
    CHECK(take(bench, "setups", "Start Trial again from Fitted"));
    CHECK(bench.job().trial.front == bench.job().fitted.front);
    CHECK(take(bench, "setups", "Try “" + QString::fromStdString(trial.name)));
    CHECK(bench.job().trial == trial);
    answer(bench, {"stiff front"});
    CHECK(take(bench, "setups", "Name of Trial"));
    CHECK(bench.job().trial.name == "stiff front");
    answer(bench, {"  "}); // no name is no change
    CHECK(take(bench, "setups", "Name of Fitted"));
    CHECK_FALSE(bench.job().fitted.name.empty());
    answer(bench, {"valley van", "rolls on the pass road"});
    CHECK(take(bench, "setups", "Job's name and complaint"));
    CHECK(bench.job().name == "valley van");
    CHECK(bench.job().complaint == "rolls on the pass road");
    CHECK(bench.window.windowTitle().contains("valley van"));
    while (bench.document().undo().canUndo()) bench.document().undo().undo();
    CHECK(bench.job().trial == trial);
    CHECK(bench.job().kept.size() == kept);
}

TEST_CASE("keeping a setup of the same name again replaces it") {
    Bench bench;
    CHECK(take(bench, "setups", "Keep Trial as"));
    const std::size_t kept = bench.job().kept.size();
    bench.document().type("trial/front/bar/outer_diameter", "27");
    CHECK(take(bench, "setups", "Keep Trial as"));
    CHECK(bench.job().kept.size() == kept);
    CHECK(bench.job().kept.back().front.bar.outer_diameter.value == Approx(0.027));
}

TEST_CASE("the shelf takes a bar and gives it to either axle") {
    Bench bench;
    bench.click("rail Bar");
    const std::size_t before = bench.job().shelf.size();
    CHECK(take(bench, "shelf", "Put this bar's numbers on the shelf"));
    REQUIRE(bench.job().shelf.size() == before + 1);
    CHECK(bench.job().shelf.back() == bench.job().trial.front);
    bench.click("rear bar");
    CHECK(take(bench, "shelf", "Try " + QString::fromStdString(bench.job().shelf.back().bar.name)));
    job::Assembly there = bench.job().shelf.back();
    there.pickups = bench.job().fitted.rear.pickups; // the car's own
    CHECK(bench.job().trial.rear == there);
    bench.document().undo().undo();
    CHECK_FALSE(bench.job().trial.rear == there);
    Bench empty(false);
    empty.click("rail Bar");
    CHECK_FALSE(take(empty, "shelf", "Try "));
}

TEST_CASE("a field's source and spread are chosen from its mark") {
    Bench bench;
    bench.click("rail Bar");
    const QString path = "trial/front/bar/centre_length", button = "source " + path;
    const auto m = [&] { return bench.job().trial.front.bar.centre_length; };
    CHECK(take(bench, button, "quoted"));
    CHECK(m().source == job::Source::Quoted);
    CHECK(m().sigma == Approx(0.03 * m().value));
    CHECK(take(bench, button, "assumed"));
    CHECK(m().sigma == Approx(0.15 * m().value));
    CHECK(take(bench, button, "measured"));
    CHECK(m().sigma == Approx(1.5e-3));
    answer(bench, {"4.5"});
    CHECK(take(bench, button, "another spread"));
    CHECK(m().sigma == Approx(4.5e-3));
    bench.document().set_units(units::System::Inch);
    answer(bench, {"0.1"});
    CHECK(take(bench, button, "another spread"));
    CHECK(m().sigma == Approx(0.00254));
    // A spread belongs to its value: a new value has the usual one of its source, the old value its own again.
    bench.document().set_units(units::System::Metric);
    const QString before = bench.document().shown(path);
    bench.type(path, "955");
    CHECK(m().sigma == Approx(1.5e-3));
    bench.type(path, before);
    CHECK(m().sigma == Approx(0.00254));
    bench.document().set_source("trial/front/bar/kink_outer", job::Source::Quoted);
    bench.document().type("trial/front/bar/centre_length", "950");
    CHECK(m().value == Approx(0.95));
}

TEST_CASE("eyes are added up to four and taken off down to one, and the used eye stays on the arm") {
    Bench bench;
    bench.click("rail Bar");
    const auto count = [&] { return bench.job().trial.front.bar.eyes.size(); };
    for (int i = 0; i < 5; ++i) bench.click("add eye");
    CHECK(count() == 4);
    bench.document().edit("inner", {}, [](job::Job& j) { j.trial.front.left_eye = j.trial.front.right_eye = 3; });
    for (int i = 0; i < 6; ++i) bench.click("take eye off");
    CHECK(count() == 1);
    CHECK(bench.job().trial.front.left_eye == 0);
    CHECK(bench.job().trial.front.right_eye == 0);
    CHECK_FALSE(bench.document().old());
}

TEST_CASE("found so writes what it was found to be, asks for clock, date and why, and refuses what is none") {
    Bench bench;
    const std::size_t lines = bench.job().book.size();
    QStringList told;
    QTimer::singleShot(0, &bench.window, [&] {
        auto* sheet = bench.window.findChild<QDialog*>("fit sheet");
        REQUIRE(sheet);
        auto* error = sheet->findChild<QLabel*>("sheet error");
        const auto enter = [&](const QString& clock, const QString& date, const QString& why) {
            sheet->findChild<QLineEdit*>("odometer")->setText(clock);
            sheet->findChild<QLineEdit*>("date")->setText(date);
            sheet->findChild<QPlainTextEdit*>("reason")->setPlainText(why);
            sheet->findChild<QPushButton*>("accept fit")->click();
            told << error->text();
        };
        enter("far", "2031-05-11", "bar swapped");
        enter("-5", "2031-05-11", "bar swapped");
        enter("41 200", "yesterday", "bar swapped");
        enter("41 200", "2031-05-11", "  ");
        enter("41 200", "2031-05-11", "bar swapped by someone before us");
    });
    bench.click("found so");
    REQUIRE(told.size() == 5);
    CHECK(told[0].contains("\"far\" is not a number; give a number in km"));
    CHECK(told[1].contains("-5 km cannot be; give 0 km to"));
    CHECK(told[2].contains("“yesterday” is not a date; write year-month-day"));
    CHECK(told[3].contains("Why: the field is empty"));
    REQUIRE(bench.job().book.size() == lines + 1);
    CHECK(bench.job().book.back().kind == job::EntryKind::Found);
    CHECK(bench.job().book.back().odometer == Approx(41200e3));
    CHECK_FALSE(bench.find<QPushButton>("found so")->isEnabled()); // nothing differs any more
}

TEST_CASE("giving up the sheet changes nothing") {
    Bench bench;
    const job::Job before = bench.job();
    QString changes;
    QTimer::singleShot(0, &bench.window, [&] {
        auto* sheet = bench.window.findChild<QDialog*>("fit sheet");
        changes = sheet->findChild<QLabel*>("what changes")->text();
        sheet->reject();
    });
    bench.click("fit it");
    CHECK(bench.job() == before);
    CHECK((changes.contains("Front bar") && changes.contains("26 mm")));
}

TEST_CASE("find goes to any field by part of its name, runs actions, and does nothing for what is nowhere") {
    Bench bench;
    const auto look_for = [&](const QString& words) {
        trigger(bench, "Find anything");
        auto* box = open_window<QDialog>("find");
        REQUIRE(box);
        auto* typed = box->findChild<QLineEdit*>();
        typed->setText(words);
        QTest::keyClick(typed, Qt::Key_Return);
        if (box->isVisible()) box->close();
        QCoreApplication::processEvents();
    };
    look_for("rear bar bracket");
    auto* bracket = bench.find<QLineEdit>("trial/rear/mounts/bracket");
    REQUIRE(bracket);
    CHECK(bench.window.station("Bar")->isVisible());
    look_for("water mass");
    CHECK(bench.window.station("Car")->isVisible());
    std::size_t water = 0;
    while (!bench.job().vehicle.loads[water].name.starts_with("Water")) ++water;
    CHECK(bench.find<QLineEdit>(QString("vehicle/loads/%1/mass").arg(water)));
    look_for("inch and pound");
    CHECK(bench.document().units() == units::System::Inch);
    look_for("lower"); // as a shop calls it
    CHECK(bench.find<QLineEdit>("trial/front/stand/lift"));
    look_for("sway thicker front");
    CHECK(bench.find<QLineEdit>("trial/front/bar/outer_diameter"));
    look_for("slalom"); // a reading
    CHECK(bench.find<QPushButton>("reading Manoeuvre")->isChecked());
    trigger(bench, "Find anything");
    auto* open_box = open_window<QDialog>("find");
    open_box->findChild<QLineEdit*>()->setText("nobody's word");
    CHECK(open_box->findChild<QLabel*>("nothing found")->isVisible());
    open_box->findChild<QLineEdit*>()->setText("undo");
    CHECK_FALSE(open_box->findChild<QLabel*>("nothing found")->isVisible());
    open_box->close();
    QCoreApplication::processEvents();
    const job::Job before = bench.job();
    look_for("flux capacitor");
    CHECK(bench.job() == before);
}

TEST_CASE("the working card of each figure opens with its result, and the keys card lists every key") {
    Bench bench;
    for (int i = 0; i < 6; ++i) {
        QTest::mouseMove(&bench.window.tally(), QPoint((2 * i + 1) * bench.window.tally().width() / 12, 30));
        QCoreApplication::processEvents();
        trigger(bench, "Working of a tally figure");
        auto* card = open_window<QDialog>("working");
        REQUIRE(card);
        const QString result = bench.tally(bench.window.tally().asked());
        bool shown = false;
        for (QLabel* label : card->findChildren<QLabel*>()) shown = shown || label->text().contains(result.mid(0, 2));
        CHECK(shown);
        CHECK(card->findChildren<QLabel*>().size() > 8);
        delete card;
    }
    trigger(bench, "Keys");
    auto* keys = open_window<QDialog>("keys");
    REQUIRE(keys);
    QString all;
    for (QLabel* label : keys->findChildren<QLabel*>()) all += label->text() + "\n";
    for (const char* key : {"Space", "T\n", "W\n", "M\n", "/\n", "Ctrl+Z", "[  ]"}) CHECK(all.contains(key));
    keys->close();
}

TEST_CASE("the tally is walked with arrows and Enter goes to what explains a figure") {
    Bench bench;
    bench.click("rail Prove");
    Tally& tally = bench.window.tally();
    tally.setFocus();
    for (int i = 0; i < 8; ++i) QTest::keyClick(&tally, Qt::Key_Right);
    CHECK(tally.asked() == Figure::LinkMargin);
    for (int i = 0; i < 8; ++i) QTest::keyClick(&tally, Qt::Key_Left);
    CHECK(tally.asked() == Figure::Roll);
    QTest::keyClick(&tally, Qt::Key_Return);
    CHECK(bench.window.station("Car")->isVisible());
}

TEST_CASE("scrubbing and playing move the drawing, not the job") {
    Bench bench;
    bench.click("rail Bar");
    const job::Job before = bench.job();
    auto* drawing = bench.window.findChild<BarDrawing*>();
    auto* scrub = bench.find<QSlider>("roll scrub");
    scrub->setValue(-45);
    CHECK(drawing->roll() == Approx(-4.5 * units::deg));
    bench.window.setFocus();
    QTest::keyClick(&bench.window, Qt::Key_Space);
    const double start = drawing->roll();
    CHECK(QTest::qWaitFor([&] { return drawing->roll() != start; }, 120000));
    QTest::keyClick(&bench.window, Qt::Key_Space);
    const double stopped = drawing->roll();
    QTest::qWait(120);
    CHECK(drawing->roll() == stopped);
    QTest::mousePress(drawing, Qt::LeftButton, {}, QPoint(60, drawing->height() - 60)); // beside the bar: turn the view
    QTest::mouseMove(drawing, QPoint(160, drawing->height() - 60));
    QTest::mouseRelease(drawing, Qt::LeftButton, {}, QPoint(160, drawing->height() - 60));
    CHECK(bench.job() == before);
    CHECK(bench.document().undo().count() == 0);
}

TEST_CASE("a text size is chosen for the next start, and one that the screen is too small for is not offered") {
    Bench bench;
    auto* menu = bench.window.findChild<QMenu*>("text size");
    REQUIRE(menu);
    emit menu->aboutToShow();
    REQUIRE(menu->actions().size() == 4);
    CHECK(menu->actions()[0]->isChecked());
    const QSize screen = bench.window.screen()->availableSize();
    for (const auto& [entry, size] : {std::pair{1, 1.25}, {2, 1.5}, {3, 2.0}}) {
        const bool fits = 1024 * size <= screen.width() && 700 * size <= screen.height();
        CHECK(menu->actions()[entry]->isEnabled() == fits);
        CHECK(menu->actions()[entry]->toolTip().contains("would need") != fits);
    }
    QSettings().setValue("text", 150); // as its entry does
    emit menu->aboutToShow();
    CHECK(menu->actions()[2]->isChecked());
    qunsetenv("QT_SCALE_FACTOR");
    use_text_size(); // the next start
    CHECK(qgetenv("QT_SCALE_FACTOR") == "1.5");
    qunsetenv("QT_SCALE_FACTOR");
    QSettings().setValue("text", "a lot"); // whatever stands there
    use_text_size();
    CHECK_FALSE(qEnvironmentVariableIsSet("QT_SCALE_FACTOR"));
    menu->actions()[0]->trigger();
    use_text_size();
    CHECK_FALSE(qEnvironmentVariableIsSet("QT_SCALE_FACTOR"));
    QSettings().clear();
}

TEST_CASE("a station prints in lines and letters, and whole what it shows only by scrolling") {
    Bench bench;
    const QString path = bench.folder.filePath("page.pdf");
    for (const StationKind& kind : station_kinds()) {
        const char* station = kind.title;
        bench.window.show_station(station);
        {
            QPdfWriter pdf(path);
            const Pages pages = bench.window.draw_pages(pdf);
            std::thread([&] { print_pages(pdf, pages); }).join(); // where a worker puts them on paper
        }
        QFile file(path);
        REQUIRE(file.open(QIODevice::ReadOnly));
        const QByteArray bytes = file.readAll();
        CHECK(bytes.startsWith("%PDF"));
        const bool scrolls = std::ranges::any_of(
            bench.window.station(station)->findChildren<QScrollArea*>(), [](const QScrollArea* area) {
                return area->isVisible() && area->widget()->height() > area->viewport()->height() + 2;
            });
        CHECK((bytes.count("/Type /Page\n") > 1) == scrolls);
        CHECK(bytes.size() > 20000); // the picture is in it
        CHECK(bytes.size() < 300000);
        const QRegularExpression image("/Subtype /Image\n/Width (\\d+)");
        for (auto at = image.globalMatch(QString::fromLatin1(bytes)); at.hasNext();)
            CHECK(at.next().captured(1).toInt() <= 200); // icons and marks; no station
    }
}

TEST_CASE("saving where nothing can be written says so and the job stays unsaved") {
    Bench bench;
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "28");
    CHECK_THROWS_AS(bench.document().save("/proc/none/job.dervish"), BadInput);
    CHECK(bench.document().unsaved());
    CHECK(bench.window.windowTitle().startsWith("* "));
    const std::filesystem::path file = bench.folder.filePath("mine.dervish").toStdString();
    bench.document().save(file);
    CHECK_FALSE(bench.window.windowTitle().startsWith("* "));
    bench.document().undo().undo();
    CHECK(bench.document().unsaved()); // going back past the save is a change
    bench.document().undo().redo();
    CHECK_FALSE(bench.document().unsaved());
}

TEST_CASE("a new job and the demo replace the open one, with their own history") {
    Bench bench;
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "28");
    const job::Job open = bench.job();
    trigger(bench, "New job");
    QTest::keyClick(bench.window.findChild<QDialog*>("new car"), Qt::Key_Escape);
    CHECK(bench.job() == open);
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    trigger(bench, "New job");
    bench.window.findChild<QLineEdit*>("new name")->setText("Valley runabout");
    auto* kind = bench.window.findChild<QComboBox*>("new kind");
    kind->setCurrentIndex(static_cast<int>(job::CarKind::Small));
    emit kind->activated(kind->currentIndex());
    bench.window.findChild<QCheckBox*>("new rear bar")->setChecked(false);
    bench.window.findChild<QPushButton*>("begin")->click();
    job::NewCar asked{.name = "Valley runabout", .kind = job::CarKind::Small};
    asked.bar.rear = false;
    CHECK(bench.job() == job::new_car(asked));
    // What is typed is the car as it is, and Trial follows until something is tried.
    CHECK(bench.document().look() == Look::Fitted);
    bench.click("rail Bar");
    bench.type("fitted/front/bar/outer_diameter", "19");
    CHECK(bench.job().fitted.front.bar.outer_diameter.value == Approx(0.019));
    CHECK(job::nothing_tried(bench.job()));
    bench.window.show_station("Car");
    bench.document().edit("bar off", {}, [](job::Job& job) { job.fitted.front.connected = false; });
    CHECK_FALSE(bench.job().trial.front.connected);
    bench.document().undo().undo();
    bench.document().set_look(Look::Trial);
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "21");
    CHECK_FALSE(job::nothing_tried(bench.job()));
    bench.document().edit("bar off", {}, [](job::Job& job) { job.fitted.front.connected = false; });
    CHECK(bench.job().trial.front.connected); // it has gone its own way
    const std::filesystem::path file = bench.folder.filePath("new.dervish").toStdString();
    bench.document().undo().undo();
    bench.document().undo().undo();
    bench.document().save(file);
    bench.document().open(file);
    CHECK(bench.document().look() == Look::Fitted);
    bench.document().start_new();
    CHECK(bench.job() == job::blank());
    CHECK_FALSE(bench.document().undo().canUndo());
    CHECK(bench.document().path().empty());
    trigger(bench, "Open the demo job");
    CHECK(bench.job().vehicle.loads.size() == 4);
    trigger(bench, "Inch lengths, N/mm rates");
    CHECK(bench.document().units() == units::System::InchMetricRates);
    trigger(bench, "Metric");
    CHECK(bench.document().units() == units::System::Metric);
}

TEST_CASE("every control can be reached with Tab and says its name to a screen reader") {
    Bench bench;
    for (const StationKind& kind : station_kinds()) {
        const char* station = kind.title;
        bench.window.show_station(station);
        for (QWidget* w : bench.window.findChildren<QWidget*>()) {
            if (!w->isVisible() || !(qobject_cast<QLineEdit*>(w) || qobject_cast<QAbstractButton*>(w))) continue;
            if (qobject_cast<QLineEdit*>(w) && qobject_cast<QComboBox*>(w->parentWidget())) continue;
            if (w->objectName().startsWith("source ")) continue; // F2 and Shift+F2 in its field
            INFO(station << ": " << w->metaObject()->className() << " " << w->objectName().toStdString());
            CHECK((w->focusPolicy() & Qt::TabFocus));
            const auto* button = qobject_cast<QAbstractButton*>(w);
            const bool named =
                !w->accessibleName().isEmpty() || !w->objectName().isEmpty() || (button && !button->text().isEmpty());
            CHECK(named);
        }
    }
    QSet<QWidget*> seen;
    bench.window.show_station("Bar");
    bench.window.setFocus();
    for (int i = 0; i < 200; ++i) {
        QTest::keyClick(&bench.window, Qt::Key_Tab);
        if (QWidget* at = QApplication::focusWidget()) seen << at;
    }
    CHECK(seen.size() > 25);
    CHECK(seen.contains(bench.find<QLineEdit>("trial/front/bar/outer_diameter")));
    CHECK(seen.contains(&bench.window.tally()));
}

TEST_CASE("what differs is told with what each does, and taken back by a click", "[worker]") {
    Bench bench;
    const job::Setup trial = bench.job().trial;
    bench.document().edit("springs", {}, [](job::Job& j) { j.trial.rear.springs.rate.value *= 1.15; });
    bench.click("differs");
    auto* card = bench.window.findChild<DiffersCard*>("differs card");
    REQUIRE(card);
    card->finish();
    const auto words = [&] {
        QStringList out;
        for (QLabel* label : card->findChildren<QLabel*>()) out << label->text();
        return out;
    };
    CHECK(words().filter(">Front bar<").size() == 1);
    CHECK(words().filter(">Front links<").size() == 1);
    CHECK(words().filter("26 mm, made to size").size() == 1);
    CHECK(words().filter("Rear springs").size() == 1);
    CHECK(words().filter("Spring rate 35").size() == 1);
    CHECK(words().contains("Each alone, added up"));
    CHECK(words().filter("front first ").filter(QString::fromUtf8("\nsuddenly")).size() == 4); // each of three, and all together
    // All together is what the tally tells of both setups.
    const double roll = (bench.document().looked().outcomes[study::RollGradient] -
                         bench.document().fitted().outcomes[study::RollGradient]) *
                        units::g / units::deg;
    CHECK(words().filter("\n±").first().startsWith(QString::fromUtf8("−") +
                                                   QString::fromStdString(units::fixed(-roll, 2))));
    QTest::mouseClick(card->findChild<QPushButton*>("take back 2"), Qt::LeftButton);
    CHECK(bench.job().trial == trial);
    card->finish();
    CHECK(words().filter("Rear springs").isEmpty());
    QTest::mouseClick(card->findChild<QPushButton*>("take back 1"), Qt::LeftButton);
    CHECK(bench.job().trial.front.links == bench.job().fitted.front.links);
    CHECK(bench.job().trial.front.bar == trial.front.bar);
    card->finish();
    CHECK_FALSE(words().contains("Each alone, added up")); // one is left
    bench.document().undo().undo();
    bench.document().undo().undo();
    card->finish();
    CHECK(words().filter("Rear springs").size() == 1);
    bench.document().edit("again", {}, [](job::Job& j) { j.trial = j.fitted; });
    card->finish();
    CHECK(words().filter("Nothing: Trial is as Fitted").size() == 1);
    CHECK(card->findChildren<QPushButton*>().isEmpty());
    delete card; // closing while it works waits for its thread
    for (int i = 0; i < 3; ++i) QTest::keyClick(&bench.window, Qt::Key_D);
    CHECK(bench.window.findChildren<DiffersCard*>("differs card").size() == 1);
}

TEST_CASE("the tally tells how sure a change from Fitted is") {
    Bench bench;
    CHECK_FALSE(bench.document().changes());
    bench.document().finish_bands();
    REQUIRE(bench.document().changes());
    const Ink trial = Ink::of(bench.window.tally());
    CHECK(trial.says(QString::fromUtf8("1.5 ± 0.3")));
    CHECK(trial.says("0.01 cannot say"));
    bench.document().set_look(Look::Fitted);
    bench.document().finish_bands();
    CHECK_FALSE(bench.document().changes());
    CHECK(Ink::of(bench.window.tally()).says("as fitted"));
}
