#pragma once
#include <QButtonGroup>
#include <QPushButton>

namespace dervish::app {

/// One of a row of which one is chosen: a button with a word, `id` in its group. `padding`: left and right, px; 0: the
/// theme's own.
inline QPushButton* chip(QButtonGroup* group, int id, const QString& word, const QString& name, int padding = 0) {
    auto* out = new QPushButton(word);
    out->setCheckable(true);
    out->setObjectName(name);
    if (padding > 0) out->setStyleSheet(QString("padding-left: %1px; padding-right: %1px;").arg(padding));
    group->addButton(out, id);
    return out;
}

} // namespace dervish::app
