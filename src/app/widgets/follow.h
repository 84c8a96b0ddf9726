#pragma once
#include "app/document.h"

#include <QEvent>
#include <QWidget>

#include <functional>
#include <utility>

namespace dervish::app {

/// Refreshes a widget after changes of the document: at once while it is seen, else when it is next shown. Owned by the
/// widget.
class Follow : public QObject {
public:
    Follow(Document& document, QWidget* widget, std::function<void()> refresh)
        : QObject(widget), widget_(widget), refresh_(std::move(refresh)) {
        widget->installEventFilter(this);
        QObject::connect(&document, &Document::changed, this, [this] {
            waits_ = !widget_->isVisible();
            if (!waits_) refresh_();
        });
    }

protected:
    bool eventFilter(QObject*, QEvent* event) override {
        if (event->type() == QEvent::Show && std::exchange(waits_, false)) refresh_();
        return false;
    }

private:
    QWidget* widget_;
    std::function<void()> refresh_;
    bool waits_ = false;
};

} // namespace dervish::app
