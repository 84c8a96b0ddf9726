#include "app/paint/pen.h"

#include "app/shell/theme.h"

#include <QCache>
#include <QPaintEngine>
#include <QPixmap>
#include <QStaticText>
#include <QWidget>
#include <algorithm>
#include <cmath>

namespace dervish::app::paint {

Canvas::Canvas(QWidget* widget) : Canvas(widget, theme().ground) {}

Canvas::Canvas(QWidget* widget, const QColor& ground) : QPainter(widget) {
    widget->setAttribute(Qt::WA_OpaquePaintEvent);
    setRenderHint(QPainter::Antialiasing);
    fillRect(widget->rect(), ground);
}

namespace {
/// Words with their places in a line, found once: that costs more than painting them.
struct Line {
    QStaticText words;
    double width, height;
};

const Line& line_of(const QString& words, int pixels, bool bold) {
    static QCache<QString, Line> known(2000);
    const QString key = QString::number(bold ? -pixels : pixels) + ' ' + words;
    if (const Line* line = known.object(key)) return *line;
    const QFontMetricsF metrics(face(pixels, bold));
    auto* line = new Line{QStaticText(words), metrics.horizontalAdvance(words), metrics.height()};
    line->words.setTextFormat(Qt::PlainText);
    line->words.setPerformanceHint(QStaticText::AggressiveCaching);
    known.insert(key, line);
    return *line;
}

/// In dots, words are laid down as a picture of them, drawn once: several times sooner than letter by letter. On
/// paper, where they are turned or made smaller, they stay letters.
bool takes_pictures(const QPainter& p) {
    return p.paintEngine()->type() == QPaintEngine::Raster && p.transform().type() <= QTransform::TxTranslate &&
           p.opacity() == 1;
}

void draw_picture(QPainter& p, QPointF at, const Line& line, const QString& words, int pixels, bool bold,
                  const QColor& colour) {
    static QCache<QString, QPixmap> known(6 << 20); // bytes
    const double fine = p.device()->devicePixelRatioF();
    const QString key = QString("%1 %2 %3 ").arg(bold ? -pixels : pixels).arg(colour.rgba(), 0, 16).arg(fine) + words;
    QPixmap* picture = known.object(key);
    constexpr int edge = 2; // letters reach beyond their box
    if (!picture) {
        const QSizeF size = QSizeF(line.width + 2 * edge + 1, line.height + 2 * edge) * fine;
        picture = new QPixmap(static_cast<int>(std::ceil(size.width())), static_cast<int>(std::ceil(size.height())));
        picture->setDevicePixelRatio(fine);
        picture->fill(Qt::transparent);
        QPainter to(picture);
        to.setFont(face(pixels, bold));
        to.setPen(colour);
        to.drawStaticText(QPointF(edge, edge), line.words);
        const int bytes = 4 * picture->width() * picture->height();
        if (!known.insert(key, picture, bytes)) return; // longer than any line is
    }
    const auto whole = [fine](double x) { return std::round(x * fine) / fine; };
    p.drawPixmap(QPointF(whole(at.x()) - edge, whole(at.y()) - edge), *picture);
}
} // namespace

QRectF text(QPainter& p, QPointF at, Qt::Alignment align, const QString& words, int pixels, const QColor& colour,
            bool bold) {
    const Line& line = line_of(words, pixels, bold);
    QRectF box(at.x(), at.y() - line.height / 2, line.width + 1, line.height);
    if (align & Qt::AlignRight) box.moveRight(at.x());
    if (align & Qt::AlignHCenter) box.moveCenter(at);
    if (align & Qt::AlignTop) box.moveTop(at.y());
    if (align & Qt::AlignBottom) box.moveBottom(at.y());
    p.setFont(face(pixels, bold));
    p.setPen(colour);
    if (takes_pictures(p))
        draw_picture(p, box.topLeft(), line, words, pixels, bold, colour);
    else
        p.drawStaticText(box.topLeft(), line.words);
    return box;
}

constexpr double narrowest = 0.8; // letters can still be read so
constexpr int smallest = 12;      // px

QRectF text_within(QPainter& p, QPointF at, double room, const QString& words, int pixels, const QColor& colour,
                   bool bold) {
    while (pixels > smallest && line_of(words, pixels, bold).width > room) --pixels;
    const double width = line_of(words, pixels, bold).width;
    if (width <= room) return text(p, at, Qt::AlignLeft, words, pixels, colour, bold);
    const double narrow = std::max(room / width, narrowest);
    const QString cut = narrow * width <= room + 0.5
                            ? words
                            : QFontMetricsF(face(pixels, bold)).elidedText(words, Qt::ElideRight, room / narrow + 1);
    p.save();
    p.translate(at);
    p.scale(narrow, 1);
    const QRectF box = text(p, {0, 0}, Qt::AlignLeft, cut, pixels, colour, bold);
    p.restore();
    return {at.x() + narrow * box.left(), at.y() + box.top(), narrow * box.width(), box.height()};
}

QStringList in_lines(const QString& words, const QFontMetricsF& by, const std::vector<double>& rooms, int most) {
    QStringList out;
    QString rest = words;
    while (!rest.isEmpty()) {
        const double room = rooms[std::min(rooms.size() - 1, static_cast<std::size_t>(out.size()))];
        qsizetype at = rest.size(), first = 0;
        while (first < at && rest[first] == ' ') ++first; // set in on purpose
        while (at > first && by.horizontalAdvance(rest.left(at)) > room) at = rest.lastIndexOf(' ', at - 1);
        if (at <= first || out.size() + 1 == most) at = rest.size(); // too long for a line: cut
        out << by.elidedText(rest.left(at), Qt::ElideRight, room);
        rest = rest.mid(at).trimmed();
    }
    return out;
}

void Labels::place(QPainter& p, QPointF place, const QString& head, const QString& whole) {
    const double widest = 0.6 * room_.width();
    const QStringList rest = !whole.isEmpty() && line_of(whole, 13, false).width <= widest
                                 ? QStringList{whole}
                                 : in_lines(whole, QFontMetricsF(face(13)), {widest});
    double width = line_of(head, 13, true).width;
    for (const QString& line : rest) width = std::max(width, line_of(line, 13, false).width);
    const QSizeF size(width, 18 + 16 * static_cast<double>(rest.size()));
    QRectF best;
    QPointF knee;
    double least = 1e18;
    for (const double far : {44.0, 70.0, 100.0, 135.0, 175.0})
        for (int turn = 0; turn < 24; ++turn) {
            const double angle = (turn + 0.5) * units::pi / 12;
            const QPointF end = place + far * QPointF(std::cos(angle), std::sin(angle));
            const bool to_left = end.x() < place.x();
            const QRectF box(QPointF(to_left ? end.x() - 4 - width : end.x() + 4, end.y() - 9), size);
            double cost = far; // a place that costs more than the best so far is looked at no further
            if (cost >= least) continue;
            if (!room_.contains(box)) cost += 5000;
            for (const QRectF& other : taken_) {
                if (other.intersects(box)) cost += 2000;
                for (double part = 0.15; part < 1; part += 0.1) // nor may its line run through one
                    if (other.contains(place + part * (end - place))) cost += 400;
            }
            if (cost >= least) continue;
            const QRectF wide = box.adjusted(-8, -8, 8, 8);
            for (const QPointF& point : avoid_)
                if (wide.contains(point)) cost += 60;
            for (const QLineF& line : lines_) {
                for (const double part : {0.2, 0.4, 0.6, 0.8})
                    if (box.contains(line.pointAt(part))) cost += 400;
                if (line.intersects(QLineF(place, end), nullptr) == QLineF::BoundedIntersection) cost += 100;
            }
            if (cost < least) {
                least = cost;
                best = box;
                knee = end;
            }
        }
    taken_.push_back(best);
    lines_.emplace_back(place, knee);
    p.setPen(QPen(theme().ink, 1));
    p.setBrush(theme().ink);
    p.drawLine(place, knee);
    p.drawEllipse(place, 2, 2);
    QColor veil = theme().ground;
    veil.setAlphaF(0.8f);
    p.fillRect(best, veil);
    const bool to_left = best.center().x() < knee.x();
    const QPointF at(to_left ? best.right() : best.left(), knee.y());
    text(p, at, to_left ? Qt::AlignRight : Qt::AlignLeft, head, 13, theme().ink, true);
    for (qsizetype i = 0; i < rest.size(); ++i)
        text(p, at + QPointF(0, 16 * static_cast<double>(i + 1)), to_left ? Qt::AlignRight : Qt::AlignLeft, rest[i], 13,
             theme().soft);
}

void dimension(QPainter& p, QPointF a, QPointF b, const QString& words) {
    p.setPen(QPen(theme().soft, 1));
    p.drawLine(a, b);
    const QPointF along = b - a, across = QPointF(-along.y(), along.x()) / std::hypot(along.x(), along.y()) * 4;
    for (const QPointF& end : {a, b}) p.drawLine(end - across, end + across);
    p.setFont(face(13));
    const double width = QFontMetricsF(p.font()).horizontalAdvance(words) + 8;
    const QPointF middle = (a + b) / 2;
    p.fillRect(QRectF(middle.x() - width / 2, middle.y() - 8, width, 16), theme().ground);
    text(p, middle, Qt::AlignHCenter, words, 13, theme().ink);
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
