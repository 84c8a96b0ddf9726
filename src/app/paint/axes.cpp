#include "app/paint/axes.h"

#include "app/shell/theme.h"

namespace dervish::app::paint {

QPointF Axes::operator()(double x, double y) const {
    return {room_.left() + room_.width() * (x - x_.from) / (x_.to - x_.from),
            room_.bottom() - room_.height() * (y - y_.from) / (y_.to - y_.from)};
}

void Axes::frame(QPainter& p) const {
    p.setPen(QPen(theme().rule, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(room_);
}

void Axes::sides(QPainter& p, bool left, double width) const {
    p.setPen(QPen(theme().ink, width));
    p.drawLine(room_.bottomLeft(), room_.bottomRight());
    if (left) p.drawLine(room_.bottomLeft(), room_.topLeft());
}

void Axes::across(QPainter& p, double y) const {
    p.setPen(QPen(theme().rule, 1));
    p.drawLine((*this)(x_.from, y), (*this)(x_.to, y));
}

void Axes::upright(QPainter& p, double x, const QPen& pen) const {
    p.setPen(pen);
    p.drawLine((*this)(x, y_.from), (*this)(x, y_.to));
}

void Axes::beside(QPainter& p, double y, const QString& words, double down) const {
    text(p, {room_.left() - 6, (*this)(x_.from, y).y() + down}, Qt::AlignRight, words, 12, theme().soft);
}

void Axes::under(QPainter& p, double x, const QString& words, double down, Qt::Alignment align) const {
    text(p, {(*this)(x, y_.from).x(), room_.bottom() + down}, align, words, 12, theme().soft);
}

QPen now_pen(const QColor& colour, double width) { return {colour, width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin}; }

QPen fitted_pen() { return {QColor("#8793A0"), 1.3, Qt::DashLine}; }

} // namespace dervish::app::paint
