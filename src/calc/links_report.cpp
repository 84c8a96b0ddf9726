#include "calc/report.h"
#include "core/study/assess.h"

#include "core/say/setup_steps.h"
#include "core/study/links.h"

namespace dervish::calc {
namespace {
using store::Json;
using units::mm, units::deg;

Json in(const std::optional<double>& value, double unit) {
    return value ? Json(units::rounded(*value / unit)) : Json();
}

Json length(const std::optional<linkage::Length>& l) {
    if (!l) return {};
    return {{"length_mm", units::rounded(l->length / mm)},
            {"attitude_deg", units::rounded(l->attitude / deg)},
            {"off_square_at_full_droop_deg", units::rounded(l->off_square / deg)}};
}

Json margins(const std::vector<linkage::Margin>& all) {
    Json out = Json::array();
    for (const linkage::Margin& m : all) {
        const double unit = m.angle() ? deg : mm;
        out.push_back({{"what", m.what},
                       {m.angle() ? "value_deg" : "value_mm", units::rounded(m.value / unit)},
                       {m.angle() ? "left_deg" : "left_mm", units::rounded(m.left / unit)},
                       {"wheel_travel_mm", units::rounded(m.at.own / mm)},
                       {"other_wheel_mm", units::rounded(m.at.other / mm)},
                       {"steer_deg", units::rounded(m.at.steer / deg)}});
    }
    return out;
}

Json sweep(const std::vector<study::LinkPoint>& points) {
    Json out = Json::array();
    for (const study::LinkPoint& p : points)
        out.push_back({{"wheel_travel_mm", units::rounded(p.travel / mm)},
                       {"off_square_deg", units::rounded(p.at.off_square / deg)},
                       {"off_pickup_deg", units::rounded(p.at.off_pickup / deg)},
                       {"motion_ratio", units::rounded(std::abs(p.at.motion_ratio))},
                       {"attitude_deg", units::rounded(p.attitude / deg)},
                       {"aside_mm", units::rounded(p.aside / mm)},
                       {"wheel_force_N", units::rounded(p.force)}});
    return out;
}

Json plan(const study::LinkPlan& p) {
    Json by_eye = Json::array();
    for (const auto& l : p.by_eye) by_eye.push_back(in(l, mm));
    Json out = {{"as_it_is", length(p.now)},
                {"level", length(p.level)},
                {"keeps_droop_margin", length(p.kept)},
                {"level_by_eye_mm", by_eye},
                {"mounts_forward_for_upright_mm", units::rounded(p.upright.forward / mm)},
                {"mounts_outward_for_upright_mm", units::rounded(p.upright.outward / mm)}};
    if (p.thread) {
        out["one_turn_longer"] = length(p.turned);
        out["longest_mm"] = units::rounded(p.thread->longest() / mm);
        out["shortest_mm"] = units::rounded(p.thread->shortest / mm);
        if (p.level) out["turns_to_level"] = units::rounded(p.thread->turns_to(p.level->length));
    }
    return out;
}
} // namespace

Json links(const job::Job& job, const std::string& name, const std::string& axle) {
    const job::Setup& setup = job::setup_named(job, name);
    const End end = axle == "front" ? End::Front : End::Rear;
    const job::AxleSetup& a = setup[end];
    const job::AxleData& on = job.vehicle[end];
    Json out = {{"setup", setup.name}, {"axle", axle}, {"links", nullptr}};
    const auto sides = study::link_sides(a, on);
    if (!sides) return out;
    const auto figures = study::bar_figures(a, on);
    out["links"] = Json::object();
    for (std::size_t e = 0; e < 2; ++e) {
        const study::LinkSide& s = (*sides)[e];
        const study::LinkLimits limits = study::link_limits(s, e);
        const auto through = [&](linkage::Mode mode) {
            return sweep(study::through_travel(s, e, *figures->sums.law, mode, 41));
        };
        out["links"][e == 0 ? "left" : "right"] = {
            {"length_mm", units::rounded(s.end.link / mm)},
            {"attitude_deg", units::rounded(s.attitude / deg)},
            {"off_square_deg", units::rounded(s.rest.off_square / deg)},
            {"motion_ratio", units::rounded(std::abs(s.rest.motion_ratio))},
            {"angles", margins(limits.angles)},
            {"distances", margins(limits.distances)},
            {"over_centre_both_wheels_mm", in(limits.over_centre[0], mm)},
            {"over_centre_opposite_mm", in(limits.over_centre[1], mm)},
            {"damper_longer_mm", in(limits.damper_longer(), mm)},
            {"first_in_droop", limits.in_droop ? Json(limits.in_droop->what) : Json()},
            {"plan", plan(study::link_plan(a, on, e))},
            {"opposite", through(linkage::Mode::Roll)},
            {"together", through(linkage::Mode::Bump)},
            {"one_wheel", through(linkage::Mode::OneWheel)}};
    }
    if (const auto rest = study::rest_state(job.vehicle, setup, end)) {
        Json change;
        for (const double load : rest->change) change.push_back(units::rounded(load));
        out["at_rest"] = {{"left_link_N", units::rounded(rest->link[0])},
                          {"right_link_N", units::rounded(rest->link[1])},
                          {"change_of_wheel_loads_N", change},
                          {"right_link_longer_takes_it_out_mm", in(rest->correction, mm)}};
    }
    Json steps = Json::array();
    for (const say::Step step : say::all_steps) {
        const say::StepFound f = say::look_at(step, a, job::checks_of(job, a), on, units::System::Metric);
        static constexpr const char* states[] = {"to do", "good", "attend"};
        steps.push_back(
            {{"step", f.title}, {"state", states[static_cast<int>(f.state)]}, {"found", f.found}, {"next", f.next}});
    }
    out["set_up"] = steps;
    out["caution"] =
        "Over centre and joint bind can jam steering or tear hoses. Stands on firm ground, wheels chocked; a "
        "twisted bar holds energy.";
    return out;
}

} // namespace dervish::calc
