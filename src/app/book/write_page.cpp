#include "app/book/write_page.h"

#include "app/shell/theme.h"
#include "app/widgets/page_pieces.h"
#include "core/book/shelf.h"
#include "core/edit/book.h"
#include "core/say/book_words.h"

#include <QCompleter>
#include <QFormLayout>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>

namespace dervish::app {
namespace {
/// In the order in which they are offered. What is fitted or found on the car is told by “Fit it” and “Found so”, which
/// change Fitted too; a decision by Prove, or here.
constexpr job::EntryKind offered[] = {job::EntryKind::Noted,  job::EntryKind::Failed, job::EntryKind::Serviced,
                                      job::EntryKind::Driven, job::EntryKind::Felt,   job::EntryKind::Decided,
                                      job::EntryKind::Removed};
} // namespace

namespace {
constexpr double far_ahead = 400; ///< days beyond the last of the book and of the clock: more likely a slip
}

WritePage::WritePage(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), kind_(named_combo("new kind", tr("What it is"))),
      wears_(named_combo("new wears", tr("What kind of day"))), part_(named_combo("new part", tr("Part"))),
      reason_(new QPlainTextEdit), noticed_(new QPlainTextEdit), error_(named_words("write error")),
      form_(new QFormLayout) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto* how = named_words("write how");
    how->setText(
        tr("What is fitted, or found different on the car, goes into the book by “Fit it” and “Found so” above. "
           "All else is written here; what is typed stays until it is."));
    column->addWidget(how);
    for (const job::EntryKind k : offered) kind_->addItem(qs(say::words_of(k)));
    for (int w = 0; w < 4; ++w) wears_->addItem(qs(say::words_of(static_cast<job::Wears>(w))));
    form_->setVerticalSpacing(6);
    form_->addRow(tr("It was"), kind_);
    form_->addRow(tr("Kind of day"), wears_);
    const auto line = [&](const char* key, const QString& label) {
        auto* edited = named_line(QString("new ") + key, label);
        form_->addRow(label, edited);
        lines_.push_back({key, label, edited});
        connect(edited, &QLineEdit::textEdited, this, [this, key](const QString& text) { keep(key, text); });
    };
    line("date", tr("Date"));
    line("distance", tr("On the clock"));
    const auto words = [&](QPlainTextEdit* edited, const char* key, const QString& label, int high) {
        edited->setObjectName(QString("new ") + key);
        edited->setAccessibleName(label);
        edited->setTabChangesFocus(true);
        edited->setFixedHeight(high);
        form_->addRow(label, edited);
        connect(edited, &QPlainTextEdit::textChanged, this, [this, edited, key] {
            if (edited->toPlainText().toStdString() != edit::kept_for_entry(document_.job(), key))
                keep(key, edited->toPlainText());
        });
    };
    words(reason_, "reason", tr("What, why"), 96);
    form_->addRow(tr("Part"), part_);
    line("driven_so", tr("Driven so for"));
    words(noticed_, "noticed", tr("Until found"), 60);
    noticed_->setPlaceholderText(tr("how it drove until it was found"));
    line("person", tr("Who"));
    line("look_again", tr("Ask again on"));
    column->addLayout(form_);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    column->addWidget(error_);
    auto* write = named_button(tr("Write it into the book"), "write entry");
    column->addWidget(write);
    connect(write, &QPushButton::clicked, this, &WritePage::write);
    connect(kind_, &QComboBox::activated, this, &WritePage::refresh);
    refresh();
}

job::EntryKind WritePage::kind() const { return offered[std::clamp(kind_->currentIndex(), 0, 6)]; }

void WritePage::keep(const std::string& field, const QString& text) {
    document_.edit(tr("words for the book"), "book " + qs(field), [&](job::Job& job) {
        edit::keep_for_entry(job, field, {text.toStdString(), document_.units()});
    });
}

double WritePage::distance(const std::string& field) const {
    const job::Job& job = document_.job();
    const job::Draft* kept = edit::draft_for_entry(job, field);
    if (!kept || qs(kept->text).trimmed().isEmpty()) return 0;
    return job::parse(kept->text, edit::clock_spec(), kept->units, field);
}

void WritePage::write() {
    const job::Job& job = document_.job();
    const auto said = [&](const char* key) { return qs(edit::kept_for_entry(job, key)).trimmed().toStdString(); };
    error_->hide();
    std::string at;
    try {
        job::Entry entry;
        entry.kind = kind();
        entry.date = said("date").empty() ? story_.today().toStdString() : said("date");
        if (const auto day = job::day_of(entry.date);
            day && *day > story_.now().day + far_ahead && entry.date != asked_date_) {
            asked_date_ = entry.date;
            throw BadInput("date", entry.date + " is long after the book's last day, " + story_.today().toStdString(),
                           "another date; or write it once more if it is so");
        }
        entry.reason = said("reason");
        entry.odometer = distance("distance");
        entry.more.person = said("person");
        entry.more.look_again = said("look_again");
        if (!entry.more.look_again.empty() && !job::day_of(entry.more.look_again))
            throw BadInput("look_again", "“" + entry.more.look_again + "” is no date",
                           "year, month and day, such as 2031-06-30");
        if (part_->currentIndex() > 0) entry.parts.push_back(part_->currentData().toString().toStdString());
        if (entry.kind == job::EntryKind::Failed) {
            entry.more.driven_so = distance("driven_so");
            entry.more.noticed = said("noticed");
        }
        if (entry.kind == job::EntryKind::Driven) entry.more.wears = static_cast<job::Wears>(wears_->currentIndex());
        document_.edit(tr("entry of the book"), {}, [&](job::Job& j) {
            edit::write_entry(j, std::move(entry), story_.today().toStdString());
            edit::forget_kept(j);
        });
    } catch (const BadInput& e) {
        at = e.where();
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
    if (at.empty()) {
        if (!document_.looking_back()) emit written();
        return;
    }
    if (at == "odometer") at = "distance";
    if (auto* edited = findChild<QWidget*>("new " + qs(at))) edited->setFocus();
}

void WritePage::refresh() {
    const job::Job& job = document_.job();
    for (const Line& line : lines_) {
        const std::string kept = edit::kept_for_entry(job, line.key);
        if (line.edit->text() != qs(kept)) line.edit->setText(qs(kept));
    }
    for (auto& [edited, key] : {std::pair{reason_, "reason"}, std::pair{noticed_, "noticed"}})
        if (edited->toPlainText() != qs(edit::kept_for_entry(job, key)))
            edited->setPlainText(qs(edit::kept_for_entry(job, key)));
    lines_[0].edit->setPlaceholderText(story_.today());
    lines_[1].edit->setPlaceholderText(qs(say::distance_words(story_.now().odometer, document_.units())));
    Entries parts{{tr("none in particular"), QVariant()}};
    for (const book::Thing& t : book::things(job))
        if (t.on_car) parts.emplace_back(qs(say::words_of(t)), qs(t.id));
    refill(part_, parts, part_->currentData().toString());
    const auto show = [&](QWidget* field, bool on) {
        field->setVisible(on);
        form_->labelForField(field)->setVisible(on);
    };
    show(wears_, kind() == job::EntryKind::Driven);
    for (const Line& line : lines_)
        if (std::string(line.key) == "driven_so") show(line.edit, kind() == job::EntryKind::Failed);
    show(noticed_, kind() == job::EntryKind::Failed);
}

} // namespace dervish::app
