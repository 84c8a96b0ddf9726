#include "app/failure.h"

#include "app/window_thread.h"

#include <cstdio>

namespace dervish::app {
namespace {
std::function<void(const std::string&)>& teller() {
    static std::function<void(const std::string&)> tell;
    return tell;
}
std::function<void(const BadInput&)>& refuser() {
    static std::function<void(const BadInput&)> tell;
    return tell;
}
} // namespace

void on_refusal(std::function<void(const BadInput&)> tell) { refuser() = std::move(tell); }

void on_failure(std::function<void(const std::string&)> tell) { teller() = std::move(tell); }

void report_failure(const std::string& what) {
    std::fprintf(stderr, "dervish: %s\n", what.c_str());
    // Later: whatever failed is left first.
    run_on_window_thread([what] {
        if (teller()) teller()(what);
    });
}

Application::Application(int& argc, char** argv) : QApplication(argc, argv) { listen_for_workers(); }

bool Application::notify(QObject* receiver, QEvent* event) {
    try {
        return QApplication::notify(receiver, event);
    } catch (const BadInput& e) {
        if (!refuser()) {
            report_failure(e.what());
            return false;
        }
        run_on_window_thread([e] { // whatever was refused is left first
            if (refuser()) refuser()(e);
        });
    } catch (const std::exception& e) {
        report_failure(e.what());
    } catch (...) {
        report_failure("a fault without a name");
    }
    return false;
}

} // namespace dervish::app
