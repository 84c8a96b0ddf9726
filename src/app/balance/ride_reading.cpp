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
    : QWidget(parent), document_(document), sums_(sums), edge_([this] { update(); }) {
    setObjectName("ride reading");
    setAccessibleName(tr("What the ground does to people and wheels, and how the car lets go"));
    connect(&sums, &BalanceSums::changed, this, qOverload<>(&QWidget::update));
}

void RideReading::work_out() {
    sums_.ask();
    if (!sums_.now() || std::exchange(drawn_, sums_.edition()) == sums_.edition()) return;
    const bool trial = document_.look() == Look::Trial;
    edge_.start([now = document_.computed(),
                 fitted = trial ? std::optional(document_.computed(Look::Fitted)) : std::nullopt,
                 ground = sums_.ground(), edition = drawn_](const auto& cancelled) {
        const auto of = [&](const Result& car) {
            return sure::goes_over(car.vehicle(), car.setup(), ground, sure::draws_for_shares,
                                   [&](int) { return !cancelled(); });
        };
        return Drawn{edition, of(now), fitted ? std::optional(of(*fitted)) : std::nullopt};
    });
}

void RideReading::finish() {
    sums_.finish();
    work_out();
    edge_.finish();
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
    double y = room.top() + 56;
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
            if (QFontMetricsF(face(13)).horizontalAdvance(zone.words) < wide + 3)
                paint::text(p, {(across(zone.from) + across(zone.to)) / 2, y + 17}, Qt::AlignHCenter, zone.words, 13,
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
        y += 64;
    }
}

/// At which frequencies it comes, each of its own whole; Fitted dashed.
void RideReading::paint_tones(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    using Tone = balance::Shaken::Tone;
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("How fast it shakes"), 14, t.ink, true);
    const auto share = [](const std::vector<Tone>& tones, auto of) {
        double whole = 0;
        for (const Tone& tone : tones) whole += of(tone);
        std::vector<QPointF> out;
        for (const Tone& tone : tones) out.emplace_back(std::log(tone.frequency), whole > 0 ? of(tone) / whole : 0);
        return out;
    };
    const auto seat = [](const Tone& tone) { return tone.seat; };
    const auto head = [](const Tone& tone) { return tone.head; };
    const auto load = [](const Tone& tone) { return tone.load.front + tone.load.rear; };
    const std::vector<Tone>& now = sums_.now()->tones;
    struct Line {
        QString words;
        QColor colour;
        std::vector<QPointF> now, was;
        double row;
    };
    std::vector<Line> lines{{tr("wheels' loads"), t.soft, share(now, load), {}, 0},
                            {tr("seat, up and down"), t.ink, share(now, seat), {}, 1},
                            {tr("head, side to side"), t.ink, share(now, head), {}, 2}};
    if (sums_.fitted()) {
        const std::vector<Tone>& was = sums_.fitted()->tones;
        lines[0].was = share(was, load);
        lines[1].was = share(was, seat);
        lines[2].was = share(was, head);
    }
    double most = 0;
    for (const Line& line : lines)
        for (const auto* points : {&line.now, &line.was})
            for (const QPointF& point : *points) most = std::max(most, point.y());
    // Three ridges one under the other, each with its own ground line.
    const double high = (room.height() - 24 - 20) / 3;
    const auto x = [&](double log) {
        const double from = std::log(0.5), to = std::log(balance::fastest_shake);
        return room.left() + room.width() * std::clamp((log - from) / (to - from), 0.0, 1.0);
    };
    for (const Line& line : lines) {
        const double ground = room.top() + 24 + (line.row + 1) * high;
        p.setPen(QPen(t.rule, 1));
        p.drawLine(QPointF(room.left(), ground), QPointF(room.right(), ground));
        for (const auto* points : {&line.was, &line.now}) {
            QPolygonF out;
            for (const QPointF& point : *points)
                if (point.x() > std::log(0.5)) out << QPointF(x(point.x()), ground - (high - 4) * point.y() / most);
            const bool fitted = points == &line.was;
            p.setPen(QPen(fitted ? t.soft : line.colour, fitted ? 1.2 : 2, fitted ? Qt::DashLine : Qt::SolidLine));
            p.setBrush(Qt::NoBrush);
            p.drawPolyline(out);
        }
        // Where the ridge is low: heads are tossed slowly, wheels hop fast.
        const bool right = line.row == 2;
        paint::text(p, {right ? room.right() - 2 : room.left() + 2, ground - high + 12},
                    right ? Qt::AlignRight : Qt::AlignLeft, line.words, 13, line.colour);
    }
    for (const double f : {0.5, 1.0, 2.0, 5.0, 10.0, 20.0}) {
        p.setPen(QPen(t.rule, 1, Qt::DotLine));
        p.drawLine(QPointF(x(std::log(f)), room.top() + 24), QPointF(x(std::log(f)), room.bottom() - 20));
        const QString words = f == 20 ? tr("20 Hz") : qs(units::trimmed(f, 1));
        paint::text(p, {x(std::log(f)), room.bottom() - 9}, f == 0.5 ? Qt::AlignLeft : Qt::AlignHCenter, words, 13,
                    t.soft);
    }
}

/// How far the wheels' loads swing, in two lines, and what a slow road does.
void RideReading::paint_swings(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    double y = room.top();
    for (const End end : both_ends) {
        const double left = swing(wheel_at(end, 0)), right = swing(wheel_at(end, 1));
        const QRectF number = paint::text(p, {room.right(), y}, Qt::AlignRight,
                                          tr("± %1 · %2 %").arg(std::lround(100 * left)).arg(std::lround(100 * right)),
                                          14, std::max(left, right) > hops ? t.caution : t.ink, true);
        paint::text_within(p, {room.left(), y}, number.left() - room.left() - 6,
                           end == End::Front ? tr("front wheels' loads") : tr("rear wheels' loads"), 13, t.soft);
        y += 19;
    }
    const balance::Shaken::Sickness& sick = sums_.now()->sickness;
    const double sicken = balance::sick_in_an_hour(sick.heave);
    const QRectF number =
        paint::text(p, {room.right(), y}, Qt::AlignRight,
                    sicken < 1 ? tr("under 1 of 100") : tr("about %1 of 100").arg(std::lround(sicken)), 14,
                    sicken > 5 ? t.caution : t.ink, true);
    paint::text_within(p, {room.left(), y}, number.left() - room.left() - 6, tr("sick in an hour"), 13, t.soft);
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
            paint::text(p, {room.right(), y}, Qt::AlignRight, was ? value(*was) : QString(), 13, t.soft);
        const double right = was ? room.right() - std::max(60.0, before.width() + 10) : room.right();
        const QRectF now = paint::text(p, {right, y}, Qt::AlignRight, value(f), 13, bad ? t.caution : t.ink, true);
        paint::text_within(p, {room.left(), y}, now.left() - room.left() - 6, what, 13, t.soft);
        y += 18;
    };
    const auto none = [] { return QString("–"); };
    using Figures = study::BalanceFigures;
    const auto told = [&](const QString& what, auto&& text, bool bad = false) {
        row(
            what, [&](const Figures& of) { return of.letting_go ? text(*of.letting_go) : none(); }, bad);
    };
    const auto degrees = [](double a) { return qs(units::fixed(a / units::deg, 1)) + "°"; };
    if (was) paint::text(p, {room.right(), room.top() + 8}, Qt::AlignRight, tr("Fitted"), 13, t.soft);
    row(tr("it holds"), [](const Figures& of) { return in_g(of.limit().lateral); });
    row(tr("on a plane"), [](const Figures& of) { return in_g(of.on_plane); });
    const auto& go = f.letting_go;
    const Drawn* drawn = edge_.value() && edge_.value()->edition == sums_.edition() ? edge_.value() : nullptr;
    const auto share_of = [&](const Figures& of) {
        return !drawn || (&of != &f && !drawn->fitted) ? std::nan("")
                                                       : (&of == &f ? drawn->now : *drawn->fitted).sudden;
    };
    row(
        tr("lets go"),
        [&](const Figures& of) {
            if (!of.letting_go) return none();
            const double share = share_of(of);
            if (std::isfinite(share) && sure::how_sure_by(std::max(share, 1 - share)) == sure::Sure::CannotSay)
                return tr("either way");
            return of.letting_go->sudden() ? tr("suddenly") : tr("gently");
        },
        go && go->sudden());
    row(
        tr("suddenly, in 100 such cars"),
        [&](const Figures& of) {
            const double share = share_of(of);
            return std::isfinite(share) ? QString::number(std::lround(100 * share)) : none();
        },
        share_of(f) > 0.05);
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
                       13, leaves ? t.caution : t.soft);
}

void RideReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    work_out();
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
    paint_swings(p, first.adjusted(0, 163, 0, 0));
    if (!narrow) paint_tones(p, room(0.34));
    paint_edge(p, room(narrow ? 0.55 : 0.37));
}

} // namespace dervish::app
