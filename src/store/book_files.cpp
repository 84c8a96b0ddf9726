#include "store/book_files.h"

#include "core/say/book_words.h"
#include "store/csv_table.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace dervish::store {
namespace {
constexpr double km = 1000;

std::string test_result(const job::PlannedTest& t) {
    switch (say::agreement_of_all(t)) {
    case proof::Agreement::NothingRead:
        return "nothing read";
    case proof::Agreement::CannotTell:
        return "cannot tell";
    case proof::Agreement::TooWide:
        return "too wide to tell";
    case proof::Agreement::Agrees:
        return "as the sum says";
    case proof::Agreement::Doubtful:
        return "doubtful";
    case proof::Agreement::Disagrees:
        return "not as the sum says";
    }
    return {};
}

/// A value of a property (RFC 5545, 3.3.11): what has a meaning there is written with a backslash before it, a line's
/// end as \\n, and other control characters, which no value may have, are left out.
std::string escaped(const std::string& words) {
    std::string out;
    for (const char c : words) {
        if (c == '\\' || c == ';' || c == ',') out += '\\';
        if (c == '\n')
            out += "\\n";
        else if (static_cast<unsigned char>(c) >= 0x20 && c != 0x7F)
            out += c;
    }
    return out;
}

/// A line is at most 75 bytes long; what is more goes on in the next, which begins with a space. No letter is torn.
std::string folded(const std::string& line) {
    std::string out;
    std::size_t room = 75;
    for (std::size_t at = 0; at < line.size();) {
        std::size_t end = std::min(line.size(), at + room);
        while (end < line.size() && end > at + 1 && (line[end] & 0xC0) == 0x80) --end;
        out += (at > 0 ? "\r\n " : "") + line.substr(at, end - at);
        at = end;
        room = 74;
    }
    return out + "\r\n";
}

/// The same for a car's calendar each time, another for another car's.
std::string car_id(const job::Job& job) {
    std::uint32_t hash = 2166136261u; // FNV-1a
    for (const char c : job.name + "\n" + job.vehicle.name) hash = (hash ^ static_cast<unsigned char>(c)) * 16777619u;
    return std::to_string(hash);
}

std::string event(const std::string& id, int day, const std::string& summary, const std::string& words,
                  const std::string& stamp) {
    std::string date = job::date_of(day);
    std::erase(date, '-');
    return folded("BEGIN:VEVENT") + folded("UID:" + escaped(id) + "@dervish") + folded("DTSTAMP:" + stamp) +
           folded("DTSTART;VALUE=DATE:" + date) + folded("SUMMARY:" + escaped(summary)) +
           folded("DESCRIPTION:" + escaped(words)) + folded("END:VEVENT");
}
} // namespace

std::string book_csv(const job::Job& job) {
    CsvTable out{"date",  "km",      "what",         "words",      "person",
                 "parts", "noticed", "driven_so_km", "struck_out", "written_on"};
    for (const book::Moment& m : book::moments(job)) {
        if (m.test >= 0) {
            const job::PlannedTest& t = job.tests[static_cast<std::size_t>(m.test)];
            out.add(t.date).add("").add("test").add(t.name + ": " + test_result(t)).end_row();
            continue;
        }
        const job::Entry& e = job.book[static_cast<std::size_t>(m.entry)];
        std::string parts;
        for (const std::string& id : e.parts) parts += (parts.empty() ? "" : " ") + id;
        const auto distance = [&](double metres) { metres > 0 ? out.add(metres / km, 1) : out.add(""); };
        out.add(e.date);
        distance(e.odometer);
        out.add(say::words_of(e.kind)).add(e.reason).add(e.more.person).add(parts).add(e.more.noticed);
        distance(e.more.driven_so);
        out.add(e.more.struck).add(e.more.entered).end_row();
    }
    return out.text();
}

std::string calendar(const job::Job& job, const book::Now& now, const std::string& stamp) {
    std::string out = folded("BEGIN:VCALENDAR") + folded("VERSION:2.0") + folded("PRODID:-//Dervish//book//EN");
    const std::string of = job.vehicle.name.empty() ? job.name : job.vehicle.name;
    const int today = static_cast<int>(now.day);
    for (const book::Due& d : book::due(job, now)) {
        const job::Upkeep& u = job.upkeep[d.upkeep];
        const bool now_due = d.when == book::When::Due;
        if (!now_due && !d.days) continue; // nobody knows the day on which it will have driven so far
        const int day = now_due ? today : today + static_cast<int>(std::ceil(*d.days));
        const std::string place = say::place_words(u);
        out += event(
            u.id + "-" + car_id(job), day, of + ": " + (place.empty() ? "" : place + ", ") + u.what,
            say::interval_words(u, units::System::Metric) + "; " + say::words_of(job, d, units::System::Metric), stamp);
    }
    for (std::size_t i = 0; i < job.book.size(); ++i) {
        const job::Entry& e = job.book[i];
        const auto day = job::day_of(e.more.look_again);
        if (day && e.more.struck.empty() && e.more.marks.empty())
            out += event("entry-" + std::to_string(i + 1) + "-" + car_id(job), *day, of + ": how does it feel?",
                         e.date + ", " + e.reason, stamp);
    }
    return out + folded("END:VCALENDAR");
}

} // namespace dervish::store
