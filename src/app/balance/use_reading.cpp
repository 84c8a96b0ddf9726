#include "app/balance/use_reading.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/say/use_words.h"

#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double lean_unit = units::deg / units::g;

/// One line of what a use wants. `unit`: SI of what is shown.
struct Scale {
    QString what, below, above;
    study::Wanted wanted;
    double study::UseFigures::*figure;
    double unit;
    int decimals;
    QString symbol;
};
} // namespace

UseReading::UseReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), uses_([this] { update(); }) {
    setObjectName("use reading");
    setAccessibleName(tr("What the car's use wants, and where it stands"));
    connect(&sums, &BalanceSums::changed, this, qOverload<>(&QWidget::update));
}

void UseReading::work_out() {
    sums_.ask();
    if (!sums_.now() || std::exchange(done_, sums_.edition()) == sums_.edition()) return;
    const Result now = document_.computed(), fitted = document_.computed(Look::Fitted);
    uses_.start([now, fitted, both = sums_.fitted() != nullptr, model = sums_.now()->model,
                 ground = sums_.ground()](const auto& cancelled) {
        const auto of = [](const Result& r) { return study::use_figures(r.vehicle(), r.setup(), r.figures->car); };
        Uses out{of(now), both ? std::optional(of(fitted)) : std::nullopt, study::match_to_tyre(model, cancelled)};
        const auto own = std::ranges::find(out.match, 1.0, &study::Match::grip);
        if (own != out.match.end() && own->gain > 0)
            out.pair = sure::pair_band(now.vehicle(), now.setup(), ground, own->bars, cancelled);
        return out;
    });
}

void UseReading::finish() {
    sums_.finish();
    work_out();
    uses_.finish();
}

void UseReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    work_out();
    if (!uses_.value()) return paint_waiting(p);
    const double split = std::max(310.0, 0.58 * width());
    paint_scales(p, QRectF(20, 4, split - 40, height() - 8));
    paint_match(p, QRectF(split + 24, 4, width() - split - 44, height() - 8));
}

void UseReading::paint_scales(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const job::UseData& use = document_.computed().vehicle().use;
    const study::UseBands bands = study::bands_of(use);
    const say::UseWords words = say::words_of(use.use);
    const auto& [now, fitted, match, pair] = *uses_.value();
    const QRectF title = paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft,
                                     tr("Use: %1").arg(tr(words.name)), 14, t.ink, true);
    paint::text_within(p, {title.right() + 12, title.center().y()}, room.right() - title.right() - 12,
                       tr("chosen under Whole"), 13, t.soft);
    const Scale scales[] = {{tr("lean"), tr("too flat"), tr("leans too much"), bands.lean, &study::UseFigures::lean,
                             lean_unit, 1, tr("°/g")},
                            {tr("rear over front"), tr("front gives up too soon"), tr("rear gives up too soon"),
                             bands.balance, &study::UseFigures::balance, 0.01, 0, "%"},
                            {tr("heads, %1").arg(tr(name_of(bands.ground))),
                             {},
                             tr("tossed too much"),
                             bands.head,
                             &study::UseFigures::head,
                             1,
                             2,
                             tr("m/s²")},
                            {tr("reserve to tipping"),
                             tr("tips too soon"),
                             {},
                             bands.reserve,
                             &study::UseFigures::reserve,
                             units::g,
                             2,
                             "g"}};
    double y = room.top() + 38;
    const double step = (room.height() - 62) / 4;
    for (const Scale& s : scales) {
        const double value = now.*s.figure, was = fitted ? (*fitted).*s.figure : value;
        const auto number = [&](double v) {
            return std::isfinite(v) ? qs(units::fixed(v / s.unit, s.decimals)) : tr("any");
        };
        const int side = s.wanted.side(value);
        const QString verdict = side < 0 ? s.below : side > 0 ? s.above : tr("as it wants");
        const QRectF told =
            paint::text(p, {room.right(), y}, Qt::AlignRight,
                        std::isfinite(value) ? number(value) + (s.symbol == QString("°/g") ? "" : " ") + s.symbol
                                             : tr("never tips"),
                        14, side ? t.caution : t.ink, true);
        const QRectF label = paint::text(p, {room.left(), y}, Qt::AlignLeft, s.what, 13, t.ink);
        paint::text_within(p, {label.right() + 12, y}, told.left() - label.right() - 24, verdict, 13,
                           side ? t.caution : t.soft);
        // From a little below the least to a little above the most of what is to be seen.
        double low = s.figure == &study::UseFigures::balance ? -0.1 : 0, high = 0;
        for (const double v : {value, was, s.wanted.least, s.wanted.most})
            if (std::isfinite(v)) {
                low = std::min(low, v);
                high = std::max(high, v);
            }
        const double pad = 0.15 * (high - low);
        high += pad;
        if (low < 0) low -= pad;
        const auto across = [&](double v) {
            return room.left() + room.width() * std::clamp((v - low) / std::max(1e-12, high - low), 0.0, 1.0);
        };
        const double bar = y + 17;
        p.fillRect(QRectF(room.left(), bar - 3, room.width(), 6), t.panel);
        QColor band = t.ink;
        band.setAlpha(70);
        p.fillRect(QRectF(QPointF(across(s.wanted.least), bar - 3), QPointF(across(s.wanted.most), bar + 3)), band);
        if (fitted && std::isfinite(was)) {
            p.setPen(QPen(t.soft, 2, Qt::DashLine));
            p.drawLine(QPointF(across(was), bar - 9), QPointF(across(was), bar + 7));
        }
        p.setPen(Qt::NoPen);
        p.setBrush(side ? t.caution : t.ink);
        const double x = across(value);
        p.drawPolygon(QPolygonF{{x, bar + 3}, {x - 6, bar - 8}, {x + 6, bar - 8}});
        y += step;
    }
    p.setPen(t.soft);
    p.setFont(face(13));
    p.drawText(QRectF(room.left(), room.bottom() - 32, room.width(), 34), Qt::AlignLeft | Qt::TextWordWrap,
               tr(words.reason));
}

static constexpr double line_high = 17;

/// The lean at the limit as the tyres' grip grows, with these bars and with the pair that holds the most.
void UseReading::paint_match(QPainter& p, const QRectF& room) const {
    const Theme& t = theme();
    const auto& match = uses_.value()->match;
    if (match.size() < 2 || room.width() < 120) return;
    paint::text(p, room.topLeft() + QPointF(0, 8), Qt::AlignLeft, tr("Bars for the tyres"), 14, t.ink, true);
    double high = 0;
    for (const study::Match& m : match) high = std::max({high, std::abs(m.now.at.lean()), std::abs(m.best.at.lean())});
    const paint::Axes at(
        QRectF(room.left() + 26, room.top() + 40, room.width() - 26, room.height() - 62 - 5 * line_high),
        {match.front().grip - 0.05, match.back().grip + 0.05}, {0, 1.15 * high + 1e-9});
    at.frame(p);
    paint::text_within(p, {room.left(), room.top() + 28}, room.width(), tr("lean at the limit, °"), 13, t.soft);
    at.beside(p, 0, "0");
    at.beside(p, high, qs(units::fixed(high / units::deg, 1)));
    for (const study::Match& m : match)
        if (m.grip == match.front().grip || m.grip == 1 || m.grip == match.back().grip)
            at.under(p, m.grip, "× " + qs(units::trimmed(m.grip, 2)));
    at.line(
        p, match, [&](const study::Match& m) { return at(m.grip, std::abs(m.now.at.lean())); }, paint::now_pen(t.ink));
    for (const study::Match& m : match) {
        const QPointF dot = at(m.grip, std::abs(m.best.at.lean()));
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        p.drawEllipse(dot, 3.5, 3.5);
    }
    const auto own = std::ranges::find(match, 1.0, &study::Match::grip);
    if (own == match.end()) return; // stopped on the way
    QStringList lines{tr("tyres' grip; dots: best bars, every phase")};
    bool rim = false;
    for (const study::Match* m : {&match.front(), &*own, &match.back()}) {
        const sure::PairBand* band = m == &*own && uses_.value()->pair ? &*uses_.value()->pair : nullptr;
        lines << tr("× %1: %2").arg(qs(units::trimmed(m->grip, 2)), qs(say::words_of(*m, band)));
        rim = rim || std::max(m->bars.front, m->bars.rear) >= study::most_bar;
    }
    if (rim) lines << tr("stiffer than × %1 was not looked at").arg(qs(units::trimmed(study::most_bar, 0)));
    double y = room.bottom() - line_high * static_cast<double>(lines.size()) + 6;
    for (const QString& line : lines) {
        paint::text_within(p, {room.left(), y}, room.width(), line, 13, &line == &lines.front() ? t.soft : t.ink);
        y += line_high;
    }
}

} // namespace dervish::app
