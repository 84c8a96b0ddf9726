#include "../runner.h"
#include "app/failure.h"
#include "app/shell/theme.h"
#include "core/num/solves.h"
#include "solving_paints.h"

#include <QApplication>
#include <QTemporaryDir>

QStringList dervish::app::solving_paints;

namespace {
/// Notes which widgets solve a bar or an equilibrium while they paint themselves.
class Watching : public dervish::app::Application {
public:
    using Application::Application;
    bool notify(QObject* receiver, QEvent* event) override {
        if (event->type() != QEvent::Paint) return Application::notify(receiver, event);
        const auto before = dervish::solves;
        const bool out = Application::notify(receiver, event);
        const QString name = receiver->metaObject()->className();
        if (dervish::solves != before && !dervish::app::solving_paints.contains(name))
            dervish::app::solving_paints << name;
        return out;
    }
};
} // namespace

int main(int argc, char** argv) {
    use_locale();
    if (!qEnvironmentVariableIsSet("QT_QPA_PLATFORM")) qputenv("QT_QPA_PLATFORM", "offscreen");
    const QTemporaryDir own; // settings and recoveries of this process alone
    for (const char* where : {"XDG_DATA_HOME", "XDG_CONFIG_HOME", "XDG_CACHE_HOME"})
        qputenv(where, own.path().toUtf8());
    Watching app(argc, argv);
    QApplication::setApplicationName("dervish-tests");
    dervish::app::load_fonts(app);
    dervish::app::use_theme(app, false);
    return run_tests(argc, argv);
}
