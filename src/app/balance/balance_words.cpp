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
#include "core/say/difference_words.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/choices.h"
#include "core/study/cures.h"
#include "core/study/launch.h"
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
        if (say::aim_of(c))
            text += QString("<p style='margin: 1px 0'><a href='%1' style='color: %2'><b>%3</b></a></p>")
                        .arg(QString::number(i), theme().ink.name(), tr("what would help: cures, side by side"));
    }
    evidence_->setText(text.isEmpty() ? tr("Pick what is felt: the figures that speak to it follow, for and against.")
                                      : text);
}

void BalanceStation::say_bump() {
    std::vector<FigureRow> rows;
    const auto system = document_.units();
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
        rows.push_back(
            {tr("driven wheels carry, left · right"), force(off->load[w]) + " · " + force(off->load[w + 1]),
             tr("propshaft %1").arg(qs(units::text(std::abs(off->torque), units::Quantity::Moment, system, 0))),
             Mark::Plain});
        rows.push_back(
            {tr("what the torque adds goes by the right link"),
             off->longer ? qs(units::text(std::abs(*off->longer), units::Quantity::Length, system)) : tr("no length"),
             off->longer ? (*off->longer < 0 ? tr("shorter than the left") : tr("longer than the left")) : QString(),
             Mark::Plain});
    }
    const bool narrow = width() < 1000; // the whole station's
    bump_->show_rows(std::move(rows), narrow ? 1 : 2, {}, narrow ? 0.55 : 0.68);
}

namespace {
/// Between what a school's reading is drawn, SI, in the order of study::all_schools: about what road and racing cars
/// have.
struct SchoolScale {
    double low, high;
    const char *low_word, *high_word;
};
constexpr SchoolScale school_scales[] = {
    {-0.3, 0.3, "front first", "rear first"},
    {-3 * units::deg / units::g, 6 * units::deg / units::g, "oversteers", "understeers"},
    {-0.2, 0.2, "oversteers", "understeers"},
    {-0.4, 0.4, "front quicker", "rear quicker"},
    {0, 1, "calm", "tossed"}};
} // namespace

void BalanceStation::say_schools() {
    const study::BalanceFigures &f = *sums_->now(), *before = sums_->fitted();
    std::vector<FigureRow> rows;
    for (const study::Aim school : study::all_schools) {
        const say::AimWords words = say::words_of(school);
        const auto told = [&](const balance::Model& model) {
            const auto value = study::reading(school, model);
            const units::Unit unit = units::shown(study::scale_of(school).quantity, document_.units());
            return value ? signed_number(*value / unit.factor, unit.decimals, " " + qs(unit.symbol)) : tr("none here");
        };
        QString value = told(f.model);
        if (before) value += tr(" (Fitted %1)").arg(told(before->model));
        QString reason = tr(words.reason);
        if (const auto& change = sums_->steady_change(); !change.empty() && std::isfinite(change[rows.size()].by)) {
            const units::Unit unit = units::shown(study::scale_of(school).quantity, document_.units());
            reason = tr("Trial changes it by %1: %2; %3")
                         .arg(change_words(change[rows.size()], unit.factor, unit.decimals),
                              qs(say::sure_words(change[rows.size()])), reason);
        }
        rows.push_back({tr(words.name), value, reason, Mark::Plain});
        const SchoolScale& scale = school_scales[rows.size() - 1]; // a row each so far
        if (const auto now = study::reading(school, f.model))
            rows.back().scale = FigureRow::Scale{scale.low,
                                                 scale.high,
                                                 *now,
                                                 before ? study::reading(school, before->model) : std::nullopt,
                                                 tr(scale.low_word),
                                                 tr(scale.high_word)};
    }
    const balance::Run step = balance::drive(f.model, {balance::Manoeuvre::Step, 20, 0.35 * f.limit().lateral});
    rows.push_back(
        {tr("Turn-in: yaw at 90 % after"), step.yaw_90 ? fixed(*step.yaw_90, 2) + " s" : tr("–"),
         tr("response is another answer than steady balance: a stiffer front bar may cost one and help the other"),
         Mark::Plain});
    rows.push_back({tr("Who gives up first"), {}, phases_of(*sums_), Mark::Plain});
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

} // namespace dervish::app
