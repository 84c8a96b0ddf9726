#include "app/bar/travel_reading.h"
#include "core/study/assess.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/widgets/timing.h"
#include "app/words.h"
#include "core/model/model.h"
#include "store/csv_table.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
TravelReading::TravelReading(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("travel reading");
    setAccessibleName(tr("Force over travel"));
    auto* later = new Later(this, [this] { take_up(); });
    new Follow(document_, this, [later] { later->start(); });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
}

void TravelReading::show_axle(End end) {
    end_ = end;
    take_up();
}

const job::AxleSetup& TravelReading::assembly() const {
    const job::Setup& s = document_.computed().setup();
    return s[end_];
}

const job::AxleData& TravelReading::axle() const { return document_.computed().vehicle()[end_]; }

void TravelReading::showEvent(QShowEvent*) { take_up(); }

bool TravelReading::current() const { return curve_ && !curve_->roll.empty(); }

void TravelReading::take_up() {
    update();
    if (isVisible()) work_out();
}

void TravelReading::work_out() {
    if (curve_ && curve_of_ == assembly() && curve_on_ == axle()) return;
    curve_.reset();
    loop_ = {};
    if (!assembly().fitted) return;
    try {
        curve_ = study::travel_curve(assembly(), axle(), shown_travel);
        loop_ = study::hysteresis(*curve_, assembly(), *document_.looked()[end_]);
        curve_of_ = assembly();
        curve_on_ = axle();
    } catch (const BadInput&) { // told at its field
    }
}

void TravelReading::paint_chart(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const units::Unit length = units::shown(units::Quantity::Length, document_.units()),
                      force = units::shown(units::Quantity::Force, document_.units());
    double top = 1;
    for (const bar::TravelPoint& point : curve_->roll) top = std::max(top, std::abs(point.force[1]));
    for (const study::Hysteresis::Point& point : loop_.points) top = std::max(top, point.loading);
    top *= 1.12;
    const paint::Axes at(room, {0, shown_travel}, {0, top});
    at.sides(p, false);
    const double step = document_.units() == units::System::Metric ? 0.02 : 0.0254;
    for (double x = 0; x <= shown_travel + 1e-9; x += step) {
        p.setPen(QPen(t.ink, 1));
        p.drawLine(at(x, 0), at(x, 0) + QPointF(0, 4));
        at.under(p, x, qs(units::trimmed(x / length.factor, 1)), 13);
    }
    for (const double part : {0.5, 1.0}) {
        const double f = part * top / 1.12;
        at.across(p, f);
        at.beside(p, f, qs(units::fixed(f / force.factor, 0)));
    }
    const auto line = [&](const std::vector<bar::TravelPoint>& points, double width) {
        const auto place = [&](const bar::TravelPoint& point) {
            return at(point.travel[1] / curve_->link_per_wheel, std::abs(point.force[1]));
        };
        at.line(p, points, place, paint::now_pen(axle_colour(end_), width));
    };
    if (curve_->roll.size() > 1) { // small travel's straight line
        const double slope = std::abs(curve_->roll[1].force[1]) / (curve_->roll[1].travel[1] / curve_->link_per_wheel);
        const double far = std::min(shown_travel, top / slope);
        p.setPen(QPen(t.soft, 1, Qt::DashLine));
        p.drawLine(at(0, 0), at(far, slope * far));
    }
    const bool loops =
        loop_.slack > 0 || (loop_.points.size() > 1 && loop_.points[1].loading > loop_.points[1].unloading);
    if (loops) { // going out above, coming back below, nothing within the slack
        QPolygonF out{at(0, 0)}, back;
        for (const study::Hysteresis::Point& h : loop_.points) {
            if (h.wheel_travel > shown_travel) break;
            out << at(h.wheel_travel, h.loading);
            back.prepend(at(h.wheel_travel, h.unloading));
        }
        QColor between = axle_colour(end_);
        between.setAlphaF(0.18f);
        p.setPen(Qt::NoPen);
        p.setBrush(between);
        p.drawPolygon(out + back);
        p.setBrush(Qt::NoBrush);
        p.setPen(paint::now_pen(axle_colour(end_), 2.6));
        p.drawPolyline(out);
        p.drawPolyline(back);
    } else {
        line(curve_->roll, 2.6);
    }
    line(curve_->one_side, 1.4);
    const auto flag = [&](double wheel, const QString& words) {
        p.setPen(QPen(t.caution, 1.4));
        p.drawLine(at(wheel, 0), at(wheel, top * 0.94));
        const bool right = wheel > 0.6 * shown_travel;
        paint::text(p, at(wheel, top * 0.97) + QPointF(right ? -5 : 5, 0), right ? Qt::AlignRight : Qt::AlignLeft,
                    words, 13, t.caution, true);
    };
    if (curve_->yields_at)
        flag(*curve_->yields_at,
             tr("yields at %1 ± %2")
                 .arg(qs(units::fixed(*curve_->yields_at / length.factor, length.decimals - 1)),
                      qs(units::text(*curve_->yields_at * document_.relative_band(study::FrontYieldTravel, end_),
                                     units::Quantity::Length, document_.units(), length.decimals - 1))));
    else if (curve_->ends_at)
        flag(*curve_->ends_at, tr("over centre"));
    paint::text(p, {room.right(), room.bottom() + 29}, Qt::AlignRight,
                tr("wheel travel each way, %1").arg(qs(length.symbol)), 13, t.soft);
}

void TravelReading::paint_words(QPainter& p, const QRectF& room, const study::BarFigures& figures) {
    const Theme& t = theme();
    const job::AxleSetup& a = assembly();
    double y = room.top() + 4;
    const auto row = [&](const QString& what, const QString& value, bool bad = false) {
        const QRectF v = paint::text(p, {room.right(), y}, Qt::AlignRight, value, 13, bad ? t.caution : t.ink, true);
        paint::text_within(p, {room.left(), y}, v.left() - room.left() - 8, what, 13, t.soft);
        y += 20;
    };
    const auto system = document_.units();
    // A figure with its band as that of the small-travel outcome beside it, part for part.
    const auto banded = [&](double si, units::Quantity quantity, study::Outcome like) {
        const units::Unit unit = units::shown(quantity, system);
        const double band = document_.relative_band(like, end_) * si;
        return qs(units::fixed(si / unit.factor, unit.decimals)) +
               (band > 0 ? " ± " + qs(units::fixed(band / unit.factor, unit.decimals)) : QString()) + " " +
               qs(unit.symbol);
    };
    const auto& roll = curve_->roll;
    const auto n = roll.size();
    const bool clamped = a.held == job::Held::Clamped;
    if (n > 2) {
        row(clamped ? tr("rate at the arm's end, at rest") : tr("rate at the link, at rest"),
            banded(curve_->rate_at_rest, units::Quantity::Rate, study::FrontWheelRate));
        row(tr("at the end of the curve"), banded(curve_->rate_at_end, units::Quantity::Rate, study::FrontWheelRate));
        if (!clamped)
            row(tr("link off square, at most"),
                qs(units::text(roll[n - 1].off_square, units::Quantity::Angle, system, 0)),
                roll[n - 1].off_square > 55 * units::deg);
        const double load = std::abs(roll[n - 1].force[1]);
        const bool known = !clamped && a.links.capacity.value > 0;
        row(known     ? tr("link load, of its capacity")
            : clamped ? tr("force at the arm's end there")
                      : tr("link load there"),
            banded(load, units::Quantity::Force, study::FrontWheelRate) +
                (known ? QString(" = %1 %").arg(std::lround(100 * load / a.links.capacity.value)) : QString()),
            known && load > a.links.capacity.value);
        const auto &standard = document_.standard(end_), &fitted = document_.fitted()[end_];
        if (!known && standard) // at the same travel
            row(tr("times what the standard puts on it"), qs(units::fixed(figures.link_rate / standard->link_rate, 2)));
        else if (!known && fitted && document_.look() == Look::Trial)
            row(tr("times what Fitted puts on it"), qs(units::fixed(figures.link_rate / fitted->link_rate, 2)));
        for (const study::Reserve& r : study::reserves(a, figures, roll[n - 1].travel))
            if (r.part == "bracket")
                row(tr("bracket load, of its capacity"),
                    qs(units::text(r.load, units::Quantity::Force, system)) +
                        QString(" = %1 %").arg(std::lround(100 / r.reserve())),
                    r.reserve() < 1);
    }
    if (a.links.play.value > 0)
        row(tr("play: nothing until the wheels differ by"),
            qs(units::text(2 * loop_.slack, units::Quantity::Length, system)));
    const study::Friction f = study::friction(a, figures, model::link_travel(a, axle(), 3 * units::deg));
    if (f.band > 0)
        row(tr("bore friction at 3° of roll"), "± " + qs(units::text(f.band, units::Quantity::Force, system)) +
                                                   QString(" (%1 %)").arg(QString::number(100 * f.share, 'f', 1)));
    for (const study::Duty& d : study::duties(a, axle(), figures))
        if (y < room.bottom() - 2)
            row(tr("fatigue reserve, %1").arg(d.surface),
                qs(units::fixed(std::min(99.0, d.reserve), 1)) +
                    (document_.bands()
                         ? " ± " +
                               qs(units::fixed(d.reserve * document_.relative_band(study::FrontYieldTravel, end_), 1))
                         : QString()),
                d.reserve < 1);
}

void TravelReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    const auto& figures = document_.looked()[end_];
    if (!figures || !current()) {
        paint::text(p, {20, 24}, Qt::AlignLeft, tr("No bar to follow through its travel."), 13, theme().soft);
        return;
    }
    const double words = std::min(300.0, 0.42 * width());
    const QStringList told =
        paint::in_lines((assembly().held == job::Held::Clamped
                             ? tr("force at the arm's end, %1: thick in roll · thin one side · dashed small travel")
                             : tr("link force, %1: thick in roll, out and back · thin one side · dashed small travel"))
                            .arg(qs(units::shown(units::Quantity::Force, document_.units()).symbol)),
                        QFontMetricsF(face(13)), {width() - words - 60});
    double top = 12;
    for (const QString& line : told) {
        paint::text_within(p, {20, top}, width() - words - 60, line, 13, theme().soft);
        top += 16;
    }
    paint_chart(p, QRectF(66, top - 2, width() - words - 66 - 44, height() - top - 38));
    paint_words(p, QRectF(width() - words - 16, 8, words, height() - 12), *figures);
}

std::string TravelReading::csv() {
    work_out();
    if (!current()) return {};
    store::CsvTable out{"case",
                        "wheel_travel_mm",
                        "left_link_N",
                        "right_link_N",
                        "left_eye_mm",
                        "right_eye_mm",
                        "stress_MPa",
                        "off_square_deg",
                        "wheel_travel_with_play_mm",
                        "right_link_going_out_N",
                        "right_link_coming_back_N"};
    for (const auto& [name, points] : {std::pair{"roll", &curve_->roll}, {"one side", &curve_->one_side}})
        for (std::size_t i = 0; i < points->size(); ++i) {
            const bar::TravelPoint& at = (*points)[i];
            out.add(name)
                .add(at.travel[1] / curve_->link_per_wheel / units::mm, 2)
                .add(at.force[0], 1)
                .add(at.force[1], 1)
                .add(at.eye_travel[0] / units::mm, 3)
                .add(at.eye_travel[1] / units::mm, 3)
                .add(at.worst.von_mises / units::MPa, 1)
                .add(at.off_square / units::deg, 2);
            if (points == &curve_->roll)
                out.add(loop_.points[i].wheel_travel / units::mm, 2)
                    .add(loop_.points[i].loading, 1)
                    .add(loop_.points[i].unloading, 1);
            out.end_row();
        }
    return out.text();
}

} // namespace dervish::app
