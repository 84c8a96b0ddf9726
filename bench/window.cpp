// From key press to repainted tally and drawing, on the demo, offscreen, typed by a quick hand. The bands that come
// a little later are taken up before the next key.
// Run: build/release/bench/dervish-window-bench
#include "app/shell/main_window.h"
#include "app/shell/tally.h"
#include "app/shell/theme.h"

#include <QtTest>
#include <QtWidgets>
#include <algorithm>
#include <chrono>
#include <cstdio>
#include <fstream>
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
    std::printf("resident after all this %.0f MB\n", resident());
    return 0;
}
