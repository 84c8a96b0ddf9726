#pragma once
#include "app/document.h"
#include "core/say/working.h"

#include <QWidget>

namespace dervish::app {

/// The strip of figures that decide: value, 90 % band, change from Fitted. Each can be clicked, focused and asked for
/// its working.
class Tally : public QWidget {
    Q_OBJECT

public:
    explicit Tally(Document& document, QWidget* parent = nullptr);
    say::Figure asked() const {
        return say::all_figures[static_cast<std::size_t>(asked_)];
    } ///< under the mouse or focused last
    /// A figure's value as it stands in the strip.
    QString value(say::Figure figure) const;

signals:
    void picked(dervish::say::Figure figure);

protected:
    void paintEvent(QPaintEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    void focusInEvent(QFocusEvent*) override;
    void leaveEvent(QEvent*) override;

private:
    int figure_at(QPointF place) const;
    void announce();

    Document& document_;
    int asked_ = 0;
    int hovered_ = -1;
};

} // namespace dervish::app
