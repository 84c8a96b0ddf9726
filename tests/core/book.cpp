#include "core/edit/book.h"
#include "core/book/link_build.h"
#include "core/book/minutes.h"
#include "core/book/shelf.h"
#include "core/book/upkeep.h"
#include "core/edit/setups.h"
#include "core/edit/tests.h"
#include "core/job/parts.h"
#include "core/job/torque.h"
#include "core/say/book_words.h"
#include "core/say/job_sheet.h"
#include "core/say/report.h"
#include "core/say/setup_steps.h"

#include <algorithm>
#include <catch2/catch.hpp>
#include <random>

namespace tests::of_book {
using namespace dervish;
using namespace dervish::job;

namespace {
constexpr double km = 1000;
job::Entry line(const char* date, double at_km, EntryKind kind, const char* words) {
    return {date, kind, words, at_km * km, {}, {}, {}};
}
/// Both bars; the rear off from 42,000 to 43,500 km; a link broken for the last 300 km before 44,000.
Job two_seasons() {
    Job j = blank();
    j.fitted.name = "both";
    edit::write_entry(j, line("2031-04-01", 41000, EntryKind::Fitted, "delivered"), "2031-04-01");
    j.fitted.rear.connected = false;
    j.fitted.name = "rear off";
    edit::write_entry(j, line("2031-06-01", 42000, EntryKind::Fitted, "for the track"), "2031-06-01");
    j.fitted.rear.connected = true;
    j.fitted.name = "both";
    edit::write_entry(j, line("2031-09-01", 43500, EntryKind::Found, "Oke put it on again"), "2031-09-04");
    job::Entry broke = line("2031-10-01", 44000, EntryKind::Failed, "left link");
    broke.more.driven_so = 300 * km;
    broke.parts = {j.fitted.front.links.id = "links-9"};
    edit::write_entry(j, broke, "2031-10-01");
    return j;
}
} // namespace

TEST_CASE("dates are those of the calendar, both ways, and nothing else is one") {
    CHECK(day_of("1970-01-01") == 0);
    CHECK(day_of("2031-05-11") == 22410); // 61 years with 15 leap days, and 130 days
    CHECK(day_of("2032-02-29"));
    for (const char* none :
         {"", "2031-02-29", "2031-13-01", "2031-1-01", "11.05.2031", "2031-05-11x", "2031/05/11", "20x1-05-11"})
        CHECK_FALSE(day_of(none));
    for (int day = -800000; day < 800000; day += 977)
        CHECK(day_of(date_of(day)) == (day < -719528 ? std::nullopt : std::optional(day)));
}

TEST_CASE("the story has its setups from one entry to the next, and says how far the car ran without a bar") {
    const Job j = two_seasons();
    const auto all = book::moments(j);
    const book::Now now = book::now_of(all, "2031-12-01");
    CHECK(now.odometer == 44000 * km);
    CHECK(date_of(static_cast<int>(now.day)) == "2031-12-01");
    const auto spans = book::spans(j, all, now);
    REQUIRE(spans.size() == 3);
    CHECK(spans[1].name == "rear off");
    CHECK(spans[1].odometer == 42000 * km);
    CHECK(spans[1].odometer_end == 43500 * km);
    CHECK(spans[2].day_end == now.day);
    const auto gaps = book::gaps(j, all, now);
    REQUIRE(gaps.size() == 2);
    CHECK(say::words_of(j, gaps[0], units::System::Metric) == "1\u00a0500 km without the rear bar");
    CHECK(say::words_of(j, gaps[1], units::System::Metric) == "300 km driven so: left link");
    CHECK(gaps[1].odometer == 43700 * km);
    CHECK(j.book[2].more.entered == "2031-09-04"); // late, and kept as such
    CHECK(j.book[1].more.entered.empty());
    CHECK(book::stood_by(j, all, 3) == 2);
    CHECK(say::story_words(j, all, units::System::Metric).find("3 setups, 0 tests, 0 decisions, 1 failure") !=
          std::string::npos);
    // A bar that the car never had is missed nowhere.
    Job never = j;
    for (job::Entry& e : never.book)
        if (e.car) e.car->setup.rear.connected = false;
    CHECK(book::gaps(never, all, now).size() == 1);
}

TEST_CASE("what has no date or distance stands between its neighbours, and random books stay in order") {
    Job j = two_seasons();
    edit::plan_test(j, {"ramps", "2031-08-01", "", "diagonal_ramps", {}, {}});
    j.book.push_back({"", EntryKind::Noted, "no date", 42750 * km, {}, {}, {}});
    const auto all = book::moments(j);
    const auto test = std::ranges::find(all, 0, &book::Moment::test);
    REQUIRE(test != all.end());
    CHECK(test->odometer == Approx(42000 * km + 61.0 / 92 * 1500 * km)); // 61 of the 92 days from June to September
    CHECK_FALSE(test->odometer_said);
    const auto undated = std::ranges::find(all, 4, &book::Moment::entry);
    CHECK(undated->day == Approx(*day_of("2031-06-01") + 46)); // half of the 1,500 km
    std::mt19937 luck(5);
    for (int round = 0; round < 300; ++round) {
        Job r = blank();
        for (int i = 0; i < 30; ++i) {
            job::Entry e{luck() % 5 ? date_of(22000 + static_cast<int>(luck() % 900)) : "some day",
                         static_cast<EntryKind>(luck() % 9),
                         "x",
                         luck() % 3 ? static_cast<double>(luck() % 90000) * km : 0,
                         {},
                         {},
                         {}};
            if (luck() % 2) e.car = Snapshot{r.vehicle, r.fitted};
            r.book.push_back(e);
        }
        const auto m = book::moments(r);
        REQUIRE(m.size() == 30);
        CHECK(std::ranges::is_sorted(m, {}, &book::Moment::day));
        std::vector<int> entries;
        for (const book::Moment& one : m) entries.push_back(one.entry);
        std::ranges::sort(entries);
        for (int i = 0; i < 30; ++i) CHECK(entries[static_cast<std::size_t>(i)] == i);
        for (const book::Span& s : book::spans(r, m, book::now_of(m))) CHECK(s.day_end >= s.day);
        for (const book::Gap& g : book::gaps(r, m, book::now_of(m))) CHECK(g.day_end >= g.day);
    }
}

TEST_CASE("an entry is refused with what would be right, corrected with what it said, struck out with why") {
    Job j = two_seasons();
    const auto refuses = [&](job::Entry e, const char* where) {
        const Job before = j;
        try {
            edit::write_entry(j, e, "2031-11-01");
            FAIL("taken");
        } catch (const BadInput& wrong) {
            CHECK(wrong.where() == where);
        }
        CHECK(j == before);
    };
    refuses(line("11 May", 44100, EntryKind::Noted, "x"), "date");
    refuses(line("2031-11-01", -1, EntryKind::Noted, "x"), "odometer");
    refuses(line("2031-11-01", 44100, EntryKind::Noted, "  "), "reason");
    edit::correct_entry(j, 3, "2031-10-02", 44010 * km, "right link", "2031-10-05");
    CHECK(j.book[3].reason == "right link");
    REQUIRE(j.book[3].more.corrected.size() == 1);
    CHECK(j.book[3].more.corrected[0] == Corrected{"2031-10-05", "2031-10-01", "left link", 44000 * km});
    edit::correct_entry(j, 3, "2031-10-02", 44010 * km, "right link", "2031-10-06"); // nothing changed
    CHECK(j.book[3].more.corrected.size() == 1);
    CHECK_THROWS_AS(edit::correct_entry(j, 3, "soon", 0, "x", "2031-10-06"), BadInput);
    edit::strike_entry(j, 1, "it was never off");
    CHECK(book::spans(j, book::moments(j), {30000, 50000 * km}).size() == 2);
    CHECK(book::gaps(j, book::moments(j), {30000, 50000 * km}).size() == 1);
    edit::strike_entry(j, 1, "");
    CHECK(book::spans(j, book::moments(j), {30000, 50000 * km}).size() == 3);
    edit::strike_entry(j, 99, "nothing there");
    // What is struck out does not move the clock, and can still be found on the line.
    job::Entry slip = line("2032-01-01", 440000, EntryKind::Fitted, "a nought too many");
    edit::write_entry(j, slip, "2032-01-01");
    CHECK(book::now_of(book::moments(j)).odometer == 440000 * km);
    edit::strike_entry(j, 4, "a slip");
    const auto after = book::moments(j);
    CHECK(book::now_of(after).odometer == 44010 * km);
    CHECK(std::ranges::find(after, 4, &book::Moment::entry)->lane == book::Lane::Notes);
    // Words that wait for the next entry stay while another way writes one.
    edit::keep_for_entry(j, "reason", {"half typed", units::System::Metric});
    edit::write_entry(j, line("2032-01-02", 44020, EntryKind::Removed, "roof box"), "2032-01-02");
    CHECK(edit::kept_for_entry(j, "reason") == "half typed");
    CHECK(book::moments(j).back().lane == book::Lane::Notes); // it does not tell how the car stands
    edit::forget_kept(j);
    CHECK(j.drafts.empty());
    CHECK_THROWS_AS(edit::set_look_again(j, 0, "in a month"), BadInput);
    edit::put_entry_mark(j, 0, "Marit", "roll", 4);
    edit::put_entry_mark(j, 0, "Marit", "roll", 12); // in its place, within the scale
    CHECK(j.book[0].more.marks == std::vector<Impression>{{"Marit", "roll", 10}});
}

TEST_CASE("the car goes back to what stood, with its parts as they are known now") {
    Job j = blank();
    name_parts(j);
    j.trial = j.fitted;
    edit::change_fitted(j, {"2031-04-01", "as bought", 1000, false}, true);
    const double thickness = j.fitted.front.bar.outer_diameter.value;
    j.trial.front.bar.id = "bar-77";
    j.trial.front.bar.outer_diameter.value = thickness * 1.2;
    edit::change_fitted(j, {"2031-05-01", "stiffer", 2000, false}, false);
    REQUIRE(j.fitted.front.bar.id == "bar-77");
    // The old bar lies on the shelf and is measured again there.
    REQUIRE(j.spares.bars.size() == 1);
    each_part_of_job(j, [&]<class P>(const char*, P& p) {
        if constexpr (std::is_same_v<P, BarData>)
            if (p.id == j.spares.bars[0].id) p.outer_diameter.value = thickness * 1.01;
    });
    edit::go_back_to(j, 0);
    CHECK(j.trial.front.bar.outer_diameter.value == thickness * 1.01);
    CHECK(j.book[0].car->setup.front.bar.outer_diameter.value == thickness);
    CHECK(j.fitted.front.bar.id == "bar-77");
    const Job before = j;
    edit::go_back_to(j, 7);
    CHECK(j == before);
    const auto things = book::things(j);
    const auto of = [&](const std::string& id) { return *std::ranges::find(things, id, &book::Thing::id); };
    CHECK(of("bar-77").on_car);
    const std::string old = j.spares.bars[0].id;
    CHECK_FALSE(of(old).on_car);
    CHECK(of(old).was_on_car);
    CHECK(of(old).whereabouts == Whereabouts::Shelf);
    CHECK(book::history_of(j, "bar-77") == std::vector<int>{1});
    j.kept.push_back(j.fitted);
    j.kept[0].front.bar.id = "bar-88"; // never on the car, on no shelf
    for (const book::Thing& t : book::things(j))
        if (t.id == "bar-88") CHECK(t.whereabouts == Whereabouts::DrawnUp);
    edit::put_record(j, {"bar-88", Whereabouts::Ordered, "red", "", {2}});
    for (const book::Thing& t : book::things(j))
        if (t.id == "bar-88") CHECK(say::standing_words(t) == "ordered; 1 thing bad");
}

TEST_CASE("upkeep comes due by distance, by time and by use, and what is found on it is measured of the parts") {
    Job j = two_seasons();
    CHECK_THROWS_AS(edit::put_upkeep(j, {"u", "grease", "", 0, 0, Wears::Road, "", 0}), BadInput); // never due
    edit::put_upkeep(
        j, {"upkeep-1", "links: play", "front/links", 5000 * km, 180, Wears::Rocks, "2031-04-01", 41000 * km});
    const auto at = [&](const char* date, double clock) {
        return book::due(j, {static_cast<double>(*day_of(date)), clock * km})[0];
    };
    CHECK(at("2031-05-01", 42000).when == book::When::Later);
    CHECK(*at("2031-05-01", 42000).metres == Approx(4000 * km));
    CHECK(*at("2031-05-01", 42000).days == Approx(150));
    CHECK(at("2031-05-01", 45600).when == book::When::Soon);
    CHECK(at("2031-05-01", 46000).when == book::When::Due);
    CHECK(at("2031-09-28", 42000).when == book::When::Due); // 180 days
    job::Entry rocks = line("2031-10-05", 44100, EntryKind::Driven, "up the gully");
    rocks.more.wears = Wears::Water;
    edit::write_entry(j, rocks, "2031-10-05");
    CHECK_FALSE(at("2031-10-06", 44100).by_use);
    rocks.more.wears = Wears::Rocks;
    edit::write_entry(j, rocks, "2031-10-05");
    CHECK(at("2031-10-06", 44100).by_use);
    CHECK(book::count_due(book::due(j, {30000, 44100 * km})) == 1);
    const Job before = j;
    CHECK_THROWS_AS(edit::upkeep_done(j, "upkeep-1", {"2031-10-07", "", "", 44200 * km, 0.5, {}}, "2031-10-07"),
                    BadInput); // half a metre
    CHECK(j == before);
    edit::upkeep_done(j, "upkeep-1", {"2031-10-07", "a knock", "Oke", 44200 * km, 1.2e-3, {}}, "2031-10-07");
    CHECK(j.fitted.front.links.play.value == Approx(1.2e-3));
    CHECK(j.fitted.front.links.play.source == Source::Measured);
    CHECK(j.book.read().back().reason == "front links: links: play; found: a knock; play 1.2 mm");
    CHECK(at("2031-10-08", 44200).when == book::When::Later);
    CHECK(at("2031-10-08", 44200).last == static_cast<int>(j.book.size()) - 1);
    CHECK(*at("2031-10-08", 44200).metres == Approx(5000 * km));
    edit::strike_entry(j, static_cast<int>(j.book.size()) - 1, "it was the other car");
    CHECK(at("2031-10-08", 44200).when == book::When::Due);
    const auto usual = book::usual_upkeep(j, {22000, 41000 * km});
    CHECK(usual.size() >= 6);
    for (const Upkeep& u : usual) {
        CHECK(u.id != "upkeep-1");
        CHECK_NOTHROW(edit::put_upkeep(j, u));
    }
}

TEST_CASE("the book is searched by words, person and part, whatever the case") {
    Job j = two_seasons();
    const auto count = [&](const book::Wanted& wanted) {
        const auto all = book::moments(j);
        return std::ranges::count_if(all, [&](const book::Moment& m) { return book::is_wanted(j, m, wanted); });
    };
    CHECK(count({}) == 4);
    CHECK(count({"OKE again", "", ""}) == 1);
    CHECK(count({"again track", "", ""}) == 0);
    CHECK(count({"", "links-9", ""}) == 1);
    j.book[3].more.person = "Marit";
    CHECK(count({"", "", "marit"}) == 1);
    CHECK(book::people_of(j) == std::vector<std::string>{"Marit"});
    edit::put_person(j, {"marit", 70, "", ""});
    CHECK(book::people_of(j).size() == 1);
    j.vehicle.loads.push_back({"load-5", "Passenger", {75, 5}, {1, 0.1}, {0, 0.1}, {0.7, 0.1}});
    edit::put_person(j, {"marit", 0, "load-5", ""}); // a weight that is not said changes nothing
    CHECK(j.vehicle.loads.back().mass.value == 75);
    edit::put_person(j, {"marit", 68, "load-5", ""});
    CHECK(j.people.size() == 1);
    CHECK(j.vehicle.loads.back().mass.value == 68);
    CHECK_THROWS_AS(edit::put_person(j, {"", 70, "", ""}), BadInput);
    CHECK_THROWS_AS(edit::put_person(j, {"Tam", 700, "", ""}), BadInput);
}

namespace {
/// A link made of a body with a screw at each end, turned as a sheet says: which way is told by hand and by axis, and
/// what comes out is measured between the joints. A screw goes along its own axis by its pitch a turn, by the
/// right-hand rule times its hand.
struct Screwed {
    double pitch, length;
    /// Joint at the end whose outward axis is `axis` turned against the body by `turn` turns about +x.
    void turn_joint(int axis, int hand, double turn) { length += hand * pitch * (axis * turn); }
    /// Seen from the eye at the end with that axis, looking at the body: clockwise is by the right-hand rule about the
    /// direction of looking, -axis.
    static double about_x(int axis, double clockwise_turns) { return -axis * clockwise_turns; }
};
} // namespace

TEST_CASE("a link turned as its sheet says has the length that the sheet says, for every thread arrangement") {
    std::mt19937 luck(8);
    const auto between = [&](double a, double b) { return a + (b - a) * static_cast<double>(luck() % 10001) / 10000; };
    int by_thread = 0, out_of_reach = 0;
    for (int i = 0; i < 2000; ++i) {
        LinkData from;
        from.id = "links-1";
        from.adjust = static_cast<Adjust>(luck() % 3);
        from.length.value = between(0.08, 0.4);
        from.right_longer.value = between(-0.01, 0.01);
        from.pitch.value = between(0.8e-3, 2e-3);
        from.thread.value = between(8e-3, 16e-3);
        from.engaged.value = between(12e-3, 40e-3);
        from.shortest.value = from.length.value - between(0, 0.05);
        LinkData to = from;
        to.length.value += between(-0.03, 0.03);
        const bool others = luck() % 8 == 0;
        if (others) to.body.value += 1e-3;
        if (luck() % 2) to.id = "links-2"; // as a length tried on Trial draws them up
        for (const bool right : {false, true}) {
            const book::LinkChange c = book::link_change(from, to, right);
            CHECK(c.to - c.from == Approx(to.length.value - from.length.value).margin(1e-12));
            if (from.adjust == Adjust::No || others) {
                CHECK_FALSE(c.by_thread);
                continue;
            }
            ++by_thread;
            out_of_reach += !c.reaches;
            Screwed link{from.pitch.value, c.from};
            if (c.opposite) {
                // The right-hand thread's end outwards is +x; the body turns clockwise seen from there, the joints
                // stay: against it each turns the other way. The other end, outwards -x, has the left-hand thread.
                const double body = Screwed::about_x(+1, c.turns);
                link.turn_joint(+1, +1, -body);
                link.turn_joint(-1, -1, -body);
            } else {
                link.turn_joint(+1, +1, Screwed::about_x(+1, -c.turns)); // anticlockwise seen from its eye
            }
            CHECK(link.length == Approx(c.to).epsilon(1e-9));
            // Its own way of telling how much stays in: each end gives up its part of the way.
            const double given = (c.to - c.from) / (c.opposite ? 2 : 1);
            const bool holds =
                from.engaged.value - given >= 1.5 * from.thread.value - 1e-12 && c.to >= from.shortest.value - 1e-12;
            CHECK(c.reaches == holds);
        }
    }
    CHECK(by_thread > 1500);
    CHECK(out_of_reach > 200);
}

TEST_CASE("a wrench with an adapter gives the fastener its torque, straight and at an angle") {
    CHECK(wrench_setting({"a", "b", 45, 0, 0, 0}) == 45);
    CHECK(wrench_setting({"a", "b", 45, 0.4, 0.05, 0}) == Approx(40));
    CHECK(wrench_setting({"a", "b", 45, 0.4, 0.05, units::pi / 2}) == Approx(45));
    // By statics in the plane: the hand's force, square to the wrench, about the fastener.
    for (double angle = 0; angle < 1.6; angle += 0.1) {
        const Torque t{"a", "b", 80, 0.35, 0.12, angle};
        const double setting = wrench_setting(t), force = setting / t.wrench; // what the wrench feels
        const double hand_x = t.wrench, head_x = 0, fastener_x = -t.adapter * std::cos(angle);
        CHECK(force * (hand_x - head_x) == Approx(setting));
        CHECK(force * (hand_x - fastener_x) == Approx(80));
    }
    for (const Torque& wrong : {Torque{"a", "b", 0, 0, 0, 0}, Torque{"a", "b", 45, 0, 0.05, 0},
                                Torque{"a", "b", 45, -1, 0, 0}, Torque{"a", "b", 45, 0.1, 0.09, units::pi}})
        CHECK_THROWS_AS(wrench_setting(wrong), BadInput);
    Job j = blank();
    CHECK_THROWS_AS(edit::put_torque(j, {"clamps", "", 45, 0, 0, 0}), BadInput); // not without its source
    CHECK(j.torques.empty());
}

TEST_CASE("a link made by its sheet has the sheet's lengths, for every kind of thread") {
    std::mt19937 engine(11);
    const auto between = [&](double low, double high) { return std::uniform_real_distribution<>(low, high)(engine); };
    for (int i = 0; i < 600; ++i) {
        LinkData l;
        l.adjust = static_cast<Adjust>(i % 3);
        const double head = between(0.012, 0.04);
        l.thread.value = between(6e-3, 18e-3);
        l.shortest.value = 2 * head + between(0.03, 0.3);
        l.length.value = l.adjust == Adjust::No ? l.shortest.value : l.shortest.value + between(0, 0.03);
        l.right_longer.value = l.adjust == Adjust::No ? 0 : between(0, 0.01);
        const book::LinkBuild made = book::link_build(l, head);
        REQUIRE(made.cut);
        CHECK(made.possible);
        // Put together: what is cut, the joints' heads, and the thread that is out at each.
        const int joints = made.threads > 0 ? made.threads : 2;
        const auto whole = [&](double out) { return *made.cut + joints * (head + out); };
        CHECK(whole(made.out) == Approx(made.right).margin(1e-12));
        CHECK(whole(0) == Approx(l.shortest.value).margin(1e-12));
        if (made.threads > 0) CHECK(made.thread_each - made.out == Approx(1.5 * l.thread.value));
        CHECK_FALSE(book::link_build(l, 0).cut);
        CHECK_THROWS_AS(book::link_build(l, l.shortest.value), BadInput);
        // One end's hands are told where there are two.
        int left_hand = 0;
        for (const std::string& part : made.order) left_hand += part.find("left-hand") != std::string::npos;
        CHECK((left_hand > 1) == (l.adjust == Adjust::Opposite));
    }
    LinkData short_one;
    short_one.adjust = Adjust::Opposite;
    short_one.length.value = 0.1;
    short_one.shortest.value = 0.11;
    CHECK_FALSE(book::link_build(short_one, 0).possible);
}

TEST_CASE("minutes are told by sheets like this one, and by no other") {
    Job j = blank();
    const std::vector<std::string> steps{"stands", "front/links off", "front/bar out", "front/bar in"};
    CHECK_FALSE(book::minutes_of(book::took(j), steps));
    const auto sheet = [&](const std::vector<std::string>& done, double minutes, const char* struck = "") {
        job::Entry e;
        e.kind = EntryKind::Fitted;
        e.more.steps = done;
        e.more.minutes = minutes;
        e.more.struck = struck;
        j.book.push_back(e);
    };
    sheet({"brace", "drive"}, 500);       // another job
    sheet(steps, 0);                      // nobody said
    sheet(steps, 900, "the clock stood"); // struck out
    CHECK_FALSE(book::minutes_of(book::took(j), steps));
    sheet({"stands", "front/links off", "front/bar out"}, 60); // three of four: 80 for four
    sheet(steps, 100);
    const auto found = book::minutes_of(book::took(j), steps);
    REQUIRE(found);
    CHECK(found->sheets == 2);
    CHECK(found->least == Approx(80));
    CHECK(found->most == Approx(100));
}

TEST_CASE("the job sheet has its steps in the order in which they are done, and no torque that was not typed") {
    Job j = blank();
    name_parts(j);
    j.trial = j.fitted;
    CHECK(say::job_sheet(j, j.fitted, j.trial, units::System::Metric).steps.empty());
    j.trial.front.bar.id = "bar-9";
    j.trial.front.bar.name = "thicker";
    j.trial.front.bar.outer_diameter.value *= 1.1;
    j.trial.front.stand.pressure.value = 1.1;
    const auto keys = [](const say::JobSheet& sheet) {
        std::vector<std::string> out;
        for (const say::SheetStep& s : sheet.steps) out.push_back(s.key);
        return out;
    };
    const auto sheet = say::job_sheet(j, j.fitted, j.trial, units::System::Metric);
    CHECK(keys(sheet) == std::vector<std::string>{"stands", "front/links off", "front/bar out", "front/bar in",
                                                  "front/links", "front/links on", "hang", "tight", "wheels",
                                                  "front/pressures", "drive", "again"});
    CHECK(sheet.steps[3].title.find("thicker") != std::string::npos);
    REQUIRE(sheet.steps[4].readings.size() == 2);
    CHECK(sheet.steps[4].readings[0].wanted == j.trial.front.links.length.value);
    const auto says = [&](const char* words) {
        return say::job_sheet_html(j, say::job_sheet(j, j.fitted, j.trial, units::System::Metric),
                                   units::System::Metric)
                   .find(words) != std::string::npos;
    };
    CHECK_FALSE(says("N·m"));
    edit::put_torque(j, {"front clamps", "workshop book, page 7", 45, 0.4, 0.05, 0});
    CHECK(says("front clamps: 45 N·m (workshop book, page 7); the wrench with its adapter to 40 N·m"));
    // Fasteners are counted from what the setups hold; a spanner's size only as it was typed.
    CHECK(says("2 stands: both wheels of the front axle hang"));
    CHECK(says("4 front link ends"));
    CHECK(says("spanners: no size was typed"));
    edit::put_torque(j, {"front clamp bolts", "", 0, 0, 0, 0, "17 mm", 4});
    edit::put_torque(j, {"rear clamp bolts", "", 0, 0, 0, 0, "19 mm", 4});
    CHECK(says("spanners 17 mm, two of a size where a bolt has a nut; for 4 × 17 mm (front clamp bolts)"));
    CHECK_FALSE(says("19 mm")); // nothing is done there
    CHECK_FALSE(says("front clamp bolts: 0"));
    CHECK_THROWS_AS(edit::put_torque(j, {"nuts", "", 0, 0, 0, 0, "", 4}), BadInput); // neither torque nor spanner
    CHECK_THROWS_AS(edit::put_torque(j, {"nuts", "", 0, 0, 0, 0, "17 mm", -1}), BadInput);
    // Another hole alone needs the links' upper ends and the clamps, no wheel off, and no stands where there is room.
    Job hole = j;
    hole.trial = hole.fitted;
    edit::add_eye(hole, End::Front);
    hole.fitted = hole.trial;
    hole.trial.front.left_eye = hole.trial.front.right_eye = 1;
    const auto by_hole = say::job_sheet(hole, hole.fitted, hole.trial, units::System::Metric);
    CHECK(keys(by_hole) ==
          std::vector<std::string>{"on wheels", "front/links off", "front/links on", "tight", "drive", "again"});
    const auto needs = [&](const char* words) {
        return std::ranges::any_of(by_hole.needs, [&](const std::string& n) { return n.find(words) != n.npos; });
    };
    CHECK(needs("2 front link ends, at the arms, 2 front clamps to loosen"));
    CHECK_FALSE(needs("stands"));
    CHECK(needs("17 mm"));
    // In what order things go on at an eye follows from the link's joints.
    j.trial.front.links.joints = JointKind::Rubber;
    CHECK(says("cupped washer, bush, the arm"));
    j.trial.front.links.joints = JointKind::RodEnd;
    CHECK(says("washer, spacer, rod end, spacer"));
    // Gaps found with the wheels on are readings of the set-up.
    const auto with_gaps = say::job_sheet(j, j.fitted, j.trial, units::System::Metric);
    const auto hang = std::ranges::find(with_gaps.steps, "hang", &say::SheetStep::key);
    REQUIRE(hang->readings.size() == 3);
    CHECK_FALSE(hang->readings[0].wanted);
    SetupChecks checks;
    checks.*hang->readings[0].value = 0.0;
    CHECK(say::look_at(say::Step::Hang, j.trial.front, checks, j.vehicle.front, units::System::Metric)
              .next.find("It touches") != std::string::npos);
    checks.*hang->readings[0].value = 0.004;
    CHECK(say::look_at(say::Step::Hang, j.trial.front, checks, j.vehicle.front, units::System::Metric)
              .next.find("Close") != std::string::npos);
    checks.*hang->readings[0].value = 0.03;
    CHECK(say::look_at(say::Step::Hang, j.trial.front, checks, j.vehicle.front, units::System::Metric).next.empty());
    // Links off and on again, tyres' pressure alone.
    j.trial = j.fitted;
    j.trial.rear.connected = false;
    CHECK(keys(say::job_sheet(j, j.fitted, j.trial, units::System::Metric)) ==
          std::vector<std::string>{"stands", "rear/links off", "rear/tie up", "hang", "tight", "wheels", "drive",
                                   "again"});
    CHECK(keys(say::job_sheet(j, j.trial, j.fitted, units::System::Metric))[1] == "rear/links");
    j.trial = j.fitted;
    j.trial.brace.torsion.value += 1000;
    const auto welded = say::job_sheet(j, j.fitted, j.trial, units::System::Metric);
    CHECK(keys(welded) == std::vector<std::string>{"brace", "drive"});
    CHECK(welded.steps[0].caution.find("qualified welder") != std::string::npos);
    // Another kind of bar has no spacing of mounts, and no links.
    j.trial = j.fitted;
    j.trial.front.held = Held::Clamped;
    const auto clamped = say::job_sheet(j, j.fitted, j.trial, units::System::Metric);
    CHECK(clamped.steps[3].lines.front().find("trailing arms") != std::string::npos);
    CHECK(keys(clamped)[4] == "hang");
    j.trial = j.fitted;
    j.trial.brace.torsion.value += 1000;
    // What was ticked goes into the book with the minutes, and the next sheet begins anew.
    edit::tick_step(j, "brace", true);
    edit::tick_step(j, "drive", true);
    edit::tick_step(j, "drive", false);
    edit::set_minutes(j, 85);
    Job other = j; // ticks of one sheet are none of another, and are back with it
    other.trial.front.links.length.value += 1e-3;
    CHECK(edit::steps_done(other).empty());
    CHECK(edit::steps_done(j) == std::vector<std::string>{"brace"});
    CHECK_THROWS_AS(edit::set_minutes(j, -1), BadInput);
    edit::change_fitted(j, {"2031-06-01", "stiffer frame", 1000, false}, false);
    CHECK(j.book.read().back().reason == "stiffer frame (job sheet: 1 step done, 85 minutes)");
    CHECK(j.sheet == SheetDone{});
    for (const auto& [turns, words] : {std::pair{2.5, "2 1/2 turns"},
                                       {0.26, "1/4 turn"},
                                       {1.0, "1 turn"},
                                       {1.3, "1 1/4 turns"},
                                       {0.05, "less than a quarter turn"}})
        CHECK(say::turns_words(turns) == words);
}

TEST_CASE("a report tells the story with bands and provenance, fills a shop's own page, and promises nothing") {
    Job j = two_seasons();
    name_parts(j);
    j.complaint = "leans <much>";
    j.trial = j.fitted;
    j.trial.name = "thicker";
    j.trial.front.bar.outer_diameter.value *= 1.15;
    j.trial.front.bar.id = "bar-9";
    const auto of = [&](say::ReportOf what, const std::string& page = say::usual_template()) {
        return say::report(j, what, 0, "2031-12-01", units::System::Metric, page);
    };
    const std::string job_report = of(say::ReportOf::Job);
    for (const char* words : {"leans &lt;much&gt;", "2031-12-01", "thicker", "1\u00a0500 km without the rear bar",
                              "cannot say", "were measured", "±", "licensed practice"})
        CHECK_THAT(job_report, Catch::Contains(words));
    CHECK(job_report.find("{{") == std::string::npos);
    CHECK_THROWS_AS(of(say::ReportOf::Test), BadInput); // there is none
    CHECK(of(say::ReportOf::Bar).find("rate at the eye") != std::string::npos);
    CHECK(of(say::ReportOf::Rules).find("No setup is called the standard") != std::string::npos);
    j.standard = j.fitted;
    CHECK(of(say::ReportOf::Rules).find("Nothing differs") != std::string::npos);
    j.standard.front.bar.outer_diameter.value *= 0.9;
    CHECK(of(say::ReportOf::Rules).find("Front bar: ") != std::string::npos);
    CHECK(of(say::ReportOf::Rules, "<b>Our shop</b>{{title}}{{date}}{{body}}").starts_with("<b>Our shop</b>"));
    CHECK_THROWS_AS(of(say::ReportOf::Rules, "{{title}} {{date}}"), BadInput);
    j.vehicle.name = "{{body}}{{date}}"; // is a name, and no place
    CHECK(of(say::ReportOf::Rules, "{{title}}|{{date}}|{{body}}").starts_with("{{body}}{{date}}: what differs"));
}

} // namespace tests::of_book
