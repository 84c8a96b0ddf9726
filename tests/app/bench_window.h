#pragma once
#include "app/bar/bar_drawing.h"
#include "app/car/car_drawing.h"
#include "app/prove/run_chart.h"
#include "app/shell/main_window.h"
#include "app/shell/station.h"
#include "app/shell/tally.h"
#include "core/say/working.h"

#include <QtTest>
#include <QtWidgets>

/// A window with the demo job, and hands to use it with.
namespace dervish::app {

struct Bench {
    QTemporaryDir folder;
    MainWindow window;

    explicit Bench(bool demo = true) {
        if (demo) window.document().open(demo_path().toStdString());
        window.show();
        (void)QTest::qWaitForWindowExposed(&window);
        window.activateWindow(); // no window manager does it under Xvfb
        (void)QTest::qWaitForWindowActive(&window);
    }
    Document& document() { return window.document(); }
    const job::Job& job() { return window.document().job(); }
    template <class W = QWidget> W* find(const QString& name) {
        for (W* w : window.findChildren<W*>(name))
            if (w->isVisible()) return w;
        return nullptr;
    }
    /// Whether all that can be shown is there: nothing is worked out any more, and no page waits for a pause to begin.
    bool settled() {
        if (!document().settled()) return false;
        for (const QTimer* timer : window.findChildren<QTimer*>())
            if (timer->isActive() && timer->isSingleShot() && timer->parent() != &window.recovery()) return false;
        return true;
    }
    /// However long that takes on this machine; then layouts of what has just become visible settle in turns.
    void settle() {
        for (int turn = 0; turn < 4; ++turn) {
            if (!QTest::qWaitFor([&] { return settled(); }, 600000)) throw std::runtime_error("it never settles");
            QCoreApplication::processEvents();
            QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        }
    }
    void click(const QString& name) {
        auto* button = find<QAbstractButton>(name);
        REQUIRE(button);
        QTest::mouseClick(button, Qt::LeftButton);
    }
    /// Types over a field as a person does.
    void type(const QString& path, const QString& text) {
        auto* edit = find<QLineEdit>(path);
        REQUIRE(edit);
        edit->setFocus();
        edit->selectAll();
        if (text.isEmpty())
            QTest::keyClick(edit, Qt::Key_Delete);
        else
            QTest::keyClicks(edit, text);
    }
    /// A new test, of one setup on growing ramps, predicted, with its first run begun.
    void plan_predict_run() {
        click("rail Prove");
        click("plan test");
        click("reading Guess");
        click("predict");
        wait_predicted();
        click("next run");
    }
    void wait_predicted() {
        REQUIRE(QTest::qWaitFor([&] { return job().tests.back().predicted(); }, 600000));
    }
    QString tally(say::Figure figure) { return window.tally().value(figure); }
};

} // namespace dervish::app
