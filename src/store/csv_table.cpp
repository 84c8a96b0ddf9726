#include "store/csv_table.h"

#include "core/units/units.h"

#include <charconv>

namespace dervish::store {

CsvTable::CsvTable(std::initializer_list<std::string_view> names) : columns_(names.size()) {
    for (const std::string_view name : names) add(name);
    end_row();
}

namespace {
/// Behind any number of apostrophes, so that one too many is taken off again.
bool is_like_a_formula(std::string_view words) {
    const std::size_t at = words.find_first_not_of('\'');
    return at != words.npos && std::string_view("=+-@\t\r\n").find(words[at]) != std::string_view::npos;
}
bool is_number(std::string_view words) {
    double value = 0;
    const auto [end, error] = std::from_chars(words.data(), words.data() + words.size(), value);
    return error == std::errc() && end == words.data() + words.size();
}
} // namespace

std::string unguarded(std::string cell) {
    if (cell.starts_with('\'') && is_like_a_formula(cell)) cell.erase(0, 1);
    return cell;
}

CsvTable& CsvTable::add(std::string_view words) {
    if (cells_++ > 0) text_ += ',';
    std::string guarded;
    if (is_like_a_formula(words) && !is_number(words)) words = guarded = "'" + std::string(words);
    if (words.find_first_of(",\"\n\r") == std::string_view::npos) {
        text_ += words;
        return *this;
    }
    text_ += '"';
    for (const char c : words) text_ += c == '"' ? std::string("\"\"") : std::string(1, c);
    text_ += '"';
    return *this;
}

CsvTable& CsvTable::add(double value, int decimals) { return add(units::fixed(value, decimals)); }

void CsvTable::end_row() {
    while (cells_ < columns_) add("");
    text_ += '\n';
    cells_ = 0;
}

} // namespace dervish::store
