#pragma once
#include <atomic>
#include <functional>

namespace dervish::app {

/// Runs it on the window's thread, from any thread, while the Application lives.
void run_on_window_thread(std::function<void()> what);

/// By the Application when it begins, on the window's thread. Its end waits for the workers.
void listen_for_workers();

/// Runs it on a worker; the program's end waits for it. Input that cannot be used ends it; any other exception is
/// reported (failure.h).
void run_on_worker(std::function<void()> work);

/// How much is under way: tasks that may still post something, and what waits for the window's thread. On that thread.
int under_way();
/// One that counts in under_way() as long as it lives and was not let go of.
class UnderWay {
public:
    UnderWay();
    ~UnderWay() { let_go(); }
    UnderWay(const UnderWay&) = delete;
    UnderWay& operator=(const UnderWay&) = delete;
    void let_go();

private:
    std::atomic<bool> counts_ = true;
};

/// While held, no worker begins anything: for tests that look at what stands before answers come.
void hold_workers(bool hold);

} // namespace dervish::app
