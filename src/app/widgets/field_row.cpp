#include "app/widgets/field_row.h"

#include "app/shell/theme.h"
#include "app/widgets/number_edit.h"
#include "app/widgets/source_mark.h"
#include "app/words.h"

#include <QGridLayout>
#include <QLabel>
#include <QTimer>
#include <QToolButton>

namespace dervish::app {

FieldRow::FieldRow(Document& document, const job::FieldSeen& field, const QString& label, QWidget* parent)
    : QWidget(parent), document_(document), path_(qs(field.path)), spec_(field.spec), label_(new QLabel(label)),
      unit_(new QLabel), error_(new QLabel), edit_(new NumberEdit(document, field.spec)), source_(new QToolButton),
      pause_(new QTimer(this)) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 2, 0, 2);
    grid->setHorizontalSpacing(5);
    grid->setVerticalSpacing(1);
    grid->setColumnStretch(0, 1);
    label_->setToolTip(field.spec.hint);
    label_->setBuddy(edit_);
    edit_->setObjectName(path_);
    edit_->setAccessibleName(label);
    edit_->setAccessibleDescription(field.spec.hint);
    edit_->set_tells_problems(false); // told below, where it stays
    edit_->setFixedWidth(80);
    unit_->setFixedWidth(58);
    label_->setWordWrap(true);
    label_->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred);
    unit_->setStyleSheet("font-size: 13px;");
    source_->setFixedSize(68, 24);
    source_->setToolButtonStyle(Qt::ToolButtonTextBesideIcon);
    source_->setStyleSheet("QToolButton { font-size: 13px; font-weight: normal; padding: 0 2px; border: none; "
                           "background: transparent; } QToolButton:focus { border: 1px solid palette(text); }");
    source_->setObjectName("source " + path_);
    source_->setFocusPolicy(Qt::NoFocus); // the next stop of Tab is the next value; F2 and Shift+F2 reach it
    error_->setWordWrap(true);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    error_->hide();
    grid->addWidget(label_, 0, 0);
    grid->addWidget(edit_, 0, 1);
    grid->addWidget(unit_, 0, 2);
    grid->addWidget(source_, 0, 3);
    grid->addWidget(error_, 1, 0, 1, 4);
    connect(edit_, &QLineEdit::textEdited, this, [this](const QString& text) { document_.type(path_, text); });
    connect(source_, &QToolButton::clicked, this, &FieldRow::choose_source);
    connect(edit_, &NumberEdit::menu_asked, this, &FieldRow::choose_source);
    connect(edit_, &NumberEdit::source_asked, this, [this] {
        if (edit_->isReadOnly()) return;
        document_.set_source(path_, static_cast<job::Source>((static_cast<int>(value_.source) + 1) % 3));
    });
    // The "2" of "2850" is no mistake yet: told when the hand pauses or leaves.
    pause_->setSingleShot(true);
    pause_->setInterval(350);
    connect(pause_, &QTimer::timeout, this, &FieldRow::tell_problem);
    connect(edit_, &QLineEdit::editingFinished, this, &FieldRow::leave);
}

void FieldRow::refresh(const job::FieldSeen& field, bool writable) {
    const bool waits = document_.job().drafts.contains(field.path);
    const Seen now{*field.value, document_.units(), writable, document_.doubt(path_)};
    if (!waits && seen_ == now && !edit_->hasFocus()) return;
    seen_ = waits ? std::nullopt : std::optional(now);
    value_ = *field.value;
    const QString text = waits ? document_.shown(path_) : qs(job::show(value_.value, spec_, document_.units()));
    // While it is typed in, the person's own text stands, as long as it means the shown value.
    bool same = edit_->text() == text;
    if (!same && edit_->hasFocus() && edit_->isModified() && !waits) {
        try {
            same = job::parse(edit_->text().toStdString(), spec_, document_.units(), field.path) == value_.value;
        } catch (const BadInput&) {
        }
    }
    if (!same) edit_->setText(text);
    edit_->setReadOnly(!writable);
    unit_->setText(qs(units::shown(spec_.quantity, document_.units()).symbol));

    const QColor ink = writable ? theme().ink : theme().soft;
    if (const std::pair mark(value_.source, ink.rgb()); mark != marked_) { // setting it lays out the whole panel
        source_->setIcon(source_mark(value_.source, ink));
        marked_ = mark;
    }
    source_->setEnabled(writable);
    source_->setText(spread_text(field, document_.units()));
    const QString word = value_.source == job::Source::Measured
                             ? tr("measured by %1").arg(tr(job::name_of(spec_.tool)))
                             : source_word(value_.source);
    source_->setToolTip(
        tr("%1, one sigma %2. Click to change; F2 in the field takes the next.").arg(word, source_->text()));
    source_->setAccessibleName(tr("source of %1: %2").arg(spec_.label, word));

    if (waits && edit_->hasFocus() && error_->isHidden())
        pause_->start();
    else
        tell_problem();
}

void FieldRow::tell_problem() {
    pause_->stop();
    const QString problem = document_.problem(path_), doubt = document_.doubt(path_);
    const QString words = problem.isEmpty() ? doubt : problem;
    if (words == error_->text() && error_->isHidden() == words.isEmpty()) return;
    error_->setText(words);
    error_->setVisible(!words.isEmpty());
    mark_bad(edit_, !problem.isEmpty()); // a doubt is a question: the value counts
}

void FieldRow::leave() {
    const QString text = document_.shown(path_);
    if (edit_->text() != text) edit_->setText(text);
    tell_problem();
}

QString FieldRow::error() const { return error_->isVisibleTo(this) ? error_->text() : QString(); }

void FieldRow::choose_source() {
    ask_source(this, source_->mapToGlobal(QPoint(0, source_->height())), document_,
               {path_.toStdString(), {}, spec_, &value_});
}

} // namespace dervish::app
