#include "store/bar_drawing.h"

#include "core/bar/bend_table.h"
#include "core/model/lie.h"
#include "store/csv_table.h"

#include <algorithm>
#include <cmath>

namespace dervish::store {
namespace {
using Eigen::Vector3d;

/// Points along the middle line, bends parted to two degrees.
std::vector<Vector3d> traced(const bar::Centreline& line) {
    std::vector<Vector3d> out;
    for (const bar::Stretch& s : bar::cut(line).stretches) {
        const double parts = s.radius > 0 ? std::ceil(s.length / s.radius / (2 * units::deg)) : 1;
        for (double i = 0; i < parts; ++i) out.push_back(s.at(s.length * i / parts).point);
    }
    out.push_back(line.points.back());
    return out;
}
std::string number(double value) { return units::trimmed(value, 3); }
std::string mm_words(double si, units::System system) {
    return units::text(si, units::Quantity::Length, system, system == units::System::Metric ? 1 : 3);
}
} // namespace

std::string bend_csv(const job::Assembly& assembly) {
    const bar::BendTable table = bar::bend_table(model::to_laid(assembly).line);
    CsvTable out{"straight_mm", "turn_deg", "bend_deg", "radius_mm", "arc_mm"};
    for (const bar::Bend& b : table.bends)
        out.add(b.straight / units::mm, 2)
            .add(b.turn / units::deg, 2)
            .add(b.angle / units::deg, 2)
            .add(b.radius / units::mm, 2)
            .add(b.arc / units::mm, 2)
            .end_row();
    out.add(table.last_straight / units::mm, 2).end_row();
    out.add(table.cut_length / units::mm, 2).end_row();
    return out.text();
}

std::string bar_svg(const job::Assembly& assembly, units::System system, double scale) {
    const bar::Laid laid = model::to_laid(assembly);
    const std::vector<Vector3d> points = traced(laid.line);
    const bar::BendTable table = bar::bend_table(laid.line);
    Vector3d low = points[0], high = points[0];
    for (const Vector3d& p : points) {
        low = low.cwiseMin(p);
        high = high.cwiseMax(p);
    }
    // Paper in mm. From above: left to the left, forward up; from behind: left to the left, up up.
    const double margin = 15, wide = (high.y() - low.y()) / units::mm / scale,
                 deep = (high.x() - low.x()) / units::mm / scale, tall = (high.z() - low.z()) / units::mm / scale,
                 row = 6;
    const double first = margin + 14, second = first + deep + 26, text_at = second + tall + 20;
    const double width = std::max(wide + 2 * margin, 190.0),
                 height = text_at + row * (static_cast<double>(table.bends.size()) + 5) + margin;
    const auto across = [&](const Vector3d& p) { return margin + (high.y() - p.y()) / units::mm / scale; };
    const auto line = [&](double at, int up) {
        std::string out = "<polyline fill='none' stroke='#1E2A38' stroke-width='0.5' points='";
        for (const Vector3d& p : points)
            out += number(across(p)) + "," + number(at + (high[up] - p[up]) / units::mm / scale) + " ";
        return out + "'/>\n";
    };
    const auto words = [&](double x, double y, const std::string& text, double size = 4) {
        return "<text x='" + number(x) + "' y='" + number(y) + "' font-size='" + number(size) +
               "' font-family='sans-serif'>" + text + "</text>\n";
    };
    const auto dimension = [&](double x1, double x2, double y, const std::string& text) {
        return "<path d='M" + number(x1) + " " + number(y) + " H" + number(x2) + " M" + number(x1) + " " +
               number(y - 1.5) + " v3 M" + number(x2) + " " + number(y - 1.5) +
               " v3' stroke='#667080' stroke-width='0.25' fill='none'/>\n" + words((x1 + x2) / 2 - 8, y - 1, text, 3.5);
    };
    std::string out = "<svg xmlns='http://www.w3.org/2000/svg' width='" + number(width) + "mm' height='" +
                      number(height) + "mm' viewBox='0 0 " + number(width) + " " + number(height) + "'>\n";
    out += words(margin, 9, "From above, 1 : " + number(scale)) + line(first, 0) +
           dimension(across(high), across(low), first - 5, mm_words(high.y() - low.y(), system));
    for (const std::vector<std::size_t>* eyes : {&laid.left_eye, &laid.right_eye})
        for (const std::size_t eye : *eyes) {
            const Vector3d& p = laid.line.points[eye];
            out += "<circle cx='" + number(across(p)) + "' cy='" +
                   number(first + (high.x() - p.x()) / units::mm / scale) + "' r='1' fill='#1E2A38'/>\n";
        }
    out += words(margin, second - 5, "From behind, 1 : " + number(scale)) + line(second, 2);
    double y = text_at;
    out += words(margin, y,
                 "Cut length along the middle: " + mm_words(table.cut_length, system) + "; arms' reach " +
                     mm_words(high.x() - low.x(), system));
    y += row;
    for (std::size_t i = 0; i < table.bends.size(); ++i, y += row) {
        const bar::Bend& b = table.bends[i];
        out +=
            words(margin, y,
                  std::to_string(i + 1) + ": straight " + mm_words(b.straight, system) + ", turned " +
                      units::fixed(b.turn / units::deg, 1) + "°, bent " + units::fixed(b.angle / units::deg, 1) + "° " +
                      (b.radius > 0 ? "over a radius of " + mm_words(b.radius, system)
                                    : "sharp as measured: it wants a radius"));
    }
    out += words(margin, y,
                 "then straight " + mm_words(table.last_straight, system) + ". Spring-back is the bender's to add.");
    y += row;
    out += words(margin, y, "Welding and heat treatment are for who is qualified for them; eyes after bending.");
    return out + "</svg>\n";
}

std::string bar_dxf(const job::Assembly& assembly) {
    const bar::Laid laid = model::to_laid(assembly);
    std::string out = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
    const auto polyline = [&](const std::vector<Vector3d>& points, const char* layer) {
        out += std::string("0\nPOLYLINE\n8\n") + layer + "\n66\n1\n70\n8\n10\n0\n20\n0\n30\n0\n"; // in space
        for (const Vector3d& p : points)
            out += std::string("0\nVERTEX\n8\n") + layer + "\n10\n" + number(-p.y() / units::mm) + "\n20\n" +
                   number(p.x() / units::mm) + "\n30\n" + number(p.z() / units::mm) + "\n70\n32\n";
        out += std::string("0\nSEQEND\n8\n") + layer + "\n";
    };
    polyline(traced(laid.line), "middle");
    for (const std::vector<std::size_t>* eyes : {&laid.left_eye, &laid.right_eye})
        for (const std::size_t eye : *eyes) {
            const Vector3d& p = laid.line.points[eye];
            out += "0\nPOINT\n8\neyes\n10\n" + number(-p.y() / units::mm) + "\n20\n" + number(p.x() / units::mm) +
                   "\n30\n" + number(p.z() / units::mm) + "\n";
        }
    return out + "0\nENDSEC\n0\nEOF\n";
}

} // namespace dervish::store
