#include "app/car/car_drawing.h"
#include "core/job/usual.h"

#include "app/paint/axes.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/edit/edits.h"
#include "core/model/model.h"
#include "core/model/stand.h"

#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
/// m of body drawn beyond the axles.
double nose_of(const job::Vehicle& v) { return 0.75 * job::size_of(v.front.track.value); }
double tail_of(const job::Vehicle& v) { return 0.95 * job::size_of(v.front.track.value); }
int mass_decimals(double mass) { return mass < 10 ? 2 : 0; } // a model weighs less than a kilogram a wheel
} // namespace

CarDrawing::CarDrawing(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("car drawing");
    setMinimumHeight(250);
    setMouseTracking(true);
    setAccessibleName(tr("The car from the side and from above, to scale"));
    const auto take_up = [this] {
        level_ = car::settle(document_.looked().car, {});
        fit_scale();
    };
    new Follow(document_, this, take_up);
    take_up();
}

void CarDrawing::resizeEvent(QResizeEvent*) { fit_scale(); }

void CarDrawing::fit_scale() {
    if (dragged_ >= 0) return; // the paper does not move under a drag
    const job::Vehicle& v = document_.job().vehicle;
    const double size = job::size_of(v.front.track.value), nose = nose_of(v),
                 length = v.wheelbase.value + nose + tail_of(v),
                 track = std::max(v.front.track.value, v.rear.track.value) + 0.5 * size;
    double top = 2.85 * v.cg_height.value;
    for (const job::Load& l : v.loads) top = std::max(top, l.height.value + 0.3 * size);
    const double across = width() - 3 * 26.0, room = height() - 150.0;
    scale_ = std::max(10.0, std::min({across / (2 * length), room / top, room / track}));
    const double gap = (width() - 2 * length * scale_) / 3;
    // Front to the left in both views, so that they read as one.
    side_origin_ = {gap + nose * scale_, height() - 62.0};
    plan_origin_ = {2 * gap + (length + nose) * scale_, 62 + (height() - 62.0 - 40) / 2};
    update();
}

QPointF CarDrawing::side(double x, double z) const { return side_origin_ + scale_ * QPointF(-x, -z); }
QPointF CarDrawing::plan(double x, double y) const {
    return plan_origin_ + scale_ * QPointF(-x, y);
} // left of the car is down: seen from above, nose left
double CarDrawing::rise(double x, const job::Setup& setup) const {
    const double back = -x / document_.job().vehicle.wheelbase.value;
    return (1 - back) * setup.front.stand.lift.value + back * setup.rear.stand.lift.value;
}
QPointF CarDrawing::side_place(const job::Load& l) const {
    const double x = -l.behind_front_axle.value;
    return side(x, l.height.value + rise(x, document_.looked_setup()));
}
QPointF CarDrawing::plan_place(const job::Load& l) const { return plan(-l.behind_front_axle.value, l.left.value); }

double CarDrawing::block(const job::Load& l) const { return std::max(9.0, scale_ * std::cbrt(l.mass.value / 250) / 2); }

namespace {
/// Outline of the body, m ahead of the front axle and up: astride high wheels; else a box, a car with a bonnet, a low
/// one or a single-seater, by how high it is over its wheelbase.
QPolygonF body_from_the_side(const job::Vehicle& v) {
    const double l = v.wheelbase.value, h = 2.7 * v.cg_height.value, sill = 1.05 * v.front.unsprung_height.value,
                 nose = nose_of(v), back = -l - tail_of(v), size = job::size_of(v.front.track.value);
    if (const double r = v.front.unsprung_height.value; r > 0.18 * l)
        return {{0.3 * size, 1.1 * r}, {0.4 * size, 2 * r},      {-0.1 * l, 2.5 * r},
                {-0.24 * l, 3 * r},    {-0.3 * l, 2.5 * r},      {-0.45 * l, 2 * r},
                {-l, 2.2 * r},         {-l - 0.3 * size, 2 * r}, {-l - 0.2 * size, 1.1 * r}};
    if (h > 0.62 * l)
        return {{nose, sill},     {nose, 0.52 * h}, {nose - 0.35 * size, 0.58 * h},
                {nose - size, h}, {back, h},        {back, sill}};
    if (h > 0.545 * l)
        return {{nose, sill},   {nose, 0.5 * h},       {-0.15 * l, 0.63 * h}, {-0.38 * l, h},
                {-0.85 * l, h}, {-1.08 * l, 0.66 * h}, {back, 0.64 * h},      {back, sill}};
    if (h < 0.4 * l)
        return {{nose, 0.6 * sill}, {nose, 0.25 * h},    {-0.3 * l, 0.55 * h}, {-0.5 * l, 0.5 * h}, {-0.56 * l, h},
                {-0.64 * l, h},     {-0.8 * l, 0.6 * h}, {back, 0.45 * h},     {back, 0.6 * sill}};
    return {{nose, sill},   {nose, 0.46 * h},      {-0.28 * l, 0.7 * h}, {-0.44 * l, h},
            {-0.64 * l, h}, {-0.84 * l, 0.74 * h}, {back, 0.68 * h},     {back, sill}};
}
} // namespace

void CarDrawing::paint_side(QPainter& p) {
    const Theme& t = theme();
    const job::Vehicle& v = document_.job().vehicle;
    const double wheelbase = v.wheelbase.value;
    p.setPen(QPen(t.ink, 1.4));
    p.drawLine(side(1.2 * nose_of(v), 0), side(-wheelbase - 1.16 * tail_of(v), 0));
    // The body is for orientation only and is drawn faint; wheels, axles, masses and heights are the car's.
    const job::Setup &setup = document_.looked_setup(), &fitted = document_.job().fitted;
    const auto body = [&](const job::Setup& stands) {
        QPolygonF out;
        for (const QPointF& place : body_from_the_side(v)) out << side(place.x(), place.y() + rise(place.x(), stands));
        return out;
    };
    p.setPen(QPen(t.soft, 1));
    p.setBrush(t.panel);
    p.drawPolygon(body(setup));
    if (body(fitted) != body(setup)) { // as it is on its wheels now
        p.setPen(paint::fitted_pen());
        p.setBrush(Qt::NoBrush);
        p.drawPolygon(body(fitted));
    }
    for (int end = 0; end < 2; ++end) {
        const job::AxleData& a = v[static_cast<End>(end)];
        const double high = a.unsprung_height.value + model::raised(setup[static_cast<End>(end)].stand).hubs;
        const QPointF hub = side(end == 0 ? 0 : -wheelbase, high);
        const double r = high * scale_;
        p.setPen(Qt::NoPen);
        p.setBrush(QColor("#2A3542"));
        p.drawEllipse(hub, r, r);
        p.setBrush(t.panel);
        p.drawEllipse(hub, r * 0.55, r * 0.55);
        p.setBrush(axle_colour(static_cast<End>(end)));
        p.drawEllipse(hub, r * 0.16, r * 0.16);
    }
    // Roll axis from roll centre to roll centre
    const car::Car& car = document_.looked().car;
    const QPointF f = side(0, car.front.roll_centre_height), r = side(-wheelbase, car.rear.roll_centre_height);
    p.setPen(QPen(t.ink, 1.2, Qt::DashDotLine));
    p.drawLine(f, r);
    for (const QPointF& centre : {f, r}) paint::disc(p, centre, 3.5, t.ground, t.ink, 1.2);
    paint::text(p, (f + r) / 2 + QPointF(0, -10), Qt::AlignHCenter, tr("roll axis"), 13, t.soft);
    paint::dimension(p, side(0, 0) + QPointF(0, 24), side(-wheelbase, 0) + QPointF(0, 24),
                     tr("wheelbase %1")
                         .arg(qs(units::text(wheelbase, units::Quantity::Length, document_.units(),
                                             document_.units() == units::System::Metric ? 0 : 1))));

    const car::Loaded now = car::loaded(document_.looked().car);
    car::Car bare = document_.looked().car;
    bare.loads.clear();
    const car::Loaded weighed = car::loaded(bare);
    paint::cross(p, side(weighed.x, weighed.z), 6, t.soft, false);
    const QPointF c = side(now.x, now.z);
    paint::cross(p, c, 7, t.ink, true);
}

void CarDrawing::paint_axle_plan(QPainter& p, End end) {
    const Theme& t = theme();
    const job::Vehicle& v = document_.job().vehicle;
    const job::AxleData& a = v[end];
    const double x = end == End::Front ? 0 : -v.wheelbase.value, half = a.track.value / 2, r = a.unsprung_height.value,
                 size = job::size_of(a.track.value), wide = 0.11 * size;
    const bool pair = a.wheels_a_side == job::WheelsASide::Two;
    const QColor hue = axle_colour(end);
    for (const double sign : {+1.0, -1.0}) {
        p.setPen(Qt::NoPen);
        p.setBrush(QColor("#2A3542"));
        for (const double aside : pair ? std::vector{-1.15 * wide, 1.15 * wide} : std::vector{0.0}) {
            const double middle = sign * half + aside;
            p.drawRoundedRect(QRectF(plan(x + r, middle - wide), plan(x - r, middle + wide)).normalized(), 4, 4);
        }
        p.setPen(QPen(hue, 3, Qt::SolidLine, Qt::RoundCap));
        if (a.kind == AxleKind::Independent) { // a wishbone a side
            for (const double along : {0.18 * size, -0.18 * size})
                p.drawLine(plan(x + along, sign * 0.32 * size), plan(x, sign * (half - wide)));
        }
    }
    if (a.kind == AxleKind::Solid) {
        p.setPen(QPen(hue, 6, Qt::SolidLine, Qt::RoundCap));
        p.drawLine(plan(x, half - wide), plan(x, -half + wide));
        paint::disc(p, plan(x, 0), 9, hue, hue, 6);
        // springs at their base
        for (const double sign : {+1.0, -1.0})
            paint::disc(p, plan(x, sign * a.spring_base.value / 2), 5, t.panel, t.ink, 1.4);
    }
    for (int s = 0; s < 2; ++s) {
        const double load = level_.wheels[wheel_at(end, 0) + static_cast<std::size_t>(s)].load;
        const QPointF at =
            plan(x, (s == 0 ? 1 : -1) * (half + (pair ? 2.15 : 1) * wide)) + QPointF(0, s == 0 ? 13 : -13);
        written_.push_back(paint::text(
            p, at, Qt::AlignHCenter,
            qs(units::text(load / units::g, units::Quantity::Mass, document_.units(), mass_decimals(load / units::g))),
            13, t.ink, true));
    }
}

void CarDrawing::paint_plan(QPainter& p) {
    const Theme& t = theme();
    const job::Vehicle& v = document_.job().vehicle;
    const double half = std::max(v.front.track.value, v.rear.track.value) / 2 + 0.1 * job::size_of(v.front.track.value);
    p.setPen(QPen(t.soft, 1));
    p.setBrush(t.panel);
    p.drawRoundedRect(QRectF(plan(nose_of(v), -half), plan(-v.wheelbase.value - tail_of(v), half)).normalized(), 14,
                      14);
    p.setPen(QPen(t.rule, 1, Qt::DashLine));
    p.drawLine(plan(nose_of(v), 0), plan(-v.wheelbase.value - tail_of(v), 0));
    for (const End end : both_ends) paint_axle_plan(p, end);
    const car::Loaded now = car::loaded(document_.looked().car);
    paint::cross(p, plan(now.x, now.y), 7, t.ink, true);
    const double x = -v.wheelbase.value / 2;
    paint::text(p, plan(x, -half) + QPointF(0, -13), Qt::AlignHCenter, tr("right side"), 13, t.soft);
    paint::text(p, plan(x, half) + QPointF(0, 13), Qt::AlignHCenter, tr("left side"), 13, t.soft);
}

void CarDrawing::paint_loads(QPainter& p) {
    const Theme& t = theme();
    const auto aboard = [&](const job::Load& l) { return job::is_aboard(l, document_.looked_setup()); };
    std::vector<job::Load> loads = document_.job().vehicle.loads; // those left behind lie underneath
    std::stable_partition(loads.begin(), loads.end(), [&](const job::Load& l) { return !aboard(l); });
    const auto box_of = [&](const job::Load& l, bool in_plan) {
        const double half = block(l);
        return QRectF((in_plan ? plan_place(l) : side_place(l)) - QPointF(half, half * 0.7),
                      QSizeF(2 * half, 1.4 * half));
    };
    for (std::size_t i = 0; i < loads.size(); ++i)
        for (const bool in_plan : {false, true}) {
            const job::Load& l = loads[i];
            const double half = block(l);
            const QRectF box = box_of(l, in_plan);
            QColor fill = t.rule;
            fill.setAlpha(aboard(l) ? 215 : 60);
            if (aboard(l)) {
                paint::box(p, box, fill, t.ink);
            } else {
                p.fillRect(box.toAlignedRect(), fill); // by itself: with an outline Qt would start threads for it
                p.setPen(QPen(t.soft, 1.4, Qt::DashLine));
                p.drawLines(QList<QLineF>{{box.topLeft(), box.topRight()},
                                          {box.topLeft(), box.bottomLeft()},
                                          {box.topRight(), box.bottomRight()},
                                          {box.bottomLeft(), box.bottomRight()}});
            }
            const QString mass =
                qs(units::fixed(l.mass.value / units::shown(units::Quantity::Mass, document_.units()).factor, 0));
            const QSizeF size(paint::width_of(mass, 13, true), 12);
            const QPointF in(size.width() / 2 + 3, 9);
            const QPointF middle = box.center(), up(0, half * 0.7 + 8), aside(half + in.x(), 0);
            const QPointF places[] = {aboard(l) ? middle : box.topLeft() + in,
                                      box.topLeft() + in,
                                      box.bottomRight() - in,
                                      box.topRight() + QPointF(-in.x(), in.y()),
                                      box.bottomLeft() + QPointF(in.x(), -in.y()),
                                      middle - up,
                                      middle + up,
                                      middle + aside,
                                      middle - aside};
            const auto words = [&](QPointF about) { return QRectF(about - QPointF(size.width() / 2, 6), size); };
            const auto above = loads.begin() + static_cast<std::ptrdiff_t>(i) + 1; // painted over this one
            const QPointF* place = std::find_if(std::begin(places), std::end(places), [&](QPointF about) {
                return std::none_of(written_.begin(), written_.end(),
                                    [&](const QRectF& other) { return other.intersects(words(about)); }) &&
                       std::none_of(above, loads.end(), [&](const job::Load& other) {
                           return box_of(other, in_plan).intersects(words(about));
                       });
            });
            if (place == std::end(places)) place = places;
            written_.push_back(words(*place));
            paint::text(p, *place, Qt::AlignHCenter, mass, 13, aboard(l) ? t.ink : t.soft, aboard(l));
        }
    paint_load_names(p, loads);
}

/// Above or below its block, or beside it, whichever covers nothing else.
void CarDrawing::paint_load_names(QPainter& p, const std::vector<job::Load>& loads) {
    const double wheelbase = document_.job().vehicle.wheelbase.value;
    const job::Vehicle& v = document_.job().vehicle;
    const QPointF axis =
        (side(0, v.front.roll_centre_height.value) + side(-wheelbase, v.rear.roll_centre_height.value)) / 2;
    std::vector<QRectF> taken{QRectF(axis - QPointF(30, 18), QSizeF(60, 18))};
    const auto box_of = [&](const job::Load& l) {
        const double half = block(l);
        return QRectF(side_place(l) - QPointF(half, half * 0.7), QSizeF(2 * half, 1.4 * half));
    };
    for (const job::Load& l : loads) taken.push_back(box_of(l));
    taken.insert(taken.end(), written_.begin(), written_.end());
    const auto aboard = [&](const job::Load& l) { return job::is_aboard(l, document_.looked_setup()); };
    for (const job::Load& l : loads) {
        const QString name = aboard(l) ? qs(l.name) : tr("%1, not aboard").arg(qs(l.name));
        const QRectF box = box_of(l);
        const QSizeF size(paint::width_of(name, 13) + 2, 15);
        const double middle = box.center().x() - size.width() / 2, level = box.center().y() - size.height() / 2;
        std::vector<QPointF> places;
        for (int away = 0; away < 5; ++away) { // the nearest first
            const double by = 16.0 * away;
            const double above = box.top() - 16 - by, below = box.bottom() + 3 + by;
            for (const double x : {middle, box.left(), box.right() - size.width()})
                for (const double y : {aboard(l) ? above : below, aboard(l) ? below : above}) places.emplace_back(x, y);
            if (away == 0)
                places.insert(places.end(), {{box.left() - size.width() - 5, level}, {box.right() + 5, level}});
        }
        const auto free = [&](QPointF at) {
            const QRectF there(at, size);
            return rect().toRectF().contains(there) &&
                   std::none_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(there); });
        };
        auto at = std::find_if(places.begin(), places.end(), free);
        if (at == places.end()) at = places.begin();
        taken.emplace_back(*at, size);
        paint::text(p, *at + QPointF(1, size.height() / 2), Qt::AlignLeft, name, 13, theme().soft);
    }
}

void CarDrawing::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    const job::Job& job = document_.job();
    const QRectF name = paint::text(p, {20, 24}, Qt::AlignLeft, qs(job.vehicle.name.empty() ? "Car" : job.vehicle.name),
                                    17, theme().ink, true);
    const double total = job.vehicle.front_left_load.value + job.vehicle.front_right_load.value +
                         job.vehicle.rear_left_load.value + job.vehicle.rear_right_load.value;
    const car::Loaded now = car::loaded(document_.looked().car);
    const double loaded = now.mass + job.vehicle.front.unsprung_mass.value + job.vehicle.rear.unsprung_mass.value;
    paint::text(p, {name.right() + 12, 25}, Qt::AlignLeft,
                tr("%1 as weighed, %2 with the loads aboard")
                    .arg(qs(units::text(total, units::Quantity::Mass, document_.units(), mass_decimals(total))),
                         qs(units::text(loaded, units::Quantity::Mass, document_.units(), mass_decimals(loaded)))),
                13, theme().soft);
    paint::text_within(
        p, {20, 45}, width() - 40,
        tr("sprung mass %1, its centre %2 up and %3 behind the front axle%4")
            .arg(qs(units::text(now.mass, units::Quantity::Mass, document_.units(), mass_decimals(now.mass))),
                 qs(units::text(now.z, units::Quantity::Length, document_.units(),
                                document_.units() == units::System::Metric ? 0 : 1)),
                 qs(units::text(-now.x, units::Quantity::Length, document_.units(),
                                document_.units() == units::System::Metric ? 0 : 1)),
                 testAttribute(Qt::WA_TransparentForMouseEvents) ? QString() : tr("; drag a load to move it")),
        13, theme().soft);
    written_.clear();
    paint_side(p);
    paint_plan(p);
    paint_loads(p);
    paint::text_within(
        p, {20, height() - 12.0}, width() - 40,
        tr("both views to one scale, nose to the left; body outline for orientation only · dashed cross: as weighed"),
        13, theme().soft);
}

void CarDrawing::mousePressEvent(QMouseEvent* event) {
    const auto& v = document_.job().vehicle;
    for (std::size_t i = v.loads.size(); i-- > 0;)
        for (const bool in_plan : {false, true}) {
            const QPointF at = in_plan ? plan_place(v.loads[i]) : side_place(v.loads[i]);
            const double half = block(v.loads[i]);
            if (!QRectF(at - QPointF(half, half), QSizeF(2 * half, 2 * half)).contains(event->position())) continue;
            dragged_ = static_cast<int>(i);
            in_plan_ = in_plan;
            grip_ = event->position() - at;
            emit part_picked(QString("vehicle/loads/%1").arg(i));
            return;
        }
    for (const End end : both_ends) {
        const job::AxleData& a = v[end];
        const double x = end == End::Front ? 0 : -v.wheelbase.value;
        if (QLineF(side(x, a.unsprung_height.value), event->position()).length() < a.unsprung_height.value * scale_ ||
            std::abs(plan(x, 0).x() - event->position().x()) < a.unsprung_height.value * scale_) {
            emit part_picked(QString("vehicle/") + name_of(end) + "");
            return;
        }
    }
    emit part_picked("vehicle");
}

void CarDrawing::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_ < 0) return;
    const QPointF at = event->position() - grip_;
    const auto whole = [](double metres) { return std::round(metres * 200) / 200; };
    document_.edit(tr("drag of a load"), QString("drag load %1 %2").arg(dragged_).arg(in_plan_), [&](job::Job& job) {
        const double behind = ((in_plan_ ? at.x() - plan_origin_.x() : at.x() - side_origin_.x())) / scale_,
                     kept = whole(
                         std::clamp(behind, -nose_of(job.vehicle), job.vehicle.wheelbase.value + tail_of(job.vehicle)));
        const auto index = static_cast<std::size_t>(dragged_);
        if (in_plan_)
            edit::move_load(job, index, kept, whole(std::clamp((at.y() - plan_origin_.y()) / scale_, -1.5, 1.5)), {});
        else
            edit::move_load(
                job, index, kept, {},
                whole(std::clamp((side_origin_.y() - at.y()) / scale_ - rise(-kept, document_.looked_setup()), 0.0,
                                 4.0)));
    });
}

void CarDrawing::mouseReleaseEvent(QMouseEvent*) {
    dragged_ = -1;
    fit_scale();
}

} // namespace dervish::app
