#include "core/book/upkeep.h"
#include "core/edit/book.h"
#include "store/job_file.h"

/// Writes the made-up two seasons of the demo jobs into their books, after what stands there already: nothing in them
/// happened. demo-story FILE van|sprint, then save the screenshots and kept answers anew.
using namespace dervish;
using job::EntryKind;

namespace {
constexpr double km = 1000;

struct Line {
    std::string date;
    double at; ///< km on the clock; 0: not read
    EntryKind kind;
    std::string words;
    job::EntryMore more = {};
    std::optional<job::Setup> stood = {};
    std::vector<std::string> parts = {};
};

void write(job::Job& job, const std::vector<Line>& lines) {
    for (const Line& line : lines) {
        job::Entry entry{line.date, line.kind, line.words, line.at * km, line.parts, {}, line.more};
        if (line.stood) entry.car = job::Snapshot{job.vehicle, *line.stood};
        edit::write_entry(job, entry, line.date);
    }
}

job::Setup named(job::Setup setup, const char* name) {
    setup.name = name;
    return setup;
}

job::EntryMore by(const char* person) {
    job::EntryMore out;
    out.person = person;
    return out;
}
job::EntryMore broke(const char* person, double km_driven, const char* noticed) {
    job::EntryMore out = by(person);
    out.driven_so = km_driven * km;
    out.noticed = noticed;
    return out;
}
job::EntryMore day_of(job::Wears use, const char* person) {
    job::EntryMore out = by(person);
    out.wears = use;
    return out;
}
job::EntryMore felt(std::vector<job::Impression> marks) {
    job::EntryMore out;
    out.marks = std::move(marks);
    return out;
}

void upkeep(job::Job& job, double day, double at) {
    for (const job::Upkeep& u : book::usual_upkeep(job, {day, at * km})) edit::put_upkeep(job, u);
}
job::EntryMore by_sheet(const char* who, double minutes, std::vector<std::string> steps) {
    job::EntryMore out = by(who);
    out.minutes = minutes;
    out.steps = std::move(steps);
    return out;
}
void done(job::Job& job, const char* id, const char* date, double at, const char* found, const char* who) {
    edit::upkeep_done(job, id, {date, found, who, at * km, {}, {}}, date);
}

void van(job::Job& job) {
    const job::Setup& fitted = job.fitted;
    job::Setup off = named(fitted, "rear bar off");
    off.rear.connected = false;
    job::Setup front = named(fitted, "front bar off");
    front.front.connected = false;
    edit::put_person(job, {"Marit", 68, "", "lean, as long as it does not rock from side to side"});
    edit::put_person(job, {"Oke", 87, "", "a hard ride, no lean with the tank full"});
    upkeep(job, *job::day_of("2031-04-02"), 41200);
    write(job, {{"2031-05-16",
                 43050,
                 EntryKind::Failed,
                 "left front link broken at its lower joint",
                 broke("Marit", 1850, "leaned more to one side in long bends; a knock over the setts"),
                 {},
                 {fitted.front.links.id}},
                {"2031-06-08",
                 43600,
                 EntryKind::Fitted,
                 "rear bar off for the track season, as decided in May",
                 by("Marit"),
                 off,
                 {fitted.rear.links.id}},
                {"2031-06-21", 43900, EntryKind::Driven, "stores to the upper hut by the river bed",
                 day_of(job::Wears::Rocks, "Oke")},
                {"2031-07-09", 44400, EntryKind::Felt, "a month without the rear bar",
                 felt({{"Marit", "roll", 4},
                       {"Marit", "ride", 8},
                       {"Marit", "confidence", 6.5},
                       {"Oke", "roll", 3},
                       {"Oke", "ride", 7},
                       {"Oke", "confidence", 4}})},
                {"2031-08-02", 44750, EntryKind::Driven, "two fords behind the glacier stream",
                 day_of(job::Wears::Water, "Marit")},
                {"2031-08-30", 45300, EntryKind::Noted, "tyre wear even over both front treads", by("Oke")},
                {"2031-09-01",
                 45350,
                 EntryKind::Fitted,
                 "rear bar on again for the road season, sooner than planned: the tank is full now",
                 by("Oke"),
                 named(fitted, "as delivered"),
                 {fitted.rear.links.id}}});
    done(job, "upkeep-1", "2031-09-02", 45350, "sand in the left bore; cleaned, no score", "Marit");
    done(job, "upkeep-4", "2031-09-02", 45350, "boots whole", "Marit");
    done(job, "upkeep-9", "2031-09-02", 45350, "grease grey, boots whole", "Marit");
    write(job,
          {{"2031-10-19", 46800, EntryKind::Noted, "rocks from side to side over single potholes, no worse empty",
            by("Oke")},
           {"2032-03-28", 49100, EntryKind::Noted, "winter tyres off", by("Marit")},
           {"2032-05-30",
            50600,
            EntryKind::Fitted,
            "rear bar off for the track season",
            by("Marit"),
            off,
            {fitted.rear.links.id}},
           {"2032-06-19", 51100, EntryKind::Driven, "roof beams to the upper hut, the steep side",
            day_of(job::Wears::Rocks, "Oke")},
           {"2032-07-11",
            51700,
            EntryKind::Failed,
            "right front bracket cracked beside its weld",
            broke("Oke", 600, "a creak on lock, then the front leaned"),
            {},
            {fitted.front.mounts.id}},
           {"2032-07-12",
            51700,
            EntryKind::Found,
            "front bar taken off its links for the way home",
            by("Oke"),
            front,
            {fitted.front.links.id}},
           {"2032-07-24",
            51850,
            EntryKind::Fitted,
            "bracket welded by the valley's welder; both bars on",
            by_sheet("Marit", 150,
                     {"stands", "front/bar out", "front/bar in", "front/links", "front/links on", "hang", "tight",
                      "wheels", "drive", "again"}),
            named(fitted, "as delivered"),
            {fitted.front.mounts.id, fitted.rear.links.id}},
           {"2032-08-20", 52600, EntryKind::Felt, "a month on: neither would go back to one bar on the road",
            felt({{"Marit", "roll", 6},
                  {"Marit", "ride", 6},
                  {"Marit", "confidence", 7.5},
                  {"Oke", "roll", 6.5},
                  {"Oke", "ride", 6},
                  {"Oke", "confidence", 8}})},
           {"2032-09-03", 53100, EntryKind::Noted, "tank empty on the way up for once: hardly leans", by("Marit")}});
    edit::correct_entry(job, static_cast<int>(job.book.size()) - 1, "2032-09-03", 52900 * km,
                        job.book.read().back().reason, "2032-09-05");
    for (const char* id : {"upkeep-1", "upkeep-2", "upkeep-4", "upkeep-7"})
        done(job, id, "2032-09-05", 53000, "nothing worth a word", "Marit");
    edit::put_record(job, {job.spares.bars.empty() ? "bar-4" : job.spares.bars.front().id,
                           job::Whereabouts::Shelf,
                           "one white dot",
                           "eyes 12 mm",
                           {1, 1, 1, 0, 0}});
    edit::put_torque(job, {"front clamps", "the hut service's workshop book, page 12", 45, 0.4, 0.05, 0, "17 mm", 4});
    edit::put_torque(job, {"link nuts", "sheet that came with the links", 38, 0, 0, 0, "19 mm", 4});
    edit::put_record(job, {"bar-3", job::Whereabouts::Ordered, "", "eyes 12 mm, clamps 26", {}});
}

void sprint(job::Job& job) {
    const job::Setup& fitted = job.fitted;
    job::Setup wet = named(job.trial, "wet: front out, rear in");
    job::Setup none = named(fitted, "front bar off");
    none.front.connected = false;
    edit::put_person(job, {"Tam", 75, "load-2", "anything that turns in"});
    edit::put_person(job, {"Isa", 78, "load-1", "a tail that says when"});
    upkeep(job, *job::day_of("2031-05-10"), 8410);
    write(job, {{"2031-05-14",
                 8430,
                 EntryKind::Fitted,
                 "front one hole out, rear one in for the wet practice",
                 by("Isa"),
                 wet,
                 {fitted.front.bar.id, fitted.rear.bar.id}},
                {"2031-05-31", 8460, EntryKind::Driven, "practice on the closed hill road",
                 day_of(job::Wears::Track, "Isa")},
                {"2031-06-01",
                 8470,
                 EntryKind::Fitted,
                 "back for the dry sprint, as Tam wanted",
                 by("Tam"),
                 named(fitted, "last year's setting"),
                 {fitted.front.bar.id, fitted.rear.bar.id}},
                {"2031-06-02", 8480, EntryKind::Driven, "the sprint, dry: two seconds up on last year",
                 day_of(job::Wears::Track, "Isa")}});
    done(job, "upkeep-3", "2031-06-03", 8480, "one nut a flat round by its mark", "Tam");
    done(job, "upkeep-8", "2031-06-03", 8480, "all by their marks", "Tam");
    write(job, {{"2031-08-17",
                 8900,
                 EntryKind::Failed,
                 "right front link joint pulled out of its housing",
                 broke("Tam", 40, "turned in well to the right and badly to the left"),
                 {},
                 {fitted.front.links.id}},
                {"2031-08-17",
                 8900,
                 EntryKind::Found,
                 "front bar off its links to drive home",
                 by("Tam"),
                 none,
                 {fitted.front.links.id}},
                {"2031-09-05",
                 8990,
                 EntryKind::Fitted,
                 "new joint, greased sparingly; bar on",
                 by("Tam"),
                 named(fitted, "last year's setting"),
                 {fitted.front.links.id}},
                {"2031-10-05", 9200, EntryKind::Felt, "a month on",
                 felt({{"Isa", "entry", 7},
                       {"Isa", "exit", 5},
                       {"Isa", "confidence", 6},
                       {"Tam", "entry", 8},
                       {"Tam", "exit", 6},
                       {"Tam", "confidence", 7}})},
                {"2032-04-24", 9350, EntryKind::Noted, "laid up over winter; tyres a year older", by("Isa")},
                {"2032-05-29",
                 9480,
                 EntryKind::Fitted,
                 "rain is said for the day: front out, rear in",
                 by("Isa"),
                 wet,
                 {fitted.front.bar.id, fitted.rear.bar.id}},
                {"2032-05-30", 9490, EntryKind::Driven, "the sprint, wet: pushed less, Isa would keep it",
                 day_of(job::Wears::Track, "Isa")},
                {"2032-06-12",
                 9530,
                 EntryKind::Fitted,
                 "dry again: last year's holes",
                 by("Tam"),
                 named(fitted, "last year's setting"),
                 {fitted.front.bar.id, fitted.rear.bar.id}},
                {"2032-07-03", 9620, EntryKind::Noted, "a rattle from the rear over setts", by("Isa")}});
    edit::strike_entry(job, static_cast<int>(job.book.size()) - 1, "it was the jack in the boot");
    for (const char* id : {"upkeep-1", "upkeep-2", "upkeep-3", "upkeep-5", "upkeep-6", "upkeep-7", "upkeep-8"})
        done(job, id, "2032-07-04", 9620, "as it should be", "Tam");
    edit::put_record(job, {"bar-3", job::Whereabouts::DrawnUp, "", "three holes, 10 mm", {}});
}
} // namespace

int main(int argc, char** argv) {
    if (argc != 3) return 2;
    store::JobFile file = store::load(argv[1]);
    job::Job& job = file.job;
    // What an earlier run wrote goes: it began with a person, an upkeep and what came after.
    if (!job.people.empty()) {
        const auto first = std::ranges::find_if(job.book.read(), [](const job::Entry& e) {
            return e.kind != EntryKind::Decided && !e.more.person.empty();
        });
        job.book.change().resize(static_cast<std::size_t>(first - job.book.read().begin()));
    }
    job.people.clear();
    job.upkeep.clear();
    job.part_records.clear();
    job.torques.clear();
    std::string(argv[2]) == "van" ? van(job) : sprint(job);
    store::save(file, argv[1]);
}
