#include "core/say/bar_words.h"
#include "app/bar/bar_drawing.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"

#include "app/bar/bar_shape.h"
#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/model/model.h"
#include "core/study/choices.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

/// What the bar's drawing says: heading, labels on the parts, and the figures of a part pointed at.
namespace dervish::app {
using Eigen::Vector3d;

/// The weakest place, told first: it is what a person must not miss.
void BarDrawing::label_weakest(QPainter& p, paint::Labels& labels, const Shape& shape,
                               const study::BarFigures& figures) {
    const auto system = document_.units();
    const job::AxleSetup& a = assembly();
    const QPointF weak = on_paper(shape.worst);
    const double reserve = shape.worst_stress > 0 ? a.bar.yield_strength.value / shape.worst_stress : 99;
    const job::AxleData& axle = document_.computed().vehicle()[end_];
    const study::Reserve first = study::reserves(a, figures, model::link_travel(a, axle, roll_)).front();
    const QString bar_words = reserve < 1 ? tr("yields here")
                                          : tr("%1 here, reserve %2")
                                                .arg(first.part == "bar" ? tr("weakest") : tr("steel's worst"),
                                                     QString::fromStdString(units::fixed(std::min(reserve, 99.0), 1)));
    const QString rest =
        first.part == "bar"
            ? tr("%1 of %2 yield")
                  .arg(QString::fromStdString(units::text(shape.worst_stress, units::Quantity::Stress, system, 0)),
                       QString::fromStdString(
                           units::text(a.bar.yield_strength.value, units::Quantity::Stress, system, 0)))
            : tr("the %1 is weaker: reserve %2")
                  .arg(QString::fromStdString(first.part),
                       QString::fromStdString(units::fixed(std::min(first.reserve(), 99.0), 1)));
    labels.place(p, weak, bar_words, rest);
}

void BarDrawing::paint_labels(QPainter& p, const Shape& shape, const study::BarFigures& figures) {
    const auto system = document_.units();
    const auto length = [&](double si, int decimals) {
        return QString::fromStdString(units::text(si, units::Quantity::Length, system, decimals));
    };
    const job::AxleSetup& a = assembly();
    const bool metric = system == units::System::Metric;
    QPolygonF drawn;
    for (const auto& point : shape.line) { // close enough together that no label slips between
        const QPointF next = on_paper(point.place);
        if (!drawn.isEmpty()) drawn << (drawn.last() + next) / 2;
        drawn << next;
    }
    for (std::size_t side = 0; side < 2; ++side) { // and the links
        const auto& eyes = side == 0 ? shape.left_eyes : shape.right_eyes;
        const QPointF from = on_paper(eyes[static_cast<std::size_t>(shape.eye[side])]),
                      to = on_paper(shape.link_ends[side]);
        for (double part = 0; part <= 1; part += 0.1) drawn << from + part * (to - from);
    }
    paint::Labels labels(QRectF(rect()).adjusted(12, 94, -12, -26), drawn);
    labels.keep_clear(QRectF(width() - 235, 0, 235, 136)); // the figures
    const auto middle = shape.line.size() / 2;
    handle_ = on_paper(shape.line[middle].place);
    const double dsigma = a.bar.outer_diameter.sigma;
    const QString wall =
        a.bar.wall.value > 0 ? tr("tube, wall %1").arg(length(a.bar.wall.value, metric ? 1 : 3)) : tr("solid");
    const auto share = [](double part) { return QString::fromStdString(units::fixed(100 * part, 0)); };
    const bar::Ledger& ledger = figures.ledger;
    const bool low = height() < 340; // a small window keeps what the fields beside it do not say
    if (a.connected) label_weakest(p, labels, shape, figures);
    if (!low)
        labels.place(
            p, handle_,
            tr("%1 ± %2, %3")
                .arg(length(a.bar.outer_diameter.value, metric ? 2 : 3),
                     QString::fromStdString(
                         units::trimmed(dsigma / units::shown(units::Quantity::Length, system).factor, metric ? 2 : 4)),
                     wall),
            tr("centre: twist %1 %, bend %2 % of the give").arg(share(ledger.twist_centre), share(ledger.bend_centre)));

    if (shape.clamped) {
        labels.place(p, on_paper(shape.left_eyes[0]), tr("clamped to the trailing arm"), tr("no mounts, no links"));
    } else if (!low) {
        const QPointF mount = on_paper(shape.mounts[0]);
        labels.place(
            p, mount + QPointF(0, 14),
            tr("mount %1")
                .arg(QString::fromStdString(units::text(a.mounts.vertical.value, units::Quantity::Rate, system, 0))),
            tr("bushes and brackets take %1 %").arg(share(ledger.mounts + ledger.brackets)));

        const QPointF at = on_paper(shape.right_eyes[static_cast<std::size_t>(shape.eye[1])]);
        labels.place(p, at,
                     tr("eye %1, arm %2")
                         .arg(a.right_eye + 1)
                         .arg(length(model::arm_to(a, figures.laid, false, a.right_eye), metric ? 0 : 2)),
                     tr("arms: bend %1 %, twist %2 %").arg(share(ledger.bend_arms), share(ledger.twist_arms)));
        const QPointF link =
            (on_paper(shape.left_eyes[static_cast<std::size_t>(shape.eye[0])]) + on_paper(shape.link_ends[0])) / 2;
        labels.place(p, link,
                     a.connected ? tr("link %1 at this roll")
                                       .arg(QString::fromStdString(units::text(std::abs(shape.link_force[0]),
                                                                               units::Quantity::Force, system, 0)))
                                 : tr("link off: tie it up or take it off"),
                     tr("links and joints take %1 %").arg(share(ledger.links())));
    }
}

void BarDrawing::paint_heading(QPainter& p, const study::BarFigures* figures) {
    const Theme& t = theme();
    const job::AxleSetup& a = assembly();
    const QRectF name = paint::text(p, {20, 58}, Qt::AlignLeft, end_ == End::Front ? tr("Front bar") : tr("Rear bar"),
                                    17, axle_colour(end_), true);
    paint::text(p, {name.right() + 10, 59}, Qt::AlignLeft, QString::fromStdString(a.bar.name), 13, t.soft);
    paint::text(p, {20, 80}, Qt::AlignLeft,
                tr("at %1 of body roll, right side down")
                    .arg(QString::fromStdString(units::text(roll_, units::Quantity::Angle, units::System::Metric, 1))),
                13, t.soft);
    if (!figures) return;
    const auto& before = this->figures(true);
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    const QString unit = qs(rate.symbol);
    const auto fixed = [&](double si, int decimals) {
        return QString::fromStdString(units::fixed(si / rate.factor, decimals));
    };
    const double right = width() - 20;
    paint::text(p, {right, 20}, Qt::AlignRight,
                a.held == job::Held::Clamped ? tr("roll-mode rate at the arms' ends")
                                             : tr("roll-mode rate at the eye, links apart"),
                13, t.soft);
    paint::text(p, {right, 46}, Qt::AlignRight, fixed(figures->eye_rate, rate.decimals), 30,
                document_.old() ? t.soft : axle_colour(end_), true);
    const auto band = [&](study::Outcome of_front, double factor, int decimals) {
        return document_.band_text(of_front, end_, factor, decimals);
    };
    paint::text(p, {right, 70}, Qt::AlignRight, unit + band(study::FrontRate, rate.factor, rate.decimals), 13, t.soft);
    const auto row = [&](double y, const QString& what, const QString& value) {
        const QRectF v = paint::text(p, {right, y}, Qt::AlignRight, value, 13, t.ink, true);
        paint::text(p, {std::min(v.left() - 8, right - 122), y}, Qt::AlignRight, what, 13, t.soft);
    };
    row(90, tr("at the wheel"),
        fixed(figures->wheel_rate, rate.decimals) + band(study::FrontWheelRate, rate.factor, rate.decimals) + " " +
            unit);
    const units::Unit stiffness = units::shown(units::Quantity::TorsionalRate, document_.units());
    row(108, tr("on the car"),
        QString::fromStdString(units::fixed(figures->roll_stiffness / stiffness.factor, 0)) +
            band(study::FrontRollStiffness, stiffness.factor, 0) + " " + qs(stiffness.symbol));
    if (const auto& standard = document_.standard(end_))
        row(126, tr("times standard"), QString::fromStdString(units::fixed(figures->eye_rate / standard->eye_rate, 2)));
    else if (before && document_.look() == Look::Trial)
        row(126, tr("times Fitted"), QString::fromStdString(units::fixed(figures->eye_rate / before->eye_rate, 2)));
}

QString BarDrawing::readout(QPointF at) const {
    const auto& now = figures(false);
    if (!now || line_.empty() || spots_.empty()) return {};
    const job::AxleSetup& a = assembly();
    const auto system = document_.units();
    const auto with_band = [&](double si, double sigma, units::Quantity quantity) {
        const units::Unit unit = units::shown(quantity, system);
        const int decimals = unit.decimals + (quantity == units::Quantity::Length ? 1 : 0);
        const QString band = sigma > 0
                                 ? " ± " + QString::fromStdString(units::fixed(band_90 * sigma / unit.factor, decimals))
                                 : QString();
        return QString::fromStdString(units::fixed(si / unit.factor, decimals)) + band + " " + qs(unit.symbol);
    };
    const auto share = [](double part) { return QString::fromStdString(units::fixed(100 * part, 1)) + " %"; };
    const auto relative = [&](study::Outcome of_front) { // sigma over the value
        return document_.relative_band(of_front, end_) / band_90;
    };
    const auto of_standard = [&]() -> QString {
        const auto& standard = document_.standard(end_);
        return standard ? tr("\n× standard %1")
                              .arg(QString::fromStdString(units::fixed(now->eye_rate / standard->eye_rate, 2)))
                        : QString();
    };
    const auto spot = std::min_element(spots_.begin(), spots_.end(), [at](const Spot& x, const Spot& y) {
        return QLineF(x.place, at).length() < QLineF(y.place, at).length();
    });
    const bar::Ledger& l = now->ledger;
    if (QLineF(spot->place, at).length() < 13) {
        if (spot->what == "mounts")
            return tr("%1 mount\nbush, vertical %2\nbushes give %3, brackets %4 of the whole")
                .arg(spot->index == 0 ? tr("left") : tr("right"),
                     with_band(a.mounts.vertical.value, a.mounts.vertical.sigma, units::Quantity::Rate),
                     share(l.mounts), share(l.brackets));
        if (spot->what == "links") {
            const double force = std::abs(link_force_[spot->index]);
            return tr("%1 link\n%2 at this roll\nlinks and joints give %3 of the whole")
                .arg(spot->index == 0 ? tr("left") : tr("right"),
                     with_band(force, force * relative(study::FrontWheelRate), units::Quantity::Force),
                     share(l.links()));
        }
        const bool left = spot->what.startsWith("left");
        const double arm = model::arm_to(a, now->laid, left, spot->index);
        const bool sizes = a.bar.form == job::Form::Sizes;
        const double sigma = sizes ? a.bar.eyes[static_cast<std::size_t>(spot->index)].arm_length.sigma : 0;
        QString words = tr("%1, %2\narm %3")
                            .arg(spot->what)
                            .arg(spot->index + 1)
                            .arg(with_band(arm, sigma, units::Quantity::Length));
        try {
            const auto ladder = study::eye_ladder(a, document_.computed().vehicle()[end_]);
            const auto i = static_cast<std::size_t>(spot->index);
            if (i < ladder.size() && i < ladder[i].size()) // arms may have unlike numbers of eyes
                words +=
                    tr("\nboth sides there: %1")
                        .arg(with_band(ladder[i][i], ladder[i][i] * relative(study::FrontRate), units::Quantity::Rate));
        } catch (const BadInput&) { // told at its field
        }
        return words + (spot->index == (left ? a.left_eye : a.right_eye) ? of_standard() : QString());
    }
    const auto inside = std::min_element(line_.begin(), line_.end(), [at](const Inside& x, const Inside& y) {
        return QLineF(x.place, at).length() < QLineF(y.place, at).length();
    });
    if (QLineF(inside->place, at).length() > 12) return {};
    const double reserve = a.bar.yield_strength.value / std::max(1.0, inside->stress);
    return tr("bar %1\n%2 from its left end\n%3 there, reserve %4 ± %5\nrate at the eye %6")
               .arg(with_band(a.bar.outer_diameter.value, a.bar.outer_diameter.sigma, units::Quantity::Length),
                    QString::fromStdString(units::text(inside->along, units::Quantity::Length, system, 0)),
                    QString::fromStdString(units::text(inside->stress, units::Quantity::Stress, system, 0)),
                    QString::fromStdString(units::fixed(std::min(99.0, reserve), 1)),
                    QString::fromStdString(
                        units::fixed(std::min(99.0, band_90 * reserve * relative(study::FrontYieldTravel)), 1)),
                    with_band(now->eye_rate, now->eye_rate * relative(study::FrontRate), units::Quantity::Rate)) +
           of_standard();
}

} // namespace dervish::app
