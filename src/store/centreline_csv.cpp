#include "store/centreline_csv.h"
#include "store/csv_table.h"

#include "core/job/describe.h"

#include <algorithm>
#include <charconv>
#include <cmath>

namespace dervish::store {
namespace {
using units::mm;

constexpr const char* columns[] = {"x_mm", "y_mm", "z_mm", "bend_radius_mm", "outer_diameter_mm", "wall_mm", "at"};
constexpr std::size_t column_count = std::size(columns);

struct Reader {
    std::size_t line = 0;
    char between = ',';

    [[noreturn]] void wrong(const std::string& what, const std::string& accepted) const {
        throw BadInput("line " + std::to_string(line), what, accepted);
    }
    double length(std::string cell, const char* column) const {
        if (between == ';') std::replace(cell.begin(), cell.end(), ',', '.');
        double value = 0;
        const auto [end, error] = std::from_chars(cell.data(), cell.data() + cell.size(), value);
        if (error != std::errc() || end != cell.data() + cell.size() || !(std::abs(value) <= 3000))
            wrong("\"" + cell + "\" in " + column + " is not a length", "give a number of millimetres within 3000");
        return units::as_filed(value * mm, units::Quantity::Length);
    }
};
} // namespace

std::string centreline_csv(const bar::Laid& laid) {
    CsvTable out{columns[0], columns[1], columns[2], columns[3], columns[4], columns[5], columns[6]};
    const auto number = [](double si) { return units::trimmed(si / mm, 6); };
    for (std::size_t i = 0; i < laid.line.points.size(); ++i) {
        const Eigen::Vector3d& p = laid.line.points[i];
        const bar::Section& s = laid.line.sections[std::min(i, laid.line.sections.size() - 1)];
        const bar::Round* round = std::get_if<bar::Round>(&s);
        const auto is = [&](const std::vector<std::size_t>& eyes) {
            return std::find(eyes.begin(), eyes.end(), i) != eyes.end();
        };
        const bool end = i == 0 || i + 1 == laid.line.points.size();
        out.add(number(p.x())).add(number(p.y())).add(number(p.z()));
        out.add(number(laid.line.bend_radius.empty() ? 0 : laid.line.bend_radius[i]));
        out.add(round ? number(round->outer_diameter) : "").add(round ? number(round->wall) : "");
        out.add(is(laid.left_eye) || is(laid.right_eye) ? "eye" : end ? "end" : "bend");
        out.end_row();
    }
    return out.text();
}

std::vector<job::PointData> read_centreline(const std::string& csv) {
    const CsvRows table = read_csv(csv);
    Reader reader;
    reader.between = table.between;
    std::array<std::size_t, column_count> place;
    place.fill(std::string::npos);
    std::vector<job::PointData> out;
    for (const auto& [line, cells] : table.rows) {
        reader.line = line;
        if (place[0] == std::string::npos) { // the heading
            for (std::size_t c = 0; c < column_count; ++c) {
                const auto at = std::find(cells.begin(), cells.end(), columns[c]);
                if (at != cells.end()) place[c] = static_cast<std::size_t>(at - cells.begin());
            }
            for (std::size_t c = 0; c < 3; ++c)
                if (place[c] == std::string::npos)
                    reader.wrong(std::string("no column ") + columns[c],
                                 "begin with a heading such as x_mm,y_mm,z_mm,bend_radius_mm,at");
            continue;
        }
        const auto cell = [&, &cells = cells](std::size_t c) {
            return place[c] < cells.size() ? cells[place[c]] : std::string();
        };
        const auto measured = [&](std::size_t c, double sigma) -> job::Measured {
            if (cell(c).empty() && c >= 3) return {};
            const double value = reader.length(cell(c), columns[c]);
            return {value, c >= 3 && value == 0 ? 0 : sigma, job::Source::Measured};
        };
        job::PointData p{measured(0, 1.5 * mm),
                         measured(1, 1.5 * mm),
                         measured(2, 1.5 * mm),
                         measured(3, 1.5 * mm),
                         measured(4, 0.05 * mm),
                         measured(5, 0.05 * mm),
                         Mark::Bend};
        const std::string at = cell(6).empty() ? "bend" : cell(6);
        const auto mark = std::find(std::begin(job::mark_names), std::end(job::mark_names), at);
        if (mark == std::end(job::mark_names)) reader.wrong("\"" + at + "\" in at", "give bend, eye or end");
        p.mark = static_cast<Mark>(mark - std::begin(job::mark_names));
        out.push_back(p);
        if (out.size() > 1000) reader.wrong("more than 1000 points", "give the corners, not every millimetre");
    }
    if (out.size() < 4)
        reader.wrong(std::to_string(out.size()) + " points", "a bar has at least two eyes and two corners");
    return out;
}

} // namespace dervish::store
