#pragma once
#include "app/book/story_view.h"

#include <QWidget>

namespace dervish::app {

/// The car's story along one line, by date or by distance: what stood, tests, decisions, what broke, upkeep, notes.
/// The wheel and + and - zoom, a drag moves, a click chooses, the arrows step.
class StoryDrawing : public QWidget {
    Q_OBJECT

public:
    StoryDrawing(Document& document, StoryView& story, QWidget* parent = nullptr);
    void show_all(); ///< from the first to now

signals:
    void look_back_wanted();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent*) override;
    void mouseMoveEvent(QMouseEvent*) override;
    void mouseReleaseEvent(QMouseEvent*) override;
    void wheelEvent(QWheelEvent*) override;
    void keyPressEvent(QKeyEvent*) override;

private:
    struct Range {
        double from, to;
    };
    Range whole() const; ///< looks through all moments
    Range shown() const { return range_.value_or(whole_); }
    double x_of(double place) const;
    double place_at(double x) const;
    double lane_y(book::Lane lane) const;
    void zoom(double by, double around);
    void move_by(double places);
    void paint_axis(QPainter& p) const;
    void paint_fitted(QPainter& p) const;
    void paint_lane(QPainter& p, book::Lane lane) const;
    void paint_mark(QPainter& p, const book::Moment& moment, QPointF at) const;
    QString words_of(const book::Moment& moment) const;
    void announce();

    Document& document_;
    StoryView& story_;
    Range whole_{0, 1};
    std::optional<Range> range_; ///< nothing: the whole
    bool was_by_distance_ = true, dragged_ = false;
    std::optional<double> grabbed_; ///< x
};

} // namespace dervish::app
