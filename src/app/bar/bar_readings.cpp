#include "app/bar/bar_readings.h"
#include "core/edit/setups.h"
#include "core/say/bar_words.h"
#include "core/sure/bands.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/widgets/follow.h"
#include "app/words.h"
#include "core/study/choices.h"

#include <QMouseEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

namespace dervish::app {
namespace {
QColor pale(const QColor& c, double by) {
    const auto mix = [by](int v) { return static_cast<int>(v + by * (255 - v)); };
    return {mix(c.red()), mix(c.green()), mix(c.blue())};
}
} // namespace

BarReadings::BarReadings(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setAccessibleName(tr("Where the stiffness goes, eye ladder, formulas"));
    setMouseTracking(true);
    new Follow(document_, this, [this] { take_up(); });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
}

void BarReadings::show_axle(End end) {
    end_ = end;
    take_up();
}

const job::AxleSetup& BarReadings::assembly() const {
    const job::Setup& s = document_.computed().setup();
    return s[end_];
}

void BarReadings::showEvent(QShowEvent*) { take_up(); }

void BarReadings::take_up() {
    update();
    const job::AxleSetup& a = assembly();
    const job::AxleData& axle = document_.computed().vehicle()[end_];
    if (!isVisible() || (ladder_of_ == a && ladder_on_ == axle)) return;
    ladder_.clear();
    cells_.clear(); // of the ladder as it was painted
    if (!a.fitted) return;
    try {
        ladder_ = study::eye_ladder(a, axle);
        ladder_of_ = a;
        ladder_on_ = axle;
    } catch (const BadInput&) { // told at its field
    }
}

void BarReadings::paint_ledger(QPainter& p, const QRectF& room, const study::BarFigures& figures) {
    const Theme& t = theme();
    const bar::Ledger& l = figures.ledger;
    const QColor hue = axle_colour(end_), grey("#8A94A3");
    const auto shares = bar::parts(l);
    const QColor colours[] = {hue,
                              pale(hue, 0.25),
                              pale(hue, 0.48),
                              pale(hue, 0.68),
                              grey,
                              grey.lighter(115),
                              grey.lighter(135),
                              grey.darker(130),
                              pale(hue, 0.82)};
    struct Part {
        QString name;
        double share;
        QColor colour;
    };
    std::vector<Part> parts;
    for (std::size_t i = 0; i < shares.size(); ++i) // only tubes flatten
        if (i < 8 || shares[i].share > 0) parts.push_back({tr(shares[i].name), shares[i].share, colours[i]});
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft,
                room.width() < 220 ? tr("Where it gives") : tr("Where the stiffness goes"), 14, t.ink, true);
    paint::text_within(p, room.topLeft() + QPointF(0, 27), room.width(), tr("share of each part"), 13, t.soft);
    double x = room.left();
    for (const Part& part : parts) {
        const QRectF box(x, room.top() + 42, room.width() * part.share, 26);
        p.fillRect(box.adjusted(0, 0, -1, 0), part.colour);
        if (box.width() > 26)
            paint::text(p, {box.left() + 6, box.center().y()}, Qt::AlignLeft, QString::number(100 * part.share, 'f', 0),
                        13, part.colour.lightnessF() > 0.55 ? QColor("#1E2A38") : QColor("#FFFFFF"), true);
        x += box.width();
    }
    const int columns = room.width() < 300 ? 1 : 2; // a narrow window lists them below each other
    const double column = room.width() / columns, pitch = columns == 1 ? 14.5 : parts.size() > 8 ? 18 : 22;
    for (std::size_t part = 0; part < parts.size(); ++part) {
        const int i = static_cast<int>(part);
        const QPointF at(room.left() + (i % columns) * column,
                         room.top() + 88 - (columns == 1 ? 4 : 0) + (i / columns) * pitch);
        p.fillRect(QRectF(at - QPointF(0, 6), QSizeF(11, 11)), parts[part].colour);
        const QRectF share = paint::text(p, at + QPointF(column - (columns == 1 ? 2 : 14), 0), Qt::AlignRight,
                                         QString::number(100 * parts[part].share, 'f', 1) + " %", 13, t.ink);
        paint::text_within(p, at + QPointF(18, 0), share.left() - at.x() - 24, parts[part].name, 13, t.ink);
        shares_.push_back(QRectF(at - QPointF(0, pitch / 2), QSizeF(column - 8, pitch)));
    }
    const double lost = l.mounts + l.brackets + l.links();
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    if (columns == 2)
        paint::text(p, room.topLeft() + QPointF(0, 184), Qt::AlignLeft,
                    tr("Rigid mounts and links would give %1 %2 more.")
                        .arg(QString::fromStdString(
                                 units::fixed(figures.link_rate * lost / (1 - lost) / rate.factor, rate.decimals)),
                             qs(rate.symbol)),
                    13, t.soft);
}

void BarReadings::paint_ladder(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const job::AxleSetup& a = assembly();
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("Eye ladder"), 14, t.ink, true);
    paint::text_within(p, room.topLeft() + QPointF(0, 27), room.width(),
                       tr("%1 at the eye; click to use").arg(qs(rate.symbol)), 13, t.soft);
    const int n = static_cast<int>(ladder_.size());
    cells_.clear();
    const double w = width() < 760 ? 38 : 54, h = 26, left = room.left() + 48, top = room.top() + 62;
    for (int r = 0; r < n && r < 4; ++r) // from the outermost in
        paint::text(p, {left + r * (w + 4) + w / 2, top - 13}, Qt::AlignHCenter,
                    r == 0 ? tr("right 1") : QString::number(r + 1), 13, t.soft);
    for (int l = 0; l < n && l < 4; ++l) {
        paint::text(p, {room.left(), top + l * (h + 4) + h / 2}, Qt::AlignLeft, tr("left %1").arg(l + 1), 13, t.soft);
        for (int r = 0; r < n && r < 4; ++r) {
            const QRectF box(left + r * (w + 4), top + l * (h + 4), w, h);
            const bool used = l == a.left_eye && r == a.right_eye;
            paint::box(p, box, used ? t.selected : t.panel, used ? t.selected : t.rule);
            const double k = ladder_[static_cast<std::size_t>(l)][static_cast<std::size_t>(r)];
            paint::text(p, box.center(), Qt::AlignHCenter,
                        QString::fromStdString(units::fixed(k / rate.factor, rate.decimals)), 13,
                        used ? t.on_selected : t.ink, used);
            cells_.push_back({box, {l, r}});
        }
    }
    if (a.left_eye != a.right_eye)
        paint::text(p, room.topLeft() + QPointF(0, 184), Qt::AlignLeft, tr("Staggered: it also works in pure bump."),
                    13, t.soft);
}

void BarReadings::paint_formulas(QPainter& p, const QRectF& room, const study::BarFigures& figures) {
    const Theme& t = theme();
    const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("Three sums"), 14, t.ink, true);
    paint::text_within(p, room.topLeft() + QPointF(0, 27), room.width(), tr("%1 at the left eye").arg(qs(rate.symbol)),
                       13, t.soft);
    const std::pair<QString, double> rows[] = {{tr("twist only"), figures.twist_only},
                                               {tr("textbook"), figures.textbook},
                                               {tr("full frame"), figures.eye_rate}};
    double y = room.top() + 50;
    for (int i = 0; i < 3; ++i, y += 21) {
        paint::text(p, {room.left(), y}, Qt::AlignLeft, rows[i].first, 13, t.ink, i == 2);
        paint::text(p, {room.right(), y}, Qt::AlignRight,
                    QString::fromStdString(units::fixed(rows[i].second / rate.factor, rate.decimals)), 14, t.ink,
                    i == 2);
    }
    const QRectF rest(room.left(), y - 8, room.width(), room.top() + 178 - (y - 8));
    if (!paint::paragraph(p, rest, QString::fromStdString(say::why_sums_differ(figures)), 13, t.soft))
        paint::paragraph(p, rest, tr("Why they differ: the shares to the left."), 13, t.soft);
    paint::text_within(
        p, room.topLeft() + QPointF(0, 184), room.width(),
        tr("one side %1%2 · %3")
            .arg(QString::fromStdString(units::fixed(figures.one_side / rate.factor, rate.decimals)),
                 document_.band_text(study::FrontOneSide, end_, rate.factor, rate.decimals),
                 QString::fromStdString(units::text(figures.mass, units::Quantity::Mass, document_.units(), 2))),
        13, t.soft);
}

void BarReadings::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    p.setPen(QPen(theme().rule, 1));
    p.drawLine(0, 0, width(), 0);
    cells_.clear();
    shares_.clear();
    const study::Assessment& a = document_.looked();
    const auto& figures = a[end_];
    if (!figures) {
        paint::text(p, {20, 24}, Qt::AlignLeft,
                    tr("No bar, no stiffness to share out: the springs carry the roll alone."), 13, theme().soft);
        return;
    }
    const QRectF room = QRectF(rect()).adjusted(20, 14, -20, -8);
    const bool narrow = room.width() < 720;
    const double first = room.width() * (narrow ? 0.29 : 0.40),
                 second = 48 + (narrow ? 42 : 58) *
                                   std::clamp<double>(static_cast<double>(figures->laid.left_eye.size()), 2.2, 4),
                 gap = narrow ? 12 : 22;
    paint_ledger(p, QRectF(room.topLeft(), QSizeF(first, room.height())), *figures);
    paint_ladder(p, QRectF(room.left() + first + gap, room.top(), second, room.height()));
    const double third = room.left() + first + gap + second + gap;
    paint_formulas(p, QRectF(third, room.top(), room.right() - third, room.height()), *figures);
}

QString BarReadings::readout(QPointF at) const {
    for (const auto& [box, eyes] : cells_) {
        if (!box.contains(at)) continue;
        const double k = ladder_[static_cast<std::size_t>(eyes.first)][static_cast<std::size_t>(eyes.second)];
        const units::Unit rate = units::shown(units::Quantity::Rate, document_.units());
        const auto number = [&](double si) {
            return QString::fromStdString(units::fixed(si / rate.factor, rate.decimals));
        };
        QString words =
            tr("left eye %1, right eye %2\n%3 ± %4 %5")
                .arg(eyes.first + 1)
                .arg(eyes.second + 1)
                .arg(number(k), number(k * document_.relative_band(study::FrontRate, end_)), qs(rate.symbol));
        if (const auto& standard = document_.standard(end_))
            words += tr("\n× standard %1").arg(QString::fromStdString(units::fixed(k / standard->eye_rate, 2)));
        return words;
    }
    const auto& figures = document_.looked()[end_];
    for (std::size_t i = 0; figures && i < shares_.size(); ++i) {
        if (!shares_[i].contains(at)) continue;
        const bar::LedgerPart part = bar::parts(figures->ledger)[i];
        try {
            return tr("%1: %2 ± %3 % of the give")
                .arg(tr(part.name), QString::fromStdString(units::fixed(100 * part.share, 1)),
                     QString::fromStdString(units::fixed(100 * band_90 * sure::ledger_sigma(assembly())[i], 1)));
        } catch (const BadInput&) { // told at its field
        }
    }
    return {};
}

void BarReadings::mouseMoveEvent(QMouseEvent* event) {
    QToolTip::showText(event->globalPosition().toPoint(), readout(event->position()), this);
}

void BarReadings::mousePressEvent(QMouseEvent* event) {
    if (!document_.may_change()) return;
    for (const auto& [box, eyes] : cells_)
        if (box.contains(event->position()))
            document_.edit(tr("eyes"), {},
                           [this, e = eyes](job::Job& job) { edit::use_eyes(job, end_, e.first, e.second); });
}

} // namespace dervish::app
