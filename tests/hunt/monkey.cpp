#include "app/failure.h"
#include "app/shell/main_window.h"
#include "app/shell/theme.h"
#include "app/widgets/field_row.h"

#include <QPrintDialog>
#include <QtTest>
#include <QtWidgets>
#include <map>
#include <random>

using namespace dervish;
using namespace dervish::app;

/// Random hands on the real window: keys, clicks, drags, wheels, sizes, menus and cards, from a seed. Counts faults
/// told by the boundary and stalls of over a second. By hand: dervish-hunt-window [events [seed]]; exit code 1 on
/// either.
namespace {
std::mt19937 engine;
QString last; ///< what was done last, told with a stall
int roll(int below) { return static_cast<int>(engine() % static_cast<unsigned>(std::max(1, below))); }

/// Cards and menus that stop the window until answered are answered: a few keys, then left.
void answer() {
    QWidget* card =
        QApplication::activePopupWidget() ? QApplication::activePopupWidget() : QApplication::activeModalWidget();
    if (!card) return;
    static const Qt::Key keys[] = {Qt::Key_Tab, Qt::Key_Down,      Qt::Key_Return,
                                   Qt::Key_5,   Qt::Key_Backspace, Qt::Key_Space};
    const bool files = qobject_cast<QFileDialog*>(card) || qobject_cast<QPrintDialog*>(card);
    if (!files && roll(4))
        QTest::keyClick(card->focusWidget() ? card->focusWidget() : card, keys[roll(6)]);
    else if (auto* dialog = qobject_cast<QDialog*>(card))
        dialog->reject();
    else
        card->close();
}

void press(MainWindow& window) {
    QWidget* at = QApplication::focusWidget() ? QApplication::focusWidget() : &window;
    last = QString("key on %1 '%2'").arg(at->metaObject()->className(), at->objectName());
    static const QString letters = "0123456789.,;/*+-()'\" inmcTWMt[]?>½°";
    static const Qt::Key keys[] = {Qt::Key_Tab,      Qt::Key_Return, Qt::Key_Escape, Qt::Key_Backspace,
                                   Qt::Key_Delete,   Qt::Key_Up,     Qt::Key_Down,   Qt::Key_Left,
                                   Qt::Key_PageDown, Qt::Key_PageUp, Qt::Key_F2,     Qt::Key_Home};
    if (roll(3))
        QTest::keyClicks(at, QString(letters[roll(static_cast<int>(letters.size()))]));
    else
        QTest::keyClick(at, keys[roll(12)], roll(6) ? Qt::NoModifier : Qt::ShiftModifier);
}

void point(MainWindow& window) {
    QWidgetList all;
    for (QWidget* w : window.findChildren<QWidget*>())
        if (w->isVisible() && w->isEnabled() && w->width() > 2 && w->height() > 2) all << w;
    if (all.isEmpty()) return;
    QWidget* at = all[roll(static_cast<int>(all.size()))];
    const QPoint place(roll(at->width()), roll(at->height()));
    last = QString("pointer on %1 '%2' of %3")
               .arg(at->metaObject()->className(), at->objectName(),
                    at->parent() ? at->parent()->objectName() : QString());
    switch (roll(5)) {
    case 0: {
        const QPoint to(roll(at->width()), roll(at->height()));
        const QPointer<QWidget> still(at);
        QTest::mousePress(at, Qt::LeftButton, {}, place);
        if (still) QTest::mouseMove(at, to);
        if (still) QTest::mouseRelease(at, Qt::LeftButton, {}, to);
        break;
    }
    case 1: {
        QWheelEvent wheel(place, at->mapToGlobal(place), {}, {0, roll(2) ? 120 : -120}, {}, {}, Qt::NoScrollPhase,
                          false);
        QApplication::sendEvent(at, &wheel);
        break;
    }
    case 2:
        QTest::mouseMove(at, place);
        break;
    case 3:
        QTest::mouseDClick(at, Qt::LeftButton, {}, place);
        break;
    default:
        QTest::mouseClick(at, roll(12) ? Qt::LeftButton : Qt::RightButton,
                          roll(8) ? Qt::NoModifier : Qt::ControlModifier, place);
    }
}

void act(MainWindow& window) {
    const auto actions = window.actions();
    QAction* action = actions[roll(static_cast<int>(actions.size()))];
    if (action->text() == "Quit") return;
    last = "action " + action->text() + action->shortcut().toString();
    action->trigger();
}
} // namespace

int main(int argc, char** argv) {
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    QStandardPaths::setTestModeEnabled(true);
    qInstallMessageHandler([](QtMsgType, const QMessageLogContext&, const QString&) {}); // the offscreen platform's
    Application app(argc, argv);
    QApplication::setApplicationName("dervish-monkey");
    QApplication::setAttribute(Qt::AA_DontUseNativeDialogs);
    load_fonts(app);
    use_theme(app, false);
    std::setvbuf(stdout, nullptr, _IOLBF, 0);
    const int events = argc > 1 ? std::atoi(argv[1]) : 100000;
    const int seed = argc > 2 ? std::atoi(argv[2]) : 1;
    engine.seed(static_cast<unsigned>(seed));
    QTemporaryDir folder;
    // Six unlike cars, each as it was left the last time.
    QStringList files;
    for (const char* demo : {"hut-van", "hill-sprint"}) {
        files << folder.filePath(QString("%1.dervish").arg(demo));
        QFile::copy(QString(demo_path()).replace("hut-van", demo), files.back());
        QFile::setPermissions(files.back(), QFile::ReadOwner | QFile::WriteOwner);
    }
    for (const job::CarKind kind :
         {job::CarKind::Small, job::CarKind::TwoSeater, job::CarKind::OffRoad, job::CarKind::SingleSeater}) {
        files << folder.filePath(QString("%1.dervish").arg(job::name_of(kind)));
        job::NewCar car;
        car.kind = kind;
        store::save({job::new_car(car), {}}, files.back().toStdString());
    }
    QDir::setCurrent(folder.path());
    int faults = 0, stalls = 0;
    std::map<QString, int> slow; ///< over a quarter of a second, by what was done last
    on_failure([&](const std::string&) { ++faults; });
    MainWindow window;
    window.open(files[0]);
    window.show();
    QElapsedTimer since;
    qint64 longest = 0;
    QTimer beat; // also inside the loops of cards
    QObject::connect(&beat, &QTimer::timeout, &window, [&] {
        const qint64 gap = since.restart();
        longest = std::max(longest, gap);
        if (gap > 250) ++slow[last.section(" of ", 0, 0)];
        if (gap > 1000) {
            ++stalls;
            std::printf("a stall of %lld ms after: %s\n", gap, last.toUtf8().data());
        }
        QTimer::singleShot(0, &window, answer); // beside the beat, which goes on while a card is open
    });
    beat.start(10);
    since.start();
    for (int i = 0; i < events; ++i) {
        const int what = roll(100);
        if (what < 55)
            press(window);
        else if (what < 93)
            point(window);
        else if (what < 97)
            act(window);
        else if (what < 98)
            window.resize(1024 + roll(600), 700 + roll(300));
        else if (what < 99)
            window.document().undo().undo();
        else
            window.document().undo().redo();
        QCoreApplication::processEvents();
        if (!window.isVisible()) window.show();
        if (i % 200 == 199) // cards are put away, as on any bench
            for (QWidget* top : QApplication::topLevelWidgets())
                if (top != &window && qobject_cast<QDialog*>(top)) top->close();
        if (i % 1000 == 999) window.open(files[(i / 1000 + 1) % files.size()]); // as it was saved last
        if (i % 1000 == 999) {
            std::printf("%d events, %d faults, %d stalls, longest %lld ms\n", i + 1, faults, stalls, longest);
            std::fflush(stdout);
        }
    }
    std::printf("%d events of seed %d: %d faults, %d stalls over 1 s, longest %lld ms\n", events, seed, faults, stalls,
                longest);
    int in_all = 0;
    for (const auto& [what, times] : slow) {
        in_all += times;
        std::printf("%4d over 250 ms after: %s\n", times, what.toUtf8().data());
    }
    std::printf("%d over 250 ms in all\n", in_all);
    on_failure({});
    return faults > 0; // a busy machine stalls by itself: those are for a person to read
}
