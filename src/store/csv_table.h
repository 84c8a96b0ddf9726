#pragma once
#include <initializer_list>
#include <string>
#include <string_view>

namespace dervish::store {

/// A table as text: commas between cells and points in numbers, whatever the locale (RFC 4180).
/// Words that a spreadsheet would take for a formula (beginning with = + - @, a tab or a line's end) stand behind an
/// apostrophe, and unguarded() gives them back as they were; numbers stand as they are.
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

/// A cell as it was before CsvTable guarded it.
std::string unguarded(std::string cell);

} // namespace dervish::store
