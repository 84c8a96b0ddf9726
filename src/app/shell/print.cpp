#include "app/shell/print.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"

#include <QPainter>
#include <QScrollArea>
#include <algorithm>
#include <list>

namespace dervish::app {
namespace {
QString tr(const char* words) { return QObject::tr(words); }

/// The page's frame; where on it there is room, in 1/96 inch.
QRectF paint_frame(QPainter& p, QSizeF page, const PageWords& words) {
    paint::text(p, {0, 12}, Qt::AlignLeft, words.job, 16, Qt::black, true);
    paint::text(p, {page.width(), 12}, Qt::AlignRight, words.setup, 13, Qt::black);
    paint::text(
        p, {0, page.height() - 8}, Qt::AlignLeft,
        tr("A prediction with its stated uncertainty. The vehicle's maker, local rules and licensed practice decide."),
        12, Qt::black);
    double foot = 18;
    if (!words.caution.isEmpty()) {
        p.setFont(face(13));
        const QRectF room(0, 0, page.width(), 400);
        const double tall = p.boundingRect(room, Qt::TextWordWrap, words.caution).height();
        foot += tall + 4;
        p.setPen(Qt::black);
        p.drawText(QRectF(0, page.height() - foot, page.width(), tall + 2), Qt::TextWordWrap, words.caution);
    }
    return QRectF(0, 28, page.width(), page.height() - 32 - foot);
}

/// Where a tall widget may be cut: under whatever ends where nothing beside it goes on.
std::vector<int> cuts_of(const QWidget& whole) {
    std::vector<QRect> leaves;
    for (const QWidget* child : whole.findChildren<QWidget*>())
        if (child->isVisible() && child->findChildren<QWidget*>(Qt::FindDirectChildrenOnly).isEmpty())
            leaves.emplace_back(child->mapTo(&whole, QPoint()), child->size());
    std::vector<int> out;
    for (const QRect& leaf : leaves) {
        const int y = leaf.bottom() + 1;
        if (std::ranges::none_of(leaves, [y](const QRect& other) { return other.top() < y && y <= other.bottom(); }))
            out.push_back(y);
    }
    std::ranges::sort(out);
    return out;
}

/// Draws page after page of one size.
class Pad {
public:
    Pad(QSizeF page, const PageWords& words) : page_(page), words_(words) { turn(); }
    /// A new page with its frame; where on it there is room.
    QRectF turn() {
        if (pen_.isActive()) pen_.end();
        pages_.emplace_back();
        pen_.begin(&pages_.back());
        return room_ = paint_frame(pen_, page_, words_);
    }
    const QRectF& room() const { return room_; }
    QPainter& pen() { return pen_; }
    Pages pages() {
        pen_.end();
        return {pages_.begin(), pages_.end()};
    }

private:
    QSizeF page_;
    const PageWords& words_;
    std::list<QPicture> pages_; // a painter holds on to its own
    QPainter pen_;
    QRectF room_;
};

/// The widget in columns across pages; a row that has no cut in a column's height is made smaller with all others.
void draw_whole(Pad& pad, QWidget& whole) {
    const std::vector<int> cuts = cuts_of(whole);
    int tallest = cuts.empty() ? whole.height() : cuts.front();
    for (std::size_t i = 1; i < cuts.size(); ++i) tallest = std::max(tallest, cuts[i] - cuts[i - 1]);
    double across = 0, fit = 1;
    for (int from = 0; from < whole.height();) {
        if (across == 0 || across + whole.width() * fit > pad.room().right() + 1) {
            const QRectF room = pad.turn();
            fit = std::min({1.0, room.width() / whole.width(), room.height() / tallest});
            across = 0;
        }
        int to = from + static_cast<int>(pad.room().height() / fit);
        if (to >= whole.height()) {
            to = whole.height();
        } else {
            const auto cut = std::upper_bound(cuts.begin(), cuts.end(), to);
            if (cut != cuts.begin() && *(cut - 1) > from) to = *(cut - 1);
        }
        pad.pen().save();
        pad.pen().translate(pad.room().left() + across, pad.room().top());
        pad.pen().scale(fit, fit);
        whole.render(&pad.pen(), {}, QRegion(0, from, whole.width(), to - from), QWidget::DrawChildren);
        pad.pen().restore();
        across += whole.width() * fit + 24;
        from = to;
    }
}

/// Dots of the paper to 1/96 inch.
double dots_of(const QPagedPaintDevice& paper) { return paper.logicalDpiX() / 96.0; }
} // namespace

Pages draw_pages(QPagedPaintDevice& paper, QWidget& widget, const PageWords& words) {
    paper.setPageOrientation(QPageLayout::Landscape);
    Pad pad(QSizeF(paper.width(), paper.height()) / dots_of(paper), words);
    const QRectF room = pad.room();
    const double fit = std::min(room.width() / widget.width(), room.height() / widget.height());
    pad.pen().translate(room.topLeft());
    pad.pen().scale(fit, fit);
    widget.render(&pad.pen());
    for (const QScrollArea* area : widget.findChildren<QScrollArea*>())
        if (area->isVisible() && area->widget() && area->widget()->height() > area->viewport()->height() + 2)
            draw_whole(pad, *area->widget());
    return pad.pages();
}

void print_pages(QPagedPaintDevice& paper, const Pages& pages) {
    QPainter p(&paper);
    p.scale(dots_of(paper), dots_of(paper));
    for (const QPicture& page : pages) {
        if (&page != &pages.front()) paper.newPage();
        p.drawPicture(0, 0, page);
    }
}

} // namespace dervish::app
