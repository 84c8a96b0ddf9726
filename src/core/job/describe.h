#pragma once
#include "core/job/describe_car.h"
#include "core/job/describe_parts.h"

/// The whole job, described (see describe_visit.h).
namespace dervish::job {

template <class V, Is<job::Travels> T> void describe(V& v, T& t) {
    static constexpr const char* keys[4] = {"front_left", "front_right", "rear_left", "rear_right"};
    for (int i = 0; i < 4; ++i) v.optional_length(keys[i], t.wheel[static_cast<std::size_t>(i)]);
}

template <class V, Is<job::Reading> T> void describe(V& v, T& r) {
    v.length("value", r.value);
    v.flag("more_than", "More than", r.more_than);
    v.group("travel", "Travel", r.travel);
    v.text("note", "Note", r.note);
}

template <class V, Is<job::Prediction> T> void describe(V& v, T& p) {
    v.length("value", p.value);
    v.length("sigma", p.sigma);
    v.flag("lifted", "Lifts", p.lifted);
    v.index("light_wheel", "Light wheel", p.light_wheel);
    v.group("travel", "Travel", p.travel);
    v.group("travel_sigma", "Travel, sigma", p.travel_sigma);
    v.text("model", "Model", p.model);
}

template <class V, Is<job::RampTest> T> void describe(V& v, T& t) {
    v.choice("method", "Method", t.method, {"growing", "fixed"});
    v.choice("raised", "Raised wheels", t.raised, {"front_left_rear_right", "front_right_rear_left"});
    v.length("ramp_height", t.ramp_height);
    v.length("reading_sigma", t.reading_sigma);
    v.optional_length("guess", t.guess);
    v.flag("predicted", "Predicted", t.predicted);
    v.group("prediction", "Prediction", t.prediction);
    v.list("readings", "Readings", t.readings);
}

template <class V, Is<PlannedTest> T> void describe(V& v, T& t) {
    v.text("name", "Test", t.name);
    v.text("date", "Date", t.date);
    v.snapshot("car", t.car);
    v.group("ramp", "Ramp test", t.ramp);
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

template <class V, Is<Entry> T> void describe(V& v, T& e) {
    v.text("date", "Date", e.date);
    v.choice("kind", "Kind", e.kind, {"fitted", "found", "failed", "serviced", "decided", "noted"});
    v.text("reason", "Reason", e.reason);
    v.distance("odometer", e.odometer);
    v.texts("parts", "Parts", e.parts);
    v.optional_snapshot("car", e.car);
}

template <class V, Is<StockSize> T> void describe(V& v, T& s) {
    v.length("outer_diameter", s.outer_diameter);
    v.length("wall", s.wall);
}

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
    v.list("tests", "Tests", j.tests);
    v.list("rig_tests", "Rig tests", j.rig_tests);
    v.list("setup_tests", "Set-up tests", j.setup_tests);
    v.list("book", "Book", j.book);
    v.drafts("drafts", "Typed, not usable yet", j.drafts);
}

} // namespace dervish::job
