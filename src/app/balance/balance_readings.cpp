#include "app/balance/balance_readings.h"
#include "core/say/balance_words.h"
#include "core/say/difference_words.h"
#include "core/sure/draws.h"

#include "app/paint/axes.h"
#include "app/shell/theme.h"
#include "app/words.h"

#include <QPainter>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
constexpr double per_g = units::g;

/// Follows the sums, and works them out when they are first looked at.
template <class W> void follow(W* widget, BalanceSums& sums) {
    QObject::connect(&sums, &BalanceSums::changed, widget, qOverload<>(&QWidget::update));
}
} // namespace

void paint_waiting(QPainter& p) {
    paint::text(p, {20, 18}, Qt::AlignLeft, QObject::tr("Being worked out …"), 14, theme().soft);
}

void paint_balance_beam(QPainter& p, QPointF middle, double half, double off, double size) {
    if (!std::isfinite(off)) return; // neither end gives up: the words say what happens
    const Theme& t = theme();
    const double tip = std::clamp(-off * 120, -14.0, 14.0), rise = std::tan(-tip * units::deg) * half;
    const QPointF front = middle + QPointF(-half, -rise), rear = middle + QPointF(half, rise);
    p.setPen(QPen(t.ink, 4, Qt::SolidLine, Qt::RoundCap));
    p.drawLine(front, rear);
    p.setPen(QPen(t.ink, 1.8));
    p.setBrush(t.ground);
    p.drawPolygon(QPolygonF{middle + QPointF(0, 3), middle + QPointF(11, 24), middle + QPointF(-11, 24)});
    for (const End end : both_ends) {
        p.setPen(Qt::NoPen);
        p.setBrush(axle_colour(end));
        const QPointF at = end == End::Front ? front : rear;
        p.drawEllipse(at, size, size);
        paint::text(p, at, Qt::AlignHCenter, end == End::Front ? QObject::tr("F") : QObject::tr("R"), 13, Qt::white,
                    true);
    }
}

QString change_words(const sure::Change& change, double unit, int decimals) {
    const double by = change.by / unit, half = change.half() / std::abs(unit);
    // A change that is more than its band is told to where it shows.
    while (decimals < 4 && std::max(std::abs(by), half) < 0.5 * std::pow(10, -decimals)) ++decimals;
    return QString("%1%2 ± %3")
        .arg(by < 0 ? "−" : "+", qs(units::fixed(std::abs(by), decimals)), qs(units::fixed(half, decimals)));
}

BalanceSums::BalanceSums(Document& document, QObject* parent)
    : QObject(parent), document_(document), both_([this] {
          ++edition_;
          emit changed();
      }) {
    connect(&document_, &Document::changed, this, &BalanceSums::forget);
}

void BalanceSums::forget() {
    stale_ = true;
    both_.stop();
    bands_.reset();
    phases_.reset();
    limit_change_.clear();
    steady_change_.clear();
    rocking_.reset();
    rocked_.reset();
    best_ = {};
}

void BalanceSums::set_ground(Ground ground) {
    if (ground == ground_) return;
    ground_ = ground;
    forget();
    ask();
}

void BalanceSums::ask() {
    if (!std::exchange(stale_, false)) return;
    const auto figures = [ground = ground_](const Result& of) {
        return study::balance_figures(of.vehicle(), of.setup(), of.figures->car, ground);
    };
    const bool trial = document_.look() == Look::Trial;
    both_.start(
        [figures, now = document_.computed(),
         fitted = trial ? std::optional(document_.computed(Look::Fitted)) : std::nullopt](const auto&) {
            Both out{figures(now), {}};
            if (fitted) out.fitted = figures(*fitted);
            return out;
        },
        [this, now = document_.computed(),
         fitted = trial ? std::optional(document_.computed(Look::Fitted)) : std::nullopt,
         ground = ground_](const Both& both, const auto& cancelled, const auto& post) {
            const sure::Bands bands = sure::limit_bands(now.vehicle(), now.setup(), ground, cancelled);
            if (cancelled()) return;
            const study::Rocking rocking = study::rocking(both.now.model);
            std::optional<study::Rocking> rocked;
            if (both.fitted) rocked = study::rocking(both.fitted->model);
            post([this, bands, rocking, rocked] {
                bands_ = bands;
                rocking_ = rocking;
                rocked_ = rocked;
                emit changed();
            });
            const auto tell_change = [&](std::vector<sure::Change> BalanceSums::*where,
                                         const std::function<sure::Question()>& question, int draws = 0) {
                if (!fitted || cancelled()) return;
                const auto found =
                    sure::drawn_changes(now.vehicle(), fitted->setup(), now.setup(), question, draws, cancelled);
                if (cancelled()) return;
                post([this, where, found] {
                    this->*where = found;
                    emit changed();
                });
            };
            const auto limit = [&] { return sure::limit(ground, sure::Near::FirstOrder); };
            tell_change(&BalanceSums::limit_change_, limit);
            const auto phases = sure::phase_bands(now.vehicle(), now.setup(), ground, cancelled);
            if (cancelled()) return;
            post([this, phases] {
                phases_ = phases;
                emit changed();
            });
            std::array<std::optional<sure::BestBarBand>, 2> best;
            for (const End end : both_ends)
                if (now.setup()[end].fitted && now.setup()[end].connected && !cancelled())
                    best[index(end)] = sure::best_bar(now.vehicle(), now.setup(), ground, end, cancelled);
            if (cancelled()) return;
            post([this, best] {
                best_ = best;
                emit changed();
            });
            tell_change(&BalanceSums::steady_change_, [&] { return sure::steady(ground); });
            tell_change(&BalanceSums::limit_change_, limit, 800);
        });
}

void BalanceSums::finish() {
    ask();
    both_.finish();
}

CurveReading::CurveReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums) {
    setObjectName("curve reading");
    setAccessibleName(tr("Who gives up first, and the handling curve"));
    follow(this, sums);
}

void CurveReading::set_turn(double lateral) {
    lateral_ = lateral;
    update();
}

namespace {
QString first_of(balance::Gives first) {
    static const QString ends[] = {QObject::tr("front"), QObject::tr("rear"), QObject::tr("tips"), QObject::tr("none")};
    return ends[static_cast<int>(first)];
}
} // namespace

QString phases_of(const BalanceSums& sums) {
    static const QString names[] = {QObject::tr("braking"), QString(), QObject::tr("under power"),
                                    QObject::tr("throttle lifted")};
    QStringList out;
    for (const std::size_t i : {0u, 2u, 3u})
        out << QObject::tr("%1: %2").arg(
            names[i], qs(say::brief(sums.now()->phase[i], sums.phases() ? &(*sums.phases())[i] : nullptr)));
    return out.join(" · ");
}

void CurveReading::paint_beam(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const study::BalanceFigures& f = *sums_.now();
    const double off = study::balance_of(f.limit());
    paint::text(p, {room.left(), room.top() + 8}, Qt::AlignLeft, tr("Who gives up first"), 14, t.ink, true);
    paint_balance_beam(p, room.topLeft() + QPointF(0.42 * room.width(), 54), 0.36 * room.width(), off, 15);
    struct Line {
        QString words, brief; ///< what stands there where there is no room for all of them; empty: nothing
        QColor colour;
        int pixels = 13;
        bool bold = false;
    };
    std::vector<Line> lines;
    const double sigma = sums_.bands() ? sums_.bands()->sigma[sure::LimitBalance] : 0;
    QString head = qs(say::sentence(f.limit(), say::chance_of_first(f.limit(), sigma)));
    if (sums_.bands()) { // the limit's band where it stands
        const QString limit = qs(units::fixed(f.limit().lateral / per_g, 2)),
                      band = qs(units::fixed(band_90 * sums_.bands()->sigma[sure::LimitLateral] / per_g, 2));
        head.replace(limit + " g", tr("%1 ± %2 g").arg(limit, band));
    }
    lines.push_back({head + ".", head + ".", t.ink, 14, true});
    if (sums_.bands()) {
        const double band = band_90 * sums_.bands()->sigma[sure::LimitBalance];
        const auto percent = std::lround(100 * band);
        if (std::abs(off) < band)
            lines.push_back(
                {tr("Which end is not sure: what differs between the ends leaves ± %1 %, what both share is "
                    "not in it.")
                     .arg(percent),
                 tr("Which end is not sure: ± %1 %.").arg(percent), t.caution});
    }
    if (sums_.fitted()) {
        balance::Limit fitted = sums_.fitted()->limit();
        if (fitted.turn == f.limit().turn) fitted.turn = balance::Turn::Left; // the turn is said above
        lines.push_back(
            {tr("Fitted: %1").arg(qs(say::sentence(fitted))),
             tr("Fitted: %1 g, %2").arg(qs(units::fixed(fitted.lateral / per_g, 2)), first_of(fitted.first)), t.soft});
        if (const auto& change = sums_.limit_change(); !change.empty()) {
            const sure::Change& by = change[sure::LimitLateral];
            const QString figure = change_words(by, per_g, 2), surely = qs(say::sure_words(by));
            lines.push_back({tr("Trial changes the limit by %1 g: %2.").arg(figure, surely),
                             tr("Trial: %1 g, %2").arg(figure, surely), t.soft});
        }
    }
    lines.push_back({phases_of(sums_), {}, t.soft}); // a small window tells these under Schools
    lines.push_back({qs(say::words_of(f.most_pull, 0.5 * f.limit().lateral)) + ".", {}, t.soft});
    QRectF box(room.left(), room.top() + 96, room.width(), room.height());
    const auto height_of = [&](const Line& line) {
        p.setFont(face(line.pixels, line.bold));
        return line.words.isEmpty() ? 0 : p.boundingRect(box, Qt::TextWordWrap, line.words).height() + 3;
    };
    double high = 0;
    for (const Line& line : lines) high += height_of(line);
    for (auto line = lines.rbegin(); box.top() + high > room.bottom() + 3 && line != lines.rend(); ++line) {
        high -= height_of(*line);
        line->words = line->brief;
        high += height_of(*line);
    }
    for (const Line& line : lines) {
        if (line.words.isEmpty()) continue;
        const double tall = height_of(line);
        p.setPen(line.colour);
        p.drawText(box, Qt::TextWordWrap, line.words);
        box.moveTop(box.top() + tall);
    }
}

void CurveReading::paint_curve(QPainter& p, const QRectF& room) {
    const Theme& t = theme();
    const study::BalanceFigures& f = *sums_.now();
    const double per_deg = units::deg;
    double wide = 0, low = 0, high = 0.5 * per_deg;
    const auto take = [&](const balance::Curve& c) {
        for (const balance::Corner& at : c.points) {
            wide = std::max(wide, at.lateral);
            low = std::min(low, at.steer);
            high = std::max(high, at.steer);
        }
    };
    take(f.curve);
    if (sums_.fitted()) take(sums_.fitted()->curve);
    if (f.curve.points.empty() || !(wide > 0)) { // it tips over, or does not stand
        paint::paragraph(p, room, tr("There is no bend that this car goes round, so there is no steering to be drawn."),
                         14, t.soft);
        return;
    }
    const double limit = f.limit().lateral;
    const double band = sums_.bands() && limit > 0 ? band_90 * sums_.bands()->sigma[sure::LimitLateral] / limit : 0;
    wide *= 1.06 + band;
    high *= 1.08;
    low *= 1.1;
    const paint::Axes at(room, {0, wide}, {low, high});
    p.setPen(QPen(t.ink, 1.2));
    p.drawLine(room.bottomLeft(), room.topLeft());
    p.drawLine(at(0, 0), at(wide, 0));
    for (double a = 0.2; a < wide / per_g; a += 0.2) at.under(p, a * per_g, qs(units::fixed(a, 1)));
    const double step = high - low > 6 * per_deg ? 2 : 1;
    for (double s = std::ceil(low / per_deg / step) * step; s < high / per_deg; s += step) {
        at.across(p, s * per_deg);
        at.beside(p, s * per_deg, qs(units::fixed(s, 0)));
    }
    const auto line = [&](const balance::Curve& c, double stretch) {
        QPolygonF out{at(0, 0)};
        for (const balance::Corner& point : c.points) out << at(point.lateral * stretch, point.steer);
        return out;
    };
    if (band > 0) { // surer or less sure of the grip: the whole curve stretches with it
        QPolygonF shade = line(f.curve, 1 - band), back = line(f.curve, 1 + band);
        std::reverse(back.begin(), back.end());
        QColor tint = t.front;
        tint.setAlphaF(0.14f);
        p.setPen(Qt::NoPen);
        p.setBrush(tint);
        p.drawPolygon(shade + back);
    }
    p.setBrush(Qt::NoBrush);
    if (sums_.fitted()) {
        p.setPen(paint::fitted_pen());
        p.drawPolyline(line(sums_.fitted()->curve, 1));
    }
    p.setPen(paint::now_pen(t.ink));
    p.drawPolyline(line(f.curve, 1));
    if (lateral_ < f.curve.points.back().lateral) {
        const auto next = std::find_if(f.curve.points.begin(), f.curve.points.end(),
                                       [&](const balance::Corner& c) { return c.lateral >= lateral_; });
        at.upright(p, lateral_, QPen(t.soft, 1, Qt::DotLine));
        p.setPen(Qt::NoPen);
        p.setBrush(t.ink);
        p.drawEllipse(at(next->lateral, next->steer), 4, 4);
    }
    paint::text_within(p, {room.left() - 20, room.top() - 26}, room.width() + 20, tr("Steering beyond the bend's own"),
                       14, t.ink);
    paint::text_within(p, {room.left() - 20, room.top() - 9}, room.width() + 20,
                       tr("° over lateral g · dashed: fitted · band 90 %"), 13, t.soft);
    paint::text_within(p, {room.left() - 20, room.bottom() + 30}, room.width() + 20,
                       f.understeer ? tr("understeer %1 °/g at 0.3 g (see Schools)")
                                          .arg(qs(units::fixed(f.understeer->whole * per_g / per_deg, 2)))
                                    : tr("no understeer gradient: it does not hold 0.3 g here"),
                       13, t.soft);
}

void CurveReading::paintEvent(QPaintEvent*) {
    paint::Canvas p(this);
    sums_.ask();
    if (!sums_.now()) return paint_waiting(p);
    const double split = 0.44 * width();
    paint_beam(p, QRectF(20, 10, split - 44, height() - 16));
    paint_curve(p, QRectF(split + 34, 42, width() - split - 58, height() - 42 - 46));
}

BarsReading::BarsReading(Document& document, BalanceSums& sums, QWidget* parent)
    : QWidget(parent), document_(document), sums_(sums), sweep_([this] { update(); }) {
    setObjectName("bars reading");
    setAccessibleName(tr("The limit with each bar from none to rigid"));
    follow(this, sums);
}

void BarsReading::work_out() {
    sums_.ask();
    if (!sums_.now() || std::exchange(swept_, sums_.edition()) == sums_.edition()) return;
    sweep_.start([model = sums_.now()->model](const auto&) {
        return std::array{study::sweep_bar(model, End::Front), study::sweep_bar(model, End::Rear)};
    });
}

void BarsReading::finish() {
    sums_.finish();
    work_out();
    sweep_.finish();
}

namespace {
double from_none_to_rigid(double factor) { return factor / (1 + factor); } // on one line

QString times_now(double factor) { return qs(say::times_now(factor)); }

QString way_of(const sure::BestBarBand& best) {
    const auto of_100 = [](double share) { return QString::number(std::lround(100 * share)); };
    const double share = std::max(best.less, best.more);
    const QString way = best.less > best.more ? QObject::tr("less") : QObject::tr("more");
    switch (sure::how_sure_by(share)) {
    case sure::Sure::Surely:
        return QObject::tr("surely %1: %2").arg(way, of_100(share));
    case sure::Sure::Probably:
        return QObject::tr("probably %1: %2").arg(way, of_100(share));
    case sure::Sure::CannotSay:
        break;
    }
    return QObject::tr("cannot say: %1 less, %2 more").arg(of_100(best.less), of_100(best.more));
}
} // namespace

/// Above the curves, the best of each bar and where the best of nine cars in ten is.
void BarsReading::paint_whiskers(QPainter& p, const paint::Axes& at) const {
    double y = at.room().top() + 9;
    for (const End end : both_ends) {
        if (!sums_.best(end)) continue;
        const sure::BestBarBand& best = *sums_.best(end);
        const auto x = [&](double factor) { return at(from_none_to_rigid(factor), 0).x(); };
        p.setPen(QPen(axle_colour(end), 3, end == End::Rear ? Qt::DotLine : Qt::SolidLine, Qt::FlatCap));
        p.drawLine(QPointF(x(best.least), y), QPointF(x(best.most), y));
        p.setPen(Qt::NoPen);
        p.setBrush(axle_colour(end));
        p.drawPolygon(QPolygonF{{x(best.factor), y + 6}, {x(best.factor) - 6, y - 6}, {x(best.factor) + 6, y - 6}});
        y += 15;
    }
}

double BarsReading::paint_words(QPainter& p, const QRectF& room, End end) const {
    const Theme& t = theme();
    const auto& sweep = (*sweep_.value())[index(end)];
    const job::AxleSetup& a = document_.looked_setup()[end];
    double y = room.top();
    const auto row = [&](const QString& what, const QString& value) {
        const QRectF v = paint::text(p, {room.right(), y}, Qt::AlignRight, value, 13, t.ink, true);
        paint::text_within(p, {room.left(), y}, v.left() - room.left() - 6, what, 13, t.soft);
        y += 18;
    };
    paint::text(p, {room.left(), y}, Qt::AlignLeft, end == End::Front ? tr("Front bar") : tr("Rear bar"), 14,
                axle_colour(end), true);
    y += 19;
    if (!a.fitted || !a.connected) {
        row(a.fitted ? tr("links off") : tr("none fitted"), {});
        return y;
    }
    if (sums_.best(end)) {
        const sure::BestBarBand& best = *sums_.best(end);
        row(tr("holds most at"),
            times_now(best.factor) + " (" + times_now(best.least) + tr(" to ") + times_now(best.most) + ")");
        row(tr("gains there"), qs(units::fixed(best.gain / per_g, 3)) + " (" +
                                   qs(units::fixed(best.least_gain / per_g, 3)) + "–" +
                                   qs(units::fixed(best.most_gain / per_g, 3)) + ") g");
        row(tr("of 100 cars"), way_of(best));
    } else {
        row(tr("the best and its band"), tr("being worked out …"));
    }
    const auto from_to = [](double none, double rigid, int decimals) {
        return qs(units::fixed(none, decimals)) + "–" + qs(units::fixed(rigid, decimals));
    };
    row(tr("lean · heads"), from_to(std::abs(sweep.front().limit.at.lean()) / units::deg,
                                    std::abs(sweep.back().limit.at.lean()) / units::deg, 1) +
                                "° · " + from_to(sweep.front().ride.head, sweep.back().ride.head, 2) + " m/s²");
    return y;
}

void BarsReading::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this);
    work_out();
    if (!sweep_.value()) return paint_waiting(p);
    const auto& sweeps = *sweep_.value();
    double least = 1e9, most = 0, leans = 0;
    for (const auto& sweep : sweeps)
        for (const study::BarPoint& point : sweep) {
            least = std::min(least, point.limit.lateral);
            most = std::max(most, point.limit.lateral);
            leans = std::max(leans, std::abs(point.limit.at.lean()));
        }
    const double pad = std::max(0.01 * per_g, 0.15 * (most - least));
    const double highest = most;
    least -= pad;
    most += pad + 0.2 * (most - least); // the whiskers stand there
    const double words = 264;
    const QRectF room(70, 34, width() - 70 - words - 40, height() - 34 - 44);
    const paint::Axes at(room, {0, 1}, {least, most});
    at.frame(p);
    for (const double f : {0.0, 0.5, 1.0, 2.0, 5.0, 1000.0}) {
        if (f == 0.5 && room.width() < 300) continue; // no room for the words beside it
        at.under(p, from_none_to_rigid(f), f == 1 ? tr("as now") : times_now(f));
    }
    at.upright(p, from_none_to_rigid(1), QPen(t.soft, 1, Qt::DotLine));
    for (const double level : {least + pad, highest}) at.beside(p, level, qs(units::fixed(level / per_g, 2)) + " g");
    paint::text(p, {20, 10}, Qt::AlignLeft,
                tr("How hard it corners with each bar from none to rigid, the other as it is"), 14, t.ink, true);
    double y = room.top() + 4;
    for (const End end : both_ends) {
        const auto& sweep = sweeps[index(end)];
        const auto place = [&](const study::BarPoint& point) {
            return at(from_none_to_rigid(point.factor), point.limit.lateral);
        };
        QPen pen = paint::now_pen(axle_colour(end));
        if (end == End::Rear) pen.setStyle(Qt::DashDotLine);
        at.line(p, sweep, place, pen);
        for (const study::BarPoint& point : sweep) {
            p.setPen(QPen(axle_colour(end), 1.4));
            p.setBrush(point.limit.first == balance::Gives::Front  ? theme().front
                       : point.limit.first == balance::Gives::Rear ? theme().rear
                                                                   : theme().caution);
            p.drawEllipse(place(point), 3.5, 3.5);
        }
        y = 6 + paint_words(p, QRectF(width() - words - 16, y, words, height() - y), end);
    }
    paint_whiskers(p, at);
    paint::text_within(p, {20, height() - 12.0}, width() - words - 60,
                       width() < 600 ? tr("dots: who gives up first")
                                     : tr("dots: who gives up first · above: the best, with its band"),
                       13, t.soft);
}

} // namespace dervish::app
