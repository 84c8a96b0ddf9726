#include "core/book/minutes.h"

#include <algorithm>

namespace dervish::book {

std::vector<Took> took(const Job& job) {
    std::vector<Took> out;
    for (const Entry& e : job.book.read())
        if (e.more.minutes > 0 && !e.more.steps.empty() && e.more.struck.empty())
            out.push_back({e.date, e.more.minutes, e.more.steps});
    return out;
}

std::optional<Minutes> minutes_of(const std::vector<Took>& before, const std::vector<std::string>& steps) {
    std::optional<Minutes> out;
    for (const Took& sheet : before) {
        const auto shared = std::ranges::count_if(
            steps, [&](const std::string& s) { return std::ranges::find(sheet.steps, s) != sheet.steps.end(); });
        const auto all = static_cast<std::ptrdiff_t>(steps.size() + sheet.steps.size()) - shared;
        if (shared == 0 || 2 * shared < all) continue;
        const double minutes =
            sheet.minutes * static_cast<double>(steps.size()) / static_cast<double>(sheet.steps.size());
        if (!out) out = Minutes{minutes, minutes, 0};
        out->least = std::min(out->least, minutes);
        out->most = std::max(out->most, minutes);
        ++out->sheets;
    }
    return out;
}

} // namespace dervish::book
