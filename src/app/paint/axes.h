#pragma once
#include "app/paint/pen.h"

#include <QPolygonF>

namespace dervish::app::paint {

/// A chart's place on the page and what its sides stand for. Example:
///     const Axes at(room, {0, 0.08}, {0, most});
///     at.across(p, most / 2, "2680");
///     at.line(p, points, [](const Point& q) { return at(q.travel, q.force); }, pen);
class Axes {
public:
    struct Range {
        double from, to;
    };
    Axes(const QRectF& room, Range x, Range y) : room_(room), x_(x), y_(y) {}
    QPointF operator()(double x, double y) const;
    const QRectF& room() const { return room_; }

    void frame(QPainter& p) const;                                                   ///< a thin box round it
    void sides(QPainter& p, bool left = true, double width = 1.2) const;             ///< its lower and its left side
    void across(QPainter& p, double y) const;                                        ///< a thin line at a height
    void upright(QPainter& p, double x, const QPen& pen) const;                      ///< a line from bottom to top
    void beside(QPainter& p, double y, const QString& words, double down = 0) const; ///< left of it, small
    /// Under it, small, `down` from it.
    void under(QPainter& p, double x, const QString& words, double down = 12,
               Qt::Alignment align = Qt::AlignHCenter) const;

    /// A line through points; `place` gives each one's.
    template <class Points, class Place>
    void line(QPainter& p, const Points& points, Place&& place, const QPen& pen) const {
        QPolygonF out;
        for (const auto& point : points) out << place(point);
        p.setPen(pen);
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(out);
    }

private:
    QRectF room_;
    Range x_, y_;
};

/// The line of what is looked at, and that of Fitted behind it.
QPen now_pen(const QColor& colour, double width = 2.4);
QPen fitted_pen();

} // namespace dervish::app::paint
