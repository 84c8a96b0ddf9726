#include "app/widgets/figure_rows.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace dervish::app {
namespace {
constexpr double line_height = 20, top = 4, gap = 28;
}

FigureRows::FigureRows(const QString& name, QWidget* parent) : QWidget(parent) {
    setObjectName(name);
    setAccessibleName(name);
}

void FigureRows::show_rows(std::vector<FigureRow> rows, int columns, const QString& empty, double split) {
    split_ = split;
    rows_ = std::move(rows);
    columns_ = columns;
    empty_ = empty;
    QStringList told;
    for (const FigureRow& r : rows_) told << QStringList{r.what, r.value, r.note}.join(" ").simplified();
    const auto each = (rows_.size() + static_cast<std::size_t>(columns_) - 1) / static_cast<std::size_t>(columns_);
    setMinimumHeight(static_cast<int>(2 * top + line_height * static_cast<double>(each)));
    setAccessibleDescription(told.join("; "));
    update();
}

QString FigureRows::value(const QString& what) const {
    for (const FigureRow& r : rows_)
        if (r.what == what) return r.value;
    return {};
}

QRectF FigureRows::box(std::size_t row) const {
    const double wide = (width() - 40 - gap * (columns_ - 1)) / columns_;
    const auto each = std::max<std::size_t>(1, (rows_.size() + columns_ - 1) / columns_);
    return {20 + static_cast<double>(row / each) * (wide + gap), top + static_cast<double>(row % each) * line_height,
            wide, line_height};
}

void FigureRows::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    if (rows_.empty()) {
        paint::text_within(p, {20, 16}, width() - 40, empty_, 13, t.soft);
        return;
    }
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const FigureRow& r = rows_[i];
        const QRectF at = box(i);
        if (at.right() > width()) break;
        const double y = at.center().y();
        if (r.mark == FigureRow::Mark::Heading) {
            paint::text(p, {at.left(), y}, Qt::AlignLeft, r.what, 14, t.ink, true);
            continue;
        }
        const bool bad = r.mark == FigureRow::Mark::Bad, marked = bad || r.mark == FigureRow::Mark::Caution;
        double left = at.left();
        if (marked) {
            p.setPen(QPen(t.caution, 1.6));
            p.setBrush(bad ? QBrush(t.caution) : QBrush(Qt::NoBrush));
            p.drawPolygon(QPolygonF{{left + 6, y - 6}, {left + 12, y + 5}, {left, y + 5}});
            left += 18;
        }
        // What and value share the first part of the line, the word on it has the rest.
        const double split = r.note.isEmpty() ? at.right() : at.left() + split_ * at.width();
        const QRectF value = paint::text(p, {split, y}, Qt::AlignRight, r.value, 13, bad ? t.caution : t.ink, true);
        paint::text_within(p, {left, y}, value.left() - left - 8, r.what, 12, t.soft);
        if (!r.note.isEmpty())
            paint::text_within(p, {split + 10, y}, at.right() - split - 10, r.note, 12, marked ? t.caution : t.soft);
    }
}

bool FigureRows::event(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QWidget::event(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    for (std::size_t i = 0; i < rows_.size(); ++i)
        if (box(i).contains(help->pos())) {
            QToolTip::showText(help->globalPos(), QStringList{rows_[i].what, rows_[i].value, rows_[i].note}.join("  "),
                               this);
            return true;
        }
    QToolTip::hideText();
    return true;
}

} // namespace dervish::app
