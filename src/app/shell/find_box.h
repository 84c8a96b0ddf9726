#pragma once
#include "app/document.h"

#include <functional>

class QAction;
class QWidget;

namespace dervish::app {

/// Find anything: type a few letters of a field, a test or an action; Enter goes there.
void show_find(QWidget* parent, Document& document, const QList<QAction*>& actions,
               const std::function<void(const QString&)>& go_to_field);

} // namespace dervish::app
