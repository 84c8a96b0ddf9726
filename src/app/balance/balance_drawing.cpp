#include "app/balance/balance_drawing.h"
#include "core/model/tyres.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/job/usual.h"
#include "core/say/working.h"

#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <algorithm>
#include <cmath>

namespace dervish::app {
BalanceDrawing::BalanceDrawing(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("ground");
    setMinimumHeight(300);
    setMouseTracking(true);
    setAccessibleName(tr("The car from behind in a bend, and its four tyres"));
    new Follow(document_, this, [this] { // while it is seen
        take_up();
        update();
    });
    take_up();
}

void BalanceDrawing::set_turn(double lateral, Ground ground) {
    lateral_ = std::clamp(lateral, 0.0, 1.3 * units::g);
    ground_ = ground;
    take_up();
    update();
}

void BalanceDrawing::show_moment(const std::optional<balance::Moment>& moment, const QString& what) {
    moment_ = moment;
    what_ = what;
    update();
}

void BalanceDrawing::take_up() {
    const Result &now = document_.computed(), &fitted = document_.computed(Look::Fitted);
    model_ = model::to_model(now.vehicle(), now.setup(), now.figures->car, ground_);
    now_ = balance::corner(*model_, lateral_);
    const Result& of = document_.computed();
    none_ = std::isfinite(of.figures->outcomes[study::RollGradient])
                ? QString()
                : qs(say::no_figures(of.vehicle(), *of.figures, document_.units()));
    if (!none_.isEmpty()) none_ = none_[0].toUpper() + none_.mid(1) + ".";
    fitted_.reset();
    if (document_.look() == Look::Trial)
        fitted_ =
            balance::corner(model::to_model(fitted.vehicle(), fitted.setup(), fitted.figures->car, ground_), lateral_);
}

QPointF BalanceDrawing::at(double y, double z) const {
    return origin_ + scale_ * QPointF(-y, -z); // seen from behind: the car's left is to the left
}

/// The body is for orientation; its lean about the roll centre, its mass's height and the axle are the car's.
QPolygonF body_from_behind(const job::Vehicle& v) {
    const double half = v.rear.track.value / 2 - 0.02, roof = 2.7 * v.cg_height.value,
                 sill = 1.1 * v.rear.unsprung_height.value;
    const bool box = roof > 0.62 * v.wheelbase.value; // else its sides fall in towards the roof
    const double side = box ? 0.86 : 0.7, top = box ? 0.7 : 0.56, waist = box ? 0.52 : 0.6;
    return {{half, sill},        {half, waist * roof},        {side * half, 0.97 * roof}, {top * half, roof},
            {-top * half, roof}, {-side * half, 0.97 * roof}, {-half, waist * roof},      {-half, sill}};
}

void BalanceDrawing::paint_body(QPainter& p, double lean, bool ghost) {
    const Theme& t = theme();
    const job::Vehicle& v = document_.computed().vehicle();
    const double half = v.rear.track.value / 2 - 0.02, roof = 2.7 * v.cg_height.value;
    const double pivot = (model_->car.front.roll_centre_height + model_->car.rear.roll_centre_height) / 2;
    p.save();
    p.translate(at(0, pivot));
    p.rotate(lean / units::deg); // right side down, which is to the right here
    p.translate(-at(0, pivot));
    QPolygonF body;
    for (const QPointF& place : body_from_behind(v)) body << at(place.x(), place.y());
    p.setPen(ghost ? QPen(QColor("#8793A0"), 1.2, Qt::DashLine) : QPen(t.ink, 1.8));
    p.setBrush(ghost ? QBrush(Qt::NoBrush) : QBrush(t.panel));
    p.drawPolygon(body);
    if (!ghost) {
        p.setPen(QPen(t.soft, 1));
        p.drawPolygon(QPolygonF{at(0.7 * half, 0.62 * roof), at(0.6 * half, 0.9 * roof), at(-0.6 * half, 0.9 * roof),
                                at(-0.7 * half, 0.62 * roof)});
        for (const job::Load& l : v.loads) {
            if (!job::is_aboard(l, document_.looked_setup())) continue;
            const double side = std::cbrt(l.mass.value / 250);
            p.setPen(QPen(t.ink, 1));
            p.setBrush(t.rule);
            p.drawRect(QRectF(at(l.left.value + side / 2, l.height.value + side / 2), QSizeF(side, side) * scale_));
        }
        const car::Loaded l = car::loaded(model_->car);
        const QPointF c = at(l.y, l.z);
        handle_ = p.transform().map(c);
        paint::cross(p, c, 7, t.ink, true);
    }
    p.restore();
}

void BalanceDrawing::paint_car(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const job::Vehicle& v = document_.computed().vehicle();
    double top = 2.75 * v.cg_height.value;
    for (const job::Load& l : v.loads)
        if (job::is_aboard(l, document_.looked_setup())) top = std::max(top, l.height.value + 0.35);
    const double track = v.rear.track.value, r = v.rear.unsprung_height.value, size = job::size_of(track),
                 wide = 0.11 * size;
    scale_ = std::min(room.height() / (top + 0.05 * size), room.width() / (track + size));
    origin_ = {room.center().x(), room.bottom() - 4};
    p.setPen(QPen(t.ink, 1.4));
    p.drawLine(at(track / 2 + 0.45 * size, 0), at(-track / 2 - 0.45 * size, 0));
    const double lean = moment_ ? moment_->roll : now_->lean();
    if (fitted_ && !moment_ && fitted_->state.converged) paint_body(p, fitted_->lean(), true);
    // Wheels and axle; a lifted wheel hangs clear.
    for (int side = 0; side < 2; ++side) {
        const std::size_t w = 2 + static_cast<std::size_t>(side);
        const double y = side == 0 ? track / 2 : -track / 2, up = moment_ ? 0 : now_->state.wheels[w].gap;
        p.setPen(Qt::NoPen);
        p.setBrush(QColor("#2A3542"));
        p.drawRoundedRect(QRectF(at(y + wide, 2 * r + up), QSizeF(2 * wide, 2 * r) * scale_), 5, 5);
    }
    if (v.rear.kind == AxleKind::Solid) {
        p.setPen(QPen(theme().rear, 5, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(at(track / 2 - wide, r), at(-track / 2 + wide, r));
    }
    paint_body(p, lean, false);
    const double across = moment_ ? moment_->lateral : lateral_;
    // The push outwards, as long as it is strong.
    const double length = 0.5 * size * scale_ * across / units::g * 1.6;
    if (std::abs(length) > 8) {
        const double way = length > 0 ? 1 : -1;
        p.setPen(QPen(t.ink, 2.6));
        p.drawLine(handle_ + QPointF(way * 9, 0), handle_ + QPointF(length, 0));
        p.setBrush(t.ink);
        const QPointF tip = handle_ + QPointF(length + way * 7, 0);
        p.drawPolygon(QPolygonF{tip, tip - QPointF(way * 10, 5), tip - QPointF(way * 10, -5)});
    }
    const double left = room.left() + 2;
    paint::text(p, {left, room.top() + 10}, Qt::AlignLeft,
                tr("lean %1").arg(qs(units::text(lean, units::Quantity::Angle, document_.units(), 1))), 15, t.ink,
                true);
    if (fitted_ && !moment_)
        paint::text(p, {left, room.top() + 30}, Qt::AlignLeft,
                    tr("Fitted %1").arg(qs(units::text(fitted_->lean(), units::Quantity::Angle, document_.units(), 1))),
                    13, t.soft);
    if (moment_)
        paint::text(p, {left, room.top() + 30}, Qt::AlignLeft, tr("%1 s").arg(qs(units::fixed(moment_->time, 2))), 13,
                    t.soft);
}

void BalanceDrawing::paint_patches(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    paint::text(p, {room.left(), room.top() + 4}, Qt::AlignLeft, tr("What each tyre carries, and has spent"), 14, t.ink,
                true);
    paint::text(p, {room.left(), room.top() + 22}, Qt::AlignLeft, tr("area: load · filled: grip used"), 13, t.soft);
    double all = 0;
    PerWheel<double> load{}, used{};
    for (std::size_t w = 0; w < 4; ++w) {
        load[w] = moment_ ? moment_->load[w] : now_->state.wheels[w].load;
        used[w] = moment_ ? moment_->used[w] : now_->used[w];
        all += load[w];
    }
    const double cell = std::min((room.height() - 44) / 2, room.width() / 2);
    for (std::size_t w = 0; w < 4; ++w) {
        const QPointF middle(room.left() + (w % 2 == 0 ? 0.17 : 0.64) * room.width(),
                             room.top() + 42 + (w < 2 ? 0.5 : 1.5) * cell);
        const double share = std::max(0.0, load[w] / all), r = 0.9 * cell * std::sqrt(share) / 1.25;
        const QRectF patch(middle.x() - 0.72 * r, middle.y() - r, 1.44 * r, 2 * r);
        const QColor hue = axle_colour(end_of(w));
        const bool gone = used[w] >= 0.995;
        p.setPen(QPen(gone ? t.caution : hue, gone ? 2.6 : 1.6));
        p.setBrush(t.panel);
        p.drawEllipse(patch);
        if (used[w] > 0 && share > 0) {
            p.save();
            QPainterPath round;
            round.addEllipse(patch);
            p.setClipPath(round);
            p.fillRect(QRectF(patch.left(), patch.bottom() - used[w] * patch.height(), patch.width(), patch.height()),
                       hue);
            p.restore();
            p.setBrush(Qt::NoBrush);
            p.drawEllipse(patch);
        }
        const double x = middle.x() + std::max(0.72 * r, 16.0) + 8;
        if (load[w] <= 0) {
            paint::text(p, {x, middle.y() - 8}, Qt::AlignLeft, tr("in the air"), 13, t.caution, true);
        } else {
            paint::text(
                p, {x, middle.y() - 8}, Qt::AlignLeft,
                qs(units::text(load[w], units::Quantity::Force, document_.units(), units::force_decimals(all / 4))), 13,
                t.ink, true);
            if (used[w] >= 0)
                paint::text(p, {x, middle.y() + 9}, Qt::AlignLeft,
                            gone ? tr("slides") : tr("%1 % used").arg(std::lround(100 * used[w])), 13,
                            gone ? t.caution : t.soft, gone);
        }
        paint::text(p, {x, middle.y() - 26}, Qt::AlignLeft, tr(car::wheel_names[w]), 13, t.soft);
    }
}

void BalanceDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    const Theme& t = theme();
    const QString bend = moment_ && !what_.isEmpty() ? what_
                         : moment_ ? tr("steered at %1 g").arg(qs(units::fixed(moment_->lateral / units::g, 2)))
                                   : tr("left-hand bend at %1 g").arg(qs(units::fixed(lateral_ / units::g, 2)));
    paint::text(p, {20, 62}, Qt::AlignLeft, bend, 17, t.ink, true);
    if (ground_ != Ground::Dry) // above the lean, beside what the tyres carry
        paint::text_within(p, {20, 82}, width() / 2.0 - 30,
                           tr("on %1; the strip at the bottom does not follow it").arg(tr(name_of(ground_))), 13,
                           t.soft);
    if (!now_ || !now_->state.converged || (!now_->holds && now_->need[0] == 0)) {
        paint::text(p, rect().center(), Qt::AlignHCenter, tr("The car does not stand in this bend: it tips over."), 15,
                    t.caution, true);
        paint::paragraph(p, QRectF(0.15 * width(), height() / 2.0 + 16, 0.7 * width(), height() / 2.0 - 16), none_, 14,
                         t.ink);
        return;
    }
    if (!now_->holds && !moment_) {
        const bool front = now_->most[0] / now_->need[0] < now_->most[1] / now_->need[1];
        paint::text(p, {20, 84}, Qt::AlignLeft,
                    front ? tr("more than the front holds") : tr("more than the rear holds"), 13, t.caution, true);
    }
    const double split = 0.52 * width();
    paint_car(p, QRectF(20, 100, split - 40, height() - 126));
    paint_patches(p, QRectF(split + 8, 62, width() - split - 20, height() - 84));
    paint::text_within(p, {20, height() - 11.0}, width() - 40,
                       tr("from behind, to scale · dashed: as fitted · drag the mass sideways for another bend · "
                          "outside tyres are to the right"),
                       13, t.soft);
}

void BalanceDrawing::mousePressEvent(QMouseEvent* event) {
    pressed_ = event->position();
    dragging_ = !moment_ && QLineF(pressed_, handle_).length() < 18;
    dragged_from_ = lateral_;
}

void BalanceDrawing::mouseMoveEvent(QMouseEvent* event) {
    if (dragging_)
        emit scrubbed(dragged_from_ + (event->position().x() - pressed_.x()) / (0.8 * scale_) * units::g);
    else
        setCursor(QLineF(event->position(), handle_).length() < 18 ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

void BalanceDrawing::mouseReleaseEvent(QMouseEvent*) { dragging_ = false; }

} // namespace dervish::app
