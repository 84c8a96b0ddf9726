#include "core/study/assess.h"
#include "core/model/stand.h"

#include "core/study/links.h"

namespace dervish::study {
const std::array<OutcomeName, outcome_count> outcome_names{
    {{"roll gradient", units::Quantity::RollGradient},
     {"front share of load transfer", units::Quantity::Share},
     {"lift height on ramps", units::Quantity::Length, flex::Protocol{}.highest},
     {"front travel there", units::Quantity::Length},
     {"rear travel there", units::Quantity::Length},
     {"front bar's rate at the eye", units::Quantity::Rate},
     {"rear bar's rate at the eye", units::Quantity::Rate},
     {"front bar's rate at the wheel", units::Quantity::Rate},
     {"rear bar's rate at the wheel", units::Quantity::Rate},
     {"front bar, one side alone", units::Quantity::Rate},
     {"rear bar, one side alone", units::Quantity::Rate},
     {"front bar on the car", units::Quantity::TorsionalRate},
     {"rear bar on the car", units::Quantity::TorsionalRate},
     {"front bar yields at", units::Quantity::Length},
     {"rear bar yields at", units::Quantity::Length},
     {"front link margin", units::Quantity::Angle},
     {"rear link margin", units::Quantity::Angle},
     {"smallest link margin", units::Quantity::Angle}}};

void put_bar(Outcomes& out, End end, const AxleSetup& a, const AxleData& axle, const BarSums& sums, double scale) {
    const double link = scale * bar::roll_rate(sums.links), lever = sums.gear * axle.track.value;
    const auto put = [&](Outcome of_front, double value) { out[at(of_front, end)] = value; };
    put(FrontRate, scale * bar::roll_rate(sums.eyes));
    put(FrontWheelRate, link * sums.gear * sums.gear);
    put(FrontOneSide, scale * sums.links(0, 0));
    put(FrontRollStiffness, a.connected ? link * lever * lever / 2 : 0);
    put(FrontYieldTravel, sums.stress > 0 ? a.bar.yield_strength.value / (scale * sums.stress * sums.gear) : 0);
    put(FrontLinkMargin, sums.margin && a.connected ? sums.margin->left : units::pi);
    out[LinkMargin] = std::min(out[FrontLinkMargin], out[RearLinkMargin]);
}

std::optional<BarFigures> bar_figures(const AxleSetup& a, const AxleData& axle) {
    if (!a.fitted) return {};
    BarFigures out{solve(a, axle), to_laid(a), {}, {}, 0, 0, 0, 0, 0, 0, 0, 0};
    out.ledger = bar::ledger(out.solution);
    out.sums = bar_sums(out.solution, a, axle);
    Outcomes figures{};
    put_bar(figures, End::Front, a, axle, out.sums);
    out.eye_rate = figures[FrontRate];
    out.link_rate = bar::roll_rate(out.solution.at_links);
    out.wheel_rate = figures[FrontWheelRate];
    out.roll_stiffness = figures[FrontRollStiffness];
    out.one_side = figures[FrontOneSide];
    out.mass = bar::mass(out.solution.bar);
    if (a.held == Held::Links) {
        const auto constants =
            bar::constants(bar::Round{a.bar.outer_diameter.value, a.bar.wall.value}, out.solution.bar.material);
        const bar::PlainU u = to_plain_u(a, out.laid);
        out.twist_only = bar::twist_only_rate(u, constants, out.solution.bar.material);
        out.textbook = bar::textbook_rate(u, constants, out.solution.bar.material);
    }
    return out;
}

std::optional<std::pair<linkage::Margin, End>> smallest_link_margin(const Setup& setup, const Assessment& a) {
    std::optional<std::pair<linkage::Margin, End>> out;
    for (const End end : both_ends) {
        const auto& figures = a[end];
        if (!figures || !figures->sums.margin || !setup[end].connected) continue;
        if (!out || figures->sums.margin->left < out->first.left) out = {*figures->sums.margin, end};
    }
    return out;
}

namespace {
Assessment assess(const Vehicle& vehicle, const Setup& setup, const Assessed* before) {
    check_stand(vehicle, setup);
    Assessment out{};
    PerAxle<Acting> bars;
    for (const End end : both_ends) {
        if (before && before->setup[end] == setup[end] && before->vehicle[end] == vehicle[end])
            out[end] = before->figures[end];
        else
            out[end] = told_within(name_of(end), [&] { return bar_figures(setup[end], vehicle[end]); });
        if (out[end]) bars[end] = acting(setup[end], out[end]->sums);
    }
    told_within("vehicle", [&] {
        out.car = seated(to_car(vehicle, setup, bars), vehicle);
        out.handling = car::handling(out.car);
        out.ascent = flex::climb(out.car, {});
        if (!std::isfinite(out.handling.roll_gradient)) out.tips = car::rollover_threshold(out.car);
        return 0;
    });
    out.outcomes = {out.handling.roll_gradient, out.handling.front_share, out.ascent.height, out.ascent.front_travel,
                    out.ascent.rear_travel};
    out.outcomes[FrontLinkMargin] = out.outcomes[RearLinkMargin] = out.outcomes[LinkMargin] = units::pi;
    for (const End end : both_ends)
        if (out[end]) put_bar(out.outcomes, end, setup[end], vehicle[end], out[end]->sums);
    return out;
}
} // namespace

Assessment assess(const Vehicle& vehicle, const Setup& setup) { return assess(vehicle, setup, nullptr); }
Assessment assess(const Vehicle& vehicle, const Setup& setup, const Assessed& before) {
    return assess(vehicle, setup, &before);
}

std::vector<std::vector<double>> eye_ladder(const AxleSetup& a, const AxleData& axle) {
    const bar::Laid laid = to_laid(a);
    std::vector<std::vector<double>> out(laid.left_eye.size());
    AxleSetup tried = a;
    place_pickups(tried);
    for (std::size_t l = 0; l < laid.left_eye.size(); ++l)
        for (std::size_t r = 0; r < laid.right_eye.size(); ++r) {
            tried.left_eye = static_cast<int>(l);
            tried.right_eye = static_cast<int>(r);
            out[l].push_back(bar::roll_rate(solve(tried, axle).at_eyes));
        }
    return out;
}

} // namespace dervish::study
