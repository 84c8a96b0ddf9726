#pragma once
#include "core/job/describe_car.h"
#include "core/job/describe_parts.h"

/// The whole job, described (see describe_visit.h).
namespace dervish::job {

template <class V, Is<Amount> T> void describe(V& v, T& a) {
    v.text("of", "Of", a.of);
    v.number("si", a.si);
}

template <class V, Is<PredictedShare> T> void describe(V& v, T& s) {
    v.text("path", "Input", s.path);
    v.text("label", "Input", s.label);
    v.numbers("change", s.change);
}

template <class V, Is<Prediction> T> void describe(V& v, T& p) {
    v.flag("made", "Made", p.made);
    v.numbers("value_si", p.value);
    v.numbers("sigma_si", p.sigma);
    v.numbers("tells", p.tells);
    v.index("light_wheel", "Light wheel", p.light_wheel);
    v.text("model", "Model", p.model);
    v.list("shares", "Inputs", p.shares);
}

template <class V, Is<TestState> T> void describe(V& v, T& s) {
    v.text("name", "State", s.name);
    v.snapshot("car", s.car);
    v.group("prediction", "Prediction", s.prediction);
}

template <class V, Is<Guess> T> void describe(V& v, T& g) {
    v.text("person", "Person", g.person);
    v.index("state", "State", g.state);
    v.index("than", "Than", g.than);
    v.choice("kind", "Guess", g.kind, {"number", "less", "same", "more"});
    v.number("value_si", g.value);
    v.number("span_si", g.span);
}

template <class V, Is<Reading> T> void describe(V& v, T& r) {
    v.text("channel", "Read", r.channel);
    v.number("value_si", r.value);
    v.choice("bound", "Bound", r.bound, {"exact", "more than", "less than"});
    v.text("discarded", "Left out", r.discarded);
}

template <class V, Is<Impression> T> void describe(V& v, T& i) {
    v.text("person", "Person", i.person);
    v.text("scale", "Scale", i.scale);
    v.number("mark", i.mark);
}

template <class V, Is<Run> T> void describe(V& v, T& r) {
    v.index("state", "State", r.state);
    v.text("driver", "Driver", r.driver);
    v.text("time", "Time", r.time);
    v.text("ground", "Ground", r.ground);
    v.text("note", "Note", r.note);
    v.texts("aboard", "Aboard", r.aboard);
    v.flag("aids_on", "Aids on", r.aids_on);
    v.list("conditions", "Conditions", r.conditions);
    v.flag("felt", "Felt", r.felt);
    v.text("discarded", "Left out", r.discarded);
    v.list("readings", "Readings", r.readings);
    v.list("impressions", "Impressions", r.impressions);
}

template <class V, Is<Voice> T> void describe(V& v, T& o) {
    v.text("person", "Person", o.person);
    v.flag("agrees", "Agrees", o.agrees);
    v.text("why", "Why", o.why);
}

template <class V, Is<Decision> T> void describe(V& v, T& d) {
    v.choice("kind", "Decision", d.kind, {"none", "keep", "change", "go back", "test again", "compromise"});
    v.text("date", "Date", d.date);
    v.text("words", "In words", d.words);
    v.list("voices", "Voices", d.voices);
    v.text("ordered", "Already ordered", d.ordered);
    v.text("look_again", "Look again", d.look_again);
}

template <class V, Is<PlannedTest> T> void describe(V& v, T& t) {
    v.text("name", "Test", t.name);
    v.text("date", "Date", t.date);
    v.text("question", "Question", t.question);
    v.choice("asks", "Asks", t.asks, {"sum or car", "which setup", "changed", "unknown"});
    since(v, 16, [&] { v.text("unknown", "Unknown", t.unknown); });
    v.text("protocol", "Protocol", t.protocol);
    v.list("settings", "Settings", t.settings);
    v.list("read_to", "Read to", t.read_to);
    v.list("states", "States", t.states);
    v.numbers("order", t.order);
    v.flag("shuffled", "Shuffled", t.shuffled);
    v.flag("blind", "Blind", t.blind);
    v.list("guesses", "Guesses", t.guesses);
    v.list("runs", "Runs", t.runs);
    v.group("decision", "Decision", t.decision);
    since(v, 17, [&] { v.index("lines_before", "Lines of the book before it", t.lines_before); });
}

template <class V, Is<RigTest> T> void describe(V& v, T& t) {
    v.text("bar", "Bar", t.bar);
    v.text("mounts", "Mounts", t.mounts);
    v.group("check", "Rig check", t.check);
}

template <class V, Is<SetupTest> T> void describe(V& v, T& t) {
    v.text("bar", "Bar", t.bar);
    v.text("links", "Links", t.links);
    v.group("checks", "Set-up checks", t.checks);
}

template <class V, Is<AttachedFile> T> void describe(V& v, T& f) {
    v.text("file", "File", f.file);
    v.text("words", "Words", f.words);
}

template <class V, Is<Corrected> T> void describe(V& v, T& c) {
    v.text("on", "Corrected on", c.on);
    v.text("date", "Date", c.date);
    v.text("reason", "Reason", c.reason);
    v.distance("odometer", c.odometer);
}

template <class V, Is<EntryMore> T> void describe(V& v, T& e) {
    v.text("person", "Person", e.person);
    v.text("entered", "Entered", e.entered);
    v.text("struck", "Struck", e.struck);
    v.text("noticed", "Noticed", e.noticed);
    v.distance("driven_so", e.driven_so);
    v.text("task", "Task", e.task);
    v.choice("wears", "Wears", e.wears, {"road", "track", "rocks", "water"});
    v.text("look_again", "Look again", e.look_again);
    v.list("marks", "Marks", e.marks);
    v.list("files", "Files", e.files);
    v.list("corrected", "Corrected", e.corrected);
    since(v, 16, [&] {
        v.number("minutes", e.minutes);
        v.texts("steps", "Steps done", e.steps);
    });
}

template <class V, Is<Entry> T> void describe(V& v, T& e) {
    v.text("date", "Date", e.date);
    v.choice("kind", "Kind", e.kind,
             {"fitted", "found", "failed", "serviced", "decided", "noted", "removed", "felt", "driven"});
    v.text("reason", "Reason", e.reason);
    v.distance("odometer", e.odometer);
    v.texts("parts", "Parts", e.parts);
    v.optional_snapshot("car", e.car);
    since(v, 15, [&] { v.optional_group("more", "More", e.more); });
}

template <class V, Is<Person> T> void describe(V& v, T& p) {
    v.text("name", "Name", p.name);
    v.mass("mass", p.mass);
    v.text("load", "Load", p.load);
    v.text("accepts", "Accepts", p.accepts);
}

template <class V, Is<Upkeep> T> void describe(V& v, T& u) {
    v.text("id", "Id", u.id);
    v.text("what", "What", u.what);
    v.text("of", "Of", u.of);
    v.distance("every", u.every);
    v.number("days", u.days);
    v.choice("after", "After", u.after, {"road", "track", "rocks", "water"});
    v.text("since", "Since", u.since);
    v.distance("since_odometer", u.since_odometer);
}

template <class V, Is<PartRecord> T> void describe(V& v, T& r) {
    v.text("id", "Id", r.id);
    v.choice("whereabouts", "Where it is", r.whereabouts, {"shelf", "drawn up", "ordered", "sold", "scrapped"});
    v.text("mark", "Known by", r.mark);
    v.text("sizes", "Studs and bores", r.sizes);
    v.numbers("looked", r.looked);
}

template <class V, Is<Torque> T> void describe(V& v, T& t) {
    v.text("of", "Of", t.of);
    v.text("source", "Source", t.source);
    v.number("moment_N_m", t.moment);
    v.length("wrench", t.wrench);
    v.length("adapter", t.adapter);
    v.number("angle_rad", t.angle);
    since(v, 16, [&] {
        v.text("size", "Spanner", t.size);
        v.index("count", "How many", t.count);
    });
}

template <class V, Is<SheetDone> T> void describe(V& v, T& s) {
    v.text("of", "Of", s.of);
    v.texts("steps", "Steps done", s.steps);
    v.number("minutes", s.minutes);
}

template <class V, Is<StockSize> T> void describe(V& v, T& s) {
    v.length("outer_diameter", s.outer_diameter);
    v.length("wall", s.wall);
}

namespace detail {
template <class T> const std::vector<T>& own(const SharedList<T>& list) { return list.read(); }
template <class T> std::vector<T>& own(SharedList<T>& list) { return list.change(); }
} // namespace detail

template <class V, Is<Job> T> void describe(V& v, T& j) {
    v.text("name", "Job", j.name);
    v.text("complaint", "Complaint", j.complaint);
    v.texts("heard", "Heard", j.heard);
    v.group("vehicle", "Car", j.vehicle);
    v.group("fitted", "Fitted", j.fitted);
    v.group("trial", "Trial", j.trial);
    v.group("standard", "Standard", j.standard);
    v.list("kept", "Kept setups", j.kept);
    v.list("shelf", "Shelf", j.shelf);
    v.list("stock", "Stock", j.stock);
    v.list("tests", "Tests", detail::own(j.tests));
    v.list("rig_tests", "Rig tests", j.rig_tests);
    v.list("setup_tests", "Set-up tests", j.setup_tests);
    v.list("book", "Book", detail::own(j.book));
    since(v, 15, [&] {
        v.list("people", "People", j.people);
        v.list("upkeep", "Upkeep", j.upkeep);
        v.list("part_records", "Parts known", j.part_records);
        v.list("torques", "Torques", j.torques);
        v.group("sheet", "Job sheet", j.sheet);
    });
    v.drafts("drafts", "Typed, not usable yet", j.drafts);
}

} // namespace dervish::job
