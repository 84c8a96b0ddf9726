#include "app/window_thread.h"

#include "app/failure.h"
#include "core/num/bad_input.h"

#include <QCoreApplication>
#include <QSocketNotifier>

#include <atomic>
#include <boost/asio/post.hpp>
#include <boost/asio/thread_pool.hpp>
#include <cstdint>
#include <deque>
#include <mutex>
#include <sys/eventfd.h>
#include <sys/resource.h>
#include <unistd.h>

namespace dervish::app {
namespace {

/// Roomier than the machine: a cancelled task may run on for a while, and must not hold up the next.
boost::asio::thread_pool& worker_pool() {
    static auto* const pool = new boost::asio::thread_pool(8);
    return *pool;
}

/// What waits for the window's thread, and the bell it listens to. Not an event of Qt's: no object of Qt's goes from
/// one thread to another, so that the thread sanitizer sees the whole of the hand-over.
class Waiting {
public:
    void add(std::function<void()> what) {
        const std::lock_guard guard(mutex_);
        if (bell_ < 0) return;
        all_.push_back(std::move(what));
        const std::uint64_t one = 1;
        [[maybe_unused]] const auto rung = ::write(bell_, &one, sizeof one);
    }
    int size() {
        const std::lock_guard guard(mutex_);
        return static_cast<int>(all_.size());
    }
    /// On the window's thread.
    void listen() {
        bell_ = ::eventfd(0, EFD_NONBLOCK | EFD_CLOEXEC | EFD_SEMAPHORE);
        notifier_ = new QSocketNotifier(bell_, QSocketNotifier::Read, qApp);
        QObject::connect(notifier_, &QSocketNotifier::activated, [this] { run_next(); });
        qAddPostRoutine([] { all().close(); });
    }
    static Waiting& all() {
        static auto* const waiting = new Waiting;
        return *waiting;
    }

private:
    /// One a turn: what it throws goes to the one boundary and the rest still has its turn.
    void run_next() {
        std::function<void()> next;
        {
            const std::lock_guard guard(mutex_);
            std::uint64_t one = 0;
            if (::read(bell_, &one, sizeof one) != sizeof one || all_.empty()) return;
            next = std::move(all_.front());
            all_.pop_front();
        }
        next();
    }
    void close() {
        worker_pool().join();
        const std::lock_guard guard(mutex_);
        delete notifier_;
        ::close(bell_);
        bell_ = -1;
    }

    std::mutex mutex_;
    std::deque<std::function<void()>> all_;
    int bell_ = -1;
    QSocketNotifier* notifier_ = nullptr;
};

} // namespace

void run_on_window_thread(std::function<void()> what) { Waiting::all().add(std::move(what)); }

void listen_for_workers() { Waiting::all().listen(); }

namespace {
std::atomic<int> tasks_under_way = 0;

/// What a held pool has not begun.
struct Held {
    std::mutex mutex;
    bool holds = false;
    std::deque<std::function<void()>> all;
};
Held& held() {
    static auto* const one = new Held;
    return *one;
}

void begin_on_worker(std::function<void()> work) {
    boost::asio::post(worker_pool(), [work = std::move(work)] {
        // The window's thread goes before: a worker takes what it leaves of the processors.
        thread_local const int behind = ::setpriority(PRIO_PROCESS, static_cast<id_t>(::gettid()), 10);
        (void)behind;
        try {
            work();
        } catch (const BadInput&) {
        } catch (const std::exception& e) {
            report_failure(e.what());
        }
    });
}
} // namespace

int under_way() { return tasks_under_way + Waiting::all().size(); }

UnderWay::UnderWay() { ++tasks_under_way; }

void UnderWay::let_go() {
    if (counts_.exchange(false)) --tasks_under_way;
}

void hold_workers(bool hold) {
    std::deque<std::function<void()>> all;
    {
        const std::lock_guard guard(held().mutex);
        held().holds = hold;
        if (!hold) all.swap(held().all);
    }
    for (auto& work : all) begin_on_worker(std::move(work));
}

void run_on_worker(std::function<void()> work) {
    {
        const std::lock_guard guard(held().mutex);
        if (held().holds) {
            held().all.push_back(std::move(work));
            return;
        }
    }
    begin_on_worker(std::move(work));
}

} // namespace dervish::app
