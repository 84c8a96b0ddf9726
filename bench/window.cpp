// From key press to repainted tally and drawing, on the demo, offscreen, typed by a quick hand. The bands that come
// a little later are taken up before the next key.
// Run: build/release/bench/dervish-window-bench
#include "../tests/twenty_years.h"
#include "app/book/story_view.h"
#include "app/shell/main_window.h"
#include "app/shell/station.h"
#include "app/shell/stations.h"
#include "app/shell/tally.h"
#include "app/shell/theme.h"

#include <QtTest>
#include <QtWidgets>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <fstream>
#include <functional>
#include <string>
#include <unistd.h>
#include <vector>

using namespace dervish::app;

namespace {
/// Types `keys` into the field one by one, a sixteenth of a second apart; each time until everything it changed is
/// painted. Milliseconds.
std::vector<double> typed(MainWindow& window, const QString& field, const QString& keys) {
    std::vector<double> out;
    for (QLineEdit* edit : window.findChildren<QLineEdit*>(field)) {
        if (!edit->isVisible()) continue;
        for (int round = 0; round < 25; ++round) {
            edit->setFocus();
            edit->selectAll();
            QCoreApplication::processEvents();
            for (const QChar key : keys) {
                QTest::qWait(60);
                const auto start = std::chrono::steady_clock::now();
                QTest::keyClick(edit, key.toLatin1());
                for (const QEvent::Type asked_for : {QEvent::LayoutRequest, QEvent::UpdateRequest})
                    QCoreApplication::sendPostedEvents(nullptr, asked_for);
                out.push_back(
                    std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
            }
        }
    }
    std::sort(out.begin(), out.end());
    return out;
}

void report(const char* what, const std::vector<double>& ms) {
    std::printf("%-44s median %5.1f ms, 95 %% below %5.1f ms, worst %5.1f ms of %zu keys\n", what, ms[ms.size() / 2],
                ms[ms.size() * 95 / 100], ms.back(), ms.size());
}
} // namespace

/// Seconds since this process was started, to a hundredth.
double age() {
    double up = 0;
    std::ifstream("/proc/uptime") >> up;
    std::ifstream in("/proc/self/stat");
    std::string word;
    for (int i = 0; i < 21; ++i) in >> word;
    double started = 0;
    in >> started;
    return up - started / static_cast<double>(sysconf(_SC_CLK_TCK));
}

/// Resident memory, MB.
double resident() {
    std::ifstream in("/proc/self/statm");
    double pages = 0;
    in >> pages >> pages;
    return pages * static_cast<double>(sysconf(_SC_PAGESIZE)) / 1e6;
}

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// Day and night, back and forth, at each station: until it is painted.
void change_themes(MainWindow& window) {
    for (const StationKind& kind : station_kinds()) {
        window.show_station(kind.title);
        QCoreApplication::processEvents();
        double worst = 0;
        for (int again = 0; again < 4; ++again)
            for (QAction* action : window.actions())
                if (action->text().startsWith("Day or night"))
                    worst = std::max(worst, seconds([&] {
                                         action->trigger();
                                         QCoreApplication::sendPostedEvents(nullptr, QEvent::LayoutRequest);
                                         window.grab();
                                     }));
        std::printf("%s: day to night in %.3f s at most\n", kind.title, worst);
    }
}

/// What an edit costs to be saved, and to be kept for a recovery, beside so many megabytes of photographs.
void with_photographs(MainWindow& window, int megabytes) {
    QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("job.dervish").toStdString();
    dervish::store::JobFile job = dervish::store::load(demo_path().toStdString());
    std::string bytes(20 << 20, 'x');
    std::uint64_t state = 1;
    for (int i = 0; i < megabytes / 20; ++i) {
        for (char& c : bytes)
            c = static_cast<char>((state = state * 6364136223846793005u + 1442695040888963407u) >> 56);
        job.attachments["photo " + std::to_string(i) + ".jpg"].content = bytes;
    }
    const double first = seconds([&] { dervish::store::save(job, file); });
    job = {};
    const double open = seconds([&] { window.document().open(file); });
    const double before = resident();
    window.recovery().start();
    std::vector<double> save, keep;
    for (int i = 0; i < 20; ++i) {
        window.document().type("trial/front/bar/outer_diameter", QString::number(26 + 0.01 * (i + 1)));
        keep.push_back(seconds([&] { window.recovery().write_now(); }));
        save.push_back(seconds([&] { window.document().save(file); }));
        window.recovery().forget();
    }
    std::sort(save.begin(), save.end());
    std::sort(keep.begin(), keep.end());
    std::printf(
        "%4d MB of photographs: first save %.2f s, opened in %.2f s; an edit saved in %.3f s (worst %.3f), kept "
        "in %.3f s (worst %.3f); resident %.0f MB\n",
        megabytes, first, open, save[10], save.back(), keep[10], keep.back(), before);
}

/// Entries, of every 16th its setup, 200 tests: saved, opened, edited, and the line stepped along while it is zoomed
/// in.
void long_book(MainWindow& window, int entries) {
    QTemporaryDir folder;
    const std::filesystem::path file = folder.filePath("book.dervish").toStdString();
    dervish::store::save({tests::twenty_years(dervish::store::load(demo_path().toStdString()).job, entries), {}}, file);
    const double open = seconds([&] { window.document().open(file); });
    const double save = seconds([&] { window.document().save(file); });
    const double show = seconds([&] {
        window.show_station("Book");
        window.grab();
    });
    std::vector<double> edits;
    for (int i = 0; i < 10; ++i)
        edits.push_back(seconds([&] {
            window.document().type("trial/front/bar/outer_diameter", QString::number(26 + 0.01 * (i + 1)));
            for (const QEvent::Type asked_for : {QEvent::LayoutRequest, QEvent::UpdateRequest})
                QCoreApplication::sendPostedEvents(nullptr, asked_for);
        }));
    std::sort(edits.begin(), edits.end());
    std::printf("book of %d entries: opened in %.2f s, saved in %.2f s, first shown in %.2f s; an edit %.3f s (worst "
                "%.3f)\n",
                entries, open, save, show, edits[5], edits.back());
    auto* line = window.station("Book")->findChild<QWidget*>("story");
    line->setFocus();
    for (int i = 0; i < 6; ++i) QTest::keyClick(line, Qt::Key_Plus);
    std::vector<double> ms;
    for (int i = 0; i < 200; ++i)
        ms.push_back(1e3 * seconds([&] {
                         QWheelEvent wheel(QPointF(300, 200), line->mapToGlobal(QPointF(300, 200)), {},
                                           QPoint(i % 2 ? 240 : -120, 0), Qt::NoButton, Qt::NoModifier,
                                           Qt::NoScrollPhase, false);
                         QCoreApplication::sendEvent(line, &wheel);
                         QCoreApplication::sendPostedEvents(nullptr, QEvent::UpdateRequest);
                     }));
    std::sort(ms.begin(), ms.end());
    report("Book: the line moved by the wheel", ms);
}

int main(int argc, char** argv) {
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    QApplication app(argc, argv);
    load_fonts(app);
    use_theme(app, false);
    MainWindow window;
    window.document().open(demo_path().toStdString());
    window.show();
    (void)QTest::qWaitForWindowExposed(&window);
    window.grab();
    std::printf("start to first picture %.2f s, resident %.0f MB\n", age(), resident());
    window.show_station("Bar");
    report("Bar: outer diameter", typed(window, "trial/front/bar/outer_diameter", "27.3"));
    window.show_station("Car");
    report("Car: wheelbase (both setups follow)", typed(window, "vehicle/wheelbase", "2850"));
    change_themes(window);
    for (const int entries : {5000, 19999}) long_book(window, entries);
    for (const int megabytes : {0, 100, 1000}) with_photographs(window, megabytes);
    std::printf("resident after all this %.0f MB\n", resident());
    return 0;
}
