#pragma once
#include "app/worker.h"

#include <optional>

namespace dervish::app {

/// A value worked out off the window's thread. For a usual car that takes some milliseconds and is waited for, so that
/// nothing flickers; what takes longer arrives later, and the last value stands until then.
template <class T> class Late {
public:
    /// `arrived` is called on the window's thread whenever a value has come.
    explicit Late(std::function<void()> arrived) : arrived_(std::move(arrived)) {}

    /// `sum` owns copies of what it computes from; `then`, if given, goes on in the same task with what it found.
    void start(std::function<T(const Worker::Cancelled&)> sum,
               std::function<void(const T&, const Worker::Cancelled&, const Worker::Post&)> then = {}) {
        worker_.start([this, sum = std::move(sum), then = std::move(then)](const auto& cancelled, const auto& post) {
            const T found = sum(cancelled);
            post([this, found] {
                value_ = found;
                arrived_();
            });
            if (then) then(found, cancelled, post);
        });
        worker_.wait_for_post(std::chrono::milliseconds(30));
    }
    const T* value() const { return value_ ? &*value_ : nullptr; } ///< none before the first has come
    bool started() const { return worker_.started(); } ///< and not stopped
    void stop() { worker_.stop(); }
    void finish() { worker_.finish(); }

private:
    std::optional<T> value_;
    std::function<void()> arrived_;
    Worker worker_; ///< last: it ends before what it posts to
};

} // namespace dervish::app
