#include "app/car/stand_reading.h"

#include "app/paint/axes.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/car/equilibrium.h"
#include "core/study/links.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double words_room = 124; ///< px, before the marks of the clicks
constexpr double picture = 0.45;   ///< of an axle's room
} // namespace

StandReading::StandReading(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("stand reading");
    setAccessibleName(tr("Ride height and clicks of each axle, with what moves along"));
    setFocusPolicy(Qt::StrongFocus);
    new Follow(document_, this, [this] { refresh(); });
    refresh();
}

StandReading::Stands StandReading::stands(End end, Look look) const {
    const Result& result = document_.computed(look);
    const job::AxleData& axle = result.vehicle()[end];
    const job::AxleSetup& setup = result.setup()[end];
    const model::Raised by = model::raised(setup.stand);
    const double mounts = setup.mounts.height.value > 0 ? setup.mounts.height.value : 1.3 * axle.unsprung_height.value;
    Stands out{setup,
               axle.unsprung_height.value + by.hubs,
               mounts + by.hubs + by.body,
               car::loaded(result.figures->car).z,
               result.figures->car[end].roll_centre_height,
               {},
               {}};
    try {
        out.gaps = model::stop_gaps(setup, axle);
        if (setup.fitted && setup.held == job::Held::Links)
            if (const auto links = study::link_sides(setup, axle)) out.attitude = (*links)[0].attitude;
    } catch (const BadInput&) { // told at its field
    }
    return out;
}

void StandReading::refresh() {
    QStringList told;
    for (const End end : both_ends) {
        now_[end] = stands(end, document_.look());
        before_[end] = stands(end, Look::Fitted);
        const Stands& now = *now_[end];
        told << tr("%1: ride height change %2, mass %3 up, roll centre %4 up")
                    .arg(tr(name_of(end)), length(now.setup.stand.lift.value), length(now.mass),
                         length(now.roll_centre));
        if (now.gaps)
            told
                << tr("%1 to the bump stop, %2 to the droop stop").arg(length(now.gaps->bump), length(now.gaps->droop));
    }
    setAccessibleDescription(told.join("; "));
    update();
}

void StandReading::resizeEvent(QResizeEvent*) { update(); }

QString StandReading::length(double m) const {
    return qs(
        units::text(m, units::Quantity::Length, document_.units(), document_.units() == units::System::Metric ? 0 : 2));
}

QString StandReading::path(End end, const char* key) const {
    return document_.look_path() + "/" + name_of(end) + "/stand/" + key;
}

std::array<StandReading::Clicks, 2> StandReading::clicks_of(const job::AxleSetup& setup) {
    return {Clicks{tr("bump"), setup.dampers.bump_clicks, setup.stand.bump_click, "bump_click"},
            Clicks{tr("rebound"), setup.dampers.rebound_clicks, setup.stand.rebound_click, "rebound_click"}};
}

void StandReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    double highest = 0, hub = 0;
    for (const End end : both_ends)
        for (const auto* s : {&*now_[end], &*before_[end]}) {
            highest = std::max(highest, s->mass);
            hub = std::max(hub, s->hub);
        }
    const double half = (width() - 40.0) / 2;
    scale_ = std::min((height() - 106) / (highest + 0.1), 0.34 * picture * half / hub);
    for (const End end : both_ends) {
        const QRectF room(20 + (end == End::Front ? 0 : half + 12), 0, half - 12, height());
        if (hasFocus() && end == at_) {
            p.setPen(QPen(theme().ink, 1, Qt::DotLine));
            p.setBrush(Qt::NoBrush);
            p.drawRect(room.adjusted(-8, 2, 4, -3));
        }
        paint_axle(p, room, end);
    }
}

void StandReading::paint_axle(QPainter& p, const QRectF& room, End end) {
    const job::StandData& stand = now_[end]->setup.stand;
    const QRectF title =
        paint::text(p, room.topLeft() + QPointF(0, 14), Qt::AlignLeft,
                    end == End::Front ? tr("Front axle") : tr("Rear axle"), 14, axle_colour(end), true);
    static const QString by[] = {tr("springs"), tr("spacers"), tr("tyres")};
    const double lift = stand.lift.value;
    paint::text_within(p, {title.right() + 10, room.top() + 15}, room.right() - title.right() - 10,
                       lift == 0 ? tr("at the height it was measured at")
                                 : tr("%1 %2 by its %3")
                                       .arg(length(std::abs(lift)), lift > 0 ? tr("higher") : tr("lower"),
                                            by[static_cast<int>(stand.lift_by)]),
                       13, theme().ink);
    const double split = picture * room.width();
    paint_picture(p, QRectF(room.left(), 26, split - 8, height() - 78), end);
    paint_stops(p, QRectF(room.left() + split, 34, 30, height() - 96), end);
    paint_figures(p, QRectF(room.left() + split + 44, 30, room.width() - split - 44, height() - 82), end);
    paint_clicks(p, QRectF(room.left(), height() - 44, room.width(), 40), end);
}

void StandReading::paint_picture(QPainter& p, const QRectF& room, End end) {
    const Theme& t = theme();
    const double ground = room.bottom() - 4,
                 wheel = room.left() + 6 + scale_ * std::max(now_[end]->hub, before_[end]->hub);
    const auto up = [&](double z) { return ground - scale_ * z; };
    p.setPen(QPen(t.ink, 1.4));
    p.drawLine(QPointF(room.left(), ground), QPointF(room.right(), ground));
    const double far = room.right() - 6, mount = wheel + 0.3 * room.width();
    const auto draw = [&](const Stands& s, bool ghost) {
        const QPen line = ghost ? paint::fitted_pen() : QPen(t.ink, 1.4);
        p.setBrush(ghost ? QBrush(Qt::NoBrush) : QBrush(QColor("#2A3542")));
        p.setPen(ghost ? line : QPen(Qt::NoPen));
        p.drawEllipse(QPointF(wheel, up(s.hub)), scale_ * s.hub, scale_ * s.hub);
        const QRectF body(room.left(), up(s.body) - 10, far - room.left(), 10);
        p.setPen(line);
        p.setBrush(ghost ? QBrush(Qt::NoBrush) : QBrush(t.panel));
        p.drawRoundedRect(body, 3, 3);
        if (!ghost) seen_[end].body = body.adjusted(0, -8, 0, 8);
        if (s.attitude) { // the bar's arm, from its mount under the body
            const double arm = far - mount - 14;
            p.setPen(ghost ? line : QPen(axle_colour(end), 5, Qt::SolidLine, Qt::RoundCap));
            p.drawLine(QPointF(mount, up(s.body) + 8),
                       QPointF(mount + arm * std::cos(*s.attitude), up(s.body) + 8 - arm * std::sin(*s.attitude)));
        }
        p.setPen(ghost ? line : QPen(t.ink, 1.2));
        p.setBrush(t.ground);
        p.drawEllipse(QPointF(wheel, up(s.roll_centre)), 4, 4);
        paint::cross(p, {wheel, up(s.mass)}, 6, ghost ? t.soft : t.ink, !ghost);
    };
    if (document_.look() == Look::Trial) draw(*before_[end], true);
    draw(*now_[end], false);
}

void StandReading::paint_stops(QPainter& p, const QRectF& room, End end) const {
    const Theme& t = theme();
    if (!now_[end]->gaps) return;
    const auto& now = *now_[end]->gaps;
    const auto& before = before_[end]->gaps;
    const double most = std::max({now.bump, now.droop, before ? before->bump : 0, before ? before->droop : 0, 0.01});
    const double zero = room.center().y(), per = room.height() / 2 / most;
    p.setPen(QPen(t.ink, 1));
    p.setBrush(t.panel);
    p.drawRect(QRectF(room.left(), zero - per * now.bump, 14, per * (now.bump + now.droop)));
    p.setPen(QPen(t.ink, 3));
    for (const double stop : {-now.bump, now.droop})
        p.drawLine(QPointF(room.left() - 3, zero + per * stop), QPointF(room.left() + 17, zero + per * stop));
    if (before && document_.look() == Look::Trial) {
        p.setPen(paint::fitted_pen());
        for (const double stop : {-before->bump, before->droop})
            p.drawLine(QPointF(room.left() - 6, zero + per * stop), QPointF(room.left() + 22, zero + per * stop));
    }
    p.setPen(QPen(axle_colour(end), 2.4));
    p.drawLine(QPointF(room.left() - 5, zero), QPointF(room.left() + 19, zero));
}

void StandReading::paint_figures(QPainter& p, const QRectF& room, End end) const {
    const Theme& t = theme();
    const Stands &now = *now_[end], &before = *before_[end];
    double y = room.top() + 8;
    const bool narrow = room.width() < 150;
    const auto line = [&](const QString& what, double value, double was, const units::Unit& unit, int decimals) {
        const auto number = [&](double v) { return qs(units::fixed(v / unit.factor, decimals)); };
        QString text = number(value);
        if (!narrow) text += (unit.symbol == "°" ? "" : " ") + qs(unit.symbol);
        if (document_.look() == Look::Trial && number(value) != number(was))
            text += QString(" (%1%2)").arg(value > was ? "+" : "−", number(std::abs(value - was)));
        const QRectF figure = paint::text(p, {room.right(), y}, Qt::AlignRight, text, 13, t.ink, true);
        paint::text_within(p, {room.left(), y}, figure.left() - room.left() - 6, what, 13, t.soft);
        y += 20;
    };
    const units::Unit lengths = units::shown(units::Quantity::Length, document_.units()),
                      angle = units::shown(units::Quantity::Angle, document_.units());
    const int decimals = document_.units() == units::System::Metric ? 0 : 2;
    if (now.gaps && before.gaps) {
        line(narrow ? tr("bump") : tr("to bump stop"), now.gaps->bump, before.gaps->bump, lengths, decimals);
        line(narrow               ? tr("droop")
             : now.gaps->strapped ? tr("to the strap")
                                  : tr("to droop stop"),
             now.gaps->droop, before.gaps->droop, lengths, decimals);
    }
    line(narrow ? tr("roll c.") : tr("roll centre"), now.roll_centre, before.roll_centre, lengths, decimals);
    line(narrow ? tr("mass") : tr("height of mass"), now.mass, before.mass, lengths, decimals);
    if (now.attitude)
        line(narrow ? tr("arm") : tr("bar's arm"), *now.attitude, before.attitude.value_or(*now.attitude), angle, 1);
}

void StandReading::paint_clicks(QPainter& p, const QRectF& room, End end) {
    const Theme& t = theme();
    const Stands& now = *now_[end];
    const bool known = now.setup.dampers.click.value > 0;
    seen_[end].clicks_left = room.left() + words_room;
    seen_[end].clicks_top = room.top() + 8;
    const auto clicks = clicks_of(now.setup);
    if (clicks[0].all.value <= 0 && clicks[1].all.value <= 0) {
        paint::text_within(p, {room.left(), room.top() + 8}, room.width(), tr("Its dampers have no clicks."), 13,
                           t.soft);
        return;
    }
    const auto before = clicks_of(before_[end]->setup);
    for (int rebound = 0; rebound < 2; ++rebound) {
        const Clicks& c = clicks[static_cast<std::size_t>(rebound)];
        const double y = room.top() + 8 + 20 * rebound;
        const int all = static_cast<int>(std::lround(c.all.value)), used = static_cast<int>(std::lround(c.used.value)),
                  was = static_cast<int>(std::lround(before[static_cast<std::size_t>(rebound)].used.value));
        paint::text_within(p, {room.left(), y}, words_room - 8,
                           tr("%1 %2 of %3").arg(c.name, qs(units::trimmed(c.used.value, 1))).arg(all), 13, t.ink);
        const double pitch = seen_[end].pitch[rebound] =
            std::min(11.0, (room.width() - words_room - 8) / std::max(1, all));
        double x = room.left() + words_room;
        if (pitch < 4) continue; // too many to be drawn
        for (int n = 0; n <= all; ++n, x += pitch) {
            const bool here = n == used;
            p.setPen(QPen(t.ink, 1));
            p.setBrush(n <= used && n > 0 ? QBrush(t.ink) : QBrush(t.panel));
            p.drawRect(QRectF(x - 0.27 * pitch, y - (here ? 7 : 4), 0.55 * pitch, here ? 14 : 8));
        }
        if (document_.look() == Look::Trial && was != used) { // where Fitted has it
            p.setPen(paint::fitted_pen());
            p.setBrush(Qt::NoBrush);
            p.drawRect(QRectF(room.left() + words_room + pitch * (was - 0.4), y - 8, 0.8 * pitch, 16));
        }
        const double left = room.right() - x - 4;
        const QString words = known ? tr("%1 to open, %2 to firm").arg(used).arg(all - used) : tr("effect unknown");
        if (QFontMetricsF(face(13)).horizontalAdvance(words) < left)
            paint::text(p, {x + 4, y}, Qt::AlignLeft, words, 13, t.soft);
    }
}

QPointF StandReading::click(End end, bool rebound, int n) const {
    return {seen_[end].clicks_left + seen_[end].pitch[rebound] * n, seen_[end].clicks_top + (rebound ? 20 : 0)};
}

void StandReading::raise(End end, double to) {
    if (!document_.may_change()) return;
    const units::Unit unit = units::shown(units::Quantity::Length, document_.units());
    const QString at = path(end, "lift");
    document_.type(at, qs(units::trimmed(to / unit.factor, document_.units() == units::System::Metric ? 0 : 2)));
    // Dragged, not taken with a tape: one step back with the number.
    document_.edit(tr("change of %1").arg("lift"), "type " + at, [&](job::Job& job) {
        const auto field = job::field(job, at.toStdString());
        if (!field || field->value->source == job::Source::Assumed) return;
        field->value->source = job::Source::Assumed;
        field->value->sigma = units::as_filed(job::usual_sigma(field->spec, job::Source::Assumed, field->value->value),
                                              field->spec.quantity);
    });
}

void StandReading::mousePressEvent(QMouseEvent* event) {
    const QPointF at = event->position();
    for (const End end : both_ends) {
        if (seen_[end].body.contains(at)) {
            at_ = end;
            dragged_from_ = now_[end]->setup.stand.lift.value;
            pressed_ = at.y();
            return;
        }
        const auto clicks = clicks_of(now_[end]->setup);
        for (const bool rebound : {false, true}) {
            const Clicks& c = clicks[rebound];
            const double pitch = seen_[end].pitch[rebound];
            if (pitch < 4 || std::abs(at.y() - click(end, rebound, 0).y()) > 9) continue; // none drawn, or not here
            const int n = static_cast<int>(std::lround((at.x() - seen_[end].clicks_left) / pitch));
            if (n < 0 || n > c.all.value) continue;
            if (document_.may_change()) document_.type(path(end, c.key), QString::number(n));
            return;
        }
    }
}

void StandReading::mouseMoveEvent(QMouseEvent* event) {
    if (dragged_from_) raise(at_, *dragged_from_ + (pressed_ - event->position().y()) / scale_);
}

void StandReading::mouseReleaseEvent(QMouseEvent*) { dragged_from_.reset(); }

void StandReading::keyPressEvent(QKeyEvent* event) {
    const double step = document_.units() == units::System::Metric ? units::mm : 0.05 * units::inch,
                 lift = document_.looked_setup()[at_].stand.lift.value;
    switch (event->key()) {
    case Qt::Key_Up:
        return raise(at_, lift + step);
    case Qt::Key_Down:
        return raise(at_, lift - step);
    case Qt::Key_Left:
        at_ = End::Front;
        return update();
    case Qt::Key_Right:
        at_ = End::Rear;
        return update();
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace dervish::app
