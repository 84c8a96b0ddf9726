#pragma once
#include "core/job/job.h"

namespace dervish::job {

/// Generic sizes to begin a stock list with.
std::vector<StockSize> usual_stock();

/// Stock as a person writes it, a size a line: "26" or "28 x 4", in the shown unit. Throws BadInput at "stock" with the
/// line that is no size.
std::vector<StockSize> parse_stock(const std::string& text, units::System system);
std::string stock_text(const std::vector<StockSize>& stock, units::System system);

} // namespace dervish::job
