#include "calc/report.h"
#include "core/edit/parts.h"
#include "core/job/fields.h"
#include "core/model/check.h"
#include "core/say/report.h"
#include "store/book_files.h"
#include "store/drawings.h"
#include "store/job_file.h"
#include "store/parse.h"
#include "store/reference.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdio>
#include <ctime>
#include <fcntl.h>
#include <iostream>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace dervish;

namespace {
/// Computed beside expected, the worst of each case and of the file, and whether all is within its tolerance.
std::pair<std::string, bool> checked(const std::string& path) {
    const auto file = store::parse_json<nlohmann::json>(store::read_file(path, store::largest_json),
                                                        std::filesystem::path(path).filename().string());
    int outside = 0, figures = 0;
    double worst = 0;
    std::string out;
    char line[200];
    for (const store::CheckedCase& c : store::check_reference(file)) {
        out += c.name + "\n";
        for (const store::Compared& f : c.figures) {
            std::snprintf(line, sizeof line, "  %-26s %14.5f  expected %14.5f %-5s  off by %.5f of %.5f allowed%s\n",
                          f.figure.c_str(), f.computed, f.expected, f.unit.c_str(), f.deviation(), f.tolerance,
                          f.within() ? "" : "  OUTSIDE");
            out += line;
            outside += !f.within();
            ++figures;
            worst = std::max(worst, f.used());
        }
    }
    std::snprintf(line, sizeof line, "%d figures, %d outside; the worst uses %.1f %% of its tolerance\n", figures,
                  outside, 100 * worst);
    return {out + line, outside == 0};
}

store::JobFile read_job(const std::string& path) {
    store::JobFile file = store::load(path);
    const job::Job& job = file.job;
    if (!file.set_aside.empty()) throw file.set_aside.front().within(std::filesystem::path(path).filename().string());
    if (!job.drafts.empty())
        std::cerr << "note: " << job.drafts.size()
                  << " typed value(s) in this job are not usable yet and are left out\n";
    model::check(job);
    return file;
}
/// All that a command puts out: on standard output, or into files that are never what it read, and no other file that
/// is there unless --force is given. Throws BadInput where it cannot be written.
class Output {
public:
    bool force = false;

    /// A file that is read, which nothing is written over.
    const std::string& reads(const std::string& path) {
        read_.emplace_back(path);
        return path;
    }
    void file(const std::string& path, const std::string& bytes) const { store::write_made(path, bytes, read_, force); }
    void check(const std::string& path) const { store::check_made(path, read_, force); }
    static void print(const std::string& bytes) {
        std::cout << bytes;
        std::cout.flush();
        if (!std::cout)
            throw BadInput("standard output", "cannot be written to its end",
                           "free some space, or write to where something reads");
    }
    /// A figure that cannot be stands as the words that say why.
    void print(store::Json json) const {
        tell_why(json);
        print(json.dump(1) + "\n");
    }
    void explains(std::function<std::string()> why) { why_ = std::move(why); }

private:
    void tell_why(store::Json& at) const {
        if (at.is_number_float() && !std::isfinite(at.get<double>()))
            at = "none: " + (why_ ? why_() : "it cannot be worked out");
        else if (at.is_structured())
            for (store::Json& one : at) tell_why(one);
    }
    std::vector<std::filesystem::path> read_;
    std::function<std::string()> why_;
};

/// A number within a range, and a number at all.
CLI::Validator within(double lowest, double highest) {
    const std::string accepted = units::trimmed(lowest, 6) + " to " + units::trimmed(highest, 6);
    return {[=](std::string& text) {
                double value = 0;
                const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
                const bool good =
                    error == std::errc() && end == text.data() + text.size() && value >= lowest && value <= highest;
                return good ? std::string() : "\"" + text + "\" cannot be; give " + accepted;
            },
            accepted};
}

/// Has the window's program, which has Qt's writer, do it without a display; ends as that ends. Throws BadInput where
/// it was not built.
void by_window(std::vector<std::string> words) {
    const auto program = std::filesystem::canonical("/proc/self/exe").parent_path().parent_path() / "app" / "dervish";
    if (!std::filesystem::exists(program))
        throw BadInput("--pdf", "the window's program is not at " + program.string(),
                       "build it too (./run), or give --html");
    words.insert(words.begin(), program.string());
    std::vector<char*> raw;
    for (std::string& word : words) raw.push_back(word.data());
    raw.push_back(nullptr);
    pid_t child = 0;
    int status = 0;
    if (posix_spawn(&child, program.c_str(), nullptr, nullptr, raw.data(), environ) != 0 ||
        waitpid(child, &status, 0) < 0)
        throw BadInput("--pdf", "the window's program does not start", program.string() + " to run");
    if (status != 0) throw CLI::RuntimeError(WIFEXITED(status) ? WEXITSTATUS(status) : 2);
}

/// A day as the clock on the wall has it. Throws BadInput for what is no date.
std::string date_or_today(const std::string& given) {
    if (given.empty()) {
        const std::time_t now = std::time(nullptr);
        std::tm local{};
        ::localtime_r(&now, &local);
        char text[16];
        return {text, std::strftime(text, sizeof text, "%Y-%m-%d", &local)};
    }
    if (!job::day_of(given)) throw BadInput("--today", "“" + given + "” is no date", "such as 2031-05-11");
    return given;
}
} // namespace

int main(int argc, char** argv) {
    // A closed one would become the first file that is opened; on this, writing fails and is told.
    if (::fcntl(STDOUT_FILENO, F_GETFD) < 0)
        while (::open("/dev/full", O_RDWR) >= 0 && ::fcntl(STDOUT_FILENO, F_GETFD) < 0) {
        }
    CLI::App app{"Dervish from a shell: JSON on standard output, errors on standard error with exit code 2."};
    app.require_subcommand(1);
    std::string path, setup = "trial", axle = "front", protocol = "diagonal";
    double highest_mm = 800;
    int code = 0, draws = 2000;
    unsigned seed = 1;
    Output output;
    const auto print = [&](store::Json json) { output.print(std::move(json)); };
    const auto open_file = [&](const std::string& file) {
        store::JobFile out = read_job(output.reads(file));
        output.explains([job = out.job, &setup] { return calc::why_none(job, setup); });
        return out;
    };
    const auto open = [&](const std::string& file) { return open_file(file).job; };
    const auto may_replace = [&](CLI::App* command) {
        command->add_flag("--force", output.force, "replace the files that are there; never the job that is read");
    };

    CLI::App* const check_command = app.add_subcommand("check", "compute the cases of a reference file and compare");
    check_command->add_option("file", path, "reference file")->required();
    check_command->callback([&] {
        const auto [words, within_tolerance] = checked(path);
        Output::print(words);
        code = within_tolerance ? 0 : 1;
    });

    const auto job_command = [&](const char* name, const char* help) {
        CLI::App* const command = app.add_subcommand(name, help);
        command->add_option("job", path, ".dervish file or job.json")->required();
        command->add_option("--setup", setup, "fitted, trial or a kept setup's name")->capture_default_str();
        return command;
    };
    job_command("tally", "the figures that decide")->callback([&] { print(calc::tally(open(path), setup)); });
    CLI::App* const bar_command = job_command("bar", "one bar's rates, ledger, eyes, travel and choices");
    bar_command->add_option("--axle", axle, "front or rear")->check(CLI::IsMember({"front", "rear"}))->required();
    bar_command->callback([&] { print(calc::bar(open(path), setup, axle)); });
    CLI::App* const links_command = job_command("links", "one axle's links through travel, their margins and lengths");
    links_command->add_option("--axle", axle, "front or rear")->check(CLI::IsMember({"front", "rear"}))->required();
    links_command->callback([&] { print(calc::links(open(path), setup, axle)); });
    std::string ground = "dry";
    std::vector<std::string> grounds;
    for (const Ground g : all_grounds) grounds.emplace_back(name_of(g));
    CLI::App* const balance_command = job_command("balance", "who gives up first, and what the bars do to it");
    balance_command->add_option("--ground,--surface", ground, "under the car")
        ->check(CLI::IsMember(grounds))
        ->capture_default_str();
    int driven = sure::draws_for_shares;
    balance_command->add_option("--draws", driven, "cars to draw for how it lets go")
        ->check(CLI::Range(0, 1000000))
        ->capture_default_str();
    balance_command->callback([&] {
        const auto at = std::find(grounds.begin(), grounds.end(), ground) - grounds.begin();
        print(calc::balance(open(path), setup, all_grounds[at], driven));
    });
    CLI::App* const cures_command = job_command("cures", "each change that would bring what is wanted, and its costs");
    const std::vector<std::string> aims{"limit", "understeer", "share", "one-wheel", "heads",
                                        "lean",  "damping",    "lift",  "ramps",     "holds"};
    std::string aim = "limit", put_to;
    double wanted = 0;
    int put = 0;
    cures_command->add_option("--aim", aim, "what is wanted")->check(CLI::IsMember(aims))->capture_default_str();
    cures_command->add_option("--wanted", wanted, "of it: %, °/g, m/s², g, mm as the aim is told")
        ->required()
        ->check(within(-1e6, 1e6));
    may_replace(cures_command);
    cures_command->add_option("--ground", ground, "under the car")
        ->check(CLI::IsMember(grounds))
        ->capture_default_str();
    CLI::Option* const put_option =
        cures_command->add_option("--put", put, "the way, from 1, that goes on Trial")->check(CLI::PositiveNumber);
    CLI::Option* const to_option = cures_command->add_option("--to", put_to, "a new job file with it");
    put_option->needs(to_option);
    to_option->needs(put_option);
    cures_command->callback([&] {
        job::Job job = open(path);
        if (put > 0) output.check(put_to);
        job::Setup on_trial;
        const auto at = std::find(grounds.begin(), grounds.end(), ground) - grounds.begin();
        const study::Aim chosen = study::all_aims[std::find(aims.begin(), aims.end(), aim) - aims.begin()];
        print(calc::cures(job, setup, all_grounds[at], chosen, wanted,
                          put > 0 ? std::optional(calc::Keep{put, &on_trial}) : std::nullopt));
        if (put == 0) return;
        on_trial.name = job.trial.name;
        const job::Job before = job;
        job.trial = on_trial;
        edit::keep_parts(before, job);
        store::JobFile file = store::load(path);
        file.job = job;
        store::save(file, put_to);
    });
    CLI::App* const ride_command = job_command("ride", "what a rough road does to the car, and to its grip");
    std::optional<double> km_per_h;
    ride_command->add_option("--ground", ground, "under the car")->check(CLI::IsMember(grounds))->capture_default_str();
    ride_command->add_option("--speed", km_per_h, "km/h; not given: the usual there")->check(within(1, 400));
    ride_command->callback([&] {
        const auto at = std::find(grounds.begin(), grounds.end(), ground) - grounds.begin();
        const auto speed = km_per_h ? std::optional(*km_per_h / 3.6) : std::nullopt;
        print(calc::ride(open(path), setup, all_grounds[at], speed));
    });
    std::string from = "fitted";
    CLI::App* const differs_command =
        job_command("differs", "what one setup has otherwise than another, and what each difference does");
    differs_command->add_option("--from", from, "fitted, trial or a kept setup's name")->capture_default_str();
    int pairs = sure::draws_for_many;
    differs_command
        ->add_option("--draws", pairs,
                     "pairs of cars to draw; under 200: straight lines; half as many go over their limit")
        ->check(CLI::Range(0, 1000000))
        ->capture_default_str();
    differs_command->callback([&] { print(calc::differs(open(path), from, setup, pairs)); });
    CLI::App* const bands_command = job_command("bands", "the figures' bands, linear and by drawing cars");
    bands_command->add_option("--draws", draws, "cars to draw")->check(CLI::Range(100, 1000000))->capture_default_str();
    bands_command->add_option("--seed", seed, "of the draws")->capture_default_str();
    bands_command->callback([&] { print(calc::bands(open(path), setup, draws, seed)); });
    CLI::App* const book_command =
        app.add_subcommand("book", "what was done and why, what broke, what is due, where every part is");
    std::string csv, calendar, today;
    book::Wanted looked_for;
    book_command->add_option("job", path, ".dervish file or job.json")->required();
    may_replace(book_command);
    book_command->add_option("--words", looked_for.words, "only lines with all of these words");
    book_command->add_option("--part", looked_for.part, "only of the part with this id");
    book_command->add_option("--person", looked_for.person, "only of this person");
    book_command->add_option("--today", today, "up to this date; not given: today");
    book_command->add_option("--csv", csv, "the whole book as a table, into this file");
    book_command->add_option("--calendar", calendar, "what is due as iCalendar, into this file");
    book_command->callback([&] {
        const job::Job job = open(path);
        today = date_or_today(today);
        if (!csv.empty()) output.file(csv, store::book_csv(job));
        if (!calendar.empty()) {
            std::string stamp = today;
            std::erase(stamp, '-');
            output.file(calendar, store::calendar(job, book::now_of(book::moments(job), today), stamp + "T000000Z"));
        }
        print(calc::story(job, today, looked_for));
    });
    CLI::App* const sheet_command =
        app.add_subcommand("sheet", "what is done under the car to bring one setup to another");
    std::string sheet_from = "fitted", sheet_to = "trial", html;
    sheet_command->add_option("job", path, ".dervish file or job.json")->required();
    may_replace(sheet_command);
    sheet_command->add_option("--from", sheet_from, "fitted, trial or a kept setup's name")->capture_default_str();
    sheet_command->add_option("--to", sheet_to, "fitted, trial or a kept setup's name")->capture_default_str();
    sheet_command->add_option("--html", html, "the sheet to print, into this file");
    sheet_command->callback([&] {
        const job::Job job = open(path);
        const auto sheet = say::job_sheet(job, job::setup_named(job, sheet_from), job::setup_named(job, sheet_to),
                                          units::System::Metric);
        if (!html.empty()) output.file(html, say::job_sheet_html(job, sheet, units::System::Metric));
        print(calc::job_sheet(sheet));
    });
    CLI::App* const report_command =
        app.add_subcommand("report", "a paper to read: HTML, on standard output or into a file");
    const std::vector<std::string> papers{"job", "test", "bar", "rules"};
    std::string paper = "job", report_html, report_pdf, template_file;
    int report_test = 1;
    report_command->add_option("job", path, ".dervish file or job.json")->required();
    may_replace(report_command);
    report_command->add_option("--of", paper, "the job, one test, the bars, or what differs from the standard")
        ->check(CLI::IsMember(papers))
        ->capture_default_str();
    report_command->add_option("--test", report_test, "which test, from 1")
        ->check(CLI::Range(1, 20000))
        ->capture_default_str();
    report_command->add_option("--today", today, "the date on it; not given: today");
    CLI::Option* const own_page = report_command->add_option("--template", template_file,
                                                             "a shop's own page with {{title}}, {{date}} and {{body}}");
    report_command->add_option("--html", report_html, "into this file");
    report_command->add_option("--pdf", report_pdf, "as PDF into this file, by the window's program and its page")
        ->excludes(own_page);
    report_command->callback([&] {
        if (!report_pdf.empty()) {
            output.reads(path);
            output.check(report_pdf);
            return by_window({"--job", path, "--report", paper, "--test", std::to_string(report_test), "--today",
                              date_or_today(today), "--into", report_pdf, "--force"});
        }
        const store::JobFile file = open_file(path);
        const job::Job& job = file.job;
        const auto of = static_cast<say::ReportOf>(std::find(papers.begin(), papers.end(), paper) - papers.begin());
        const std::string page =
            template_file.empty() ? say::usual_template() : store::read_file(output.reads(template_file), 1u << 20);
        const std::string out = store::with_pictures(
            say::report(job, of, report_test - 1, date_or_today(today), units::System::Metric, page), job,
            file.attachments, units::System::Metric);
        if (report_html.empty())
            Output::print(out);
        else
            output.file(report_html, out);
    });
    CLI::App* const build_command = job_command(
        "build", "the sheet by which a bar or a link is made; its bends, or what is cut, on standard output");
    may_replace(build_command);
    std::string svg, dxf, made = "bar";
    double head = 0;
    build_command->add_option("--of", made, "bar or links")
        ->check(CLI::IsMember({"bar", "links"}))
        ->capture_default_str();
    build_command->add_option("--head", head, "of links: a joint's centre to its shoulder, mm; 0: not known")
        ->check(within(0, 1000))
        ->capture_default_str();
    build_command->add_option("--axle", axle, "front or rear")->check(CLI::IsMember({"front", "rear"}))->required();
    build_command->add_option("--svg", svg, "drawing with dimensions and the bends, into this file");
    build_command->add_option("--dxf", dxf, "its middle line in space, into this file");
    build_command->callback([&] {
        const job::Job job = open(path);
        const job::AxleSetup& a = job::setup_named(job, setup)[axle == "front" ? End::Front : End::Rear];
        if (!a.fitted) throw BadInput(setup + "/" + axle, "no bar is fitted there", "an axle with a bar");
        if (made == "links") {
            if (a.held != job::Held::Links)
                throw BadInput(setup + "/" + axle, "its bar has no links", "an axle whose bar pulls on links");
            if (!svg.empty()) output.file(svg, store::link_svg(a.links, head * units::mm, units::System::Metric));
            if (!dxf.empty()) output.file(dxf, store::link_dxf(a.links));
            return print(calc::link_build(book::link_build(a.links, head * units::mm)));
        }
        if (!svg.empty()) output.file(svg, store::bar_svg(a, units::System::Metric));
        if (!dxf.empty()) output.file(dxf, store::bar_dxf(a));
        Output::print(store::bend_csv(a));
    });
    CLI::App* const flex_command = job_command("flex", "the car on ramps, forks, holes and slopes");
    std::string wheel = "front left", states = "one", against;
    double second = 1, angle = 20, obstacle = 0, threshold = 0, track = 0.5;
    const std::vector<std::string> protocols{"diagonal", "ramp", "lift", "holes", "slope"},
        wheels(car::wheel_names.begin(), car::wheel_names.end());
    const auto place = [](const std::vector<std::string>& all, const std::string& one) {
        return static_cast<int>(std::find(all.begin(), all.end(), one) - all.begin());
    };
    flex_command->add_option("--protocol", protocol, "what the ground does")
        ->check(CLI::IsMember(protocols))
        ->capture_default_str();
    flex_command->add_option("--wheel", wheel, "that rises (diagonal: its front one), sinks, or is uphill")
        ->check(CLI::IsMember(wheels))
        ->capture_default_str();
    flex_command->add_option("--second", second, "of the rear wheel's height over the front's")->check(within(0, 5));
    flex_command->add_option("--angle", angle, "of a ramp, degrees")->check(within(1, 60))->capture_default_str();
    flex_command->add_option("--obstacle", obstacle, "under the uphill wheel of a slope, mm")->check(within(0, 1000));
    flex_command->add_option("--threshold", threshold, "load at which a wheel counts as light, N")
        ->check(within(0, 1e5));
    flex_command->add_option("--states", states, "one, or all: bars on and off, the shelf's, what could be bought")
        ->check(CLI::IsMember({"one", "all"}));
    flex_command->add_option("--against", against, "another job, its Fitted on the same ground");
    flex_command->add_option("--track", track, "weight of the track against the road, 0 to 1")->check(within(0, 1));
    CLI::Option* const ends =
        flex_command->add_option("--highest", highest_mm, "where the ramps end, mm (slope: degrees)")
            ->check(within(1, 3000))
            ->capture_default_str();
    flex_command->callback([&] {
        flex::Protocol p;
        p.kind = static_cast<flex::Kind>(place(protocols, protocol));
        p.wheel = place(wheels, wheel);
        p.raised = p.wheel == car::front_left || p.wheel == car::rear_right ? Diagonal::FrontLeftRearRight
                                                                            : Diagonal::FrontRightRearLeft;
        p.second = second;
        p.angle = angle * units::deg;
        p.obstacle = obstacle * units::mm;
        p.threshold_load = threshold;
        const bool slope = p.kind == flex::Kind::Slope;
        p.highest = slope ? (ends->count() ? highest_mm : 60) * units::deg : highest_mm * units::mm;
        const std::optional<job::Job> other = against.empty() ? std::nullopt : std::optional(open(against));
        print(calc::flex(open(path), setup, p, states == "all" || other, other ? &*other : nullptr, track));
    });
    int test = 0;
    CLI::App* const prove_command = app.add_subcommand("prove", "the job's tests: predicted, read, judged, explained");
    prove_command->add_option("job", path, ".dervish file or job.json")->required();
    prove_command->add_option("--test", test, "its place from 1; all without it")->check(CLI::Range(0, 20000));
    prove_command->callback([&] { print(calc::prove(open(path), test)); });
    calc::Planned planned{"", "fitted", "trial", "ABABA", "", "which", ""};
    CLI::App* const plan_command = app.add_subcommand("plan", "how much each kind of test would tell of a question");
    plan_command->add_option("job", path, ".dervish file or job.json")->required();
    plan_command->add_option("--question", planned.question, "what is asked, in words");
    plan_command->add_option("--asks", planned.asks, "which of two setups, sum or car, changed since, unknown input")
        ->check(CLI::IsMember({"which", "sum", "changed", "unknown"}))
        ->capture_default_str();
    plan_command->add_option("--unknown", planned.unknown, "path of the input, like vehicle/front/roll_centre_height");
    plan_command->add_option("--setup", planned.first, "fitted, trial or a kept setup's name: A")
        ->capture_default_str();
    plan_command->add_option("--against", planned.second, "the other one: B")->capture_default_str();
    plan_command->add_option("--order", planned.order, "of the runs")->capture_default_str();
    plan_command->add_option("--protocol", planned.protocol, "one kind of test; all without it");
    plan_command->callback([&] { print(calc::plan(open(path), planned)); });
    app.add_subcommand("schema", "the JSON schema of a job")->callback([&] { print(store::schema()); });

    try {
        app.parse(argc, argv);
        return code;
    } catch (const CLI::ParseError& e) {
        return app.exit(e) == 0 ? 0 : 2;
    } catch (const std::exception& e) {
        calc::tell_progress(1, 1);
        std::cerr << "dervish-calc: " << e.what() << "\n";
        return 2;
    }
}
