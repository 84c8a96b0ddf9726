#include <catch2/catch.hpp>

#include "bench_window.h"
#include "ink.h"

#include "app/shell/stations.h"
#include "app/window_thread.h"
#include "core/edit/tests.h"
#include "core/say/job_sheet.h"
#include "core/say/report.h"
#include "core/say/test_sheet.h"
#include "store/json_job.h"

#include <QRegularExpression>
#include <map>
#include <optional>
#include <set>

using namespace dervish;
using namespace dervish::app;

namespace {
/// Words that end so because they are written so: an action that asks something first, and work that is not done yet.
bool meant(const QString& text) { return text == "…" || text.endsWith("out …") || text == "right eye 1 (outer) …"; }

/// Whether it tells a number in a unit that who works in inches did not choose, and that is not of `own` words.
bool is_metric(const QString& text, const QString& own) {
    static const QRegularExpression number("[\\d.]+ (mm|cm|m|km|N|kN|N/mm|N·m|kg|km/h|bar|kPa)(?![\\w/²·])");
    for (auto at = number.globalMatch(text); at.hasNext();)
        if (!own.contains(at.next().captured())) return true;
    return false;
}

/// The most of a unit that has to do with a model of a tenth, whose tracks are 160 mm and which weighs 16 N.
bool too_large_for_a_model(const QString& text) {
    static const std::map<QString, double> most{{"mm", 700}, {"m", 100},   {"km/h", 60}, {"N", 60},
                                                {"kN", 0},   {"N/mm", 100}, {"kg", 3},    {"N·m", 10}};
    static const QRegularExpression number("([\\d.]+) (mm|m|N|kN|N/mm|N·m|kg|km/h)(?![\\w/²³·])");
    for (auto at = number.globalMatch(text); at.hasNext();) {
        const auto found = at.next();
        if (found.captured(1).toDouble() > most.at(found.captured(2))) return true;
    }
    return false;
}

/// What is cut, covered or left out on the window as it is now, each widget told once; and where `own` is all that the
/// person wrote, every metric number that is not from there; and what is `odd`.
QStringList faults_of(QWidget& window, const std::optional<QString>& own, bool (*odd)(const QString&)) {
    QStringList out;
    for (QWidget* w : window.findChildren<QWidget*>()) {
        if (!w->isVisible() || w->size().isEmpty() || w->visibleRegion().isEmpty()) continue;
        const auto* button = qobject_cast<QAbstractButton*>(w);
        const Ink ink = Ink::of(*w);
        for (const QString& fault : ink.faults()) out << fault;
        for (const Word& word : ink.words)
            if (word.text.contains("…") && !meant(word.text) && !(button && button->text().contains(word.text)))
                out << "left out: " + word.text;
        for (const Word& word : ink.words)
            if (own && is_metric(word.text, *own)) out << "metric: " + word.text;
        for (const Word& word : ink.words)
            if (odd && odd(word.text)) out << "odd: " + word.text;
        for (QString& fault : out)
            if (!fault.contains(" @ ")) fault += QString(" @ %1 %2").arg(w->metaObject()->className(), w->objectName());
    }
    return out;
}

/// Every chip of the station in turn, those that a chip brings up too.
/// `arrived`: once all is there that is worked out for a page; else as soon as it is laid out. `each_test`: every test
/// of Prove, not the first alone.
void look_at_all(Bench& bench, const char* title, std::set<QString>& found, bool arrived = true, bool each_test = true,
                 bool (*odd)(const QString&) = nullptr) {
    bench.window.show_station(title);
    std::optional<QString> own;
    if (bench.document().units() == units::System::Inch)
        own = QString::fromStdString(store::to_json(bench.job()).dump());
    const auto look = [&](const QString& where) {
        if (arrived) bench.settle();
        for (int turn = 0; turn < 4; ++turn) QCoreApplication::processEvents();
        for (const QString& fault : faults_of(bench.window, own, odd))
            found.insert(fault + " @ " + title + " " + where);
    };
    look("");
    std::set<QString> seen;
    for (bool more = true; more;) {
        more = false;
        for (QAbstractButton* b : bench.window.station(title)->findChildren<QAbstractButton*>()) {
            if (!b->group() || !b->isVisible() || !b->isEnabled() || !seen.insert(b->objectName()).second) continue;
            b->click();
            look(b->objectName());
            more = true;
            break;
        }
    }
    // Every test as it was run, and what people felt in it.
    if (auto* tests = each_test ? bench.find<QComboBox>("tests") : nullptr)
        for (int i = 0; i < tests->count(); ++i) {
            emit tests->activated(i);
            for (const char* part : {"reading Runs", "reading People"}) {
                bench.click(part);
                look(tests->itemText(i) + " " + part);
            }
        }
}
} // namespace

TEST_CASE("no word of any page is cut, covered, left out or in the other units, at either size", "[.fits]") {
    Bench bench;
    std::set<QString> found;
    for (const char* file : {"hut-van", "hill-sprint"}) {
        bench.document().open(QString(demo_path()).replace("hut-van", file).toStdString());
        for (const QSize size : {QSize(1280, 800), QSize(1024, 700)})
            for (const units::System system : {units::System::Metric, units::System::Inch}) {
                bench.window.resize(size);
                bench.document().set_units(system);
                for (const StationKind& kind : station_kinds()) look_at_all(bench, kind.title, found);
            }
    }
    const QStringList all(found.begin(), found.end());
    CAPTURE(all.join("\n").toStdString());
    CHECK(all.isEmpty());
}

TEST_CASE("no word of any page is cut, covered or left out before all is worked out, and while it is old",
          "[.between]") {
    Bench bench;
    bench.window.resize(1024, 700);
    std::set<QString> found;
    const auto look = [&](const char* state, bool arrived) {
        std::set<QString> here;
        for (const StationKind& kind : station_kinds()) look_at_all(bench, kind.title, here, arrived, false);
        for (const QString& fault : here) found.insert(QString(state) + ": " + fault);
    };
    bench.document().open(QString(demo_path()).replace("hut-van", "hill-sprint").toStdString());
    bench.document().set_units(units::System::Inch);
    const double wheelbase = bench.job().vehicle.wheelbase.value;
    bench.document().work_up_to(Document::Depth::Nothing);
    hold_workers(true); // nothing of this car is there yet, on any page
    bench.document().edit("another car", {}, [&](job::Job& j) { j.vehicle.wheelbase.value = 1.001 * wheelbase; });
    look("nothing yet", false);
    hold_workers(false);
    bench.document().work_up_to(Document::Depth::Straight);
    look("by straight lines", true);
    bench.document().type("vehicle/wheelbase", "9 mm");
    CHECK(bench.document().old());
    look("old", true);
    const QStringList all(found.begin(), found.end());
    CAPTURE(all.join("\n").toStdString());
    CHECK(all.isEmpty());
}

TEST_CASE("no page nor paper of a model of a tenth tells or asks a length, speed, force or mass of a car's size, and a "
          "bus has all of them") {
    for (const job::CarKind kind : {job::CarKind::Model, job::CarKind::Truck}) {
        Bench bench;
        job::NewCar asked{.name = "another size", .kind = kind};
        asked.suspension = job::usual_suspension(kind);
        asked.driven = job::usual_drive(kind);
        bench.document().edit("another car", {}, [&](job::Job& j) {
            j = job::new_car(asked);
            j.trial.front.springs.rate.value *= 1.1;
            j.trial.front.springs.id = "others";
            edit::plan_test(j, {"ramps", "", "", "diagonal_ramps", job::Asks::SumOrCar, {}});
        });
        auto* odd = kind == job::CarKind::Model ? too_large_for_a_model : nullptr;
        std::set<QString> found;
        for (const StationKind& station : station_kinds()) look_at_all(bench, station.title, found, true, true, odd);
        const job::Job& j = bench.job();
        for (const std::string& paper :
             {say::report(j, say::ReportOf::Job, 0, "2032-01-01", units::System::Metric, say::usual_template()),
              say::report(j, say::ReportOf::Bar, 0, "2032-01-01", units::System::Metric, say::usual_template()),
              say::test_sheet(j, j.tests.read()[0], units::System::Metric),
              say::job_sheet_html(j, say::job_sheet(j, j.fitted, j.trial, units::System::Metric),
                                  units::System::Metric)})
            for (const QString& line : QString::fromStdString(paper).split(QRegularExpression("<[^>]*>")))
                if (odd && odd(line)) found.insert("odd: " + line + " @ paper");
        const QStringList all(found.begin(), found.end());
        CAPTURE(job::name_of(kind), all.join("\n").toStdString());
        CHECK(all.isEmpty());
    }
}
