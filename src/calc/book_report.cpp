#include "calc/report.h"
#include "core/say/book_words.h"

namespace dervish::calc {
namespace {
using store::Json;
constexpr double km = 1000;

Json kilometres(double metres) { return metres > 0 ? Json(units::rounded(metres / km)) : Json(); }
std::string date(double day) { return job::date_of(static_cast<int>(day)); }
} // namespace

Json story(const job::Job& job, const std::string& today, const book::Wanted& wanted) {
    const auto metric = units::System::Metric;
    const auto all = book::moments(job);
    const book::Now now = book::now_of(all, today);
    Json out{{"job", job.name},         {"story", say::story_words(job, all, metric)},
             {"fitted", Json::array()}, {"gaps", Json::array()},
             {"lines", Json::array()},  {"due", Json::array()},
             {"parts", Json::array()}};
    for (const book::Span& s : book::spans(job, all, now))
        out["fitted"].push_back({{"entry", s.entry},
                                 {"setup", s.name},
                                 {"from", date(s.day)},
                                 {"to", date(s.day_end)},
                                 {"from_km", kilometres(s.odometer)},
                                 {"to_km", kilometres(s.odometer_end)}});
    for (const book::Gap& gap : book::gaps(job, all, now))
        out["gaps"].push_back({{"entry", gap.entry}, {"words", say::words_of(job, gap, metric)}});
    for (const book::Moment& m : all) {
        if (!book::is_wanted(job, m, wanted)) continue;
        Json line;
        if (m.test >= 0) {
            const job::PlannedTest& t = job.tests[static_cast<std::size_t>(m.test)];
            line = {{"test", m.test}, {"date", t.date}, {"km", nullptr}, {"what", "test"}, {"words", t.name}};
        } else {
            const job::Entry& e = job.book[static_cast<std::size_t>(m.entry)];
            line = {{"entry", m.entry},
                    {"date", e.date},
                    {"km", kilometres(e.odometer)},
                    {"what", say::words_of(e.kind)},
                    {"words", e.reason}};
            if (!e.more.person.empty()) line["person"] = e.more.person;
            if (!e.more.struck.empty()) line["struck_out"] = e.more.struck;
        }
        out["lines"].push_back(std::move(line));
    }
    for (const book::Due& d : book::due(job, now)) {
        const job::Upkeep& u = job.upkeep[d.upkeep];
        out["due"].push_back({{"what", u.what},
                              {"of", say::place_words(u)},
                              {"interval", say::interval_words(u, metric)},
                              {"is_due", d.when == book::When::Due},
                              {"words", say::words_of(job, d, metric)}});
    }
    for (const book::Thing& t : book::things(job))
        out["parts"].push_back({{"id", t.id}, {"what", say::words_of(t)}, {"stands", say::standing_words(t)}});
    return out;
}

Json job_sheet(const say::JobSheet& sheet) {
    Json out{{"from", sheet.from},   {"to", sheet.to},         {"cautions", sheet.cautions},
             {"needs", sheet.needs}, {"steps", Json::array()}, {"to_go_back", sheet.back}};
    for (const say::SheetStep& s : sheet.steps) {
        Json step{{"key", s.key}, {"do", s.title}, {"how", s.lines}};
        if (!s.caution.empty()) step["caution"] = s.caution;
        for (const say::SheetReading& r : s.readings)
            step["measure"].push_back({{"what", r.spec.label},
                                       {"end", name_of(r.end)},
                                       {"mm", r.wanted ? Json(units::rounded(*r.wanted / units::mm)) : Json(nullptr)}});
        out["steps"].push_back(std::move(step));
    }
    return out;
}

Json link_build(const book::LinkBuild& link) {
    const auto in_mm = [](double si) { return units::rounded(si / units::mm); };
    Json out{{"left_mm", in_mm(link.left)},
             {"right_mm", in_mm(link.right)},
             {"threads", link.threads},
             {"order", link.order}};
    out["cut_mm"] = link.cut ? Json(in_mm(*link.cut)) : Json(nullptr);
    if (link.threads > 0) {
        out["thread_out_mm"] = in_mm(link.out);
        out["thread_each_mm"] = in_mm(link.thread_each);
        out["possible"] = link.possible;
    }
    return out;
}

} // namespace dervish::calc
