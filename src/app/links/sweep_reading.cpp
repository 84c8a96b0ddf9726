#include "app/links/sweep_reading.h"
#include "core/model/room.h"
#include "core/model/stand.h"
#include "core/study/assess.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/widgets/timing.h"
#include "app/words.h"
#include "store/csv_table.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
SweepReading::SweepReading(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("sweep reading");
    setAccessibleName(tr("The link through travel"));
    auto* later = new Later(this, [this] { update(); });
    connect(&document_, &Document::changed, this, [this, later] {
        stale_ = true;
        later->start();
    });
}

void SweepReading::show_end(End end, std::size_t side) {
    end_ = end;
    side_ = side;
    stale_ = true;
    update();
}

void SweepReading::set_travel(linkage::Mode mode, double own) {
    stale_ = stale_ || mode != mode_;
    mode_ = mode;
    own_ = own;
    update();
}

SweepReading::Points SweepReading::points_of(Look look) const {
    const Result& result = document_.computed(look);
    const auto& figures = (*result.figures)[end_];
    try {
        const auto sides = study::link_sides(result.setup()[end_], result.vehicle()[end_]);
        if (sides && figures && figures->sums.law)
            return study::through_travel((*sides)[side_], side_, *figures->sums.law, mode_, 81);
    } catch (const BadInput&) { // told at its field
    }
    return {};
}

void SweepReading::work_out() {
    if (!stale_) return;
    stale_ = false;
    now_ = points_of(document_.look());
    fitted_ = document_.look() == Look::Trial ? points_of(Look::Fitted) : Points();
    const job::Setup& setup = document_.computed().setup();
    const job::AxleData& axle = document_.computed().vehicle()[end_];
    const linkage::Room room = model::to_room(setup[end_], axle);
    const linkage::Reach reach = linkage::wheel_reach(room, mode_);
    droop_ = reach.droop;
    bump_ = reach.bump;
    contact_ = model::stop_gaps(setup[end_], axle).bump * bump_ / room.bump;
}

void SweepReading::paint_curve(QPainter& p, const QRectF& room, const Curve& curve) {
    const Theme& t = theme();
    const units::Unit unit = units::shown(curve.quantity, document_.units()),
                      length = units::shown(units::Quantity::Length, document_.units());
    const bool off_square = curve.quantity == units::Quantity::Angle && curve.from_zero;
    double low = curve.from_zero ? 0 : 1e9, high = off_square ? 95 * units::deg : -1e9;
    for (const Points* points : {&now_, &fitted_})
        for (const study::LinkPoint& point : *points) {
            low = std::min(low, curve.value(point));
            high = std::max(high, curve.value(point));
        }
    const bool angle = curve.quantity == units::Quantity::Angle;
    const int decimals = angle ? 1 : unit.decimals;
    const double least = angle                                       ? 4 * units::deg
                         : curve.quantity == units::Quantity::Number ? 0.1
                                                                     : 20; // no noise blown up
    if (high - low < least) {
        low -= least / 2;
        high += least / 2;
    }
    const double pad = off_square ? 0 : 0.06 * (high - low);
    low -= curve.from_zero ? 0 : pad;
    high += pad;
    const paint::Axes at(room, {-droop_, bump_}, {low, high});
    if (off_square) { // caution, and past the stop
        QColor tint = t.caution;
        tint.setAlphaF(0.10f);
        const QRectF caution(at(-droop_, high), at(bump_, linkage::caution_off_square)),
            stop(at(-droop_, high), at(bump_, linkage::stop_off_square));
        p.fillRect(caution, tint);
        tint.setAlphaF(0.5f);
        p.fillRect(stop, QBrush(tint, Qt::BDiagPattern));
    }
    at.frame(p);
    for (const double mark : {0.0, contact_}) // ride height, and where the bump stop is touched
        at.upright(p, mark, QPen(t.soft, 1, Qt::DotLine));
    const auto place = [&](const study::LinkPoint& point) { return at(point.travel, curve.value(point)); };
    at.line(p, fitted_, place, paint::fitted_pen());
    at.line(p, now_, place, paint::now_pen(axle_colour(end_)));
    QString here;
    const auto nearest = std::min_element(now_.begin(), now_.end(), [&](const auto& a, const auto& b) {
        return std::abs(a.travel - own_) < std::abs(b.travel - own_);
    });
    if (nearest != now_.end() && std::abs(nearest->travel - own_) < 0.02 * (droop_ + bump_)) {
        p.setPen(QPen(t.ink, 1.6));
        p.setBrush(t.panel);
        p.drawEllipse(at(nearest->travel, curve.value(*nearest)), 4, 4);
        here = qs(units::fixed(curve.value(*nearest) / unit.factor, decimals));
    }
    const QString symbol = qs(unit.symbol);
    const QRectF value = paint::text(p, {room.right(), room.top() - 11}, Qt::AlignRight, here, 13, t.ink, true);
    paint::text_within(p, {room.left() - 34, room.top() - 11}, value.left() - room.left() + 28,
                       curve.title + (symbol.isEmpty() ? "" : ", " + symbol), 13, t.soft);
    for (const double end : {low, high})
        at.beside(p, end,
                  qs(units::fixed(end / unit.factor, angle                              ? 0
                                                     : std::abs(end / unit.factor) < 10 ? 2
                                                                                        : 0)),
                  end == low ? -5 : 6);
    for (const auto& [travel, align] : {std::pair{-droop_, Qt::AlignLeft}, {bump_, Qt::AlignRight}})
        at.under(p, travel, qs(units::fixed(travel / length.factor, 0)), 12, align);
}

void SweepReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    work_out();
    if (now_.empty()) {
        paint::text(p, {20, 24}, Qt::AlignLeft, tr("No link to follow through its travel."), 13, theme().soft);
        return;
    }
    using units::Quantity;
    const Curve curves[] = {
        {tr("off square"), [](const auto& l) { return l.at.off_square; }, Quantity::Angle, true},
        {tr("arm, up"), [](const auto& l) { return l.attitude; }, Quantity::Angle, false},
        {tr("motion ratio"), [](const auto& l) { return std::abs(l.at.motion_ratio); }, Quantity::Number, false},
        {tr("bar force"), [](const auto& l) { return l.force; }, Quantity::Force, false}};
    const double each = (width() - 24) / 4.0;
    for (int i = 0; i < 4; ++i)
        paint_curve(p, QRectF(20 + i * each + 34, 32, each - 34 - 16, height() - 32 - 44), curves[i]);
    const QString symbol = qs(units::shown(units::Quantity::Length, document_.units()).symbol);
    paint::text_within(
        p, {20, height() - 12.0}, width() - 40,
        tr("over this wheel's travel, %1 · dashed: as fitted · dotted: ride height, bump stop · shaded: from 55°, "
           "stop at 70°")
            .arg(symbol),
        13, theme().soft);
}

std::string SweepReading::csv() {
    work_out();
    if (now_.empty()) return {};
    store::CsvTable out{"wheel_travel_mm", "off_square_deg", "off_pickup_deg", "attitude_deg",
                        "motion_ratio",    "aside_mm",       "wheel_force_N"};
    for (const study::LinkPoint& l : now_)
        out.add(l.travel / units::mm, 2)
            .add(l.at.off_square / units::deg, 3)
            .add(l.at.off_pickup / units::deg, 3)
            .add(l.attitude / units::deg, 3)
            .add(std::abs(l.at.motion_ratio), 4)
            .add(l.aside / units::mm, 3)
            .add(l.force, 1)
            .end_row();
    return out.text();
}

} // namespace dervish::app
