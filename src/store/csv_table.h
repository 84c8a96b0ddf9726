#pragma once
#include <initializer_list>
#include <string>
#include <string_view>

namespace dervish::store {

/// A table as text: commas between cells and points in numbers, whatever the locale (RFC 4180).
/// Example: CsvTable t{"case", "force_N"}; t.add("roll").add(2680.4, 1).end_row(); t.text();
class CsvTable {
public:
    CsvTable(std::initializer_list<std::string_view> names);
    CsvTable& add(std::string_view words);
    CsvTable& add(double value, int decimals);
    void end_row(); ///< with empty cells to the last column
    const std::string& text() const { return text_; }

private:
    std::size_t columns_, cells_ = 0;
    std::string text_;
};

} // namespace dervish::store
