#include "app/shell/draws_card.h"
#include "core/sure/questions.h"

#include "app/shell/theme.h"
#include "app/words.h"

#include <QGridLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace dervish::app {
DrawsCard::DrawsCard(const Document& document, QWidget* parent)
    : QDialog(parent), job_(document.job()), look_(document.look()), units_(document.units()),
      bands_(document.bands() ? std::optional(*document.bands()) : std::nullopt), state_(new QLabel),
      progress_(new QProgressBar), stop_(new QPushButton(tr("Stop"))), table_(new QGridLayout) {
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName("draws card");
    setWindowTitle(tr("Bands by drawing cars"));
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(22, 18, 22, 18);
    auto* what =
        new QLabel(tr("%1 cars like this one, each with every number drawn from its spread, each computed in full. The "
                      "bands in the window are by straight lines at first, some seconds later by %2 such cars.")
                       .arg(cars_drawn)
                       .arg(sure::draws_for_sides));
    what->setWordWrap(true);
    column->addWidget(what);
    auto* line = new QHBoxLayout;
    progress_->setRange(0, cars_drawn);
    progress_->setObjectName("draws progress");
    progress_->setTextVisible(false); // the words below say it
    stop_->setObjectName("stop draws");
    line->addWidget(progress_, 1);
    line->addWidget(stop_);
    column->addLayout(line);
    state_->setWordWrap(true);
    state_->setObjectName("draws state");
    column->addWidget(state_);
    table_->setHorizontalSpacing(22);
    column->addLayout(table_);
    setMinimumWidth(640);
    connect(stop_, &QPushButton::clicked, this, [stopped = stopped_] { *stopped = true; });

    worker_.start([this, job = job_, look = look_, stopped = stopped_](const auto& cancelled, const auto& post) {
        try {
            const sure::Draws draws = sure::draw(job.vehicle, look == Look::Trial ? job.trial : job.fitted,
                                                 sure::tally(), cars_drawn, 1, [&](int done) {
                                                     if (done % 50 == 0) post([this, done] { show_progress(done); });
                                                     return !cancelled() && !*stopped;
                                                 });
            post([this, draws] { show_result(draws); });
        } catch (const BadInput& e) {
            post([this, problem = qs(e.problem() + "; " + e.accepted())] { state_->setText(problem); });
        }
    });
}

void DrawsCard::show_progress(int done) { progress_->setValue(done); }

void DrawsCard::show_result(const sure::Draws& draws) {
    progress_->setValue(draws.count);
    stop_->setEnabled(false);
    QString words = draws.count < cars_drawn ? tr("Stopped after %1 cars.").arg(draws.count)
                                             : tr("%1 cars drawn.").arg(draws.count);
    if (draws.impossible > 0)
        words += tr(" %1 more could not be (sizes that do not fit) and were drawn again.").arg(draws.impossible);
    if (draws.count > 0 && draws.ended[study::LiftHeight] > 0)
        words += tr(" On %1 of them no wheel lifted before the ramps ended.").arg(draws.ended[study::LiftHeight]);
    state_->setText(words);
    if (draws.count < 100) return; // no quantiles worth showing
    const auto cell = [&](int row, int column, const QString& text, bool bold, bool soft = false) {
        auto* label = new QLabel(text);
        label->setFont(face(13, bold));
        label->setStyleSheet(QString("font-size: 13px; %1 %2")
                                 .arg(bold ? "font-weight: bold;" : "", soft ? "color: " + theme().soft.name() : ""));
        label->setMinimumHeight(21);
        if (column > 0) label->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        table_->addWidget(label, row, column);
    };
    const QString heads[] = {tr("figure"), tr("middle car"), tr("9 in 10 cars"), tr("band by straight lines")};
    for (int c = 0; c < 4; ++c) cell(0, c, heads[c], false, true);
    int row = 1;
    for (std::size_t o = 0; o < study::outcome_count; ++o) {
        if (draws.high[o] == 0 && draws.low[o] == 0) continue; // no bar there
        const units::Unit unit = units::shown(study::outcome_names[o].quantity, units_);
        const auto number = [&](double si) { return qs(units::fixed(si / unit.factor, unit.decimals)); };
        cell(row, 0, tr(study::outcome_names[o].words), false);
        cell(row, 1, number(draws.median[o]) + " " + qs(unit.symbol), true);
        cell(row, 2, tr("%1 to %2").arg(number(draws.low[o]), number(draws.high[o])), true);
        cell(row, 3, bands_ ? "± " + number(band_90 * bands_->sigma[o]) : tr("not yet"), false, true);
        ++row;
    }
    adjustSize();
}

} // namespace dervish::app
