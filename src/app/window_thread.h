#pragma once
#include <functional>

namespace boost::asio {
class thread_pool;
}

namespace dervish::app {

/// Runs it on the window's thread, from any thread, while the Application lives.
void run_on_window_thread(std::function<void()> what);

/// By the Application when it begins, on the window's thread. Its end waits for the workers.
void listen_for_workers();

/// Where workers run. Roomier than the machine: a cancelled task may run on for a while, and must not hold up the next.
boost::asio::thread_pool& worker_pool();

} // namespace dervish::app
