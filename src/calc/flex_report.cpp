#include "calc/report.h"
#include "core/say/balance_words.h"
#include "core/say/flex_words.h"
#include "core/study/flex.h"

namespace dervish::calc {
namespace {
using store::Json;
using units::deg, units::g, units::mm;

Json corner(const study::Corner& c, std::size_t wheel) {
    Json limits = Json::array();
    for (const study::CornerLimit& l : c.limits)
        limits.push_back({{"what", l.what}, {"left_mm", units::rounded(l.left / mm)}});
    return {{"wheel", car::wheel_names[wheel]},
            {"load_N", units::rounded(c.load)},
            {"gap_mm", units::rounded(c.gap / mm)},
            {"tyre_above_level_mm", units::rounded(c.height / mm)},
            {"travel_mm", units::rounded(c.travel / mm)},
            {"bump_left_mm", units::rounded((c.bump - c.travel) / mm)},
            {"droop_left_mm", units::rounded((c.droop + c.travel) / mm)},
            {"limits", limits}};
}

Json state(const study::FlexResult& r, const flex::Protocol& protocol) {
    const bool slope = protocol.kind == flex::Kind::Slope;
    const double unit = slope ? deg : mm;
    const std::string key = slope ? "deg" : "mm";
    Json wheels = Json::array();
    for (std::size_t w = 0; w < 4; ++w) wheels.push_back(corner(r.corner[w], w));
    const double front = r.ascent.front_travel, rear = r.ascent.rear_travel;
    Json out = {{"state", say::name_of(r.of, units::System::Metric)},
                {"lifts", r.ascent.lifted},
                {(!r.ascent.lifted ? "more_than_"
                  : slope          ? "lifts_at_"
                                   : "lift_height_") +
                     key,
                 units::rounded(r.ascent.height / unit)},
                {"light_wheel", car::wheel_names[static_cast<std::size_t>(r.ascent.light_wheel)]},
                {"lowest_load_N", units::rounded(r.lowest())},
                {"lean_deg", units::rounded((r.ascent.state.roll[0] + r.ascent.state.roll[1]) / 2 / deg)},
                {"pitch_deg", units::rounded(r.ascent.state.pitch / deg)},
                {"travel_front_mm", units::rounded(front / mm)},
                {"travel_rear_mm", units::rounded(rear / mm)},
                {"front_share_of_travel", units::rounded(front / std::max(1e-9, front + rear))},
                {"wheels", wheels},
                {"road",
                 {{"roll_gradient_deg_per_g", units::rounded(r.road.roll_gradient * g / deg)},
                  {"tips_on_slope_deg", or_why(r.road.tips, deg, "not on any slope that was looked at")},
                  {"lean_in_lane_change_deg",
                   or_why(std::isfinite(r.road.lane_lean) ? std::optional(r.road.lane_lean) : std::nullopt, deg,
                          "it cannot do that lane change")},
                  {"lane_change_at_km_per_h", units::rounded(3.6 * r.road.lane.speed)},
                  {"lane_change_g", units::rounded(r.road.lane.lateral / g)},
                  {"head_m_per_s2", units::rounded(r.road.head)}}}};
    if (protocol.kind == flex::Kind::Ramp)
        out["ramp_index"] = units::rounded(flex::ramp_index(protocol, r.of.vehicle.wheelbase.value, r.ascent.height));
    return out;
}
} // namespace

Json flex(const job::Job& job, const std::string& name, const flex::Protocol& protocol, bool all, const job::Job* other,
          double track) {
    const job::Setup& setup = job::setup_named(job, name);
    std::vector<study::FlexState> states = study::flex_states(job, setup, other);
    if (!all) states.resize(1);
    std::vector<study::FlexResult> results;
    const balance::Drive lane = study::common_lane(states);
    for (const study::FlexState& s : states) results.push_back(study::flex_of(s, protocol, lane));
    Json list = Json::array(), ranking = Json::array();
    for (const study::FlexResult& r : results) list.push_back(state(r, protocol));
    for (const std::size_t i : study::ranked(results, track))
        ranking.push_back(say::name_of(results[i].of, units::System::Metric));
    return {{"setup", setup.name},
            {"protocol", say::words_of(protocol)},
            {"states", list},
            {"ranking", ranking},
            {"why", say::why(protocol, results, units::System::Metric)},
            {"caution", "A bar taken off is for the track: tie its links up or take them off. It lowers the rollover "
                        "stability. Ramps on firm ground, wheels chocked, nobody under the car."}};
}

} // namespace dervish::calc
