#pragma once
#include "core/units/units.h"

#include <QString>

#include <string_view>

namespace dervish::app {

/// Words from the core.
inline QString qs(std::string_view words) {
    return QString::fromUtf8(words.data(), static_cast<qsizetype>(words.size()));
}
/// "hung on, kg": words with the unit that their numbers are shown in, where it has a sign.
inline QString with_unit(const QString& words, units::Quantity quantity, units::System system) {
    const std::string_view symbol = units::shown(quantity, system).symbol;
    return symbol.empty() ? words : words + ", " + qs(symbol);
}

} // namespace dervish::app
