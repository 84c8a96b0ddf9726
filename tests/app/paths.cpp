#include "core/proof/verdict.h"
#include "core/say/working.h"
#include "core/study/assess.h"
#include <catch2/catch.hpp>

#include "bench_window.h"

using namespace dervish;
using namespace dervish::app;
using say::Figure;

TEST_CASE("a tuner's path: change the bar, see the tally follow, predict, test, read the verdict, save, reopen",
          "[path]") {
    Bench bench;
    bench.click("rail Bar");
    const double fitted_rate = bench.document().fitted().front->eye_rate,
                 trial_rate = bench.document().trial().front->eye_rate;
    const QString roll = bench.tally(Figure::Roll);

    bench.type("trial/front/bar/outer_diameter", "28");
    CHECK(bench.document().trial().front->eye_rate == Approx(trial_rate * std::pow(28.0 / 26, 4)).epsilon(0.08));
    CHECK(bench.document().fitted().front->eye_rate == fitted_rate); // only "Fit it" changes Fitted
    CHECK(bench.tally(Figure::Roll).toDouble() < roll.toDouble());
    bench.type("trial/front/bar/eyes/1/arm_length", "235");
    bench.window.station("Bar")->go_to("trial/front/mounts/vertical");
    bench.type("trial/front/mounts/vertical", "5000");
    bench.window.station("Bar")->go_to("trial/front/links/joint");
    bench.type("trial/front/links/joint", "rigid");
    CHECK(bench.document().trial().front->ledger.link_joints[0] == 0);

    bench.click("rail Prove");
    const std::size_t tests = bench.job().tests.size();
    bench.click("plan test");
    REQUIRE(bench.job().tests.size() == tests + 1);
    bench.click("reading Guess");
    bench.type("guess", "300");
    bench.click("note guess");
    bench.click("predict");
    bench.wait_predicted();
    const auto test = [&]() -> const job::PlannedTest& { return bench.job().tests.back(); };
    const double said = test().states[0].prediction.value[0];
    CHECK(said == Approx(bench.document().fitted().outcomes[study::LiftHeight]).margin(1e-5)); // the Fitted setup
    CHECK(test().guesses.at(0).value == Approx(0.3));
    bench.click("next run");
    bench.type("reading of height", QString::number(said * 1e3 + 4, 'f', 0));
    bench.type("reading of front_left", "95");
    auto* chart = bench.find<RunChart>("test chart");
    REQUIRE(chart);
    CHECK(chart->verdict().startsWith("Right: sum and car agree"));
    bench.type("reading of height", "200");
    CHECK(chart->verdict().startsWith("Wrong: sum and car disagree"));
    bench.type("reading of height", "> 250");
    CHECK(chart->verdict().startsWith("Right: sum and car agree"));

    const std::filesystem::path file = bench.folder.filePath("job.dervish").toStdString();
    bench.document().save(file);
    CHECK_FALSE(bench.document().unsaved());
    const job::Job saved = bench.job();
    Bench again(false);
    REQUIRE(again.window.open(QString::fromStdString(file.string())));
    CHECK(again.job() == saved);
    CHECK(again.tally(Figure::Roll) == bench.tally(Figure::Roll));
}

TEST_CASE("fixed ramps: the gap under the hanging tyre is predicted, read and judged", "[path]") {
    Bench bench;
    bench.click("rail Prove");
    auto* tests = bench.find<QComboBox>("tests"); // the demo's second test has ramps of one height
    tests->setFocus();
    QTest::keyClick(tests, Qt::Key_Down);
    emit tests->activated(1);
    bench.click("reading Guess");
    bench.click("predict");
    const auto test = [&]() -> const job::PlannedTest& { return bench.job().tests[1]; };
    REQUIRE(QTest::qWaitFor([&] { return test().predicted(); }, 600000));
    const double said = test().states[0].prediction.value[0];
    REQUIRE(said > 0.005);
    bench.click("next run");
    bench.type("reading of gap", QString::number(said * 1e3, 'f', 0));
    // A gap is what is left between two heights, each as unsure as the gap is wide.
    CHECK(bench.find<RunChart>("test chart")->verdict().startsWith("Too wide to tell"));
    bench.type("reading of gap", "0");
    CHECK(proof::compare(test(), 0, 0).bound);
}

TEST_CASE("every edit undoes and redoes", "[path]") {
    Bench bench;
    const job::Job start = bench.job();
    bench.click("rail Bar");
    bench.type("trial/front/bar/outer_diameter", "24");
    bench.document().set_source("trial/front/bar/outer_diameter", job::Source::Assumed);
    bench.click("add eye");
    bench.click("rail Car");
    bench.window.station("Car")->go_to("vehicle/front/track");
    bench.type("vehicle/front/track", "1600");
    bench.window.station("Car")->go_to("vehicle/loads/1/mass");
    bench.click("add load");
    bench.plan_predict_run();
    bench.type("reading of height", "320");
    const job::Job end = bench.job();
    QUndoStack& undo = bench.document().undo();
    REQUIRE(undo.count() >= 8);
    std::vector<job::Job> seen;
    while (undo.canUndo()) {
        seen.push_back(bench.job());
        undo.undo();
        CHECK_FALSE(bench.job() == seen.back()); // each step takes something back
    }
    CHECK(bench.job() == start);
    while (undo.canRedo()) {
        undo.redo();
        CHECK(bench.job() == seen.back());
        seen.pop_back();
    }
    CHECK(bench.job() == end);
    QTest::keySequence(&bench.window, QKeySequence::Undo);
    CHECK_FALSE(bench.job() == end);
}

TEST_CASE("wrong input is told at the field, the last good result stays and is marked old", "[path]") {
    Bench bench;
    bench.click("rail Bar");
    const QString path = "trial/front/bar/outer_diameter";
    const QString roll = bench.tally(Figure::Roll);
    const auto told_at = [&](const QString& field) {
        for (QLabel* label : bench.find<QLineEdit>(field)->parentWidget()->findChildren<QLabel*>())
            if (label->isVisible() && label->text().contains("; give")) return label->text();
        return QString();
    };
    const auto error = [&](const QString& field) { // it is told when the hand pauses
        (void)QTest::qWaitFor([&] { return !told_at(field).isEmpty(); }, 120000);
        return told_at(field);
    };
    struct Wrong {
        const char *field, *typed, *says;
    };
    const Wrong wrongs[] = {{"trial/front/bar/outer_diameter", "950", "thousandths of an inch"},
                            {"trial/front/bar/outer_diameter", "twenty", "is not a number"},
                            {"trial/front/bar/outer_diameter", "", "the field is empty"},
                            {"trial/front/bar/outer_diameter", "nan", "is not a number"},
                            {"trial/front/bar/wall", "15", "does not fit in a bar of 26 mm"},
                            {"trial/front/bar/eyes/0/arm_length", "280", "beyond the arm's end"}};
    for (const Wrong& w : wrongs) {
        INFO(w.field << " " << w.typed);
        bench.type(w.field, w.typed);
        CHECK_THAT(error(w.field).toStdString(), Catch::Contains(w.says));
        CHECK(bench.find<QLineEdit>(w.field)->text() == w.typed);
        CHECK(bench.document().old());
        CHECK(bench.tally(Figure::Roll) == roll);
        bench.document().undo().undo();
        CHECK_FALSE(bench.document().old());
    }
    bench.window.station("Bar")->go_to("trial/front/mounts/spacing");
    bench.type("trial/front/mounts/spacing", "940");
    CHECK_THAT(error("trial/front/mounts/spacing").toStdString(), Catch::Contains("outside the straight of the bar"));
    bench.document().undo().undo();
    bench.click("rail Car");
    bench.type("vehicle/front_left_load", "-20");
    CHECK_THAT(error("vehicle/front_left_load").toStdString(), Catch::Contains("-20 kg cannot be"));
    // The rest of the window is alive: another field computes once this one is put right.
    bench.type("vehicle/front_left_load", "560");
    bench.settle();
    CHECK(told_at("vehicle/front_left_load").isEmpty());
    CHECK(bench.document().trial().car.sprung_mass > 0);
}

TEST_CASE("the keyboard goes everywhere", "[path]") {
    Bench bench;
    bench.window.setFocus();
    QTest::keyClick(&bench.window, Qt::Key_1);
    CHECK(bench.window.station("Car")->isVisible());
    QTest::keyClick(&bench.window, Qt::Key_6);
    CHECK(bench.window.station("Prove")->isVisible());
    QTest::keyClick(&bench.window, Qt::Key_2);
    CHECK(bench.window.station("Bar")->isVisible());
    QTest::keyClick(&bench.window, Qt::Key_T);
    CHECK(bench.document().look() == Look::Fitted);
    CHECK(bench.find<QLineEdit>("fitted/front/bar/outer_diameter")->isReadOnly());
    QTest::keyClick(&bench.window, Qt::Key_T);
    auto* drawing = bench.window.findChild<BarDrawing*>();
    const double roll = drawing->roll();
    QTest::keyClick(&bench.window, Qt::Key_BracketRight);
    CHECK(drawing->roll() > roll);
    QTest::keyClick(&bench.window, Qt::Key_W);
    auto* card = bench.window.findChild<QDialog*>("working");
    REQUIRE(card);
    card->close();
    bench.window.activateWindow();
    bench.window.setFocus();
    (void)QTest::qWaitForWindowActive(&bench.window);
    QTest::keyClick(&bench.window, Qt::Key_Slash);
    auto* find = bench.window.findChild<QDialog*>("find");
    REQUIRE(find);
    auto* typed = find->findChild<QLineEdit*>();
    QTest::keyClicks(typed, "rear track");
    QTest::keyClick(typed, Qt::Key_Return);
    CHECK(bench.window.station("Car")->isVisible());
    auto* field = bench.find<QLineEdit>("vehicle/rear/track");
    REQUIRE(field);
    CHECK(field->hasFocus());
    QTest::keyClick(field, Qt::Key_2); // a digit in a field is a digit
    CHECK(bench.window.station("Car")->isVisible());
}
