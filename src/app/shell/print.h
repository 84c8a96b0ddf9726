#pragma once
#include <QPagedPaintDevice>
#include <QWidget>

namespace dervish::app {

/// What stands on every page around what is printed: whose it is, of which setup, and what applies to it.
struct PageWords {
    QString job, setup, caution;
};

/// A widget on a landscape page, in lines and letters, as it stands; and on pages of their own all of what it can only
/// show by scrolling, whole, in columns that part no row.
void print_widget(QPagedPaintDevice& paper, QWidget& widget, const PageWords& words);

} // namespace dervish::app
