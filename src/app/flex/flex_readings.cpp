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

namespace {
constexpr int least_high = 112; ///< of a card, px
}

StatesReading::StatesReading(Document& document, FlexSums& sums, bool at_one_height, QWidget* parent)
    : QWidget(parent), at_one_height_(at_one_height), document_(document), sums_(sums) {
    setObjectName(at_one_height ? "states at one height" : "states");
    setAccessibleName(at_one_height ? tr("Every state at this height of the ground")
                                    : tr("The same ground, every state of the bars"));
    setFocusPolicy(Qt::StrongFocus);
    connect(&sums_, &FlexSums::changed, this, [this] {
        stale_ = true;
        if (isVisible()) take_up();
        QStringList words;
        for (std::size_t i = 0; i < sums_.all().size(); ++i)
            words << qs(say::name_of(sums_.all()[i].of, document_.units())) + " " + head(i);
        setAccessibleDescription(words.join("; "));
        lay();
        update();
    });
}

void StatesReading::set_reach(double reach) {
    stale_ = stale_ || reach != reach_;
    reach_ = reach;
    if (isVisible()) take_up();
}

void StatesReading::lay() {
    const int rows = (static_cast<int>(sums_.all().size()) + columns() - 1) / columns();
    setMinimumHeight(8 + least_high * rows);
}

void StatesReading::showEvent(QShowEvent*) { take_up(); }

void StatesReading::take_up() {
    if (!at_one_height_ || !std::exchange(stale_, false)) return;
    at_.clear();
    for (const study::FlexResult& r : sums_.all()) at_.push_back(flex::at_reach(r.car, sums_.protocol(), reach_));
    update();
}

QString StatesReading::head(std::size_t state) const {
    if (!at_one_height_) return reached(sums_.all()[state], sums_.protocol(), document_.units());
    if (state >= at_.size()) return {};
    const car::State& s = at_[state];
    return s.converged ? qs(units::fixed((s.roll[0] + s.roll[1]) / 2 / units::deg, 1)) + "°" : tr("falls over");
}

/// Travels where its own wheel goes light, hatched at a stop; loads at one height, or the gap under a wheel that hangs.
PerWheel<StatesReading::Column> StatesReading::columns_of(std::size_t state) const {
    PerWheel<Column> out;
    const bool metric = document_.units() == units::System::Metric;
    const auto shown = [&](double v, units::Quantity q) {
        return qs(
            units::fixed(v / units::shown(q, document_.units()).factor, metric || q == units::Quantity::Force ? 0 : 1));
    };
    for (std::size_t w = 0; w < 4; ++w) {
        const study::Corner& c = sums_.all()[state].corner[w];
        if (!at_one_height_) {
            out[w] = {c.travel, shown(std::abs(c.travel), units::Quantity::Length), c.first().left <= 0};
        } else if (state < at_.size()) {
            const car::Wheel& wheel = at_[state].wheels[w];
            const bool hangs = wheel.gap > 1e-4;
            out[w] = {wheel.load,
                      hangs    ? shown(wheel.gap, units::Quantity::Length)
                      : metric ? qs(units::fixed(wheel.load / 1e3, 1))
                               : shown(wheel.load, units::Quantity::Force),
                      false, hangs};
        }
    }
    return out;
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
    const QRectF value =
        paint::text(p, {box.right() - 6, box.top() + 12}, Qt::AlignRight, head(state), 13, t.ink, true);
    double y = box.top() + 12;
    for (const QString& line : paint::in_lines(qs(say::name_of(r.of, document_.units())), QFontMetricsF(face(13)),
                                               {value.left() - box.left() - 10, box.width() - 12}, 4)) {
        paint::text(p, {box.left() + 6, y}, Qt::AlignLeft, line, 13, t.ink);
        y += 15;
    }
    const double head_room = y - 5 - box.top(); // under it the bars
    const double tall_room = box.height() - head_room - 12,
                 zero = box.top() + head_room + (at_one_height_ ? tall_room - 4 : tall_room / 2),
                 room = at_one_height_ ? tall_room - 18 : tall_room / 2 - 12;
    const double each = box.width() / 5.2;
    p.setPen(QPen(t.ink, 1));
    p.drawLine(QPointF(box.left() + 8, zero), QPointF(box.right() - 8, zero));
    const auto columns = columns_of(state);
    for (std::size_t w = 0; w < 4; ++w) {
        const Column& c = columns[w];
        const double x = box.left() + each * (0.5 + 1.0 * static_cast<double>(w) + (w < 2 ? 0 : 0.4)),
                     tall = room * c.value / most;
        const QRectF bar(x, std::min(zero, zero - tall), 0.72 * each, std::abs(tall));
        p.setPen(Qt::NoPen);
        p.setBrush(axle_colour(end_of(w)));
        p.drawRect(bar);
        if (c.hatched) {
            p.setBrush(QBrush(t.ground, Qt::BDiagPattern));
            p.drawRect(bar);
        }
        const QPointF at(bar.center().x(), tall >= 0 ? bar.top() - 7 : bar.bottom() + 7);
        if (c.hangs) paint::text(p, at - QPointF(0, 14), Qt::AlignHCenter, tr("gap"), 12, t.caution);
        const double wide = QFontMetricsF(face(12)).horizontalAdvance(c.words), most_wide = 1.05 * each;
        paint::text_within(p, at - QPointF(std::min(wide, most_wide) / 2, 0), most_wide, c.words, 12, t.ink);
    }
}

void StatesReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    sums_.ask();
    double most = 1e-3;
    for (std::size_t i = 0; i < sums_.all().size(); ++i)
        for (const Column& c : columns_of(i)) most = std::max(most, std::abs(c.value));
    for (std::size_t i = 0; i < sums_.all().size(); ++i) paint_card(p, i, most);
}

void StatesReading::mousePressEvent(QMouseEvent* event) {
    for (std::size_t i = 0; i < sums_.all().size(); ++i)
        if (card(i).contains(event->position())) sums_.choose(i);
}

void StatesReading::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Delete) return sums_.leave_out();
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
                tr("across: lean, °/g · up: whole travel, %1").arg(qs(unit.symbol)), 13, t.soft);
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
