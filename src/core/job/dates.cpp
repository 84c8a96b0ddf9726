#include "core/job/dates.h"

#include <charconv>
#include <chrono>

namespace dervish::job {
namespace {
namespace when = std::chrono;
}

std::optional<int> day_of(const std::string& date) {
    unsigned year = 0, month = 0, day = 0;
    const auto number = [&](std::size_t from, std::size_t to, auto& into) {
        const char* const end = date.data() + to;
        return std::from_chars(date.data() + from, end, into).ptr == end;
    };
    if (date.size() != 10 || date[4] != '-' || date[7] != '-') return {};
    if (!number(0, 4, year) || !number(5, 7, month) || !number(8, 10, day)) return {};
    const when::year_month_day of{when::year{static_cast<int>(year)}, when::month{month}, when::day{day}};
    if (!of.ok()) return {};
    return static_cast<int>(when::sys_days{of}.time_since_epoch().count());
}

std::string date_of(int day) {
    const when::year_month_day of{when::sys_days{when::days{day}}};
    const auto two = [](unsigned n) { return (n < 10 ? "0" : "") + std::to_string(n); };
    std::string year = std::to_string(static_cast<int>(of.year()));
    while (year.size() < 4) year.insert(0, "0");
    return year + "-" + two(static_cast<unsigned>(of.month())) + "-" + two(static_cast<unsigned>(of.day()));
}

} // namespace dervish::job
