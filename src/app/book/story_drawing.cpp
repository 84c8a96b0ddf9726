#include "app/book/story_drawing.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/job/dates.h"
#include "core/say/book_words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double left_edge = 112, right_edge = 26, top = 92, bottom = 34; ///< px
constexpr double least_days = 7, least_metres = 50e3;                     ///< that a zoom goes in to

/// A step of the axis in its own unit that leaves room for its words.
double axis_step(double range, double wide, double room) {
    const double rough = range * room / std::max(1.0, wide), power = std::pow(10, std::floor(std::log10(rough)));
    for (const double m : {1.0, 2.0, 5.0})
        if (m * power >= rough) return m * power;
    return 10 * power;
}

/// What stands before the first stop of a sentence.
QString brief(const std::string& words) {
    const QString all = qs(words).simplified();
    qsizetype end = all.size();
    for (const QString& stop :
         {QStringLiteral(". "), QStringLiteral("; "), QStringLiteral(": "), QStringLiteral(" (")}) {
        const auto at = all.indexOf(stop);
        if (at > 0) end = std::min(end, at);
    }
    return all.left(end);
}
} // namespace

StoryDrawing::StoryDrawing(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story) {
    setObjectName("story");
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("The car's story, from left to right"));
    connect(&story_, &StoryView::changed, this, [this] {
        if (was_by_distance_ != story_.by_distance()) range_.reset();
        was_by_distance_ = story_.by_distance();
        whole_ = whole();
        if (const auto chosen = story_.chosen(); chosen && range_) { // what is chosen is seen
            const double at = story_.place_of(story_.moments()[*chosen]);
            if (at < range_->from || at > range_->to) move_by(at - (range_->from + range_->to) / 2);
        }
        announce();
        update();
    });
    whole_ = whole();
    announce();
}

void StoryDrawing::announce() {
    const auto chosen = story_.chosen();
    setAccessibleDescription(chosen ? words_of(story_.moments()[*chosen]) : QString());
}

StoryDrawing::Range StoryDrawing::whole() const {
    Range out{1e300, -1e300};
    for (const book::Moment& m : story_.moments())
        if (!story_.by_distance() || m.odometer > 0)
            out = {std::min(out.from, story_.place_of(m)), std::max(out.to, story_.place_of(m))};
    if (story_.moments().empty() || out.from > out.to) return {0, 1};
    // What stood last goes on to now, but a book laid aside for years does not fill the line with nothing.
    const double now = story_.by_distance() ? story_.now().odometer : story_.now().day,
                 least = story_.by_distance() ? least_metres : least_days;
    const double span = std::max(out.to - out.from, least);
    out.to = std::max(out.to, std::min(now, out.to + span));
    return {out.from - 0.02 * span, std::max(out.to, out.from + least) + 0.06 * span};
}

double StoryDrawing::x_of(double place) const {
    const Range r = shown();
    return left_edge + (place - r.from) / (r.to - r.from) * (width() - left_edge - right_edge);
}

double StoryDrawing::place_at(double x) const {
    const Range r = shown();
    return r.from + (x - left_edge) / std::max(1.0, width() - left_edge - right_edge) * (r.to - r.from);
}

double StoryDrawing::lane_y(book::Lane lane) const {
    return top + (static_cast<int>(lane) + 0.5) * (height() - top - bottom) / book::lane_count;
}

void StoryDrawing::show_all() {
    range_.reset();
    update();
}

void StoryDrawing::zoom(double by, double around) {
    const Range r = shown(), all = whole_;
    const double least = story_.by_distance() ? least_metres : least_days, span = std::max(least, (r.to - r.from) * by);
    if (span >= all.to - all.from) return show_all();
    const double share = (around - r.from) / (r.to - r.from);
    range_ = Range{around - share * span, around + (1 - share) * span};
    move_by(0);
}

void StoryDrawing::move_by(double places) {
    if (!range_) return;
    const Range all = whole_;
    const double span = range_->to - range_->from,
                 from = std::clamp(range_->from + places, all.from, std::max(all.from, all.to - span));
    range_ = Range{from, from + span};
    update();
}

QString StoryDrawing::words_of(const book::Moment& m) const {
    const QString when = qs(say::distance_words(m.odometer, document_.units()));
    if (m.test >= 0) {
        const job::PlannedTest& t = document_.job().tests[static_cast<std::size_t>(m.test)];
        return tr("%1: test, %2").arg(qs(t.date), qs(t.name));
    }
    const job::Entry& e = document_.job().book[static_cast<std::size_t>(m.entry)];
    return tr("%1, %2: %3. %4")
        .arg(e.date.empty() ? tr("no date") : qs(e.date), when.isEmpty() ? tr("distance not said") : when,
             qs(say::words_of(e.kind)), qs(e.reason));
}

void StoryDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    const Theme& t = theme();
    const auto& all = story_.moments();
    paint::text(
        p, {20, 26}, Qt::AlignLeft | Qt::AlignVCenter,
        tr("The book of %1")
            .arg(qs(document_.job().vehicle.name.empty() ? document_.job().name : document_.job().vehicle.name)),
        18, t.ink, true);
    const QString words = qs(say::story_words(document_.job(), all, document_.units()));
    double y = 50;
    for (const QString& line : paint::in_lines(words, QFontMetricsF(face(13)), {width() - 40.0, width() - 40.0})) {
        paint::text(p, {20, y}, Qt::AlignLeft | Qt::AlignVCenter, line, 13, t.soft);
        y += 17;
    }
    if (all.empty()) {
        paint::text(p, {width() / 2.0, height() / 2.0}, Qt::AlignCenter,
                    tr("Nothing is written yet. “Write” puts down what is fitted, found, broken or felt."), 14, t.soft);
        return;
    }
    const QString lanes[] = {tr("fitted"), tr("tests"), tr("decided"), tr("broke"), tr("upkeep"), tr("notes")};
    for (int i = 0; i < book::lane_count; ++i) {
        const double mid = lane_y(static_cast<book::Lane>(i)), half = (height() - top - bottom) / book::lane_count / 2;
        paint::text(p, {20, mid}, Qt::AlignLeft | Qt::AlignVCenter, lanes[i], 14, t.soft);
        if (const int count = book::count_due(story_.due()); count > 0 && i == static_cast<int>(book::Lane::Upkeep))
            paint::text(p, {20, mid + 17}, Qt::AlignLeft | Qt::AlignVCenter, tr("%1 due").arg(count), 13, t.caution,
                        true);
        p.setPen(QPen(t.rule, 1));
        p.drawLine(QPointF(left_edge, mid + half), QPointF(width() - right_edge, mid + half));
    }
    paint_axis(p);
    p.setClipRect(QRectF(left_edge - 10, top - 30, width() - left_edge - right_edge + 20, height() - top + 30));
    paint_fitted(p);
    for (int i = 1; i < book::lane_count; ++i) paint_lane(p, static_cast<book::Lane>(i));
    if (const auto chosen = story_.chosen()) {
        const book::Moment& m = all[*chosen];
        const double x = x_of(story_.place_of(m));
        p.setPen(QPen(t.ink, 1.5, Qt::DotLine));
        p.drawLine(QPointF(x, top - 4), QPointF(x, height() - bottom + 6));
        const QString far = qs(say::distance_words(m.odometer, document_.units())),
                      date = qs(job::date_of(static_cast<int>(m.day)));
        const QString told =
            far.isEmpty() ? date : (m.odometer_said ? tr("%1 · %2") : tr("%1 · about %2")).arg(date, far);
        const double half = QFontMetricsF(face(13, true)).horizontalAdvance(told) / 2;
        if (x > left_edge - 10 && x < width() - right_edge + 10)
            paint::text(p, {std::clamp(x, left_edge + half, width() - right_edge - half), height() - bottom + 18.0},
                        Qt::AlignCenter, told, 13, t.ink, true);
    }
    if (hasFocus()) {
        p.setClipping(false);
        p.setPen(QPen(t.ink, 1, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(QRectF(4, 4, width() - 8, height() - 8));
    }
}

void StoryDrawing::paint_axis(QPainter& p) const {
    const Theme& t = theme();
    const Range r = shown();
    const double wide = width() - left_edge - right_edge;
    const auto mark = [&](double place, const QString& words) {
        const double x = x_of(place);
        if (x < left_edge || x > width() - right_edge - 20) return;
        p.setPen(QPen(t.rule, 1));
        p.drawLine(QPointF(x, top), QPointF(x, height() - bottom));
        paint::text(p, {x, top - 12}, Qt::AlignCenter, words, 13, t.soft);
    };
    if (story_.by_distance()) {
        const double unit = units::shown(units::Quantity::Distance, document_.units()).factor;
        const double step = axis_step((r.to - r.from) / unit, wide, 90) * unit;
        for (double at = std::ceil(r.from / step) * step; at <= r.to; at += step)
            if (at >= 0) mark(at, qs(say::distance_words(std::max(at, 0.0), document_.units())));
        return;
    }
    const double months = (r.to - r.from) / 30.44;
    const int step = months > 9 * wide / 90 ? static_cast<int>(std::ceil(months / (wide / 90) / 12)) * 12
                     : months > wide / 90   ? 3
                                            : 1;
    if (months < 1.5) {
        const int days = std::max(1, static_cast<int>(std::ceil((r.to - r.from) / (wide / 90))));
        for (int at = static_cast<int>(std::ceil(r.from)); at <= r.to; at += days) mark(at, qs(job::date_of(at)));
        return;
    }
    const QString first = qs(job::date_of(static_cast<int>(r.from)));
    int year = first.left(4).toInt(), month = first.mid(5, 2).toInt();
    if (step >= 12) month = 1;
    for (int i = 0; i < 4000; ++i) {
        const QString text = QString("%1-%2").arg(year, 4, 10, QChar('0')).arg(month, 2, 10, QChar('0'));
        const auto day = job::day_of((text + "-01").toStdString());
        if (!day || *day > r.to) break;
        mark(*day, step >= 12 ? text.left(4) : text);
        month += step;
        year += (month - 1) / 12;
        month = (month - 1) % 12 + 1;
    }
}

void StoryDrawing::paint_fitted(QPainter& p) const {
    const Theme& t = theme();
    const double y = lane_y(book::Lane::Fitted);
    const int stood = story_.stood_by();
    for (const book::Span& s : story_.spans()) {
        const double from = x_of(story_.by_distance() ? s.odometer : s.day);
        // What stands now goes on.
        const double to =
            s.entry == story_.spans().back().entry
                ? width() - right_edge
                : std::min<double>(x_of(story_.by_distance() ? s.odometer_end : s.day_end), width() - right_edge);
        const job::Setup& setup = document_.job().book[static_cast<std::size_t>(s.entry)].car->setup;
        const bool without = std::ranges::any_of(story_.gaps(), [&](const book::Gap& g) {
            return g.what == book::Gap::What::WithoutBar && !(setup[g.end].fitted && setup[g.end].connected);
        });
        const QRectF box(from, y - 15, std::max(6.0, to - from - 3), 30);
        const bool chosen = s.entry == stood;
        const QColor line = without ? t.caution : t.ink;
        p.setPen(QPen(line, 1.4, without ? Qt::DashLine : Qt::SolidLine));
        p.setBrush(chosen ? t.selected : t.panel);
        p.drawRoundedRect(box, 4, 4);
        const QFontMetricsF by(face(13, chosen));
        const double begins = std::max(box.left(), left_edge) + 8;
        const QString name = s.name.empty() ? tr("as it stood") : qs(s.name);
        if (begins + by.horizontalAdvance(name) < box.right() - 6)
            paint::text(p, {begins, y}, Qt::AlignLeft | Qt::AlignVCenter, name, 13, chosen ? t.on_selected : line,
                        chosen);
    }
}

void StoryDrawing::paint_mark(QPainter& p, const book::Moment& m, QPointF at) const {
    const Theme& t = theme();
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.ink, 2, Qt::SolidLine, Qt::RoundCap));
    switch (m.lane) {
    case book::Lane::Fitted:
        break;
    case book::Lane::Tests: {
        switch (story_.agreement(m.test)) {
        case proof::Agreement::Agrees:
            p.drawPolyline(QPolygonF{at + QPointF(-7, 0), at + QPointF(-2, 6), at + QPointF(8, -7)});
            break;
        case proof::Agreement::Disagrees:
            p.setPen(QPen(t.caution, 2));
            p.drawLine(at + QPointF(-6, -6), at + QPointF(6, 6));
            p.drawLine(at + QPointF(-6, 6), at + QPointF(6, -6));
            break;
        case proof::Agreement::NothingRead:
            p.drawEllipse(at, 5, 5);
            break;
        default:
            paint::text(p, at, Qt::AlignCenter, "?", 16, t.ink, true);
            break;
        }
        break;
    }
    case book::Lane::Decided:
        p.drawLine(at + QPointF(0, -10), at + QPointF(0, 12));
        p.setBrush(t.ink);
        p.drawPolygon(QPolygonF{at + QPointF(0, -10), at + QPointF(12, -6), at + QPointF(0, -1)});
        break;
    case book::Lane::Broke:
        p.setPen(QPen(t.caution, 1.8));
        p.drawPolygon(QPolygonF{at + QPointF(0, -8), at + QPointF(8, 6), at + QPointF(-8, 6)});
        break;
    case book::Lane::Upkeep:
        p.fillRect(QRectF(at.x() - 5, at.y() - 5, 10, 10), t.ink);
        break;
    case book::Lane::Notes:
        p.drawEllipse(at, 4.5, 4.5);
        break;
    }
}

void StoryDrawing::paint_lane(QPainter& p, book::Lane lane) const {
    const Theme& t = theme();
    const double y = lane_y(lane);
    std::vector<std::pair<double, std::size_t>> here;
    for (std::size_t i = 0; i < story_.moments().size(); ++i) {
        if (story_.moments()[i].lane != lane || !story_.is_wanted(i)) continue;
        const double x = x_of(story_.place_of(story_.moments()[i]));
        if (x > -40 && x < width() + 40) here.emplace_back(x, i);
    }
    if (lane == book::Lane::Broke)
        for (const book::Gap& g : story_.gaps()) {
            if (g.what != book::Gap::What::Broken) continue;
            const double from = x_of(story_.by_distance() ? g.odometer : g.day),
                         to = x_of(story_.by_distance() ? g.odometer_end : g.day_end);
            p.setPen(QPen(t.caution, 2));
            p.drawLine(QPointF(from, y + 12), QPointF(std::max(from + 2, to), y + 12));
        }
    double last = -1e9;
    for (auto& [x, i] : here) { // a hand's breadth apart, as long as there are few
        if (here.size() < 40) x = std::max(x, last + 17);
        last = x;
    }
    // Those that this pushed over the edge go back as far as they must.
    if (here.size() < 40 && !here.empty() &&
        x_of(story_.place_of(story_.moments()[here.back().second])) <= width() - right_edge) {
        double edge = width() - right_edge - 6;
        for (std::size_t k = here.size(); k-- > 0; edge = here[k].first - 17)
            here[k].first = std::min(here[k].first, edge);
    }
    const QFontMetricsF by(face(13));
    double drawn = -1e9;
    for (std::size_t k = 0; k < here.size(); ++k) {
        const auto [x, i] = here[k];
        const book::Moment& m = story_.moments()[i];
        // On top of the last: a mark is ten pixels wide.
        if (here.size() >= 40 && k > 0 && x - drawn < 3 && story_.chosen() != i) continue;
        drawn = x;
        p.setOpacity(m.struck ? 0.35 : 1);
        paint_mark(p, m, {x, y});
        if (story_.chosen() == i) {
            p.setPen(QPen(t.ink, 1.5));
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(QPointF(x, y), 12.5, 12.5);
        }
        const double room = (k + 1 < here.size() ? here[k + 1].first - 14 : width() - right_edge) - x - 16;
        if (m.entry >= 0 && lane != book::Lane::Upkeep && room > 30) {
            const QString words = brief(document_.job().book[static_cast<std::size_t>(m.entry)].reason);
            if (by.horizontalAdvance(words) < room && x > left_edge - 12)
                paint::text(p, {x + 16, y}, Qt::AlignLeft | Qt::AlignVCenter, words, 13,
                            lane == book::Lane::Broke ? t.caution : t.ink);
        }
        p.setOpacity(1);
    }
}

void StoryDrawing::mousePressEvent(QMouseEvent* event) {
    setFocus();
    grabbed_ = event->position().x();
    dragged_ = false;
}

void StoryDrawing::mouseMoveEvent(QMouseEvent* event) {
    if (!grabbed_) return;
    const double x = event->position().x();
    if (!dragged_ && std::abs(x - *grabbed_) < 5) return;
    dragged_ = true;
    move_by(place_at(*grabbed_) - place_at(x));
    grabbed_ = x;
}

void StoryDrawing::mouseReleaseEvent(QMouseEvent* event) {
    grabbed_.reset();
    if (dragged_) return;
    const QPointF at = event->position();
    double nearest = 24;
    std::optional<std::size_t> found;
    for (std::size_t i = 0; i < story_.moments().size(); ++i) {
        const book::Moment& m = story_.moments()[i];
        const double x = x_of(story_.place_of(m));
        const double far = std::abs(x - at.x());
        const double half = (height() - top - bottom) / book::lane_count / 2;
        if (m.lane == book::Lane::Fitted || !story_.is_wanted(i) || std::abs(lane_y(m.lane) - at.y()) > half) continue;
        if (far < nearest) {
            nearest = far;
            found = i;
        }
    }
    if (!found)
        for (const book::Span& s : story_.spans()) {
            const double from = story_.by_distance() ? s.odometer : s.day,
                         to = story_.by_distance() ? s.odometer_end : s.day_end;
            if (std::abs(at.y() - lane_y(book::Lane::Fitted)) < 20 && place_at(at.x()) >= from &&
                at.x() <= std::max(x_of(to), x_of(from) + 6))
                return story_.choose_entry(s.entry);
        }
    if (found) story_.choose(found);
}

void StoryDrawing::wheelEvent(QWheelEvent* event) {
    if (event->angleDelta().y() != 0) zoom(std::pow(0.999, event->angleDelta().y()), place_at(event->position().x()));
    if (event->angleDelta().x() != 0) move_by(-event->angleDelta().x() / 1200.0 * (shown().to - shown().from));
    event->accept();
}

void StoryDrawing::keyPressEvent(QKeyEvent* event) {
    const auto chosen = story_.chosen();
    const double around = chosen ? story_.place_of(story_.moments()[*chosen]) : place_at(width() / 2.0);
    switch (event->key()) {
    case Qt::Key_Left:
        story_.step(-1);
        break;
    case Qt::Key_Right:
        story_.step(1);
        break;
    case Qt::Key_Plus:
        zoom(0.7, around);
        break;
    case Qt::Key_Minus:
        zoom(1 / 0.7, around);
        break;
    case Qt::Key_Home:
        show_all();
        break;
    case Qt::Key_B:
        emit look_back_wanted();
        break;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace dervish::app
