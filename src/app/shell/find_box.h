#pragma once
#include "app/document.h"

#include <functional>

class QAbstractButton;
class QAction;
class QWidget;

namespace dervish::app {

/// Find anything: type a few letters of a field, a reading or an action, as it is called here or in a shop; Enter goes
/// there.
void show_find(QWidget* parent, Document& document, const QList<QAction*>& actions,
               const std::vector<std::pair<QString, QAbstractButton*>>& readings,
               const std::function<void(const QString&)>& go_to_field,
               const std::function<void(QAbstractButton*)>& go_to_reading);

} // namespace dervish::app
