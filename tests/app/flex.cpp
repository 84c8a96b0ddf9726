#include "core/say/flex_words.h"
#include "core/study/assess.h"
#include <catch2/catch.hpp>

#include "app/flex/flex_drawing.h"
#include "app/flex/flex_readings.h"
#include "app/flex/flex_station.h"
#include "app/widgets/number_edit.h"
#include "bench_window.h"
#include "ink.h"

using namespace dervish;
using namespace dervish::app;

namespace {
FlexDrawing& drawing(Bench& bench) { return *bench.window.findChild<FlexDrawing*>(); }
FlexStation& station(Bench& bench) { return *static_cast<FlexStation*>(bench.window.station("Flex")); }
/// With their results in.
FlexSums& sums(Bench& bench) {
    auto& out = *bench.window.findChild<FlexSums*>();
    out.finish();
    return out;
}
QString words(Bench& bench, const char* label) {
    sums(bench);
    return bench.find<QLabel>(label)->text();
}
} // namespace

TEST_CASE("a bar laid on the shelf is among the states, though nothing on the car has changed") {
    Bench bench;
    bench.window.show_station("Flex");
    const std::size_t before = sums(bench).all().size();
    bench.document().edit("shelf", {}, [](job::Job& job) {
        job::Assembly spare = job.trial.front;
        spare.bar.name = "one more";
        spare.bar.outer_diameter.value += 1e-3;
        job.shelf.push_back(spare);
    });
    CHECK(sums(bench).all().size() > before);
    bench.document().undo().undo();
    CHECK(sums(bench).all().size() == before);
}

TEST_CASE("ramps scrubbed, states compared, one of them put on Trial and taken back", "[path][worker]") {
    Bench bench;
    bench.window.setFocus();
    QTest::keyClick(&bench.window, '5');
    FlexDrawing& d = drawing(bench);
    CHECK(station(bench).isVisible());
    bench.settle();
    sums(bench);
    const double lift = bench.document().trial().ascent.height;
    CHECK(d.reach() == Approx(lift));
    CHECK(words(bench, "reach words").contains("rear left goes light"));
    CHECK(words(bench, "why").contains("sets the twist"));
    // Scrubbed higher the wheel hangs, and the drawing says by how much.
    bench.find<QSlider>("reach")->setValue(400);
    CHECK(d.reach() == Approx(0.4));
    CHECK(Ink::of(d).says("hangs, "));
    CHECK(d.corner()[2].gap > 0.05);
    bench.window.setFocus();
    QTest::keyClick(&bench.window, '[');
    CHECK(d.reach() == Approx(0.39));
    QTest::keyClick(&bench.window, ' ');
    CHECK(QTest::qWaitFor([&] { return d.reach() != Approx(0.39); }, 600000));
    QTest::keyClick(&bench.window, ' ');
    bench.click("to the lift");
    CHECK(d.reach() == Approx(lift));

    auto& states = *bench.window.findChild<StatesReading*>();
    const Ink shown = Ink::of(states);
    CHECK(shown.says("as it is"));
    CHECK(shown.says("front off"));
    CHECK(shown.says("both off"));
    const auto& all = sums(bench).all();
    REQUIRE(all.size() == 11); // with Fitted and two kept setups
    QTest::mouseClick(&states, Qt::LeftButton, {}, states.card(1).center().toPoint());
    CHECK(sums(bench).chosen() == 1);
    CHECK(d.reach() == Approx(all[1].ascent.height));
    CHECK(d.reach() > lift + 0.02);
    CHECK(words(bench, "road cost").contains("front off"));
    bench.click("state on trial");
    CHECK_FALSE(bench.job().trial.front.connected);
    CHECK(bench.document().trial().ascent.height == Approx(d.reach()));
    bench.document().undo().undo();
    CHECK(bench.job().trial.front.connected);
    // Weighed for the road alone another state is best.
    bench.find<QSlider>("track weight")->setValue(100);
    const QString track = words(bench, "best state");
    CHECK(track.contains("both off"));
    bench.find<QSlider>("track weight")->setValue(0);
    CHECK(words(bench, "best state") != track);
}

TEST_CASE("every ground has its reading, another job goes on the same one, and a broken file is told") {
    Bench bench;
    bench.click("rail Flex");
    FlexDrawing& d = drawing(bench);
    for (const char* ground : {"ramp", "fork", "holes", "slope", "diagonal"}) {
        bench.click(QString("ground ") + ground);
        INFO(ground);
        CHECK(words(bench, "reach words").contains("goes light"));
        CHECK(Ink::of(d).says("lean "));
    }
    bench.click("ground ramp");
    CHECK(words(bench, "reach words").contains("index"));
    const double first = d.reach();
    auto* wheel = bench.find<QComboBox>("flex wheel");
    wheel->setCurrentIndex(car::rear_left);
    emit wheel->activated(car::rear_left);
    sums(bench);
    CHECK(d.reach() != Approx(first));
    bench.click("flex group 1");
    bench.type("ramp angle", "30");
    QTest::keyClick(bench.find<QLineEdit>("ramp angle"), Qt::Key_Return);
    CHECK(sums(bench).protocol().angle == Approx(30 * units::deg));
    CHECK(words(bench, "wheels").contains("Tyre 0 mm above level"));
    CHECK(words(bench, "wheels").contains("next "));
    CHECK(words(bench, "wheels").contains("Least load: "));
    bench.click("ground diagonal");
    bench.type("second", "1/2");
    QTest::keyClick(bench.find<QLineEdit>("second"), Qt::Key_Return);
    CHECK(sums(bench).protocol().second == 0.5);
    bench.type("second", "0");
    QTest::keyClick(bench.find<QLineEdit>("second"), Qt::Key_Return);
    const std::size_t before = sums(bench).all().size();
    station(bench).set_other(demo_path().replace("hut-van", "hill-sprint"));
    CHECK(sums(bench).all().size() == before + 1);
    CHECK(sums(bench).all().back().of.vehicle.wheelbase.value < bench.job().vehicle.wheelbase.value);
    CHECK_THROWS_AS(station(bench).set_other("none.dervish"), BadInput);
    CHECK(sums(bench).has_other()); // the one before stays
    bench.click("flex group 1");
    bench.click("ground slope");
    auto* stone = bench.find<NumberBox>("stone");
    bench.type("stone", "12,7 cm");
    QTest::keyClick(stone, Qt::Key_Return);
    CHECK(stone->text() == "127");
    bench.document().set_units(units::System::Inch);
    bench.settle();
    sums(bench);
    CHECK(stone->text() == "5"); // the same stone
    bench.type("stone", "4");
    QTest::keyClick(stone, Qt::Key_Return);
    CHECK(sums(bench).protocol().obstacle == Approx(0.1016));
    bench.click("ground diagonal");
    CHECK(words(bench, "reach words").contains(" in"));
}

TEST_CASE("straps, hoses and springs by points are entered here, and the ramps follow") {
    Bench bench;
    bench.click("rail Flex");
    bench.click("flex group 3");
    const double before = bench.document().trial().ascent.height;
    bench.type("vehicle/rear/travel/strap", "60");
    CHECK(bench.document().trial().ascent.height < before - 0.01);
    bench.settle();
    sums(bench);
    CHECK(sums(bench).all()[0].corner[2].first().what == "strap");
    bench.document().undo().undo();
    bench.click("add spring point");
    CHECK(bench.job().trial.rear.springs.points.size() == 3);
    CHECK(bench.document().trial().ascent.height == Approx(before).margin(2e-3)); // as the rate has them
    bench.type("trial/rear/springs/points/2/force", "9000");
    CHECK(bench.job().trial.rear.springs.points[2].force.value == Approx(9000));
    bench.type("trial/rear/springs/points/2/travel", "-500"); // not in rising order
    CHECK(bench.document().old());
    bench.type("trial/rear/springs/points/2/travel", "102");
    CHECK_FALSE(bench.document().old());
    bench.click("remove spring point");
    CHECK(bench.job().trial.rear.springs.points.empty() == false);
    bench.click("remove spring point");
    CHECK(bench.job().trial.rear.springs.points.empty());
    bench.click("rail Car");
    bench.window.go_to_field("vehicle/front/travel/hose");
    CHECK(station(bench).isVisible());
}

TEST_CASE("whole kept setups side by side, each at its lift and all at one height, one left out, a person put aboard") {
    Bench bench;
    bench.document().edit("a lifted one is kept", {}, [](job::Job& job) {
        job::Setup lifted = job.trial;
        lifted.name = "lifted by springs";
        lifted.front.stand.lift.value = lifted.rear.stand.lift.value = 0.04;
        job.kept = {lifted};
    });
    bench.window.show_station("Flex");
    const auto index = [&](const QString& name) {
        const auto& all = sums(bench).all();
        const auto at = std::ranges::find_if(all, [&](const study::FlexResult& r) {
            return QString::fromStdString(say::name_of(r.of, units::System::Metric)) == name;
        });
        return static_cast<std::size_t>(at - all.begin());
    };
    const std::size_t kept = index("lifted by springs"), fitted = index("as Fitted");
    REQUIRE(kept < sums(bench).all().size());
    REQUIRE(fitted < sums(bench).all().size());
    const auto own = study::assess(bench.job().vehicle, bench.job().kept[0]);
    CHECK(sums(bench).all()[kept].ascent.height == Approx(own.ascent.height).margin(1e-6));

    bench.click("reading All at one height");
    auto* heights = bench.window.findChild<StatesReading*>("states at one height");
    bench.find<QSlider>("reach")->setValue(250);
    REQUIRE(heights->at_reach().size() == sums(bench).all().size());
    for (std::size_t i : {std::size_t(0), fitted, kept}) {
        const car::Car& car = sums(bench).all()[i].car;
        const car::State there = car::settle(car, flex::situation({}, 0.25)), &shown = heights->at_reach()[i];
        for (std::size_t w = 0; w < 4; ++w) CHECK(shown.wheels[w].load == Approx(there.wheels[w].load).margin(2));
        CHECK(Ink::of(*heights).says(
            QString::fromStdString(units::fixed((there.roll[0] + there.roll[1]) / 2 / units::deg, 1)) + "°"));
    }
    // Higher, and a wheel hangs: its gap is told.
    bench.find<QSlider>("reach")->setValue(500);
    CHECK(Ink::of(*heights).says("gap"));

    const std::size_t all = sums(bench).all().size();
    sums(bench).choose(kept);
    bench.click("leave state out");
    CHECK(sums(bench).all().size() == all - 1);
    CHECK(index("lifted by springs") == all - 1); // nowhere
    bench.click("leave state out");               // all of them again
    CHECK(sums(bench).all().size() == all);
    sums(bench).choose(index("lifted by springs"));
    bench.click("state on trial");
    CHECK(bench.job().trial == bench.job().kept[0]);
    bench.document().undo().undo();

    bench.click("flex group 1");
    bench.type("dampers longer", "80");
    QTest::keyClick(bench.find<QLineEdit>("dampers longer"), Qt::Key_Return);
    CHECK(index("dampers 80 mm longer") < sums(bench).all().size());

    bench.click("flex group 4");
    const job::Job before = bench.job();
    bench.click("person more");
    REQUIRE(bench.job().vehicle.loads.size() == 5);
    CHECK(bench.job().fitted == before.fitted);
    CHECK(job::is_aboard(bench.job().vehicle.loads[4], bench.job().trial));
    const double light = sums(bench).all()[0].ascent.height;
    bench.type("vehicle/loads/4/left", "-400");
    CHECK(sums(bench).all()[0].ascent.height != Approx(light).epsilon(1e-6));
    bench.find<QCheckBox>("aboard 4")->click();
    CHECK(bench.job().trial.aboard == before.trial.aboard);
}
