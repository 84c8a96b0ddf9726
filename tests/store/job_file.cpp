#include "store/job_file.h"
#include "core/model/acting.h"
#include "core/model/check.h"
#include "core/model/model.h"
#include "core/model/tyres.h"
#include "core/proof/verdict.h"

#include "core/job/fields.h"
#include "core/job/limits.h"
#include "store/json_job.h"

#include "core/edit/parts.h"
#include "core/study/balance.h"
#include "test_folder.h"

#include <catch2/catch.hpp>
#include <clocale>
#include <csignal>
#include <cstring>
#include <fstream>
#include <functional>
#include <random>
#include <set>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

using namespace dervish;
namespace fs = std::filesystem;
using store::Json;

namespace {
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

/// Trial's front bar among the parts of a job's file.
Json& front_bar(Json& j) { return j["parts"]["bar"][j["trial"]["front"]["bar"].get<std::string>()]; }
} // namespace

TEST_CASE("a job comes back from its file equal, as ZIP and as bare JSON, with its attachments") {
    const Folder folder;
    store::JobFile file = store::load(demo);
    file.attachments["photos/ramp..txt"] = {std::string("not read, only carried\0along", 28), 1700000000,
                                            0100640u << 16, 3};
    file.job.drafts["trial/front/bar/wall"] = {"fifteen", units::System::Inch};
    for (const char* name : {"a.dervish", "job.json"}) {
        store::save(file, folder / name);
        const store::JobFile back = store::load(folder / name);
        CHECK(back.job == file.job);
        if (std::string(name) == "a.dervish") CHECK(back.attachments == file.attachments);
    }
}

TEST_CASE("saving keeps earlier files by date, the last five and one a day") {
    const Folder folder;
    store::JobFile file{job::blank(), {}};
    store::save(file, folder / "a.dervish");
    CHECK(store::earlier_files(folder / "a.dervish").empty());
    for (int i = 2; i < 10; ++i) {
        file.job.name = "job " + std::to_string(i);
        store::save(file, folder / "a.dervish");
    }
    CHECK(store::load(folder / "a.dervish").job.name == "job 9");
    auto earlier = store::earlier_files(folder / "a.dervish");
    REQUIRE(earlier.size() == 5);
    CHECK(store::load(earlier.front()).job.name == "job 8");
    CHECK(store::load(earlier.back()).job.name == "job 4");
    for (const char* day : {"2026-01-01", "2026-01-02", "2026-01-03"})
        for (const char* time : {" 08.00.00", " 09.00.00"})
            fs::copy_file(folder / "a.dervish", folder / "a.earlier" / (std::string(day) + time + ".000.dervish"));
    store::save(file, folder / "a.dervish");
    earlier = store::earlier_files(folder / "a.dervish");
    REQUIRE(earlier.size() == 8); // five of today, and the last of each day
    CHECK(earlier.back().filename() == "2026-01-01 09.00.00.000.dervish");
}

TEST_CASE("a saver killed at any moment leaves a whole file") {
    const Folder folder;
    store::JobFile file{job::blank(), {}};
    file.attachments["log.csv"].content = std::string(300000, 'x');
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
    CHECK_THROWS_WITH(store::save(file, folder / "taken.dervish"), Catch::Contains("not a file"));
    REQUIRE(::mkfifo((folder / "pipe.dervish").c_str(), 0600) == 0);
    CHECK_THROWS_WITH(store::save(file, folder / "pipe.dervish"), Catch::Contains("not a file"));
    CHECK_THROWS_WITH(store::load(folder / "pipe.dervish"), Catch::Contains("not a file")); // and never waited for
    store::save(file, folder / "mine.dervish");
    fs::permissions(folder / "mine.dervish", fs::perms::owner_read);
    CHECK_THROWS_WITH(store::save(file, folder / "mine.dervish"), Catch::Contains("read-only"));
    // A full disk: nothing is left beside, what was there stands.
    fs::permissions(folder / "mine.dervish", fs::perms::owner_all);
    const std::string before = bytes_of(folder / "mine.dervish");
    struct rlimit none {
        1000, RLIM_INFINITY
    }, was{};
    ::getrlimit(RLIMIT_FSIZE, &was);
    none.rlim_max = was.rlim_max;
    ::signal(SIGXFSZ, SIG_IGN);
    ::setrlimit(RLIMIT_FSIZE, &none);
    CHECK_THROWS_WITH(store::save(file, folder / "mine.dervish"), Catch::Contains("cannot be written"));
    CHECK_THROWS_WITH(store::write_file(folder / "table.csv", before), Catch::Contains("cannot be written"));
    ::setrlimit(RLIMIT_FSIZE, &was);
    CHECK(bytes_of(folder / "mine.dervish") == before);
    std::set<std::string> names;
    for (const auto& entry : fs::directory_iterator(folder.path)) names.insert(entry.path().filename());
    CHECK(names == std::set<std::string>{"mine.dervish", "pipe.dervish", "taken.dervish"});
}

TEST_CASE("saving follows a link, keeps permissions and group, and leaves nothing that is not whole") {
    const Folder folder;
    fs::create_directory(folder / "shared");
    const store::JobFile file{job::blank(), {}};
    store::save(file, folder / "shared/real.dervish");
    REQUIRE(::chmod((folder / "shared/real.dervish").c_str(), 0664) == 0);
    const bool root = ::geteuid() == 0;
    if (root) REQUIRE(::chown((folder / "shared/real.dervish").c_str(), 12, 34) == 0);
    fs::create_symlink("shared/real.dervish", folder / "link.dervish");
    store::JobFile next = file;
    next.job.name = "through the link";
    const store::Stamp before = store::stamp_of(folder / "link.dervish");
    store::save(next, folder / "link.dervish");
    CHECK_FALSE(store::stamp_of(folder / "link.dervish") == before);
    CHECK(fs::is_symlink(folder / "link.dervish"));
    CHECK(store::load(folder / "shared/real.dervish").job.name == "through the link");
    CHECK(store::earlier_files(folder / "link.dervish").size() == 1);
    struct stat about {};
    REQUIRE(::stat((folder / "shared/real.dervish").c_str(), &about) == 0);
    CHECK((about.st_mode & 07777) == 0664);
    if (root) {
        CHECK(about.st_uid == 12);
        CHECK(about.st_gid == 34);
    }
    // Two savers at once: each file that stands is one of theirs, whole.
    std::vector<std::thread> savers;
    for (int s = 0; s < 3; ++s)
        savers.emplace_back([&, s] {
            store::JobFile own = file;
            own.job.name = "saver " + std::to_string(s);
            for (int i = 0; i < 15; ++i) store::save(own, folder / "both.dervish");
        });
    for (std::thread& t : savers) t.join();
    CHECK_THAT(store::load(folder / "both.dervish").job.name, Catch::StartsWith("saver "));
    for (const auto& entry : fs::directory_iterator(folder.path))
        CHECK_FALSE(entry.path().filename().string().starts_with(".dervish-"));
}

TEST_CASE("a job that would not come back is refused before it takes the old file's place") {
    const Folder folder;
    store::JobFile file{job::blank(), {}};
    store::save(file, folder / "a.dervish");
    file.job.trial.front.bar.youngs_modulus.value = std::numeric_limits<double>::infinity();
    CHECK_THROWS_AS(store::save(file, folder / "a.dervish"), BadInput);
    file = {job::blank(), {}};
    file.job.book.push_back({"2031-05-11", job::EntryKind::Fitted, "why", 1.7e308, {}, {}});
    CHECK_THROWS_WITH(store::save(file, folder / "a.dervish"), Catch::Contains("odometer"));
    CHECK(refused(folder / "a.dervish") == "opened");
}

TEST_CASE("small and large hostile files are refused quickly, with the place") {
    const Folder folder;
    const std::string head = "{\"format\": \"dervish job\", \"version\": 6, ";
    const auto many = [](int n, const std::string& one) {
        std::string out;
        for (int i = 0; i < n; ++i) out += (i ? "," : "") + one;
        return out;
    };
    std::string keys = head;
    for (int i = 0; i < 100000; ++i) keys += (i ? ",\"k" : "\"k") + std::to_string(i) + "\":1";
    std::string waits = head + "\"drafts\": {";
    for (int i = 0; i < 100000; ++i)
        waits += (i ? ",\"k" : "\"k") + std::to_string(i) + "\":{\"text\":\"a\",\"units\":\"inch\"}";
    const std::pair<const char*, std::string> files[] = {
        {"more than 20000 keys", keys + "}"},
        {"more than 20000 keys", waits + "}}"},
        {"a text of 31457280", head + "\"name\": \"" + std::string(30 << 20, 'n') + "\"}"},
        {"more than 2 million", head + "\"tests\": [" + many(20'000'000, "1") + "]}"},
        {"nested too deep", head + "\"tests\": " + std::string(200000, '[')},
        {"beyond any measure", head + "\"name\": 1e999}"},
        {"stands twice", head + "\"name\": \"a\", \"name\": \"b\"}"}};
    for (const auto& [why, text] : files) {
        write(folder / "hostile.json", text);
        CHECK_THAT(refused(folder / "hostile.json"), Catch::Contains(why));
    }
    Json json = store::to_json(job::blank());
    json["vehicle"]["loads"] = Json::array();
    for (int i = 0; i < 40000; ++i) json["vehicle"]["loads"].push_back(Json::object());
    write(folder / "hostile.json", json.dump());
    CHECK_THAT(refused(folder / "hostile.json"), Catch::Contains("vehicle/loads: 40000 entries"));
    store::Members twice{{"a", {"1"}}, {"job.json", {"{}"}}};
    std::string zip = store::pack(twice);
    for (std::size_t at; (at = zip.find("job.json")) != std::string::npos;) zip.replace(at, 8, "jxb.json");
    write(folder / "none.dervish", zip);
    CHECK_THAT(refused(folder / "none.dervish"),
               Catch::Contains("missing from the archive") || Catch::Contains("damaged"));
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
    write(folder / "empty.dervish", store::pack({{"notes.txt", {"hello"}}}));
    CHECK_THAT(refused(folder / "empty.dervish"), Catch::Contains("job.json: missing"));
    write(folder / "climbs.dervish", store::pack({{"../../out", {"x"}}, {"job.json", {"{}"}}}));
    CHECK_THAT(refused(folder / "climbs.dervish"), Catch::Contains("unsafe"));
    write(folder / "bomb.dervish", store::pack({{"zeros", {std::string(store::largest_member + 1, '\0')}}}));
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
    CHECK(refused_at([](Json& j) { front_bar(j)["eyes"][1]["arm_length_mm"]["source"] = "dreamt"; }) ==
          "parts/bar/bar-3/eyes/1/arm_length_mm/source");
    CHECK(refused_at([](Json& j) { front_bar(j)["colour"] = "red"; }) == "parts/bar/bar-3/colour");
    CHECK(refused_at([](Json& j) { j["trial"]["front"]["springs"] = "springs-99"; }) == "trial/front/springs");
    CHECK(refused_at([](Json& j) { j["parts"]["wing"] = Json::object(); }) == "parts/wing");
    CHECK(refused_at([](Json& j) { j["parts"].erase("tyres"); }) == "parts/tyres");
    CHECK(refused_at([](Json& j) { j["tests"][0]["car"] = 7; }) == "tests/0/car");
    CHECK(refused_at([](Json& j) { j["snapshots"][0]["setup"]["front"].erase("stand"); }) ==
          "snapshots/0/setup/front/stand");
    CHECK(refused_at([](Json& j) { j["tests"] = 4; }) == "tests");
    CHECK(refused_at([](Json& j) { j["version"] = 99; }) == "version");
    CHECK(refused_at([](Json& j) { j["version"] = "one"; }) == "version");
}

TEST_CASE("values out of range open as drafts of their fields, so that they can be mended") {
    const Folder folder;
    Json json = store::to_json(job::blank());
    front_bar(json)["outer_diameter_mm"]["value"] = 950;
    write(folder / "job.json", json.dump());
    const job::Job job = store::load(folder / "job.json").job;
    CHECK(job.drafts.at("trial/front/bar/outer_diameter") == job::Draft{"950", units::System::Metric});
    CHECK(job.trial.front.bar.outer_diameter.value == 0.1);
    // What an earlier Dervish wrote of a spread that had become infinite opens again.
    front_bar(json)["outer_diameter_mm"] = {{"value", 26}, {"sigma", nullptr}, {"source", "measured"}};
    write(folder / "job.json", json.dump());
    const store::JobFile back = store::load(folder / "job.json");
    CHECK(back.set_aside.empty()); // the usual spread of a measured one
    CHECK(back.job.drafts.empty());
    CHECK(back.job.trial.front.bar.outer_diameter.sigma == Approx(0.05e-3));
}

TEST_CASE("a spread that is no number, anywhere in the job, is the usual one, and the job can be saved") {
    const Folder folder;
    Json json = Json::parse(store::job_bytes(store::load(demo), true));
    int blanked = 0;
    const std::function<void(Json&)> blank = [&](Json& at) { // in parts, snapshots, tests, rig checks ...
        if (at.is_object() && at.contains("sigma") && at.contains("value")) {
            at["sigma"] = nullptr;
            ++blanked;
        } else if (at.is_structured()) {
            for (Json& one : at) blank(one);
        }
    };
    blank(json);
    REQUIRE(blanked > 1000);
    write(folder / "job.json", json.dump());
    const store::JobFile back = store::load(folder / "job.json");
    store::save(back, folder / "a.dervish");
    CHECK(store::to_json(store::load(folder / "a.dervish").job) == store::to_json(back.job));
}

TEST_CASE("what the reader takes the writer can write: every number and text of a job at its limits") {
    const Folder folder;
    for (const bool high : {false, true}) {
        job::Job job = store::load(demo).job;
        const job::Job before = job;
        for (job::FieldRef& f : job::fields(job)) {
            f.value->value = high ? f.spec.highest : f.spec.lowest;
            f.value->sigma = high ? job::sigma_spec(f.spec).highest : 0;
        }
        edit::keep_parts(before, job);
        job.name = std::string(job::longest_in_file, 'n');
        job.complaint = job.name;
        job.heard = {job.name};
        job.trial.name = job.fitted.front.bar.name = job.name;
        job.tests.change()[0].question = job.name;
        job.book.change()[0].reason = job.book.change()[0].more.noticed = job.name;
        job.book.change()[0].odometer = job::most_of(units::Quantity::Distance);
        job.people[0].mass = high ? 300 : 0;
        job.drafts["trial/front/bar/outer_diameter"] = {job.name, units::System::Inch};
        store::save({job, {}}, folder / "a.dervish");
        const job::Job back = store::load(folder / "a.dervish").job;
        CHECK(back.name == job.name);
        CHECK(back.book[0].reason == job.name);
        const auto changed = nlohmann::json::diff(store::to_json(job), store::to_json(back));
        CAPTURE(changed.dump().substr(0, 2000));
        CHECK(changed.empty());
    }
}

TEST_CASE("what the writer cannot write is refused by name, and no edit makes it") {
    const Folder folder;
    const auto refuses = [&](const char* place, const std::function<void(job::Job&)>& change) {
        CAPTURE(place);
        job::Job job = store::load(demo).job;
        const job::Job before = job;
        change(job);
        CHECK_THROWS_WITH(store::save({job, {}}, folder / "a.dervish"), Catch::StartsWith(place));
        CHECK_THROWS_WITH(job::check_limits(job, &before), Catch::StartsWith(place));
        const job::Job with_it = job; // what stands beyond a limit is no hindrance to the next edit
        job.trial.name = "another";
        CHECK_NOTHROW(job::check_limits(job, &with_it));
    };
    const std::string long_text(job::longest_in_file + 1, 'x');
    refuses("book/0/reason", [&](job::Job& j) { j.book.change()[0].reason = long_text; });
    refuses("trial/front/bar/name", [&](job::Job& j) { j.trial.front.bar.name = long_text; });
    refuses("tests/0/name", [&](job::Job& j) { j.tests.change()[0].name = long_text; });
    refuses("vehicle/loads", [&](job::Job& j) { j.vehicle.loads.resize(65, j.vehicle.loads[0]); });
    refuses("torques", [&](job::Job& j) { j.torques.resize(501); });
    refuses("book", [&](job::Job& j) { j.book.change().resize(20001, j.book[0]); });
    refuses("fitted/rear/links/play", [&](job::Job& j) { j.fitted.rear.links.play.sigma = std::nan(""); });
    refuses("book/1/odometer", [&](job::Job& j) { j.book.change()[1].odometer = 1e300; });
    job::Job job = store::load(demo).job;
    const job::Job before = job;
    job.trial.front.bar.name = std::string(301, 'n');
    CHECK_THROWS_WITH(job::check_limits(job, &before), Catch::Contains("at most 300"));
    CHECK_NOTHROW(job::check_limits(job)); // from before names had a length: still opened
    for (const char* file : {"hut-van.dervish", "hill-sprint.dervish"})
        CHECK_NOTHROW(job::check_limits(store::load(fs::path(DEMO) / file).job, &before));
}

TEST_CASE("no number of a job changes by being opened and saved, under any locale", "[slow]") {
    const Folder folder;
    const std::string before = std::setlocale(LC_ALL, nullptr);
    std::setlocale(LC_ALL, "C");
    const std::string wanted = store::to_json(store::load(demo).job).dump();
    for (const char* locale : {"C", "de_DE.UTF-8", "fr_FR.UTF-8", "ar_EG.UTF-8"}) {
        INFO(locale);
        REQUIRE(std::setlocale(LC_ALL, locale)); // made by the build
        store::save(store::load(demo), folder / "again.dervish");
        CHECK(store::to_json(store::load(folder / "again.dervish").job).dump() == wanted);
        job::Job j = job::blank(); // and as typed, in every unit system
        for (const auto system : {units::System::Metric, units::System::Inch, units::System::InchMetricRates})
            for (const job::FieldRef& f : job::fields(j))
                CHECK(job::show(job::parse(job::show(f.value->value, f.spec, system), f.spec, system, f.path), f.spec,
                                system) == job::show(f.value->value, f.spec, system));
    }
    std::setlocale(LC_ALL, before.c_str());
}

TEST_CASE("the published schema is the one the reader is made from") {
    CHECK(bytes_of(fs::path(DOCS) / "job.schema.json") == store::schema().dump(1) + "\n");
}

TEST_CASE("the demo job is sound and complete") {
    job::Job job = store::load(demo).job;
    CHECK_NOTHROW(model::check(job));
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
    CHECK_NOTHROW(model::check(job));
    CHECK(job.drafts.empty());
    CHECK(job.book.size() > 2);
    CHECK(job.tests[0].runs.size() == 3);
    const car::Car car = model::car_with(job.vehicle, job.fitted);
    double last = 1e9;
    std::vector<double> turn_in;
    for (const double factor : {0.5, 1.0, 1.5, 2.0}) {
        const balance::Model m =
            model::to_model(job.vehicle, job.trial, study::with_bar(car, End::Front, factor), Ground::Wet);
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
    const int version = GENERATE(1, 2, 3, 4, 5, 6, 7, 8);
    const fs::path old = fs::path(DATA) / ("job-v" + std::to_string(version) + ".json");
    const Json before = Json::parse(bytes_of(old));
    REQUIRE(before["version"] == version);
    const job::Job job = store::load(old).job;
    CHECK(job.trial.front.bar.form == job::Form::Sizes);
    CHECK(job.trial.front.held == job::Held::Links);
    CHECK(job.fitted.rear.pickups.forward.value == 0);
    CHECK(job.drafts.empty());
    CHECK(job.trial.front.bar.outer_diameter.value ==
          Approx(before["trial"]["front"]["bar"]["outer_diameter_mm"]["value"].get<double>() * 1e-3));
    const job::Job today = store::load(demo).job; // made from it
    CHECK(job.vehicle.loads == today.vehicle.loads);
    CHECK(job.vehicle.front.motion_ratio == today.vehicle.front.motion_ratio);
    CHECK(job.fitted.front.bar == today.fitted.front.bar);
    CHECK(job.fitted.rear.mounts.vertical == today.fitted.rear.mounts.vertical);
    CHECK(job.tests.front().runs == today.tests.front().runs);
    CHECK(job.tests.front().guesses == today.tests.front().guesses);
    CHECK(job.tests.front().states[0].prediction == today.tests.front().states[0].prediction);
    if (version < 3) { // nobody said
        CHECK(job.fitted.front.mounts.kind == job::BushKind::Unsaid);
        CHECK_FALSE(job.standard.front.fitted);
    }
    CHECK(job.fitted.front.mounts.rate_left.value == 1);
    if (version < 4) {
        CHECK(job.vehicle.front.linkage.path == job::PathKind::Straight);
        CHECK(job.fitted.front.pickups.rule == job::PickupRule::UnderEyes);
        CHECK(job.fitted.front.links.tilt.value == units::pi);
    }
    // The old guess of what camber costs follows to the new one; the base beside the links' places is kept in words.
    CHECK(job.trial.front.tyres.camber_loss.value == 10);
    CHECK(job.trial.front.tyres.nominal_load.value == 0);
    CHECK(job.vehicle.handling.front_braking.value == 0);
    REQUIRE_FALSE(job.book.empty());
    if (version < 7) CHECK(job.book.back().reason.find("rear bar base 922") != std::string::npos);
    CHECK(job.trial.rear.stand.left_grip == job::Measured{1, 0.03, job::Source::Assumed});
    CHECK(store::to_json(job)["version"] == store::job_version());
    Json newer = before;
    newer["version"] = 99;
    CHECK_THROWS_WITH(store::from_json(newer), Catch::Contains("newer Dervish (version 99)"));
    Json torn = before;
    torn["trial"]["front"]["mounts"] = "rubber"; // damage is told as damage, migration or not
    CHECK_THROWS_WITH(store::from_json(torn), Catch::Contains("trial/front/mounts"));
}

TEST_CASE("what a version only adds begins as in a new job, and is asked of a file of that version") {
    Json old = Json::parse(bytes_of(fs::path(DATA) / "job-v10.json"));
    REQUIRE(old["version"] == 10);
    REQUIRE_FALSE(old["vehicle"]["handling"].contains("pitch_inertia_kg_m2"));
    const job::Job job = store::from_json(old);
    CHECK(job.vehicle.handling.pitch_inertia == job::Measured{});
    CHECK(store::from_json(store::to_json(job)) == job);
    old["version"] = 11;
    CHECK_THROWS_WITH(store::from_json(old), Catch::Contains("inertia_kg_m2: missing"));
    old = Json::parse(bytes_of(fs::path(DATA) / "job-v11.json"));
    REQUIRE(old["version"] == 11);
    REQUIRE_FALSE(old["vehicle"].contains("grounds"));
    job::Job grounded = store::from_json(old);
    CHECK(grounded.vehicle.grounds == job::usual_grounds());
    grounded.vehicle.grounds[Ground::Gravel].roughness = {900, 100, job::Source::Measured};
    CHECK(store::from_json(store::to_json(grounded)) == grounded);
    old["version"] = 12;
    CHECK_THROWS_WITH(store::from_json(old), Catch::Contains("vehicle/grounds"));
}

TEST_CASE("a ride height that version 9 planned is how Trial stands, and of a record a note in the book") {
    const job::Job job = store::load(fs::path(DATA) / "job-v9.json").job, today = store::load(demo).job;
    CHECK(job.trial.rear.stand.lift == job::Measured{0.025, 0.002, job::Source::Assumed});
    CHECK(job.trial.rear.stand.lift_by == job::LiftBy::Spacers);
    CHECK(job.trial.front.stand.lift.value == 0);
    CHECK(job.fitted == today.fitted);
    CHECK(job.drafts.at("trial/front/stand/lift").text == "about 40");
    REQUIRE(job.book.size() == 2); // delivered, and this
    CHECK(job.book.back().reason.find("Fitted, front: -15.0 mm by springs") != std::string::npos);
    job::Job same = job;
    same.trial.rear.stand = today.trial.rear.stand;
    CHECK(same.trial == today.trial);
    CHECK(same.vehicle == today.vehicle);
}

TEST_CASE("pick-ups of version 17, which were the links', are the axle's, wherever the job names them") {
    const Json old = Json::parse(bytes_of(fs::path(DATA) / "job-v17.json"));
    REQUIRE(old["version"] == 17);
    const job::Job job = store::from_json(old);
    const auto was = [&](const char* axle, const char* key) {
        return old["parts"]["links"][old["trial"][axle]["links"].get<std::string>()][key];
    };
    CHECK((job.trial.front.pickups.rule == job::PickupRule::Placed) == (was("front", "pickups") == "measured"));
    CHECK(job.trial.front.pickups.at.behind.value * 1e3 ==
          Approx(was("front", "at")["behind_mm"]["value"].get<double>()));
    CHECK(job.trial.rear.pickups.outward.sigma * 1e3 == Approx(was("rear", "outward_mm")["sigma"].get<double>()));
    const std::string now = store::to_json(job).dump();
    CHECK(old.dump().find("trial/front/links/at/behind") != std::string::npos);
    CHECK(now.find("trial/front/links/at/behind") == std::string::npos);
    CHECK(now.find("trial/front/pickups/at/behind") != std::string::npos);
    CHECK(now.find("trial/front/links/length") != std::string::npos);
    CHECK(store::from_json(Json::parse(now)) == job);
}

TEST_CASE("what the choices do not ask for is kept in the file, and may be left out of it") {
    job::Job job = store::load(demo).job;
    const job::Job plain = job;
    job::Assembly& a = job.trial.front;
    a.bar.walk = model::walk_of(a);
    a.bar.arm_diameter = {0.019, 0.0001, job::Source::Measured};
    a.trailing_arms.to_bar.value = 0.31;
    a.pickups.forward.value = 0.012; // under measured pick-ups
    REQUIRE(a.bar.form == job::Form::Sizes);
    REQUIRE(a.pickups.rule == job::PickupRule::Placed);
    job.vehicle.front.spring_base.value = 1.02; // of an independent axle
    job.vehicle.front.linkage.arm_front.out.value = 0.2;
    edit::keep_parts(plain, job);
    const job::Job back = store::from_json(Json::parse(store::to_json(job).dump()));
    CHECK(back == job);
    CHECK(back.trial.front.bar.walk.size() > 3);

    Json short_one = store::to_json(plain);
    for (const char* key : {"walk", "points", "arm_diameter_mm"}) front_bar(short_one).erase(key);
    short_one["trial"]["front"].erase("trailing_arms");
    CHECK(store::from_json(short_one) == plain);
    front_bar(short_one).erase("splay_deg"); // asked for
    CHECK_THROWS_WITH(store::from_json(short_one), Catch::Contains("splay_deg"));
}

TEST_CASE("bars of every form come back from their file") {
    const Folder folder;
    store::JobFile file = store::load(demo);
    job::BarData& walked = file.job.trial.front.bar;
    walked.form = job::Form::Walk;
    walked.walk = {{{0.47, 1e-3}, {1.5, 0.003}, {}, {0.055, 1e-3}, {}, {}, {}, Mark::Bend},
                   {{0.25, 1e-3}, {}, {}, {}, {0.02, 5e-5}, {0.003, 5e-5}, {}, Mark::Eye}};
    job::BarData& points = file.job.trial.rear.bar;
    points.form = job::Form::Points;
    points.points = {{{-0.25}, {0.47}, {0}, {}, {}, {}, Mark::Eye},
                     {{0}, {0.47}, {0}, {0.05}, {}, {}, Mark::Bend},
                     {{0}, {-0.47}, {0.01}, {0.05}, {0.02}, {}, Mark::Bend},
                     {{-0.25}, {-0.47}, {0}, {}, {}, {}, Mark::Eye}};
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
    CHECK(back.trial.front.bar.walk[1].mark == Mark::Eye);
    CHECK(back.trial.front.bar.walk[1].outer_diameter.value == Approx(0.02));
    REQUIRE(back.trial.rear.bar.points.size() == 4);
    CHECK(back.trial.rear.bar.points[2].y.value == Approx(-0.47));
    store::save({back, {}}, folder / "again.dervish"); // what came from a file comes back to the last bit
    CHECK(store::load(folder / "again.dervish").job == back);
    CHECK(back.fitted.front.bar.blade_width == file.job.fitted.front.bar.blade_width);
    CHECK(back.fitted.rear.held == job::Held::Clamped);
}

TEST_CASE("a ramp test of version 13 is a test of one setup, with its runs, its guess and what waited in its cells") {
    Json old = Json::parse(bytes_of(fs::path(DATA) / "job-v13.json"));
    REQUIRE(old["version"] == 13);
    old["drafts"] = {{"tests/0/readings/3/0", {{"text", "about 330"}, {"units", "metric"}}},
                     {"tests/1/readings/0/2", {{"text", "12,,5"}, {"units", "metric"}}}};
    old["tests"][0]["ramp"]["readings"][2]["more_than"] = true;
    old["tests"][0]["ramp"]["readings"][2]["note"] = "rained";
    const job::Job job = store::from_json(old);
    REQUIRE(job.tests.size() == 2);
    const job::PlannedTest& t = job.tests[0];
    const Json& ramp = old["tests"][0]["ramp"];
    CHECK(t.protocol == "diagonal_ramps");
    CHECK(t.predicted());
    CHECK_FALSE(t.guess_open());
    CHECK(t.states[0].prediction.value[0] == Approx(1e-3 * ramp["prediction"]["value_mm"].get<double>()));
    CHECK(t.states[0].prediction.sigma[4] ==
          Approx(1e-3 * ramp["prediction"]["travel_sigma"]["rear_right_mm"].get<double>()));
    CHECK(t.guesses.at(0).value == Approx(0.28));
    REQUIRE(t.runs.size() == 3);
    CHECK(t.runs[0].readings.size() == 5);
    CHECK(t.runs[0].readings[1].value == Approx(1e-3 * ramp["readings"][0]["travel"]["front_left_mm"].get<double>()));
    CHECK(t.runs[2].readings[0].bound == job::Bound::More);
    CHECK(t.runs[2].note == "rained");
    CHECK(proof::compare(t, 0, 0).agreement == proof::Agreement::Agrees);
    CHECK(job.tests[1].protocol == "fixed_ramps");
    CHECK_FALSE(job.tests[1].predicted());
    CHECK(job.drafts.contains("tests/0/runs/3/height"));
    CHECK(job.drafts.contains("tests/1/runs/0/front_right"));
    CHECK(store::from_json(store::to_json(job)) == job);
    for (const char* key : {"ramp", "name", "car"}) { // damage is told as damage
        Json torn = old;
        torn["tests"][0][key] = 7;
        CHECK_THROWS_WITH(store::from_json(torn), Catch::Contains("tests/0"));
    }
    const auto refused_or_read = [](const Json& odd) { // never a fault
        try {
            return !store::from_json(odd).tests.empty();
        } catch (const BadInput& e) {
            return e.where().starts_with("tests/0");
        }
    };
    for (const Json& value : {Json(7), Json("no"), Json::array({1})}) {
        for (const char* key : {"prediction", "readings", "method", "predicted", "raised"}) {
            Json odd = old;
            odd["tests"][0]["ramp"][key] = value;
            CAPTURE(key, value.dump());
            CHECK(refused_or_read(odd));
        }
        for (const char* key : {"lifted", "travel", "light_wheel", "value_mm", "model"}) {
            Json odd = old;
            odd["tests"][0]["ramp"]["prediction"][key] = value;
            CAPTURE(key, value.dump());
            CHECK(refused_or_read(odd));
        }
    }
    Json torn = old;
    torn["tests"][0]["ramp"]["readings"][1] = "340";
    CHECK_THROWS_WITH(store::from_json(torn), Catch::Contains("tests/0/runs/1"));
}

TEST_CASE(
    "a test whose parts do not fit together is refused with its place, and one of a kind that is not known is kept") {
    const Json good = store::to_json(store::load(demo).job);
    REQUIRE(good["tests"].size() > 5);
    const auto refused = [&](const char* where, const std::function<void(Json&)>& harm) {
        Json bad = good;
        harm(bad["tests"][5]); // a slalom of two setups
        CAPTURE(where);
        CHECK_THROWS_WITH(store::from_json(bad), Catch::Contains(std::string("tests/5/") + where));
    };
    REQUIRE(good["tests"][5]["protocol"] == "slalom");
    refused("states", [](Json& t) { t["states"] = Json::array(); });
    refused("runs/1/state", [](Json& t) { t["runs"][1]["state"] = 2; });
    refused("runs/0/state", [](Json& t) { t["runs"][0]["state"] = -1; });
    refused("order/2", [](Json& t) { t["order"][2] = 7; });
    refused("guesses/0/than", [](Json& t) { t["guesses"][0]["than"] = 9; });
    refused("runs/0/readings/0/channel", [](Json& t) { t["runs"][0]["readings"][0]["channel"] = "height"; });
    refused("states/1/prediction", [](Json& t) { t["states"][1]["prediction"]["sigma_si"].erase(0); });
    refused("states/1/prediction/value_si", [](Json& t) {
        for (const char* list : {"value_si", "sigma_si", "tells"}) t["states"][1]["prediction"][list].erase(0);
        t["states"][1]["prediction"]["shares"] = Json::array();
    });
    refused("states/0/prediction/shares", [](Json& t) { t["states"][0]["prediction"]["shares"][0]["change"] = {1}; });
    refused("states/0/prediction/sigma_si", [](Json& t) { t["states"][0]["prediction"]["sigma_si"][0] = -1; });
    for (const auto& [of, si] : {std::pair{"ground", 99.0}, {"ground", 1.5}, {"cones", 1e5}, {"kerb", 0.1}})
        refused("settings/0", [of = of, si = si](Json& t) { t["settings"] = {{{"of", of}, {"si", si}}}; });
    refused("read_to/0", [](Json& t) { t["read_to"] = {{{"of", "clean"}, {"si", 0.0}}}; });
    Json other = good;
    other["tests"][5]["protocol"] = "jump"; // of a later version: its keys are its own
    other["tests"][5]["settings"] = {{{"of", "gap"}, {"si", 3.0}}};
    const job::Job kept = store::from_json(other);
    CHECK(kept.tests[5].protocol == "jump");
    CHECK(store::from_json(store::to_json(kept)) == kept);
}
