#include "core/edit/setups.h"

#include "core/edit/book.h"
#include "core/edit/edits.h"
#include "core/edit/parts.h"
#include "core/job/dates.h"
#include "core/job/fields.h"

#include <algorithm>
#include <map>

namespace dervish::edit {
namespace {
double filed(double metres) { return units::as_filed(metres, units::Quantity::Length); }
} // namespace

void begin_trial_again(Job& job) {
    job.trial = job.fitted;
    job.trial.name = "trial";
}

void keep_trial(Job& job) {
    std::erase_if(job.kept, [&](const Setup& s) { return s.name == job.trial.name; });
    job.kept.push_back(job.trial);
}

void try_kept(Job& job, const std::string& name) {
    for (const Setup& s : job.kept)
        if (s.name == name) {
            job.trial = s;
            return;
        }
}

void call_standard(Job& job, bool trial) { job.standard = trial ? job.trial : job.fitted; }

namespace {
/// Before anything is fitted the book says how the car was found, and that is its standard unless another is named.
void write_as_found(Job& job, const std::string& date) {
    const auto tells = [](const job::Entry& e) {
        return (e.kind == EntryKind::Found || e.kind == EntryKind::Fitted) && e.car && e.more.struck.empty();
    };
    if (std::ranges::any_of(job.book, tells)) return;
    std::string first = date; // it stood so on every day of the book
    for (const job::Entry& e : job.book)
        if (day_of(e.date)) first = std::min(first, e.date);
    for (const PlannedTest& t : job.tests)
        if (day_of(t.date)) first = std::min(first, t.date);
    job.book.push_back({first, EntryKind::Found, "as found", 0, {}, Snapshot{job.vehicle, job.fitted}, {}});
    if (!job.standard.front.fitted && !job.standard.rear.fitted) job.standard = job.fitted;
}

/// The numbers of Fitted that are others than before were measured, and so where else the parts stand.
void call_measured(Job& job, const Job& before) {
    Job was = before;
    const Job fitted = job;
    std::map<std::string, double> values;
    for (const FieldRef& f : fields(was, "fitted")) values[f.path] = f.value->value;
    for (const FieldRef& f : fields(job, "fitted")) {
        const auto old = values.find(f.path);
        if (old != values.end() && old->second == f.value->value) continue;
        f.value->source = Source::Measured;
        f.value->sigma = usual_sigma(f.spec, Source::Measured, f.value->value);
    }
    keep_parts(fitted, job);
}
} // namespace

void change_fitted(Job& job, const FittedLine& line, bool found) {
    const Job before = job;
    const Setup& was = before.fitted;
    if (!found) write_as_found(job, line.date);
    fit_trial(job, line.date, found);
    if (line.measured) call_measured(job, before);
    std::string reason = line.reason;
    EntryMore more;
    if (const auto steps = steps_done(before); !found && !steps.empty()) {
        reason += " (job sheet: " + std::to_string(steps.size()) + (steps.size() == 1 ? " step done" : " steps done");
        if (job.sheet.minutes > 0) reason += ", " + units::trimmed(job.sheet.minutes, 0) + " minutes";
        reason += ")";
        more.steps = steps;
        more.minutes = job.sheet.minutes;
        job.sheet = {};
    }
    job.book.push_back({line.date, found ? EntryKind::Found : EntryKind::Fitted, reason, line.odometer,
                        parts_changed(was, job.fitted), Snapshot{job.vehicle, job.fitted}, more});
}

void put_on_shelf(Job& job, bool trial, End end) { job.shelf.push_back((trial ? job.trial : job.fitted)[end]); }

void try_from_shelf(Job& job, End end, std::size_t index) {
    if (index < job.shelf.size()) put_bar(job, end, job.shelf[index]);
}

void add_eye(Job& job, End end) {
    auto& eyes = job.trial[end].bar.eyes;
    if (eyes.empty() || eyes.size() >= 4) return;
    Eye next = eyes.back();
    next.arm_length.value = filed(0.92 * next.arm_length.value);
    next.arm_length.source = Source::Assumed;
    eyes.push_back(next);
}

void remove_eye(Job& job, End end) {
    Assembly& a = job.trial[end];
    if (a.bar.eyes.size() < 2) return;
    a.bar.eyes.pop_back();
    const int last = static_cast<int>(a.bar.eyes.size()) - 1;
    use_eyes(job, end, std::min(a.left_eye, last), std::min(a.right_eye, last));
}

void use_eyes(Job& job, End end, int left, int right) {
    job.trial[end].left_eye = left;
    job.trial[end].right_eye = right;
}

void set_mark(Job& job, End end, std::size_t line, Mark mark) {
    BarData& b = job.trial[end].bar;
    if (b.form == Form::Walk && line < b.walk.size()) b.walk[line].mark = mark;
    if (b.form == Form::Points && line < b.points.size()) b.points[line].mark = mark;
}

void put_bar(Job& job, End end, const Assembly& bar) {
    AxleSetup& now = job.trial[end];
    const PickupData pickups = now.pickups; // the car's, whatever it pulls on
    static_cast<Assembly&>(now) = bar;
    now.pickups = pickups;
}

void put_setup(Job& job, const Setup& setup, const std::string& name) {
    job.trial = setup;
    job.trial.name = name;
}

void set_size(Job& job, End end, double outer_diameter, double wall) {
    BarData& b = job.trial[end].bar;
    b.outer_diameter.value = filed(outer_diameter);
    b.wall.value = filed(wall);
}

void add_bar_line(Job& job, End end) {
    BarData& b = job.trial[end].bar;
    if (b.form == Form::Walk) {
        StepData next;
        next.length = {filed(0.05), 1.5e-3, Source::Assumed};
        next.mark = Mark::End;
        b.walk.push_back(next);
    } else {
        PointData next = b.points.empty() ? PointData{} : b.points.back();
        next.y.value = filed(next.y.value - 0.05);
        next.mark = Mark::End;
        b.points.push_back(next);
    }
}

void remove_bar_line(Job& job, End end) {
    BarData& b = job.trial[end].bar;
    const auto off = [](auto& list) {
        if (list.size() > 1) list.pop_back();
    };
    b.form == Form::Walk ? off(b.walk) : off(b.points);
}

void take_points(Job& job, End end, const std::vector<PointData>& points) {
    job.trial[end].bar.points = points;
    job.trial[end].bar.form = Form::Points;
    use_eyes(job, end, 0, 0);
}

void set_bush_rate(Job& job, End end, double rate, double sigma) {
    MountData& m = job.trial[end].mounts;
    m.vertical = m.fore_aft = {units::as_filed(rate, units::Quantity::Rate),
                               units::as_filed(sigma, units::Quantity::Rate), Source::Assumed};
}

void set_stock(Job& job, const std::vector<StockSize>& sizes) { job.stock = sizes; }

void name_job(Job& job, const std::string& name, const std::string& complaint) {
    job.name = name;
    job.complaint = complaint;
}

void name_setup(Job& job, bool trial, const std::string& name) { (trial ? job.trial : job.fitted).name = name; }

void set_heard(Job& job, const std::string& words, bool heard) {
    std::erase(job.heard, words);
    if (heard) job.heard.push_back(words);
}

} // namespace dervish::edit
