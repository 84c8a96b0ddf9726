#include "app/paint/pen.h"

#include "app/shell/theme.h"

#include <cmath>

namespace dervish::app::paint {

QRectF text(QPainter& p, QPointF at, Qt::Alignment align, const QString& words, int pixels, const QColor& colour,
            bool bold) {
    p.setFont(face(pixels, bold));
    p.setPen(colour);
    const QFontMetricsF metrics(p.font());
    const double width = metrics.horizontalAdvance(words), height = metrics.height();
    QRectF box(at.x(), at.y() - height / 2, width + 1, height);
    if (align & Qt::AlignRight) box.moveRight(at.x());
    if (align & Qt::AlignHCenter) box.moveCenter(at);
    if (align & Qt::AlignTop) box.moveTop(at.y());
    if (align & Qt::AlignBottom) box.moveBottom(at.y());
    p.drawText(box, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextDontClip, words);
    return box;
}

void label(QPainter& p, QPointF place, QPointF at, Qt::Alignment align, const QString& head, const QString& rest) {
    p.setPen(QPen(theme().ink, 1));
    p.setBrush(theme().ink);
    p.drawLine(place, at);
    p.drawEllipse(place, 2, 2);
    const double side = align & Qt::AlignRight ? -4 : align & Qt::AlignHCenter ? 0 : 4;
    text(p, at + QPointF(side, 0), align, head, 13, theme().ink, true);
    text(p, at + QPointF(side, 16), align, rest, 12, theme().soft);
}

void dimension(QPainter& p, QPointF a, QPointF b, const QString& words) {
    p.setPen(QPen(theme().soft, 1));
    p.drawLine(a, b);
    const QPointF along = b - a, across = QPointF(-along.y(), along.x()) / std::hypot(along.x(), along.y()) * 4;
    for (const QPointF& end : {a, b}) p.drawLine(end - across, end + across);
    p.setFont(face(12));
    const double width = QFontMetricsF(p.font()).horizontalAdvance(words) + 8;
    const QPointF middle = (a + b) / 2;
    p.fillRect(QRectF(middle.x() - width / 2, middle.y() - 8, width, 16), theme().ground);
    text(p, middle, Qt::AlignHCenter, words, 12, theme().ink);
}

double change(QPainter& p, QPointF at, double by, const QString& words, int pixels, const QColor& colour) {
    p.setPen(Qt::NoPen);
    p.setBrush(colour);
    const double s = pixels * 0.42;
    QPointF next = at;
    if (by != 0) {
        const double tip = by > 0 ? -s * 0.9 : s * 0.9;
        p.drawPolygon(QPolygonF{at + QPointF(0, -tip / 2), at + QPointF(2 * s, -tip / 2), at + QPointF(s, tip / 1.2)});
        next += QPointF(2 * s + 4, 0);
    }
    return text(p, next, Qt::AlignLeft, words, pixels, colour).right() - at.x();
}

void cross(QPainter& p, QPointF at, double size, const QColor& colour, bool solid) {
    p.setPen(QPen(colour, 1.6, solid ? Qt::SolidLine : Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(at, size, size);
    p.drawLine(at - QPointF(size * 1.6, 0), at + QPointF(size * 1.6, 0));
    p.drawLine(at - QPointF(0, size * 1.6), at + QPointF(0, size * 1.6));
}

} // namespace dervish::app::paint
