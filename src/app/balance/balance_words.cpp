#include "core/say/balance_words.h"
#include "app/balance/balance_readings.h"
#include "app/balance/balance_station.h"
#include "app/shell/theme.h"
#include "app/widgets/figure_rows.h"
#include "app/widgets/number_edit.h"
#include "app/words.h"
#include "core/edit/edits.h"
#include "core/edit/setups.h"
#include "core/model/tyres.h"
#include "core/say/complaints.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/choices.h"
#include "core/study/launch.h"
#include "core/study/means.h"
#include "core/study/outside.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <cmath>

/// What the Balance station's pages say.
namespace dervish::app {
namespace {
using Mark = FigureRow::Mark;
QString fixed(double v, int decimals) { return qs(units::fixed(v, decimals)); }
QString signed_number(double v, int decimals, const QString& unit) {
    return (v > 0 ? "+" : "") + fixed(v, decimals) + unit;
}

} // namespace

void BalanceStation::tell_evidence() {
    QString text;
    say::EvidenceBands bands;
    if (document_.bands()) bands.roll = band_90 * document_.bands()->sigma[study::RollGradient];
    if (sums_->bands()) {
        bands.limit = band_90 * sums_->bands()->sigma[sure::LimitLateral];
        bands.balance = band_90 * sums_->bands()->sigma[sure::LimitBalance];
    }
    bands.rocking = sums_->rocking(false);
    bands.front_bar = sums_->best(End::Front);
    static const QString marks[] = {tr("supports"), tr("against"), tr("feels the same"), tr("measure"), tr("open")};
    for (int i = 0; i < say::complaint_count; ++i) {
        if (!complaints_[static_cast<std::size_t>(i)]->isChecked()) continue;
        const auto c = static_cast<say::Complaint>(i);
        const Ground on = say::ground_of(c, sums_->ground());
        text += "<p style='margin: 6px 0 2px 0'><b>" + tr(say::words_of(c)).toHtmlEscaped() + "</b>, " +
                (on == sums_->ground() ? tr("on %1 ground as chosen above") : tr("on %1 ground")).arg(tr(name_of(on))) +
                "</p>";
        for (const say::Evidence& e : say::evidence(c, document_.computed().vehicle(), document_.computed().setup(),
                                                    document_.looked(), *sums_->now(), bands, document_.units())) {
            const bool against = e.kind == say::Evidence::Kind::Against;
            text += QString("<p style='margin: 1px 0'><span style='color: %1'><b>%2</b></span> %3</p>")
                        .arg((against ? theme().caution : theme().soft).name(), marks[static_cast<int>(e.kind)],
                             qs(e.words).toHtmlEscaped());
        }
    }
    evidence_->setText(text.isEmpty() ? tr("Pick what is felt: the figures that speak to it follow, for and against.")
                                      : text);
}

void BalanceStation::say_bump() {
    const study::BalanceFigures &now = *sums_->now(), *before = sums_->fitted();
    std::vector<FigureRow> rows;
    const auto system = document_.units();
    for (std::size_t e = 0; e < 2; ++e) {
        const balance::Bump &b = now.bump[e], *was = before ? &before->bump[e] : nullptr;
        const auto fitted = [&](const QString& text) { return was ? tr("Fitted %1").arg(text) : QString(); };
        const auto rate = [&](double si) { return qs(units::text(si, units::Quantity::Rate, system)); };
        rows.push_back(
            {e == 0 ? tr("Front, one wheel over a bump of 10 mm") : tr("Rear, one wheel over a bump of 10 mm"),
             {},
             {},
             Mark::Heading});
        rows.push_back({tr("both wheels, each feels"), rate(b.wheel_rate),
                        fitted(was ? rate(was->wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("one wheel alone feels"), rate(b.one_wheel_rate),
                        fitted(was ? rate(was->one_wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("that over both wheels"), "× " + fixed(b.harshness, 2),
                        fitted(was ? "× " + fixed(was->harshness, 2) : QString()),
                        b.harshness > 1.8 ? Mark::Caution : Mark::Plain});
        rows.push_back({tr("ride, both wheels"), fixed(b.ride, 2) + " Hz",
                        fitted(was ? fixed(was->ride, 2) + " Hz" : QString()), Mark::Plain});
        rows.push_back({tr("ride, one wheel"), fixed(b.one_wheel, 2) + " Hz",
                        fitted(was ? fixed(was->one_wheel, 2) + " Hz" : QString()), Mark::Plain});
    }
    if (const auto& rocks = sums_->rocking(false), &rocked = sums_->rocking(true); rocks) {
        rows.push_back({tr("One side over a kerb of %1 at %2, straight on")
                            .arg(qs(units::text(study::rocking_kerb, units::Quantity::Length, system,
                                                system == units::System::Metric ? 0 : 1)),
                                 qs(units::text(now.model.road.speed, units::Quantity::Speed, system, 0))),
                        {},
                        {},
                        Mark::Heading});
        const auto tossed = [&](const QString& what, double head, double was) {
            rows.push_back(
                {what, fixed(head, 1) + " m/s²", rocked ? tr("Fitted %1").arg(fixed(was, 1)) : QString(), Mark::Plain});
        };
        tossed(tr("tosses heads sideways by"), rocks->now, rocked ? rocked->now : 0);
        for (const End end : both_ends)
            if (const job::AxleSetup& a = document_.looked_setup()[end]; a.fitted && a.connected)
                tossed(end == End::Front ? tr("without the front bar") : tr("without the rear bar"),
                       rocks->without[end], rocked ? rocked->without[end] : 0);
    }
    rows.push_back({tr("Pushed from outside"), {}, {}, Mark::Heading});
    const car::Car& car = document_.looked().car;
    const study::Outside push = study::outside(document_.computed().vehicle());
    const auto lean = [](const std::optional<double>& a) {
        return a ? fixed(*a / units::deg, 1) + "°" : tr("it goes over");
    };
    rows.push_back({tr("%1 standing %2 out")
                        .arg(qs(units::text(push.person, units::Quantity::Mass, system, 0)),
                             qs(units::text(push.out, units::Quantity::Length, system, 0))),
                    lean(study::lean_by_person(car, push)), tr("lean, standing still"), Mark::Plain});
    rows.push_back({tr("side wind, %1").arg(qs(units::text(push.wind, units::Quantity::Force, system, 0))),
                    lean(study::lean_in_wind(car, push)),
                    tr("lean, %1 up").arg(qs(units::text(push.height, units::Quantity::Length, system, 0))),
                    Mark::Plain});
    if (const auto off = study::launch(document_.computed().vehicle(), document_.computed().setup())) {
        const std::size_t w = wheel_at(off->end, 0);
        const auto force = [&](double f) { return qs(units::text(f, units::Quantity::Force, system, 0)); };
        rows.push_back({tr("Off the line at %1 g").arg(fixed(document_.computed().vehicle().handling.launch.value, 2)),
                        {},
                        {},
                        Mark::Heading});
        rows.push_back({tr("driven wheels carry, left · right"), force(off->load[w]) + " · " + force(off->load[w + 1]),
                        tr("propshaft %1 N·m").arg(std::lround(std::abs(off->torque))), Mark::Plain});
        rows.push_back(
            {tr("what the torque adds goes by the right link"),
             off->longer ? qs(units::text(std::abs(*off->longer), units::Quantity::Length, system)) : tr("no length"),
             off->longer ? (*off->longer < 0 ? tr("shorter than the left") : tr("longer than the left")) : QString(),
             Mark::Plain});
    }
    const bool narrow = width() < 1000; // the whole station's
    bump_->show_rows(std::move(rows), narrow ? 1 : 2, {}, narrow ? 0.55 : 0.68);
}

void BalanceStation::say_schools() {
    const study::BalanceFigures &f = *sums_->now(), *before = sums_->fitted();
    std::vector<FigureRow> rows;
    for (const study::School school : study::all_schools) {
        const say::SchoolWords words = say::words_of(school);
        const auto told = [&](const balance::Model& model) {
            const auto value = study::reading(school, model);
            const units::Unit unit = units::shown(study::scale_of(school).quantity, document_.units());
            return value
                       ? signed_number(*value / unit.factor, unit.decimals, " " + QString::fromUtf8(unit.symbol.data()))
                       : tr("none here");
        };
        QString value = told(f.model);
        if (before) value += tr(" (Fitted %1)").arg(told(before->model));
        rows.push_back({tr(words.name), value, tr(words.reason), Mark::Plain});
    }
    const balance::Run step = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    rows.push_back(
        {tr("Turn-in: yaw at 90 % after"), step.yaw_90 ? fixed(*step.yaw_90, 2) + " s" : tr("–"),
         tr("response is another answer than steady balance: a stiffer front bar may cost one and help the other"),
         Mark::Plain});
    rows.push_back({tr("Out of a bend"), {}, qs(say::words_of(f.most_pull, 0.5 * f.limit().lateral)), Mark::Plain});
    if (const auto& u = f.understeer) {
        rows.push_back({tr("The understeer gradient is the sum of"), {}, {}, Mark::Heading});
        for (const auto& [what, value] : {std::pair{tr("masses over cornering stiffness"), u->masses_and_tyres},
                                          {tr("load transfer"), u->load_transfer},
                                          {tr("camber"), u->camber},
                                          {tr("roll steer"), u->roll_steer},
                                          {tr("side force on bushes"), u->side_steer},
                                          {tr("aligning moment on the steering"), u->aligning}})
            rows.push_back({what, signed_number(value * units::g / units::deg, 2, "°/g"), {}, Mark::Plain});
    }
    schools_->show_rows(std::move(rows), 1, {}, 0.42);
}

void BalanceStation::ask_school() {
    const auto school = static_cast<study::School>(school_->currentIndex());
    const study::SchoolScale scale = study::scale_of(school);
    const units::Unit unit = units::shown(scale.quantity, document_.units());
    wanted_->set_spec(
        {"wanted balance", "Balance wanted", scale.quantity, job::Tool::Test, -50 * unit.factor, 50 * unit.factor});
    wanted_->set_value(scale.usual);
    wanted_unit_->setText(school == study::School::RideFirst ? tr("m/s²") : QString::fromUtf8(unit.symbol.data()));
    school_->setToolTip(tr(say::words_of(school).reason));
}

void BalanceStation::want_fitted() {
    const auto school = static_cast<study::School>(school_->currentIndex());
    const balance::Model fitted =
        model::to_model(document_.computed(Look::Fitted).vehicle(), document_.computed(Look::Fitted).setup(),
                        document_.fitted().car, sums_->ground());
    if (const auto value = study::reading(school, fitted))
        wanted_->set_value(units::as_filed(*value, study::scale_of(school).quantity));
}

void BalanceStation::put_on_trial() {
    const auto chosen = static_cast<std::size_t>(cure_->currentData().toInt());
    if (chosen >= found_.size()) return;
    const study::Means m = found_[chosen];
    const QString what = qs(say::words_of(m, document_.computed().vehicle())),
                  to = qs(say::answer_of(m, document_.units()));
    if (m.lever == study::Means::Lever::Load) { // where it stands is the car's own
        emit field_wanted(qs(m.path()));
        return;
    }
    if (m.lever == study::Means::Lever::NewBar) { // its figure is what to look for
        means_note_->setText(tr("Fit a bar there (Bar, Front or Rear) that has %1 on the car.").arg(to));
        return;
    }
    const End end = m.end;
    const job::Setup setup = document_.looked_setup();
    if (m.lever != study::Means::Lever::Bar) {
        document_.edit(tr("%1 %2 on Trial").arg(what, to), {},
                       [&](job::Job& job) { edit::take_means(job, setup[end], m.path(), m.value); });
        document_.set_look(Look::Trial);
        means_note_->setText(tr("On Trial: %1 %2.").arg(what, to));
        return;
    }
    const auto bar = study::with_rate(setup[end], m.value);
    if (!bar) {
        means_note_->setText(tr("No diameter up to 100 mm makes this bar %1.").arg(to));
        return;
    }
    document_.edit(tr("%1 %2 on Trial").arg(what, to), {}, [&](job::Job& job) { edit::put_bar(job, end, *bar); });
    document_.set_look(Look::Trial);
    means_note_->setText(bar->connected ? tr("On Trial: %1 now %2.")
                                              .arg(what, qs(units::text(bar->bar.outer_diameter.value,
                                                                        units::Quantity::Length, document_.units(), 2)))
                                        : tr("On Trial: %1 off. Tie its links up or take them off.").arg(what));
}

void BalanceStation::work_out_means() {
    const auto school = static_cast<study::School>(school_->currentIndex());
    study::Rules rules;
    const int rule = rule_->currentIndex();
    if (rule > 0) rules = {.bars = {rule != 2, rule != 1}, .springs = false, .tyres = false, .loads = false};
    means_->show_rows({}, 1, tr("Being worked out …"));
    cures_->hide();
    working_means_.start(
        [vehicle = document_.computed().vehicle(), setup = document_.computed().setup(), car = document_.looked().car,
         ground = sums_->ground(), school, wanted = wanted_->value(),
         rules](const auto&) { return study::same_balance(vehicle, setup, car, ground, school, wanted, rules); });
}

QStringList BalanceStation::costs(const study::Means& m) const {
    const units::Unit length = units::shown(units::Quantity::Length, document_.units()),
                      rate = units::shown(units::Quantity::Rate, document_.units());
    const auto symbol = [](const units::Unit& u) { return " " + QString::fromUtf8(u.symbol.data()); };
    QStringList better, worse;
    const auto say = [&](const QString& what, double by, bool more_is_better, int decimals, const QString& unit) {
        if (std::abs(by) < 0.5 * std::pow(10, -decimals)) return;
        ((by > 0) == more_is_better ? better : worse) << what + " " + signed_number(by, decimals, unit);
    };
    say(tr("limit"), m.limit / units::g, true, 3, " g");
    say(tr("wet"), m.wet / units::g, true, 3, " g");
    say(tr("lean"), m.roll * units::g / units::deg, false, 1, "°/g");
    say(tr("one wheel"), m.one_wheel / rate.factor, false, rate.decimals, symbol(rate));
    say(tr("heads"), m.head, false, 2, " m/s²");
    say(tr("lift"), m.first_lift / units::g, true, 2, " g");
    say(tr("ramps"), m.articulation / length.factor, true, document_.units() == units::System::Metric ? 0 : 1,
        symbol(length));
    if (std::abs(m.link) >= 1)
        (m.link > 0 ? worse : better) << tr("links ") + (m.link > 0 ? "+" : "") +
                                             qs(units::text(m.link, units::Quantity::Force, document_.units(), 0));
    QStringList out;
    if (!worse.isEmpty()) out << tr("worse: %1").arg(worse.join(", "));
    if (!better.isEmpty()) out << tr("better: %1").arg(better.join(", "));
    return out.isEmpty() ? QStringList{tr("costs nothing that shows")} : out;
}

void BalanceStation::show_means() {
    std::vector<FigureRow> rows;
    found_ = *working_means_.value();
    cure_->clear();
    means_note_->clear();
    for (const study::Means& m : found_) {
        const QString what = qs(say::words_of(m, document_.computed().vehicle())),
                      to = qs(say::answer_of(m, document_.units()));
        if (!m.found()) {
            rows.push_back({what, {}, to, Mark::Plain});
            continue;
        }
        cure_->addItem(what + " " + to, static_cast<int>(&m - found_.data()));
        const QStringList lines = costs(m);
        for (int line = 0; line < lines.size(); ++line)
            rows.push_back({line == 0 ? what : QString(), line == 0 ? to : QString(), lines[line],
                            line == 0 && m.limit < -0.005 * units::g ? Mark::Caution : Mark::Plain});
    }
    cures_->setVisible(cure_->count() > 0);
    means_->show_rows(std::move(rows), 1, tr("The rules leave nothing to change."), 0.21);
}

} // namespace dervish::app
