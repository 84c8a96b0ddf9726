#include "app/flex/flex_drawing.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/say/flex_words.h"

#include <Eigen/Geometry>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
using Eigen::Vector3d;
constexpr double elevation = 0.42; // rad that one looks down by
const QColor rubber("#2A3542");
} // namespace

FlexDrawing::FlexDrawing(Document& document, FlexSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("flex drawing");
    setMinimumHeight(250);
    setAccessibleName(tr("The car on its ramps, to scale"));
    connect(&sums_, &FlexSums::changed, this, &FlexDrawing::take_up_anew);
    new Follow(document_, this, [this] { take_up_anew(); });
}

void FlexDrawing::set_reach(double reach) {
    reach_ = reach;
    take_up_anew();
}

void FlexDrawing::showEvent(QShowEvent*) { take_up(); }

void FlexDrawing::take_up_anew() {
    stale_ = true;
    if (isVisible()) take_up();
    update();
}

void FlexDrawing::take_up() {
    sums_.ask();
    if (!std::exchange(stale_, false)) return;
    car_.reset();
    const study::FlexResult* shown = sums_.shown();
    if (!shown) return;
    car_ = shown->car;
    ground_ = flex::situation(sums_.protocol(), reach_);
    state_ = flex::at_reach(*car_, sums_.protocol(), reach_);
    scene_ = flex::scene(*car_, state_);
    ghost_.reset();
    if (const auto& fitted = sums_.fitted()) {
        const car::State at = flex::at_reach(fitted->car, sums_.protocol(), reach_);
        if (at.converged) ghost_ = flex::scene(fitted->car, at);
    }
    corner_ = study::corners(shown->of.vehicle, shown->of.setup, *car_, state_, ground_);
    QStringList words;
    for (std::size_t w = 0; w < 4; ++w)
        words << tr("%1: %2, %3")
                     .arg(tr(car::wheel_names[w]),
                          qs(units::text(corner_[w].load, units::Quantity::Force, document_.units(), 0)),
                          qs(corner_[w].first().what));
    setAccessibleDescription(words.join("; "));
    fit();
}

const PerWheel<study::Corner>& FlexDrawing::corner() {
    take_up();
    return corner_;
}

void FlexDrawing::resizeEvent(QResizeEvent*) { fit(); }

void FlexDrawing::fit() {
    if (!car_) return;
    // Level and lifted alike, so that the paper does not move while it is scrubbed.
    const double high = 2.6 * car_->front.unsprung_height,
                 wide = std::max(car_->front.track, car_->rear.track) / 2 + 0.12;
    scale_ = 1;
    origin_ = {0, 0};
    QPolygonF corners;
    for (const double x : {0.5, -car_->wheelbase - 0.5})
        for (const double y : {wide, -wide})
            for (const double z : {-0.05, high}) corners << at({x, y, z});
    const QRectF box = corners.boundingRect(), room(24, 92, width() - 218.0, height() - 166.0);
    const double scale = std::max(10.0, std::min(room.width() / box.width(), room.height() / box.height()));
    origin_ = room.center() - scale * box.center();
    scale_ = scale;
}

QPointF FlexDrawing::at(const Vector3d& point) const {
    // A slope tilts the ground in the picture, so that down is down.
    const double b = ground_.side_slope, y = point.y() * std::cos(b) - point.z() * std::sin(b),
                 z = point.z() * std::cos(b) + point.y() * std::sin(b);
    const double right = point.x() * std::cos(azimuth_) + y * std::sin(azimuth_),
                 back = -point.x() * std::sin(azimuth_) + y * std::cos(azimuth_);
    return origin_ + scale_ * QPointF(right, -(z * std::cos(elevation) + back * std::sin(elevation)));
}

double FlexDrawing::depth(const Vector3d& point) const {
    return -point.x() * std::sin(azimuth_) + point.y() * std::cos(azimuth_);
}

void FlexDrawing::paint_ground(QPainter& p) {
    const double wide = std::max(car_->front.track, car_->rear.track) / 2 + 0.45, l = car_->wheelbase;
    p.setPen(QPen(theme().rule, 1));
    p.setBrush(theme().panel);
    p.drawPolygon(
        QPolygonF{at({0.75, wide, 0}), at({0.75, -wide, 0}), at({-l - 0.75, -wide, 0}), at({-l - 0.75, wide, 0})});
}

void FlexDrawing::paint_block(QPainter& p, std::size_t w) {
    const double h = ground_.wheel_height[w];
    if (std::abs(h) < 1e-3) return;
    const double x = w < 2 ? 0 : -car_->wheelbase;
    const double y = (w % 2 == 0 ? 1 : -1) * (w < 2 ? car_->front : car_->rear).track / 2, half = 0.3, wide = 0.17;
    const QColor top("#DDD2BA"), near("#CDBF9F"), dark("#BDAE8C");
    p.setPen(QPen(theme().ink, 1));
    const auto quad = [&](const QColor& c, std::initializer_list<Vector3d> corners) {
        QPolygonF out;
        for (const Vector3d& v : corners) out << at(v);
        p.setBrush(c);
        p.drawPolygon(out);
    };
    if (h < 0) { // a hole
        quad(dark,
             {{x + half, y + wide, 0}, {x + half, y - wide, 0}, {x - half, y - wide, 0}, {x - half, y + wide, 0}});
        quad(near,
             {{x + half, y + wide, h}, {x + half, y - wide, h}, {x - half, y - wide, h}, {x - half, y + wide, h}});
        return;
    }
    const bool ramp = sums_.protocol().kind == flex::Kind::Ramp;
    const double foot = ramp ? x - half - h / std::tan(sums_.protocol().angle) : x - half;
    // The faces that look this way: the nearer side and end.
    const double side = depth({0, 1, 0}) < depth({0, -1, 0}) ? y + wide : y - wide;
    const double end = depth({1, 0, 0}) < depth({-1, 0, 0}) ? x + half : foot;
    quad(near, {{x + half, side, 0}, {x + half, side, h}, {x - half, side, h}, {foot, side, 0}});
    if (end == x + half || !ramp)
        quad(dark, {{end, y + wide, 0}, {end, y + wide, h}, {end, y - wide, h}, {end, y - wide, 0}});
    quad(top, {{x + half, y + wide, h}, {x + half, y - wide, h}, {x - half, y - wide, h}, {x - half, y + wide, h}});
    if (ramp) quad(top, {{x - half, y + wide, h}, {x - half, y - wide, h}, {foot, y - wide, 0}, {foot, y + wide, 0}});
}

void FlexDrawing::paint_body(QPainter& p) {
    const double l = car_->wheelbase, high = 2.1 * car_->front.unsprung_height;
    const double half = 0.27 * (car_->front.track + car_->rear.track) / 2;
    const auto on = [&](double x, double y) { return at(flex::on_body(*car_, state_, {x, y, high})); };
    p.setPen(QPen(theme().ink, 4, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    for (const double side : {half, -half}) {
        QPolygonF rail;
        for (int i = 0; i <= 8; ++i) rail << on(0.4 - (l + 0.8) * i / 8, side);
        p.drawPolyline(rail);
    }
    for (const double x : {0.4, -0.3 * l, -0.65 * l, -l - 0.4}) p.drawLine(on(x, half), on(x, -half));
    for (const car::PointMass& load : car_->loads) {
        const QPointF place = at(flex::on_body(*car_, state_, {load.x, load.y, load.z}));
        if (place.y() > 70) paint::cross(p, place, 4, theme().soft, false); // not under the controls
    }
}

void FlexDrawing::paint_axle(QPainter& p, std::size_t end) {
    const QColor hue = axle_colour(static_cast<End>(end));
    const bool solid = (*car_)[static_cast<End>(end)].kind == AxleKind::Solid;
    p.setBrush(Qt::NoBrush);
    for (std::size_t side = 0; side < 2; ++side) {
        p.setPen(QPen(hue, solid ? 7 : 4, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(scene_.inner[end][side]), at(scene_.wheel[2 * end + side].centre));
        // The spring as a line of turns between its seat and its foot; loose, it stands on its foot alone.
        const QPointF foot = at(scene_.foot[end][side]), seat = at(scene_.seat[end][side]);
        const QPointF along = seat - foot, across(-along.y() * 0.12, along.x() * 0.12);
        QPolygonF turns{foot};
        for (int i = 1; i < 8; ++i) turns << foot + along * (i / 8.0) + across * (i % 2 == 0 ? 1 : -1);
        turns << seat;
        p.setPen(QPen(theme().soft, 1.6));
        p.drawPolyline(turns);
    }
    if (solid) {
        p.setPen(Qt::NoPen);
        p.setBrush(hue);
        p.drawEllipse(at(scene_.inner[end][0]), 0.09 * scale_, 0.09 * scale_);
    }
    if (const auto& bar = scene_.bar[end]) {
        p.setPen(QPen(hue, 3, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.setBrush(Qt::NoBrush);
        p.drawPolyline(QPolygonF{at(bar->eye[0]), at(bar->mount[0]), at(bar->mount[1]), at(bar->eye[1])});
        p.setPen(QPen(hue, 2));
        for (std::size_t side = 0; side < 2; ++side) p.drawLine(at(bar->eye[side]), at(bar->pickup[side]));
        p.setBrush(theme().ground);
        for (std::size_t side = 0; side < 2; ++side) p.drawEllipse(at(bar->eye[side]), 3, 3);
    }
}

QPolygonF FlexDrawing::disc(const flex::WheelPlace& wheel, double offset, double radius) const {
    const Vector3d forward = Vector3d::UnitX(), out = forward.cross(wheel.up); // to the right
    const double sign = depth(out) > 0 ? -1 : 1;                               // the face that looks this way
    QPolygonF ring;
    for (int i = 0; i < 40; ++i) {
        const double a = 2 * units::pi * i / 40;
        ring << at(wheel.centre + sign * offset * out + radius * (std::cos(a) * forward + std::sin(a) * wheel.up));
    }
    return ring;
}

void FlexDrawing::paint_wheel(QPainter& p, std::size_t w) {
    const flex::WheelPlace& wheel = scene_.wheel[w];
    p.setPen(Qt::NoPen);
    p.setBrush(rubber);
    for (double offset = -0.1; offset <= 0.1; offset += 0.02) p.drawPolygon(disc(wheel, offset, wheel.radius));
    p.setBrush(theme().panel);
    p.drawPolygon(disc(wheel, 0.1, 0.55 * wheel.radius));
    p.setBrush(axle_colour(end_of(w)));
    p.drawPolygon(disc(wheel, 0.1, 0.16 * wheel.radius));
}

void FlexDrawing::paint_ghost(QPainter& p) {
    if (!ghost_) return;
    p.setPen(QPen(QColor("#8793A0"), 1.2, Qt::DashLine));
    p.setBrush(Qt::NoBrush);
    for (const flex::WheelPlace& wheel : ghost_->wheel) p.drawPolygon(disc(wheel, 0.1, wheel.radius));
}

void FlexDrawing::paint_labels(QPainter& p) {
    const auto system = document_.units();
    const auto length = [&](double m) { return qs(units::text(std::abs(m), units::Quantity::Length, system, 0)); };
    std::vector<QRectF> taken;
    for (const std::size_t w : {0u, 1u, 2u, 3u}) {
        const study::Corner& c = corner_[w];
        const study::CornerLimit& first = c.first();
        const bool hangs = c.gap > 0.1 * units::mm; // just light otherwise
        const QString head = hangs ? tr("hangs, %1 under it").arg(length(c.gap))
                                   : qs(units::text(c.load, units::Quantity::Force, system, 0));
        const QString way = (c.travel >= 0 ? tr("up %1") : tr("down %1")).arg(length(c.travel));
        const QString rest = first.left <= 0 ? tr("%1: %2").arg(way, qs(first.what))
                                             : tr("%1, %2 to %3").arg(way, length(first.left), qs(first.what));
        // Outwards of the car: an axle's far wheel's above it, the near one's below.
        const bool far = depth(scene_.wheel[w].centre) > depth(scene_.wheel[w ^ 1u].centre);
        const QPointF hub = at(scene_.wheel[w].centre);
        const double r = scene_.wheel[w].radius * scale_;
        const double long_line = QFontMetricsF(face(13)).horizontalAdvance(rest);
        double x =
            std::clamp(hub.x() + (far ? -0.75 : -0.25) * long_line, 14.0, std::max(14.0, width() - 190.0 - long_line));
        double y = far ? hub.y() - r - 34
                       : hub.y() + r + 16 + scale_ * std::max(0.0, ground_.wheel_height[w]) * std::cos(elevation);
        y = std::clamp(y, 74.0, height() - 82.0); // words stand below
        QRectF box(x, y - 8, long_line, 32);
        const auto free = [&](const QRectF& place) {
            return place.top() >= 62 && place.bottom() <= height() - 56 &&
                   std::ranges::none_of(taken, [&](const QRectF& other) { return other.intersects(place); });
        };
        for (int away = 0; away < 10; ++away) { // the nearest free place, outwards first
            const double by = (away % 2 == 0) == far ? -18.0 * (away / 2 + 1) : 18.0 * (away / 2 + 1);
            if (free(box)) break;
            if (const QRectF other = QRectF(x, y - 8 + by, long_line, 32); free(other)) box = other;
        }
        taken.push_back(box);
        p.setPen(QPen(theme().soft, 1));
        p.drawLine(hub, QPointF(std::clamp(hub.x(), box.left(), box.right()),
                                box.center().y() < hub.y() ? box.bottom() : box.top()));
        paint::text(p, {box.left(), box.top() + 8}, Qt::AlignLeft, head, 13, theme().ink, true);
        paint::text(p, {box.left(), box.top() + 24}, Qt::AlignLeft, rest, 13,
                    first.left <= 0 ? theme().caution : theme().soft);
    }
}

void FlexDrawing::paint_gauges(QPainter& p) {
    const Theme& t = theme();
    const double top = 112, high = std::min(88.0, (height() - top - 60) / 2 - 26), left = width() - 178.0;
    paint::text_within(p, {left, 80}, 168, tr("travel between the stops"), 13, t.soft);
    for (std::size_t w = 0; w < 4; ++w) {
        const study::Corner& c = corner_[w];
        const double x = left + (w % 2 == 0 ? 20 : 100), y = top + (w < 2 ? 0 : high + 46);
        const double span = std::max(1e-3, c.bump + c.droop), zero = y + high * c.bump / span,
                     now = std::clamp(zero - high * c.travel / span, y - 5, y + high + 5);
        p.setPen(QPen(t.ink, 1));
        p.setBrush(t.panel);
        p.drawRect(QRectF(x, y, 14, high));
        p.setPen(Qt::NoPen);
        p.setBrush(axle_colour(end_of(w)));
        p.drawRect(QRectF(x, std::min(zero, now), 14, std::abs(now - zero)));
        const bool ended = c.first().left <= 0;
        p.setPen(QPen(ended ? t.caution : t.ink, ended ? 3 : 2));
        p.drawLine(QPointF(x - 4, now), QPointF(x + 18, now));
        p.setPen(QPen(t.soft, 1));
        p.drawLine(QPointF(x - 3, zero), QPointF(x, zero));
        static const QString names[] = {tr("front left"), tr("front right"), tr("rear left"), tr("rear right")};
        paint::text(p, {x + 7, y - 14}, Qt::AlignHCenter, names[w], 13, t.soft);
        const units::Unit unit = units::shown(units::Quantity::Length, document_.units());
        const double shown = c.travel / unit.factor;
        paint::text(p, {x + 22, std::clamp(now, y + 6, y + high - 6)}, Qt::AlignLeft,
                    (shown > 0 ? "+" : "") +
                        qs(units::fixed(shown, document_.units() == units::System::Metric ? 0 : 1)),
                    13, ended ? t.caution : t.ink, true);
    }
}

void FlexDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    if (!car_) {
        paint::text_within(p, {20, 92}, width() - 40,
                           document_.waiting().isEmpty()
                               ? tr("Being worked out …")
                               : tr("No car to put on ramps until this is put right: %1").arg(document_.waiting()),
                           14, theme().soft);
        return;
    }
    if (!state_.converged) {
        paint::text_within(p, {20, 70}, width() - 40, tr("Here it falls over: scrub back."), 14, theme().caution);
        return;
    }
    paint_ground(p);
    std::array<std::size_t, 4> order{0, 1, 2, 3};
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
        return depth(scene_.wheel[a].centre) > depth(scene_.wheel[b].centre);
    });
    for (const std::size_t w : order) paint_block(p, w);
    // Far wheels, then what is between, then the near ones.
    paint_wheel(p, order[0]);
    paint_wheel(p, order[1]);
    const bool rear_first = order[0] >= 2;
    paint_axle(p, rear_first ? 1 : 0);
    paint_body(p);
    paint_axle(p, rear_first ? 0 : 1);
    paint_wheel(p, order[2]);
    paint_wheel(p, order[3]);
    paint_ghost(p);
    paint_labels(p);
    paint_gauges(p);
    const double lean = (state_.roll[0] + state_.roll[1]) / 2;
    const auto apart = [&](std::size_t left) { return std::abs(corner_[left].travel - corner_[left + 1].travel); };
    const auto length = [&](double m) { return qs(units::text(m, units::Quantity::Length, document_.units(), 0)); };
    const QString totals =
        tr("front %1, rear %2 of travel (%3 % front) · lean %4°, pitch %5°")
            .arg(length(apart(0)), length(apart(2)))
            .arg(std::lround(100 * apart(0) / std::max(1e-9, apart(0) + apart(2))))
            .arg(qs(units::fixed(lean / units::deg, 1)), qs(units::fixed(state_.pitch / units::deg, 1)));
    const QStringList told = paint::in_lines(qs(say::name_of(sums_.shown()->of, document_.units())) + ": " + totals,
                                             QFontMetricsF(face(13)), {(width() - 40.0) / 0.9});
    double y = height() - 32.0 - 16.0 * static_cast<double>(told.size() - 1);
    for (const QString& line : told) {
        paint::text_within(p, {20, y}, width() - 40.0, line, 13, theme().ink);
        y += 16;
    }
    paint::text_within(p, {20, height() - 13.0}, width() - 40.0,
                       tr("to scale · drag to turn · dashed: as fitted on the same ground"), 13, theme().soft);
}

void FlexDrawing::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    turned_from_ = azimuth_;
}

void FlexDrawing::mouseMoveEvent(QMouseEvent* event) {
    if (!(event->buttons() & Qt::LeftButton)) return;
    azimuth_ = turned_from_ - (event->position().x() - pressed_.x()) * 0.008;
    fit();
    update();
}

} // namespace dervish::app
