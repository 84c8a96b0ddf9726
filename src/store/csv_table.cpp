#include "store/csv_table.h"

#include "core/units/units.h"

#include <algorithm>
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

CsvRows read_csv(std::string_view text) {
    constexpr std::string_view byte_order = "\xEF\xBB\xBF"; // as spreadsheets write it
    if (text.starts_with(byte_order)) text.remove_prefix(byte_order.size());
    CsvRows out;
    bool known = false; // what stands between cells
    std::size_t line = 1;
    for (std::size_t at = 0; at < text.size();) {
        CsvRow row{line, {}};
        if (text[at] == '#') {
            at = std::min(text.find('\n', at), text.size() - 1) + 1;
            ++line;
            continue;
        }
        if (!known) {
            bool quoted = false;
            for (std::size_t i = at; i < text.size() && (quoted || text[i] != '\n'); ++i) {
                quoted ^= text[i] == '"';
                if (!quoted && text[i] == ';') out.between = ';';
            }
        }
        std::string cell;
        bool quoted = false;
        const auto end_cell = [&] {
            cell.erase(0, std::min(cell.find_first_not_of(" \t\r"), cell.size()));
            cell.erase(cell.find_last_not_of(" \t\r") + 1);
            row.cells.push_back(unguarded(std::move(cell)));
            cell.clear();
        };
        for (; at < text.size() && (quoted || text[at] != '\n'); ++at) {
            const char c = text[at];
            line += c == '\n';
            if (c == '"' && quoted && at + 1 < text.size() && text[at + 1] == '"')
                cell += text[at++];
            else if (c == '"')
                quoted = !quoted;
            else if (c == out.between && !quoted)
                end_cell();
            else
                cell += c;
        }
        end_cell();
        ++at;
        ++line;
        if (std::ranges::all_of(row.cells, &std::string::empty)) continue;
        known = true;
        out.rows.push_back(std::move(row));
    }
    return out;
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
