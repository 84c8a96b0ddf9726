#include "app/balance/conditions_page.h"

#include "app/shell/theme.h"
#include "app/widgets/figure_rows.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QPushButton>
#include <QScrollArea>
#include <cmath>

namespace dervish::app {
namespace {
constexpr std::size_t grounds = std::size(balance::all_grounds);
}

ConditionsPage::ConditionsPage(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), rows_(new FigureRows("conditions")),
      button_(new QPushButton(tr("With bands"))) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 6, 16, 4);
    auto* scroll = new QScrollArea;
    scroll->setStyleSheet("background: " + theme().ground.name());
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setFocusPolicy(Qt::StrongFocus); // arrows scroll it
    scroll->setWidget(rows_);
    line->addWidget(scroll, 1);
    button_->setObjectName("conditions with bands");
    button_->setFixedWidth(128);
    line->addWidget(button_, 0, Qt::AlignTop);
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

ConditionsPage::~ConditionsPage() { stop(); }

void ConditionsPage::stop() {
    if (cancel_) *cancel_ = true;
    if (worker_.joinable()) worker_.join();
    cancel_.reset();
    button_->setText(tr("With bands"));
}

void ConditionsPage::start() {
    stop();
    bands_.clear();
    say();
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    button_->setText(tr("0 %, stop"));
    worker_ = std::thread([this, vehicle = document_.job().vehicle, setup = document_.computed_setup(document_.look()),
                           cancel = cancel_] {
        for (std::size_t i = 0; i < grounds && !*cancel; ++i) {
            auto row = std::make_shared<std::array<job::Bands, 3>>();
            try {
                for (std::size_t load = 0; load < 3 && !*cancel; ++load)
                    (*row)[load] = job::limit_bands(job::with_loads(vehicle, load), setup, balance::all_grounds[i],
                                                    [cancel] { return cancel->load(); });
            } catch (const BadInput&) {
                return; // told at its field
            }
            QMetaObject::invokeMethod(
                this,
                [this, row, cancel, i] {
                    if (*cancel) return;
                    bands_.push_back(*row);
                    button_->setText(tr("%1 %, stop").arg(100 * (i + 1) / grounds));
                    if (i + 1 == grounds) {
                        worker_.join();
                        cancel_.reset();
                        button_->setText(tr("With bands"));
                    }
                    show_grid();
                },
                Qt::QueuedConnection);
        }
    });
}

void ConditionsPage::finish() {
    while (cancel_) {
        QCoreApplication::sendPostedEvents(this, QEvent::MetaCall);
        std::this_thread::sleep_for(std::chrono::milliseconds(5));
    }
}

void ConditionsPage::say() {
    if (stale_) {
        try {
            grid_ = job::condition_grid(document_.job().vehicle, document_.computed_setup(document_.look()));
            stale_ = false;
        } catch (const BadInput& e) {
            rows_->show_rows({}, 1, QString::fromStdString(e.problem() + "; " + e.accepted()));
            return;
        }
    }
    show_grid();
}

void ConditionsPage::show_grid() {
    using Mark = FigureRow::Mark;
    std::vector<FigureRow> rows;
    const QString loads[] = {tr("nothing listed aboard"), tr("loaded as now"), tr("everything aboard")};
    const balance::Gives usual = grid_.rows[0][1].first;
    for (std::size_t load = 0; load < 3; ++load) {
        rows.push_back({loads[load], {}, {}, Mark::Heading});
        for (std::size_t i = 0; i < grounds; ++i) {
            const balance::Limit& l = grid_.rows[i][load];
            const bool tips = l.first == balance::Gives::Tips;
            QString value = QString::fromStdString(units::fixed(l.lateral / units::g, 2));
            if (i < bands_.size())
                value += " ± " + QString::fromStdString(units::fixed(band_90 * bands_[i][load].sigma[0] / units::g, 2));
            rows.push_back({tr(balance::name_of(balance::all_grounds[i])), value + " g",
                            tips ? tr("tips over")
                                 : tr("%1 first, %2 %")
                                       .arg(l.first == balance::Gives::Front ? tr("front") : tr("rear"))
                                       .arg(std::lround(100 * l.left)),
                            tips               ? Mark::Bad
                            : l.first != usual ? Mark::Caution // another end than on the dry, as now
                                               : Mark::Plain});
        }
    }
    rows_->show_rows(std::move(rows), 2, {}, 0.56);
}

} // namespace dervish::app
