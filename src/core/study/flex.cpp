#include "core/study/flex.h"
#include "core/job/usual.h"
#include "core/model/stand.h"
#include "core/model/tyres.h"

#include "core/study/choices.h"
#include "core/study/use.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace dervish::study {
namespace {
bool acts(const Assembly& a) { return a.fitted && a.connected; }

void add_link_limits(std::vector<CornerLimit>& out, const car::Axle& a, const std::array<double, 2>& travel,
                     std::size_t side) {
    if (!a.linkage) return;
    const linkage::Answer answer = (*a.linkage)({travel[0], travel[1]});
    const linkage::BarEnd& end = a.linkage->ends()[side];
    const linkage::Travel to{travel[side], travel[1 - side]};
    const int s = static_cast<int>(side);
    const auto position = linkage::at(end, a.linkage->branch(side), to);
    if (!position)
        out.push_back({"link over centre", 0});
    else if (position->off_square > linkage::stop_off_square)
        out.push_back({"link " + units::fixed(position->off_square / units::deg, 0) + "° off square", 0});
    if (std::abs(answer.bound[s]) > 0) out.push_back({"link joint bound", 0});
    for (const double far : {-0.5, 0.5})
        if (const auto over = linkage::over_centre(end, linkage::Mode::Roll, far))
            if (position)
                out.push_back({far < 0 ? "link over centre, drooping" : "link over centre, bumping",
                               far < 0 ? travel[side] - *over : *over - travel[side]});
}
} // namespace

namespace {
FlexState state_of(FlexState::What::Kind kind, End end, const Vehicle& vehicle, const Setup& setup,
                   const std::string& called = {}) {
    FlexState out;
    out.what.kind = kind;
    out.what.end = end;
    out.what.called = called;
    out.vehicle = vehicle;
    out.setup = setup;
    return out;
}
} // namespace

std::vector<FlexState> flex_states(const Job& job, const Setup& setup, const Job* other, double longer) {
    std::vector<FlexState> out{state_of(FlexState::What::Kind::AsItIs, End::Front, job.vehicle, setup)};
    using Kind = FlexState::What::Kind;
    const auto with = [&](Kind kind, End end, auto&& change) {
        FlexState s = state_of(kind, end, job.vehicle, setup);
        change(s);
        out.push_back(std::move(s));
    };
    for (const End end : both_ends)
        if (acts(setup[end])) with(Kind::EndOff, end, [end](FlexState& s) { s.setup[end].connected = false; });
    if (acts(setup.front) && acts(setup.rear))
        with(Kind::BothOff, End::Front, [](FlexState& s) { s.setup.front.connected = s.setup.rear.connected = false; });
    const auto whole = [&](Kind kind, const Setup& s) { // whatever it is called
        Setup same = s;
        same.name = setup.name;
        if (!(same == setup)) out.push_back(state_of(kind, End::Front, job.vehicle, s, s.name));
    };
    whole(Kind::Fitted, job.fitted);
    for (const Setup& kept : job.kept) whole(Kind::Kept, kept);
    with(Kind::LongerDampers, End::Front, [longer](FlexState& s) {
        s.what.longer = longer;
        for (AxleSetup* a : {&s.setup.front, &s.setup.rear}) a->dampers.droop_gap.value += longer;
        for (AxleData* a : {&s.vehicle.front, &s.vehicle.rear}) a->travel.strap.value = 0;
    });
    if (acts(setup.front))
        if (const auto soft = with_rate(setup.front, softer_bar))
            with(Kind::SofterBar, End::Front, [&](FlexState& s) { static_cast<Assembly&>(s.setup.front) = *soft; });
    for (const Assembly& bar : job.shelf)
        for (const End end : both_ends) {
            FlexState s = state_of(Kind::FromShelf, end, job.vehicle, setup, bar.bar.name);
            Assembly& at = s.setup[end];
            at = bar;
            at.fitted = at.connected = true;
            try {
                car_with(s.vehicle, s.setup);
                out.push_back(std::move(s));
            } catch (const BadInput&) { // does not go on that axle
            }
        }
    if (other)
        out.push_back(state_of(Kind::OtherJob, End::Front, other->vehicle, other->fitted,
                               other->vehicle.name.empty() ? other->name : other->vehicle.name));
    return out;
}

PerWheel<Corner> corners(const Vehicle& vehicle, const Setup& setup, const car::Car& car, const car::State& at,
                         const car::Situation& ground) {
    PerWheel<Corner> out;
    for (std::size_t w = 0; w < 4; ++w) {
        const End end = end_of(w);
        const std::size_t side = w % 2, first = wheel_at(end, 0);
        const car::Axle& a = car[end];
        const StopGaps gaps = stop_gaps(setup[end], vehicle[end]);
        const car::Wheel& wheel = at.wheels[w];
        Corner& c = out[w];
        // Of a solid axle the wheel goes further than its spring, in roll by track over spring base.
        const double lever = a.kind == AxleKind::Solid ? a.track / a.spring_base : 1;
        const double left_up = wheel.room_bump * lever, left_down = wheel.room_droop * lever;
        c = {wheel.load,
             wheel.gap,
             wheel.travel,
             wheel.travel + left_up,
             left_down - wheel.travel,
             ground.wheel_height[w] + wheel.gap,
             {}};
        c.limits = {{"bump stop", left_up}, {gaps.strapped ? "strap" : "damper out", left_down}};
        if (gaps.hose) c.limits.push_back({"brake hose taut", *gaps.hose + wheel.travel});
        if (gaps.body) c.limits.push_back({"tyre on body", *gaps.body - wheel.travel});
        add_link_limits(c.limits, a, {at.wheels[first].travel, at.wheels[first + 1].travel}, side);
        std::stable_sort(c.limits.begin(), c.limits.end(),
                         [](const CornerLimit& x, const CornerLimit& y) { return x.left < y.left; });
    }
    return out;
}

double FlexResult::lowest() const {
    double out = corner[0].load;
    for (const Corner& c : corner) out = std::min(out, c.load);
    return out;
}

balance::Drive common_lane(const std::vector<FlexState>& states) {
    balance::Drive out{balance::Manoeuvre::LaneChange, 20, 4};
    std::vector<balance::Model> models;
    for (const FlexState& s : states) {
        try {
            models.push_back(to_model(s.vehicle, s.setup, car_with(s.vehicle, s.setup)));
        } catch (const BadInput&) { // left out of the states, too
        }
    }
    for (const balance::Model& m : models) {
        const balance::Drive own = of_size({balance::Manoeuvre::LaneChange, 20, 4}, m.car.front.track);
        if (own.speed < out.speed) {
            out.speed = own.speed;
            out.stretch = own.stretch;
        }
        out.lateral = std::min(out.lateral, 0.6 * balance::outright_limit(m).lateral);
    }
    for (const balance::Model& m : models)
        if (const auto critical = balance::critical_speed(m, out.lateral))
            out.speed = std::min(out.speed, 0.9 * *critical);
    return out;
}

FlexResult flex_of(const FlexState& state, const flex::Protocol& protocol, const balance::Drive& lane) {
    FlexResult out{state, car_with(state.vehicle, state.setup), {}, {}, {}};
    out.ascent = flex::climb(out.car, protocol);
    out.corner =
        corners(state.vehicle, state.setup, out.car, out.ascent.state, flex::situation(protocol, out.ascent.height));
    // On a slope the side that is asked; else the worse.
    const bool slope = protocol.kind == flex::Kind::Slope;
    auto tips = flex::tipping_slope(out.car, !slope || protocol.wheel % 2 == 0);
    if (!slope)
        if (const auto other = flex::tipping_slope(out.car, false); other && (!tips || *other < *tips)) tips = other;
    const balance::Run run = balance::drive(to_model(state.vehicle, state.setup, out.car), lane);
    out.road = {car::roll_and_share(out.car).first, tips, run.done() ? run.roll_peak : std::nan(""), lane,
                ride_in_use(state.vehicle, to_model(state.vehicle, state.setup, out.car)).head};
    return out;
}

std::vector<FlexResult> flex_all(const std::vector<FlexState>& states, const flex::Protocol& protocol,
                                 const std::function<bool()>& cancelled) {
    std::vector<FlexResult> out;
    const balance::Drive lane = common_lane(states);
    for (const FlexState& s : states) {
        if (cancelled && cancelled()) break;
        try {
            out.push_back(flex_of(s, protocol, lane));
        } catch (const BadInput&) { // the window says at the field what is wrong
        }
    }
    return out;
}

std::vector<std::size_t> ranked(const std::vector<FlexResult>& all, double track) {
    const auto travel = [](const FlexResult& r) { return r.ascent.front_travel + r.ascent.rear_travel; };
    double most = 1e-9, least = 1e9;
    for (const FlexResult& r : all) {
        most = std::max(most, travel(r));
        least = std::min(least, r.road.roll_gradient);
    }
    const auto score = [&](std::size_t i) {
        const double exact = track * travel(all[i]) / most + (1 - track) * least / all[i].road.roll_gradient;
        return std::round(exact * 1e3); // what is as good stays in order: as it is, first
    };
    std::vector<std::size_t> out(all.size());
    std::iota(out.begin(), out.end(), 0);
    std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) { return score(a) > score(b); });
    return out;
}

} // namespace dervish::study
