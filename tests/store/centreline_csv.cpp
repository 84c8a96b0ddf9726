#include "store/centreline_csv.h"
#include "store/csv_table.h"

#include "core/model/model.h"
#include "core/study/assess.h"

#include <catch2/catch.hpp>

using namespace dervish;

namespace {
std::string told(const std::string& csv) {
    try {
        store::read_centreline(csv);
    } catch (const BadInput& e) {
        return e.what();
    }
    return "taken";
}
} // namespace

TEST_CASE("a centreline goes out as a table and comes back as the same bar") {
    job::Job j = job::blank();
    j.trial.front.bar.splay = {0.1, 0, job::Source::Measured};
    j.trial.front.bar.eyes = {{{0.24}}, {{0.2}}};
    const double k = study::assess(j.vehicle, j.trial).outcomes[study::FrontRate];
    const std::string csv = store::centreline_csv(model::to_laid(j.trial.front));
    CHECK(csv.starts_with("x_mm,y_mm,z_mm,bend_radius_mm,outer_diameter_mm,wall_mm,at\n"));
    j.trial.front.bar.form = job::Form::Points;
    j.trial.front.bar.points = store::read_centreline(csv);
    CHECK(study::assess(j.vehicle, j.trial).outcomes[study::FrontRate] ==
          Approx(k).epsilon(1e-6)); // six decimals of a mm
    CHECK(model::to_laid(j.trial.front).left_eye.size() == 2);
    for (const job::PointData& p : j.trial.front.bar.points) {
        CHECK(p.x.source == job::Source::Measured);
        CHECK(p.x.sigma == Approx(1.5e-3));
    }
}

TEST_CASE("a table's cells keep their commas and quotes, its numbers their point, its rows their width") {
    store::CsvTable table{"case", "force_N", "note"};
    table.add("roll, out").add(2680.44, 1).end_row();
    table.add("the \"soft\" one").add(-0.6, 0).add("b").end_row();
    CHECK(table.text() == "case,force_N,note\n\"roll, out\",2680.4,\n\"the \"\"soft\"\" one\",-1,b\n");
}

TEST_CASE("no cell of a stranger's words is a formula to a spreadsheet, and each reads back as it was") {
    for (const std::string words :
         {"=HYPERLINK(\"x\")", "+41 in all", "-- as before", "@home", "\tin", "'=kept", "''-x"}) {
        store::CsvTable table{"note"};
        table.add(words).end_row();
        std::string cell = table.text().substr(5, table.text().size() - 6);
        if (cell.starts_with('"')) { // RFC 4180
            cell = cell.substr(1, cell.size() - 2);
            for (std::size_t at = 0; (at = cell.find("\"\"", at)) != std::string::npos; ++at) cell.erase(at, 1);
        }
        CAPTURE(words, cell);
        CHECK(cell.starts_with('\''));
        CHECK(store::unguarded(cell) == words);
    }
    for (const std::string words : {"-3.5", "+1.2e3", "'tis", "plain", "'"}) {
        store::CsvTable table{"note"};
        table.add(words).end_row();
        CHECK(store::unguarded(words) == words);
        if (words[0] != '+') CHECK(table.text() == "note\n" + words + "\n");
    }
    const std::string marked =
        "\xEF\xBB\xBFx_mm,y_mm,z_mm,at\n-230,470,0,eye\n0,470,0,bend\n0,-470,0,bend\n-230,-470,0,eye\n";
    CHECK(store::read_centreline(marked).size() == 4); // as a spreadsheet saves it
}

TEST_CASE("columns in any order, semicolons with decimal commas, notes and blank lines") {
    const auto points =
        store::read_centreline("# measured on the bench\nat;z_mm;y_mm;x_mm\n\neye;0;470,5;-230\r\nbend;0;470;0\n"
                               "bend;1;-470;0\neye;0;-470;-230\n");
    REQUIRE(points.size() == 4);
    CHECK(points[0].mark == Mark::Eye);
    CHECK(points[0].y.value == Approx(0.4705));
    CHECK(points[1].radius.value == 0);
    CHECK(points[2].z.value == Approx(1e-3));
    CHECK(points[0].outer_diameter.value == 0); // the bar's own
}

TEST_CASE("words in quotes keep their separators, quotes and line breaks, and lines are counted on") {
    store::CsvTable made{"x_mm", "note"};
    made.add("1").add("two lines,\nof \"words\"").end_row();
    made.add("2").add("=plain").end_row();
    const store::CsvRows back = store::read_csv("# a note, by hand\n\n" + made.text());
    REQUIRE(back.rows.size() == 3);
    CHECK(back.between == ',');
    CHECK(back.rows[1].cells == std::vector<std::string>{"1", "two lines,\nof \"words\""});
    CHECK(back.rows[2].cells == std::vector<std::string>{"2", "=plain"});
    CHECK(back.rows[0].line == 3);
    CHECK(back.rows[2].line == 6);
    CHECK(store::read_csv("a;b\n1,5;\"x;y\"\n").rows[1].cells == std::vector<std::string>{"1,5", "x;y"});
    CHECK(store::read_csv("a,\"open").rows[0].cells == std::vector<std::string>{"a", "open"});
    CHECK(store::read_csv("").rows.empty());
    // A centreline with a column of words that nobody asked for.
    const auto points = store::read_centreline("x_mm,note,y_mm,z_mm,at\n0,\"a\nb\",450,0,eye\n250,,450,0,bend\n"
                                               "250,\"c,d\",-450,0,bend\n0,,-450,0,eye\n");
    CHECK(points.size() == 4);
    CHECK(points[2].y.value == Approx(-0.45));
}

TEST_CASE("a table that cannot be read names the line, what is wrong and what would be right") {
    using Catch::Contains;
    const std::string head = "x_mm,y_mm,z_mm,at\n",
                      good = "-230,470,0,eye\n0,470,0,bend\n0,-470,0,bend\n-230,-470,0,eye\n";
    CHECK(told(head + good) == "taken");
    CHECK_THAT(told("x_mm,y_mm\n1,2\n"), Contains("line 1: no column z_mm"));
    CHECK_THAT(told(head + "-230,here,0,eye\n"), Contains("line 2") && Contains("\"here\" in y_mm is not a length"));
    CHECK_THAT(told(head + "-230,1e9,0,eye\n"), Contains("within 3000"));
    CHECK_THAT(told(head + "-230,nan,0,eye\n"), Contains("not a length"));
    CHECK_THAT(told(head + "-230,470\n"), Contains("line 2"));
    CHECK_THAT(told(head + "-230,470,0,hook\n"), Contains("give bend, eye or end"));
    CHECK_THAT(told(head + "-230,470,0,eye\n"), Contains("1 points"));
    CHECK_THAT(told(""), Contains("0 points"));
}
