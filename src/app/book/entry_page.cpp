#include "app/book/entry_page.h"

#include "app/shell/theme.h"
#include "app/shell/top_bar.h"
#include "app/widgets/page_pieces.h"
#include "core/book/shelf.h"
#include "core/edit/book.h"
#include "core/say/book_words.h"
#include "core/say/proof_words.h"

#include <QDesktopServices>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QFormLayout>
#include <QPlainTextEdit>
#include <QSlider>
#include <QTemporaryDir>
#include <QUrl>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace dervish::app {
namespace {
QString paragraph(const QString& words) {
    return words.isEmpty() ? QString() : "<p style='margin: 3px 0'>" + words.toHtmlEscaped() + "</p>";
}
} // namespace

EntryPage::EntryPage(Document& document, StoryView& story, QWidget* parent)
    : QWidget(parent), document_(document), story_(story), words_(named_words("entry words")),
      error_(named_words("entry error")), as_it_stood_(named_button(tr("The car as it stood (B)"), "as it stood")),
      go_back_(named_button(tr("Go back to this"), "go back to this")),
      open_test_(named_button(tr("Open it in Prove"), "open in prove")),
      correct_(named_button(tr("Correct it"), "correct entry")), strike_(named_button({}, "strike entry")),
      attach_(named_button(tr("Put a photograph or file with it …"), "attach file")),
      felt_(named_button(tr("How does it feel now?"), "feel again")), correction_(new QWidget), marks_(new QWidget),
      date_(named_line("entry date", tr("Date"))), distance_(named_line("entry distance", tr("Distance driven"))),
      why_struck_(named_line("why struck", tr("Why it does not count"))),
      again_(named_line("ask again", tr("Date on which to ask how it feels"))),
      marker_(named_line("felt by", tr("Who feels it"))), reason_(new QPlainTextEdit),
      files_(named_combo("entry files", tr("Files with it"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(5);
    words_->setTextFormat(Qt::RichText);
    words_->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(words_);
    auto* back = new QHBoxLayout;
    back->addWidget(as_it_stood_);
    back->addWidget(go_back_);
    for (QPushButton* b : {as_it_stood_, go_back_}) b->setStyleSheet("padding-left: 8px; padding-right: 8px;");
    column->addLayout(back);
    column->addWidget(open_test_);
    column->addWidget(files_);
    build_correction(column);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    column->addWidget(error_);
    connect(as_it_stood_, &QPushButton::clicked, this, &EntryPage::look_back);
    connect(go_back_, &QPushButton::clicked, this, [this] {
        if (story_.stood_by() >= 0) go_back_to(document_, story_.stood_by());
    });
    connect(open_test_, &QPushButton::clicked, this, [this] {
        if (story_.chosen()) emit prove_wanted(story_.moments()[*story_.chosen()].test);
    });
    connect(files_, &QComboBox::activated, this, &EntryPage::open_file);
    connect(&document_, &Document::refused, this, [this] {
        error_->setText(tr("The past is looked at and cannot be changed. “Back to now” first."));
        error_->show();
    });
    refresh();
}

void EntryPage::build_correction(QVBoxLayout* column) {
    auto* inner = new QVBoxLayout(correction_);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(5);
    inner->addWidget(felt_);
    build_marks(inner);
    inner->addWidget(attach_);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(5);
    form->addRow(tr("Ask again on"), again_);
    form->addRow(tr("Date"), date_);
    form->addRow(tr("Distance"), distance_);
    reason_->setObjectName("entry reason");
    reason_->setAccessibleName(tr("What and why"));
    reason_->setTabChangesFocus(true);
    reason_->setFixedHeight(76);
    form->addRow(tr("What, why"), reason_);
    inner->addLayout(form);
    inner->addWidget(correct_, 0, Qt::AlignLeft);
    auto* out = new QHBoxLayout;
    why_struck_->setPlaceholderText(tr("why it does not count"));
    again_->setPlaceholderText("2031-06-30");
    out->addWidget(why_struck_, 1);
    out->addWidget(strike_);
    inner->addLayout(out);
    column->addWidget(correction_);
    connect(correct_, &QPushButton::clicked, this, &EntryPage::correct);
    for (const auto& [line, key] : {std::pair{date_, "date"}, {distance_, "distance"}})
        connect(line, &QLineEdit::textEdited, this,
                [this, field = std::string(key)](const QString& text) { keep(field, text); });
    connect(reason_, &QPlainTextEdit::textChanged, this, [this] {
        if (of_ >= 0 && of_ == story_.entry_index()) keep("reason", reason_->toPlainText());
    });
    connect(strike_, &QPushButton::clicked, this, &EntryPage::strike);
    connect(attach_, &QPushButton::clicked, this, &EntryPage::attach_file);
    connect(again_, &QLineEdit::editingFinished, this, [this] {
        const job::Entry* e = story_.entry();
        const std::string typed = again_->text().trimmed().toStdString();
        if (e && typed != e->more.look_again)
            edit(tr("when to ask again"), [&](job::Job& job, int at) { edit::set_look_again(job, at, typed); });
    });
}

void EntryPage::build_marks(QVBoxLayout* column) {
    auto* inner = new QVBoxLayout(marks_);
    inner->setContentsMargins(0, 0, 0, 0);
    inner->setSpacing(1);
    marker_->setPlaceholderText(tr("Who feels it"));
    inner->addWidget(marker_);
    for (const proof::Scale& scale : proof::drive_scales()) {
        auto* head = new QLabel(tr("<b>%1</b>: %2 to %3").arg(tr(scale.label), tr(scale.low), tr(scale.high)));
        head->setWordWrap(true);
        head->setStyleSheet("font-size: 13px;");
        auto* slider = new QSlider(Qt::Horizontal);
        slider->setObjectName(QString("felt ") + scale.key);
        slider->setAccessibleName(tr("%1, from %2 to %3").arg(tr(scale.label), tr(scale.low), tr(scale.high)));
        slider->setRange(0, 20);
        auto* value = new QLabel;
        value->setFixedWidth(34);
        auto* row = new QHBoxLayout;
        row->addWidget(slider, 1);
        row->addWidget(value);
        inner->addWidget(head);
        inner->addLayout(row);
        const auto put = [this, slider, key = std::string(scale.key)] {
            const std::string who = marker_->text().trimmed().toStdString();
            if (who.empty()) {
                error_->setText(tr("Say who feels it: a mark without a name helps nobody later."));
                error_->show();
                show_marks();
                marker_->setFocus();
                return;
            }
            edit(tr("how it feels"),
                 [&](job::Job& job, int at) { edit::put_entry_mark(job, at, who, key, slider->value() / 2.0); });
        };
        connect(slider, &QSlider::sliderReleased, this, put);
        connect(slider, &QSlider::actionTriggered, this, [slider, put](int action) {
            if (action == QAbstractSlider::SliderMove) return;
            slider->setValue(slider->sliderPosition());
            put();
        });
        mark_rows_.push_back({scale.key, slider, value});
    }
    column->addWidget(marks_);
    marks_->hide();
    connect(felt_, &QPushButton::clicked, this, [this] { marks_->setVisible(!marks_->isVisible()); });
    connect(marker_, &QLineEdit::textChanged, this, &EntryPage::show_marks);
}

void EntryPage::edit(const QString& what, const std::function<void(job::Job&, int)>& change) {
    const int at = story_.entry_index();
    if (at < 0) return;
    error_->clear();
    error_->hide();
    try {
        document_.edit(what, {}, [&](job::Job& job) { change(job, at); });
    } catch (const BadInput& e) {
        error_->setText(qs(e.problem() + "; " + e.accepted()));
        error_->show();
    }
}

std::string EntryPage::said(const std::string& field) const {
    const job::Entry& e = *story_.entry();
    if (field == "date") return e.date;
    if (field == "reason") return e.reason;
    return e.odometer > 0 ? job::show(e.odometer, edit::clock_spec(), document_.units()) : std::string();
}

/// Half a correction waits with the job, so that another entry can be looked at in between.
void EntryPage::keep(const std::string& field, const QString& text) {
    const int at = story_.entry_index();
    if (at < 0) return;
    std::string typed = text.toStdString();
    if (typed == said(field)) typed.clear();
    if (typed == edit::kept_for_entry(document_.job(), field, at)) return;
    document_.edit(tr("words for a correction"), QString("correct %1 %2").arg(at).arg(qs(field)), [&](job::Job& job) {
        edit::keep_for_entry(job, field, {typed, document_.units()}, at);
    });
}

void EntryPage::look_back() {
    if (document_.looking_back())
        document_.come_back();
    else if (story_.stood_by() >= 0)
        document_.look_back(story_.stood_by());
}

void EntryPage::correct() {
    edit(tr("correction of the book"), [&](job::Job& job, int at) {
        const job::Entry was = job.book.read()[static_cast<std::size_t>(at)];
        // What is not typed over is what was said, not the rounded figure that is shown of it.
        const job::Draft* distance = edit::draft_for_entry(job, "distance", at);
        const double odometer =
            !distance_->text().trimmed().isEmpty()
                ? distance ? job::parse(distance->text, edit::clock_spec(), distance->units, "odometer") : was.odometer
                : 0;
        edit::correct_entry(job, at, date_->text().trimmed().toStdString(), odometer,
                            reason_->toPlainText().trimmed().toStdString(), story_.today().toStdString());
        edit::forget_kept(job, at);
    });
}

void EntryPage::strike() {
    const job::Entry* e = story_.entry();
    if (!e) return;
    const std::string why = why_struck_->text().trimmed().toStdString();
    if (e->more.struck.empty() && why.empty()) {
        error_->setText(tr("Say why it does not count: it stays readable, with the reason."));
        error_->show();
        why_struck_->setFocus();
        return;
    }
    const bool back = !e->more.struck.empty();
    edit(back ? tr("counts again") : tr("struck out"),
         [&](job::Job& job, int at) { edit::strike_entry(job, at, back ? std::string() : why); });
    why_struck_->clear();
}

void EntryPage::attach_file() {
    const QString path = QFileDialog::getOpenFileName(this, tr("Photograph or file"), QDir::homePath());
    if (path.isEmpty()) return;
    edit(tr("file with an entry"), [&](job::Job& job, int at) {
        if (document_.looking_back()) return;
        edit::attach(job, at, {document_.attach(path.toStdString()), QFileInfo(path).fileName().toStdString()});
    });
}

void EntryPage::open_file(int which) {
    const job::Entry* e = story_.entry();
    if (!e || which < 1 || which > static_cast<int>(e->more.files.size())) return;
    const std::string name = e->more.files[static_cast<std::size_t>(which - 1)].file;
    files_->setCurrentIndex(0);
    const auto member = document_.attachments()->find(name);
    if (member == document_.attachments()->end()) {
        error_->setText(tr("“%1” is not in the job's file any more.").arg(qs(name)));
        error_->show();
        return;
    }
    std::string bytes;
    try {
        bytes = member->second.content.bytes();
    } catch (const BadInput& damaged) {
        error_->setText(qs(damaged.what()));
        error_->show();
        return;
    }
    // A copy for whatever shows such files: what it changes there does not come back.
    static QTemporaryDir shown;
    QFile copy(shown.filePath(QFileInfo(qs(name)).fileName()));
    if (!copy.open(QIODevice::WriteOnly)) return;
    copy.write(bytes.data(), static_cast<qint64>(bytes.size()));
    copy.close();
    QDesktopServices::openUrl(QUrl::fromLocalFile(copy.fileName()));
}

QString EntryPage::told(const job::Entry& e) const {
    const auto system = document_.units();
    const job::EntryMore& m = e.more;
    const QString far = qs(say::distance_words(e.odometer, system));
    QString out = paragraph((e.date.empty() ? tr("no date") : qs(e.date)) + ", " +
                            (far.isEmpty() ? tr("distance not said") : far));
    QString head = qs(say::words_of(e.kind));
    if (!head.isEmpty()) head[0] = head[0].toUpper();
    if (e.kind == job::EntryKind::Driven) head += ": " + qs(say::words_of(m.wears));
    out += "<p style='margin: 3px 0; font-size: 16px'><b>" + head.toHtmlEscaped() + "</b></p>";
    const QString reason = qs(e.reason).toHtmlEscaped();
    out += "<p style='margin: 3px 0'>" + (m.struck.empty() ? reason : "<s>" + reason + "</s>") + "</p>";
    if (!m.struck.empty()) out += paragraph(tr("Struck out: %1").arg(qs(m.struck)));
    if (!m.person.empty()) out += paragraph(tr("By %1").arg(qs(m.person)));
    if (m.driven_so > 0) out += paragraph(tr("Driven so for %1").arg(qs(say::distance_words(m.driven_so, system))));
    if (!m.noticed.empty()) out += paragraph(tr("Until it was found: %1").arg(qs(m.noticed)));
    QStringList parts;
    if (!e.parts.empty())
        for (const book::Thing& t : book::things(document_.job()))
            if (std::ranges::find(e.parts, t.id) != e.parts.end()) parts << qs(say::words_of(t));
    if (!parts.isEmpty()) out += paragraph(tr("Parts: %1").arg(parts.join(", ")));
    if (!m.entered.empty()) out += paragraph(tr("Written on %1").arg(qs(m.entered)));
    for (const job::Corrected& c : m.corrected)
        out += paragraph(tr("Until %1 it said: %2, %3, “%4”")
                             .arg(qs(c.on), qs(c.date), qs(say::distance_words(c.odometer, system)), qs(c.reason)));
    QStringList marks;
    for (const job::Impression& i : m.marks)
        for (const proof::Scale& s : proof::drive_scales())
            if (i.scale == s.key)
                marks << tr("%1, %2: %3 of 10").arg(qs(i.person), tr(s.label).toLower(), qs(units::trimmed(i.mark, 1)));
    if (!marks.isEmpty()) out += paragraph(marks.join("; "));
    return out;
}

QString EntryPage::told(const job::PlannedTest& t) const {
    QString out = paragraph(tr("%1, test").arg(qs(t.date)));
    out += "<p style='margin: 3px 0; font-size: 16px'><b>" + qs(t.name).toHtmlEscaped() + "</b></p>";
    out += paragraph(qs(t.question));
    if (const proof::Protocol* p = proof::protocol_of(t); p && !p->channels.empty()) {
        const say::Told words = say::told(t, document_.units());
        out += paragraph(qs(words.headline)) + paragraph(qs(words.detail));
    }
    if (t.decision.kind != job::Decision::Kind::None)
        out += paragraph(tr("%1, decided to %2: %3")
                             .arg(qs(t.decision.date), qs(say::words_of(t.decision.kind)), qs(t.decision.words)));
    return out;
}

void EntryPage::show_marks() {
    const job::Entry* e = story_.entry();
    const std::string who = marker_->text().trimmed().toStdString();
    for (const Mark& row : mark_rows_) {
        double mark = std::nan("");
        if (e)
            for (const job::Impression& i : e->more.marks)
                if (i.person == who && i.scale == row.scale) mark = i.mark;
        const QSignalBlocker quiet(row.slider);
        row.slider->setValue(std::isnan(mark) ? 10 : static_cast<int>(std::lround(2 * mark)));
        row.value->setText(std::isnan(mark) ? tr("·") : qs(units::trimmed(mark, 1)));
    }
}

void EntryPage::refresh() {
    const job::Entry* e = story_.entry();
    const job::PlannedTest* t = story_.test();
    words_->setText(e   ? told(*e)
                    : t ? told(*t)
                        : tr("Nothing is chosen. Click on the line, or write the first entry."));
    const bool stood = story_.stood_by() >= 0;
    as_it_stood_->setVisible(stood);
    as_it_stood_->setText(document_.looking_back() ? tr("Back to now (B)") : tr("The car as it stood (B)"));
    go_back_->setVisible(stood);
    open_test_->setVisible(t != nullptr);
    correction_->setVisible(e != nullptr);
    files_->setVisible(e && !e->more.files.empty());
    error_->hide();
    const int index = story_.entry_index();
    const bool another = std::exchange(of_, index) != index;
    if (!e) return;
    Entries files{{tr("Files with it: %1").arg(e->more.files.size()), QVariant()}};
    for (const job::AttachedFile& f : e->more.files)
        files.emplace_back(qs(f.words.empty() ? f.file : f.words), QVariant());
    refill(files_, files);
    show_kept(again_, e->more.look_again, another);
    const auto shown = [&](const char* field) {
        const std::string kept = edit::kept_for_entry(document_.job(), field, index);
        return kept.empty() ? said(field) : kept;
    };
    show_kept(date_, shown("date"), another);
    show_kept(distance_, shown("distance"), another);
    if (another || !reason_->hasFocus())
        if (const QString words = qs(shown("reason")); reason_->toPlainText() != words) reason_->setPlainText(words);
    correct_->setText(edit::draft_for_entry(document_.job(), "date", index) ||
                              edit::draft_for_entry(document_.job(), "distance", index) ||
                              edit::draft_for_entry(document_.job(), "reason", index)
                          ? tr("Correct it (half typed)")
                          : tr("Correct it"));
    strike_->setText(e->more.struck.empty() ? tr("Strike out") : tr("Counts again"));
    show_marks();
}

} // namespace dervish::app
