#include "app/flex/flex_readings.h"
#include "core/say/flex_words.h"
#include "core/study/flex.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {

/// "305 mm", "> 800 mm", "34.2°".
QString reached(const study::FlexResult& r, const flex::Protocol& p, units::System system) {
    const QString value = p.kind == flex::Kind::Slope
                              ? qs(units::fixed(r.ascent.height / units::deg, 1)) + "°"
                              : qs(units::text(r.ascent.height, units::Quantity::Length, system, 0));
    return r.ascent.lifted ? value : "> " + value;
}
} // namespace

StatesReading::StatesReading(Document& document, FlexSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("states");
    setAccessibleName(tr("The same ground, every state of the bars"));
    setFocusPolicy(Qt::StrongFocus);
    connect(&sums_, &FlexSums::changed, this, [this] {
        QStringList words;
        for (const study::FlexResult& r : sums_.all())
            words << qs(say::name_of(r.of, document_.units())) + " " + reached(r, sums_.protocol(), document_.units());
        setAccessibleDescription(words.join("; "));
        update();
    });
}

/// In a row.
int StatesReading::columns() const { return width() < 700 ? 4 : 5; }

QRectF StatesReading::card(std::size_t state) const {
    const int across = columns(), at = static_cast<int>(state),
              rows = (std::max(1, static_cast<int>(sums_.all().size())) + across - 1) / across;
    const double wide = (width() - 32.0 - 6 * (across - 1)) / across, high = (height() - 12.0 - 6 * (rows - 1)) / rows;
    return {16 + at % across * (wide + 6), 4 + at / across * (high + 6), wide, high};
}

void StatesReading::paint_card(QPainter& p, std::size_t state, double most) const {
    const Theme& t = theme();
    const study::FlexResult& r = sums_.all()[state];
    const QRectF box = card(state);
    const bool chosen = state == sums_.chosen();
    p.setPen(chosen ? QPen(t.ink, hasFocus() ? 2.4 : 1.6) : QPen(t.rule, 1));
    p.setBrush(chosen ? t.panel : t.ground);
    p.drawRoundedRect(box, 3, 3);
    const QRectF value = paint::text(p, {box.right() - 6, box.top() + 12}, Qt::AlignRight,
                                     reached(r, sums_.protocol(), document_.units()), 13, t.ink, true);
    double y = box.top() + 12;
    for (const QString& line : paint::in_lines(qs(say::name_of(r.of, document_.units())), QFontMetricsF(face(13)),
                                               {value.left() - box.left() - 10, box.width() - 12}, 3)) {
        paint::text(p, {box.left() + 6, y}, Qt::AlignLeft, line, 13, t.ink);
        y += 15;
    }
    const double head = y - 5 - box.top(); // under it the bars
    const units::Unit unit = units::shown(units::Quantity::Length, document_.units());
    const double tall_room = box.height() - head - 12, zero = box.top() + head + tall_room / 2,
                 room = tall_room / 2 - 12;
    const double each = box.width() / 5.2;
    p.setPen(QPen(t.ink, 1));
    p.drawLine(QPointF(box.left() + 8, zero), QPointF(box.right() - 8, zero));
    for (std::size_t w = 0; w < 4; ++w) {
        const study::Corner& c = r.corner[w];
        const double x = box.left() + each * (0.5 + 1.0 * static_cast<double>(w) + (w < 2 ? 0 : 0.4)),
                     tall = room * c.travel / most;
        const QRectF bar(x, std::min(zero, zero - tall), 0.72 * each, std::abs(tall));
        p.setPen(Qt::NoPen);
        p.setBrush(axle_colour(end_of(w)));
        p.drawRect(bar);
        if (c.first().left <= 0) { // at a stop: hatched
            p.setBrush(QBrush(t.ground, Qt::BDiagPattern));
            p.drawRect(bar);
        }
        paint::text(
            p, {bar.center().x(), tall >= 0 ? bar.top() - 7 : bar.bottom() + 7}, Qt::AlignHCenter,
            qs(units::fixed(std::abs(c.travel) / unit.factor, document_.units() == units::System::Metric ? 0 : 1)), 13,
            t.ink);
    }
}

void StatesReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    sums_.ask();
    double most = 1e-3;
    for (const study::FlexResult& r : sums_.all())
        for (const study::Corner& c : r.corner) most = std::max(most, std::abs(c.travel));
    for (std::size_t i = 0; i < sums_.all().size(); ++i) paint_card(p, i, most);
}

void StatesReading::mousePressEvent(QMouseEvent* event) {
    for (std::size_t i = 0; i < sums_.all().size(); ++i)
        if (card(i).contains(event->position())) sums_.choose(i);
}

void StatesReading::keyPressEvent(QKeyEvent* event) {
    const auto last = static_cast<int>(sums_.all().size()) - 1, now = static_cast<int>(sums_.chosen());
    const int by = event->key() == Qt::Key_Right  ? 1
                   : event->key() == Qt::Key_Left ? -1
                   : event->key() == Qt::Key_Down ? columns()
                   : event->key() == Qt::Key_Up   ? -columns()
                                                  : 0;
    if (by == 0) return QWidget::keyPressEvent(event);
    if (now + by >= 0 && now + by <= last) sums_.choose(static_cast<std::size_t>(now + by));
}

TradeReading::TradeReading(Document& document, FlexSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("track against road");
    setAccessibleName(tr("Whole travel over roll gradient, each state"));
    setFixedHeight(150);
    connect(&sums_, &FlexSums::changed, this, qOverload<>(&QWidget::update));
}

void TradeReading::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const Theme& t = theme();
    const auto& all = sums_.all();
    if (all.empty()) return;
    const units::Unit unit = units::shown(units::Quantity::Length, document_.units());
    const auto travel = [&](const study::FlexResult& r) {
        return (r.ascent.front_travel + r.ascent.rear_travel) / unit.factor;
    };
    const auto lean = [](const study::FlexResult& r) { // a car that tips before it leans: at the far end
        return std::min(60.0, r.road.roll_gradient * units::g / units::deg);
    };
    double low_x = 1e9, high_x = 0, low_y = 1e9, high_y = 0;
    for (const study::FlexResult& r : all) {
        low_x = std::min(low_x, lean(r));
        high_x = std::max(high_x, lean(r));
        low_y = std::min(low_y, travel(r));
        high_y = std::max(high_y, travel(r));
    }
    const QRectF room(34, 10, width() - 44, height() - 46);
    const auto about = [](double low, double high, double pixels) { // ten of them kept free at either end
        const double free = 10 * std::max(1e-6, high - low) / (pixels - 20);
        return paint::Axes::Range{low - free, std::max(high, low + 1e-6) + free};
    };
    const paint::Axes axes(room, about(low_x, high_x, room.width()), about(low_y, high_y, room.height()));
    const auto at = [&](const study::FlexResult& r) { return axes(lean(r), travel(r)); };
    axes.sides(p);
    for (const double v : {low_y, high_y})
        axes.beside(p, v, qs(units::fixed(v, document_.units() == units::System::Metric ? 0 : 1)));
    for (const double v : {low_x, high_x}) axes.under(p, v, qs(units::fixed(v, 1)), 10);
    paint::text(p, {room.center().x(), room.bottom() + 26}, Qt::AlignHCenter,
                tr("across: lean, °/g · up: whole travel, %1").arg(QString::fromUtf8(unit.symbol.data())), 13, t.soft);
    for (std::size_t i = 0; i < all.size(); ++i) {
        const bool chosen = i == sums_.chosen();
        p.setPen(QPen(t.ink, 1.6));
        p.setBrush(chosen ? QBrush(t.ink) : QBrush(t.panel));
        p.drawEllipse(at(all[i]), 5, 5);
    }
    if (const study::FlexResult* shown = sums_.shown()) {
        const QPointF place = at(*shown);
        const bool right = place.x() < room.center().x();
        const double space = right ? room.right() - place.x() - 10 : place.x() - room.left() - 10;
        p.setFont(face(13, true));
        const QString name =
            QFontMetricsF(p.font()).elidedText(qs(say::name_of(shown->of, document_.units())), Qt::ElideRight, space);
        paint::text(p, place + QPointF(right ? 10 : -10, 0), right ? Qt::AlignLeft : Qt::AlignRight, name, 13, t.ink,
                    true);
    }
}

} // namespace dervish::app
