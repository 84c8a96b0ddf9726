#pragma once
#include <optional>
#include <string>

/// Dates of the book and of tests, "2031-05-11", as days.
namespace dervish::job {

/// Days since 1970-01-01; nothing for what is no date of the calendar.
std::optional<int> day_of(const std::string& date);
std::string date_of(int day);

} // namespace dervish::job
