#include "app/balance/balance_readings.h"
#include "app/balance/balance_station.h"
#include "app/shell/theme.h"
#include "app/widgets/figure_rows.h"
#include "core/job/complaints.h"
#include "core/job/launch.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <cmath>

/// What the Balance station's pages say.
namespace dervish::app {
namespace {
QString qs(const std::string& s) { return QString::fromStdString(s); }
using Mark = FigureRow::Mark;
QString fixed(double v, int decimals) { return qs(units::fixed(v, decimals)); }
QString signed_number(double v, int decimals, const QString& unit) {
    return (v > 0 ? "+" : "") + fixed(v, decimals) + unit;
}

} // namespace

void BalanceStation::tell_evidence() {
    QString text;
    static const QString marks[] = {tr("supports"), tr("against"), tr("feels the same"), tr("measure")};
    for (int i = 0; i < job::complaint_count; ++i) {
        if (!complaints_[static_cast<std::size_t>(i)]->isChecked()) continue;
        const auto c = static_cast<job::Complaint>(i);
        text += "<p style='margin: 6px 0 2px 0'><b>" + tr(job::words_of(c)).toHtmlEscaped() + "</b></p>";
        for (const job::Evidence& e :
             job::evidence(c, document_.job().vehicle, document_.computed_setup(document_.look()), document_.looked(),
                           *sums_->now())) {
            const bool against = e.kind == job::Evidence::Kind::Against;
            text += QString("<p style='margin: 1px 0'><span style='color: %1'><b>%2</b></span> %3</p>")
                        .arg((against ? theme().caution : theme().soft).name(), marks[static_cast<int>(e.kind)],
                             qs(e.words).toHtmlEscaped());
        }
    }
    evidence_->setText(text.isEmpty() ? tr("Pick what is felt: the figures that speak to it follow, for and against.")
                                      : text);
}

void BalanceStation::say_bump() {
    const job::BalanceFigures &now = *sums_->now(), *before = sums_->fitted();
    std::vector<FigureRow> rows;
    const auto system = document_.units();
    for (std::size_t e = 0; e < 2; ++e) {
        const balance::Bump &b = now.bump[e], *was = before ? &before->bump[e] : nullptr;
        const auto fitted = [&](const QString& text) { return was ? tr("Fitted %1").arg(text) : QString(); };
        const auto rate = [&](double si) { return qs(units::text(si, units::Quantity::Rate, system)); };
        rows.push_back(
            {e == 0 ? tr("Front, one wheel over a bump") : tr("Rear, one wheel over a bump"), {}, {}, Mark::Heading});
        rows.push_back({tr("both wheels, each feels"), rate(b.wheel_rate),
                        fitted(was ? rate(was->wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("one wheel alone feels"), rate(b.one_wheel_rate),
                        fitted(was ? rate(was->one_wheel_rate) : QString()), Mark::Plain});
        rows.push_back({tr("harshness, of the spring"), "× " + fixed(b.harshness, 2),
                        fitted(was ? "× " + fixed(was->harshness, 2) : QString()),
                        b.harshness > 1.8 ? Mark::Caution : Mark::Plain});
        rows.push_back({tr("ride, both wheels"), fixed(b.ride, 2) + " Hz",
                        fitted(was ? fixed(was->ride, 2) + " Hz" : QString()), Mark::Plain});
        rows.push_back({tr("ride, one wheel"), fixed(b.one_wheel, 2) + " Hz",
                        fitted(was ? fixed(was->one_wheel, 2) + " Hz" : QString()), Mark::Plain});
        rows.push_back({tr("rocks the body, a 10 mm step"), fixed(b.rock * 0.01, 2) + " rad/s²",
                        fitted(was ? fixed(was->rock * 0.01, 2) : QString()), Mark::Plain});
    }
    rows.push_back({tr("Pushed from outside"), {}, {}, Mark::Heading});
    const car::Car& car = document_.looked().car;
    rows.push_back({tr("80 kg on the sill"), fixed(job::lean_on_sill(car, 80) / units::deg, 1) + "°",
                    tr("lean, standing still"), Mark::Plain});
    rows.push_back(
        {tr("1 kN of side wind"),
         fixed(job::lean_in_wind(car, 1000, 1.3 * document_.job().vehicle.cg_height.value) / units::deg, 1) + "°",
         tr("lean, a third above the centre of mass"), Mark::Plain});
    if (const auto off = job::launch(document_.job().vehicle, document_.computed_setup(document_.look()))) {
        const std::size_t w = off->front ? 0 : 2;
        const auto force = [&](double f) { return qs(units::text(f, units::Quantity::Force, system, 0)); };
        rows.push_back({tr("Off the line at %1 g").arg(fixed(document_.job().vehicle.handling.launch.value, 2)),
                        {},
                        {},
                        Mark::Heading});
        rows.push_back({tr("driven wheels carry, left · right"), force(off->load[w]) + " · " + force(off->load[w + 1]),
                        tr("propshaft %1 N·m").arg(std::lround(std::abs(off->torque))), Mark::Plain});
        rows.push_back(
            {tr("evened by the right link"),
             off->longer ? qs(units::text(std::abs(*off->longer), units::Quantity::Length, system)) : tr("no length"),
             off->longer ? (*off->longer < 0 ? tr("shorter than the left") : tr("longer than the left")) : QString(),
             Mark::Plain});
    }
    const bool narrow = width() < 1000; // the whole station's
    bump_->show_rows(std::move(rows), narrow ? 1 : 2, {}, narrow ? 0.55 : 0.68);
}

void BalanceStation::say_schools() {
    const job::BalanceFigures& f = *sums_->now();
    const car::Car& car = f.model.car;
    const car::Loaded l = car::loaded(car);
    const double front = l.share[0] + car.front.unsprung_mass, rear = l.share[1] + car.rear.unsprung_mass;
    const double share = document_.looked().outcomes[job::FrontShare], mass = front / (front + rear);
    std::vector<FigureRow> rows;
    rows.push_back({tr("Limit axle and margin"),
                    f.limit().first == balance::Gives::Front  ? tr("front, %1 %").arg(std::lround(100 * f.limit().left))
                    : f.limit().first == balance::Gives::Rear ? tr("rear, %1 %").arg(std::lround(100 * f.limit().left))
                                                              : tr("tips"),
                    tr("uses the tyre itself, steady; the default"),
                    f.limit().first == balance::Gives::Tips ? Mark::Bad : Mark::Plain});
    rows.push_back({tr("Understeer gradient at 0.3 g"), fixed(f.understeer.whole * units::g / units::deg, 2) + "°/g",
                    tr("how it steers on the road, far from the limit; 1 to 3 is usual"), Mark::Plain});
    rows.push_back({tr("Front share of transfer over front mass"), signed_number(100 * (share - mass), 1, " %"),
                    tr("a few points above 0 understeers; leaves the tyres out"), Mark::Plain});
    rows.push_back({tr("Ride frequency, rear over front"), "× " + fixed(f.bump[1].ride / f.bump[0].ride, 2),
                    tr("1.05 to 1.2 settles pitch after a bump; says nothing of grip"), Mark::Plain});
    const balance::Run step = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    rows.push_back(
        {tr("Turn-in: yaw at 90 % after"), step.yaw_90 ? fixed(*step.yaw_90, 2) + " s" : tr("–"),
         tr("response is another answer than steady balance: a stiffer front bar may cost one and help the other"),
         Mark::Plain});
    rows.push_back({tr("The understeer gradient is the sum of"), {}, {}, Mark::Heading});
    const auto& u = f.understeer;
    for (const auto& [what, value] : {std::pair{tr("masses over cornering stiffness"), u.masses_and_tyres},
                                      {tr("load transfer"), u.load_transfer},
                                      {tr("camber"), u.camber},
                                      {tr("roll steer"), u.roll_steer},
                                      {tr("side force on bushes"), u.side_steer},
                                      {tr("aligning moment on the steering"), u.aligning}})
        rows.push_back({what, signed_number(value * units::g / units::deg, 2, "°/g"), {}, Mark::Plain});
    schools_->show_rows(std::move(rows), 1, {}, 0.42);
}

void BalanceStation::work_out_means() {
    sums_->ask();
    const double wanted[] = {0, -0.03, 0.02, sums_->fitted() ? job::balance_of(sums_->fitted()->limit()) : 0};
    job::Rules rules;
    const int rule = rule_->currentIndex();
    if (rule > 0)
        rules = {.front_bar = rule != 2, .rear_bar = rule != 1, .springs = false, .tyres = false, .loads = false};
    std::vector<FigureRow> rows;
    for (const job::Means& m : job::same_balance(document_.job().vehicle, document_.looked().car, sums_->ground(),
                                                 wanted[wanted_->currentIndex()], rules)) {
        if (!m.found) {
            rows.push_back({qs(m.what), {}, qs(m.to), Mark::Plain});
            continue;
        }
        const units::Unit length = units::shown(units::Quantity::Length, document_.units());
        rows.push_back(
            {qs(m.what), qs(m.to),
             tr("roll %1/g · one wheel %2 · limit %3, wet %4 · first lift %5 · ramps %6")
                 .arg(signed_number(m.roll * units::g / units::deg, 1, "°"), signed_number(m.harshness, 2, ""),
                      signed_number(m.limit / units::g, 3, ""), signed_number(m.wet / units::g, 3, " g"),
                      signed_number(m.first_lift / units::g, 2, " g"),
                      signed_number(m.articulation / length.factor, document_.units() == units::System::Metric ? 0 : 1,
                                    " " + QString::fromUtf8(length.symbol.data()))),
             m.limit < -0.005 * units::g ? Mark::Caution : Mark::Plain});
    }
    means_->show_rows(std::move(rows), 1, tr("The rules leave nothing to change."), 0.27);
}

} // namespace dervish::app
