#include "app/book/sheet_page.h"

#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "core/edit/book.h"
#include "core/job/torque.h"

#include <QFormLayout>
#include <QPrintDialog>
#include <QPrinter>
#include <QTextDocument>
#include <QVBoxLayout>
#include <algorithm>

namespace dervish::app {
namespace {
const job::FieldSpec moment_spec{"moment", "Torque", units::Quantity::Moment, job::Tool::Test, 0.1, 2000};
const job::FieldSpec length_spec{"wrench", "Length", units::Quantity::Length, job::Tool::Tape, 0, 3};
const job::FieldSpec angle_spec{"angle", "Angle", units::Quantity::Angle, job::Tool::Test, 0, units::pi};
const job::FieldSpec minutes_spec{"minutes", "Minutes", units::Quantity::Number, job::Tool::Test, 0, 10000};
} // namespace

SheetPage::SheetPage(Document& document, SheetView& view, QWidget* parent)
    : QWidget(parent), document_(document), view_(view), how_far_(named_words("sheet how far")),
      set_to_(named_words("wrench set to")), error_(named_words("torque error")),
      minutes_(named_line("sheet minutes", tr("Minutes"))), of_(named_line("torque of", tr("What is tightened"))),
      source_(named_line("torque source", tr("Where the torque stands"))),
      moment_(named_line("torque moment", tr("Torque"))),
      wrench_(named_line("torque wrench", tr("Length of the wrench"))),
      adapter_(named_line("torque adapter", tr("Length of the adapter"))),
      angle_(named_line("torque angle", tr("Angle of the adapter"))),
      torques_(named_combo("torques", tr("Torques kept"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    column->addWidget(how_far_);
    auto* print_it = named_button(tr("Print the sheet …"), "print sheet");
    column->addWidget(print_it);
    auto* time = new QFormLayout;
    time->addRow(tr("Minutes so far"), minutes_);
    column->addLayout(time);
    auto* head = named_words("torques head");
    head->setText(tr("<b>Torques</b>, as the maker gives them: each with where it stands. None is Dervish's own."));
    column->addWidget(head);
    column->addWidget(torques_);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("Of"), of_);
    form->addRow(tr("Torque, N·m"), moment_);
    form->addRow(tr("It stands in"), source_);
    form->addRow(tr("Wrench"), wrench_);
    form->addRow(tr("Adapter"), adapter_);
    form->addRow(tr("At an angle"), angle_);
    wrench_->setPlaceholderText(tr("head to grip; none: no adapter"));
    adapter_->setPlaceholderText(tr("head to fastener"));
    angle_->setPlaceholderText(tr("0 in line"));
    column->addLayout(form);
    column->addWidget(set_to_);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    auto* row = new QHBoxLayout;
    auto* keep = named_button(tr("Keep"), "keep torque");
    auto* off = named_button(tr("Take off"), "remove torque");
    row->addWidget(keep);
    row->addWidget(off);
    column->addLayout(row);
    connect(print_it, &QPushButton::clicked, this, &SheetPage::print);
    connect(keep, &QPushButton::clicked, this, &SheetPage::keep_torque);
    connect(off, &QPushButton::clicked, this, [this] {
        document_.edit(tr("torque taken off"), {},
                       [&](job::Job& job) { edit::remove_torque(job, of_->text().trimmed().toStdString()); });
    });
    connect(minutes_, &QLineEdit::editingFinished, this, [this] {
        error_->hide();
        try {
            const std::string typed = minutes_->text().trimmed().toStdString();
            const double minutes = typed.empty() ? 0 : job::parse(typed, minutes_spec, document_.units(), "minutes");
            document_.edit(tr("minutes of the job"), {}, [&](job::Job& job) { edit::set_minutes(job, minutes); });
        } catch (const BadInput& e) {
            error_->setText(qs(e.problem() + "; " + e.accepted()));
            error_->show();
        }
    });
    connect(torques_, &QComboBox::activated, this, [this](int at) {
        const auto& all = document_.job().torques;
        if (at < 1 || at > static_cast<int>(all.size())) return;
        const job::Torque& t = all[static_cast<std::size_t>(at - 1)];
        const auto length = [&](double si) {
            return si > 0 ? qs(units::text(si, units::Quantity::Length, document_.units())) : QString();
        };
        of_->setText(qs(t.of));
        source_->setText(qs(t.source));
        moment_->setText(qs(units::text(t.moment, units::Quantity::Moment, document_.units())));
        wrench_->setText(length(t.wrench));
        adapter_->setText(length(t.adapter));
        angle_->setText(t.angle > 0 ? qs(units::text(t.angle, units::Quantity::Angle, document_.units())) : QString());
    });
    refresh();
}

void SheetPage::keep_torque() {
    error_->hide();
    try {
        const auto typed = [&](QLineEdit* line, const job::FieldSpec& spec, const char* at) {
            const std::string text = line->text().trimmed().toStdString();
            return text.empty() ? 0.0 : job::parse(text, spec, document_.units(), at);
        };
        job::Torque t;
        t.of = of_->text().trimmed().toStdString();
        t.source = source_->text().trimmed().toStdString();
        t.moment = units::rounded(typed(moment_, moment_spec, "moment"));
        t.wrench = units::as_filed(typed(wrench_, length_spec, "wrench"), units::Quantity::Length);
        t.adapter = units::as_filed(typed(adapter_, length_spec, "adapter"), units::Quantity::Length);
        t.angle = units::rounded(typed(angle_, angle_spec, "angle"));
        document_.edit(tr("torque"), {}, [&](job::Job& job) { edit::put_torque(job, t); });
        set_to_->setText(tr("The wrench is set to %1.")
                             .arg(qs(units::text(job::wrench_setting(t), units::Quantity::Moment, document_.units()))));
    } catch (const BadInput& e) {
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
}

void SheetPage::put(QPagedPaintDevice& paper, const job::Job& job, units::System system) {
    QTextDocument sheet;
    sheet.setHtml(qs(
        say::job_sheet_html(job, say::job_sheet(job, job.fitted, job.trial, system), system, edit::steps_done(job))));
    sheet.print(&paper);
}

void SheetPage::print() {
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, this);
    if (dialog.exec() == QDialog::Accepted) put(printer, document_.job(), document_.units());
}

void SheetPage::refresh() {
    const job::Job& job = document_.job();
    const auto steps = view_.sheet().steps.size();
    how_far_->setText(steps == 0 ? tr("Nothing is to be done.")
                                 : tr("<b>%1 of %2 steps done.</b> When the car stands as the sheet says, “Fit it” "
                                      "above makes it Fitted; what was ticked and measured goes into the book.")
                                       .arg(view_.done())
                                       .arg(steps));
    show_kept(minutes_, job.sheet.minutes > 0 ? units::trimmed(job.sheet.minutes, 0) : std::string(), false);
    torques_->clear();
    torques_->addItem(job.torques.empty() ? tr("none typed yet") : tr("%1 typed").arg(job.torques.size()));
    for (const job::Torque& t : job.torques)
        torques_->addItem(
            tr("%1: %2").arg(qs(t.of), qs(units::text(t.moment, units::Quantity::Moment, document_.units()))));
}

} // namespace dervish::app
