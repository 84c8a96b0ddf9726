#pragma once
#include <QString>

#include <string>

namespace dervish::app {

/// Words from the core.
inline QString qs(const std::string& words) { return QString::fromStdString(words); }

} // namespace dervish::app
