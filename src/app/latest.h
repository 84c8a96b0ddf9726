#pragma once
#include <condition_variable>
#include <functional>
#include <mutex>
#include <optional>
#include <thread>

namespace dervish::app {

/// A thread that does `work` with the latest of what it is given; what was not begun when the next came is passed over.
/// For what must not wait behind the workers' pool: keeping a person's work.
template <class T> class Latest {
public:
    explicit Latest(std::function<void(const T&)> work) : work_(std::move(work)), thread_([this] { run(); }) {}
    ~Latest() {
        {
            const std::lock_guard guard(mutex_);
            ends_ = true;
            news_.notify_one();
        }
        thread_.join();
    }
    Latest(const Latest&) = delete;
    Latest& operator=(const Latest&) = delete;

    void give(T what) {
        const std::lock_guard guard(mutex_);
        waiting_ = std::move(what);
        news_.notify_one();
    }
    void take_back() { ///< what was not begun, and waits for what was
        std::unique_lock guard(mutex_);
        waiting_.reset();
        idle_.wait(guard, [&] { return !busy_; });
    }
    void finish() { ///< waits until all of it is done
        std::unique_lock guard(mutex_);
        idle_.wait(guard, [&] { return !busy_ && !waiting_; });
    }

private:
    void run() {
        std::unique_lock guard(mutex_);
        for (;;) {
            news_.wait(guard, [&] { return ends_ || waiting_; });
            if (!waiting_) return;
            {
                const T what = *std::exchange(waiting_, std::nullopt);
                busy_ = true;
                guard.unlock();
                work_(what);
            }
            guard.lock();
            busy_ = false;
            idle_.notify_all();
        }
    }

    std::function<void(const T&)> work_;
    std::mutex mutex_;
    std::condition_variable news_, idle_;
    std::optional<T> waiting_;
    bool busy_ = false, ends_ = false;
    std::thread thread_; ///< last: it begins when all else is there
};

} // namespace dervish::app
