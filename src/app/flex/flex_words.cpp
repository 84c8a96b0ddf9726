#include "core/say/flex_words.h"
#include "app/flex/flex_drawing.h"
#include "app/flex/flex_station.h"
#include "app/words.h"
#include "core/say/bar_words.h"
#include "core/study/flex.h"
#include "core/study/use.h"
#include "core/sure/bands.h"
#include "core/sure/compare.h"

#include <QLabel>
#include <QPushButton>
#include <QSlider>
#include <algorithm>
#include <cmath>

/// What the Flex station says.
namespace dervish::app {

QString FlexStation::band_words() const {
    if (!sums_->bands()) return {};
    if (sums_->shown() && !sums_->shown()->ascent.lifted) return {}; // a bound has no band
    const units::Unit unit =
        units::shown(slope() ? units::Quantity::Angle : units::Quantity::Length, document_.units());
    const sure::Sides sides = sums_->bands()->sides(sure::Reach);
    const int decimals = slope() || document_.units() != units::System::Metric ? 1 : 0;
    return " " +
           qs(say::band_text(sums_->shown() ? sums_->shown()->ascent.height / unit.factor : 0,
                             {sides.below / unit.factor, sides.above / unit.factor}, decimals)) +
           (slope() ? "" : " ") + qs(unit.symbol);
}

void FlexStation::tell_why() {
    const auto& all = sums_->all();
    QString text = "<b>" + tr("Why it stops here") + "</b>";
    int number = 1;
    for (const std::string& words : say::why(sums_->protocol(), all, document_.units()))
        text += QString("<p style='margin: 2px 0'><b>%1</b> %2.</p>").arg(number++).arg(qs(words).toHtmlEscaped());
    if (const auto& change = sums_->change()) {
        const auto quantity = slope() ? units::Quantity::Angle : units::Quantity::Length;
        const units::Unit unit = units::shown(quantity, document_.units());
        const int decimals = slope() || document_.units() != units::System::Metric ? 1 : 0;
        const QString sign = change->by < 0 ? tr("less") : tr("more");
        const auto size = [&](double si) { return qs(units::fixed(std::abs(si) / unit.factor, decimals)); };
        const QString by = tr("%1 ± %2 %3").arg(size(change->by), size(change->half()), qs(unit.symbol));
        const sure::Sure how = sure::how_sure(*change);
        text += "<p style='margin: 2px 0'>" +
                (how == sure::Sure::CannotSay
                     ? tr("Against Fitted: nobody can say whether more or less (%1 %2).").arg(by, sign)
                 : how == sure::Sure::Surely ? tr("Against Fitted: %1 %2, surely.").arg(by, sign)
                                             : tr("Against Fitted: %1 %2, probably.").arg(by, sign)) +
                "</p>";
    }
    why_->setText(text);
    const study::FlexResult* shown = sums_->shown();
    leave_->setText(sums_->chosen() == 0 ? tr("All of them again") : tr("Leave it out"));
    leave_->setEnabled(sums_->chosen() > 0 || sums_->left_any_out());
    put_->setEnabled(shown && sums_->chosen() > 0 && !(sums_->has_other() && sums_->chosen() + 1 == all.size()));
    if (!shown) return;
    const double track = weight_->value() / 100.0;
    QStringList order;
    for (const std::size_t i : study::ranked(all, track)) order << qs(say::name_of(all[i].of, document_.units()));
    best_->setText(tr("Best so weighed: <b>%1</b>, then %2")
                       .arg(order[0].toHtmlEscaped(), order.size() > 1 ? order[1].toHtmlEscaped() : tr("nothing")));
    const auto deg = [](double a) { return qs(units::fixed(a / units::deg, 1)) + "°"; };
    const QString ground = tr(name_of(study::bands_of(document_.job().vehicle.use).ground));
    const auto told = [&](const study::RoadCost& r) {
        const QString slope = r.tips ? deg(*r.tips) : tr("more than 60°");
        if (!std::isfinite(r.roll_gradient)) return tr("tips before 0.3 g, and on a slope of %1").arg(slope);
        const QString lane = tr("a lane change of %1 g at %2")
                                 .arg(qs(units::fixed(r.lane.lateral / units::g, 2)),
                                      qs(units::text(r.lane.speed, units::Quantity::Speed, document_.units(), 0)));
        return tr("leans %1/g, %2, tosses heads by %4 m/s² on %5 ground, tips on a slope of %3")
            .arg(deg(r.roll_gradient * units::g),
                 std::isfinite(r.lane_lean) ? tr("%1 in %2").arg(deg(r.lane_lean), lane) : tr("cannot do %1").arg(lane),
                 slope, qs(units::fixed(r.head, 2)), ground);
    };
    QString road = tr("On the road <b>%1</b> %2")
                       .arg(qs(say::name_of(shown->of, document_.units())).toHtmlEscaped(), told(shown->road));
    if (sums_->fitted()) road += tr(". Fitted %1").arg(told(sums_->fitted()->road));
    road += ".";
    if (all.size() > 1 && std::all_of(all.begin(), all.end(), [&](const study::FlexResult& r) {
            return r.road.tips && all[0].road.tips && std::abs(*r.road.tips - *all[0].road.tips) < 0.75 * units::deg;
        }))
        road +=
            tr(" All of them tip on nearly the same slope: track and height of mass decide it, a bar only how far the "
               "car leans on the way.");
    road_->setText(road);
}

void FlexStation::tell_wheels() {
    if (group_ != ground_group || !sums_->shown()) return;
    const auto length = [&](double m) { return qs(units::text(m, units::Quantity::Length, document_.units(), 0)); };
    const auto limit = [&](const study::CornerLimit& l) {
        return l.left <= 0 ? tr("%1, reached").arg(qs(l.what)) : tr("%1 in %2").arg(qs(l.what), length(l.left));
    };
    QString text = tr("<b>Wheel by wheel</b>");
    std::size_t lowest = 0;
    const auto& corner = drawing_->corner();
    for (std::size_t w = 0; w < 4; ++w) {
        const study::Corner& c = corner[w];
        if (c.load < corner[lowest].load) lowest = w;
        text += QString("<p style='margin: 2px 0'><b>%1</b> %2. %3; %4.</p>")
                    .arg(tr(car::wheel_names[w]), qs(units::text(c.load, units::Quantity::Force, document_.units(), 0)),
                         tr("Tyre %1 above level, %2 under it").arg(length(c.height), length(c.gap)),
                         tr("first %1, next %2").arg(limit(c.first()), limit(c.limits[1])));
    }
    text += "<p style='margin: 4px 0'>" +
            tr("Least load: %1, %2. What it can drive by is no more than that load allows; a differential may "
               "share it, which is not promised here.")
                .arg(tr(car::wheel_names[lowest]),
                     qs(units::text(corner[lowest].load, units::Quantity::Force, document_.units(), 0))) +
            "</p>";
    wheels_->setText(text);
}

QString FlexStation::caution_words() const {
    return tr(
        "Tie its links up or take them off; check hoses and shafts at full droop. It lowers the rollover stability, "
        "and "
        "a lift or a roof load lowers it more. Ramps on firm ground, wheels chocked, nobody beneath. Public-road rules "
        "and the maker decide what may be driven without.");
}

} // namespace dervish::app
