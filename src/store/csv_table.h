#pragma once
#include <initializer_list>
#include <string>
#include <string_view>
#include <vector>

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

/// A table that is read, as CsvTable writes it or with semicolons: cells unguarded, without blanks around them.
struct CsvRow {
    std::size_t line; ///< that it begins at, from 1
    std::vector<std::string> cells;
};
struct CsvRows {
    char between = ','; ///< or ';', where the first row has one outside quotes
    std::vector<CsvRow> rows;
};
/// Quotes hold separators and line breaks together (RFC 4180); rows without words, and notes that begin with #, are
/// left out. Example: read_csv("x_mm,at\n120,\"eye, left\"\n").rows[1].cells[1] is "eye, left".
CsvRows read_csv(std::string_view text);

} // namespace dervish::store
