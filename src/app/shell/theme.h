#pragma once
#include "core/terms/terms.h"
#include <QColor>
#include <QFont>
#include <QIcon>

class QApplication;
class QMenu;
class QWidget;

namespace dervish::app {

/// Colours by role; front and rear keep their hue for that meaning only.
struct Theme {
    QColor ground, panel, ink, soft, rule, front, rear, caution, selected, on_selected, strip, on_strip, strip_soft;
};

/// The theme in use.
const Theme& theme();
void use_theme(QApplication& app, bool night);
QString theme_style(); ///< of a window and all that stands in it

/// Loads the shipped fonts once and sets the application's.
void load_fonts(QApplication& app);

/// The shipped typeface at a pixel size.
QFont face(int pixels, bool bold = false);

/// Makes everything as much larger as was asked for, per cent; before the application begins, since it then stays so,
/// and once its name is set.
void use_text_size();
/// The text sizes to choose from, for the next start; those with which the window would not fit the screen are greyed.
void fill_text_sizes(QMenu& menu, QWidget& window);

/// One of our icons in a colour.
QPixmap icon(const QString& name, const QColor& colour, QSize size);

QColor axle_colour(End end);

} // namespace dervish::app
