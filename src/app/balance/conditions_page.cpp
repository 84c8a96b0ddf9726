#include "app/balance/conditions_page.h"
#include "app/balance/balance_readings.h"
#include "core/say/balance_words.h"
#include "core/sure/draws.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>
#include <utility>

namespace dervish::app {
namespace {
constexpr std::size_t grounds = std::size(all_grounds);

const std::array<QString, 3>& load_words() {
    static const std::array<QString, 3> words{QObject::tr("nothing listed aboard"), QObject::tr("loaded as now"),
                                              QObject::tr("everything aboard")};
    return words;
}
} // namespace

ConditionsPage::ConditionsPage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), picture_(new QWidget), button_(new QPushButton(tr("With bands"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 16, 6);
    column->setSpacing(2);
    picture_->setObjectName("conditions");
    picture_->setMinimumSize(440, 150);
    picture_->installEventFilter(this);
    column->addWidget(picture_, 1);
    auto* line = new QHBoxLayout;
    line->setContentsMargins(20, 0, 0, 0);
    auto* legend = new QLabel(tr("length: how hard it corners · colour: the end that lets go first, and what the other "
                                 "has left · triangle: another than dry, or it tips · notch: as fitted"));
    legend->setWordWrap(true);
    legend->setStyleSheet("font-size: 13px; color: " + theme().soft.name());
    line->addWidget(legend, 1);
    button_->setObjectName("conditions with bands");
    button_->setFixedWidth(128);
    line->addWidget(button_);
    column->addLayout(line);
    connect(button_, &QPushButton::clicked, this, [this] {
        if (working())
            stop();
        else
            start();
    });
    connect(&document_, &Document::changed, this, [this] {
        stale_ = true;
        bands_.clear();
        stop();
    });
}

void ConditionsPage::stop() {
    worker_.stop();
    button_->setText(tr("With bands"));
}

void ConditionsPage::start() {
    stop();
    bands_.clear();
    say();
    button_->setText(tr("0 %, stop"));
    const bool trial = document_.look() == Look::Trial;
    worker_.start([this, now = document_.computed(), fitted = document_.computed(Look::Fitted),
                   trial](const auto& cancelled, const auto& post) {
        const job::Vehicle& vehicle = now.vehicle();
        for (std::size_t i = 0; i < grounds && !cancelled(); ++i) {
            std::array<Band, 3> row;
            for (std::size_t load = 0; load < 3 && !cancelled(); ++load) {
                const job::Setup setup = study::with_loads(vehicle, now.setup(), load),
                                 before = study::with_loads(vehicle, fitted.setup(), load);
                row[load].limit =
                    sure::limit_bands(vehicle, setup, all_grounds[i], cancelled).sigma[sure::LimitLateral];
                if (trial)
                    row[load].change = sure::drawn_changes(
                        vehicle, before, setup, [&] { return sure::limit(all_grounds[i], sure::Near::FirstOrder); },
                        sure::draws_for_many, cancelled)[sure::LimitLateral];
            }
            post([this, row, i] {
                bands_.push_back(row);
                button_->setText(tr("%1 %, stop").arg(100 * (i + 1) / grounds));
                if (i + 1 == grounds) stop();
                told();
            });
        }
    });
}

void ConditionsPage::finish() {
    say();
    grids_.finish();
    worker_.finish();
}

void ConditionsPage::say() {
    if (std::exchange(stale_, false))
        grids_.start([now = document_.computed(), fitted = document_.computed(Look::Fitted)](const auto&) {
            try {
                return Grids{study::condition_grid(now.vehicle(), now.setup()),
                             study::condition_grid(fitted.vehicle(), fitted.setup()),
                             {}};
            } catch (const BadInput& e) { // a load that this car cannot carry, most likely
                return Grids{{}, {}, QString::fromStdString(e.problem() + "; " + e.accepted())};
            }
        });
    told();
}

void ConditionsPage::told() {
    QStringList words;
    const bool known = grids_.value() && grids_.value()->problem.isEmpty();
    if (known)
        for (std::size_t i = 0; i < grounds; ++i)
            for (std::size_t load = 0; load < 3; ++load)
                words << tr("%1, %2: %3")
                             .arg(tr(name_of(all_grounds[i])), load_words()[load],
                                  QString::fromStdString(say::sentence(grids_.value()->now.rows[i][load])));
    picture_->setAccessibleDescription(known || !grids_.value() ? words.join("; ") : grids_.value()->problem);
    picture_->update();
}

bool ConditionsPage::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::Paint || watched != picture_) return QWidget::eventFilter(watched, event);
    QPainter p(picture_);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(picture_->rect(), theme().ground);
    if (grids_.value() && !grids_.value()->problem.isEmpty())
        paint::text_within(p, {20, 16}, picture_->width() - 40, grids_.value()->problem, 13, theme().caution);
    else if (grids_.value())
        paint_grid(p);
    else
        paint::text(p, {20, 18}, Qt::AlignLeft, tr("Being worked out …"), 14, theme().soft);
    return true;
}

void ConditionsPage::paint_grid(QPainter& p) {
    const double left = picture_->width() < 700 ? 108 : 130, top = 20, gap = 6,
                 wide = (picture_->width() - left - 10 - gap * 2) / 3,
                 high = std::min(30.0, (picture_->height() - top) / grounds);
    most_ = 0.1 * units::g;
    for (const study::Grid* grid : {&grids_.value()->now, &grids_.value()->fitted})
        for (const auto& row : grid->rows)
            for (const balance::Limit& l : row)
                if (std::isfinite(l.lateral)) most_ = std::max(most_, l.lateral);
    for (std::size_t load = 0; load < 3; ++load)
        paint::text(p, {left + static_cast<double>(load) * (wide + gap) + 14, 9}, Qt::AlignLeft, load_words()[load], 13,
                    theme().soft);
    for (std::size_t i = 0; i < grounds; ++i) {
        const double y = top + static_cast<double>(i) * high;
        paint::text(p, {20, y + high / 2}, Qt::AlignLeft, tr(name_of(all_grounds[i])), 13, theme().ink, true);
        for (std::size_t load = 0; load < 3; ++load)
            paint_cell(p, {left + static_cast<double>(load) * (wide + gap), y + 1, wide, high - 2}, i, load);
    }
}

void ConditionsPage::paint_cell(QPainter& p, const QRectF& box, std::size_t ground, std::size_t load) const {
    const Theme& t = theme();
    using balance::Gives;
    const study::Grid &now = grids_.value()->now, &fitted = grids_.value()->fitted;
    const balance::Limit &l = now.rows[ground][load], &was = fitted.rows[ground][load];
    const auto in_g = [](double a) { return QString::fromStdString(units::fixed(a / units::g, 2)); };
    const QColor edge = l.first == Gives::Front ? t.front : l.first == Gives::Rear ? t.rear : t.caution;
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 3, 3);
    const auto across = [&](double lateral) {
        return box.left() + 6 + (box.width() - 8) * std::clamp(lateral / most_, 0.0, 1.0);
    };
    QColor filled = edge;
    filled.setAlphaF(0.22F);
    p.setBrush(filled);
    p.drawRect(QRectF(QPointF(box.left() + 6, box.top()), QPointF(across(l.lateral), box.bottom())));
    p.setBrush(edge);
    p.drawRect(QRectF(box.left(), box.top(), 6, box.height()));
    const bool trial = document_.look() == Look::Trial, banded = ground < bands_.size(),
               narrow = box.width() < 190 || (banded && trial);
    if (banded) { // along its foot
        const double half = band_90 * bands_[ground][load].limit;
        p.setPen(QPen(edge, 2));
        p.drawLine(QPointF(across(l.lateral - half), box.bottom() - 1),
                   QPointF(across(l.lateral + half), box.bottom() - 1));
    }
    if (const double deep = std::min(3.5, (box.height() - 12) / 2); trial && deep > 1) // no figure is crossed
        for (const double way : {1.0, -1.0}) {
            const double end = way > 0 ? box.top() : box.bottom();
            p.setPen(QPen(t.ink, 1.6));
            p.drawLine(QPointF(across(was.lateral), end), QPointF(across(was.lateral), end + way * deep));
        }
    const double y = box.center().y();
    const QRectF big =
        paint::text(p, {box.left() + (narrow ? 10 : 14), y}, Qt::AlignLeft, in_g(l.lateral), 15, t.ink, true);
    const QString rest =
        banded ? (narrow ? "±" : " ± ") + in_g(band_90 * bands_[ground][load].limit) + (narrow ? "" : " g")
               : QString(" g");
    double at =
        paint::text(p, {big.right() + 1, y}, Qt::AlignLeft, rest, narrow ? 12 : 13, t.soft).right() + (narrow ? 3 : 12);
    const QString end = l.first == Gives::Front ? (narrow ? tr("F") : tr("front,")) : (narrow ? tr("R") : tr("rear,"));
    const QString who = l.first == Gives::Tips      ? (narrow ? tr("tips") : tr("tips over"))
                        : l.first == Gives::Nothing ? (narrow ? tr("holds") : tr("holds on"))
                                                    : tr("%1 %2 %").arg(end).arg(std::lround(100 * l.left));
    const bool marked = l.first == Gives::Tips || l.first != now.rows[0][1].first;
    if (marked) {
        p.setPen(QPen(t.caution, 1.5));
        p.setBrush(l.first == Gives::Tips ? QBrush(t.caution) : QBrush(Qt::NoBrush));
        p.drawPolygon(QPolygonF{{at + 5, y - 5}, {at + 10, y + 4}, {at, y + 4}});
        at += 15;
    }
    QString before = trial && (box.width() >= 190 || !banded) ? in_g(was.lateral) : QString();
    if (!before.isEmpty() && banded) {
        const double by = l.lateral - was.lateral;
        before = (by < 0 ? "−" : "+") + in_g(std::abs(by)) + "±" + in_g(bands_[ground][load].change.half());
    }
    const QRectF small =
        paint::text(p, {box.right() - (narrow ? 2 : 6), y}, Qt::AlignRight, before, narrow ? 12 : 13, t.soft);
    paint::text_within(p, {at, y}, small.left() - at - 2, who, narrow ? 12 : 13, marked ? t.caution : t.soft);
}

} // namespace dervish::app
