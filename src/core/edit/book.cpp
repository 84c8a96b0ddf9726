#include "core/edit/book.h"

#include "core/edit/parts.h"
#include "core/edit/typing.h"
#include "core/job/dates.h"
#include "core/job/fields.h"
#include "core/job/parts.h"
#include "core/job/torque.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace dervish::edit {
namespace {
constexpr double furthest = 1e9; ///< m: a million kilometres
/// Where the words typed for an entry wait: a correction's by its number, below 0 the next one's.
std::string words_of_entry(int entry) { return "book/" + (entry < 0 ? "new" : std::to_string(entry)) + "/"; }

job::Entry* entry_at(Job& job, int entry) {
    return entry >= 0 && entry < static_cast<int>(job.book.size()) ? &job.book[static_cast<std::size_t>(entry)]
                                                                   : nullptr;
}
void check_date(const std::string& at, const std::string& date) {
    if (!day_of(date)) throw BadInput(at, "“" + date + "” is no date", "year, month and day, such as 2031-05-11");
}
void check_line(const std::string& date, double odometer, const std::string& reason) {
    check_date("date", date);
    if (!(odometer >= 0 && odometer <= furthest))
        throw BadInput("odometer", "no distance that a car has driven",
                       "0 to a million kilometres; empty where it is not known");
    if (nothing_in(reason)) throw BadInput("reason", "nothing is said", "say what was done or seen, and why");
}

/// A measured figure of the parts of Fitted, taken up wherever they stand.
void found_on_car(Job& job, const std::string& path, double value, const char* at) {
    const Job before = job;
    const auto found = field(job, path);
    if (!found) return;
    check_range(value, found->spec, units::System::Metric, at);
    *found->value = {units::as_filed(value, found->spec.quantity),
                     units::as_filed(usual_sigma(found->spec, Source::Measured, value), found->spec.quantity),
                     Source::Measured};
    keep_parts(before, job);
}
} // namespace

const FieldSpec& clock_spec() {
    static const FieldSpec spec{"odometer", "On the clock", units::Quantity::Distance, Tool::Test, 0, furthest};
    return spec;
}

void keep_for_entry(Job& job, const std::string& field, const Entry& typed, int entry) {
    if (typed.text.empty())
        job.drafts.erase(words_of_entry(entry) + field);
    else
        job.drafts[words_of_entry(entry) + field] = {typed.text, typed.system};
}

const Draft* draft_for_entry(const Job& job, const std::string& field, int entry) {
    const auto at = job.drafts.find(words_of_entry(entry) + field);
    return at == job.drafts.end() ? nullptr : &at->second;
}

std::string kept_for_entry(const Job& job, const std::string& field, int entry) {
    const Draft* kept = draft_for_entry(job, field, entry);
    return kept ? kept->text : std::string();
}

void forget_kept(Job& job, int entry) {
    std::erase_if(job.drafts, [of = words_of_entry(entry)](const auto& kept) { return kept.first.starts_with(of); });
}

void write_entry(Job& job, job::Entry entry, const std::string& today) {
    check_line(entry.date, entry.odometer, entry.reason);
    if (!(entry.more.driven_so >= 0 && entry.more.driven_so <= furthest))
        throw BadInput("driven_so", "no distance that a car has driven", "0 to a million kilometres");
    if (entry.date != today) entry.more.entered = today;
    const bool of_car =
        entry.kind == EntryKind::Fitted || entry.kind == EntryKind::Found || entry.kind == EntryKind::Removed;
    if (of_car && !entry.car) entry.car = Snapshot{job.vehicle, job.fitted};
    job.book.push_back(std::move(entry));
}

void correct_entry(Job& job, int entry, const std::string& date, double odometer, const std::string& reason,
                   const std::string& today) {
    job::Entry* e = entry_at(job, entry);
    if (!e) return;
    if (e->date == date && e->odometer == odometer && e->reason == reason) return;
    check_line(date == e->date ? today : date, odometer, reason); // a line of an older file may have none
    e->more.corrected.push_back({today, e->date, e->reason, e->odometer});
    e->date = date;
    e->odometer = odometer;
    e->reason = reason;
}

void strike_entry(Job& job, int entry, const std::string& why) {
    if (job::Entry* e = entry_at(job, entry)) e->more.struck = why;
}

void attach(Job& job, int entry, const AttachedFile& file) {
    job::Entry* e = entry_at(job, entry);
    if (!e) return;
    const auto same = std::ranges::find(e->more.files, file.file, &AttachedFile::file);
    if (same == e->more.files.end())
        e->more.files.push_back(file);
    else
        *same = file;
}

void put_entry_mark(Job& job, int entry, const std::string& person, const std::string& scale,
                    std::optional<double> mark) {
    job::Entry* e = entry_at(job, entry);
    if (!e) return;
    std::erase_if(e->more.marks, [&](const Impression& i) { return i.person == person && i.scale == scale; });
    if (mark) e->more.marks.push_back({person, scale, units::rounded(std::clamp(*mark, 0.0, 10.0))});
}

void set_look_again(Job& job, int entry, const std::string& date) {
    if (!date.empty()) check_date("look_again", date);
    if (job::Entry* e = entry_at(job, entry)) e->more.look_again = date;
}

void go_back_to(Job& job, int entry) {
    const job::Entry* e = entry_at(job, entry);
    if (!e || !e->car) return;
    job.trial = as_now(job, *e->car).setup;
}

void put_person(Job& job, const Person& person) {
    if (nothing_in(person.name)) throw BadInput("name", "nobody is named", "a name");
    if (!(person.mass >= 0 && person.mass <= 300)) throw BadInput("mass", "not the weight of a person", "up to 300 kg");
    const auto load = std::ranges::find(job.vehicle.loads, person.load, &Load::id);
    if (load != job.vehicle.loads.end() && person.mass > 0 && load->mass.value != person.mass) {
        const double sigma = std::max(1.0, 0.02 * person.mass); // dressed, and as it is remembered
        load->mass = {units::as_filed(person.mass, units::Quantity::Mass),
                      units::as_filed(sigma, units::Quantity::Mass), Source::Quoted};
    }
    const auto same = std::ranges::find(job.people, person.name, &Person::name);
    if (same == job.people.end())
        job.people.push_back(person);
    else
        *same = person;
}

void remove_person(Job& job, const std::string& name) {
    std::erase_if(job.people, [&](const Person& p) { return p.name == name; });
}

void put_upkeep(Job& job, const Upkeep& upkeep) {
    if (nothing_in(upkeep.what)) throw BadInput("what", "nothing is said", "what is to be done");
    if (!(upkeep.every >= 0 && upkeep.every <= furthest))
        throw BadInput("every", "no distance that a car drives", "0 (not by distance) to a million kilometres");
    if (!(upkeep.days >= 0 && upkeep.days <= 36500))
        throw BadInput("days", "not usable", "0 (not by time) to 36500 days");
    if (upkeep.every == 0 && upkeep.days == 0 && upkeep.after == Wears::Road)
        throw BadInput("every", "it would never be due", "a distance, a time, or the use after which it is due");
    const auto same = std::ranges::find(job.upkeep, upkeep.id, &Upkeep::id);
    if (same == job.upkeep.end())
        job.upkeep.push_back(upkeep);
    else
        *same = upkeep;
}

void remove_upkeep(Job& job, const std::string& id) {
    std::erase_if(job.upkeep, [&](const Upkeep& u) { return u.id == id; });
}

void upkeep_done(Job& job, const std::string& id, const Done& done, const std::string& today) {
    const auto at = std::ranges::find(job.upkeep, id, &Upkeep::id);
    if (at == job.upkeep.end()) return;
    Job next = job;
    job::Entry line{done.date, EntryKind::Serviced, at->what, done.odometer, {}, {}, {}};
    const std::string axle = at->of.substr(0, at->of.find('/'));
    const bool links = at->of.ends_with("/links"), mounts = at->of.ends_with("/mounts");
    if (links || mounts) {
        line.reason = axle + " " + at->of.substr(axle.size() + 1) + ": " + line.reason;
        const AxleSetup& on = job.fitted[axle == "front" ? End::Front : End::Rear];
        line.parts.push_back(links ? on.links.id : on.mounts.id);
    }
    if (!nothing_in(done.found)) line.reason += "; found: " + done.found;
    line.more.task = id;
    line.more.person = done.person;
    if (done.play && links) {
        found_on_car(next, "fitted/" + axle + "/links/play", *done.play, "play");
        line.reason += "; play " + units::text(*done.play, units::Quantity::Length, done.system,
                                               done.system == units::System::Metric ? 1 : 3);
    }
    if (done.rate_left && mounts) {
        found_on_car(next, "fitted/" + axle + "/mounts/rate_left", *done.rate_left, "rate_left");
        line.reason += "; " + units::trimmed(100 * *done.rate_left, 0) + " % of the rate left";
    }
    write_entry(next, std::move(line), today);
    job = std::move(next);
}

void put_torque(Job& job, const Torque& torque) {
    check_fastener(torque);
    const auto same = std::ranges::find(job.torques, torque.of, &Torque::of);
    if (same == job.torques.end())
        job.torques.push_back(torque);
    else
        *same = torque;
}

void remove_torque(Job& job, const std::string& of) {
    std::erase_if(job.torques, [&](const Torque& t) { return t.of == of; });
}

std::string sheet_now(const Job& job) {
    std::uint64_t hash = 14695981039346656037u; // FNV-1a
    const auto take = [&](const std::string& words) {
        for (const char c : words) hash = (hash ^ static_cast<unsigned char>(c)) * 1099511628211u;
        hash = (hash ^ 0xffu) * 1099511628211u;
    };
    for (const char* prefix : {"fitted", "trial"}) {
        for (const FieldSeen& f : fields(job, prefix)) take(f.path + units::trimmed(f.value->value, 12));
        for (const ChoiceRef& c : choices(job, prefix)) take(c.path + std::to_string(c.chosen));
    }
    for (const Setup* s : {&job.fitted, &job.trial}) {
        each_part(*s, [&](const char*, const Part& p) { take(p.id); });
        for (const std::string& load : s->aboard) take(load);
        for (const AxleSetup* a : {&s->front, &s->rear})
            take(std::to_string(a->left_eye) + " " + std::to_string(a->right_eye));
    }
    return std::to_string(hash);
}

std::vector<std::string> steps_done(const Job& job) {
    return !job.sheet.steps.empty() && job.sheet.of == sheet_now(job) ? job.sheet.steps : std::vector<std::string>();
}

void tick_step(Job& job, const std::string& key, bool done) {
    job.sheet.steps = steps_done(job);
    job.sheet.of = sheet_now(job);
    std::erase(job.sheet.steps, key);
    if (done) job.sheet.steps.push_back(key);
}

void set_minutes(Job& job, double minutes) {
    if (!(minutes >= 0 && minutes <= 1e4))
        throw BadInput("minutes", "no time that a job takes", "0 (not said) to 10000 minutes");
    job.sheet.minutes = units::rounded(minutes);
}

namespace {
template <class F> void with_part(Job& job, const std::string& id, F&& change) {
    each_part_of_job(job, [&](const char*, Part& p) {
        if (p.id == id) change(p);
    });
}
} // namespace

void set_part_words(Job& job, const std::string& id, PartWords which, const std::string& words) {
    with_part(job, id, [&](Part& p) {
        (which == PartWords::Name ? p.name : which == PartWords::Origin ? p.origin : p.notes) = words;
    });
}

void set_part_mass(Job& job, const std::string& id, double mass) {
    if (!(mass >= 0 && mass <= 500))
        throw BadInput("mass", "not what a part weighs", "up to 500 kg; 0 where it is not weighed");
    with_part(job, id, [&](Part& p) { p.mass = units::as_filed(mass, units::Quantity::Mass); });
}

void set_part_price(Job& job, const std::string& id, double price) {
    if (!(price >= 0 && price <= 1e6)) throw BadInput("price", "no price that is kept", "0 (not said) to a million");
    with_part(job, id, [&](Part& p) { p.price = units::rounded(price); });
}

void put_record(Job& job, const PartRecord& record) {
    const auto same = std::ranges::find(job.part_records, record.id, &PartRecord::id);
    if (same == job.part_records.end())
        job.part_records.push_back(record);
    else
        *same = record;
}

} // namespace dervish::edit
