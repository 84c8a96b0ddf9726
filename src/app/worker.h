#pragma once
#include "app/failure.h"
#include "core/bad_input.h"

#include <QCoreApplication>
#include <QObject>

#include <atomic>
#include <functional>
#include <memory>
#include <thread>

namespace dervish::app {

/// One computation at a time off the window's thread. A new one cancels the last; what was cancelled never arrives.
/// BadInput ends it without a result: the window says at the field what is wrong.
class Worker {
public:
    using Cancelled = std::function<bool()>;
    /// Runs on the window's thread what it is given, unless cancelled before.
    using Post = std::function<void(std::function<void()>)>;

    explicit Worker(QObject* owner) : owner_(owner) {}
    ~Worker() { stop(); }
    Worker(const Worker&) = delete;
    Worker& operator=(const Worker&) = delete;

    /// `work` owns copies of what it computes from, and posts its results.
    void start(std::function<void(const Cancelled&, const Post&)> work) {
        stop();
        cancel_ = std::make_shared<std::atomic<bool>>(false);
        thread_ = std::thread([owner = owner_, cancel = cancel_, work = std::move(work)] {
            try {
                work([cancel] { return cancel->load(); },
                     [owner, cancel](std::function<void()> done) {
                         if (*cancel) return;
                         QMetaObject::invokeMethod(
                             owner,
                             [cancel, done = std::move(done)] {
                                 if (!*cancel) done();
                             },
                             Qt::QueuedConnection);
                     });
            } catch (const BadInput&) {
            } catch (const std::exception& e) {
                report_failure(e.what());
            }
        });
    }
    void stop() {
        if (cancel_) *cancel_ = true;
        if (thread_.joinable()) thread_.join();
        cancel_.reset();
    }
    /// Waits, and takes up what was posted: for pictures and tests.
    void finish() {
        if (thread_.joinable()) thread_.join();
        QCoreApplication::sendPostedEvents(owner_, QEvent::MetaCall);
    }
    bool started() const { return cancel_ != nullptr; } ///< and not stopped

private:
    QObject* owner_;
    std::thread thread_;
    std::shared_ptr<std::atomic<bool>> cancel_;
};

} // namespace dervish::app
