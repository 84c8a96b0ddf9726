#pragma once
#include "core/terms/terms.h"
#include <QColor>
#include <QFont>
#include <QIcon>

class QApplication;

namespace dervish::app {

/// Colours by role; front and rear keep their hue for that meaning only.
struct Theme {
    QColor ground, panel, ink, soft, rule, front, rear, caution, selected, on_selected, strip, on_strip, strip_soft;
};

/// The theme in use.
const Theme& theme();
void use_theme(QApplication& app, bool night);

/// Loads the shipped fonts once and sets the application's.
void load_fonts(QApplication& app);

/// The shipped typeface at a pixel size.
QFont face(int pixels, bool bold = false);

/// One of our icons in a colour.
QPixmap icon(const QString& name, const QColor& colour, QSize size);

QColor axle_colour(End end);

} // namespace dervish::app
