#include "app/paint/pen.h"

#include "app/shell/theme.h"

#include <QCache>
#include <QPaintEngine>
#include <QPixmap>
#include <QStaticText>
#include <QWidget>
#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <utility>

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
    quint64 name;    ///< no other line has it
    int painted = 0; ///< how often in dots
};

Line& line_of(const QString& words, int pixels, bool bold) {
    static QCache<std::pair<QString, int>, Line> known(2000);
    static quint64 names = 0;
    const std::pair key{words, bold ? -pixels : pixels};
    if (Line* line = known.object(key)) return *line;
    const QFont font = face(pixels, bold);
    auto* line = new Line{QStaticText(words), 0, QFontMetricsF(font).height(), ++names};
    line->words.setTextFormat(Qt::PlainText);
    line->words.setPerformanceHint(QStaticText::AggressiveCaching);
    line->words.prepare({}, font);
    line->width = line->words.size().width();
    known.insert(key, line);
    return *line;
}

/// In dots, words that stay are laid down as a picture of them, drawn once: several times sooner than letter by letter.
/// On paper, where they are turned or made smaller, they stay letters, and so do those that have not been there before,
/// as most numbers have not.
bool takes_pictures(const QPainter& p) {
    return p.paintEngine()->type() == QPaintEngine::Raster && p.transform().type() <= QTransform::TxTranslate &&
           p.opacity() == 1;
}

constexpr int picture_edge = 2;               ///< px: letters reach beyond their box
constexpr int most_of_a_picture = 256 << 10;  ///< bytes: a longer line stays letters
constexpr int most_of_all_pictures = 6 << 20; ///< bytes

QSize dots_of(const Line& line, double fine) {
    const QSizeF size = QSizeF(line.width + 2 * picture_edge + 1, line.height + 2 * picture_edge) * fine;
    return {static_cast<int>(std::ceil(size.width())), static_cast<int>(std::ceil(size.height()))};
}
qint64 bytes_of(QSize dots) { return qint64(4) * dots.width() * dots.height(); }

void draw_picture(QPainter& p, QPointF at, const Line& line, double fine, int pixels, bool bold, const QColor& colour) {
    static QCache<std::pair<quint64, QRgb>, QPixmap> known(most_of_all_pictures);
    const std::pair key{line.name, colour.rgba()};
    const QPixmap* kept = known.object(key);
    QPixmap picture = kept ? *kept : QPixmap(); // a copy of the handle: the cache may let go of its own
    if (picture.isNull() || picture.devicePixelRatio() != fine) {
        picture = QPixmap(dots_of(line, fine));
        picture.setDevicePixelRatio(fine);
        picture.fill(Qt::transparent);
        {
            QPainter to(&picture);
            to.setFont(face(pixels, bold));
            to.setPen(colour);
            to.drawStaticText(QPointF(picture_edge, picture_edge), line.words);
        }
        known.insert(key, new QPixmap(picture), bytes_of(picture.size()));
    }
    p.drawPixmap(at - QPointF(picture_edge, picture_edge), picture);
}
} // namespace

QRectF text(QPainter& p, QPointF at, Qt::Alignment align, const QString& words, int pixels, const QColor& colour,
            bool bold) {
    if (!std::isfinite(at.x()) || !std::isfinite(at.y()))
        return {}; // of a figure that cannot be: no place on a drawing
    Line& line = line_of(words, pixels, bold);
    QRectF box(at.x(), at.y() - line.height / 2, line.width + 1, line.height);
    if (align & Qt::AlignRight) box.moveRight(at.x());
    if (align & Qt::AlignHCenter) box.moveCenter(at);
    if (align & Qt::AlignTop) box.moveTop(at.y());
    if (align & Qt::AlignBottom) box.moveBottom(at.y());
    p.setPen(colour);
    QPointF there = box.topLeft();
    if (takes_pictures(p)) {
        const double fine = p.paintEngine()->paintDevice()->devicePixelRatioF(); // a widget looks its screen up first
        const auto whole = [fine](double x) { return std::round(x * fine) / fine; };
        there = {whole(there.x()), whole(there.y())}; // the same for letters and their picture
        if (++line.painted > 2 && bytes_of(dots_of(line, fine)) <= most_of_a_picture) {
            draw_picture(p, there, line, fine, pixels, bold, colour);
            return box;
        }
    }
    p.setFont(face(pixels, bold));
    p.drawStaticText(there, line.words);
    return box;
}

double width_of(const QString& words, int pixels, bool bold) { return line_of(words, pixels, bold).width; }

bool paragraph(QPainter& p, const QRectF& room, const QString& words, int pixels, const QColor& colour) {
    static QCache<QString, QStringList> known(200);
    const QString key = QString("%1 %2 ").arg(pixels).arg(std::lround(room.width())) + words;
    QStringList* lines = known.object(key);
    if (!lines) {
        lines = new QStringList(in_lines(words, QFontMetricsF(face(pixels)), {room.width()}, 100));
        known.insert(key, lines);
    }
    const double high = QFontMetricsF(face(pixels)).height();
    if (high * static_cast<double>(lines->size()) > room.height()) return false;
    double y = room.top() + high / 2;
    for (const QString& line : *lines) {
        text(p, {room.left(), y}, Qt::AlignLeft, line, pixels, colour);
        y += high;
    }
    return true;
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
        qsizetype at = 0, first = 0;
        while (first < rest.size() && rest[first] == ' ') ++first; // set in on purpose
        const bool whole = out.size() + 1 == most || by.horizontalAdvance(rest) <= room;
        for (qsizetype next = first; !whole && next < rest.size(); at = next) { // word by word: few go in a line
            next = rest.indexOf(' ', next + 1);
            if (next < 0 || by.horizontalAdvance(rest.left(next)) > room) break;
        }
        if (whole || at <= first) at = rest.size(); // too long for a line: cut
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
    constexpr int turns = 24;
    static const auto ways = [] {
        std::array<QPointF, turns> out;
        for (int turn = 0; turn < turns; ++turn) {
            const double angle = (turn + 0.5) * 2 * units::pi / turns;
            out[static_cast<std::size_t>(turn)] = {std::cos(angle), std::sin(angle)};
        }
        return out;
    }();
    constexpr double afar[] = {44, 70, 100, 135, 175};
    QPolygonF near; // of the drawing, what a label can come near to
    const QRectF reach =
        QRectF(place, QSizeF()).adjusted(-190 - width, -190 - size.height(), 190 + width, 190 + size.height());
    for (const QPointF& point : avoid_)
        if (reach.contains(point)) near << point;
    QRectF best;
    QPointF knee;
    double least = 1e18;
    for (const double far : afar)
        for (const QPointF& way : ways) {
            const QPointF end = place + far * way;
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
            const double left = box.left() - 8, right = box.right() + 8, top = box.top() - 8, bottom = box.bottom() + 8;
            for (const QPointF& point : near)
                if (point.x() >= left && point.x() <= right && point.y() >= top && point.y() <= bottom &&
                    (cost += 60) >= least)
                    break;
            if (cost >= least) continue;
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
    p.drawLine(place, knee);
    disc(p, place, 2, theme().ink, theme().ink, 1);
    QColor veil = theme().ground;
    veil.setAlphaF(0.8f);
    p.fillRect(best.toAlignedRect(), veil);
    const bool to_left = best.center().x() < knee.x();
    const QPointF at(to_left ? best.right() : best.left(), knee.y());
    text(p, at, to_left ? Qt::AlignRight : Qt::AlignLeft, head, 13, theme().ink, true);
    for (qsizetype i = 0; i < rest.size(); ++i)
        text(p, at + QPointF(0, 16 * static_cast<double>(i + 1)), to_left ? Qt::AlignRight : Qt::AlignLeft, rest[i], 13,
             theme().soft);
}

QPolygonF beside(const QPolygonF& line, double by) {
    QPolygonF out;
    const qsizetype last = line.size() - 1;
    for (qsizetype i = 0; i <= last; ++i) {
        const QLineF along(line[std::max<qsizetype>(0, i - 1)], line[std::min(last, i + 1)]);
        out << line[i] + QPointF(-along.dy(), along.dx()) * (by / std::max(1e-9, along.length()));
    }
    return out;
}

void thick_line(QPainter& p, const QPolygonF& line, double thick, const QColor& colour, Ends ends) {
    if (line.isEmpty()) return;
    // Straight pieces, of an opaque colour: Qt lays one down at once; the time of a path grows faster than its length.
    QList<QLineF> pieces;
    const auto straight = [&](qsizetype from, qsizetype to) {
        const QLineF chord(line[from], line[to]);
        const double length = chord.length();
        const QPointF way = (chord.p2() - chord.p1()) / std::max(1e-9, length);
        return std::all_of(line.begin() + from + 1, line.begin() + to, [&](const QPointF& at) {
            const QPointF off = at - chord.p1();
            const QPointF aside = off - std::clamp(QPointF::dotProduct(off, way), 0.0, length) * way;
            return QPointF::dotProduct(aside, aside) < 0.01; // px²
        });
    };
    for (qsizetype from = 0, to; from + 1 < line.size(); from = to) {
        for (to = from + 1; to + 1 < line.size() && straight(from, to + 1); ++to) {
        }
        pieces << QLineF(line[from], line[to]);
    }
    if (ends == Ends::Round)
        for (const QPointF& at : {line.front(), line.back()}) disc(p, at, thick / 2, colour, colour, 0);
    for (qsizetype i = 0; i + 1 < pieces.size(); ++i) {
        QLineF &in = pieces[i], &out = pieces[i + 1];
        const double sharp = 0.9, both = std::max(1e-9, in.length() * out.length()),
                     cosine = QPointF::dotProduct(in.p2() - in.p1(), out.p2() - out.p1()) / both;
        if (cosine < sharp) {
            disc(p, out.p1(), thick / 2, colour, colour, 0);
            continue;
        }
        // As much longer as the outer edges lie apart, and never so little that the ground shines through.
        const double more = std::max(1.0, thick / 2 * std::sqrt(std::max(0.0, 1 - cosine) / (1 + cosine)));
        const QPointF joint = in.p2();
        in.setP2(joint + (joint - in.p1()) * (more / std::max(1e-9, in.length())));
        out.setP1(joint - (out.p2() - joint) * (more / std::max(1e-9, out.length())));
    }
    p.setPen(QPen(colour, thick, Qt::SolidLine, Qt::FlatCap));
    p.drawLines(pieces);
}

void disc(QPainter& p, QPointF at, double radius, const QColor& fill, const QColor& edge, double edged) {
    if (!std::isfinite(at.x()) || !std::isfinite(at.y()) || !std::isfinite(radius)) return;
    p.setPen(Qt::NoPen);
    for (const auto& [r, colour] : {std::pair{radius + edged / 2, edge}, std::pair{radius - edged / 2, fill}}) {
        p.setBrush(colour);
        p.drawEllipse(at, r, r);
        if (fill == edge) break;
    }
}

void update_below_children(QWidget* widget) {
    widget->update(QRegion(widget->rect()).subtracted(widget->childrenRegion()));
}

void box(QPainter& p, const QRectF& at, const QColor& fill, const QColor& edge) {
    const QRect whole = at.toRect();
    p.fillRect(whole.adjusted(1, 1, -1, -1), fill);
    for (const QRect& side :
         {QRect(whole.left(), whole.top(), whole.width(), 1), QRect(whole.left(), whole.bottom(), whole.width(), 1),
          QRect(whole.left(), whole.top() + 1, 1, whole.height() - 2),
          QRect(whole.right(), whole.top() + 1, 1, whole.height() - 2)})
        p.fillRect(side, edge);
}

void dimension(QPainter& p, QPointF a, QPointF b, const QString& words) {
    p.setPen(QPen(theme().soft, 1));
    p.drawLine(a, b);
    const QPointF along = b - a, across = QPointF(-along.y(), along.x()) / std::hypot(along.x(), along.y()) * 4;
    for (const QPointF& end : {a, b}) p.drawLine(end - across, end + across);
    const double width = width_of(words, 13) + 8;
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
