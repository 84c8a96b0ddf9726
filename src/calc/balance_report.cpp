#include "calc/report.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/say/balance_words.h"
#include "core/say/complaints.h"
#include "core/study/balance.h"
#include "core/study/cures.h"
#include "core/study/outside.h"
#include "core/sure/draws.h"

namespace dervish::calc {
namespace {
using store::Json;
using units::deg, units::g, units::mm;

constexpr const char* gives[] = {"front", "rear", "tips over", "nothing below 2 g"};

Json limit(const balance::Limit& l) {
    return {{"lateral_g", units::rounded(l.lateral / g)},
            {"gives_first", gives[static_cast<int>(l.first)]},
            {"left_at_the_other", units::rounded(l.left)},
            {"lean_deg", units::rounded(l.at.lean() / deg)},
            {"sentence", say::sentence(l)}};
}

/// With what is known of its spread.
Json limit(const balance::Limit& l, const sure::Bands& bands) {
    Json out = limit(l);
    const double balance = bands.sigma[sure::LimitBalance];
    out["lateral_half_90_g"] = units::rounded(band_90 * bands.sigma[sure::LimitLateral] / g);
    out["chance_of_first"] = units::rounded(say::chance_of_first(l, balance));
    out["sentence"] = say::sentence(l, say::chance_of_first(l, balance));
    return out;
}

Json limit(const balance::Limit& l, const sure::PhaseBand& band) {
    Json out = limit(l);
    const double chance = say::chance_of_first(l, band);
    out["lateral_90_between_g"] = {units::rounded(band.least / g), units::rounded(band.most / g)};
    out["chance_of_first"] = units::rounded(chance);
    out["sentence"] = say::sentence(l, chance);
    return out;
}

Json sweep(const std::vector<study::BarPoint>& points) {
    Json out = Json::array();
    for (const study::BarPoint& p : points) out.push_back({{"bar_times", p.factor}, {"limit", limit(p.limit)}});
    return out;
}

Json manoeuvre(const balance::Model& model, const balance::Drive& what) {
    const balance::Run run = balance::drive(model, what);
    const auto same_line = [&]() -> Json {
        if (run.done()) return "at this speed too";
        return or_why(balance::fastest_on_line(model, what), 1 / 3.6, "not at a fifth of this speed either");
    };
    const auto maybe = [](const std::optional<double>& v) { return or_why(v, 1, "it was not reached in the run"); };
    const auto correct = [&]() -> Json {
        if (!run.correct) return "none: nobody corrects in this one, or it is not followed so far";
        return {{"aside_after_1s_mm", units::rounded(run.correct->after_1s / units::mm)},
                {"aside_mm", units::rounded(run.correct->aside / units::mm)},
                {"turned_deg", units::rounded(run.correct->turned / deg)},
                {"yaw_more_deg_per_s", units::rounded(run.correct->yaw / deg)}};
    };
    return {
        {"stands", run.stands},
        {"holds", run.holds},
        {"steers_so_below_km_per_h", run.slower ? Json(units::rounded(3.6 * *run.slower)) : Json("at this speed too")},
        {"same_line_up_to_km_per_h", same_line()},
        {"followed", run.followed},
        {"yaw_90_s", maybe(run.yaw_90)},
        {"lateral_90_s", maybe(run.lateral_90)},
        {"roll_peak_deg", units::rounded(run.roll_peak / deg)},
        {"roll_overshoot", maybe(run.roll_overshoot)},
        {"lowest_load_N", units::rounded(run.lowest_load)},
        {"lowest_wheel", car::wheel_names[static_cast<std::size_t>(run.lowest_wheel)]},
        {"in_air_s", units::rounded(run.in_air)},
        {"seat_m_per_s2", units::rounded(run.seat)},
        {"head_m_per_s2", units::rounded(run.head)},
        {"driver_corrects", correct()}};
}
} // namespace

Json cures(const job::Job& job, const std::string& name, Ground ground, study::Aim aim, double wanted,
           const std::optional<Keep>& keep) {
    const job::Setup& setup = job::setup_named(job, name);
    const units::Unit unit = units::shown(study::scale_of(aim).quantity, units::System::Metric);
    const std::vector<job::TyreData> sets = study::other_tyres(job, setup);
    const study::Cures found = study::cures(job.vehicle, setup, ground, aim, wanted * unit.factor,
                                            {.people = study::people_aboard(job)}, sets);
    Json ways = Json::array();
    for (const study::Cure& way : found.ways) {
        Json to{{"what", say::words_of(way, job.vehicle, sets)},
                {"to", say::answer_of(way, setup, units::System::Metric)},
                {"does", or_why(way.helps() ? std::optional(way.share) : std::nullopt, 1, "this way does not help")}};
        if (const std::string sold = say::nearest_sold(way, job.stock, units::System::Metric); !sold.empty())
            to["nearest_sold"] = sold;
        to["dangers"] = Json::array();
        for (const study::Danger& danger : way.dangers) {
            to["dangers"].push_back({{"words", say::words_of(danger)}});
            if (danger.what != study::Danger::What::Sudden) {
                to["dangers"].back()["was_g"] = units::rounded(danger.was / g);
                to["dangers"].back()["is_g"] = units::rounded(danger.is / g);
            }
        }
        if (way.helps())
            for (const say::CostLine& line : say::cost_lines(found.costs, way.then, units::System::Metric))
                to["then"][line.what] = {{"is", line.value},
                                         {"change", line.change},
                                         {"better", line.better == 0 ? Json("alike") : Json(line.better > 0)}};
        ways.push_back(std::move(to));
    }
    if (keep) {
        if (keep->way < 1 || keep->way > static_cast<int>(found.ways.size()) ||
            !found.ways[static_cast<std::size_t>(keep->way) - 1].to)
            throw BadInput("put", "no way " + std::to_string(keep->way) + " that is a setup",
                           "the place of one in the list, from 1");
        *keep->to = *found.ways[static_cast<std::size_t>(keep->way) - 1].to;
    }
    return {{"setup", setup.name},
            {"ground", name_of(ground)},
            {"aim", say::words_of(aim).name},
            {"unit", study::scale_of(aim).unit.empty() ? std::string(unit.symbol) : study::scale_of(aim).unit},
            {"now", units::rounded(found.now.value_or(std::nan("")) / unit.factor)},
            {"wanted", units::rounded(wanted)},
            {"ways", ways}};
}

Json share_drawn(double share) {
    return or_why(std::isfinite(share) ? std::optional(share) : std::nullopt, 1, "no car was drawn, or each tips over");
}

Json balance(const job::Job& job, const std::string& name, Ground ground, int draws) {
    const job::Setup& setup = job::setup_named(job, name);
    const car::Car car = model::car_with(job.vehicle, setup);
    const study::BalanceFigures f = study::balance_figures(job.vehicle, setup, car, ground);
    Json phases, curve = Json::array(), runs, grid, means = Json::array();
    const auto best = [&](End end) -> Json {
        if (!setup[end].fitted || !setup[end].connected) return {};
        const sure::BestBarBand b = sure::best_bar(job.vehicle, setup, ground, end);
        return {{"bar_times", units::rounded(b.factor)},
                {"90_of_100_between", {units::rounded(b.least), units::rounded(b.most)}},
                {"gains_g", units::rounded(b.gain / g)},
                {"gains_g_between", {units::rounded(b.least_gain / g), units::rounded(b.most_gain / g)}},
                {"of_cars_less_is_better", units::rounded(b.less)},
                {"of_cars_more_is_better", units::rounded(b.more)}};
    };
    const auto bands = sure::phase_bands(job.vehicle, setup, ground);
    for (std::size_t i = 0; i < 4; ++i)
        phases[balance::name_of(balance::all_phases[i])] = limit(i == 1 ? f.limit() : f.phase[i], bands[i]);
    for (const balance::Corner& c : f.curve.points)
        curve.push_back({{"lateral_g", units::rounded(c.lateral / g)},
                         {"steer_beyond_the_bend_deg", units::rounded(c.steer / deg)},
                         {"lean_deg", units::rounded(c.lean() / deg)},
                         {"grip_used", c.used}});
    const double per_g = deg / g;
    Json understeer = std::nan("");
    if (const auto& u = f.understeer)
        understeer = {{"whole", units::rounded(u->whole / per_g)},
                      {"masses_and_tyres", units::rounded(u->masses_and_tyres / per_g)},
                      {"load_transfer", units::rounded(u->load_transfer / per_g)},
                      {"camber", units::rounded(u->camber / per_g)},
                      {"roll_steer", units::rounded(u->roll_steer / per_g)},
                      {"side_force_steer", units::rounded(u->side_steer / per_g)},
                      {"aligning_moment", units::rounded(u->aligning / per_g)}};
    Json bumps, schools;
    for (const study::Aim school : study::all_schools) {
        const say::AimWords words = say::words_of(school);
        const units::Unit unit = units::shown(study::scale_of(school).quantity, units::System::Metric);
        const auto value = study::reading(school, f.model);
        schools[words.name] = {{"value", units::rounded(value.value_or(std::nan("")) / unit.factor)},
                               {"unit", unit.symbol},
                               {"reason", words.reason}};
    }
    for (std::size_t e = 0; e < 2; ++e) {
        const balance::Bump& b = f.bump[e];
        bumps[e == 0 ? "front" : "rear"] = {{"both_wheels_N_per_mm", units::rounded(b.wheel_rate / units::N_per_mm)},
                                            {"one_wheel_N_per_mm", units::rounded(b.one_wheel_rate / units::N_per_mm)},
                                            {"harshness", units::rounded(b.harshness)},
                                            {"ride_Hz", units::rounded(b.ride)},
                                            {"one_wheel_Hz", units::rounded(b.one_wheel)}};
    }
    const study::Rocking rocks = study::rocking(f.model);
    Json going = "none: neither end lets go before the car tips over or can no longer be followed";
    if (const auto& l = f.letting_go) {
        const auto seconds = [](const std::optional<double>& s) {
            return or_why(s, 1, "it does not come back by that");
        };
        const sure::GoesOver goes = sure::goes_over(job.vehicle, setup, ground, draws, tell_draws(draws));
        tell_progress(1, 1);
        going = {{"sudden", l->sudden()},
                 {"sudden_share_of_drawn_cars", share_drawn(goes.sudden)},
                 {"front_first_share_of_drawn_cars", share_drawn(goes.front)},
                 {"last_tenth_steer_deg", units::rounded(l->steer / deg)},
                 {"last_tenth_slide_deg", units::rounded(l->slide / deg)},
                 {"last_tenth_lean_deg", units::rounded(l->lean / deg)},
                 {"growth_per_s", units::rounded(l->growth)},
                 {"shakes_Hz", or_why(l->shakes, 1, "every wheel settles")},
                 {"steering_eased_back_s", seconds(l->back)},
                 {"throttle_lifted_back_s", seconds(l->back_lifted)},
                 {"throttle_lifted_spins", l->spins_lifted}};
    }
    const study::Outside outside = study::outside(job.vehicle);
    balance::Drive drive = study::of_size({.speed = 20,
                                           .lateral = 0.5 * f.limit().lateral,
                                           .wind = outside.wind,
                                           .wind_height = outside.height,
                                           .wind_x = -car.wheelbase / 2,
                                           .patch = model::wet_patch(job.vehicle.grounds, ground)},
                                          car.front.track);
    for (const balance::Manoeuvre m : balance::all_manoeuvres) {
        drive.manoeuvre = m;
        runs[balance::name_of(m)] = manoeuvre(f.model, drive);
    }
    const study::Grid conditions = study::condition_grid(job.vehicle, setup);
    for (std::size_t i = 0; i < conditions.rows.size(); ++i)
        grid[name_of(all_grounds[i])] = {{"nothing aboard", limit(conditions.rows[i][0])},
                                         {"as now", limit(conditions.rows[i][1])},
                                         {"all aboard", limit(conditions.rows[i][2])}};
    means = cures(job, name, ground, study::Aim::Limit, 0)["ways"];
    return {
        {"setup", setup.name},
        {"letting_go", going},
        {"ground", name_of(ground)},
        {"phases", phases},
        {"handling_curve", curve},
        {"to_the_right", limit(f.right)},
        {"outright", limit(f.outright, sure::limit_bands(job.vehicle, setup, ground))},
        {"most_pull_at_half_the_limit",
         {{"g", units::rounded(f.most_pull.longitudinal / g)},
          {"then_spins", f.most_pull.spins >= 0 ? Json(car::wheel_names[static_cast<std::size_t>(f.most_pull.spins)])
                                                : Json("none")}}},
        {"keep_in_mind", say::validity(f, units::System::Metric)},
        {"schools", schools},
        {"understeer_deg_per_g", understeer},
        {"front_bar", sweep(study::sweep_bar(f.model, End::Front))},
        {"rear_bar", sweep(study::sweep_bar(f.model, End::Rear))},
        {"best_front_bar", best(End::Front)},
        {"best_rear_bar", best(End::Rear)},
        {"one_wheel_bump", bumps},
        {"heads_tossed_by_a_kerb_m_per_s2",
         {{"kerb_mm", units::rounded(study::rocking_kerb(car.front.track) / units::mm)},
          {"as_it_is", units::rounded(rocks.now)},
          {"without_the_front_bar", units::rounded(rocks.without.front)},
          {"without_the_rear_bar", units::rounded(rocks.without.rear)}}},
        {"roll_damping_ratio", or_why(f.roll_damping, 1, "the body does not swing in roll")},
        {"manoeuvres_at_half_the_limit", {{"speed_m_per_s", units::rounded(drive.speed)}, {"runs", runs}}},
        {"conditions", grid},
        {"for_both_ends_to_give_up_at_once", means},
        {"caution", "Tyre figures are assumed until measured. Limits belong on closed ground, within the driver's "
                    "skill, never on a public road."}};
}

Json ride(const job::Job& job, const std::string& name, Ground ground, std::optional<double> speed) {
    const job::Setup& setup = job::setup_named(job, name);
    balance::Model m = model::to_model(job.vehicle, setup, model::car_with(job.vehicle, setup), ground);
    if (m.road.plane()) m.road.roughness = balance::roughness_of('A');
    if (speed) m.road.speed = *speed;
    const balance::Shaken shaken(m, {}, car::settle(m.car, {}));
    const balance::Ride ride = shaken.on(m.road);
    m.swing = ride.swing;
    Json wheels, shakes = Json::array();
    for (std::size_t w = 0; w < 4; ++w)
        wheels[car::wheel_names[w]] = {{"load_spread_N", units::rounded(ride.load[w])},
                                       {"travel_spread_mm", units::rounded(ride.travel[w] / mm)}};
    for (const balance::Shake& s : shaken.shakes())
        shakes.push_back({{"frequency_Hz", units::rounded(s.frequency)}, {"damping_ratio", units::rounded(s.damping)}});
    return {{"ground", name_of(ground)},
            {"roughness_m3", m.road.roughness},
            {"speed_km_per_h", units::rounded(3.6 * m.road.speed)},
            {"wheels", wheels},
            {"heave_m_per_s2", units::rounded(ride.heave)},
            {"pitch_rad_per_s2", units::rounded(ride.pitch)},
            {"roll_rad_per_s2", units::rounded(ride.roll)},
            {"lean_spread_deg", units::rounded(ride.lean / deg)},
            {"seat_weighted_m_per_s2", units::rounded(ride.seat)},
            {"head_sideways_weighted_m_per_s2", units::rounded(ride.head)},
            {"free_motions", shakes},
            {"limit", limit(balance::outright_limit(m))}};
}

} // namespace dervish::calc
