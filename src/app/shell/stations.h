#pragma once
#include "app/shell/station.h"

#include <vector>

namespace dervish::app {

/// A station as the rail, the keys and their card know it before anyone has been there.
struct StationKind {
    const char *title, *icon;
    int key; ///< the digit that opens it
    Station* (*make)(Document&);
};

/// Every station, in the order of the work.
const std::vector<StationKind>& station_kinds();

} // namespace dervish::app
