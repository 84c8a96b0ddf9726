#include "core/edit/book.h"
#include "store/book_files.h"
#include "store/job_file.h"
#include "store/json_job.h"
#include "store/shop_record.h"

#include "core/job/dates.h"

#include "../twenty_years.h"

#include <catch2/catch.hpp>
#include <fstream>
#include <set>
#include <sstream>

namespace tests::of_book_files {
using namespace dervish;
namespace fs = std::filesystem;
using store::Json;

namespace {
const fs::path demo_job = fs::path(DEMO) / "hut-van.dervish";
} // namespace

TEST_CASE("a synthetic book of 20 years comes back as it was, and one of version 14 has no more than it had") {
    const fs::path file = fs::temp_directory_path() / "dervish-twenty-years.dervish";
    job::Job j = twenty_years(store::load(demo_job).job);
    std::size_t stood = 0;
    for (const job::Entry& e : j.book.read()) stood += e.car.has_value();
    CHECK(stood > 300);
    j.book[7].more = {"Oke",
                      "2031-06-01",
                      "",
                      "leaned",
                      300e3,
                      "upkeep-2",
                      job::Wears::Rocks,
                      "2031-07-01",
                      {{"Oke", "roll", 3}},
                      {{"a.jpg", "the joint"}},
                      {{"2031-06-02", "2031-05-31", "before", 5}},
                      85,
                      {"stands", "front/links off"}};
    j.torques = {{"clamps", "book, page 7", 45, 0.4, 0.05, 0.1, "17 mm", 4}, {"nuts", "", 0, 0, 0, 0, "19 mm", 2}};
    j.tests.change().at(0).asks = job::Asks::Unknown;
    j.tests.change().at(0).unknown = "vehicle/front/roll_centre_height";
    j.setup_tests.push_back({j.fitted.front.bar.id, j.fitted.front.links.id, {}});
    j.setup_tests.back().checks.gap_lock = 0.012;
    j.setup_tests.back().checks.gap_bump = 0.0;
    j.people = {{"Oke", 87, "load-1", "no lean"}};
    j.upkeep = {{"upkeep-2", "grease", "front/mounts", 5e6, 180, job::Wears::Water, "2031-01-01", 41e6}};
    j.part_records = {{"bar-1", job::Whereabouts::Scrapped, "red", "12 mm", {1, 2}}};
    store::save({j, {}}, file);
    CHECK(store::load(file).job == j);
    fs::remove(file);
    Json old = Json::parse(std::ifstream(fs::path(DATA) / "job-v14.json"));
    REQUIRE(old["version"] == 14);
    const job::Job before = store::from_json(old);
    CHECK(before.book.size() == old["book"].size());
    CHECK(before.people.empty());
    CHECK(before.upkeep.empty());
    for (const job::Entry& e : before.book.read()) CHECK(e.more == job::EntryMore{});
    CHECK(store::from_json(store::to_json(before)) == before);
    for (const auto& [key, bad] :
         {std::pair<const char*, Json>{"wears", "sand"}, {"driven_so_km", 1e300}, {"marks", 5}}) {
        Json torn = store::to_json(j);
        torn["book"][7]["more"][key] = bad;
        CHECK_THROWS_AS(store::from_json(torn), BadInput);
    }
}

TEST_CASE("a book that cannot be is refused with its place") {
    const Json good = store::to_json(store::load(demo_job).job);
    const auto refused = [&](const char* where, const auto& spoil) {
        Json bad = good;
        spoil(bad);
        CHECK_THROWS_WITH(store::from_json(bad), Catch::Contains(where));
    };
    refused("torques/0", [](Json& j) { j["torques"][0]["wrench_mm"] = 0.0; }); // with an adapter
    refused("upkeep/1", [](Json& j) { j["upkeep"][1]["days"] = -3; });
    refused("people/0", [](Json& j) { j["people"][0]["mass_kg"] = 900.0; });
    refused("part_records/0", [](Json& j) { j["part_records"][0]["looked"] = {3}; });
    refused("book/2", [](Json& j) { j["book"][2]["odometer_km"] = -1.0; });
    refused("vehicle", [](Json& j) { j["snapshots"][0]["vehicle"] = 99; });
}

TEST_CASE("the book as a table and as a calendar: quoted, escaped, folded, each event once") {
    job::Job j = store::load(demo_job).job;
    j.book.push_back({"2031-10-01", job::EntryKind::Noted, "a \"knock\", and\nanother; \\ there", 43e6, {}, {}, {}});
    j.book.change().back().more.look_again = "2031-11-01";
    const std::string table = store::book_csv(j);
    CHECK(table.starts_with("date,km,what,words,person,parts,noticed,driven_so_km,struck_out,written_on\n"));
    CHECK(table.find("\"a \"\"knock\"\", and\nanother; \\ there\"") != std::string::npos);
    const std::string calendar = store::calendar(j, book::now_of(book::moments(j)), "20321201T080000Z");
    CHECK(calendar.starts_with("BEGIN:VCALENDAR\r\nVERSION:2.0\r\n"));
    CHECK(calendar.ends_with("END:VCALENDAR\r\n"));
    CHECK(calendar.find("2031-10-01\\, a \"knock\"\\, and\\nanother\\; \\\\ there") != std::string::npos);
    CHECK(calendar.find("DTSTART;VALUE=DATE:20311101") != std::string::npos);
    std::istringstream lines(calendar);
    std::set<std::string> ids;
    std::size_t events = 0;
    for (std::string line; std::getline(lines, line);) {
        CHECK(line.back() == '\r');
        CHECK(line.size() <= 76);
        events += line == "BEGIN:VEVENT\r";
        if (line.starts_with("UID:")) ids.insert(line);
    }
    CHECK(events > 3);
    CHECK(ids.size() == events);
    // A stranger's id stays a value of its own property.
    for (job::Upkeep& u : j.upkeep) u.id = "x\r\nATTACH:file:///etc/passwd\n;\x01" + u.id;
    const std::string strange = store::calendar(j, book::now_of(book::moments(j)), "20321201T080000Z");
    CHECK(strange.find("\nATTACH") == std::string::npos);
    CHECK(strange.find('\x01') == std::string::npos);
    CHECK(strange.find("UID:x\\nATTACH:file:///etc/passwd\\n\\;") != std::string::npos);
}

TEST_CASE("the shop's record holds what each saved job took, once, and what was put right since") {
    const fs::path record = fs::temp_directory_path() / "dervish-shop" / "shop-minutes.json";
    fs::remove_all(record.parent_path());
    CHECK(store::shop_record(record, {}).empty());
    job::Job j = store::load(demo_job).job;
    const auto own = book::took(j);
    REQUIRE(own.size() == 1);
    store::keep_in_shop_record(record, "/a.dervish", j);
    store::keep_in_shop_record(record, "/copy.dervish", j); // says the same
    CHECK(store::shop_record(record, "/other.dervish") == own);
    CHECK(store::shop_record(record, "/a.dervish") == own);
    fs::remove_all(record.parent_path());
    store::keep_in_shop_record(record, "/a.dervish", j);
    CHECK(store::shop_record(record, "/a.dervish").empty()); // its own book says it
    // Another minute in the book takes the place of the first; struck out it goes.
    for (job::Entry& e : j.book.change())
        if (e.more.minutes > 0) e.more.minutes = 90;
    store::keep_in_shop_record(record, "/a.dervish", j);
    REQUIRE(store::shop_record(record, {}).size() == 1);
    CHECK(store::shop_record(record, {})[0].minutes == 90);
    for (job::Entry& e : j.book.change())
        if (e.more.minutes > 0) e.more.struck = "a slip";
    store::keep_in_shop_record(record, "/a.dervish", j);
    CHECK(store::shop_record(record, {}).empty());
    // What is not ours is no record, and is in nobody's way.
    for (const char* odd :
         {"", "[]", "{\"/a\": 3}", "{\"/a\": [{\"minutes\": \"long\", \"steps\": []}]}",
          "{\"/a\": [{\"minutes\": 5, \"steps\": [1]}]}", "{\"/a\": [{\"minutes\": -5, \"steps\": []}]}"}) {
        store::write_file(record, odd);
        CAPTURE(odd);
        CHECK(store::shop_record(record, {}).empty());
    }
    fs::remove_all(record.parent_path());
}

} // namespace tests::of_book_files
