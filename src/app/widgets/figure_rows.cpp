#include "app/widgets/figure_rows.h"

#include "app/paint/axes.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"

#include <QFontMetricsF>
#include <QPainter>
#include <algorithm>
#include <cmath>
#include <numeric>

namespace dervish::app {
namespace {
constexpr double line_height = 20, further_line = 15, scale_height = 26, top = 4, gap = 28, mark_width = 18;
constexpr int most_lines = 4;
bool is_marked(const FigureRow& r) { return r.mark == FigureRow::Mark::Caution || r.mark == FigureRow::Mark::Bad; }

/// Groups of these heights in columns one after the other: the least height of a column in which all go.
double column_height(const std::vector<double>& groups, int columns) {
    double high = *std::max_element(groups.begin(), groups.end());
    for (;;) {
        double used = 0, next = 1e9; // what the first group that begins a new column would have needed
        int column = 1;
        for (const double g : groups) {
            if (used + g > high + 0.5) {
                next = std::min(next, used + g);
                used = 0;
                ++column;
            }
            used += g;
        }
        if (column <= columns) return high;
        high = next;
    }
}
} // namespace

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
    setAccessibleDescription(told.join("; "));
    lay();
    update();
}

QString FigureRows::value(const QString& what) const {
    for (const FigureRow& r : rows_)
        if (r.what == what) return r.value;
    return {};
}

void FigureRows::resizeEvent(QResizeEvent*) { lay(); }

void FigureRows::lay() {
    laid_.assign(rows_.size(), {});
    if (rows_.empty()) return;
    const double wide = (width() - 40 - gap * (columns_ - 1)) / columns_;
    const QFontMetricsF words(face(13)), bold(face(13, true));
    stacked_ = split_ * wide < 170;
    std::vector<double> groups, heights;
    bool under_heading = false;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const FigureRow& r = rows_[i];
        const bool heading = r.mark == FigureRow::Mark::Heading;
        Laid& at = laid_[i];
        if (heading) {
            at.what = QStringList{r.what};
        } else {
            const double split = r.note.isEmpty() || stacked_ ? wide : split_ * wide,
                         before = split - (is_marked(r) ? mark_width : 0);
            double room = before - bold.horizontalAdvance(r.value) - 9;
            if (room < 60 && words.horizontalAdvance(r.what) > room) {
                room = before;
                at.value_below = further_line;
            }
            at.what = paint::in_lines(r.what, words, {room}, most_lines);
            at.value_below *= static_cast<double>(at.what.size());
            at.note =
                paint::in_lines(r.note, words, {stacked_ ? wide - mark_width - 1 : wide - split - 11}, most_lines);
        }
        const auto whats = std::max<qsizetype>(1, at.what.size()) + (at.value_below > 0),
                   lines = stacked_ ? whats + at.note.size() : std::max(whats, at.note.size());
        heights.push_back(line_height + further_line * static_cast<double>(lines - 1) + (r.scale ? scale_height : 0));
        if (heading || !under_heading)
            groups.push_back(heights.back());
        else
            groups.back() += heights.back();
        under_heading = under_heading || heading;
    }
    const double high = column_height(groups, columns_);
    double x = 20, y = top;
    std::size_t group = 0;
    under_heading = false;
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        const bool heading = rows_[i].mark == FigureRow::Mark::Heading;
        if ((heading || !under_heading) && y - top + groups[group++] > high + 0.5 && y > top) {
            x += wide + gap;
            y = top;
        }
        under_heading = under_heading || heading;
        laid_[i].box = QRectF(x, y, wide, heights[i]);
        y += heights[i];
    }
    setMinimumHeight(static_cast<int>(2 * top + high));
}

void FigureRows::paint_scale(QPainter& p, const QRectF& room, const FigureRow::Scale& s) const {
    const Theme& t = theme();
    const double y = room.center().y() - 3;
    const QRectF low = paint::text(p, {room.left(), y}, Qt::AlignLeft, s.low_word, 13, t.soft),
                 high = paint::text(p, {room.right(), y}, Qt::AlignRight, s.high_word, 13, t.soft);
    const double from = low.right() + 10, to = high.left() - 10;
    const auto at = [&](double v) { return from + (to - from) * std::clamp((v - s.low) / (s.high - s.low), 0.0, 1.0); };
    p.setPen(QPen(t.ink, 1.2));
    p.drawLine(QPointF(from, y), QPointF(to, y));
    if (s.low < 0 && s.high > 0) p.drawLine(QPointF(at(0), y - 5), QPointF(at(0), y + 5));
    if (s.was && std::isfinite(*s.was)) {
        p.setPen(paint::fitted_pen());
        p.drawLine(QPointF(at(*s.was), y - 9), QPointF(at(*s.was), y + 9));
    }
    p.setPen(Qt::NoPen);
    p.setBrush(t.ink);
    if (std::isfinite(s.value)) p.drawEllipse(QPointF(at(s.value), y), 5, 5);
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
        const QRectF at = laid_[i].box;
        const double y = at.top() + line_height / 2;
        if (r.mark == FigureRow::Mark::Heading) {
            paint::text(p, {at.left(), y}, Qt::AlignLeft, r.what, 14, t.ink, true);
            continue;
        }
        const bool bad = r.mark == FigureRow::Mark::Bad;
        double left = at.left();
        if (is_marked(r)) {
            p.setPen(QPen(t.caution, 1.6));
            p.setBrush(bad ? QBrush(t.caution) : QBrush(Qt::NoBrush));
            p.drawPolygon(QPolygonF{{left + 6, y - 6}, {left + 12, y + 5}, {left, y + 5}});
            left += mark_width;
        }
        // What and value share the first part of the line, the word on it has the rest.
        const double split = r.note.isEmpty() || stacked_ ? at.right() : at.left() + split_ * at.width();
        const QRectF value = paint::text(p, {split, y + laid_[i].value_below}, Qt::AlignRight, r.value, 13,
                                         bad ? t.caution : t.ink, true);
        const auto lines = [&](double x, double line, double room, const QStringList& words, const QColor& colour) {
            for (const QString& w : words) {
                paint::text_within(p, {x, line}, room, w, 13, colour);
                line += further_line;
            }
        };
        if (r.scale) paint_scale(p, QRectF(at.left(), at.bottom() - scale_height, at.width(), scale_height), *r.scale);
        const QColor tone = is_marked(r) ? t.caution : t.soft;
        lines(left, y, (laid_[i].value_below > 0 ? split : value.left() - 8) - left, laid_[i].what, t.soft);
        if (stacked_)
            lines(at.left() + mark_width,
                  y + further_line * static_cast<double>(std::max<qsizetype>(1, laid_[i].what.size()) +
                                                         (laid_[i].value_below > 0)),
                  at.width() - mark_width, laid_[i].note, tone);
        else
            lines(split + 10, y, at.right() - split - 10, laid_[i].note, tone);
    }
}

} // namespace dervish::app
