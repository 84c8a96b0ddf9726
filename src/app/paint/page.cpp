#include "app/paint/page.h"

#include "app/shell/theme.h"

#include <QTextDocument>

namespace dervish::app::paint {

void set_paper_font(QTextDocument& text) { text.setDefaultFont(QFont(face(13).family(), 11)); }

void print_html(QPagedPaintDevice& paper, const QString& html) {
    QTextDocument text;
    set_paper_font(text);
    text.setHtml(html);
    text.print(&paper);
}

} // namespace dervish::app::paint
