#include "core/say/report.h"

#include "core/job/fields.h"
#include "core/num/bad_input.h"
#include "core/say/book_words.h"
#include "core/say/difference_words.h"
#include "core/say/doubts.h"
#include "core/say/html.h"
#include "core/say/proof_words.h"
#include "core/say/working.h"
#include "core/study/assess.h"
#include "core/study/difference.h"
#include "core/study/links.h"
#include "core/sure/draws.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace dervish::say {
namespace {
using units::Quantity;

std::string paragraph(const std::string& words) { return words.empty() ? "" : "<p>" + in_html(words) + "</p>"; }
std::string heading(const char* words) { return std::string("<h2>") + words + "</h2>"; }
std::string listed(const std::vector<std::string>& lines) {
    std::string out = "<ul>";
    for (const std::string& line : lines) out += "<li>" + in_html(line) + "</li>";
    return lines.empty() ? "" : out + "</ul>";
}
struct Table {
    std::string html = "<table border='1' cellspacing='0' cellpadding='4'>";
    void row(const std::vector<std::string>& cells, bool head = false) {
        html += "<tr>";
        for (const std::string& cell : cells)
            html += (head ? "<th>" : "<td>") + in_html(cell) + (head ? "</th>" : "</td>");
        html += "</tr>";
    }
    std::string done() const { return html + "</table>"; }
};

/// A figure that decides: which, and how it is written.
struct Line {
    const char* label;
    std::size_t figure; ///< of sure::Compared
    Quantity quantity;
};
constexpr Line lines[] = {{"lean in a bend", study::RollGradient, Quantity::RollGradient},
                          {"front share of load transfer", study::FrontShare, Quantity::Share},
                          {"lifts a wheel on ramps at", study::LiftHeight, Quantity::Length},
                          {"travel at the front then", study::FrontTravel, Quantity::Length},
                          {"travel at the rear then", study::RearTravel, Quantity::Length}};

std::string with_band(double value, double sigma, Quantity quantity, units::System system) {
    const units::Unit unit = units::shown(quantity, system);
    if (!std::isfinite(value)) return "none";
    return units::fixed(value / unit.factor, unit.decimals) + " ± " +
           units::fixed(band_90 * sigma / unit.factor, unit.decimals) + " " + std::string(unit.symbol);
}

/// Why some of a setup's figures are none; nothing where all are there.
std::string why_none(const Job& job, const Setup& setup, const char* what, units::System system) {
    const study::Assessment a = study::assess(job.vehicle, setup);
    if (std::isfinite(a.outcomes[RollGradient])) return {};
    return paragraph(std::string(what) + " has no lean, share or lift to tell: " + no_figures(job.vehicle, a, system) +
                     ".");
}

std::string figures(const Job& job, units::System system) {
    const sure::Figures before = sure::figures_of(job.vehicle, job.fitted);
    Table table;
    if (nothing_tried(job)) {
        table.row({"", "as fitted: " + job.fitted.name}, true);
        for (const Line& l : lines)
            table.row({l.label, with_band(before.value[l.figure], before.bands.sigma[l.figure], l.quantity, system)});
    } else {
        const sure::Figures after = sure::figures_of(job.vehicle, job.trial);
        const auto changes = sure::drawn_changes(job.vehicle, job.fitted, before, job.trial, after, sure::draws_for_many);
        table.row({"", "as fitted: " + job.fitted.name, "on trial: " + job.trial.name, "change", "its direction"},
                  true);
        for (const Line& l : lines) {
            const sure::Change& change = changes[l.figure];
            table.row({l.label, with_band(before.value[l.figure], before.bands.sigma[l.figure], l.quantity, system),
                       with_band(after.value[l.figure], after.bands.sigma[l.figure], l.quantity, system),
                       with_band(change.by, change.half() / band_90, l.quantity, system), sure_words(change)});
        }
    }
    std::string out = heading("What the sum says") + table.done() +
                      why_none(job, job.fitted, "The car as fitted", system) +
                      (nothing_tried(job) ? std::string() : why_none(job, job.trial, "The car on trial", system)) +
                      paragraph("Each ± holds nine cars in ten that this one may be, by what is known of it.");
    std::vector<std::string> guesses;
    for (const auto& [label, share] : sure::measure_next(before.bands, study::RollGradient, 5))
        guesses.push_back(label + ": " + units::fixed(100 * share, 0) + " % of what is not sure about the lean");
    return out + (guesses.empty() ? "" : "<p>What would sharpen it most:</p>" + listed(guesses));
}

std::string provenance(Job job) {
    std::size_t count[3] = {0, 0, 0};
    for (const char* prefix : {"vehicle", "fitted"})
        for (const FieldRef& f : fields(job, prefix)) ++count[static_cast<std::size_t>(f.value->source)];
    return paragraph("Of the car's and Fitted's numbers " + std::to_string(count[0]) + " were measured, " +
                     std::to_string(count[1]) + " quoted from papers, " + std::to_string(count[2]) + " assumed.");
}

/// A picture that stands in the page by its name (store::with_pictures).
std::string picture(const std::string& kind, const std::string& name, const std::string& what) {
    return "<p><img src='" + kind + ":" + in_html(name) + "' width='620' alt='" + in_html(what) + "'></p>";
}
bool is_photograph(const std::string& file) {
    std::string end = file.substr(file.find_last_of('.') == file.npos ? file.size() : file.find_last_of('.'));
    for (char& c : end) c = static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
    return end == ".png" || end == ".jpg" || end == ".jpeg";
}
bool has_readings(const PlannedTest& t) {
    const proof::Protocol* p = proof::protocol_of(t);
    if (!p || p->channels.empty()) return false;
    return std::ranges::any_of(t.runs, [&](const Run& run) {
        return std::ranges::find(run.readings, p->channels[0].spec.key, &Reading::channel) != run.readings.end();
    });
}
std::string test_picture(const Job& job, int test) {
    const PlannedTest& t = job.tests[static_cast<std::size_t>(test)];
    return has_readings(t) && !t.guess_open()
               ? picture("drawing", "test " + std::to_string(test + 1), t.name + ": what was read, run by run")
               : std::string();
}

/// What goes with the book's lines: photographs as pictures, other files by their names.
std::string attached(const Job& job) {
    std::string out;
    for (const Entry& e : job.book.read()) {
        if (e.more.files.empty() || !e.more.struck.empty()) continue;
        out += paragraph(e.date + ": " + e.reason);
        for (const AttachedFile& f : e.more.files) {
            const std::string what = f.words.empty() ? f.file : f.words;
            out += is_photograph(f.file) ? picture("attached", f.file, what) : paragraph("goes with it: " + f.file);
            if (is_photograph(f.file)) out += paragraph(what);
        }
    }
    return out.empty() ? out : heading("Photographs and files") + out;
}

std::string tests(const Job& job, units::System system) {
    std::string out;
    int place = -1;
    for (const PlannedTest& t : job.tests.read()) {
        ++place;
        const proof::Protocol* p = proof::protocol_of(t);
        out += "<p><b>" + in_html(t.date + ", " + t.name) + "</b>" + (p ? ": " + in_html(p->name) : "") + "<br>";
        if (p && !p->channels.empty() && t.predicted()) {
            const Told words = told(t, system);
            out += in_html(words.headline + (words.detail.empty() ? "" : ". " + words.detail));
        }
        out += "</p>" + test_picture(job, place);
    }
    return out.empty() ? out : heading("Tests") + out;
}

std::string decisions(const Job& job) {
    std::vector<std::string> lines_of;
    for (const Entry& e : job.book.read())
        if (e.kind == EntryKind::Decided && e.more.struck.empty()) lines_of.push_back(e.date + ": " + e.reason);
    return lines_of.empty() ? "" : heading("Decided") + listed(lines_of);
}

std::string story(const Job& job, const book::Now& now, units::System system) {
    const auto all = book::moments(job);
    Table table;
    table.row({"setup", "from", "to", "driven"}, true);
    for (const book::Span& s : book::spans(job, all, now))
        table.row({s.name, date_of(static_cast<int>(s.day)), date_of(static_cast<int>(s.day_end)),
                   distance_words(s.odometer_end - s.odometer, system)});
    std::vector<std::string> lines_of;
    for (const book::Gap& gap : book::gaps(job, all, now)) lines_of.push_back(words_of(job, gap, system));
    for (const book::Moment& m : all) {
        if (m.entry < 0) continue;
        const Entry& e = job.book[static_cast<std::size_t>(m.entry)];
        if (e.kind == EntryKind::Felt && e.more.struck.empty()) {
            std::string marks;
            for (const Impression& i : e.more.marks)
                for (const proof::Scale& s : proof::drive_scales())
                    if (i.scale == s.key)
                        marks += (marks.empty() ? ": " : "; ") + i.person + ", " + s.label + " " +
                                 units::trimmed(i.mark, 1) + " of 10";
            lines_of.push_back(e.date + ", " + e.reason + marks);
        }
    }
    return all.empty() ? "" : heading("What stood on the car") + table.done() + listed(lines_of);
}

std::string keep_in_mind(const Job& job, const book::Now& now, units::System system) {
    std::vector<std::string> lines_of;
    for (const Doubt& d : doubts(job)) lines_of.push_back(d.words);
    for (const book::Due& d : book::due(job, now))
        if (d.when == book::When::Due) {
            const Upkeep& u = job.upkeep[d.upkeep];
            const std::string place = place_words(u);
            lines_of.push_back((place.empty() ? "" : place + ": ") + u.what + ", " + words_of(job, d, system));
        }
    if (!job.drafts.empty())
        lines_of.push_back(std::to_string(job.drafts.size()) + " typed values wait and are not in these figures");
    for (const PlannedTest& t : job.tests.read())
        if (t.decision.kind != Decision::Kind::None && !t.decision.look_again.empty())
            lines_of.push_back("look again, " + t.decision.look_again + " (" + t.name + ")");
    return lines_of.empty() ? "" : heading("To keep in mind") + listed(lines_of);
}

std::string of_test(const PlannedTest& t, units::System system) {
    const proof::Protocol* p = proof::protocol_of(t);
    std::string out = paragraph(t.question.empty() ? words_of(t.asks) : t.question);
    if (!p) return out + paragraph("Of a kind that this Dervish does not know.");
    out += paragraph(std::string(p->name) + ". " + p->tells);
    std::vector<std::string> states;
    for (std::size_t s = 0; s < t.states.size(); ++s)
        states.push_back(std::string(1, static_cast<char>('A' + s)) + ": " + t.states[s].name);
    out += listed(states);
    if (!p->channels.empty()) {
        if (t.predicted()) {
            const Told words = told(t, system);
            out += paragraph(words.headline) + paragraph(words.detail);
            for (std::size_t s = 0; s < t.states.size(); ++s)
                for (std::size_t c = 0; c < p->channels.size(); ++c)
                    if (proof::compare(t, static_cast<int>(s), c).agreement != proof::Agreement::NothingRead)
                        out += paragraph(std::string(1, static_cast<char>('A' + s)) + ", " + p->channels[c].spec.label +
                                         ": " + state_told(t, static_cast<int>(s), c, system));
        }
        Table table;
        std::vector<std::string> head{"run", "setup", "driver", "time"};
        for (const proof::Channel& c : p->channels) head.emplace_back(c.spec.label);
        head.emplace_back("left out");
        table.row(head, true);
        for (std::size_t r = 0; r < t.runs.size(); ++r) {
            const Run& run = t.runs[r];
            std::vector<std::string> cells{std::to_string(r + 1), std::string(1, static_cast<char>('A' + run.state)),
                                           run.driver, run.time};
            std::string left_out = run.discarded;
            for (const proof::Channel& c : p->channels) {
                std::string cell;
                for (const Reading& read : run.readings)
                    if (read.channel == c.spec.key) {
                        cell = (read.bound == Bound::More   ? "> "
                                : read.bound == Bound::Less ? "< "
                                                            : "") +
                               figure(read.value, c, system);
                        if (!read.discarded.empty())
                            left_out +=
                                (left_out.empty() ? "" : "; ") + std::string(c.spec.label) + ": " + read.discarded;
                    }
                cells.push_back(cell);
            }
            cells.push_back(left_out);
            table.row(cells);
        }
        if (!t.runs.empty()) out += heading("What was read") + table.done();
    }
    std::vector<std::string> guessed;
    for (const Guess& guess : t.guesses) guessed.push_back(words_of(guess, t, system));
    if (!guessed.empty()) out += heading("What was guessed") + listed(guessed);
    if (t.decision.kind != Decision::Kind::None) {
        out += heading("Decided") +
               paragraph(t.decision.date + ", to " + words_of(t.decision.kind) + ": " + t.decision.words);
        for (const Voice& v : t.decision.voices)
            out += paragraph(v.person + (v.agrees ? " agrees" : " objects") + (v.why.empty() ? "" : ": " + v.why));
    }
    return out;
}

std::string of_bars(Job job, units::System system) {
    std::string out;
    const study::Assessment found = study::assess(job.vehicle, job.fitted);
    const sure::Bands bands = sure::figures_of(job.vehicle, job.fitted).bands;
    for (const End end : {End::Front, End::Rear}) {
        const AxleSetup& a = job.fitted[end];
        out += heading(end == End::Front ? "Front bar" : "Rear bar");
        if (!a.fitted) {
            out += paragraph("None is fitted.");
            continue;
        }
        out += paragraph(a.bar.name + (a.bar.origin.empty() ? "" : ", from " + a.bar.origin)) +
               picture("drawing", std::string(name_of(end)) + " bar", "The bar from above and from behind, to scale");
        const auto rate = study::at(study::FrontRate, end), wheel = study::at(study::FrontWheelRate, end);
        Table table;
        table.row({"rate at the eye", with_band(found.outcomes[rate], bands.sigma[rate], Quantity::Rate, system)});
        table.row({"rate at the wheel, in roll",
                   with_band(found.outcomes[wheel], bands.sigma[wheel], Quantity::Rate, system)});
        for (const char* of : {"bar", "mounts", "links", "pickups"})
            for (const FieldRef& f : fields(job, std::string("fitted/") + name_of(end) + "/" + of)) {
                constexpr const char* sources[] = {"measured", "quoted", "assumed"};
                const units::Unit unit = units::shown(f.spec.quantity, system);
                table.row({std::string(f.spec.label), show(f.value->value, f.spec, system) + " " +
                                                          std::string(unit.symbol) + ", " +
                                                          sources[static_cast<std::size_t>(f.value->source)]});
            }
        out += table.done();
    }
    return out;
}

std::string of_rules(const Job& job, units::System system) {
    if (!job.standard.front.fitted && !job.standard.rear.fitted)
        return paragraph("No setup is called the standard, so that nobody can say what differs from it.");
    std::vector<std::string> lines_of;
    for (const study::Difference& d : study::differences(job.standard, job.fitted)) {
        const DifferenceWords words = words_of(d, job.vehicle, job.standard, job.fitted, system);
        lines_of.push_back(words.name + ": " + words.detail);
    }
    return paragraph("What stands on the car (" + job.fitted.name +
                     ") otherwise than in the setup called the standard (" + job.standard.name + ").") +
           (lines_of.empty() ? paragraph("Nothing differs.") : listed(lines_of)) +
           paragraph("Whether it is allowed is for the class's rules and its scrutineers.");
}

/// The page with each place filled; what is filled in is not looked through for places.
std::string filled(const std::string& page, const std::map<std::string, std::string>& places) {
    for (const auto& [place, words] : places)
        if (page.find(place) == std::string::npos)
            throw BadInput("template", place + " is missing", "a template has {{title}}, {{date}} and {{body}}");
    std::string out;
    for (std::size_t at = 0; at < page.size();) {
        const auto here =
            std::ranges::find_if(places, [&](const auto& p) { return page.compare(at, p.first.size(), p.first) == 0; });
        out += here == places.end() ? page.substr(at, 1) : here->second;
        at += here == places.end() ? 1 : here->first.size();
    }
    return out;
}
} // namespace

std::string usual_template() {
    return "<!doctype html>\n<html><head><meta charset='utf-8'><title>{{title}}</title></head>\n"
           "<body style='font-family: sans-serif; font-size: 11pt'>\n"
           "<!-- Your name and mark may stand here. -->\n"
           "<h1>{{title}}</h1>\n<p>{{date}}</p>\n{{body}}\n"
           "<p>Predictions with a stated uncertainty, by Dervish. The vehicle's maker, local rules and licensed "
           "practice decide what may be "
           "changed and how tight it is done up.</p>\n</body></html>\n";
}

std::string report(const Job& job, ReportOf of, int test, const std::string& today, units::System system,
                   const std::string& in_template) {
    const book::Now now = book::now_of(book::moments(job), today);
    const std::string car = job.vehicle.name.empty() ? job.name : job.vehicle.name;
    std::string title = car, body;
    switch (of) {
    case ReportOf::Job: {
        title = job.name.empty() ? car : job.name;
        std::string heard;
        for (const std::string& h : job.heard) heard += (heard.empty() ? "" : ", ") + h;
        body = heading("The complaint") + paragraph(job.complaint) + paragraph(heard) + heading("The car");
        body += paragraph(car + ", as fitted: " + job.fitted.name +
                          (nothing_tried(job) ? "" : "; on trial: " + job.trial.name)) +
                provenance(job);
        body += figures(job, system) + story(job, now, system) + attached(job) + tests(job, system) + decisions(job) +
                keep_in_mind(job, now, system);
        break;
    }
    case ReportOf::Test: {
        if (test < 0 || test >= static_cast<int>(job.tests.size()))
            throw BadInput("test", "there is no such test", "one of the job's tests");
        const PlannedTest& t = job.tests[static_cast<std::size_t>(test)];
        title = car + ": " + t.name;
        body = of_test(t, system) + test_picture(job, test);
        break;
    }
    case ReportOf::Bar:
        title = car + ": the bars";
        body = of_bars(job, system);
        break;
    case ReportOf::Rules:
        title = car + ": what differs from the standard";
        body = of_rules(job, system);
        break;
    }
    body += paragraph(std::string("Model version ") + proof::model_version + ".");
    return filled(in_template, {{"{{title}}", in_html(title)}, {"{{date}}", today}, {"{{body}}", body}});
}

} // namespace dervish::say
