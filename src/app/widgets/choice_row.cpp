#include "app/widgets/choice_row.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>

namespace dervish::app {

ChoiceRow::ChoiceRow(Document& document, const job::ChoiceRef& choice, QWidget* parent)
    : QWidget(parent), path_(QString::fromStdString(choice.path)), box_(new QComboBox) {
    auto* line = new QHBoxLayout(this);
    line->setContentsMargins(0, 2, 0, 2);
    line->setSpacing(5);
    auto* label = new QLabel(QString::fromStdString(choice.label));
    label->setBuddy(box_);
    line->addWidget(label, 1);
    for (const std::string& word : choice.words) box_->addItem(QString::fromStdString(word).replace('_', ' '));
    box_->setObjectName(path_);
    box_->setAccessibleName(QString::fromStdString(choice.label));
    box_->setFixedWidth(204); // as wide as a field with its unit and source
    line->addWidget(box_);
    connect(box_, &QComboBox::activated, this, [this, &document](int chosen) {
        document.edit(tr("choice of %1").arg(path_.section('/', -1).replace('_', ' ')), {},
                      [&](job::Job& job) { job::choose(job, path_.toStdString(), chosen); });
    });
}

void ChoiceRow::refresh(const job::ChoiceRef& choice, bool writable) {
    box_->setCurrentIndex(choice.chosen);
    box_->setEnabled(writable);
}

} // namespace dervish::app
