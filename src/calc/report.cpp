#include "calc/report.h"
#include "core/model/tyres.h"
#include "core/say/bar_words.h"
#include "core/say/cautions.h"
#include "core/say/difference_words.h"
#include "core/say/working.h"
#include "core/study/assess.h"
#include "core/sure/bands.h"
#include "core/sure/compare.h"
#include "core/sure/questions.h"

#include "core/study/choices.h"

#include <cmath>
#include <iostream>
#include <unistd.h>
#include <utility>

namespace dervish::calc {
namespace {
using store::Json;
using units::mm, units::N_per_mm, units::deg;

double half_band(const sure::Bands& bands, study::Outcome outcome, double unit) {
    return units::rounded(band_90 * bands.sigma[outcome] / unit);
}

Json figure(double value, double unit, const sure::Bands& bands, study::Outcome outcome) {
    return {{"value", units::rounded(value / unit)}, {"band_90", half_band(bands, outcome, unit)}};
}
} // namespace

Json tally(const job::Job& job, const std::string& name) {
    const job::Setup& setup = job::setup_named(job, name);
    const study::Assessment a = study::assess(job.vehicle, setup);
    const sure::Bands b = sure::bands(job.vehicle, setup);
    const double per_g = deg / units::g;
    Json out = {{"setup", setup.name},
                {"roll_gradient_deg_per_g", figure(a.outcomes[study::RollGradient], per_g, b, study::RollGradient)},
                {"front_share_of_load_transfer", figure(a.outcomes[study::FrontShare], 1, b, study::FrontShare)},
                {"heads_tossed_m_per_s2",
                 units::rounded(study::ride_in_use(job.vehicle, model::to_model(job.vehicle, setup, a.car)).head)},
                {"lift_height_mm", figure(a.outcomes[study::LiftHeight], mm, b, study::LiftHeight)},
                {"lifts", a.ascent.lifted},
                {"travel_front_mm", figure(a.outcomes[study::FrontTravel], mm, b, study::FrontTravel)},
                {"travel_rear_mm", figure(a.outcomes[study::RearTravel], mm, b, study::RearTravel)}};
    if (const auto least = study::smallest_link_margin(setup, a)) {
        out["smallest_link_margin_deg"] = figure(least->first.left, deg, b, study::LinkMargin);
        out["smallest_link_margin_is"] = std::string(name_of(least->second)) + ", " + least->first.what;
    }
    out["cautions"] = say::cautions(job.vehicle, setup, units::System::Metric);
    if (std::isfinite(a.handling.first_lift)) {
        out["first_wheel_lifts_at_g"] = units::rounded(a.handling.first_lift / units::g);
        out["first_wheel"] = car::wheel_names[static_cast<std::size_t>(a.handling.first_wheel)];
        out["first_wheel_lifts"] = car::turn_that_lifts(a.handling.first_wheel);
    }
    return out;
}

namespace {
Json travel(const job::AxleSetup& a, const job::AxleData& axle, const study::BarFigures& f) {
    const study::TravelCurve curve = study::travel_curve(a, axle, 80 * mm);
    const study::Hysteresis loop = study::hysteresis(curve, a, f);
    Json out = {{"points", Json::array()}};
    for (std::size_t i = 0; i < curve.roll.size(); ++i) {
        const bar::TravelPoint& p = curve.roll[i];
        out["points"].push_back({{"wheel_travel_mm", units::rounded(p.travel[1] / curve.link_per_wheel / mm)},
                                 {"right_link_N", units::rounded(p.force[1])},
                                 {"stress_MPa", units::rounded(p.worst.von_mises / units::MPa)},
                                 {"off_square_deg", units::rounded(p.off_square / deg)},
                                 {"wheel_travel_with_play_mm", units::rounded(loop.points[i].wheel_travel / mm)},
                                 {"right_link_going_out_N", units::rounded(loop.points[i].loading)},
                                 {"right_link_coming_back_N", units::rounded(loop.points[i].unloading)}});
    }
    out["yields_at_mm"] = or_why(curve.yields_at, mm, "it does not yield within its travel");
    out["ends_at_mm"] = or_why(curve.ends_at, mm, "the links allow all of the travel");
    return out;
}

Json choices(const job::AxleSetup& a, const job::AxleData& axle) {
    Json worths, tubes = Json::array();
    for (const study::Worth& w : study::worths(a, axle, units::mm))
        worths[say::words_of(w, units::System::Metric)] = units::rounded(w.rate / N_per_mm);
    for (const study::Substitute& t : study::equal_rate_tubes(a, {2 * mm, 2.5 * mm, 3 * mm, 4 * mm, 5 * mm, 6 * mm}))
        tubes.push_back({{"outer_diameter_mm", units::rounded(t.outer_diameter / mm)},
                         {"wall_mm", units::rounded(t.wall / mm)},
                         {"mass_kg", units::rounded(t.mass)},
                         {"times_stress", units::rounded(t.stress)}});
    Json out = {{"rate_at_eye_without_links_after_N_per_mm", worths}, {"equal_rate_tubes", tubes}};
    if (tubes.empty()) out["equal_rate_tubes_why"] = say::no_tube_words;
    return out;
}
} // namespace

Json bar(const job::Job& job, const std::string& name, const std::string& axle) {
    const job::Setup& setup = job::setup_named(job, name);
    const End end = axle == "front" ? End::Front : End::Rear;
    const job::AxleSetup& assembly = setup[end];
    const job::AxleData& on = job.vehicle[end];
    const auto f = study::bar_figures(assembly, on);
    if (!f) return {{"setup", setup.name}, {"axle", axle}, {"bar", nullptr}};
    const sure::Bands b = sure::bands(job.vehicle, setup);
    const bar::Ledger& l = f->ledger;
    Json ladder;
    for (const auto& row : study::eye_ladder(assembly, on)) {
        Json line;
        for (double k : row) line.push_back(units::rounded(k / N_per_mm));
        ladder.push_back(line);
    }
    const auto& k = f->solution.at_links;
    const auto standard = study::bar_figures(job.standard[end], on);
    return {
        {"setup", setup.name},
        {"axle", axle},
        {"bar", assembly.bar.name},
        {"connected", assembly.connected},
        {"rate_at_eye_without_links_N_per_mm", figure(f->eye_rate, N_per_mm, b, study::at(study::FrontRate, end))},
        {"rate_at_link_ends_N_per_mm", units::rounded(f->link_rate / N_per_mm)},
        {"rate_at_wheel_with_links_N_per_mm",
         figure(f->wheel_rate, N_per_mm, b, study::at(study::FrontWheelRate, end))},
        {"roll_stiffness_N_m_per_deg",
         figure(f->roll_stiffness, 1 / deg, b, study::at(study::FrontRollStiffness, end))},
        {"stiffness_matrix_at_link_ends_N_per_mm",
         {{units::rounded(k(0, 0) / N_per_mm), units::rounded(k(0, 1) / N_per_mm)},
          {units::rounded(k(1, 0) / N_per_mm), units::rounded(k(1, 1) / N_per_mm)}}},
        {"one_side_rate_at_link_ends_N_per_mm", figure(f->one_side, N_per_mm, b, study::at(study::FrontOneSide, end))},
        {"twist_only_N_per_mm", units::rounded(f->twist_only / N_per_mm)},
        {"textbook_N_per_mm", units::rounded(f->textbook / N_per_mm)},
        {"mass_kg", units::rounded(f->mass)},
        {"ledger",
         {{"bends_flatten", l.flattening},
          {"twist_centre", l.twist_centre},
          {"twist_arms", l.twist_arms},
          {"bend_centre", l.bend_centre},
          {"bend_arms", l.bend_arms},
          {"shear", l.shear},
          {"mounts", l.mounts},
          {"brackets", l.brackets},
          {"link_bodies", l.link_bodies},
          {"link_joints", l.link_joints}}},
        {"why_the_sums_differ", say::why_sums_differ(*f)},
        {"times_standard_at_wheel",
         or_why(standard && assembly.connected ? std::optional(f->wheel_rate / standard->wheel_rate) : std::nullopt, 1,
                assembly.connected ? "the standard has no bar here" : "its links are off: it does nothing")},
        {"eye_ladder_N_per_mm", ladder},
        {"large_travel", travel(assembly, on, *f)},
        {"choices", choices(assembly, on)}};
}

void tell_progress(std::size_t done, std::size_t of) {
    static std::size_t told = 0;
    const std::size_t percent = of > 0 ? 100 * done / of : 100;
    if (percent == std::exchange(told, percent) || isatty(STDERR_FILENO) == 0) return;
    std::cerr << (percent < 100 ? "\r" + std::to_string(percent) + " %, Ctrl+C stops " : "\r\033[K") << std::flush;
}

Json bands(const job::Job& job, const std::string& name, int draws, unsigned seed) {
    const job::Setup& setup = job::setup_named(job, name);
    const sure::Bands linear = sure::bands(job.vehicle, setup);
    const sure::Draws drawn = sure::draw(job.vehicle, setup, sure::tally(), draws, seed, tell_draws(draws));
    tell_progress(1, 1);
    const sure::Bands shown = sure::with_draws(linear, drawn);
    Json figures;
    for (std::size_t o = 0; o < study::outcome_count; ++o) {
        const units::Unit unit = units::filed(study::outcome_names[o].quantity);
        const auto in_unit = [&](double si) { return units::rounded(si / unit.factor); };
        figures.push_back({{"figure", study::outcome_names[o].words},
                           {"unit", unit.symbol},
                           {"linear_band_90", in_unit(band_90 * linear.sigma[o])},
                           {"band_below", in_unit(shown.sides(o).below)},
                           {"band_above", in_unit(shown.sides(o).above)},
                           {"drawn_5_percent", in_unit(drawn.low[o])},
                           {"drawn_median", in_unit(drawn.median[o])},
                           {"drawn_95_percent", in_unit(drawn.high[o])}});
    }
    return {{"setup", setup.name},
            {"draws", drawn.count},
            {"impossible_draws", drawn.impossible},
            {"ramps_ended_first", drawn.count > 0 ? drawn.ended[study::LiftHeight] : 0},
            {"figures", figures}};
}

Json differs(const job::Job& job, const std::string& from, const std::string& name, int draws) {
    const job::Setup &before = job::setup_named(job, from), &after = job::setup_named(job, name);
    const sure::Figures was = sure::figures_of(job.vehicle, before);
    const sure::GoesOver went = sure::goes_over(job.vehicle, before, Ground::Dry, draws / 2);
    const std::vector<study::Difference> all = study::differences(before, after);
    std::size_t done = 0;
    const auto effect = [&](const job::Setup& setup) -> Json {
        tell_progress(++done, all.size() + 2);
        try {
            const sure::Figures now = sure::figures_of(job.vehicle, setup);
            const auto changes = sure::drawn_changes(job.vehicle, before, was, setup, now, draws);
            const auto of = [&](std::size_t figure, double unit) -> Json {
                const sure::Change& change = changes[figure];
                return {{"by", units::rounded(change.by / unit)},
                        {"band_below", units::rounded(change.sides().below / unit)},
                        {"band_above", units::rounded(change.sides().above / unit)},
                        {"sign", say::sure_words(change)}};
            };
            const sure::GoesOver goes = sure::goes_over(job.vehicle, setup, Ground::Dry, draws / 2);
            return {
                {"roll_gradient_deg_per_g", of(study::RollGradient, units::deg / units::g)},
                {"front_share", of(study::FrontShare, 1)},
                {"limit_g", of(sure::ComparedLimit, units::g)},
                {"heads_tossed_m_per_s2", of(sure::ComparedHeads, 1)},
                {"lift_height_mm", of(study::LiftHeight, units::mm)},
                {"front_travel_mm", of(study::FrontTravel, units::mm)},
                {"rear_travel_mm", of(study::RearTravel, units::mm)},
                {"link_margin_deg", of(study::LinkMargin, units::deg)},
                {"front_first_share_of_drawn_cars",
                 {{"from", share_drawn(went.front)}, {"to", share_drawn(goes.front)}}},
                {"sudden_share_of_drawn_cars", {{"from", share_drawn(went.sudden)}, {"to", share_drawn(goes.sudden)}}}};
        } catch (const BadInput& e) {
            return {{"cannot_stand_alone", e.problem()}};
        }
    };
    Json each = Json::array();
    for (const study::Difference& d : all) {
        const say::DifferenceWords words = say::words_of(d, job.vehicle, before, after, units::System::Metric);
        each.push_back(
            {{"what", words.name}, {"otherwise", words.detail}, {"alone", effect(study::with(before, after, d))}});
    }
    const Json together = effect(after);
    tell_progress(1, 1);
    return {{"from", before.name}, {"to", after.name}, {"differences", each}, {"all_together", together}};
}

std::string why_none(const job::Job& job, const std::string& setup) {
    const study::Assessment a = study::assess(job.vehicle, job::setup_named(job, setup));
    if (std::isfinite(a.outcomes[study::RollGradient]))
        return "this car and what it stands on have no such figure, or it was not found";
    return say::no_figures(job.vehicle, a, units::System::Metric);
}

} // namespace dervish::calc
