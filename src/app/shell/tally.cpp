#include "app/shell/tally.h"
#include "core/say/balance_words.h"
#include "core/say/bar_words.h"
#include "core/study/assess.h"
#include "core/sure/questions.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"
#include "app/words.h"
#include "core/study/balance.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <cmath>

namespace dervish::app {
namespace {
using say::Figure;

/// How a figure stands in the strip.
struct Shown {
    QString label;
    double value, change; ///< in `unit`
    sure::Sides band;     ///< the same; 0: not known
    int decimals;
    QString unit, prefix, warning;
    bool positive = true; ///< always: its band may be told in the logarithm
};

/// What Trial changes of it and the unit that it is shown in.
struct Changed {
    sure::Change change; ///< by 0 while it is not known
    double unit = 1;
};
Changed changed(const Document& d, Figure figure) {
    if (!d.changes()) return {};
    const double length = units::shown(units::Quantity::Length, d.units()).factor;
    const auto of = [&](std::size_t compared, double unit) { return Changed{(*d.changes())[compared], unit}; };
    switch (figure) {
    case Figure::Roll:
        return of(study::RollGradient, units::deg / units::g);
    case Figure::Share:
        return of(study::FrontShare, 0.01);
    case Figure::Limit:
        return of(sure::ComparedLimit, units::g);
    case Figure::Heads:
        return of(sure::ComparedHeads, 1);
    case Figure::Lift:
        return of(study::LiftHeight, length);
    case Figure::FrontTravel:
        return of(study::FrontTravel, length);
    case Figure::RearTravel:
        return of(study::RearTravel, length);
    case Figure::LinkMargin:
        return of(study::LinkMargin, units::deg);
    }
    return {};
}

Shown shown_figure(const Document& d, Figure figure) {
    const study::Assessment &now = d.looked(), &before = d.fitted();
    const auto band = [](const sure::Bands* bands, std::size_t outcome, double unit) {
        const sure::Sides sides = bands ? bands->sides(outcome) : sure::Sides{};
        return sure::Sides{sides.below / unit, sides.above / unit};
    };
    const auto of = [&](const char* label, study::Outcome outcome, double unit, int decimals, QString symbol) {
        return Shown{label,
                     now.outcomes[outcome] / unit,
                     (now.outcomes[outcome] - before.outcomes[outcome]) / unit,
                     band(d.bands(), outcome, unit),
                     decimals,
                     std::move(symbol),
                     {},
                     {}};
    };
    const units::Unit length = units::shown(units::Quantity::Length, d.units());
    const QString symbol = qs(length.symbol);
    const int decimals = d.units() == units::System::Metric ? 0 : 1;
    switch (figure) {
    case Figure::Roll: {
        Shown out = of("roll", study::RollGradient, units::deg / units::g, 1, "°/g");
        if (std::isfinite(out.value)) return out;
        const auto& tips = now.tips;
        out.warning = tips ? QObject::tr("tips at %1 g %2")
                                 .arg(QString::fromStdString(units::fixed(tips->acceleration / units::g, 2)),
                                      QObject::tr(car::turn_that_lifts(tips->wheel)))
                           : QObject::tr("does not stand");
        return out;
    }
    case Figure::Share:
        return of("front share", study::FrontShare, 0.01, 1, "%");
    case Figure::Limit: {
        static const QString label[] = {QObject::tr("front gives up"), QObject::tr("rear gives up"),
                                        QObject::tr("tips over"), QObject::tr("grip beyond")};
        const balance::Limit& l = d.limit();
        Shown out{label[static_cast<int>(l.first)],
                  l.lateral / units::g,
                  (l.lateral - d.fitted_limit().lateral) / units::g,
                  band(d.limit_bands(), sure::LimitLateral, units::g),
                  2,
                  "g",
                  {},
                  {}};
        if (const sure::Bands* bands = d.limit_bands();
            bands && say::chance_of_first(l, bands->sigma[sure::LimitBalance]) < 0.8)
            out.label = QObject::tr("either gives up");
        if (l.turn == balance::Turn::Right) // as short as the narrowest window asks
            out.label = QObject::tr("%1, right turn").arg(out.label.section(' ', 0, 0));
        if (l.first == balance::Gives::Tips) out.warning = QObject::tr("before its tyres slide");
        return out;
    }
    case Figure::Heads:
        return {QObject::tr("heads tossed"),
                d.heads(),
                d.heads() - d.fitted_heads(),
                band(d.heads_bands(), 0, 1),
                2,
                "m/s²",
                {},
                {}};
    case Figure::Lift: {
        Shown out = of("lifts on ramps at", study::LiftHeight, length.factor, decimals, symbol);
        if (!now.ascent.lifted) { // a bound has no band
            out.prefix = "> ";
            out.band = {};
        }
        return out;
    }
    case Figure::FrontTravel:
        return of("flex front", study::FrontTravel, length.factor, decimals, symbol);
    case Figure::RearTravel:
        return of("flex rear", study::RearTravel, length.factor, decimals, symbol);
    case Figure::LinkMargin: {
        const auto least = study::smallest_link_margin(d.computed().setup(), now),
                   was = study::smallest_link_margin(d.computed(Look::Fitted).setup(), before);
        if (!least) return {"link margin", std::numeric_limits<double>::infinity(), 0, {}, 0, {}, {}, {}};
        Shown out = of("link margin", study::LinkMargin, units::deg, 0, "°");
        out.change = was ? (least->first.left - was->first.left) / units::deg : 0;
        out.positive = false;
        if (least->first.left < 0)
            out.warning = QObject::tr("past its stop");
        else if (least->first.left < linkage::stop_off_square - linkage::caution_off_square)
            out.warning = QObject::tr("near its stop");
        return out;
    }
    }
    return {};
}

QString number(const Shown& s) {
    return std::isfinite(s.value) ? s.prefix + QString::fromStdString(units::fixed(s.value, s.decimals))
                                  : QString("none");
}

constexpr int count = static_cast<int>(std::size(say::all_figures));
} // namespace

Tally::Tally(Document& document, QWidget* parent) : QWidget(parent), document_(document) {
    setObjectName("tally");
    setFixedHeight(76);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Tally: the figures that decide"));
    connect(&document_, &Document::changed, this, [this] {
        announce();
        update();
    });
    connect(&document_, &Document::bands_changed, this, qOverload<>(&QWidget::update));
    announce();
}

QString Tally::value(say::Figure figure) const {
    return job::open_guess(document_.job()) ? tr("hidden") : number(shown_figure(document_, figure));
}

void Tally::announce() {
    QStringList words;
    if (job::open_guess(document_.job())) {
        setAccessibleDescription(tr("hidden while a guess is open"));
        setToolTip(tr("Hidden while a guess is open: see Prove."));
        return;
    }
    for (Figure f : say::all_figures) {
        const Shown s = shown_figure(document_, f);
        words << s.label + " " + number(s) + " " + s.unit;
    }
    setAccessibleDescription(words.join("; "));
    setToolTip(tr("Click a figure to go where it is explained; press W for its working."));
}

int Tally::figure_at(QPointF place) const {
    return std::clamp(static_cast<int>(place.x() / (width() / static_cast<double>(count))), 0, count - 1);
}

void Tally::paintEvent(QPaintEvent*) {
    const Theme& t = theme();
    paint::Canvas p(this, t.strip);
    const double each = width() / static_cast<double>(count);
    if (const job::PlannedTest* open = job::open_guess(document_.job())) {
        paint::text_within(
            p, {20, height() / 2.0}, width() - 40,
            tr("Hidden while the guess of “%1” is open. Click to go there.").arg(QString::fromStdString(open->name)),
            16, t.on_strip, true);
        return;
    }
    const bool old = document_.old(), narrow = each < 150, tight = each < 175;
    const double gap = tight ? 4 : 8;
    const int small = tight ? 12 : 13;
    for (int i = 0; i < count; ++i) {
        const Shown s = shown_figure(document_, say::all_figures[i]);
        const double x = i * each + (narrow ? 9 : tight ? 13 : 18);
        if (i > 0) {
            p.setPen(QPen(t.strip_soft, 0.6));
            p.drawLine(QPointF(i * each, 12), QPointF(i * each, height() - 12));
        }
        if ((hasFocus() && i == asked_) || i == hovered_) {
            p.setPen(QPen(t.on_strip, i == asked_ && hasFocus() ? 2 : 1));
            p.setBrush(Qt::NoBrush);
            p.drawRoundedRect(QRectF(i * each + 6, 5, each - 12, height() - 10), 4, 4);
        }
        paint::text(p, {x, 17}, Qt::AlignLeft, s.label, 13, t.strip_soft);
        const QRectF big = paint::text(p, {x, 39}, Qt::AlignLeft, number(s),
                                       narrow  ? 20
                                       : tight ? 24
                                               : 26,
                                       old ? t.strip_soft : t.on_strip, true);
        const QRectF unit = paint::text(p, {big.right() + 3, 43}, Qt::AlignLeft,
                                        std::isfinite(s.value) ? s.unit : QString(), small, t.strip_soft);
        if (s.band.below + s.band.above > 0) {
            const double from = unit.right() + gap, room = (i + 1) * each - 3 - from;
            const double wider = std::max(s.band.below, s.band.above);
            QString band = QString::fromStdString(say::band_text(s.value, s.band, s.decimals, s.positive));
            if (paint::width_of(band, small) > room) // the wider side for both
                band = QString::fromStdString(say::band_text(s.value, {wider, wider}, s.decimals, false));
            paint::text(p, {from, 43}, Qt::AlignLeft, band, small, t.strip_soft);
        }
        if (!old && !s.warning.isEmpty()) { // a shape and a word
            p.setPen(QPen(QColor("#F0B7A8"), 1.6));
            p.setBrush(Qt::NoBrush);
            const double at = x + paint::width_of(s.label, 13) + 8;
            p.drawPolygon(QPolygonF{{at + 6, 11}, {at + 12, 22}, {at, 22}});
            paint::text(p, {x, 63}, Qt::AlignLeft, s.warning, 13, QColor("#F0B7A8"), true);
            continue;
        }
        if (old) {
            paint::text(p, {x, 63}, Qt::AlignLeft, tr("old: a field waits"), 13, QColor("#F0B7A8"));
        } else {
            const bool none = !std::isfinite(s.change);
            const double shown = none || std::abs(s.change) < 0.5 * std::pow(10, -s.decimals) ? 0 : s.change;
            const auto [by, in] = changed(document_, say::all_figures[i]);
            const auto number = [&](double of) {
                return QString::fromStdString(units::fixed(std::abs(of), s.decimals));
            };
            QString words = none ? tr("see roll") : tr("as fitted");
            if (document_.look() != Look::Fitted && shown != 0) {
                const sure::Sure sure = document_.changes() ? sure::how_sure(by) : sure::Sure::Surely;
                const QString sign = sure == sure::Sure::Surely     ? tr(" from fitted")
                                     : sure == sure::Sure::Probably ? tr(" probably")
                                                                    : tr(" cannot say");
                const QString band = by.half() > 0 ? " ± " + number(by.half() / in) : QString();
                const double room = (i + 1) * each - 4 - x - 16; // beside its mark
                const auto fits = [&](const QString& text) { return paint::width_of(text, 13) < room; };
                const bool sure_so = sure == sure::Sure::Surely; // is then what is left out first
                words = fits(number(shown) + band + sign)       ? number(shown) + band + sign
                        : sure_so && fits(number(shown) + band) ? number(shown) + band
                                                                : number(shown) + sign;
            }
            paint::change(p, {x, 63}, document_.look() == Look::Fitted ? 0 : shown, words, 13, QColor("#F0D9A8"));
        }
    }
}

void Tally::mouseMoveEvent(QMouseEvent* event) {
    hovered_ = figure_at(event->position());
    asked_ = hovered_;
    update();
}

void Tally::leaveEvent(QEvent*) {
    hovered_ = -1;
    update();
}

void Tally::mousePressEvent(QMouseEvent* event) {
    asked_ = figure_at(event->position());
    emit picked(asked());
}

void Tally::keyPressEvent(QKeyEvent* event) {
    if (event->key() == Qt::Key_Right || event->key() == Qt::Key_Left) {
        asked_ = std::clamp(asked_ + (event->key() == Qt::Key_Right ? 1 : -1), 0, count - 1);
        update();
    } else if (event->key() == Qt::Key_Return || event->key() == Qt::Key_Space) {
        emit picked(asked());
    } else {
        QWidget::keyPressEvent(event);
    }
}

void Tally::focusInEvent(QFocusEvent*) { update(); }

} // namespace dervish::app
