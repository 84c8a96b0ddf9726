#pragma once
#include "core/units/units.h"

#include <QPainter>

namespace dervish::app::paint {

/// Text anchored at a point: Qt::AlignLeft puts it to the right of it, and so on. Returns its rectangle.
QRectF text(QPainter& p, QPointF at, Qt::Alignment align, const QString& words, int pixels, const QColor& colour,
            bool bold = false);

/// A label of two lines with a thin line to the place it speaks of.
void label(QPainter& p, QPointF place, QPointF at, Qt::Alignment align, const QString& head, const QString& rest);

/// A dimension: thin line with end ticks and its text in the middle.
void dimension(QPainter& p, QPointF a, QPointF b, const QString& words);

/// Up or down mark and a number, drawn, since not every typeface has the marks. Returns the width used.
double change(QPainter& p, QPointF at, double by, const QString& words, int pixels, const QColor& colour);

void cross(QPainter& p, QPointF at, double size, const QColor& colour, bool solid);

} // namespace dervish::app::paint
