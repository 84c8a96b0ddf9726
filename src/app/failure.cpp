#include "app/failure.h"

#include "core/bad_input.h"

#include <QMetaObject>
#include <cstdio>

namespace dervish::app {
namespace {
std::function<void(const std::string&)>& teller() {
    static std::function<void(const std::string&)> tell;
    return tell;
}
} // namespace

void on_failure(std::function<void(const std::string&)> tell) { teller() = std::move(tell); }

void report_failure(const std::string& what) {
    std::fprintf(stderr, "dervish: %s\n", what.c_str());
    // Queued: whatever failed is left first.
    if (qApp)
        QMetaObject::invokeMethod(
            qApp,
            [what] {
                if (teller()) teller()(what);
            },
            Qt::QueuedConnection);
}

bool Application::notify(QObject* receiver, QEvent* event) {
    try {
        return QApplication::notify(receiver, event);
    } catch (const std::exception& e) {
        report_failure(e.what());
    } catch (...) {
        report_failure("a fault without a name");
    }
    return false;
}

} // namespace dervish::app
