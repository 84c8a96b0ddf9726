#include "app/balance/conditions_page.h"
#include "core/say/balance_words.h"
#include "core/sure/questions.h"

#include "app/paint/pen.h"
#include "app/shell/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <cmath>

namespace dervish::app {
namespace {
constexpr std::size_t grounds = std::size(balance::all_grounds);

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
    auto* legend =
        new QLabel(tr("edge: the end that gives up first, and what the other has left · triangle: another end "
                      "than dry as now, or it tips · small: as fitted"));
    legend->setWordWrap(true);
    legend->setStyleSheet("font-size: 12px; color: " + theme().soft.name());
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
    worker_.start([this, now = document_.computed()](const auto& cancelled, const auto& post) {
        const job::Vehicle& vehicle = now.vehicle();
        const job::Setup& setup = now.setup();
        for (std::size_t i = 0; i < grounds && !cancelled(); ++i) {
            std::array<sure::Bands, 3> row;
            for (std::size_t load = 0; load < 3 && !cancelled(); ++load)
                row[load] = sure::limit_bands(vehicle, study::with_loads(vehicle, setup, load), balance::all_grounds[i],
                                              cancelled);
            post([this, row, i] {
                bands_.push_back(row);
                button_->setText(tr("%1 %, stop").arg(100 * (i + 1) / grounds));
                if (i + 1 == grounds) stop();
                told();
            });
        }
    });
}

void ConditionsPage::finish() { worker_.finish(); }

void ConditionsPage::say() {
    if (stale_) {
        try {
            const Result &now = document_.computed(), &fitted = document_.computed(Look::Fitted);
            grid_ = study::condition_grid(now.vehicle(), now.setup());
            fitted_ = study::condition_grid(fitted.vehicle(), fitted.setup());
            problem_.clear();
            stale_ = false;
        } catch (const BadInput& e) {
            problem_ = QString::fromStdString(e.problem() + "; " + e.accepted());
        }
    }
    told();
}

void ConditionsPage::told() {
    QStringList words;
    if (problem_.isEmpty())
        for (std::size_t i = 0; i < grounds; ++i)
            for (std::size_t load = 0; load < 3; ++load)
                words << tr("%1, %2: %3")
                             .arg(tr(balance::name_of(balance::all_grounds[i])), load_words()[load],
                                  QString::fromStdString(say::sentence(grid_.rows[i][load])));
    picture_->setAccessibleDescription(problem_.isEmpty() ? words.join("; ") : problem_);
    picture_->update();
}

bool ConditionsPage::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() != QEvent::Paint || watched != picture_) return QWidget::eventFilter(watched, event);
    QPainter p(picture_);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(picture_->rect(), theme().ground);
    if (problem_.isEmpty())
        paint_grid(p);
    else
        paint::text_within(p, {20, 16}, picture_->width() - 40, problem_, 13, theme().caution);
    return true;
}

void ConditionsPage::paint_grid(QPainter& p) const {
    if (grid_.rows.empty()) return;
    const double left = 172, top = 22, gap = 6, wide = (picture_->width() - left - 10 - gap * (grounds - 1)) / grounds,
                 high = std::min(54.0, (picture_->height() - top - 2 * gap) / 3);
    for (std::size_t load = 0; load < 3; ++load) {
        const double y = top + static_cast<double>(load) * (high + gap);
        paint::text_within(p, {20, y + high / 2}, left - 28, load_words()[load], 12, theme().ink);
        for (std::size_t i = 0; i < grounds; ++i) {
            const double x = left + static_cast<double>(i) * (wide + gap);
            if (load == 0)
                paint::text(p, {x + wide / 2, 11}, Qt::AlignHCenter, tr(balance::name_of(balance::all_grounds[i])), 13,
                            theme().ink, true);
            paint_cell(p, {x, y, wide, high}, i, load);
        }
    }
}

void ConditionsPage::paint_cell(QPainter& p, const QRectF& box, std::size_t ground, std::size_t load) const {
    const Theme& t = theme();
    using balance::Gives;
    const balance::Limit &l = grid_.rows[ground][load], &was = fitted_.rows[ground][load];
    const auto in_g = [](double a) { return QString::fromStdString(units::fixed(a / units::g, 2)); };
    const QColor edge = l.first == Gives::Front ? t.front : l.first == Gives::Rear ? t.rear : t.caution;
    p.setPen(Qt::NoPen);
    p.setBrush(t.panel);
    p.drawRoundedRect(box, 3, 3);
    p.setBrush(edge);
    p.drawRect(QRectF(box.left(), box.top(), 6, box.height()));
    const double x = box.left() + 14, middle = box.top() + box.height() / 2;
    QString value = in_g(l.lateral);
    const QRectF big = paint::text(p, {x, middle - 11}, Qt::AlignLeft, value, 18, t.ink, true);
    QString rest = " g";
    if (ground < bands_.size()) rest = " ± " + in_g(band_90 * bands_[ground][load].sigma[0]) + " g";
    paint::text(p, {big.right() + 1, middle - 9}, Qt::AlignLeft, rest, 12, t.soft);
    const QString who = l.first == Gives::Tips      ? tr("tips over")
                        : l.first == Gives::Nothing ? tr("holds on")
                        : l.first == Gives::Front   ? tr("front, %1 %").arg(std::lround(100 * l.left))
                                                    : tr("rear, %1 %").arg(std::lround(100 * l.left));
    const bool marked = l.first == Gives::Tips || l.first != grid_.rows[0][1].first;
    double at = x;
    if (marked) {
        p.setPen(QPen(t.caution, 1.5));
        p.setBrush(l.first == Gives::Tips ? QBrush(t.caution) : QBrush(Qt::NoBrush));
        p.drawPolygon(QPolygonF{{at + 5, middle + 5}, {at + 10, middle + 14}, {at, middle + 14}});
        at += 15;
    }
    const QString before = document_.look() == Look::Trial ? in_g(was.lateral) : QString();
    const QRectF fitted = paint::text(p, {box.right() - 6, middle + 10}, Qt::AlignRight, before, 11, t.soft);
    paint::text_within(p, {at, middle + 10}, fitted.left() - at - 4, who, 12, marked ? t.caution : t.soft);
}

} // namespace dervish::app
