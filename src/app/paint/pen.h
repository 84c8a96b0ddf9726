#pragma once
#include "core/units/units.h"

#include <QPainter>
#include <vector>

class QWidget;

namespace dervish::app::paint {

/// Paints a widget that fills its whole place, with its ground laid: nothing under it is painted for it.
class Canvas : public QPainter {
public:
    explicit Canvas(QWidget* widget);
    Canvas(QWidget* widget, const QColor& ground);
};

/// Text anchored at a point, nothing where that is no place at all: Qt::AlignLeft puts it to the right of it, and so
/// on. Returns its rectangle.
QRectF text(QPainter& p, QPointF at, Qt::Alignment align, const QString& words, int pixels, const QColor& colour,
            bool bold = false);

/// How wide text() would be, px. Kept, since finding it out takes as long as painting it.
double width_of(const QString& words, int pixels, bool bold = false);

/// Words broken at spaces into lines within `room`; nothing is painted where they are too high for it. Returns whether
/// they were not.
bool paragraph(QPainter& p, const QRectF& room, const QString& words, int pixels, const QColor& colour);

/// As text(), where it would be wider than `room` smaller and narrower; only what then does not go in is cut with an
/// ellipsis.
QRectF text_within(QPainter& p, QPointF at, double room, const QString& words, int pixels, const QColor& colour,
                   bool bold = false);

/// Words broken at spaces into at most `most` lines, each within its room, px, the last of which serves all further
/// lines. Only what the lines do not hold is cut.
QStringList in_lines(const QString& words, const QFontMetricsF& by, const std::vector<double>& rooms, int most = 2);

/// Labels of two lines, each with a thin line to the place it speaks of, set where they cover neither each other nor
/// the drawing.
class Labels {
public:
    /// `room`: where labels may stand; `avoid`: points of the drawing.
    Labels(QRectF room, QPolygonF avoid) : room_(room), avoid_(std::move(avoid)) {}
    void keep_clear(const QRectF& box) { taken_.push_back(box); }
    void place(QPainter& p, QPointF place, const QString& head, const QString& rest);

private:
    QRectF room_;
    QPolygonF avoid_;
    std::vector<QRectF> taken_;
    std::vector<QLineF> lines_;
};

/// A line as thick as `thick` px with round corners, several times sooner than by a pen.
enum class Ends { Round, Flat };
void thick_line(QPainter& p, const QPolygonF& line, double thick, const QColor& colour, Ends ends = Ends::Round);

/// The line that runs `by` px beside another, to its right where that is more than 0.
QPolygonF beside(const QPolygonF& line, double by);

/// A disc with an edge `edged` px wide about its radius, sooner than by a pen.
void disc(QPainter& p, QPointF at, double radius, const QColor& fill, const QColor& edge, double edged);

/// Asks for a widget to be painted anew without what stands on it.
void update_below_children(QWidget* widget);

/// A box on whole pixels with an edge of one.
void box(QPainter& p, const QRectF& at, const QColor& fill, const QColor& edge);

/// A dimension: thin line with end ticks and its text in the middle.
void dimension(QPainter& p, QPointF a, QPointF b, const QString& words);

/// Up or down mark and a number, drawn, since not every typeface has the marks. Returns the width used.
double change(QPainter& p, QPointF at, double by, const QString& words, int pixels, const QColor& colour);

void cross(QPainter& p, QPointF at, double size, const QColor& colour, bool solid);

} // namespace dervish::app::paint
