#include "app/car/stand_reading.h"
#include "core/study/difference.h"
#include "core/study/flex.h"
#include "core/study/links.h"
#include <catch2/catch.hpp>

#include "app/balance/balance_station.h"
#include "app/shell/differs_card.h"
#include "bench_window.h"
#include "core/say/complaints.h"

using namespace dervish;
using namespace dervish::app;

namespace {
/// The figures of the tally, those of the ride and the clicks' damping, of the setup looked at.
std::vector<double> figures(Bench& bench) {
    const study::Assessment& a = bench.document().looked();
    std::vector<double> out(a.outcomes.begin(), a.outcomes.end());
    out.push_back(bench.document().limit().lateral);
    out.push_back(bench.document().heads());
    return out;
}

void sheet(Bench& bench, const QString& button, const QString& why, bool measured = false) {
    QTimer::singleShot(0, [&] {
        auto* sheet = qobject_cast<QDialog*>(QApplication::activeModalWidget());
        REQUIRE(sheet);
        sheet->findChild<QLineEdit*>("odometer")->setText("42000");
        sheet->findChild<QPlainTextEdit*>("reason")->setPlainText(why);
        sheet->findChild<QCheckBox*>("measured")->setChecked(measured);
        sheet->findChild<QPushButton*>("accept fit")->click();
    });
    bench.click(button);
}

/// A change made on Trial by hand: the tally moves, Fitted and the car stay, it is told as a difference and taken back;
/// fitted, it stands in Fitted and in the book's last line.
void tried(Bench& bench, const char* what, study::Lot lot, const std::function<void()>& change) {
    INFO(what);
    bench.document().set_look(Look::Trial);
    const job::Job before = bench.job();
    const std::vector<double> was = figures(bench);
    change();
    REQUIRE_FALSE(bench.document().old());
    const auto same = [&] {
        const std::vector<double> now = figures(bench);
        return std::equal(now.begin(), now.end(), was.begin(),
                          [](double a, double b) { return a == Approx(b).epsilon(1e-8); });
    };
    CHECK_FALSE(same());
    CHECK(bench.job().fitted == before.fitted);
    const auto differs = study::differences(before.trial, bench.job().trial);
    REQUIRE(differs.size() == 1);
    CHECK(differs[0].lot == lot);
    const job::Setup changed = bench.job().trial;
    bench.click("differs");
    auto* card = bench.window.findChild<DiffersCard*>("differs card");
    REQUIRE(card);
    card->finish();
    auto* back = card->findChild<QPushButton*>("take back 0");
    REQUIRE(back);
    back->click();
    delete card;
    CHECK(same());
    CHECK(bench.job().trial == before.trial);
    bench.document().undo().undo();
    CHECK(bench.job().trial == changed);
    const std::size_t lines = bench.job().book.size();
    sheet(bench, "fit it", what);
    CHECK(study::differences(bench.job().fitted, changed).empty());
    REQUIRE(bench.job().book.size() == lines + 1);
    CHECK(bench.job().book.back().reason == what);
}
} // namespace

TEST_CASE("all that a setup holds is tried by hand in its station, seen, taken back, fitted and in the book") {
    using study::Lot;
    Bench bench;
    bench.document().edit("as fitted, with clicks", {}, [](job::Job& j) {
        for (job::AxleSetup* a : {&j.fitted.front, &j.fitted.rear}) {
            a->dampers.click = {0.06, 0.02};
            a->dampers.bump_clicks.value = a->dampers.rebound_clicks.value = 12;
        }
        j.trial = j.fitted;
    });
    const auto type_at = [&](const char* path, const char* text) {
        return [&bench, path, text] {
            bench.window.go_to_field(path);
            bench.type(path, text);
        };
    };
    const auto car = [&]() -> Station* { return bench.window.station("Car"); };
    tried(bench, "a bar of 25 mm", Lot::Bar, type_at("trial/front/bar/outer_diameter", "25"));
    tried(bench, "its link longer", Lot::Links, type_at("trial/front/links/length", "207"));
    tried(bench, "springs of 41", Lot::Springs, type_at("trial/rear/springs/rate", "41"));
    tried(bench, "firmer dampers", Lot::Dampers, type_at("trial/front/dampers/bump_damping", "2400"));
    tried(bench, "camber", Lot::Alignment, type_at("trial/front/stand/camber", "-1.2"));
    tried(bench, "grippier tyres", Lot::Tyres, type_at("trial/front/tyres/grip", "1.1"));
    tried(bench, "more pressure", Lot::Pressures, type_at("trial/rear/stand/pressure", "1.15"));
    tried(bench, "a brace", Lot::Brace, type_at("trial/brace/torsion", "2000"));
    tried(bench, "lowered by its body", Lot::Height, [&] {
        bench.window.show_station("Car");
        bench.click("reading Ride height");
        auto* stands = bench.find<StandReading>("stand reading");
        REQUIRE(stands);
        bench.window.grab();
        const QPoint body = stands->body(End::Front).center().toPoint();
        QTest::mousePress(stands, Qt::LeftButton, {}, body);
        QTest::mouseMove(stands, body + QPoint(0, 4));
        QTest::mouseRelease(stands, Qt::LeftButton, {}, body + QPoint(0, 4));
        CHECK(bench.job().trial.front.stand.lift.value < -0.01);
        CHECK(bench.job().trial.front.stand.lift.source == job::Source::Assumed); // no tape was there
        bench.document().undo().undo(); // the drag is one step
        CHECK(bench.job().trial.front.stand.lift.value == 0);
        bench.document().undo().redo();
        stands->setFocus();
        QTest::keyClick(stands, Qt::Key_Up);
    });
    tried(bench, "clicks", Lot::Clicks, [&] {
        auto* stands = bench.find<StandReading>("stand reading");
        stands->repaint();
        QTest::mouseClick(stands, Qt::LeftButton, {}, stands->click(End::Rear, true, 7).toPoint());
        CHECK(bench.job().trial.rear.stand.rebound_click.value == 7);
    });
    tried(bench, "the stores aboard", Lot::Aboard, [&] {
        bench.window.go_to_field("vehicle/loads/3/mass"); // Hut stores
        auto* aboard = car()->findChild<QCheckBox*>("aboard");
        REQUIRE(aboard);
        aboard->click();
    });
    // While measuring, what is typed is of the part that is there: Fitted is corrected, and Trial with it.
    bench.document().set_measuring(true);
    bench.window.go_to_field("fitted/front/springs/rate");
    bench.type("fitted/front/springs/rate", "38");
    CHECK(bench.job().fitted.front.springs.rate.value == Approx(38000));
    CHECK(bench.job().trial.front.springs == bench.job().fitted.front.springs);
}

TEST_CASE("a new user: a new car's bar and its rate, a cure, lowered, a bar off and proved, found otherwise",
          "[path]") {
    Bench bench(false);
    int clicks = 0, entries = 0;
    const auto click = [&](const QString& name) {
        bench.click(name);
        ++clicks;
    };
    const auto type = [&](const QString& path, const QString& text) {
        bench.type(path, text);
        ++entries;
        REQUIRE_FALSE(bench.document().old());
    };
    for (QAction* action : bench.window.actions())
        if (action->text() == "New job") action->trigger();
    auto* kind = bench.window.findChild<QComboBox*>("new kind");
    kind->setCurrentIndex(static_cast<int>(job::CarKind::Small));
    emit kind->activated(kind->currentIndex());
    bench.window.findChild<QPushButton*>("begin")->click();
    clicks += 4; // menu, entry, kind, begin
    REQUIRE(bench.job().vehicle.handling.driven == job::Driven::Front);
    click("rail Bar");
    type("fitted/front/bar/outer_diameter", "19");
    bench.document().finish_bands();
    CHECK_FALSE(bench.document().band_text(study::FrontWheelRate, End::Front, 1e3, 1).isEmpty());
    const auto lean = [&] { return bench.document().looked().outcomes[study::RollGradient]; };

    // A complaint, and to a cure with a target set.
    const double complained = lean();
    click("rail Balance");
    auto& balance = *static_cast<BalanceStation*>(bench.window.station("Balance"));
    click("heard leans");
    balance.finish();
    auto* told = bench.find<QLabel>("evidence");
    QTRY_VERIFY(told->text().contains("<a href="));
    emit told->linkActivated(QString::number(static_cast<int>(say::Complaint::Leans)));
    ++clicks;
    balance.finish();
    click("cure on trial");
    CHECK(lean() == Approx(0.85 * complained).epsilon(0.002));
    sheet(bench, "fit it", "less lean");
    clicks += 2;
    entries += 2;

    // Lowered by 30 mm at both ends: lean and links follow.
    const double cured = lean();
    const double arm = study::link_sides(bench.job().trial.front, bench.job().vehicle.front)->at(0).attitude;
    click("rail Links");
    click("reading Length");
    type("trial/front/stand/lift", "-30");
    click("rear links");
    type("trial/rear/stand/lift", "-30");
    CHECK(lean() != Approx(cured).epsilon(1e-3));
    CHECK(study::link_sides(bench.job().trial.front, bench.job().vehicle.front)->at(0).attitude > arm + 0.01);
    sheet(bench, "fit it", "lower");
    clicks += 2;
    entries += 2;

    // The rear bar off, on the car, and proved on ramps.
    click("rail Bar");
    click("rear bar");
    click("bar fitted");
    sheet(bench, "fit it", "rear bar off for the track");
    clicks += 2;
    entries += 2;
    CHECK_FALSE(bench.job().fitted.rear.fitted);
    click("rail Prove");
    click("plan test");
    click("reading Guess");
    type("guess", "200");
    click("note guess");
    click("predict");
    bench.wait_predicted();
    click("next run");
    type("reading of height", QString::number(bench.job().tests.back().states[0].prediction.value[0] * 1e3, 'f', 0));
    CHECK(bench.find<RunChart>("test chart")->verdict().startsWith("Right: sum and car agree"));

    // Found otherwise.
    click("rail Bar");
    click("front bar");
    type("trial/front/bar/outer_diameter", "20");
    sheet(bench, "found so", "20 mm by the callipers", true);
    clicks += 2;
    entries += 2;
    CHECK(bench.job().fitted.front.bar.outer_diameter.value == Approx(0.020));
    CHECK(bench.job().fitted.front.bar.outer_diameter.source == job::Source::Measured);
    CHECK(bench.job().fitted.front.bar.outer_diameter.sigma == Approx(0.05e-3)); // callipers
    CHECK(bench.job().fitted.front.bar.wall.source == job::Source::Assumed);     // nobody looked
    REQUIRE(bench.job().book.size() == 5);
    CHECK(bench.job().book.back().kind == job::EntryKind::Found);
    WARN(clicks << " clicks and " << entries << " entries");
    CHECK(clicks < 40);
}
