#include "core/edit/edits.h"
#include "core/edit/parts.h"
#include <catch2/catch.hpp>

#include "app/shell/stations.h"
#include "app/widgets/number_edit.h"
#include "bench_window.h"
#include "core/job/fields.h"

using namespace dervish;
using namespace dervish::app;

/// The hand at the keys: what is typed goes where the caret is, is read by one grammar, and is kept.
namespace {
/// Presses keys as a person does, wherever the focus is; digits apart from the others.
struct Keys {
    Bench& bench;
    int others = 0;
    QWidget* at() const { return QApplication::focusWidget() ? QApplication::focusWidget() : &bench.window; }
    void figures(const QString& text) { QTest::keyClicks(at(), text); }
    void press(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier) {
        ++others;
        QTest::keyClick(at(), key, with);
    }
};
} // namespace

TEST_CASE("a new car's eleven measured values by keyboard alone, marked measured", "[path]") {
    Bench bench(false);
    Keys keys{bench};
    keys.press(Qt::Key_N, Qt::ControlModifier);
    QTest::keyClick(bench.window.findChild<QDialog*>("new car"), Qt::Key_Return); // its kind as it stands
    keys.press(Qt::Key_M, Qt::ControlModifier);
    keys.press(Qt::Key_1, Qt::AltModifier);
    keys.press(Qt::Key_Return);                                       // into the fields
    for (const char* text : {"2510", "402,5", "398", "371", "377"}) { // wheelbase and four scales
        keys.figures(text);
        keys.press(Qt::Key_Return);
    }
    for (const char* text : {"1482", "1490"}) { // tracks: the next part each
        keys.press(Qt::Key_PageDown);
        keys.figures(text);
    }
    keys.press(Qt::Key_2, Qt::AltModifier);
    keys.press(Qt::Key_PageDown); // of the bar's own parts, round to the bar
    keys.press(Qt::Key_PageUp);
    keys.figures("22,2; 22.1; 22.3");
    keys.press(Qt::Key_Return);
    keys.press(Qt::Key_Return); // solid
    keys.figures("2*471");
    keys.press(Qt::Key_Return);
    keys.figures("10 3/4 in");
    keys.press(Qt::Key_Return);
    keys.figures("268-12");
    keys.press(Qt::Key_Return);
    const job::Vehicle& v = bench.job().vehicle;
    const job::BarData& bar = bench.job().trial.front.bar;
    const std::pair<const job::Measured*, double> wanted[] = {
        {&v.wheelbase, 2.510},    {&v.front_left_load, 402.5},     {&v.front_right_load, 398},
        {&v.rear_left_load, 371}, {&v.rear_right_load, 377},       {&v.front.track, 1.482},
        {&v.rear.track, 1.490},   {&bar.outer_diameter, 0.0222},   {&bar.centre_length, 0.942},
        {&bar.arm_end, 0.27305},  {&bar.eyes[0].arm_length, 0.256}};
    for (const auto& [m, value] : wanted) {
        INFO(value);
        CHECK(m->value == Approx(value));
        CHECK(m->source == job::Source::Measured);
    }
    CHECK(v.wheelbase.sigma == Approx(1.5e-3));
    CHECK(bench.job().drafts.empty());
    INFO(keys.others << " key presses beside the figures");
    CHECK(keys.others < 40);
    WARN(keys.others << " key presses beside the figures for eleven values");
}

TEST_CASE("no figure typed where text can be typed leaves the station, with Alt it does from anywhere") {
    Bench bench;
    bench.document().set_look(Look::Fitted); // shown, not to be typed in
    int looked = 0;
    for (const StationKind& kind : station_kinds()) {
        const char* station = kind.title;
        bench.window.show_station(station);
        for (QWidget* w : bench.window.findChildren<QWidget*>()) {
            if (!w->isVisible() || !(w->focusPolicy() & Qt::TabFocus)) continue;
            if (!qobject_cast<QLineEdit*>(w) && !qobject_cast<QComboBox*>(w) && !qobject_cast<QTableWidget*>(w))
                continue;
            w->setFocus();
            for (const StationKind& each : station_kinds()) QTest::keyClick(w, static_cast<char>('0' + each.key));
            INFO(station << ": " << w->objectName().toStdString());
            CHECK(bench.window.station(station)->isVisible());
            bench.window.show_station(station);
            ++looked;
        }
    }
    CHECK(looked > 20);
    bench.document().undo().setIndex(0);
    bench.document().set_look(Look::Trial);
    bench.window.show_station("Bar");
    auto* edit = bench.find<QLineEdit>("trial/front/bar/outer_diameter");
    edit->setFocus();
    QTest::keyClick(edit, Qt::Key_4, Qt::AltModifier);
    CHECK(bench.window.station("Balance")->isVisible());
    bench.window.setFocus();
    QTest::keyClick(&bench.window, '2');
    CHECK(bench.window.station("Bar")->isVisible());
}

TEST_CASE("a first click takes the whole number, Enter and Tab go to the next, and it is shown as it is kept") {
    Bench bench;
    bench.click("rail Car");
    auto* base = bench.find<NumberEdit>("vehicle/wheelbase");
    REQUIRE(base);
    bench.window.setFocus();
    QTest::mouseClick(base, Qt::LeftButton, {}, base->rect().center());
    CHECK(base->selectedText() == base->text());
    QTest::keyClicks(base, "2,9e3");
    CHECK(base->told() == "= 2900 mm");
    CHECK(bench.job().vehicle.wheelbase.value == Approx(2.9));
    QTest::keyClick(base, Qt::Key_Return);
    CHECK(base->text() == "2900");
    CHECK(base->told().isEmpty());
    CHECK(QApplication::focusWidget() == bench.find<QLineEdit>("vehicle/front_left_load"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Tab); // not to the source's box
    CHECK(QApplication::focusWidget() == bench.find<QLineEdit>("vehicle/front_right_load"));
    QTest::mouseClick(base, Qt::LeftButton, {}, base->rect().center());
    QTest::mouseClick(base, Qt::LeftButton, {}, base->rect().center()); // a second one sets the caret
    CHECK(base->selectedText().isEmpty());
}

TEST_CASE("what a tool reads was read by it once typed, and one key takes the next source") {
    Bench bench(false);
    bench.click("rail Car");
    auto* base = bench.find<NumberEdit>("vehicle/wheelbase");
    const auto& m = [&]() -> const job::Measured& { return bench.job().vehicle.wheelbase; };
    base->setFocus();
    CHECK(m().source == job::Source::Assumed);
    QTest::keyClick(base, Qt::Key_F2);
    CHECK(m().source == job::Source::Measured);
    CHECK(m().sigma == Approx(1.5e-3));
    QTest::keyClick(base, Qt::Key_F2);
    CHECK(m().source == job::Source::Quoted);
    bench.click("measuring");
    bench.type("vehicle/wheelbase", bench.document().shown("vehicle/wheelbase")); // the same, read off the car
    CHECK(m().source == job::Source::Measured);
    bench.type("vehicle/cg_height", "560"); // by a test, while one measures
    CHECK(bench.job().vehicle.cg_height.source == job::Source::Measured);
    bench.document().undo().undo();
    CHECK(bench.job().vehicle.cg_height.source == job::Source::Assumed);
    bench.click("measuring");
    bench.type("vehicle/cg_height", "560"); // no tool reads it: a new value, still assumed, with its own spread
    CHECK(bench.job().vehicle.cg_height.source == job::Source::Assumed);
    CHECK(bench.job().vehicle.cg_height.sigma == Approx(0.084));
    bench.type("vehicle/front_left_load", bench.document().shown("vehicle/front_left_load")); // what was guessed
    bench.type("vehicle/rear_left_load", "340");
    for (const job::Measured* load : {&bench.job().vehicle.front_left_load, &bench.job().vehicle.rear_left_load}) {
        CHECK(load->source == job::Source::Measured);
        CHECK(load->sigma == Approx(0.005 * load->value));
    }
    auto* mark = bench.find<QToolButton>("source vehicle/rear_left_load");
    CHECK(mark->toolTip().startsWith("measured by a scale"));
    bench.document().type("vehicle/front/travel/hose", "unknown"); // a word was read by nothing
    CHECK(bench.job().vehicle.front.travel.hose.source == job::Source::Assumed);
    bench.document().set_source("vehicle/rear_left_load", job::Source::Assumed); // as one key does
    CHECK(bench.job().vehicle.rear_left_load.sigma == Approx(51));
    bench.document().set_measuring(true);
    bench.document().start_new(job::blank()); // of this job alone
    CHECK_FALSE(bench.document().measuring());
}

TEST_CASE("what waits keeps the units it was typed in, through a change of them, a file and a reopening") {
    Bench bench;
    bench.document().set_units(units::System::Inch);
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "26"); // inches: no bar
    CHECK(bench.document().old());
    bench.document().set_units(units::System::Metric);
    CHECK(bench.document().old());
    CHECK(bench.find<QLineEdit>("trial/front/bar/outer_diameter")->text() == "26 in");
    const std::filesystem::path file = bench.folder.filePath("waits.dervish").toStdString();
    bench.document().save(file);
    Bench again(false);
    REQUIRE(again.window.open(QString::fromStdString(file.string())));
    CHECK(again.document().old()); // not read as 26 mm
    CHECK(again.job().drafts.at("trial/front/bar/outer_diameter").units == units::System::Inch);
    again.click("rail Bar");
    again.type("trial/front/bar/outer_diameter", "1 1/16 in");
    CHECK_FALSE(again.document().old());
    CHECK(again.job().trial.front.bar.outer_diameter.value == Approx(0.0269875));
}

TEST_CASE("a reading is in the job as it is typed, is told under it, and Enter goes to the next") {
    Bench bench;
    bench.click("rail Prove");
    bench.click("plan test");
    bench.click("reading Guess");
    bench.type("guess", "11 1/2 in");
    QTest::keyClick(bench.find<QLineEdit>("guess"), Qt::Key_Return);
    CHECK(bench.job().tests.back().guesses.at(0).value == Approx(0.2921));
    CHECK(bench.find<QLineEdit>("guess")->text().isEmpty());
    bench.click("predict");
    bench.wait_predicted();
    bench.click("next run");
    CHECK(QApplication::focusWidget() == bench.find<QLineEdit>("run driver")); // who drove comes next
    auto* line = static_cast<NumberEdit*>(bench.find<QLineEdit>("reading of height"));
    line->setFocus();
    QTest::keyClicks(line, "12 3/4 in");
    CHECK(line->told().contains("323.85 mm"));
    CHECK(bench.job().tests.back().runs.at(0).readings.at(0).value == Approx(0.32385));
    QTest::keyClick(line, Qt::Key_Return);
    CHECK(QApplication::focusWidget() == bench.find<QLineEdit>("reading of front_left"));
}

TEST_CASE("removing a test takes its own away and no other's, says so, and one key brings it back") {
    Bench bench;
    bench.document().edit("waiting", {}, [](job::Job& job) {
        for (const char* key : {"tests/0/read_to/height", "tests/1/settings/ramp_height", "tests/rig trial front/0/1",
                                "tests/checks fitted rear/droop"})
            job.drafts[key] = {"about 3", units::System::Inch};
    });
    const job::Job before = bench.job();
    bench.click("rail Prove");
    const QString removed = QString::fromStdString(before.tests[0].name);
    bench.window.station("Prove")->findChild<QPushButton*>("remove test")->click();
    CHECK(bench.job().tests.size() == before.tests.size() - 1);
    CHECK(bench.job().drafts.size() == 3);
    CHECK(bench.job().drafts.contains("tests/0/settings/ramp_height")); // of what was the second
    CHECK(bench.find<QLabel>("test removed")->text().contains(removed));
    QTest::keySequence(&bench.window, QKeySequence::Undo);
    CHECK(bench.job() == before);
}

TEST_CASE(
    "fitting keeps what was read on the bar: where it stays on with it, where it comes off with what was fitted") {
    job::Job job = job::blank();
    const auto settle = [before = job](job::Job& j) { edit::keep_parts(before, j); };
    job::rig_for(job, job.fitted.front).readings = {{10, 0.001}, {20, 0.002}};
    job::checks_for(job, job.fitted.front).rounds = {{0.01, 0.012}};
    job.trial.rear.bar.outer_diameter.value = 0.02;
    settle(job);
    job::Job same = job;
    edit::fit_trial(same, "2031-05-11");
    CHECK(job::rig_of(same, same.fitted.front).readings.size() == 2);
    CHECK(job::checks_of(same, same.fitted.front).rounds.size() == 1);
    CHECK(same.kept.empty());
    job.trial.front.bar.outer_diameter.value = 0.026;
    settle(job);
    job.drafts["tests/rig fitted front/1/2"] = {"12,,5", units::System::Metric};
    job.drafts["tests/rig fitted rear/1/2"] = {"about 3", units::System::Metric};
    edit::fit_trial(job, "2031-05-11");
    CHECK(job.drafts.empty()); // both bars changed: what was typed of them is not of the new ones
    REQUIRE(job.book.size() == 1);
    CHECK(job.book[0].reason == "typed and not used: rig fitted front/1/2: 12,,5; rig fitted rear/1/2: about 3");
    CHECK(job::rig_of(job, job.fitted.front).readings.empty());
    REQUIRE(job.kept.size() == 1);
    CHECK(job::rig_of(job, job.kept[0].front).readings.size() == 2);
    CHECK(job.kept[0].name == "as found, until 2031-05-11");
}
