#pragma once
#include "core/num/bad_input.h"

#include <QApplication>

#include <functional>
#include <string>

namespace dervish::app {

/// What to do with a fault that nothing else took: set by the window, called on its thread.
void on_failure(std::function<void(const std::string& what)> tell);

/// What to do with input that cannot be used and that nothing nearer told: set and called in the same way.
void on_refusal(std::function<void(const BadInput& why)> tell);

/// Tells the fault from any thread.
void report_failure(const std::string& what);

/// The one boundary around events, slots and what workers post: an exception that gets this far is told, and the
/// window goes on.
class Application : public QApplication {
public:
    Application(int& argc, char** argv);
    bool notify(QObject* receiver, QEvent* event) override;
};

} // namespace dervish::app
