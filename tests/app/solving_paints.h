#pragma once
#include <QStringList>

namespace dervish::app {
/// Classes of widgets that solved something inside a paint event of this run of the tests.
extern QStringList solving_paints;
} // namespace dervish::app
