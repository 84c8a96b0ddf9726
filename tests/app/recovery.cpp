#include <catch2/catch.hpp>

#include "app/paint/pen.h"
#include "app/shell/stations.h"
#include "bench_window.h"
#include "core/job/limits.h"

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
        CHECK(QTest::qWaitFor([&] { return kept().size() == 2; }, 120000));
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
    CHECK(Recovery::load(left[0]).attachments.at("log.csv").content.bytes() == "1,2,3");
    QFile torn(folder() + "/torn.job.json");
    REQUIRE(torn.open(QIODevice::WriteOnly));
    torn.write("{ torn");
    torn.close();
    left = next.window.recovery().left_behind();
    CHECK(left.size() == 1);
    CHECK(QFile::exists(folder() + "/torn.job.json.damaged"));
    next.window.offer_recovery();
    auto* card = next.window.findChild<QDialog*>("recovery");
    REQUIRE(card);
    auto* later = card->findChild<QPushButton*>("leave it");
    CHECK(later->text() == "Leave it for later");
    card->findChild<QPushButton*>("throw away 0")->click();
    CHECK(later->text() == "Go on"); // nothing is left for later
    later->click();
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

TEST_CASE("where no mark can be made, a job is opened and not said to be open elsewhere") {
    const Clean clean;
    const QTemporaryDir place;
    const QString file = place.filePath("one.dervish");
    store::save({job::blank(), {}}, file.toStdString());
    QDir().mkpath(data_folder());
    QFile in_the_way(data_folder() + "/open"); // as a full disk has it: no folder for marks
    REQUIRE(in_the_way.open(QIODevice::WriteOnly));
    Bench bench(false);
    bench.window.remember();
    QString asked;
    answer("Leave it", asked);
    CHECK(bench.window.open(file));
    QCoreApplication::processEvents();
    CHECK(asked.isEmpty());
    in_the_way.remove();
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

TEST_CASE("the first start of all asks for the kind of car, later ones do not") {
    const Clean clean;
    QSettings().remove("job");
    const auto asked = [](Bench& bench) {
        bench.window.remember();
        bench.window.open_last_or_offer();
        bench.window.offer_recovery();
        return bench.window.findChild<QDialog*>("new car");
    };
    const QTemporaryDir place;
    {
        Bench first(false);
        auto* card = asked(first);
        REQUIRE(card);
        card->findChild<QComboBox*>("new kind")->setCurrentIndex(static_cast<int>(job::CarKind::Model));
        card->findChild<QPushButton*>("begin")->click();
        CHECK(first.job().vehicle.wheelbase.value < 0.5);
        first.document().save(place.filePath("model.dervish").toStdString());
        REQUIRE(first.window.open(place.filePath("model.dervish")));
    }
    Bench next(false);
    CHECK_FALSE(asked(next));
    CHECK(next.document().path() == place.filePath("model.dervish").toStdString());
}

TEST_CASE("after a session that ended badly the job is offered, and not opened by itself") {
    const Clean clean;
    const QTemporaryDir place;
    const QString file = place.filePath("one.dervish");
    store::save({job::blank(), {}}, file.toStdString());
    const auto last = [](Bench& bench) {
        bench.window.remember();
        bench.window.open_last_or_offer();
        bench.window.offer_recovery();
        return bench.window.findChild<QDialog*>("recovery");
    };
    {
        Bench bench(false);
        bench.window.remember();
        REQUIRE(bench.window.open(file));
    }
    {
        Bench well(false);
        CHECK_FALSE(last(well));
        CHECK(well.document().path() == file.toStdString()); // as it was left
    }
    // What a kill or a fault leaves behind: the mark of a session whose process is gone.
    QFile mark(folder() + "/gone.lock");
    REQUIRE(mark.open(QIODevice::WriteOnly));
    mark.write("999999999\ndervish\n\n");
    mark.close();
    Bench badly(false);
    QDialog* card = last(badly);
    REQUIRE(card);
    CHECK(badly.document().path().empty());
    QString words;
    for (const QLabel* label : card->findChildren<QLabel*>()) words += label->text();
    CHECK(words.contains("did not end as it should"));
    CHECK(words.contains("one.dervish"));
    card->findChild<QPushButton*>("open last")->click();
    CHECK(badly.document().path() == file.toStdString());
}

TEST_CASE("a job opened by a relative path is recovered into that very file from anywhere") {
    const Clean clean;
    const QTemporaryDir place;
    const QString file = place.filePath("one.dervish"), before = QDir::currentPath();
    store::save({job::blank(), {}}, file.toStdString());
    QDir::setCurrent(place.path());
    {
        Bench bench(false);
        bench.window.remember();
        bench.document().open("one.dervish");
        CHECK(bench.document().path().is_absolute());
        bench.document().type("vehicle/wheelbase", "2700");
        bench.window.recovery().write_now();
    }
    QDir::setCurrent(before);
    Bench next(false);
    next.window.remember();
    const auto left = next.window.recovery().left_behind();
    REQUIRE(left.size() == 1);
    CHECK(QFileInfo(left[0].of).canonicalFilePath() == QFileInfo(file).canonicalFilePath());
    CHECK(left[0].differs.size() == 1); // from that file, not from a blank job
    // From before paths were whole: nobody knows where that was, so it belongs to no file.
    QFile of(folder() + "/" + kept()[0].replace(".job.json", ".path"));
    REQUIRE(of.open(QIODevice::WriteOnly));
    of.write("0 0 0 0\none.dervish");
    of.close();
    CHECK(next.window.recovery().left_behind()[0].of.isEmpty());
}

TEST_CASE("work that cannot be kept is told at once, and what is too long to be saved is refused and stays typed") {
    const Clean clean;
    Bench bench;
    bench.window.remember();
    QDir().rename(folder(), folder() + "-away");
    QFile in_the_way(folder());
    REQUIRE(in_the_way.open(QIODevice::WriteOnly)); // where the folder was
    bench.document().type("trial/front/bar/outer_diameter", "28");
    bench.window.recovery().write_now();
    QMessageBox* told = nullptr;
    CHECK(QTest::qWaitFor([&] { return (told = bench.window.findChild<QMessageBox*>("error")) != nullptr; }, 600000));
    REQUIRE(told);
    CHECK(told->windowTitle().contains("not being kept"));
    told->close();
    in_the_way.remove();
    QDir().rename(folder() + "-away", folder());
    const job::Job before = bench.job();
    CHECK_THROWS_AS(
        bench.document().edit("book", {},
                              [](job::Job& j) { j.book.change()[0].reason = std::string(job::longest_in_file, 'x'); }),
        BadInput);
    CHECK(bench.job() == before);
    bench.window.recovery().write_now(); // and all else is still kept
    CHECK(store::load((folder() + "/" + kept()[0]).toStdString()).job == bench.job());
}

TEST_CASE("photographs keep no work waiting, and are recovered: those of the file, new ones, and both") {
    const Clean clean;
    const QTemporaryDir place;
    const std::filesystem::path file = place.filePath("with.dervish").toStdString();
    std::string old_one(2 << 20, 'o'), new_one(3 << 20, 'n');
    for (std::size_t i = 0; i < old_one.size(); ++i) old_one[i] = static_cast<char>(i * i >> 3 ^ i);
    for (std::size_t i = 0; i < new_one.size(); ++i) new_one[i] = static_cast<char>(i * i >> 5 ^ 3 * i);
    store::save({job::blank(), {{"old.jpg", {old_one}}}}, file);
    const QString picture = place.filePath("new.jpg");
    std::ofstream(picture.toStdString(), std::ios::binary) << new_one;
    {
        Bench bench(false);
        bench.window.remember();
        REQUIRE(bench.window.open(QString::fromStdString(file.string())));
        CHECK(bench.document().attach(picture.toStdString()) == "new.jpg");
        bench.document().type("vehicle/wheelbase", "2700");
        bench.window.recovery().write_now();
        CHECK(QFileInfo(folder() + "/" + kept()[0]).size() < 500'000); // the job alone
    }
    std::filesystem::remove(file); // its name: the bytes have another
    Bench next(false);
    next.window.remember();
    const auto left = next.window.recovery().left_behind();
    REQUIRE(left.size() == 1);
    store::JobFile found = Recovery::load(left[0]);
    CHECK(found.attachments.at("old.jpg").content.bytes() == old_one);
    CHECK(found.attachments.at("new.jpg").content.bytes() == new_one);
    next.document().recover(std::move(found), file, left[0].stamp);
    next.document().save(file);
    CHECK(store::load(file).attachments.at("old.jpg").content.bytes() == old_one);
    CHECK(store::load(file).attachments.at("new.jpg").content.bytes() == new_one);
    Recovery::remove(left[0]);
    CHECK(next.window.recovery().left_behind().isEmpty());
}

TEST_CASE("a bar's name of any length is painted, at every size of letters") {
    Bench bench;
    for (const int letters : {300, 1500, 6000, 90000}) {
        CAPTURE(letters);
        job::Job job = bench.job(); // as a stranger's file has it
        QString name;
        while (name.size() < letters) name += "Wide Name ";
        for (job::Setup* setup : {&job.fitted, &job.trial}) {
            setup->name = name.toStdString();
            for (const End end : both_ends) (*setup)[end].bar.name = name.toStdString();
        }
        job.name = job.vehicle.name = job.vehicle.loads[0].name = job.people[0].name = name.toStdString();
        bench.document().start_new(job);
        for (const StationKind& kind : station_kinds()) {
            bench.window.show_station(kind.title);
            for (int again = 0; again < 4; ++again) { // pictures of words are made from the third time on
                bench.window.grab();
                QCoreApplication::processEvents();
            }
        }
        for (int pixels = 12; pixels <= 40; pixels += 4)
            for (int again = 0; again < 4; ++again) {
                QPixmap dots(300, 60);
                dots.setDevicePixelRatio(again % 2 ? 2 : 1);
                QPainter p(&dots);
                paint::text(p, {0, 20}, Qt::AlignLeft, name, pixels, Qt::black);
                paint::text_within(p, {0, 40}, 200, name, pixels, Qt::black);
            }
    }
    CHECK(bench.window.width() <= 1280); // and no name makes the window wider
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
        CHECK(QTest::qWaitFor([&] { return left; }, 120000));
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
    CHECK(QTest::qWaitFor([&] { return bench.window.findChildren<QMessageBox*>("error").size() == 2; }, 120000));
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
