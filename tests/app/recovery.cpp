#include <catch2/catch.hpp>

#include "bench_window.h"

#include <csignal>
#include <fstream>

using namespace dervish;
using namespace dervish::app;

namespace {
QString folder() { return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + "/unsaved"; }
struct Clean {
    Clean() { clear(); }
    ~Clean() { clear(); }
    static void clear() {
        QDir(folder()).removeRecursively();
        QDir(folder() + "/../open").removeRecursively();
        QSettings().clear();
    }
};
QStringList kept() { return QDir(folder()).entryList({"*.job.json"}); }
} // namespace

TEST_CASE("steady work is kept within seconds, told with what differs, and taken up or thrown away", "[path][worker]") {
    const Clean clean;
    {
        Bench bench;
        bench.window.remember();
        bench.click("rail Bar");
        QElapsedTimer clock;
        clock.start();
        int typed = 0;
        while (clock.elapsed() < 2500 || (kept().empty() && clock.elapsed() < 20000)) { // never pausing
            bench.document().type("trial/front/bar/outer_diameter", QString::number(27 + typed++ % 3));
            QTest::qWait(50);
        }
        REQUIRE(kept().size() == 1);
        bench.document().type("trial/front/bar/outer_diameter", "28");
        CHECK(QTest::qWaitFor(
            [&] {
                bench.window.recovery().flush();
                return store::load((folder() + "/" + kept()[0]).toStdString()).job == bench.job();
            },
            20000));
        // Another window's is not its own.
        Bench other(false);
        other.window.remember();
        other.document().type("vehicle/wheelbase", "2700");
        CHECK(QTest::qWaitFor([&] { return kept().size() == 2; }, 20000));
        CHECK(other.window.recovery().left_behind().isEmpty()); // both run
        other.document().undo().undo();
        CHECK(kept().size() == 1); // undone to clean: nothing to recover
    }                              // gone without closing
    Bench next(false);
    next.window.remember();
    const job::Job before = next.job();
    next.window.offer_recovery();
    auto* card = next.window.findChild<QDialog*>("recovery");
    REQUIRE(card);
    CHECK(next.job() == before); // offered, not taken
    QString words;
    for (const QLabel* label : card->findChildren<QLabel*>()) words += label->text();
    CHECK(words.contains("Outer diameter: 26 -&gt; 28"));
    CHECK(words.contains("hut-van.dervish"));
    card->findChild<QPushButton*>("take up 0")->click();
    CHECK(next.job().trial.front.bar.outer_diameter.value == Approx(0.028));
    CHECK(next.document().unsaved());
    CHECK(next.document().path().filename() == "hut-van.dervish");
    CHECK(kept().size() == 1); // its own now
    next.window.end_session(); // as by a signal: nothing is asked, all is kept
    CHECK_FALSE(next.window.isVisible());
    CHECK(kept().size() == 1);
}

TEST_CASE("attachments are recovered, a damaged recovery is set aside, and thrown away is gone", "[worker]") {
    const Clean clean;
    const QTemporaryDir place;
    const std::filesystem::path file = place.filePath("with.dervish").toStdString();
    store::save({job::blank(), {{"log.csv", {"1,2,3"}}}}, file);
    {
        Bench bench(false);
        bench.window.remember();
        REQUIRE(bench.window.open(QString::fromStdString(file.string())));
        bench.document().type("vehicle/wheelbase", "2700");
        bench.window.recovery().write_now();
    }
    std::filesystem::remove(file);
    Bench next(false);
    next.window.remember();
    auto left = next.window.recovery().left_behind();
    REQUIRE(left.size() == 1);
    CHECK(Recovery::load(left[0]).attachments.at("log.csv").bytes == "1,2,3");
    QFile torn(folder() + "/torn.job.json");
    REQUIRE(torn.open(QIODevice::WriteOnly));
    torn.write("{ torn");
    torn.close();
    left = next.window.recovery().left_behind();
    CHECK(left.size() == 1);
    CHECK(QFile::exists(folder() + "/torn.job.json.damaged"));
    Recovery::remove(left[0]);
    CHECK(next.window.recovery().left_behind().isEmpty());
}

namespace {
/// Answers the next message box by the button with these words; `asked` gets its text.
void answer(const QString& words, QString& asked) {
    QTimer::singleShot(100, [&asked, words] {
        auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
        if (!box) return;
        asked = box->text();
        for (QAbstractButton* b : box->buttons())
            if (b->text().remove('&') == words) return b->click();
        box->reject();
    });
}
} // namespace

TEST_CASE("a job open in another window is told, and a file that cannot be opened leaves the mark of the one that is") {
    const Clean clean;
    const QTemporaryDir place;
    const QString file = place.filePath("one.dervish"), torn = place.filePath("torn.dervish");
    store::save({job::blank(), {}}, file.toStdString());
    std::ofstream(torn.toStdString()) << "not a job";
    Bench first(false), second(false);
    first.window.remember();
    second.window.remember();
    REQUIRE(first.window.open(file));
    QString asked;
    CHECK_FALSE(first.window.open(torn));
    auto* error = first.window.findChild<QMessageBox*>("error");
    REQUIRE(error);
    CHECK(error->text().contains("torn.dervish"));
    error->close();
    answer("Leave it", asked);
    CHECK_FALSE(second.window.open(file));
    CHECK(asked.contains("one.dervish"));
    CHECK(asked.contains("open in another window"));
    CHECK(second.document().path().empty());
    answer("Open it here too", asked);
    CHECK(second.window.open(file));
}

TEST_CASE("work taken up over a file that was changed since asks before it replaces that") {
    const Clean clean;
    const QTemporaryDir place;
    const QString file = place.filePath("one.dervish");
    store::save({job::blank(), {}}, file.toStdString());
    {
        Bench bench(false);
        bench.window.remember();
        REQUIRE(bench.window.open(file));
        bench.document().type("vehicle/wheelbase", "2700");
        bench.window.recovery().write_now();
    }
    job::Job theirs = job::blank();
    theirs.name = "changed by someone else";
    store::save({theirs, {}}, file.toStdString());
    Bench next(false);
    next.window.remember();
    next.window.offer_recovery();
    next.window.findChild<QDialog*>("recovery")->findChild<QPushButton*>("take up 0")->click();
    CHECK(next.job().vehicle.wheelbase.value == Approx(2.7));
    QString asked;
    answer("Cancel", asked);
    CHECK_FALSE(next.window.save());
    CHECK(asked.contains("changed by someone else since"));
    CHECK(store::load(file.toStdString()).job.name == theirs.name);
    answer("Save over it", asked);
    CHECK(next.window.save());
    CHECK(store::load(file.toStdString()).job.vehicle.wheelbase.value == Approx(2.7));
}

TEST_CASE("a process told to end keeps what is not saved, and asks nothing") {
    const Clean clean;
    {
        Bench bench;
        bench.window.remember();
        bool left = false;
        bench.window.end_on_signals([&left] { left = true; });
        bench.document().type("trial/front/bar/outer_diameter", "28");
        std::raise(SIGTERM);
        CHECK(QTest::qWaitFor([&] { return left; }, 20000));
        CHECK_FALSE(bench.window.isVisible());
    }
    for (const int signal : {SIGTERM, SIGHUP, SIGINT}) std::signal(signal, SIG_DFL);
    REQUIRE(kept().size() == 1);
    CHECK(store::load((folder() + "/" + kept()[0]).toStdString()).job.trial.front.bar.outer_diameter.value ==
          Approx(0.028));
}

TEST_CASE("a file changed by someone else meanwhile is not replaced without asking") {
    const Clean clean;
    Bench bench;
    const QString file = bench.folder.filePath("shared.dervish");
    bench.document().save(file.toStdString());
    CHECK_FALSE(bench.document().changed_on_disk());
    store::JobFile other{job::blank(), {}};
    store::save(other, file.toStdString());
    CHECK(bench.document().changed_on_disk());
    bench.document().type("trial/front/bar/outer_diameter", "28");
    QString asked;
    answer("Cancel", asked);
    CHECK_FALSE(bench.window.save());
    CHECK(asked.contains("changed by someone else"));
    CHECK(store::load(file.toStdString()).job.name == other.job.name);
}

TEST_CASE("a fault in a slot or a worker is told, the work is kept, and the window goes on", "[worker]") {
    const Clean clean;
    Bench bench;
    bench.window.remember();
    bench.document().type("trial/front/bar/outer_diameter", "28");
    QMetaObject::invokeMethod(
        &bench.window, [] { throw std::runtime_error("a made-up fault"); }, Qt::QueuedConnection);
    Worker worker;
    worker.start([](const auto&, const auto&) { throw std::logic_error("another one"); });
    worker.finish();
    CHECK(QTest::qWaitFor([&] { return bench.window.findChildren<QMessageBox*>("error").size() == 2; }, 20000));
    QString words;
    for (QMessageBox* box : bench.window.findChildren<QMessageBox*>("error")) {
        words += box->text();
        box->close();
    }
    CHECK(words.contains("a made-up fault"));
    CHECK(words.contains("another one"));
    CHECK(kept().size() == 1);
    bench.document().type("trial/front/bar/outer_diameter", "27");
    CHECK(bench.job().trial.front.bar.outer_diameter.value == Approx(0.027));
}
