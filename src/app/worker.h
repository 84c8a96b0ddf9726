#pragma once
#include "app/failure.h"
#include "core/bad_input.h"

#include <QCoreApplication>
#include <QObject>
#include <QThreadPool>

#include <condition_variable>
#include <functional>
#include <memory>
#include <mutex>

namespace dervish::app {

/// One computation at a time off the window's thread. A new one takes the place of the last, which is told to stop and
/// left to itself: nobody waits for it, and what it still posts never arrives. BadInput ends it without a result (the
/// window says at the field what is wrong); anything else is told as a fault.
class Worker {
public:
    using Cancelled = std::function<bool()>;
    /// Runs on the window's thread what it is given, unless cancelled before.
    using Post = std::function<void(std::function<void()>)>;

    explicit Worker(QObject* owner) : owner_(owner) {}
    ~Worker() { stop(); }
    Worker(const Worker&) = delete;
    Worker& operator=(const Worker&) = delete;

    /// `work` owns copies of what it computes from, and speaks to its owner through what it posts alone.
    void start(std::function<void(const Cancelled&, const Post&)> work) {
        stop();
        task_ = std::make_shared<Task>();
        pool().start([owner = owner_, task = task_, work = std::move(work)] {
            try {
                if (!task->is_cancelled())
                    work([task] { return task->is_cancelled(); },
                         [owner, task](std::function<void()> done) { Task::post(task, owner, std::move(done)); });
            } catch (const BadInput&) {
            } catch (const std::exception& e) {
                report_failure(e.what());
            }
            task->end();
        });
    }
    void stop() {
        if (task_) task_->cancel();
        task_.reset();
    }
    /// Waits, and takes up what was posted: for pictures and tests.
    void finish() {
        if (task_) task_->wait();
        QCoreApplication::sendPostedEvents(owner_, QEvent::MetaCall);
    }
    bool started() const { return task_ != nullptr; } ///< and not stopped

private:
    struct Task {
        std::mutex mutex;
        std::condition_variable ended;
        bool cancelled = false, over = false;

        bool is_cancelled() {
            const std::lock_guard guard(mutex);
            return cancelled;
        }
        /// Once it returns, no post reaches for the owner any more.
        void cancel() {
            const std::lock_guard guard(mutex);
            cancelled = true;
        }
        static void post(const std::shared_ptr<Task>& task, QObject* owner, std::function<void()> done) {
            const std::lock_guard guard(task->mutex);
            if (task->cancelled) return;
            QMetaObject::invokeMethod(
                owner,
                [task, done = std::move(done)] {
                    if (!task->is_cancelled()) done();
                },
                Qt::QueuedConnection);
        }
        void end() {
            const std::lock_guard guard(mutex);
            over = true;
            ended.notify_all();
        }
        void wait() {
            std::unique_lock guard(mutex);
            ended.wait(guard, [&] { return over; });
        }
    };
    /// Roomier than the machine: a cancelled task may run on for a while, and must not hold up the next.
    static QThreadPool& pool() {
        static QThreadPool* const all = [] {
            auto* out = new QThreadPool(qApp);
            out->setMaxThreadCount(8);
            return out;
        }();
        return *all;
    }

    QObject* owner_;
    std::shared_ptr<Task> task_;
};

} // namespace dervish::app
