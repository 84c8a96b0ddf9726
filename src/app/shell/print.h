#pragma once
#include <QPagedPaintDevice>
#include <QPicture>
#include <QWidget>
#include <vector>

namespace dervish::app {

/// What stands on every page around what is printed: whose it is, of which setup, and what applies to it.
struct PageWords {
    QString job, setup, caution;
};

/// In lines and letters, lengths in 1/96 inch.
using Pages = std::vector<QPicture>;

/// A widget as it stands on a landscape page of this paper; and on pages of their own all of what it can only show by
/// scrolling, whole, in columns that part no row. On the window's thread.
Pages draw_pages(QPagedPaintDevice& paper, QWidget& widget, const PageWords& words);
/// Puts them on the paper they were drawn for; on any thread.
void print_pages(QPagedPaintDevice& paper, const Pages& pages);

} // namespace dervish::app
