#pragma once
#include "app/window_thread.h"

#include <chrono>
#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>
#include <vector>

namespace dervish::app {

/// One computation at a time off the window's thread. A new one takes the place of the last, which is told to stop and
/// left to itself: nobody waits for it, and what it still posts never arrives. BadInput ends it without a result (the
/// window says at the field what is wrong); anything else is told as a fault.
class Worker {
public:
    using Cancelled = std::function<bool()>;
    /// Runs on the window's thread what it is given, unless cancelled before.
    using Post = std::function<void(std::function<void()>)>;

    Worker() = default;
    ~Worker() { stop(); }
    Worker(const Worker&) = delete;
    Worker& operator=(const Worker&) = delete;

    /// `work` owns copies of what it computes from, and speaks to its owner through what it posts alone.
    void start(std::function<void(const Cancelled&, const Post&)> work) {
        stop();
        task_ = std::make_shared<Task>();
        run_on_worker([task = task_, work = std::move(work)] {
            struct End {
                Task& task;
                ~End() { task.end(); }
            } end{*task};
            if (!task->is_cancelled())
                work([task] { return task->is_cancelled(); },
                     [task](std::function<void()> done) { task->post(std::move(done)); });
        });
    }
    void stop() {
        if (task_) task_->cancel();
        task_.reset();
    }
    /// Waits, and takes up what was posted: for pictures and tests.
    void finish() {
        if (const auto task = task_) {
            task->wait();
            task->take_up();
        }
    }
    /// Waits no longer than this for the first that is posted, and takes it up.
    void wait_for_post(std::chrono::milliseconds most) {
        const auto task = task_;
        if (task && task->wait_for_post(most)) task->take_up();
    }
    bool started() const { return task_ != nullptr; } ///< and not stopped

private:
    class Task : public std::enable_shared_from_this<Task> {
    public:
        bool is_cancelled() {
            const std::lock_guard guard(mutex_);
            return cancelled_;
        }
        void cancel() {
            const std::lock_guard guard(mutex_);
            cancelled_ = true;
            counts_.let_go();
        }
        void post(std::function<void()> done) {
            const std::lock_guard guard(mutex_);
            if (cancelled_) return;
            posted_.push_back(std::move(done));
            changed_.notify_all();
            run_on_window_thread([task = shared_from_this()] { task->take_up(); });
        }
        void take_up() {
            std::vector<std::function<void()>> all;
            {
                const std::lock_guard guard(mutex_);
                all.swap(posted_);
            }
            for (const auto& done : all)
                if (!is_cancelled()) done();
        }
        void end() {
            const std::lock_guard guard(mutex_);
            over_ = true;
            counts_.let_go();
            changed_.notify_all();
        }
        void wait() {
            std::unique_lock guard(mutex_);
            changed_.wait(guard, [&] { return over_; });
        }
        bool wait_for_post(std::chrono::milliseconds most) {
            std::unique_lock guard(mutex_);
            return changed_.wait_for(guard, most, [&] { return !posted_.empty() || over_; }) && !posted_.empty();
        }

    private:
        std::mutex mutex_;
        std::condition_variable changed_;
        bool cancelled_ = false, over_ = false;
        UnderWay counts_;
        std::vector<std::function<void()>> posted_;
    };
    std::shared_ptr<Task> task_;
};

} // namespace dervish::app
