#include "store/job_file.h"

#include "core/job/fields.h"
#include "store/json_job.h"

#include "core/job/balance.h"

#include <catch2/catch.hpp>
#include <csignal>
#include <fstream>
#include <random>
#include <sys/wait.h>
#include <unistd.h>

using namespace dervish;
namespace fs = std::filesystem;
using store::Json;

namespace {
struct Folder {
    fs::path path = fs::temp_directory_path() /
                    ("dervish-test-" + std::to_string(::getpid()) + "-" + std::to_string(std::random_device{}()));
    Folder() { fs::create_directories(path); }
    ~Folder() { fs::remove_all(path); }
    fs::path operator/(const char* name) const { return path / name; }
};

std::string bytes_of(const fs::path& path) {
    std::ifstream in(path, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
}

void write(const fs::path& path, const std::string& bytes) { std::ofstream(path, std::ios::binary) << bytes; }

std::string refused(const fs::path& path) {
    try {
        store::load(path);
    } catch (const BadInput& e) {
        return e.what();
    }
    return "opened";
}

const fs::path demo = fs::path(DEMO) / "hut-van.dervish";
} // namespace

TEST_CASE("a job comes back from its file equal, as ZIP and as bare JSON, with its attachments") {
    const Folder folder;
    store::JobFile file = store::load(demo);
    file.attachments["photos/ramp.txt"] = std::string("not read, only carried\0along", 28);
    file.job.drafts["trial/front/bar/wall"] = "fifteen";
    for (const char* name : {"a.dervish", "job.json"}) {
        store::save(file, folder / name);
        const store::JobFile back = store::load(folder / name);
        CHECK(back.job == file.job);
        if (std::string(name) == "a.dervish") CHECK(back.attachments == file.attachments);
    }
}

TEST_CASE("saving keeps the previous file as a backup") {
    const Folder folder;
    store::JobFile file{job::blank(), {}};
    store::save(file, folder / "a.dervish");
    CHECK_FALSE(fs::exists(store::backup_of(folder / "a.dervish")));
    file.job.name = "second";
    store::save(file, folder / "a.dervish");
    CHECK(store::load(folder / "a.dervish").job.name == "second");
    CHECK(store::load(store::backup_of(folder / "a.dervish")).job.name == "New job");
}

TEST_CASE("a saver killed at any moment leaves a whole file") {
    const Folder folder;
    store::JobFile file{job::blank(), {}};
    file.attachments["log.csv"] = std::string(300000, 'x');
    store::save(file, folder / "a.dervish");
    for (int round = 0; round < 12; ++round) {
        const pid_t child = ::fork();
        REQUIRE(child >= 0);
        if (child == 0)
            for (int i = 0;; ++i) {
                file.job.name = "round " + std::to_string(i);
                try {
                    store::save(file, folder / "a.dervish");
                } catch (...) {
                    ::_exit(1);
                }
            }
        ::usleep(static_cast<useconds_t>(3000 + 1700 * round));
        ::kill(child, SIGKILL);
        ::waitpid(child, nullptr, 0);
        CHECK(refused(folder / "a.dervish") == "opened");
    }
}

TEST_CASE("a file that cannot be written says so and the old one stands") {
    const Folder folder;
    const store::JobFile file{job::blank(), {}};
    CHECK_THROWS_WITH(store::save(file, folder / "no/such/folder/a.dervish"), Catch::Contains("cannot be written"));
    fs::create_directory(folder / "taken.dervish");
    CHECK_THROWS_AS(store::save(file, folder / "taken.dervish"), BadInput);
}

TEST_CASE("truncated, damaged, foreign and hostile files are refused with the place") {
    const Folder folder;
    const std::string good = bytes_of(demo);
    for (std::size_t n :
         {std::size_t{0}, std::size_t{1}, std::size_t{4}, good.size() / 3, good.size() / 2, good.size() - 10}) {
        write(folder / "cut.dervish", good.substr(0, n));
        CHECK_THAT(refused(folder / "cut.dervish"), Catch::StartsWith("cut.dervish/"));
    }
    std::mt19937 engine{7};
    for (int i = 0; i < 200; ++i) { // any flipped byte: refused in words, or the change did not matter
        std::string bad = good;
        bad[engine() % bad.size()] ^= static_cast<char>(1 + engine() % 255);
        write(folder / "flipped.dervish", bad);
        const std::string told = refused(folder / "flipped.dervish");
        CHECK((told == "opened" || told.starts_with("flipped.dervish")));
    }
    CHECK_THAT(refused(folder / "missing.dervish"), Catch::Contains("no such file"));
    CHECK_THAT(refused(folder.path), Catch::Contains("not a file"));
    write(folder / "foreign.json", R"({"name": "something else"})");
    CHECK_THAT(refused(folder / "foreign.json"), Catch::Contains("not a Dervish job"));
    write(folder / "deep.json", std::string(100000, '['));
    CHECK_THAT(refused(folder / "deep.json"), Catch::Contains("nested too deep"));
    write(folder / "line.json", "{\n\"format\": \"dervish job\",\n!");
    CHECK_THAT(refused(folder / "line.json"), Catch::Contains("line 3"));
    write(folder / "empty.dervish", store::pack({{"notes.txt", "hello"}}));
    CHECK_THAT(refused(folder / "empty.dervish"), Catch::Contains("job.json: missing"));
    write(folder / "climbs.dervish", store::pack({{"../../out", "x"}, {"job.json", "{}"}}));
    CHECK_THAT(refused(folder / "climbs.dervish"), Catch::Contains("unsafe"));
    write(folder / "bomb.dervish", store::pack({{"zeros", std::string(store::largest_member + 1, '\0')}}));
    CHECK(fs::file_size(folder / "bomb.dervish") < (2u << 20));
    CHECK_THAT(refused(folder / "bomb.dervish"), Catch::Contains("unpacks to more"));
}

TEST_CASE("a wrong entry in a sound file is named by its path") {
    const Json good = store::to_json(store::load(demo).job);
    const auto refused_at = [&](auto&& change) {
        Json json = good;
        change(json);
        try {
            store::from_json(json);
        } catch (const BadInput& e) {
            return e.where();
        }
        return std::string("nowhere");
    };
    CHECK(refused_at([](Json&) {}) == "nowhere");
    CHECK(refused_at([](Json& j) { j["vehicle"]["front"].erase("track_mm"); }) == "vehicle/front/track_mm");
    CHECK(refused_at([](Json& j) { j["vehicle"]["front"]["track_mm"]["value"] = "wide"; }) ==
          "vehicle/front/track_mm/value");
    CHECK(refused_at([](Json& j) { j["trial"]["front"]["bar"]["eyes"][1]["arm_length_mm"]["source"] = "dreamt"; }) ==
          "trial/front/bar/eyes/1/arm_length_mm/source");
    CHECK(refused_at([](Json& j) { j["trial"]["front"]["bar"]["colour"] = "red"; }) == "trial/front/bar/colour");
    CHECK(refused_at([](Json& j) { j["tests"] = 4; }) == "tests");
    CHECK(refused_at([](Json& j) { j["version"] = 99; }) == "version");
    CHECK(refused_at([](Json& j) { j["version"] = "one"; }) == "version");
}

TEST_CASE("values out of range open as drafts of their fields, so that they can be mended") {
    const Folder folder;
    Json json = store::to_json(job::blank());
    json["trial"]["front"]["bar"]["outer_diameter_mm"]["value"] = 950;
    write(folder / "job.json", json.dump());
    const job::Job job = store::load(folder / "job.json").job;
    CHECK(job.drafts.at("trial/front/bar/outer_diameter") == "950");
    CHECK(job.trial.front.bar.outer_diameter.value == 0.1);
}

TEST_CASE("the published schema is the one the reader is made from") {
    CHECK(bytes_of(fs::path(DOCS) / "job.schema.json") == store::schema().dump(1) + "\n");
}

TEST_CASE("the demo job is sound and complete") {
    job::Job job = store::load(demo).job;
    CHECK_NOTHROW(job::check(job));
    CHECK(job.drafts.empty());
    int by_source[3] = {};
    for (const job::FieldRef& f : job::fields(job)) ++by_source[static_cast<int>(f.value->source)];
    CHECK(by_source[0] > 30);
    CHECK(by_source[1] > 5);
    CHECK(by_source[2] > 10);
    CHECK_FALSE(job.tests.empty());
}

TEST_CASE(
    "the hill sprint's demo is sound, and a stiffer front bar costs its front grip whatever it does to the turn-in") {
    job::Job job = store::load(fs::path(DEMO) / "hill-sprint.dervish").job;
    CHECK_NOTHROW(job::check(job));
    CHECK(job.drafts.empty());
    CHECK(job.book.size() == 2);
    REQUIRE(job.tests.size() == 1);
    CHECK(job.tests[0].ramp.readings.size() == 3);
    const car::Car car = job::car_with(job.vehicle, job.fitted);
    double last = 1e9;
    std::vector<double> turn_in;
    for (const double factor : {0.5, 1.0, 1.5, 2.0}) {
        const balance::Model m = job::to_model(job.vehicle, job::with_bars(car, factor, 1), balance::Ground::Wet);
        const balance::Limit l = balance::limit(m);
        CHECK(l.first == balance::Gives::Front); // it pushes in the wet
        CHECK(l.lateral < last);
        last = l.lateral;
        const balance::Run run = balance::drive(m, {balance::Manoeuvre::Step, 20, 3});
        REQUIRE(run.yaw_90);
        turn_in.push_back(*run.yaw_90);
    }
    WARN("yaw at 90 % after " << turn_in.front() << " s with half the front bar, " << turn_in.back()
                              << " s with twice");
}

TEST_CASE("a job of an older version opens as what it was, and is written as of today") {
    const int version = GENERATE(1, 2, 3, 4);
    const fs::path old = fs::path(DATA) / ("job-v" + std::to_string(version) + ".json");
    const Json before = Json::parse(bytes_of(old));
    REQUIRE(before["version"] == version);
    const job::Job job = store::load(old).job;
    CHECK(job.trial.front.bar.form == job::Form::Sizes);
    CHECK(job.trial.front.held == job::Held::Links);
    CHECK(job.fitted.rear.links.forward.value == 0);
    CHECK(job.drafts.empty());
    CHECK(job.trial.front.bar.outer_diameter.value ==
          Approx(before["trial"]["front"]["bar"]["outer_diameter_mm"]["value"].get<double>() * 1e-3));
    const job::Job today = store::load(demo).job; // made from it
    CHECK(job.vehicle.loads == today.vehicle.loads);
    CHECK(job.vehicle.front.motion_ratio == today.vehicle.front.motion_ratio);
    CHECK(job.fitted.front.bar == today.fitted.front.bar);
    CHECK(job.fitted.rear.mounts.vertical == today.fitted.rear.mounts.vertical);
    CHECK(job.tests.front().ramp == today.tests.front().ramp);
    if (version < 3) { // nobody said
        CHECK(job.fitted.front.mounts.kind == job::BushKind::Unsaid);
        CHECK_FALSE(job.standard.front.fitted);
    }
    CHECK(job.fitted.front.mounts.rate_left.value == 1);
    if (version < 4) {
        CHECK(job.vehicle.front.linkage.path == job::PathKind::Straight);
        CHECK(job.fitted.front.links.pickups == job::Pickups::UnderEyes);
        CHECK(job.fitted.front.links.tilt.value == units::pi);
    }
    CHECK(job.vehicle.rear.grip.left_grip == job::Measured{1, 0.03, job::Source::Assumed});
    CHECK(store::to_json(job)["version"] == store::job_version);
    Json newer = before;
    newer["version"] = 99;
    CHECK_THROWS_WITH(store::from_json(newer), Catch::Contains("newer Dervish (version 99)"));
    Json torn = before;
    torn["trial"]["front"]["mounts"] = "rubber"; // damage is told as damage, migration or not
    CHECK_THROWS_WITH(store::from_json(torn), Catch::Contains("trial/front/mounts"));
}

TEST_CASE("bars of every form come back from their file") {
    const Folder folder;
    store::JobFile file = store::load(demo);
    job::BarData& walked = file.job.trial.front.bar;
    walked.form = job::Form::Walk;
    walked.walk = {{{0.47, 1e-3}, {1.5, 0.003}, {}, {0.055, 1e-3}, {}, {}, {}, bar::Mark::Bend},
                   {{0.25, 1e-3}, {}, {}, {}, {0.02, 5e-5}, {0.003, 5e-5}, {}, bar::Mark::Eye}};
    job::BarData& points = file.job.trial.rear.bar;
    points.form = job::Form::Points;
    points.points = {{{-0.25}, {0.47}, {0}, {}, {}, {}, bar::Mark::Eye},
                     {{0}, {0.47}, {0}, {0.05}, {}, {}, bar::Mark::Bend},
                     {{0}, {-0.47}, {0.01}, {0.05}, {0.02}, {}, bar::Mark::Bend},
                     {{-0.25}, {-0.47}, {0}, {}, {}, {}, bar::Mark::Eye}};
    file.job.fitted.front.bar.arms = job::Arms::Blade;
    file.job.fitted.front.bar.blade_width = {0.04, 5e-5, job::Source::Measured};
    file.job.fitted.front.bar.blade_thickness = {0.008, 5e-5, job::Source::Measured};
    file.job.fitted.rear.held = job::Held::Clamped;
    file.job.fitted.rear.mounts = {}; // a clamped bar has none: they are not written
    file.job.fitted.rear.links = {};
    store::save(file, folder / "all.dervish");
    const job::Job back = store::load(folder / "all.dervish").job;
    REQUIRE(back.trial.front.bar.walk.size() == 2);
    CHECK(back.trial.front.bar.walk[0].bend.value == Approx(1.5));
    CHECK(back.trial.front.bar.walk[1].mark == bar::Mark::Eye);
    CHECK(back.trial.front.bar.walk[1].outer_diameter.value == Approx(0.02));
    REQUIRE(back.trial.rear.bar.points.size() == 4);
    CHECK(back.trial.rear.bar.points[2].y.value == Approx(-0.47));
    store::save({back, {}}, folder / "again.dervish"); // what came from a file comes back to the last bit
    CHECK(store::load(folder / "again.dervish").job == back);
    CHECK(back.fitted.front.bar.blade_width == file.job.fitted.front.bar.blade_width);
    CHECK(back.fitted.rear.held == job::Held::Clamped);
}
