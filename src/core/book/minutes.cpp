#include "core/book/minutes.h"

#include <algorithm>

namespace dervish::book {

std::optional<Minutes> minutes_of(const Job& job, const std::vector<std::string>& steps) {
    std::optional<Minutes> out;
    if (steps.empty()) return out;
    for (const Entry& e : job.book.read()) {
        if (e.more.minutes <= 0 || e.more.steps.empty() || !e.more.struck.empty()) continue;
        const auto shared = std::ranges::count_if(
            steps, [&](const std::string& s) { return std::ranges::find(e.more.steps, s) != e.more.steps.end(); });
        const auto all = static_cast<std::ptrdiff_t>(steps.size() + e.more.steps.size()) - shared;
        if (2 * shared < all) continue;
        const double took =
            e.more.minutes * static_cast<double>(steps.size()) / static_cast<double>(e.more.steps.size());
        if (!out) out = Minutes{took, took, 0};
        out->least = std::min(out->least, took);
        out->most = std::max(out->most, took);
        ++out->sheets;
    }
    return out;
}

} // namespace dervish::book
