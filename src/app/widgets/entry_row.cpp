#include "app/widgets/entry_row.h"

#include "app/shell/theme.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QVBoxLayout>

namespace dervish::app {

EntryRow::EntryRow(Document& document, const QString& label, const QString& name, Place place, QWidget* parent)
    : QWidget(parent), document_(document), place_(std::move(place)), words_(label), label_(new QLabel),
      error_(new QLabel), line_(new NumberEdit(document, place_.spec, place_.may_be_more)) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 1, 0, 1);
    column->setSpacing(1);
    auto* row = new QHBoxLayout;
    column->addLayout(row);
    column->addWidget(error_);
    error_->setWordWrap(true);
    error_->setStyleSheet("font-size: 13px; color: " + theme().caution.name());
    line_->set_tells_problems(false); // told below, where it stays
    label_->setWordWrap(true);
    label_->setBuddy(line_);
    label_->setToolTip(tr(place_.spec.hint));
    line_->setObjectName(name);
    line_->setAccessibleName(label);
    line_->setFixedWidth(96);
    row->addWidget(label_, 1);
    row->addWidget(line_);
    connect(line_, &QLineEdit::textEdited, this, [this](const QString& text) {
        document_.edit(place_.said.isEmpty() ? tr("entry of a test") : place_.said, "type " + qs(place_.key),
                       [&](job::Job& job) {
                           place_.type(job, {text.toStdString(), document_.units()});
                       });
    });
    connect(line_, &QLineEdit::editingFinished, this, [this] {
        line_->setModified(false); // shown from here on as it is kept
        refresh();
    });
    refresh();
}

void EntryRow::refresh() {
    label_->setText(with_unit(words_, place_.spec.quantity, document_.units()));
    const auto waits = document_.draft(place_.key, place_.spec.quantity);
    const QString text = waits ? *waits : place_.text(document_.job());
    if (line_->text() != text && !(line_->hasFocus() && line_->isModified())) line_->setText(text);
    mark_bad(line_, waits.has_value());
    QString problem;
    if (waits && !(line_->hasFocus() && line_->isModified())) // what is half typed is no mistake yet
        try {
            std::string words = waits->toStdString();
            if (place_.may_be_more && words.starts_with("<")) words[0] = '>';
            job::parse_entry(words, place_.spec, document_.units(), place_.key, place_.may_be_more);
        } catch (const BadInput& e) {
            problem = qs(e.problem() + "; " + e.accepted());
        }
    error_->setText(problem);
    error_->setVisible(!problem.isEmpty());
}

} // namespace dervish::app
