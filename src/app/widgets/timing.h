#pragma once
#include <QTimer>

#include <functional>
#include <utility>

namespace dervish::app {

/// A blink after the last time it was started: while someone types, the drawing and the tally come first.
class Later : public QTimer {
public:
    Later(QObject* owner, std::function<void()> work) : QTimer(owner) {
        setSingleShot(true);
        setInterval(60);
        callOnTimeout(this, std::move(work));
    }
};

/// Moves a drawing, frame by frame, until it is stopped.
class Player : public QTimer {
public:
    static constexpr int frame_time = 30; ///< ms

    Player(QObject* owner, std::function<void(int frame)> show) : QTimer(owner) {
        setInterval(frame_time);
        callOnTimeout(this, [this, show = std::move(show)] { show(++frame_); });
    }
    /// Starts from its first frame, or stops.
    void toggle() {
        frame_ = 0;
        isActive() ? stop() : start();
    }

private:
    int frame_ = 0;
};

} // namespace dervish::app
