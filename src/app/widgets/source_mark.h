#pragma once
#include "app/document.h"
#include "core/job/fields.h"

#include <QPixmap>

namespace dervish::app {

/// Draws where a number comes from: filled square measured, half quoted, hollow assumed.
void paint_source(class QPainter& painter, const QRectF& box, job::Source source, const QColor& colour);
QPixmap source_mark(job::Source source, const QColor& colour);
QString source_word(job::Source source);

/// "± 1.5": one sigma in the shown unit, empty for a value that has none.
QString spread_text(const job::FieldSeen& field, units::System system);

/// Asks at `place` (of the screen) where the field's number comes from and how sure it is, and writes it.
void ask_source(QWidget* parent, QPoint place, Document& document, const job::FieldSeen& field);

} // namespace dervish::app
