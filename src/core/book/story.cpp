#include "core/book/story.h"

#include "core/job/parts.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace dervish::book {
namespace {
bool tells_the_car(const Entry& e) {
    return (e.kind == EntryKind::Fitted || e.kind == EntryKind::Found) && e.car && e.more.struck.empty();
}
bool has_bar(const Entry& e, End end) {
    const AxleSetup& a = e.car->setup[end];
    return a.fitted && a.connected;
}

/// Letters of ASCII alone: names in other scripts are looked for as they are written.
std::string lower(std::string words) {
    std::ranges::transform(words, words.begin(),
                           [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    return words;
}

std::string said_by(const Entry& e) {
    std::string out = e.reason + "\n" + e.date + "\n" + e.more.person + "\n" + e.more.noticed + "\n" + e.more.struck;
    for (const Impression& m : e.more.marks) out += "\n" + m.person;
    for (const AttachedFile& f : e.more.files) out += "\n" + f.file + " " + f.words;
    if (e.car) out += "\n" + e.car->setup.name;
    return out;
}
std::string said_by(const PlannedTest& t) {
    std::string out = t.name + "\n" + t.date + "\n" + t.question + "\n" + t.decision.words + "\n" + t.decision.ordered;
    for (const TestState& s : t.states) out += "\n" + s.name;
    for (const Guess& g : t.guesses) out += "\n" + g.person;
    for (const Run& r : t.runs) {
        out += "\n" + r.driver + "\n" + r.note;
        for (const Impression& m : r.impressions) out += "\n" + m.person;
    }
    for (const Voice& v : t.decision.voices) out += "\n" + v.person + " " + v.why;
    return out;
}
bool holds_all(const std::string& text, const std::string& words) {
    const std::string in = lower(text), all = lower(words);
    for (std::size_t at = 0; at < all.size();) {
        const std::size_t end = std::min(all.find(' ', at), all.size());
        if (in.find(all.substr(at, end - at)) == std::string::npos) return false;
        at = end + 1;
    }
    return true;
}

/// Along known (x, y), both rising: y at x; the nearest beyond either end, `without` where nothing is known.
double between(const std::vector<std::pair<double, double>>& known, double x, double without) {
    if (known.empty()) return without;
    const auto after = std::ranges::lower_bound(known, x, {}, &std::pair<double, double>::first);
    if (after == known.begin()) return after->second;
    if (after == known.end()) return known.back().second;
    const auto before = after - 1;
    const double span = after->first - before->first;
    return span > 0 ? before->second + (x - before->first) / span * (after->second - before->second) : after->second;
}
} // namespace

Lane lane_of(const Entry& e) {
    switch (e.kind) {
    case EntryKind::Fitted:
    case EntryKind::Found:
        return tells_the_car(e) ? Lane::Fitted : Lane::Notes;
    case EntryKind::Failed:
        return Lane::Broke;
    case EntryKind::Serviced:
        return Lane::Upkeep;
    case EntryKind::Decided:
        return Lane::Decided;
    default:
        return Lane::Notes;
    }
}

std::vector<Moment> moments(const Job& job) {
    std::vector<Moment> out;
    std::vector<std::pair<double, double>> driven; // by day
    for (std::size_t i = 0; i < job.book.size(); ++i) {
        const Entry& e = job.book[i];
        const auto day = day_of(e.date);
        const bool struck = !e.more.struck.empty(), driven_said = e.odometer > 0 && !struck;
        out.push_back({lane_of(e), static_cast<int>(i), -1, static_cast<double>(day.value_or(0)), e.odometer,
                       day.has_value(), driven_said, struck});
        if (day && driven_said) driven.emplace_back(*day, e.odometer);
    }
    for (std::size_t i = 0; i < job.tests.size(); ++i) {
        const auto day = day_of(job.tests[i].date);
        out.push_back({Lane::Tests, -1, static_cast<int>(i), static_cast<double>(day.value_or(0)), 0, day.has_value(),
                       false, false});
    }
    std::ranges::sort(driven);
    // A clock never runs back: where it seems to, one of the two was misread, and the greater of those before counts.
    for (std::size_t i = 1; i < driven.size(); ++i) driven[i].second = std::max(driven[i].second, driven[i - 1].second);
    std::vector<std::pair<double, double>> days;
    for (const auto& [day, metres] : driven)
        if (days.empty() || metres > days.back().first) days.emplace_back(metres, day);
    const auto first = std::ranges::find_if(out, &Moment::day_said);
    double last = first == out.end() ? 0 : first->day;
    for (Moment& m : out) {
        if (!m.day_said) m.day = m.odometer_said ? between(days, m.odometer, last) : last;
        last = m.day;
        if (!m.odometer_said) m.odometer = between(driven, m.day, 0);
    }
    // Where among the lines of its day: a test that does not know comes after all.
    const auto first_told = std::ranges::find_if(job.book, tells_the_car);
    const auto as_found = first_told != job.book.end() && first_told->kind == EntryKind::Found
                              ? static_cast<int>(first_told - job.book.begin())
                              : -1;
    const auto place = [&](const Moment& m) {
        if (m.entry >= 0) return m.entry == as_found ? -1.0 : m.entry;
        const int lines = job.tests[static_cast<std::size_t>(m.test)].lines_before;
        return lines < 0 ? static_cast<double>(job.book.size()) : lines - 0.5;
    };
    std::ranges::stable_sort(
        out, [&](const Moment& a, const Moment& b) { return a.day != b.day ? a.day < b.day : place(a) < place(b); });
    // A distance that nobody said lies between those that were said before and after it on its day.
    for (std::size_t i = 1; i < out.size(); ++i)
        if (!out[i].odometer_said && out[i - 1].day == out[i].day)
            out[i].odometer = std::max(out[i].odometer, out[i - 1].odometer);
    return out;
}

Now now_of(const std::vector<Moment>& all, const std::string& today) {
    Now out{static_cast<double>(day_of(today).value_or(0)), 0};
    for (const Moment& m : all)
        if (!m.struck) out = {std::max(out.day, m.day), std::max(out.odometer, m.odometer)};
    return out;
}

std::vector<Span> spans(const Job& job, const std::vector<Moment>& all, const Now& now) {
    std::vector<Span> out;
    for (const Moment& m : all) {
        if (m.entry < 0 || !tells_the_car(job.book[static_cast<std::size_t>(m.entry)])) continue;
        if (!out.empty()) {
            out.back().day_end = m.day;
            out.back().odometer_end = m.odometer;
        }
        out.push_back({m.entry, m.day, now.day, m.odometer, now.odometer,
                       job.book[static_cast<std::size_t>(m.entry)].car->setup.name});
    }
    return out;
}

std::vector<Gap> gaps(const Job& job, const std::vector<Moment>& all, const Now& now) {
    std::vector<Gap> out;
    const std::vector<Span> stood = spans(job, all, now);
    const auto entry = [&](const Span& s) -> const Entry& { return job.book[static_cast<std::size_t>(s.entry)]; };
    for (const End end : {End::Front, End::Rear}) {
        if (std::ranges::none_of(stood, [&](const Span& s) { return has_bar(entry(s), end); })) continue;
        bool open = false;
        for (const Span& s : stood) {
            if (has_bar(entry(s), end)) {
                open = false;
            } else if (open) {
                out.back().day_end = s.day_end;
                out.back().odometer_end = s.odometer_end;
            } else {
                out.push_back({Gap::What::WithoutBar, end, s.entry, s.day, s.day_end, s.odometer, s.odometer_end});
                open = true;
            }
        }
    }
    for (const Moment& m : all) {
        if (m.lane != Lane::Broke) continue;
        const Entry& e = job.book[static_cast<std::size_t>(m.entry)];
        if (!(e.more.driven_so > 0) || !e.more.struck.empty()) continue;
        const double from = std::max(0.0, m.odometer - e.more.driven_so);
        double day = m.day; // when the clock stood there
        for (std::size_t i = all.size(); i-- > 0;)
            if (all[i].odometer <= from) {
                day = std::min(day, all[i].day);
                break;
            }
        out.push_back({Gap::What::Broken, End::Front, m.entry, day, m.day, from, m.odometer});
    }
    std::ranges::stable_sort(out, {}, &Gap::day);
    return out;
}

int stood_by(const Job& job, const std::vector<Moment>& all, std::size_t moment) {
    for (std::size_t i = std::min(moment + 1, all.size()); i-- > 0;)
        if (all[i].entry >= 0 && tells_the_car(job.book[static_cast<std::size_t>(all[i].entry)])) return all[i].entry;
    return -1;
}

bool is_wanted(const Job& job, const Moment& m, const Wanted& wanted) {
    const bool test = m.test >= 0;
    const std::string said = test ? said_by(job.tests[static_cast<std::size_t>(m.test)])
                                  : said_by(job.book[static_cast<std::size_t>(m.entry)]);
    if (!holds_all(said, wanted.words) ||
        (!wanted.person.empty() && lower(said).find(lower(wanted.person)) == std::string::npos))
        return false;
    if (wanted.part.empty()) return true;
    bool found = false;
    const auto look = [&](const char*, const Part& p) { found = found || p.id == wanted.part; };
    if (test) {
        for (const TestState& s : job.tests[static_cast<std::size_t>(m.test)].states) each_part(s.car.setup, look);
        return found;
    }
    const Entry& e = job.book[static_cast<std::size_t>(m.entry)];
    if (tells_the_car(e) && e.parts.empty()) each_part(e.car->setup, look); // as delivered: of all it came with
    return found || std::ranges::find(e.parts, wanted.part) != e.parts.end();
}

std::vector<std::string> people_of(const Job& job) {
    std::vector<std::string> out;
    std::set<std::string> seen;
    const auto add = [&](const std::string& name) {
        if (!name.empty() && seen.insert(lower(name)).second) out.push_back(name);
    };
    for (const Person& p : job.people) add(p.name);
    for (const PlannedTest& t : job.tests) {
        for (const Guess& g : t.guesses) add(g.person);
        for (const Run& r : t.runs) {
            add(r.driver);
            for (const Impression& i : r.impressions) add(i.person);
        }
        for (const Voice& v : t.decision.voices) add(v.person);
    }
    for (const Entry& e : job.book) {
        add(e.more.person);
        for (const Impression& i : e.more.marks) add(i.person);
    }
    return out;
}

} // namespace dervish::book
