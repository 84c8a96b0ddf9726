#pragma once
#include "app/widgets/chip.h"

#include <QHBoxLayout>
#include <QStackedWidget>
#include <QVBoxLayout>

#include <vector>

namespace dervish::app {

/// A reading: what its chip says, itself, and what it shows in a plain sentence.
struct Page {
    QString word;
    QWidget* page;
    QString hint;
};

/// A station's second reading: a chip a page, in `group` by their order and named "reading …", over the page; `beside`
/// to the right of the chips.
inline QWidget* paged(QButtonGroup* group, const std::vector<Page>& pages, QWidget* beside = nullptr) {
    auto* whole = new QWidget;
    whole->setObjectName("ground");
    auto* column = new QVBoxLayout(whole);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    auto* chips = new QHBoxLayout;
    chips->setContentsMargins(20, 4, 20, 0);
    chips->setSpacing(3);
    auto* stack = new QStackedWidget;
    int id = 0;
    for (const auto& [word, page, hint] : pages) {
        QPushButton* button = chip(group, id, word, "reading " + word);
        button->setChecked(id++ == 0);
        button->setStyleSheet("padding: 2px 6px;");
        button->setToolTip(hint);
        chips->addWidget(button);
        stack->addWidget(page);
    }
    chips->addStretch();
    if (beside) chips->addWidget(beside);
    column->addLayout(chips);
    column->addWidget(stack, 1);
    QObject::connect(group, &QButtonGroup::idClicked, stack, &QStackedWidget::setCurrentIndex);
    return whole;
}

} // namespace dervish::app
