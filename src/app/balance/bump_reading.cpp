#include "app/balance/bump_reading.h"

#include "app/balance/manoeuvre_page.h"
#include "app/paint/axes.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/say/difference_words.h"

#include <QPainter>
#include <algorithm>

namespace dervish::app {

BumpReading::BumpReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("bump reading");
    setAccessibleName(tr("One wheel over a bump, and a kerb that rocks the car"));
    setMinimumHeight(216);
    follow(this, sums);
    connect(&sums, &BalanceSums::changed, this, [this] {
        if (!sums_.now()) return;
        QStringList told;
        for (const End end : both_ends)
            told << tr("%1: one wheel alone feels %2, × %3 of both together")
                        .arg(tr(name_of(end)),
                             qs(units::text(sums_.now()->bump[end].one_wheel_rate, units::Quantity::Rate,
                                            document_.units())),
                             qs(units::fixed(sums_.now()->bump[end].harshness, 2)));
        if (const auto& rocks = sums_.rocking(false))
            told << tr("a kerb tosses heads by %1 m/s²").arg(qs(units::fixed(rocks->now, 1)));
        setAccessibleDescription(told.join("; "));
    });
}

void BumpReading::mark(double time) {
    marked_ = time;
    update();
}

void BumpReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    sums_.ask();
    if (!sums_.now()) return paint_waiting(p);
    double most = 0;
    for (const study::BalanceFigures* f : {sums_.now(), sums_.fitted()})
        if (f)
            for (const End end : both_ends) most = std::max(most, f->bump[end].one_wheel_rate);
    const double split = 0.5 * width(), high = (height() - 8.0) / 2;
    for (const End end : both_ends)
        paint_wheel(p, QRectF(20, 4 + (end == End::Front ? 0 : high), split - 44, high), end, most);
    paint_kerb(p, QRectF(split, 4, width() - split - 20, height() - 8.0));
}

void BumpReading::paint_wheel(QPainter& p, const QRectF& room, End end, double most) const {
    const Theme& t = theme();
    const balance::Bump& now = sums_.now()->bump[end];
    const balance::Bump* was = sums_.fitted() ? &sums_.fitted()->bump[end] : nullptr;
    const QColor hue = axle_colour(end);
    const auto sure_of = sums_.steady_change();
    const QString is = "× " + qs(units::fixed(now.harshness, 2)),
                  fitted = was ? tr(" (Fitted %1)").arg(qs(units::fixed(was->harshness, 2))) : QString();
    QString change;
    if (was && !sure_of.empty()) {
        const sure::Change& c = sure_of[sure::SteadyFrontBump + index(end)];
        change = tr(", %1: %2").arg(change_words(c, 1, 2), qs(say::sure_words(c)));
    }
    // As much of it as there is room for.
    const bool front = end == End::Front;
    const QString full = front ? tr("Front: one wheel alone feels") : tr("Rear: one wheel alone feels"),
                  brief = front ? tr("Front, one wheel") : tr("Rear, one wheel");
    const std::pair<QString, QString> choices[] = {{full, is + fitted + change},
                                                   {brief, is + fitted + change},
                                                   {brief, is + change},
                                                   {brief, is + fitted},
                                                   {brief, is}};
    const auto* chosen = std::ranges::find_if(choices, [&](const auto& c) {
        return paint::width_of(c.first, 14, true) + 10 + paint::width_of(c.second, 14, true) <= room.width();
    });
    if (chosen == std::end(choices)) --chosen;
    const QRectF title = paint::text(p, {room.left(), room.top() + 10}, Qt::AlignLeft, chosen->first, 14, hue, true);
    paint::text_within(p, {title.right() + 10, room.top() + 10}, room.right() - title.right() - 10, chosen->second, 14,
                       now.harshness > 1.8 ? t.caution : t.ink, true);
    const double names = 88, figures = 84, per = (room.width() - names - figures) / most;
    double y = room.top() + 34;
    const auto bar = [&](const QString& name, double rate, double before, double springs) {
        paint::text_within(p, {room.left(), y}, names - 6, name, 13, t.soft);
        const double left = room.left() + names;
        p.fillRect(QRectF(left, y - 7, per * springs, 14), hue);
        if (rate > springs) { // what the bar and the bushes add
            p.fillRect(QRectF(left + per * springs, y - 7, per * (rate - springs), 14), QBrush(hue, Qt::BDiagPattern));
            p.setPen(QPen(hue, 1));
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(left + per * springs, y - 7, per * (rate - springs), 14));
        }
        if (was) {
            p.setPen(paint::fitted_pen());
            p.drawLine(QPointF(left + per * before, y - 10), QPointF(left + per * before, y + 10));
        }
        paint::text(p, {room.right(), y}, Qt::AlignRight,
                    qs(units::text(rate, units::Quantity::Rate, document_.units())), 13, t.ink, true);
        y += 24;
    };
    bar(tr("both wheels"), now.wheel_rate, was ? was->wheel_rate : 0, now.wheel_rate);
    bar(tr("one wheel"), now.one_wheel_rate, was ? was->one_wheel_rate : 0,
        std::min(now.wheel_rate, now.one_wheel_rate));
    paint::text_within(
        p, {room.left() + names, y}, room.width() - names,
        tr("ride %1 Hz, one wheel %2 Hz").arg(qs(units::fixed(now.ride, 2)), qs(units::fixed(now.one_wheel, 2))), 13,
        t.soft);
}

void BumpReading::paint_kerb(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const auto system = document_.units();
    paint::text_within(
        p, room.topLeft() + QPointF(0, 10), room.width(),
        tr("One side over a kerb of %1 at %2")
            .arg(qs(units::text(study::rocking_kerb(sums_.now()->model.car.front.track), units::Quantity::Length,
                                system, system == units::System::Metric ? 0 : 1)),
                 qs(units::text(sums_.now()->model.road.speed, units::Quantity::Speed, system, 0))),
        14, t.ink, true);
    const auto &now = sums_.rocking(false), &was = sums_.rocking(true);
    if (!now) {
        paint::text(p, room.topLeft() + QPointF(0, 34), Qt::AlignLeft, tr("Being worked out …"), 13, t.soft);
        return;
    }
    paint_moments(
        p, QRectF(room.left() + 30, room.top() + 44, room.width() - 34, room.height() - 130),
        width() < 700 ? tr("heads tossed, m/s² · Space plays it")
                      : tr("heads tossed sideways, m/s² · Space plays it · dashed: fitted"),
        1, [](const balance::Moment& m) { return m.head; }, now->moments, was ? &was->moments : nullptr, marked_);
    // With each bar and without.
    double most = std::max(now->now, was ? was->now : 0);
    for (const End end : both_ends) most = std::max(most, now->without[end]);
    const double names = 136, left = room.left() + names, per = (room.width() - names - 40) / most;
    double y = room.bottom() - 60;
    const auto bar = [&](const QString& name, double head, const std::optional<double>& before, const QColor& hue) {
        paint::text_within(p, {room.left(), y}, names - 6, name, 13, t.soft);
        p.fillRect(QRectF(left, y - 6, per * head, 12), hue);
        if (before) {
            p.setPen(paint::fitted_pen());
            p.drawLine(QPointF(left + per * *before, y - 9), QPointF(left + per * *before, y + 9));
        }
        paint::text(p, {room.right(), y}, Qt::AlignRight, qs(units::fixed(head, 1)), 13, t.ink, true);
        y += 21;
    };
    bar(tr("most, as it is"), now->now, was ? std::optional(was->now) : std::nullopt, t.ink);
    for (const End end : both_ends)
        if (const job::AxleSetup& a = document_.looked_setup()[end]; a.fitted && a.connected)
            bar(end == End::Front ? tr("without the front bar") : tr("without the rear bar"), now->without[end],
                was ? std::optional(was->without[end]) : std::nullopt, axle_colour(end));
}

} // namespace dervish::app
