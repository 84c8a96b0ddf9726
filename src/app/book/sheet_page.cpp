#include "app/book/sheet_page.h"

#include "app/book/papers.h"
#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "core/edit/book.h"
#include "core/job/torque.h"

#include <QFormLayout>
#include <QPrintDialog>
#include <QPrinter>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <tuple>

namespace dervish::app {
namespace {
const job::FieldSpec moment_spec{"moment", "Torque", units::Quantity::Moment, job::Tool::Test, 0.1, 2000};
const job::FieldSpec length_spec{"wrench", "Length", units::Quantity::Length, job::Tool::Tape, 0, 3};
const job::FieldSpec angle_spec{"angle", "Angle", units::Quantity::Angle, job::Tool::Test, 0, units::pi};
const job::FieldSpec count_spec{"count", "How many", units::Quantity::Number, job::Tool::Test, 0, 200};
const job::FieldSpec minutes_spec{"minutes", "Minutes", units::Quantity::Number, job::Tool::Test, 0, 10000};
} // namespace

SheetPage::SheetPage(Document& document, SheetView& view, QWidget* parent)
    : QWidget(parent), document_(document), view_(view), how_far_(named_words("sheet how far")),
      set_to_(named_words("wrench set to")), error_(named_words("torque error")),
      minutes_(named_line("sheet minutes", tr("Minutes"))), of_(named_line("torque of", tr("What is tightened"))),
      source_(named_line("torque source", tr("Where the torque stands"))),
      size_(named_line("torque size", tr("Size of the spanner"))), count_(named_line("torque count", tr("How many"))),
      moment_(named_line("torque moment", tr("Torque"))),
      wrench_(named_line("torque wrench", tr("Length of the wrench"))),
      adapter_(named_line("torque adapter", tr("Length of the adapter"))),
      angle_(named_line("torque angle", tr("Angle of the adapter"))), form_(new QFormLayout),
      torques_(named_combo("torques", tr("Fasteners kept"))), from_(named_combo("sheet from", tr("From"))),
      to_(named_combo("sheet to", tr("To"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    build_setups(column);
    column->addWidget(how_far_);
    auto* print_it = named_button(tr("Print the sheet …"), "print sheet");
    column->addWidget(print_it);
    auto* time = new QFormLayout;
    time->addRow(tr("Minutes so far"), minutes_);
    column->addLayout(time);
    build_fasteners(column);
    connect(print_it, &QPushButton::clicked, this, &SheetPage::print);
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
    refresh();
}

void SheetPage::build_setups(QVBoxLayout* column) {
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("From"), from_);
    form->addRow(tr("To"), to_);
    column->addLayout(form);
    for (QComboBox* box : {from_, to_}) connect(box, &QComboBox::activated, this, &SheetPage::choose_setups);
}

std::vector<std::pair<QString, job::Setup>> SheetPage::offered(bool from) const {
    const job::Job& job = document_.job();
    std::vector<std::pair<QString, job::Setup>> out{{tr("Fitted: %1").arg(qs(job.fitted.name)), job.fitted},
                                                    {tr("Trial: %1").arg(qs(job.trial.name)), job.trial}};
    if (!from) std::swap(out[0], out[1]);
    for (const job::Setup& s : job.kept) out.emplace_back(tr("kept: %1").arg(qs(s.name)), s);
    const auto& book = job.book.read();
    for (auto e = book.rbegin(); e != book.rend(); ++e)
        if (e->car && e->more.struck.empty() && e->kind == job::EntryKind::Fitted)
            out.emplace_back(tr("%1: %2").arg(qs(e->date), qs(e->car->setup.name)), e->car->setup);
    return out;
}

void SheetPage::choose_setups() {
    const auto chosen = [&](QComboBox* box, bool from) -> std::optional<job::Setup> {
        const auto all = offered(from);
        const auto at = static_cast<std::size_t>(std::max(0, box->currentIndex()));
        return at == 0 || at >= all.size() ? std::nullopt : std::optional(all[at].second);
    };
    view_.set_setups(chosen(from_, true), chosen(to_, false));
    refresh();
}

void SheetPage::build_fasteners(QVBoxLayout* column) {
    auto* head = named_words("torques head");
    head->setText(
        tr("<b>Fasteners</b>: spanner and number as they are on this car, torques as the maker gives them, each "
           "with where it stands. None is Dervish's own."));
    column->addWidget(head);
    column->addWidget(torques_);
    form_->setVerticalSpacing(5);
    form_->addRow(tr("Of"), of_);
    form_->addRow(tr("Spanner"), size_);
    form_->addRow(tr("How many"), count_);
    form_->addRow(new QLabel, moment_);
    form_->addRow(tr("It stands in"), source_);
    form_->addRow(new QLabel, wrench_);
    form_->addRow(new QLabel, adapter_);
    form_->addRow(new QLabel, angle_);
    of_->setPlaceholderText(tr("like front clamps"));
    size_->setPlaceholderText(tr("like 17"));
    wrench_->setPlaceholderText(tr("head to grip; none: no adapter"));
    adapter_->setPlaceholderText(tr("head to fastener"));
    angle_->setPlaceholderText(tr("0 in line"));
    column->addLayout(form_);
    column->addWidget(set_to_);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    auto* row = new QHBoxLayout;
    auto* keep = named_button(tr("Keep"), "keep torque");
    auto* off = named_button(tr("Remove"), "remove torque");
    row->addWidget(keep);
    row->addWidget(off);
    column->addLayout(row);
    connect(keep, &QPushButton::clicked, this, &SheetPage::keep_torque);
    connect(off, &QPushButton::clicked, this, [this] {
        document_.edit(tr("fasteners removed"), {},
                       [&](job::Job& job) { edit::remove_torque(job, of_->text().trimmed().toStdString()); });
    });
    connect(torques_, &QComboBox::activated, this, [this](int at) {
        const auto& all = document_.job().torques;
        if (at >= 1 && at <= static_cast<int>(all.size())) show_fasteners(all[static_cast<std::size_t>(at - 1)]);
    });
}

void SheetPage::show_fasteners(const job::Torque& t) {
    const auto told = [&](double si, units::Quantity quantity) {
        return si > 0 ? qs(units::text(si, quantity, document_.units())) : QString();
    };
    of_->setText(qs(t.of));
    source_->setText(qs(t.source));
    size_->setText(qs(t.size));
    count_->setText(t.count > 0 ? QString::number(t.count) : QString());
    moment_->setText(told(t.moment, units::Quantity::Moment));
    wrench_->setText(told(t.wrench, units::Quantity::Length));
    adapter_->setText(told(t.adapter, units::Quantity::Length));
    angle_->setText(told(t.angle, units::Quantity::Angle));
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
        t.size = size_->text().trimmed().toStdString();
        t.count = static_cast<int>(std::lround(typed(count_, count_spec, "count")));
        t.moment = units::rounded(typed(moment_, moment_spec, "moment"));
        t.wrench = units::as_filed(typed(wrench_, length_spec, "wrench"), units::Quantity::Length);
        t.adapter = units::as_filed(typed(adapter_, length_spec, "adapter"), units::Quantity::Length);
        t.angle = units::rounded(typed(angle_, angle_spec, "angle"));
        document_.edit(tr("fasteners"), {}, [&](job::Job& job) { edit::put_torque(job, t); });
        set_to_->setVisible(t.moment > 0);
        if (t.moment > 0)
            set_to_->setText(
                tr("The wrench is set to %1.")
                    .arg(qs(units::text(job::wrench_setting(t), units::Quantity::Moment, document_.units()))));
    } catch (const BadInput& e) {
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
}

void SheetPage::print() {
    QPrinter printer(QPrinter::HighResolution);
    QPrintDialog dialog(&printer, this);
    if (dialog.exec() == QDialog::Accepted)
        put_job_sheet(printer, document_.job(), view_.sheet(), document_.units(),
                      view_.is_to_do() ? edit::steps_done(document_.job()) : std::vector<std::string>());
}

void SheetPage::refresh() {
    const job::Job& job = document_.job();
    for (QComboBox* box : {from_, to_}) {
        const int was = std::max(0, box->currentIndex());
        Entries setups;
        for (const auto& [name, setup] : offered(box == from_)) setups.emplace_back(name, QVariant());
        refill(box, setups);
        box->setCurrentIndex(was < box->count() ? was : 0);
    }
    const auto steps = view_.sheet().steps.size();
    how_far_->setText(steps == 0 ? tr("Nothing is to be done.")
                      : !view_.is_to_do()
                          ? tr("<b>%1 steps</b>, to read and to print. From Fitted to Trial they can be "
                               "ticked.")
                                .arg(steps)
                          : tr("<b>%1 of %2 steps done.</b> When the car stands as the sheet says, “Fit it” "
                               "above makes it Fitted; what was ticked and measured goes into the book.")
                                .arg(view_.done())
                                .arg(steps));
    show_kept(minutes_, job.sheet.minutes > 0 ? units::trimmed(job.sheet.minutes, 0) : std::string(), false);
    // A number without a unit is in the one that the label says.
    for (const auto& [line, words, quantity] : {std::tuple{moment_, tr("Torque"), units::Quantity::Moment},
                                                {wrench_, tr("Wrench"), units::Quantity::Length},
                                                {adapter_, tr("Adapter"), units::Quantity::Length},
                                                {angle_, tr("At an angle"), units::Quantity::Angle}})
        static_cast<QLabel*>(form_->labelForField(line))->setText(with_unit(words, quantity, document_.units()));
    Entries torques{{job.torques.empty() ? tr("none typed yet") : tr("%1 typed").arg(job.torques.size()), QVariant()}};
    for (const job::Torque& t : job.torques)
        torques.emplace_back(tr("%1: %2").arg(qs(t.of), t.moment > 0 ? qs(units::text(t.moment, units::Quantity::Moment,
                                                                                      document_.units()))
                                                                     : qs(t.size)),
                             QVariant());
    refill(torques_, torques);
    torques_->setCurrentIndex(0);
}

} // namespace dervish::app
