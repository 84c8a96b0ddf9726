#include "core/proof/predict.h"
#include "core/proof/verdict.h"
#include "core/say/proof_words.h"
#include "core/say/test_sheet.h"
#include <catch2/catch.hpp>

#include "app/prove/test_sheet.h"
#include "app/prove/test_sums.h"
#include "app/words.h"
#include "bench_window.h"
#include "ink.h"

#include <QPdfWriter>
#include <algorithm>

using namespace dervish;
using namespace dervish::app;

namespace {
const job::PlannedTest& last(Bench& bench) { return bench.job().tests.back(); }
void choose(Bench& bench, const QString& name, const QString& words) {
    auto* box = bench.find<QComboBox>(name);
    REQUIRE(box);
    const int at = box->findText(words, Qt::MatchContains);
    REQUIRE(at >= 0);
    box->setCurrentIndex(at);
    emit box->activated(at);
}
void guess(Bench& bench, const QString& who, int state, const QString& value, const QString& span) {
    bench.type("guess person", who);
    bench.find<QComboBox>("guess state")->setCurrentIndex(state);
    bench.type("guess", value);
    bench.type("guess span", span);
    bench.click("note guess");
}
/// Marks by the arrow keys, as a hand on the keyboard does.
void mark(Bench& bench, const QString& scale, int steps) {
    auto* slider = bench.find<QSlider>("mark " + scale);
    REQUIRE(slider);
    slider->setFocus();
    for (int i = 0; i < std::abs(steps); ++i) QTest::keyClick(slider, steps > 0 ? Qt::Key_Right : Qt::Key_Left);
}
} // namespace

TEST_CASE("an afternoon: three setups, two drivers, guesses, blind, runs, a slip, a verdict, an objection, a decision",
          "[path]") {
    Bench bench;
    const job::Job before = bench.job();
    bench.click("rail Prove");
    bench.click("plan test");
    bench.type("test name", "Afternoon");
    bench.type("test question", "Which state for the valley road?");
    choose(bench, "test asks", "Which of these");
    choose(bench, "test protocol", "Lean in a bend");
    bench.type("setting speed", "40 km/h");
    for (const char* state : {"front bar off", "Trial:"}) {
        choose(bench, "state offered", state);
        bench.click("add state");
    }
    REQUIRE(last(bench).states.size() == 3);
    bench.click("more runs");
    CHECK(last(bench).order.size() == 7);
    bench.click("draw by lot");
    CHECK(last(bench).shuffled);
    std::vector<int> order = last(bench).order;
    std::ranges::sort(order);
    CHECK(order == std::vector{0, 0, 0, 1, 1, 2, 2});

    bench.click("reading Guess");
    guess(bench, "Oke", 0, "4", "0.8");
    guess(bench, "Oke", 1, "5.5", "0.8");
    guess(bench, "Marit", 1, "about 5", "1"); // cannot be used: told, and nothing is noted
    CHECK(bench.find<QLabel>("guess error")->text().contains("about 5"));
    CHECK(last(bench).guesses.size() == 2);
    guess(bench, "Marit", 1, "4.6", "1");
    CHECK(last(bench).guess_open());
    CHECK(bench.tally(say::Figure::Roll) == "hidden");
    bench.click("predict");
    bench.wait_predicted();
    CHECK(bench.tally(say::Figure::Roll) != "hidden");
    const auto predicted = [&](int state) {
        return last(bench).states[static_cast<std::size_t>(state)].prediction.value[0];
    };
    CHECK(predicted(1) > predicted(0)); // without its bar it leans more
    CHECK(predicted(2) < predicted(0));

    // What was felt comes before the numbers of the run.
    const int runs = static_cast<int>(last(bench).order.size());
    for (int r = 0; r < runs; ++r) {
        bench.click("next run");
        REQUIRE(static_cast<int>(last(bench).runs.size()) == r + 1);
        const int state = last(bench).runs.back().state;
        CHECK(state == last(bench).order[static_cast<std::size_t>(r)]);
        CHECK_FALSE(bench.find<QLineEdit>("reading of lean"));
        bench.type("run driver", r % 2 ? "Marit" : "Oke");
        mark(bench, "roll", state == 1 ? 6 : state == 2 ? -4 : 1);
        mark(bench, "accept", state == 1 ? -5 : 2);
        bench.click("felt");
        const double read = predicted(state) / units::deg + (r % 2 ? 0.03 : -0.03);
        bench.type("reading of lean", QString::number(r == 3 ? read / 10 : read, 'f', 2));
    }
    CHECK(last(bench).runs[0].impressions.size() == 2);
    CHECK(last(bench).runs[0].impressions[0].person == "Oke");
    // A digit too many is asked about, and put right by hand.
    auto* sums = bench.window.station("Prove")->findChild<TestSums*>();
    sums->show_run(3);
    CHECK(bench.find<QLabel>("slips")->text().contains("digit"));
    const int slipped = last(bench).runs[3].state;
    bench.type("reading of lean", QString::number(predicted(slipped) / units::deg, 'f', 2));
    CHECK_FALSE(bench.find<QLabel>("slips"));
    // One run is left out, with its reason only.
    sums->show_run(0);
    bench.click("leave out");
    CHECK(last(bench).runs[0].discarded.empty());
    bench.type("left out because", "tyres were cold");
    bench.click("leave out");
    CHECK(last(bench).runs[0].discarded == "tyres were cold");
    CHECK(proof::compare(last(bench)).agreement == proof::Agreement::Agrees);
    const auto found = proof::back_to_back(last(bench), 0, 0, 1);
    REQUIRE(found);
    CHECK(found->difference > 0);
    sums->finish();
    CHECK(sums->asked().said.size() > 3);
    bench.click("reading People");
    CHECK(proof::eyes(bench.job()).size() >= 2);

    bench.click("reading Decide");
    bench.click("objects");
    CHECK(bench.find<QLabel>("decide error")->text().contains("who"));
    bench.type("voice", "Marit");
    bench.type("voice why", "too stiff over the setts");
    bench.click("objects");
    bench.find<QComboBox>("decision")->setCurrentIndex(1);
    bench.click("decide");
    CHECK(last(bench).decision.kind == job::Decision::Kind::None); // not without words
    bench.type("decision words", "As it is until the autumn.");
    bench.click("decide");
    CHECK(last(bench).decision.kind == job::Decision::Kind::Keep);
    CHECK(bench.job().book.back().reason.find("Marit objects: too stiff over the setts") != std::string::npos);

    const std::filesystem::path file = bench.folder.filePath("afternoon.dervish").toStdString();
    bench.document().save(file);
    Bench again(false);
    REQUIRE(again.window.open(QString::fromStdString(file.string())));
    CHECK(again.job() == bench.job());
    const job::Job after = bench.job();
    int steps = 0;
    while (bench.document().undo().canUndo()) {
        const job::Job now = bench.job();
        bench.document().undo().undo();
        CHECK_FALSE(bench.job() == now);
        ++steps;
    }
    CHECK(bench.job() == before);
    CHECK(steps > 30);
    while (bench.document().undo().canRedo()) bench.document().undo().redo();
    CHECK(bench.job() == after);
}

TEST_CASE("what is this unknown: the test that tells more of it is offered before the guess, how much only after") {
    Bench bench;
    bench.click("rail Prove");
    bench.click("plan test");
    choose(bench, "test asks", "unknown");
    choose(bench, "test unknown", "Front axle, roll centre");
    const std::string unknown = last(bench).unknown;
    CHECK(unknown.find("front") != std::string::npos);
    choose(bench, "state offered", "front bar off");
    bench.click("add state");
    auto* sums = bench.window.station("Prove")->findChild<TestSums*>();
    // Scales tell nothing of it: any test that leans the car tells more.
    choose(bench, "test protocol", "Corner scales");
    REQUIRE(QTest::qWaitFor([&] { return sums->better() != nullptr; }, 600000));
    CHECK(last(bench).guess_open());
    // The asking tells how far it is, can be stopped, keeps what it has, and goes on to its end.
    auto* others = bench.window.station("Prove")->findChild<QPushButton*>("other kinds");
    if (sums->asking_others()) { // else all of them were quicker than this hand
        CHECK(others->text().contains(QString(" of %1, stop").arg(sums->others_answered()->of)));
        others->click();
        CHECK_FALSE(sums->asking_others());
        if (const std::size_t before = sums->others_answered()->count; !sums->others_answered()->all()) {
            bench.settle();
            CHECK(sums->others_answered()->count == before);
            CHECK(others->text().contains("go on"));
            CHECK(sums->better() != nullptr);
            others->click();
        }
    }
    sums->finish_others();
    CHECK(sums->others_answered()->all());
    CHECK_FALSE(others->isVisible());
    const QString offered = bench.find<QPushButton>("plan better")->text();
    CHECK_FALSE(offered.contains("%"));
    bench.click("plan better");
    CHECK(last(bench).protocol != "corner_scales");
    CHECK(last(bench).unknown == unknown);

    // An order of all setups is one guess a setup beside the one before it; a slip in it is told.
    bench.click("reading Guess");
    bench.type("guess person", "Oke");
    choose(bench, "guess kind", "order");
    bench.type("guess order", "B C");
    bench.click("note guess");
    CHECK(bench.find<QLabel>("guess error")->text().contains("C"));
    CHECK(bench.find<QLineEdit>("guess order")->text() == "B C"); // nothing typed is lost
    bench.type("guess order", "B, A");
    bench.click("predict"); // typed and not noted counts too
    bench.wait_predicted();
    REQUIRE(last(bench).guesses.size() == 1);
    CHECK(last(bench).guesses[0].than == 1);
    const auto told = proof::narrowed_as_planned(last(bench));
    REQUIRE(told);
    CHECK(told->left < told->sigma);
    const auto first = proof::protocol(last(bench).protocol).channels[0];
    bench.click("next run");
    if (bench.find<QAbstractButton>("felt")) bench.click("felt"); // where there is anything to feel
    bench.type(QString("reading of %1").arg(first.spec.key),
               qs(job::show(last(bench).states[0].prediction.value[0], first.spec, bench.document().units())));
    const auto found = say::unknown_told(last(bench), bench.document().units());
    REQUIRE(found);
    const auto* rows = bench.find("test rows");
    REQUIRE(rows);
    CHECK(rows->accessibleDescription().contains(qs(found->headline)));
}

TEST_CASE("while a guess is open, no painted word, label or accessible name in the window tells an answer") {
    Bench bench;
    bench.document().finish_bands();
    // What the window says of the car now, station by station, and what the test will predict.
    bench.click("rail Prove");
    bench.click("plan test");
    const proof::Protocol& p = proof::protocol("diagonal_ramps");
    const job::Prediction said =
        proof::predict(p, proof::settings_of(p, {}), {bench.job().vehicle, bench.job().fitted});
    std::vector<std::string> answers;
    for (std::size_t c = 0; c < said.value.size(); ++c)
        answers.push_back(say::figure(std::abs(said.value[c]), p.channels[c], units::System::Metric)); // "327 mm"
    bench.window.findChild<QCheckBox*>("blind")->click(); // not blind: everything is shown
    std::vector<std::string> tally;
    for (const say::Figure f : say::all_figures) tally.push_back(bench.tally(f).toStdString());
    bench.window.findChild<QCheckBox*>("blind")->click();
    REQUIRE(last(bench).guess_open());
    const auto told = [&] {
        QStringList words;
        for (QWidget* w : bench.window.findChildren<QWidget*>()) {
            if (!w->isVisible()) continue;
            words << w->accessibleName() << w->accessibleDescription() << w->toolTip();
            if (const auto* label = qobject_cast<const QLabel*>(w)) words << label->text();
            if (const auto* button = qobject_cast<const QAbstractButton*>(w)) words << button->text();
            if (const auto* line = qobject_cast<const QLineEdit*>(w)) words << line->text();
            for (const Word& word : Ink::of(*w).words) words << word.text;
        }
        return words.join("\n").toStdString();
    };
    for (const char* station : {"Car", "Bar", "Links", "Balance", "Flex", "Prove"}) {
        CAPTURE(station);
        bench.window.show_station(station);
        QCoreApplication::processEvents();
        const std::string words = told();
        for (const std::string& answer : answers) {
            CAPTURE(answer);
            CHECK(words.find(answer) == std::string::npos);
        }
        CHECK(words.find("Hidden while") != std::string::npos);
        CHECK(words.find("°/g") == std::string::npos);
        CHECK(words.find(tally[static_cast<std::size_t>(say::Figure::Heads)] + " m/s²") == std::string::npos);
        if (std::string(station) != "Prove") CHECK(bench.find<QPushButton>("to the guess"));
    }
    // Other tests, the cards and the keys to them hide as well.
    auto* tests = bench.find<QComboBox>("tests");
    for (int i = 0; i + 1 < tests->count(); ++i) {
        emit tests->activated(i);
        for (const char* part : {"Plan", "Guess", "Runs", "People"}) {
            bench.click(QString("reading ") + part);
            const std::string words = told();
            CHECK(words.find("agrees: read") == std::string::npos);
            CHECK(words.find("± 6") == std::string::npos);
        }
    }
    const auto cards = [&] { return bench.window.findChildren<QDialog*>().size(); };
    const auto open = cards();
    bench.window.show_station("Car");
    bench.window.setFocus();
    for (const Qt::Key key : {Qt::Key_W, Qt::Key_M}) QTest::keyClick(&bench.window, key);
    CHECK(cards() == open);
    CHECK(told().find("°/g") == std::string::npos);
    bench.click("give up the guess");
    CHECK_FALSE(last(bench).blind);
    CHECK(bench.tally(say::Figure::Roll).toStdString() == tally[static_cast<std::size_t>(say::Figure::Roll)]);
    CHECK_FALSE(bench.find<QPushButton>("to the guess"));
}

TEST_CASE("the test sheet holds steps, runs and cautions but no answer, and a drawn order on a page of its own") {
    Bench bench;
    job::PlannedTest test;
    for (const job::PlannedTest& t : bench.job().tests)
        if (t.states.size() > 1 && t.protocol == "diagonal_ramps") test = t;
    REQUIRE(test.predicted());
    test.shuffled = true;
    const QString sheet = QString::fromStdString(say::test_sheet(bench.job(), test, units::System::Metric));
    CHECK(sheet.contains("Does the rear bar hold the track back?"));
    CHECK(sheet.contains("paper to draw from under a tyre"));
    CHECK(sheet.contains("Nobody under or beside the car"));
    CHECK_FALSE(sheet.contains(QString::fromStdString(
        units::text(test.states[0].prediction.value[0], units::Quantity::Length, units::System::Metric, 0))));
    CHECK_FALSE(sheet.section("page-break-before", 0, 0).contains("<td>B</td>")); // sealed
    CHECK(sheet.section("page-break-before", 1).contains("<td>B</td>"));
    QBuffer file;
    file.open(QIODevice::WriteOnly);
    QPdfWriter paper(&file);
    put_test_sheet(paper, bench.job(), test, units::System::Metric);
    CHECK(file.data().startsWith("%PDF"));
    CHECK(file.data().size() < 200000);
    CHECK(file.data().count("/Type /Page\n") == 2);
}

TEST_CASE("a practice round tells right from not so, and keeps its score apart from the job") {
    Bench bench;
    const job::Job before = bench.job();
    bench.click("rail Prove");
    bench.click("practise");
    auto* card = bench.window.findChild<QDialog*>();
    REQUIRE(card);
    auto* answer = card->findChild<QLabel*>("practice answer");
    CHECK(answer->text().isEmpty());
    card->findChild<QPushButton*>("practice 0")->click();
    CHECK((answer->text().startsWith("Right.") || answer->text().startsWith("Not so.")));
    const QString told = answer->text();
    card->findChild<QPushButton*>("practice 1")->click(); // answered once
    CHECK(answer->text() == told);
    card->findChild<QPushButton*>("next practice")->click();
    CHECK(answer->text().isEmpty());
    CHECK(bench.job() == before);
    card->close();
}

TEST_CASE("clicks out of order in Prove: a guess not noted, words not decided, tests of unlike length, another job") {
    Bench bench;
    bench.click("rail Prove");
    auto* sums = bench.window.station("Prove")->findChild<TestSums*>();
    // What explains one test's second setup is not asked of a test that has one setup only.
    for (int i : {5, 3, 5, 0, 4}) {
        sums->show_test(i);
        bench.click("reading Runs");
        sums->finish();
        sums->show_test(0);
        CHECK(sums->asked().state <= 0);
        bench.window.grab();
    }
    bench.click("plan test");
    bench.click("reading Guess");
    bench.type("guess", "12 in");
    bench.click("predict"); // without "Note this guess"
    bench.wait_predicted();
    REQUIRE(last(bench).guesses.size() == 1);
    CHECK(last(bench).guesses[0].value == Approx(0.3048));
    // A reason typed for one run is none for the next; words wait with the job until they are decided.
    for (int i = 0; i < 2; ++i) bench.click("next run");
    bench.type("left out because", "wind");
    sums->show_run(0);
    CHECK(bench.find<QLineEdit>("left out because")->text().isEmpty());
    bench.click("reading Decide");
    bench.type("decision words", "Leave it");
    const std::size_t lines = bench.job().book.size();
    sums->show_test(2);
    CHECK(bench.find<QLineEdit>("decision words")->text() != "Leave it");
    sums->show_test(static_cast<int>(bench.job().tests.size()) - 1);
    CHECK(bench.find<QLineEdit>("decision words")->text() == "Leave it");
    CHECK(last(bench).decision.words == "Leave it");
    CHECK(bench.job().book.size() == lines);
    bench.find<QComboBox>("decision")->setCurrentIndex(1);
    for (int twice = 0; twice < 2; ++twice) bench.click("decide");
    CHECK(bench.job().book.size() == lines + 1);
    // Another job's test at the same place shows its own.
    bench.document().open(QString(demo_path()).replace("hut-van", "hill-sprint").toStdString());
    CHECK(bench.find<QLineEdit>("decision words")->text() != "Leave it");
    // While a guess is open a decision is hidden too.
    bench.click("plan test");
    sums->show_test(1);
    bench.click("reading Decide");
    CHECK_FALSE(bench.find<QLabel>("decided"));
    bench.document().edit("unknown", {}, [](job::Job& j) {
        j.tests.resize(2);
        j.tests[1].protocol = "jump";
    });
    for (const char* part : {"rail Car", "rail Prove"}) bench.click(part);
    bench.window.grab();
    CHECK_FALSE(bench.find<QPushButton>("next run"));
}
