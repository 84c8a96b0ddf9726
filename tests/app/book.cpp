#include <QtTest>
#include <QtWidgets>
#include <catch2/catch.hpp>

#include "app/book/book_station.h"
#include "app/book/paper_row.h"
#include "app/book/papers.h"
#include "app/book/story_view.h"
#include "app/words.h"
#include "bench_window.h"
#include "core/book/shelf.h"
#include "core/edit/book.h"
#include "core/edit/setups.h"
#include "core/job/dates.h"
#include "store/job_file.h"

#include <fstream>

using namespace dervish;
using namespace dervish::app;

namespace {
StoryView& story_of(Bench& bench) {
    bench.window.show_station("Book");
    return *bench.window.station("Book")->findChild<StoryView*>();
}
void fill(Bench& bench, const char* name, const char* text) {
    auto* line = bench.find<QLineEdit>(name);
    REQUIRE(line);
    line->setFocus();
    line->selectAll();
    QTest::keyClicks(line, text);
    QTest::keyClick(line, Qt::Key_Tab);
}
} // namespace

TEST_CASE("a failure is written, kept while it is typed, put right, struck out, and all of it taken back", "[path]") {
    Bench bench;
    StoryView& story = story_of(bench);
    const std::size_t lines = bench.job().book.size();
    bench.click("reading Write");
    auto* kind = bench.find<QComboBox>("new kind");
    kind->setCurrentIndex(1); // failed
    emit kind->activated(1);
    auto* reason = bench.find<QPlainTextEdit>("new reason");
    QTest::keyClicks(reason, "right link bent");
    fill(bench, "new driven_so", "450 km");
    fill(bench, "new distance", "about 54000");
    // What is typed and not written yet is kept with the job, through the file.
    const QString file = bench.folder.filePath("kept.dervish");
    bench.document().save(file.toStdString());
    bench.document().open(file.toStdString());
    bench.click("reading Write");
    CHECK(bench.find<QPlainTextEdit>("new reason")->toPlainText() == "right link bent");
    CHECK_FALSE(bench.document().old()); // nothing that bears on a figure waits
    kind->setCurrentIndex(1);
    emit kind->activated(1);
    bench.click("write entry");
    CHECK(bench.job().book.size() == lines);
    CHECK(bench.find<QLabel>("write error")->text().contains("about 54000"));
    fill(bench, "new distance", "54000");
    fill(bench, "new date", "2032-10-03");
    bench.click("write entry");
    REQUIRE(bench.job().book.size() == lines + 1);
    const job::Entry& written = bench.job().book.back();
    CHECK(written.kind == job::EntryKind::Failed);
    CHECK(written.odometer == Approx(54000e3));
    CHECK(written.more.driven_so == Approx(450e3));
    CHECK(bench.job().drafts.empty());
    CHECK(story.entry_index() == static_cast<int>(lines)); // it is looked at
    CHECK(bench.find<QLabel>("entry words")->text().contains("right link bent"));
    bench.find<QPlainTextEdit>("entry reason")->setPlainText("left link bent");
    bench.click("correct entry");
    CHECK(bench.job().book.back().reason == "left link bent");
    CHECK(bench.find<QLabel>("entry words")->text().contains("right link bent")); // what it said before
    bench.click("strike entry");
    CHECK(bench.job().book.back().more.struck.empty()); // not without a reason
    fill(bench, "why struck", "the other van");
    bench.click("strike entry");
    CHECK(bench.job().book.back().more.struck == "the other van");
    bench.document().undo().undo();
    bench.document().undo().undo();
    CHECK(bench.job().book.back().reason == "right link bent");
    bench.document().undo().undo(); // what was typed for the correction
    bench.document().undo().undo();
    CHECK(bench.job().book.size() == lines);
}

TEST_CASE("the car as it stood is in every station, read only and said so, and goes on Trial", "[path]") {
    Bench bench;
    StoryView& story = story_of(bench);
    const job::Job today = bench.job();
    int off = -1;
    for (std::size_t i = 0; i < today.book.size(); ++i)
        if (today.book[i].car && !today.book[i].car->setup.rear.connected) off = static_cast<int>(i);
    REQUIRE(off >= 0);
    story.choose_entry(off);
    const double lean = bench.document().fitted().outcomes[study::RollGradient];
    bench.find<QWidget>("story")->setFocus();
    QTest::keyClick(bench.find<QWidget>("story"), Qt::Key_B);
    REQUIRE(bench.document().looking_back() == off);
    CHECK(bench.document().looked().outcomes[study::RollGradient] > lean); // without its rear bar
    CHECK(bench.find<QPushButton>("look fitted")->text().contains("AS IT STOOD"));
    CHECK_FALSE(bench.find<QPushButton>("look trial"));
    // Nothing changes it, from whichever station, and what is saved is today's.
    bench.window.show_station("Bar");
    CHECK_FALSE(bench.document().may_change());
    bench.document().edit("diameter", {}, [](job::Job& j) { j.fitted.front.bar.outer_diameter.value = 0.03; });
    bench.document().type("vehicle/wheelbase", "9000");
    bench.document().set_look(Look::Trial);
    CHECK(bench.document().look() == Look::Fitted);
    const QString file = bench.folder.filePath("past.dervish");
    bench.document().save(file.toStdString());
    CHECK(store::load(file.toStdString()).job == today);
    bench.click("fit it"); // "Back to now"
    CHECK_FALSE(bench.document().looking_back());
    CHECK(bench.job() == today);
    CHECK(bench.document().look() == Look::Trial);
    bench.window.show_station("Book");
    bench.click("as it stood");
    bench.click("found so"); // "Put it on Trial"
    CHECK_FALSE(bench.document().looking_back());
    CHECK(bench.job().trial == today.book[static_cast<std::size_t>(off)].car->setup);
    CHECK(bench.job().fitted == today.fitted);
    bench.document().undo().undo();
    CHECK(bench.job() == today);
    // A step of the history while the past is looked at is one of today.
    bench.document().edit("name", {}, [](job::Job& j) { j.name = "another"; });
    bench.document().look_back(off);
    bench.document().undo().undo();
    CHECK_FALSE(bench.document().looking_back());
    CHECK(bench.job() == today);
}

TEST_CASE("half a correction waits while another entry is looked at, and a date far ahead is asked about once") {
    Bench bench;
    StoryView& story = story_of(bench);
    story.choose_entry(1);
    const job::Entry was = bench.job().book[1];
    fill(bench, "entry date", "2031-05-3");
    auto* reason = bench.find<QPlainTextEdit>("entry reason");
    REQUIRE(reason);
    reason->setFocus();
    reason->selectAll();
    QTest::keyClicks(reason, "Half of what");
    story.choose_entry(0);
    CHECK(bench.find<QLineEdit>("entry date")->text() == qs(bench.job().book[0].date));
    CHECK(bench.find<QPushButton>("correct entry")->text() == "Correct it");
    story.choose_entry(1);
    CHECK(bench.find<QLineEdit>("entry date")->text() == "2031-05-3");
    CHECK(reason->toPlainText() == "Half of what");
    CHECK(bench.find<QPushButton>("correct entry")->text().contains("half typed"));
    CHECK(bench.job().book[1] == was);
    // It is saved with the job, and goes once it is written.
    const std::filesystem::path file = bench.folder.filePath("half.dervish").toStdString();
    bench.document().save(file);
    CHECK(store::load(file).job == bench.job());
    fill(bench, "entry date", "2031-05-03");
    bench.click("correct entry");
    CHECK(bench.job().book[1].date == "2031-05-03");
    CHECK(bench.job().book[1].reason == "Half of what");
    CHECK(bench.job().book[1].odometer == was.odometer);
    CHECK_FALSE(edit::draft_for_entry(bench.job(), "date", 1));

    bench.click("reading Write");
    fill(bench, "new date", "2132-05-03");
    auto* what = bench.find<QPlainTextEdit>("new reason");
    REQUIRE(what);
    what->setFocus();
    QTest::keyClicks(what, "looked at");
    const std::size_t lines = bench.job().book.size();
    bench.click("write entry");
    CHECK(bench.job().book.size() == lines);
    CHECK(bench.find<QLabel>("write error")->text().contains("2132-05-03"));
    bench.click("write entry");
    CHECK(bench.job().book.size() == lines + 1);
}

TEST_CASE("upkeep is planned, done by one key with what was found, and the part is measured", "[path]") {
    Bench bench;
    story_of(bench);
    bench.click("reading Upkeep");
    auto* list = bench.find<QListWidget>("upkeep");
    int links = -1;
    for (int i = 0; i < list->count(); ++i)
        if (list->item(i)->text().contains("rear links: play and noises")) links = i;
    REQUIRE(links >= 0);
    list->setCurrentRow(links);
    CHECK(list->item(links)->text().startsWith("!")); // due by the rocks of June
    fill(bench, "done measured", "1,5 mm");
    fill(bench, "done found", "a knock by hand");
    list->setFocus();
    const std::size_t lines = bench.job().book.size();
    QTest::keyClick(list, Qt::Key_Return);
    REQUIRE(bench.job().book.size() == lines + 1);
    CHECK(bench.job().book.back().kind == job::EntryKind::Serviced);
    CHECK(bench.job().fitted.rear.links.play.value == Approx(1.5e-3));
    CHECK(bench.job().fitted.rear.links.play.source == job::Source::Measured);
    bool due = false;
    for (int i = 0; i < list->count(); ++i)
        due = due || (list->item(i)->text().startsWith("!") && list->item(i)->text().contains("rear links: play"));
    CHECK_FALSE(due);
    fill(bench, "upkeep every", "soon");
    bench.click("change upkeep");
    CHECK(bench.find<QLabel>("upkeep error")->text().contains("soon"));
    CHECK(bench.find<QLineEdit>("upkeep every")->text() == "soon");
    const std::size_t planned = bench.job().upkeep.size();
    bench.click("usual upkeep"); // all of it is there
    CHECK(bench.job().upkeep.size() == planned);
    fill(bench, "upkeep what", "look at the strap");
    fill(bench, "upkeep every", "3000");
    bench.click("add upkeep");
    REQUIRE(bench.job().upkeep.size() == planned + 1);
    CHECK(bench.job().upkeep.back().every == Approx(3000e3));
}

TEST_CASE("the line is zoomed, dragged, stepped and searched, and a picture goes with an entry and its file",
          "[path]") {
    Bench bench;
    StoryView& story = story_of(bench);
    auto* line = bench.find<QWidget>("story");
    line->setFocus();
    const auto last = story.chosen();
    QTest::keyClick(line, Qt::Key_Left);
    CHECK(*story.chosen() == *last - 1);
    for (int i = 0; i < 6; ++i) QTest::keyClick(line, Qt::Key_Plus);
    for (int i = 0; i < 100; ++i) QTest::keyClick(line, Qt::Key_Left); // what is chosen stays in sight
    CHECK(*story.chosen() == 0);
    line->grab();
    QTest::mousePress(line, Qt::LeftButton, {}, {400, 200});
    QTest::mouseMove(line, {300, 200});
    QTest::mouseRelease(line, Qt::LeftButton, {}, {300, 200});
    CHECK(*story.chosen() == 0); // dragged, not clicked
    bench.click("by date");
    CHECK_FALSE(story.by_distance());
    bench.click("whole story");
    fill(bench, "book words", "BRACKET welder");
    std::size_t found = 0;
    for (std::size_t i = 0; i < story.moments().size(); ++i) found += story.is_wanted(i);
    CHECK(found == 1);
    REQUIRE(story.entry());
    CHECK(story.entry()->reason.find("welder") != std::string::npos);
    bench.click("book all");
    const std::string picture = bench.folder.filePath("joint.png").toStdString();
    std::ofstream(picture) << "picture";
    const std::string name = bench.document().attach(picture);
    CHECK(name == "joint.png");
    CHECK(bench.document().attach(picture) == name); // the same bytes once
    std::ofstream(picture) << "another";
    CHECK(bench.document().attach(picture) == "joint-2.png");
    CHECK_THROWS_AS(bench.document().attach(bench.folder.filePath("none.png").toStdString()), BadInput);
    const QString file = bench.folder.filePath("with.dervish");
    bench.document().save(file.toStdString());
    CHECK(store::load(file.toStdString()).attachments.at("joint.png").content.bytes() == "picture");
}

TEST_CASE("the shelf tells where every part is, and what is typed of one follows it wherever it stands") {
    Bench bench;
    story_of(bench);
    bench.click("reading Shelf");
    auto* list = bench.find<QListWidget>("things");
    const auto things = book::things(bench.job());
    REQUIRE(list->count() == static_cast<int>(things.size()));
    int spare = -1;
    for (int i = 0; i < list->count(); ++i)
        if (things[static_cast<std::size_t>(i)].id == "bar-4") spare = i;
    REQUIRE(spare >= 0);
    list->setCurrentRow(spare);
    auto* where = bench.find<QComboBox>("part where");
    REQUIRE(where->isEnabled());
    where->setCurrentIndex(3);
    emit where->activated(3);
    CHECK(list->item(spare)->text().contains("sold"));
    auto* mark = bench.find<QLineEdit>("part mark");
    fill(bench, "part mark", "two dots");
    CHECK(bench.job().part_records.size() >= 2);
    CHECK(mark->text() == "two dots");
    fill(bench, "part mass", "4,2 kg");
    for (const book::Thing& t : book::things(bench.job()))
        if (t.id == "bar-4") {
            CHECK(t.part.mass == Approx(4.2));
            CHECK(t.record.mark == "two dots");
            CHECK(t.whereabouts == job::Whereabouts::Sold);
        }
    fill(bench, "part price", "dear");
    CHECK(bench.find<QLabel>("shelf error")->text().contains("dear"));
    list->setCurrentRow(0);
    CHECK_FALSE(bench.find<QComboBox>("part where")->isEnabled()); // it is on the car
    bench.click("reading People");
    fill(bench, "person name", "Tam");
    fill(bench, "person mass", "700");
    bench.click("keep person");
    CHECK(bench.job().people.size() == 2);
    fill(bench, "person mass", "70");
    bench.click("keep person");
    REQUIRE(bench.job().people.size() == 3);
    CHECK(bench.job().people.back().mass == Approx(70));
}

TEST_CASE("a Trial is fitted by its sheet: ticked, links measured on the way, a torque with its source, on paper",
          "[path]") {
    Bench bench;
    story_of(bench);
    bench.click("reading Sheet");
    auto* view = bench.find<QWidget>("job sheet");
    REQUIRE(view);
    const auto ticks = view->findChildren<QCheckBox*>();
    REQUIRE(ticks.size() == 11);
    for (QCheckBox* box : ticks) CHECK(box->minimumHeight() >= 44);
    ticks[0]->click();
    bench.find<QCheckBox>("tick front/links off")->click();
    CHECK(bench.job().sheet.steps == std::vector<std::string>{"stands", "front/links off"});
    CHECK(bench.find<QLabel>("sheet how far")->text().contains("2 of 11"));
    fill(bench, "sheet front left_link", "200,4");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).left_link == Approx(0.2004));
    fill(bench, "sheet front right_link", "two");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).right_link.value_or(0) != Approx(0.2)); // it waits
    CHECK(bench.find<QLineEdit>("sheet front right_link")->text() == "two");
    fill(bench, "sheet front right_link", "200.2");
    fill(bench, "sheet minutes", "85");
    fill(bench, "torque of", "rear clamps");
    fill(bench, "torque moment", "50 N·m");
    bench.click("keep torque");
    CHECK(bench.find<QLabel>("torque error")->text().contains("where it stands"));
    fill(bench, "torque source", "workshop book, page 13");
    bench.click("keep torque");
    REQUIRE(bench.job().torques.size() == 3);
    CHECK(bench.job().torques.back().moment == Approx(50));
    // Spanners are counted as typed; a sheet between two other setups is only read.
    fill(bench, "torque of", "front clamps");
    fill(bench, "torque size", "17 mm");
    fill(bench, "torque count", "4");
    fill(bench, "torque moment", "45");
    bench.click("keep torque");
    const auto sheet_says = [&](const char* words) {
        return std::ranges::any_of(view->findChildren<QLabel*>(),
                                   [&](const QLabel* l) { return l->text().contains(words); });
    };
    CHECK(sheet_says("4 × 17 mm (front clamps)"));
    // A number without a unit is in the one that stands before it.
    const auto page_says = [&](const char* words) {
        return std::ranges::any_of(bench.window.findChildren<QLabel*>(),
                                   [&](const QLabel* l) { return l->isVisible() && l->text() == words; });
    };
    CHECK(page_says("Torque, N·m"));
    bench.document().set_units(units::System::Inch);
    CHECK(page_says("Torque, lbf·ft"));
    fill(bench, "torque moment", "30");
    bench.click("keep torque");
    CHECK(std::ranges::find(bench.job().torques, "front clamps", &job::Torque::of)->moment ==
          Approx(30 * 1.3558179483314).epsilon(1e-3));
    bench.document().set_units(units::System::Metric);
    fill(bench, "torque moment", "45");
    bench.click("keep torque");
    auto* to = bench.find<QComboBox>("sheet to");
    REQUIRE(to);
    REQUIRE(to->count() > 2);
    to->setCurrentIndex(2);
    emit to->activated(2);
    CHECK(bench.find<QLabel>("sheet how far")->text().contains("to read and to print"));
    for (const QCheckBox* box : view->findChildren<QCheckBox*>()) CHECK_FALSE(box->isEnabled());
    to->setCurrentIndex(0);
    emit to->activated(0);
    CHECK(bench.find<QLabel>("sheet how far")->text().contains("2 of 11"));
    fill(bench, "sheet front gap_lock", "12");
    CHECK(job::checks_of(bench.job(), bench.job().trial.front).gap_lock == Approx(0.012));
    const QString paper = bench.folder.filePath("sheet.pdf");
    {
        QPdfWriter pdf(paper);
        const auto system = bench.document().units();
        put_job_sheet(pdf, bench.job(), say::job_sheet(bench.job(), bench.job().fitted, bench.job().trial, system),
                      system, edit::steps_done(bench.job()));
    }
    QFile written(paper);
    REQUIRE(written.open(QIODevice::ReadOnly));
    const QByteArray bytes = written.readAll();
    CHECK(bytes.startsWith("%PDF"));
    CHECK(bytes.size() > 8000);
    // A link tried longer on Trial is told in turns of its thread, and the ticks were of another sheet.
    const double length = bench.job().trial.front.links.length.value;
    bench.document().edit("links", {}, [](job::Job& j) { // what is on the car has a buckle
        job::LinkData& links = j.fitted.front.links;
        const job::LinkData made = j.trial.front.links;
        links.adjust = made.adjust;
        links.pitch = made.pitch;
        links.thread = made.thread;
        links.engaged = made.engaged;
        links.shortest = made.shortest;
        j.trial.front.links = links;
    });
    bench.document().edit("length", {}, [&](job::Job& j) { j.trial.front.links.length.value += 5e-3; });
    CHECK(bench.job().trial.front.links.id != bench.job().fitted.front.links.id);
    CHECK(bench.find<QLabel>("sheet how far")->text().contains("0 of"));
    bool turns = false;
    for (const QLabel* told : view->findChildren<QLabel*>())
        turns = turns || told->text().contains("of the body, clockwise seen from");
    CHECK(turns);
    bench.document().undo().undo();
    bench.document().undo().undo();
    CHECK(bench.job().trial.front.links.length.value == length);
    CHECK(bench.find<QLabel>("sheet how far")->text().contains("2 of 11"));
    const std::size_t lines = bench.job().book.size();
    edit::FittedLine line{"2032-10-01", "to lean less", 53900e3, false};
    bench.document().edit("Fit it", {}, [&](job::Job& j) { edit::change_fitted(j, line, false); });
    REQUIRE(bench.job().book.size() == lines + 1);
    CHECK(bench.job().book.back().reason == "to lean less (job sheet: 2 steps done, 85 minutes)");
    CHECK(bench.job().book.back().more.minutes == 85);
    CHECK(bench.job().book.back().more.steps.size() == 2);
    CHECK(job::checks_of(bench.job(), bench.job().fitted.front).left_link ==
          Approx(0.2004));                             // it went along with the parts
    CHECK(view->findChildren<QCheckBox*>().isEmpty()); // nothing is to be done any more
    // A part is found broken: back to what stood before, by another sheet.
    bench.click("reading Entry");
    StoryView& story = story_of(bench);
    story.choose_entry(0);
    bench.click("go back to this");
    bench.click("reading Sheet");
    CHECK(bench.find<QCheckBox>("tick front/bar out"));
    bench.document().undo().undo();
    bench.document().undo().undo();
    CHECK(bench.job().book.size() == lines);
    CHECK(bench.job().sheet.steps.size() == 2);
}

TEST_CASE("reports are written as PDF and HTML, of the job, a test, the bars and the rules") {
    Bench bench;
    StoryView& story = story_of(bench);
    auto* station = static_cast<BookStation*>(bench.window.station("Book"));
    const auto bytes_of = [&](const char* name, say::ReportOf of) {
        const QString path = bench.folder.filePath(name);
        station->papers()->report_to(path, of);
        QFile file(path);
        REQUIRE(file.open(QIODevice::ReadOnly));
        return file.readAll();
    };
    CHECK(bytes_of("job.html", say::ReportOf::Job).contains("Rear bar off for the track season"));
    const QByteArray pdf = bytes_of("job.pdf", say::ReportOf::Job);
    CHECK(pdf.startsWith("%PDF"));
    CHECK(pdf.size() > 20000);
    story.choose_entry(0);
    CHECK_THROWS_AS(bytes_of("test.html", say::ReportOf::Test), BadInput); // no test is chosen
    for (std::size_t i = 0; i < story.moments().size(); ++i)
        if (story.moments()[i].test == 2) story.choose(i);
    CHECK(bytes_of("test.html", say::ReportOf::Test).contains("What was read"));
    CHECK(bytes_of("bar.html", say::ReportOf::Bar).contains("22 mm, as delivered"));
    for (const char* name : {"bar.pdf", "bar.svg", "bar.dxf", "bar.csv"}) {
        const QString path = bench.folder.filePath(name);
        station->papers()->bar_to(path, End::Front);
        CHECK(QFileInfo(path).size() > 100);
    }
    CHECK_THROWS_AS(station->papers()->bar_to("/nowhere/at/all.pdf", End::Front), BadInput);
    CHECK_THROWS_AS(station->papers()->report_to("/nowhere/at/all.html", say::ReportOf::Bar), BadInput);
    CHECK_THROWS_AS(station->papers()->report_to("/nowhere/at/all.pdf", say::ReportOf::Bar), BadInput);
}

TEST_CASE("what a job took is told for the next job in another file, once it was saved") {
    Bench first;
    first.window.remember();
    first.document().save(first.folder.filePath("first.dervish").toStdString());
    for (const char* step : {"stands", "front/links off", "front/bar out", "front/bar in", "front/links",
                             "front/links on", "hang", "tight", "wheels", "drive", "again"})
        first.document().edit("tick", {}, [&](job::Job& j) { edit::tick_step(j, step, true); });
    first.document().edit("minutes", {}, [](job::Job& j) { edit::set_minutes(j, 70); });
    first.document().edit("fit", {}, [](job::Job& j) {
        j.book.clear(); // of what the demo's own book says
        edit::change_fitted(j, {"2032-10-01", "to lean less", 53900e3, false}, false);
    });
    QTest::keyClick(&first.window, Qt::Key_S, Qt::ControlModifier);
    REQUIRE_FALSE(first.document().unsaved());

    Bench second(false);
    job::Job other = store::load(demo_path().toStdString()).job;
    other.book.clear();
    const QString file = second.folder.filePath("second.dervish");
    store::save({other, {}}, file.toStdString());
    second.window.remember();
    REQUIRE(second.window.open(file));
    REQUIRE(second.document().shop().size() == 1);
    story_of(second);
    second.click("reading Sheet");
    auto* view = second.find<QWidget>("job sheet");
    REQUIRE(view);
    CHECK(std::ranges::any_of(view->findChildren<QLabel*>(), [](const QLabel* l) {
        return l->text().contains("about 70 minutes by 1 sheet like it");
    }));

    // As the program starts with a job that it was given.
    Bench third(false);
    const QString given = third.folder.filePath("third.dervish");
    store::save({other, {}}, given.toStdString());
    third.document().open(given.toStdString());
    third.window.remember();
    CHECK(third.document().shop().size() == 1);
}
