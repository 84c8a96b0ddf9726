#include "store/csv_table.h"

#include "core/units/units.h"

namespace dervish::store {

CsvTable::CsvTable(std::initializer_list<std::string_view> names) : columns_(names.size()) {
    for (const std::string_view name : names) add(name);
    end_row();
}

CsvTable& CsvTable::add(std::string_view words) {
    if (cells_++ > 0) text_ += ',';
    if (words.find_first_of(",\"\n") == std::string_view::npos) {
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
