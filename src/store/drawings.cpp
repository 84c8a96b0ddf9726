#include "store/drawings.h"

#include "core/bar/bend_table.h"
#include "core/book/link_build.h"
#include "core/model/lie.h"
#include "core/say/html.h"
#include "core/say/proof_words.h"
#include "store/csv_table.h"

#include <algorithm>
#include <boost/archive/iterators/base64_from_binary.hpp>
#include <boost/archive/iterators/transform_width.hpp>
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

std::string begun(double width, double height) {
    return "<svg xmlns='http://www.w3.org/2000/svg' width='" + number(width) + "mm' height='" + number(height) +
           "mm' viewBox='0 0 " + number(width) + " " + number(height) + "'>\n";
}
std::string words(double x, double y, const std::string& text, double size = 4, const char* anchor = "start") {
    return "<text x='" + number(x) + "' y='" + number(y) + "' font-size='" + number(size) +
           "' font-family='sans-serif' text-anchor='" + anchor + "'>" + say::in_html(text) + "</text>\n";
}
std::string dimension(double x1, double x2, double y, const std::string& text) {
    return "<path d='M" + number(x1) + " " + number(y) + " H" + number(x2) + " M" + number(x1) + " " + number(y - 1.5) +
           " v3 M" + number(x2) + " " + number(y - 1.5) + " v3' stroke='#667080' stroke-width='0.25' fill='none'/>\n" +
           words((x1 + x2) / 2, y - 1, text, 3.5, "middle");
}
constexpr const char* ink = "#1E2A38";
std::string dot(double x, double y, double r, bool filled = true) {
    return "<circle cx='" + number(x) + "' cy='" + number(y) + "' r='" + number(r) + "' fill='" +
           (filled ? ink : "none") + "' stroke='" + ink + "' stroke-width='0.4'/>\n";
}
std::string box(double x, double y, double wide, double high, const char* fill) {
    return "<rect x='" + number(x) + "' y='" + number(y) + "' width='" + number(wide) + "' height='" + number(high) +
           "' fill='" + fill + "' stroke='" + ink + "' stroke-width='0.4'/>\n";
}
std::string line_to(double x1, double y1, double x2, double y2, double wide = 0.5) {
    return "<path d='M" + number(x1) + " " + number(y1) + " L" + number(x2) + " " + number(y2) + "' stroke='" + ink +
           "' stroke-width='" + number(wide) + "' fill='none'/>\n";
}

constexpr const char* dxf_begun = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1009\n0\nENDSEC\n0\nSECTION\n2\nENTITIES\n";
constexpr const char* dxf_ended = "0\nENDSEC\n0\nEOF\n";
/// A place in mm, x to the right, y forward, z up.
std::string dxf_place(const Vector3d& p) {
    return "10\n" + number(-p.y() / units::mm) + "\n20\n" + number(p.x() / units::mm) + "\n30\n" +
           number(p.z() / units::mm) + "\n";
}

/// No line longer than so many letters, parted between words.
std::vector<std::string> in_lines(const std::vector<std::string>& lines, std::size_t most) {
    std::vector<std::string> out;
    for (std::string line : lines) {
        while (line.size() > most && line.rfind(' ', most) != std::string::npos && line.rfind(' ', most) > 0) {
            const std::size_t at = line.rfind(' ', most);
            out.push_back(line.substr(0, at));
            line = "   " + line.substr(at + 1);
        }
        out.push_back(line);
    }
    return out;
}

std::string base64(const std::string& bytes) {
    namespace coded = boost::archive::iterators;
    using Letters = coded::base64_from_binary<coded::transform_width<std::string::const_iterator, 6, 8>>;
    return std::string(Letters(bytes.begin()), Letters(bytes.end())) + std::string((3 - bytes.size() % 3) % 3, '=');
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
    std::string out = begun(width, height);
    out += words(margin, 9, "From above, 1 : " + number(scale)) + line(first, 0) +
           dimension(across(high), across(low), first - 5, mm_words(high.y() - low.y(), system));
    for (const std::vector<std::size_t>* eyes : {&laid.left_eye, &laid.right_eye})
        for (const std::size_t eye : *eyes) {
            const Vector3d& p = laid.line.points[eye];
            out += dot(across(p), first + (high.x() - p.x()) / units::mm / scale, 1);
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
    std::string out = dxf_begun;
    out += "0\nPOLYLINE\n8\nmiddle\n66\n1\n70\n8\n10\n0\n20\n0\n30\n0\n"; // in space
    for (const Vector3d& p : traced(laid.line)) out += "0\nVERTEX\n8\nmiddle\n" + dxf_place(p) + "70\n32\n";
    out += "0\nSEQEND\n8\nmiddle\n";
    for (const std::vector<std::size_t>* eyes : {&laid.left_eye, &laid.right_eye})
        for (const std::size_t eye : *eyes) out += "0\nPOINT\n8\neyes\n" + dxf_place(laid.line.points[eye]);
    return out + dxf_ended;
}

std::string link_svg(const job::LinkData& links, double head, units::System system, double scale) {
    const book::LinkBuild link = book::link_build(links, head);
    const double margin = 20, row = 6, longest = std::max(link.left, link.right) / units::mm / scale;
    std::vector<std::string> lines;
    lines.push_back("Left " + mm_words(link.left, system) + ", right " + mm_words(link.right, system) +
                    ", centre to centre");
    lines.push_back(link.cut ? (link.threads > 0 ? "Cut: body " : "Cut: rod ") + mm_words(*link.cut, system)
                    : link.threads > 0
                        ? "Cut: screwed right in it is " + mm_words(links.shortest.value, system) + "; less " +
                              (link.threads == 2 ? "twice " : "") +
                              "what a joint measures from its centre to its shoulder"
                        : std::string("Cut: that, less what the eyes at both ends measure from centre to weld"));
    if (link.threads > 0) {
        lines.push_back("Thread " + mm_words(links.thread.value, system) + " × " + mm_words(links.pitch.value, system) +
                        "; out by " + mm_words(link.out, system) +
                        " at each joint of the longer link; a joint's thread at "
                        "least " +
                        mm_words(link.thread_each, system) + " long, 1.5 diameters of it stay in");
        if (!link.possible)
            lines.push_back("THIS LENGTH IS SHORTER THAN SCREWED RIGHT IN: another body, or another length");
    }
    std::string order;
    for (const std::string& part : link.order) order += (order.empty() ? "" : " · ") + part;
    lines.push_back("In order: " + order);
    if (link.threads == 2) lines.push_back("Marked at the left-hand end, both links the same way up.");
    lines.push_back("Lock nuts only after the length is read. Welding is for who is qualified for it.");
    lines = in_lines(lines, 105);
    const double width = std::max(longest + 2 * margin, 240.0), text_at = 62,
                 height = text_at + row * static_cast<double>(lines.size()) + 8;
    std::string out = begun(width, height);
    out += words(margin, 9, "Link, 1 : " + number(scale));
    double y = 28;
    for (const auto& [name, length] : {std::pair{"left", link.left}, {"right", link.right}}) {
        const double far = margin + length / units::mm / scale, eye = 4;
        out += words(4, y + 1, name, 3.5);
        const double neck = link.threads > 0 ? link.out / units::mm / scale : 0,
                     from = margin + eye + (link.threads == 2 ? neck : 0),
                     to = far - eye - (link.threads > 0 ? neck : 0);
        out += line_to(margin + eye, y, far - eye, y) + box(from, y - 2, std::max(to - from, 1.0), 4, "#D3CBBA");
        for (const double x : {margin, far}) out += dot(x, y, eye, false) + dot(x, y, 0.6);
        out += dimension(margin, far, y - 8, mm_words(length, system));
        y += 22;
    }
    y = text_at;
    for (const std::string& words_of_line : lines) {
        out += words(margin, y, words_of_line, 3.6);
        y += row;
    }
    return out + "</svg>\n";
}

std::string link_dxf(const job::LinkData& links) {
    const book::LinkBuild link = book::link_build(links, 0);
    const Vector3d from(0, 0, 0), to(0, -link.left, 0);
    const auto second = [](std::string place) { // of a line: 11, 21, 31
        for (const char* code : {"10\n", "20\n", "30\n"})
            place.replace(place.find(code), 2, std::string(1, code[0]) + "1");
        return place;
    };
    return std::string(dxf_begun) + "0\nLINE\n8\nmiddle\n" + dxf_place(from) + second(dxf_place(to)) +
           "0\nPOINT\n8\neyes\n" + dxf_place(from) + "0\nPOINT\n8\neyes\n" + dxf_place(to) + dxf_ended;
}

std::string test_svg(const job::PlannedTest& t, units::System system) {
    const proof::Protocol* p = proof::protocol_of(t);
    if (!p || p->channels.empty() || t.runs.empty()) return {};
    const proof::Channel& c = p->channels[0];
    struct Point {
        std::size_t run;
        double value;
        bool counts;
    };
    std::vector<Point> points;
    double low = 1e300, high = -1e300;
    const auto take = [&](double v) {
        low = std::min(low, v);
        high = std::max(high, v);
    };
    for (std::size_t r = 0; r < t.runs.size(); ++r)
        for (const job::Reading& read : t.runs[r].readings)
            if (read.channel == c.spec.key) {
                points.push_back({r, read.value, read.discarded.empty() && t.runs[r].discarded.empty()});
                take(read.value);
            }
    const auto predicted = [&](int state) -> std::optional<std::pair<double, double>> {
        const job::Prediction& pr = t.states[static_cast<std::size_t>(state)].prediction;
        if (!pr.made || pr.tells[0] != job::PredictedValue) return {};
        return std::pair{pr.value[0] - band_90 * pr.sigma[0], pr.value[0] + band_90 * pr.sigma[0]};
    };
    for (const job::Run& run : t.runs)
        if (const auto band = predicted(run.state)) {
            take(band->first);
            take(band->second);
        }
    if (points.empty()) return {};
    const double pad = std::max(0.08 * (high - low), 1e-9), left = 26, wide = 150, top = 12, tall = 60;
    low -= pad;
    high += pad;
    const double each = wide / static_cast<double>(t.runs.size());
    const auto at = [&](double v) { return top + tall * (high - v) / (high - low); };
    std::string out = begun(left + wide + 8, top + tall + 18);
    out += words(left, 7, std::string(c.spec.label) + ". Boxes: predicted, 90 %; open: does not count", 3.6) +
           line_to(left, top, left, top + tall, 0.3);
    for (const double v : {low + pad, high - pad})
        out += words(left - 2, at(v) + 1.3, say::figure(v, c, system), 3.6, "end");
    for (std::size_t r = 0; r < t.runs.size(); ++r) {
        const double x = left + each * (static_cast<double>(r) + 0.5);
        if (const auto band = predicted(t.runs[r].state))
            out += box(x - 0.3 * each, at(band->second), 0.6 * each, at(band->first) - at(band->second), "#E4DECF");
        out += words(x, top + tall + 6, std::to_string(r + 1), 3.6, "middle") +
               words(x, top + tall + 12, std::string(1, static_cast<char>('A' + t.runs[r].state)), 3.6, "middle");
    }
    for (const Point& point : points)
        out += dot(left + each * (static_cast<double>(point.run) + 0.5), at(point.value), 1.3, point.counts);
    return out + "</svg>\n";
}

std::string drawing(const job::Job& job, const std::string& name, units::System system) {
    for (const End end : both_ends)
        if (name == std::string(name_of(end)) + " bar")
            return job.fitted[end].fitted ? bar_svg(job.fitted[end], system) : std::string();
    for (std::size_t i = 0; i < job.tests.size(); ++i)
        if (name == "test " + std::to_string(i + 1)) return test_svg(job.tests[i], system);
    return {};
}

std::string picture_kind(std::string_view bytes) {
    using namespace std::string_view_literals;
    if (bytes.starts_with("\x89PNG\r\n\x1a\n"sv)) return "png";
    if (bytes.starts_with("\xFF\xD8\xFF"sv)) return "jpeg";
    if (bytes.starts_with("RIFF"sv) && bytes.substr(0, 12).ends_with("WEBP"sv)) return "webp";
    if (bytes.starts_with("II*\0"sv) || bytes.starts_with("MM\0*"sv)) return "tiff";
    return {};
}

std::string with_pictures(const std::string& html, const job::Job& job, const Members& attached, units::System system) {
    std::string out;
    std::size_t from = 0;
    const auto next = [&](const char* what) { return html.find(std::string("src='") + what, from); };
    while (true) {
        const std::size_t at = std::min(next("drawing:"), next("attached:"));
        if (at == std::string::npos) return out + html.substr(from);
        const std::size_t begin = at + 5, colon = html.find(':', begin), end = html.find('\'', begin);
        const std::string name = say::out_of_html(html.substr(colon + 1, end - colon - 1));
        std::string data, kind = "svg+xml";
        if (html.compare(begin, 8, "drawing:") == 0) {
            data = drawing(job, name, system);
        } else if (const auto file = attached.find(name); file != attached.end()) {
            data = file->second.content.bytes();
            kind = picture_kind(data);
            if (kind.empty()) data.clear(); // what it is called stands under it
        }
        out += html.substr(from, begin - from) + (data.empty() ? "" : "data:image/" + kind + ";base64," + base64(data));
        from = end;
    }
}

} // namespace dervish::store
