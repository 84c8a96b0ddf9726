#include "app/book/sheet_view.h"

#include "app/shell/theme.h"
#include "app/widgets/entry_row.h"
#include "app/words.h"
#include "core/edit/book.h"

#include <QCheckBox>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

namespace dervish::app {

SheetView::SheetView(Document& document, QWidget* parent)
    : QWidget(parent), document_(document), column_(new QVBoxLayout(this)) {
    setObjectName("job sheet");
    setAccessibleName(tr("Job sheet"));
    column_->setContentsMargins(20, 16, 20, 16);
    column_->setSpacing(6);
    refresh();
}

std::size_t SheetView::done() const {
    const auto ticked = edit::steps_done(document_.job());
    return static_cast<std::size_t>(std::ranges::count_if(
        sheet_.steps, [&](const say::SheetStep& s) { return std::ranges::find(ticked, s.key) != ticked.end(); }));
}

void SheetView::set_setups(std::optional<job::Setup> from, std::optional<job::Setup> to) {
    from_ = std::move(from);
    to_ = std::move(to);
    refresh();
}

void SheetView::refresh() {
    const job::Job& job = document_.job();
    sheet_ =
        say::job_sheet(job, from_.value_or(job.fitted), to_.value_or(job.trial), document_.units(), document_.shop());
    QString words = qs(say::job_sheet_html(job, sheet_, document_.units())); // a tick does not make it another
    if (!is_to_do()) words += "-";
    if (words != built_) {
        built_ = words;
        build();
    }
    const auto ticked = edit::steps_done(job);
    for (const auto& [key, box] : ticks_) box->setChecked(std::ranges::find(ticked, key) != ticked.end());
    for (EntryRow* row : rows_) row->refresh();
}

void SheetView::build() {
    ticks_.clear();
    rows_.clear();
    delete body_;
    body_ = new QWidget;
    column_->addWidget(body_);
    auto* column = new QVBoxLayout(body_);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(10);
    const auto words = [&](QVBoxLayout* into, const QString& text, int pixels, const QColor& colour) {
        auto* label = new QLabel(text);
        label->setWordWrap(true);
        label->setStyleSheet(QString("font-size: %1px; color: %2;").arg(pixels).arg(colour.name()));
        into->addWidget(label);
    };
    words(column, tr("<b>Job sheet: %1 → %2</b>").arg(qs(sheet_.from).toHtmlEscaped(), qs(sheet_.to).toHtmlEscaped()),
          18, theme().ink);
    if (sheet_.steps.empty()) {
        words(column,
              tr("Nothing differs between the two. Change Trial, take a kept setup, or go back to an older "
                 "one: the sheet then says what is done, in which order."),
              14, theme().soft);
        column->addStretch();
        body_->show();
        return;
    }
    for (const std::string& danger : sheet_.cautions)
        words(column, tr("▲ %1").arg(qs(danger).toHtmlEscaped()), 14, theme().caution);
    QStringList needs;
    for (const std::string& need : sheet_.needs) needs << qs(need).toHtmlEscaped();
    if (!needs.isEmpty()) words(column, tr("<b>Needed</b><br>%1").arg(needs.join("<br>")), 14, theme().ink);
    int number = 0;
    for (const say::SheetStep& step : sheet_.steps) {
        auto* row = new QHBoxLayout;
        row->setSpacing(12);
        auto* box = new QCheckBox;
        box->setObjectName("tick " + qs(step.key));
        box->setAccessibleName(qs(step.title));
        box->setMinimumSize(44, 44);
        box->setStyleSheet("QCheckBox::indicator { width: 32px; height: 32px; }");
        box->setEnabled(is_to_do());
        row->addWidget(box, 0, Qt::AlignTop);
        auto* text = new QVBoxLayout;
        text->setSpacing(2);
        words(text, QString("<b>%1. %2</b>").arg(++number).arg(qs(step.title).toHtmlEscaped()), 16, theme().ink);
        for (const std::string& line : step.lines) words(text, qs(line), 14, theme().ink);
        for (const say::SheetReading& r : step.readings) {
            if (!is_to_do()) continue;
            auto* reading =
                new EntryRow(document_, tr("%1, %2").arg(tr(r.spec.label), tr(name_of(r.end))),
                             QString("sheet %1 %2").arg(name_of(r.end), r.spec.key),
                             {r.spec, edit::check_key(true, r.end, r.spec.key),
                              [this, end = r.end, value = r.value, spec = r.spec](const job::Job& job) {
                                  const auto& read = job::checks_of(job, job.trial[end]).*value;
                                  return read ? qs(job::show(*read, spec, document_.units())) : QString();
                              },
                              [end = r.end, value = r.value, spec = r.spec](job::Job& job, const edit::Entry& e) {
                                  edit::type_check(job, true, end, spec, value, e);
                              }});
            rows_.push_back(reading);
            text->addWidget(reading);
        }
        if (!step.caution.empty()) words(text, tr("▲ %1").arg(qs(step.caution)), 14, theme().caution);
        row->addLayout(text, 1);
        column->addLayout(row);
        ticks_.emplace_back(step.key, box);
        connect(box, &QCheckBox::clicked, this, [this, key = step.key](bool on) {
            document_.edit(tr("step of the job sheet"), {}, [&](job::Job& job) { edit::tick_step(job, key, on); });
            refresh();
        });
    }
    QStringList back;
    for (const std::string& line : sheet_.back) back << qs(line).toHtmlEscaped();
    words(column, tr("<b>To go back</b><br>%1").arg(back.join("<br>")), 14, theme().soft);
    words(column,
          tr("Stands on firm ground, wheels chocked. The vehicle's maker, local rules and licensed practice decide."),
          14, theme().soft);
    column->addStretch();
    body_->show();
}

} // namespace dervish::app
