#include "app/balance/ride_reading.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double hops = 1.0 / 3; // of the load: beyond that spread a wheel is off the ground at times

QString in_g(double a) { return qs(units::fixed(a / units::g, 3)) + " g"; }
} // namespace

RideReading::RideReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("ride reading");
    setAccessibleName(tr("What the ground does to people and wheels, and how the car lets go"));
    connect(&sums, &BalanceSums::changed, this, qOverload<>(&QWidget::update));
}

/// Two lines from still to very rough, where this car stands on them, and Fitted.
void RideReading::paint_comfort(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const balance::Ride &now = sums_.now()->ride, *was = sums_.fitted() ? &sums_.fitted()->ride : nullptr;
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("What people feel"), 14, t.ink, true);
    // The standard's likely reactions (ISO 2631-1, annex C), on a scale of logarithms.
    struct Zone {
        double from, to;
        QString words;
    };
    const Zone zones[] = {{0.1, 0.315, tr("calm")},
                          {0.315, 0.63, tr("slight")},
                          {0.63, 1.25, tr("rough")},
                          {1.25, 2.5, tr("harsh")},
                          {2.5, 5, tr("severe")}};
    const auto across = [&](double a) {
        return room.left() + room.width() * std::log(std::clamp(a, 0.1, 5.0) / 0.1) / std::log(50.0);
    };
    double y = room.top() + 62;
    for (const auto& [what, value, before] : {std::tuple{tr("seat, up and down"), now.seat, was ? was->seat : 0.0},
                                              {tr("head, side to side"), now.head, was ? was->head : 0.0}}) {
        const QRectF number = paint::text(p, {room.right(), y - 26}, Qt::AlignRight,
                                          qs(units::fixed(value, 2)) + " m/s²", 15, t.ink, true);
        paint::text_within(p, {room.left(), y - 26}, number.left() - room.left() - 8, what, 13, t.soft);
        int shade = 0;
        for (const Zone& zone : zones) {
            QColor fill = t.ink;
            fill.setAlpha(14 + 22 * shade++);
            p.fillRect(QRectF(QPointF(across(zone.from), y - 7), QPointF(across(zone.to) - 1.5, y + 7)), fill);
            const double wide = across(zone.to) - across(zone.from);
            if (QFontMetricsF(face(12)).horizontalAdvance(zone.words) < wide + 3)
                paint::text(p, {(across(zone.from) + across(zone.to)) / 2, y + 17}, Qt::AlignHCenter, zone.words, 12,
                            t.soft);
        }
        if (was) {
            p.setPen(QPen(t.soft, 2, Qt::DashLine));
            p.drawLine(QPointF(across(before), y - 11), QPointF(across(before), y + 9));
        }
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        const double x = across(value);
        p.drawPolygon(QPolygonF{{x, y + 3}, {x - 7, y - 10}, {x + 7, y - 10}});
        y += 70;
    }
}

/// The wheels from above: what each carries, and how far that swings.
void RideReading::paint_wheels(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const study::BalanceFigures& f = *sums_.now();
    const car::State still = f.still;
    const units::Unit force = units::shown(units::Quantity::Force, document_.units());
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("How far the wheels' loads swing"), 14, t.ink,
                true);
    const double wide = room.width() / 2, high = (room.height() - 46) / 2;
    for (std::size_t w = 0; w < 4; ++w) {
        const double x = room.left() + (w % 2 == 0 ? 0 : wide), y = room.top() + 30 + (w < 2 ? 0 : high);
        const double share = swing(w);
        const double full = wide - 26, middle = full / 2, swing = std::min(1.0, share) * middle;
        p.setPen(Qt::NoPen);
        p.setBrush(t.panel);
        p.drawRoundedRect(QRectF(x, y + 30, full, 14), 3, 3);
        p.setBrush(axle_colour(end_of(w)));
        p.drawRoundedRect(QRectF(x + middle - swing, y + 30, 2 * swing, 14), 3, 3);
        p.setPen(QPen(t.ink, 2));
        p.drawLine(QPointF(x + middle, y + 28), QPointF(x + middle, y + 46));
        const bool leaves = share > hops;
        paint::text_within(p, {x, y + 2}, full, tr(car::wheel_names[w]), 12, t.soft);
        paint::text(p, {x, y + 18}, Qt::AlignLeft, tr("± %1 %").arg(std::lround(100 * share)), 14,
                    leaves ? t.caution : t.ink, true);
        paint::text_within(p, {x, y + 56}, full,
                           leaves ? tr("at times in the air")
                                  : tr("%1 of %2 %3")
                                        .arg(qs(units::fixed(f.ride.load[w] / force.factor, 0)),
                                             qs(units::fixed(still.wheels[w].load / force.factor, 0)),
                                             QString::fromUtf8(force.symbol.data())),
                           12, leaves ? t.caution : t.soft);
    }
}

/// The same in two lines.
void RideReading::paint_swings(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    double y = room.top();
    for (const End end : both_ends) {
        const double left = swing(wheel_at(end, 0)), right = swing(wheel_at(end, 1));
        const QRectF number = paint::text(p, {room.right(), y}, Qt::AlignRight,
                                          tr("± %1 · %2 %").arg(std::lround(100 * left)).arg(std::lround(100 * right)),
                                          14, std::max(left, right) > hops ? t.caution : t.ink, true);
        paint::text_within(p, {room.left(), y}, number.left() - room.left() - 6,
                           end == End::Front ? tr("front wheels' loads") : tr("rear wheels' loads"), 12, t.soft);
        y += 20;
    }
}

double RideReading::swing(std::size_t wheel) const {
    const study::BalanceFigures& f = *sums_.now();
    return f.ride.load[wheel] / std::max(1.0, f.still.wheels[wheel].load);
}

/// What roughness costs at the limit, and how it goes over it.
void RideReading::paint_edge(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const study::BalanceFigures &f = *sums_.now(), *was = sums_.fitted();
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("Over the limit"), 14, t.ink, true);
    double y = room.top() + 32;
    const auto row = [&](const QString& what, const auto& value, bool bad = false) {
        const QRectF before =
            paint::text(p, {room.right(), y}, Qt::AlignRight, was ? value(*was) : QString(), 12, t.soft);
        const double right = was ? room.right() - std::max(60.0, before.width() + 10) : room.right();
        const QRectF now = paint::text(p, {right, y}, Qt::AlignRight, value(f), 13, bad ? t.caution : t.ink, true);
        paint::text_within(p, {room.left(), y}, now.left() - room.left() - 6, what, 12, t.soft);
        y += 19;
    };
    const auto none = [] { return QString("–"); };
    using Figures = study::BalanceFigures;
    const auto told = [&](const QString& what, auto&& text, bool bad = false) {
        row(
            what, [&](const Figures& of) { return of.letting_go ? text(*of.letting_go) : none(); }, bad);
    };
    const auto degrees = [](double a) { return qs(units::fixed(a / units::deg, 1)) + "°"; };
    if (was) paint::text(p, {room.right(), room.top() + 8}, Qt::AlignRight, tr("Fitted"), 12, t.soft);
    row(tr("it holds"), [](const Figures& of) { return in_g(of.limit().lateral); });
    row(tr("on a plane"), [](const Figures& of) { return in_g(of.on_plane); });
    const auto& go = f.letting_go;
    told(
        tr("lets go"), [](const balance::LettingGo& l) { return l.sudden() ? tr("suddenly") : tr("gently"); },
        go && go->sudden());
    told(tr("last tenth: steering"), [&](const balance::LettingGo& l) { return degrees(l.steer); });
    told(tr("last tenth: slide"), [&](const balance::LettingGo& l) { return degrees(l.slide); });
    told(tr("last tenth: lean"), [&](const balance::LettingGo& l) { return degrees(l.lean); });
    told(tr("beyond it, an error"), [](const balance::LettingGo& l) {
        return l.growth > 0.01 ? tr("doubles in %1 s").arg(qs(units::fixed(std::log(2.0) / l.growth, 1)))
                               : tr("dies away");
    });
    const auto after = [](const std::optional<double>& s) {
        return s ? tr("in %1 s").arg(qs(units::fixed(*s, 1))) : tr("not in 4 s");
    };
    told(
        tr("steering eased: back"), [&](const balance::LettingGo& l) { return after(l.back); }, go && !go->back);
    told(
        tr("throttle lifted"),
        [&](const balance::LettingGo& l) {
            return l.back_lifted ? after(l.back_lifted) : l.spins_lifted ? tr("turns round") : tr("ploughs on");
        },
        go && go->spins_lifted);
    const balance::Road& road = f.model.road;
    const QString speed = qs(units::text(road.speed, units::Quantity::Speed, document_.units(), 0));
    bool leaves = false;
    for (std::size_t w = 0; w < 4; ++w) leaves = leaves || swing(w) > hops;
    paint::text_within(p, {room.left(), y + 6}, room.width(),
                       leaves         ? tr("wheels hop at %1: felt less than told").arg(speed)
                       : road.plane() ? tr("ride on a good road at %1").arg(speed)
                                      : tr("at %1, as the ground has it").arg(speed),
                       12, leaves ? t.caution : t.soft);
}

void RideReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    sums_.ask();
    if (!sums_.now()) {
        paint::text(p, {20, 18}, Qt::AlignLeft, tr("Being worked out …"), 14, theme().soft);
        return;
    }
    const double gap = 26, high = height() - 16;
    const bool narrow = width() < 700; // the wheels then stand as lines under what people feel
    const double whole = width() - 40 - (narrow ? 1 : 2) * gap;
    double x = 20;
    const auto room = [&](double share) {
        const QRectF out(x, 8, share * whole, high);
        x += out.width() + gap;
        return out;
    };
    const QRectF first = room(narrow ? 0.45 : 0.29);
    paint_comfort(p, first);
    if (narrow)
        paint_swings(p, first.adjusted(0, 178, 0, 0));
    else
        paint_wheels(p, room(0.34));
    paint_edge(p, room(narrow ? 0.55 : 0.37));
}

} // namespace dervish::app
