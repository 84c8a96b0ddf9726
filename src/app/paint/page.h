#pragma once
#include <QPagedPaintDevice>
#include <QString>

class QTextDocument;

namespace dervish::app::paint {

/// In which letters HTML goes on paper: of a size in points, where the window's in pixels would be a hair's.
void set_paper_font(QTextDocument& text);

/// HTML on numbered pages.
void print_html(QPagedPaintDevice& paper, const QString& html);

} // namespace dervish::app::paint
