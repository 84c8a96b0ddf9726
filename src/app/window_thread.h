#pragma once
#include <functional>

namespace dervish::app {

/// Runs it on the window's thread, from any thread, while the Application lives.
void run_on_window_thread(std::function<void()> what);

/// By the Application when it begins, on the window's thread. Its end waits for the workers.
void listen_for_workers();

/// Runs it on a worker; the program's end waits for it. Input that cannot be used ends it; any other exception is
/// reported (failure.h).
void run_on_worker(std::function<void()> work);

} // namespace dervish::app
