#include "core/job/stock.h"

#include "core/job/fields.h"

#include <cstring>
#include <sstream>

namespace dervish::job {

std::vector<StockSize> usual_stock() {
    std::vector<StockSize> out;
    for (const double d : {16, 18, 20, 22, 24, 25, 26, 28, 30, 32}) out.push_back({d * units::mm, 0});
    for (const double d : {20, 22, 25, 28, 30, 32, 35, 38})
        for (const double wall : {2.5, 3.0, 4.0, 5.0})
            if (wall < d / 5) out.push_back({d * units::mm, wall * units::mm});
    return out;
}

std::vector<StockSize> parse_stock(const std::string& text, units::System system) {
    const units::Unit unit = units::shown(units::Quantity::Length, system);
    const FieldSpec spec{"stock", "Size", units::Quantity::Length, Tool::Calliper, 1e-4, 0.1};
    std::vector<StockSize> out;
    std::istringstream lines(text);
    for (std::string line; std::getline(lines, line);) {
        if (line.find_first_not_of(" \t\r") == std::string::npos) continue;
        if (line.back() == '\r') line.pop_back();
        for (std::size_t at; (at = line.find("×")) != std::string::npos;) line.replace(at, std::strlen("×"), "x");
        const std::size_t by = line.find_first_of("x*");
        try {
            StockSize size{parse(line.substr(0, by), spec, system, "stock"), 0};
            if (by != std::string::npos) size.wall = parse(line.substr(by + 1), spec, system, "stock");
            if (size.wall > size.outer_diameter / 2) throw BadInput("stock", "too thick a wall", "");
            out.push_back(size);
        } catch (const BadInput&) {
            throw BadInput("stock", "\"" + line + "\" is not a size",
                           "write a diameter, or diameter x wall with the wall at most half of it, up to " +
                               units::trimmed(0.1 / unit.factor, 2) + " " + std::string(unit.symbol));
        }
    }
    return out;
}

std::string stock_text(const std::vector<StockSize>& stock, units::System system) {
    const double unit = units::shown(units::Quantity::Length, system).factor;
    std::string out;
    for (const StockSize& s : stock)
        out += units::trimmed(s.outer_diameter / unit, 3) +
               (s.wall > 0 ? " x " + units::trimmed(s.wall / unit, 3) : "") + "\n";
    return out;
}

} // namespace dervish::job
