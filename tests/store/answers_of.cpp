#include "answers.h"
#include "core/edit/parts.h"
#include "core/flex/scene.h"
#include "core/model/acting.h"
#include "core/model/check.h"
#include "core/proof/predict.h"
#include "core/proof/rig_check.h"
#include "core/say/balance_words.h"
#include "core/say/bar_words.h"
#include "core/say/complaints.h"
#include "core/say/doubts.h"
#include "core/say/flex_words.h"
#include "core/say/proof_words.h"
#include "core/say/setup_steps.h"
#include "core/say/working.h"
#include "core/study/choices.h"
#include "core/study/cures.h"
#include "core/study/hand_sums.h"
#include "core/study/launch.h"
#include "core/study/links.h"
#include "core/study/outside.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
#include "core/units/entry.h"
#include "core/units/spelling.h"

#include <charconv>
#include <map>

namespace dervish::store {
namespace {
using namespace say; // and with it what the rooms below have

/// Lines of answers, each under the names of what it belongs to.
class Sheet {
public:
    std::string text;

    template <class... T> void operator()(const std::string& name, const T&... values) {
        text += at_ + name + "\t";
        (put(values), ...);
        text += "\n";
    }
    void say(const std::string& name, const std::string& words) { text += at_ + name + ": " + words + "\n"; }
    /// What belongs under a name; whatever it throws is an answer too.
    template <class F> void under(const std::string& name, F&& f) {
        const std::string above = at_;
        at_ += name + " ";
        try {
            f();
        } catch (const BadInput& e) {
            say("cannot", e.what());
        }
        at_ = above;
    }

private:
    std::string at_;
    void put(double v) {
        char figures[32];
        const auto end = std::to_chars(figures, figures + sizeof figures, v, std::chars_format::general, 9).ptr;
        text += std::string(text.back() == '\t' ? "" : " ") + std::string(figures, end);
    }
    void put(const std::optional<double>& v) { v ? put(*v) : put(std::numeric_limits<double>::infinity()); }
    void put(const Eigen::Vector2d& v) {
        for (double x : v) put(x);
    }
    void put(const Eigen::Vector3d& v) {
        for (double x : v) put(x);
    }
    template <class T, std::size_t N> void put(const std::array<T, N>& v) {
        for (const auto& x : v) put(x);
    }
    template <class T> void put(const PerAxle<T>& v) {
        for (const T& x : v.both()) put(x);
    }
    template <class T> void put(const std::vector<T>& v) {
        for (const auto& x : v) put(x);
    }
};

void of_bar(Sheet& s, const Assembly& a, const AxleSetup& on, const AxleData& axle, const BarFigures& f) {
    s("rates", f.eye_rate, f.link_rate, f.wheel_rate, f.roll_stiffness, f.one_side, f.mass, f.twist_only, f.textbook);
    s("sums", f.sums.eyes(0, 0), f.sums.eyes(0, 1), f.sums.eyes(1, 1), f.sums.links(0, 0), f.sums.links(0, 1),
      f.sums.links(1, 1), f.sums.stress, f.sums.gear);
    for (const auto& part : bar::parts(f.ledger)) s(std::string("ledger, ") + part.name, part.share);
    s("ledger", f.ledger.energy);
    s("ledger's sigmas", sure::ledger_sigma(a));
    s.say("why", why_sums_differ(f));
    for (const auto& row : eye_ladder(on, axle)) s("ladder", row);
    const TravelCurve curve = travel_curve(on, axle, 0.08, 6);
    for (const auto* mode : {&curve.roll, &curve.one_side})
        for (const bar::TravelPoint& p : *mode)
            s("travel", p.travel, p.force, p.eye_travel, p.off_square, p.worst.von_mises, p.worst.along);
    s("curve", curve.link_per_wheel, curve.rate_at_rest, curve.rate_at_end, curve.yields_at, curve.ends_at);
    const Hysteresis loop = hysteresis(curve, a, f);
    for (const auto& p : loop.points) s("loop", p.wheel_travel, p.loading, p.unloading, loop.slack);
    for (const units::System system : {units::System::Metric, units::System::Inch})
        for (const Worth& w : worths(on, axle, diameter_step(on.bar.outer_diameter.value, system)))
            s("worth, " + words_of(w, system), w.rate);
    for (const Substitute& t : equal_rate_tubes(a, {2e-3, 4e-3}))
        s("tube", t.outer_diameter, t.wall, t.rate, t.mass, t.stress);
    for (const Substitute& t : from_stock(a, {{0.02, 0}, {0.026, 0.003}, {0.03, 0.002}}))
        s("stock", t.outer_diameter, t.wall, t.rate, t.mass, t.stress);
    if (const auto other = with_rate(a, 0.6)) s("other rate", other->bar.outer_diameter.value);
    const Eigen::Vector2d travel = curve.link_per_wheel * Eigen::Vector2d(-0.05, 0.05);
    const Friction rub = friction(a, f, travel);
    s("friction", rub.band, rub.from_bind, rub.share);
    for (const Duty& d : duties(on, axle, f)) s(std::string("duty, ") + d.surface, d.wheel_travel, d.stress, d.reserve);
    for (const Reserve& r : reserves(a, f, travel)) s("reserve, " + r.part, r.load, r.capacity, r.reserve());
}

void of_margin(Sheet& s, const std::string& name, const linkage::Margin& m) {
    s(name + ", " + m.what, m.value, m.left, m.at.own, m.at.other, m.at.steer, double(m.end));
}

void of_length(Sheet& s, const std::string& name, const std::optional<linkage::Length>& l) {
    if (l) s(name, l->length, l->attitude, l->off_square);
}

void of_links(Sheet& s, const Job& j, End end, const AxleSetup& a, const AxleData& axle) {
    const auto sides = link_sides(a, axle);
    if (!sides) return;
    const auto figures = bar_figures(a, axle);
    for (std::size_t e = 0; e < 2; ++e) {
        const LinkSide& side = (*sides)[e];
        s.under(e == 0 ? "left" : "right", [&] {
            s("rest", side.end.eye, side.end.link, side.rest.off_square, side.rest.off_pickup, side.rest.motion_ratio,
              side.attitude, side.room.bump, side.room.droop, side.room.spread, side.room.lock);
            for (const linkage::Mode mode : {linkage::Mode::Bump, linkage::Mode::Roll, linkage::Mode::OneWheel})
                for (const LinkPoint& p : through_travel(side, e, *figures->sums.law, mode, 5))
                    s("through", p.travel, p.at.off_square, p.at.off_pickup, p.at.motion_ratio, p.attitude, p.force,
                      p.aside);
            const LinkLimits l = link_limits(side, e);
            for (const linkage::Margin& m : l.angles) of_margin(s, "angle", m);
            for (const linkage::Margin& m : l.distances) of_margin(s, "distance", m);
            s("over centre", l.over_centre[0], l.over_centre[1]);
            if (l.in_droop) s("in droop, " + l.in_droop->what, l.in_droop->travel);
            const linkage::Travel bumped{0.03, -0.02, 0.3};
            if (const auto at = linkage::at(side.end, side.branch, bumped))
                for (const linkage::Gap& g : linkage::gaps(side.end, *at, side.room, bumped))
                    s("gap", double(g.of_bar), g.distance, g.from, g.to);
            const LinkPlan p = link_plan(a, axle, e);
            s("plan", p.stance.ride, p.stance.droop, p.upright.forward, p.upright.outward, p.by_eye);
            of_length(s, "as it is", p.now);
            of_length(s, "level", p.level);
            of_length(s, "kept", p.kept);
            of_length(s, "turned", p.turned);
            if (p.thread) s("thread", p.thread->longest(), p.thread->shortest, p.thread->turns_to(0.15));
        });
    }
    if (const auto rest = rest_state(j.vehicle, j.trial, end)) s("at rest", rest->link, rest->change, rest->correction);
    s("longer for 100 N", longer_for_load(j.vehicle, j.trial, end, 100));
    for (const units::System system : {units::System::Metric, units::System::Inch})
        for (const Step step : all_steps) {
            const StepFound f = look_at(step, a, checks_of(j, a), axle, system);
            s.say(f.title, std::to_string(static_cast<int>(f.state)) + " " + f.how + " | " + f.found + " | " + f.next);
        }
    s("next step", double(static_cast<int>(next_step(a, checks_of(j, a), axle))));
}

void of_limit(Sheet& s, const std::string& name, const balance::Limit& l) {
    s(name, l.lateral, double(static_cast<int>(l.first)), l.left, l.at.lean(), double(static_cast<int>(l.turn)),
      l.at.slip, l.at.used, l.at.steer);
    s.say(name, sentence(l));
}

void of_run(Sheet& s, const balance::Run& r) {
    s("run", double(r.stands), double(r.followed), double(r.holds), r.yaw_90, r.lateral_90, r.roll_peak,
      r.roll_overshoot, r.lowest_load, double(r.lowest_wheel), r.side_difference, r.in_air, r.seat, r.head);
    if (r.correct) s("correct", r.correct->aside, r.correct->turned, r.correct->after_1s, r.correct->yaw);
    for (std::size_t i = 0; i < r.moments.size(); i += 60) {
        const balance::Moment& m = r.moments[i];
        s("moment", m.time, m.steer, m.lateral, m.yaw, m.slide, m.roll, m.roll_rate, m.x, m.y, m.heading, m.load,
          m.used);
    }
}

void of_balance(Sheet& s, const Job& j, const Assessment& a) {
    const Vehicle& v = j.vehicle;
    const Setup& setup = j.trial;
    for (const Ground ground : {Ground::Dry, Ground::Wet}) {
        const BalanceFigures f = balance_figures(v, setup, a.car, ground);
        s.under(name_of(ground), [&] {
            for (const balance::Phase p : balance::all_phases)
                of_limit(s, balance::name_of(p), f.phase[static_cast<std::size_t>(p)]);
            of_limit(s, "right", f.right);
            for (std::size_t i = 0; i < f.curve.points.size(); i += 4) {
                const balance::Corner& c = f.curve.points[i];
                s("curve", c.lateral, c.steer, c.lean(), c.need, c.most, c.slip, c.force, c.used);
            }
            if (const auto& u = f.understeer)
                s("understeer", u->whole, u->masses_and_tyres, u->load_transfer, u->camber, u->roll_steer,
                  u->side_steer, u->aligning);
            s("most pull", f.most_pull.longitudinal, double(f.most_pull.spins),
              double(static_cast<int>(f.most_pull.gives)));
            s.say("most pull", words_of(f.most_pull, f.limit().lateral / 2));
            for (const balance::Bump& b : f.bump.both())
                s("bump", b.wheel_rate, b.one_wheel_rate, b.harshness, b.ride, b.one_wheel);
            s("damping", f.roll_damping);
            for (const std::string& words : validity(f, units::System::Metric)) s.say("keep in mind", words);
            s.say("other turn", other_turn(f).value_or("alike"));
            for (const units::System system : {units::System::Metric, units::System::Inch})
                for (int c = 0; c < complaint_count; ++c)
                    for (const Evidence& e :
                         evidence(static_cast<Complaint>(c), v, setup, a, f, {0.002, 0.3, 0.01}, system))
                        s.say(words_of(static_cast<Complaint>(c)),
                              std::to_string(static_cast<int>(e.kind)) + " " + e.words);
            if (ground != Ground::Dry) return;
            for (const End end : both_ends) {
                const auto sweep = sweep_bar(f.model, end);
                for (std::size_t i = 0; i < sweep.size(); i += 3)
                    s("sweep", sweep[i].factor, sweep[i].limit.lateral, sweep[i].limit.left, sweep[i].limit.at.lean());
                const BestBar best = best_of(sweep);
                s("best", best.factor, best.gain, double(best.more_costs));
            }
            for (const Aim school : all_schools) {
                const auto now = reading(school, f.model);
                s(words_of(school).name, now);
                if (!now) continue;
                const auto system = school == Aim::Limit ? units::System::Metric : units::System::Inch;
                const std::vector<TyreData> sets = other_tyres(j, setup);
                const Cures found = cures(v, setup, ground, school, *now * 0.9, {}, sets);
                for (const Cure& c : found.ways) {
                    const std::string what = words_of(c, v, sets);
                    s(what, double(c.answer), c.value, c.share, c.then.roll, c.then.limit, c.then.wet,
                      c.then.articulation, c.then.link);
                    s.say(what, answer_of(c, setup, system) + " | " + c.path());
                }
            }
            for (const balance::Manoeuvre m : balance::all_manoeuvres)
                s.under(balance::name_of(m), [&] {
                    const Outside push = outside(v);
                    balance::Drive d{m, 20, std::min(4.0, 0.5 * f.limit().lateral)};
                    if (balance::blows(m)) {
                        d.wind = push.wind;
                        d.wind_height = push.height;
                        d.wind_x = -0.45 * v.wheelbase.value;
                    }
                    of_run(s, balance::drive(f.model, d));
                });
        });
    }
    const Grid grid = condition_grid(v, setup);
    for (const auto& row : grid.rows) s("conditions", row[0].lateral, row[1].lateral, row[2].lateral);
    const Outside push = outside(v);
    s("outside", push.person, push.out, push.wind, push.height, lean_by_person(a.car, push), lean_in_wind(a.car, push));
    if (const auto l = launch(v, setup))
        s("launch", double(l->end == End::Front), l->torque, l->load, l->estimate, l->lean, l->preload, l->longer);
}

flex::Protocol protocol(flex::Kind kind) {
    flex::Protocol p;
    p.kind = kind;
    if (kind == flex::Kind::Slope) {
        p.highest = 60 * units::deg;
        p.obstacle = 0.08;
    }
    p.second = kind == flex::Kind::Holes ? 0.7 : 1;
    p.wheel = kind == flex::Kind::Lift ? car::rear_right : car::front_left;
    p.threshold_load = kind == flex::Kind::Ramp ? 200 : 0;
    return p;
}

void of_flex(Sheet& s, const Job& j, const Assessment& a) {
    const std::vector<FlexState> states = flex_states(j, j.trial);
    for (const flex::Kind kind :
         {flex::Kind::Diagonal, flex::Kind::Ramp, flex::Kind::Lift, flex::Kind::Holes, flex::Kind::Slope}) {
        const flex::Protocol p = protocol(kind);
        s.under(say::words_of(p), [&] {
            const bool all = kind == flex::Kind::Diagonal || kind == flex::Kind::Slope;
            const auto results = flex_all(all ? states : std::vector{states[0]}, p);
            for (const FlexResult& r : results)
                s.under(say::name_of(r.of, units::System::Metric), [&] {
                    s("reach", r.ascent.height, double(r.ascent.lifted), double(r.ascent.light_wheel),
                      r.ascent.front_travel, r.ascent.rear_travel, r.lowest(), r.ascent.state.roll,
                      r.ascent.state.pitch, flex::ramp_index(p, j.vehicle.wheelbase.value, r.ascent.height));
                    s("road", r.road.roll_gradient, r.road.tips, r.road.lane_lean, r.road.head);
                    for (const Corner& c : r.corner) {
                        s("corner", c.load, c.gap, c.travel, c.bump, c.droop, c.height);
                        for (const CornerLimit& l : c.limits) s("ends, " + l.what, l.left);
                    }
                    for (const car::Wheel& w : r.ascent.state.wheels)
                        s.say("wheel", limit_of(w, units::System::Metric));
                });
            for (const double track : {0.0, 0.5, 1.0}) {
                std::string order;
                for (const std::size_t i : ranked(results, track)) order += " " + std::to_string(i);
                s.say("ranked", order);
            }
            for (const units::System system : {units::System::Metric, units::System::Inch})
                for (const std::string& words : say::why(p, results, system)) s.say("why", words);
            if (results.empty()) return;
            const flex::Scene scene = flex::scene(results[0].car, results[0].ascent.state);
            for (const flex::WheelPlace& w : scene.wheel) s("scene, wheel", w.centre, w.up, w.radius, w.lowest());
            for (std::size_t e = 0; e < 2; ++e) {
                s("scene, axle", scene.seat[e], scene.foot[e], scene.inner[e]);
                if (scene.bar[e]) s("scene, bar", scene.bar[e]->mount, scene.bar[e]->eye, scene.bar[e]->pickup);
            }
            const sure::Bands b = sure::flex_bands(states[0], p);
            s("sigma", b.sigma[0], b.sigma[1], b.sigma[2]);
        });
    }
    s("tips", flex::tipping_slope(a.car, true), flex::tipping_slope(a.car, false));
    for (const Diagonal d : {Diagonal::FrontLeftRearRight, Diagonal::FrontRightRearLeft}) {
        const flex::FixedRamps f = flex::on_fixed_ramps(a.car, d, 0.3);
        s("fixed ramps", f.gap, double(f.wheel), f.front_travel, f.rear_travel);
    }
}

void of_certainty(Sheet& s, const Job& j, const Assessment& a) {
    const sure::Bands linear = sure::bands(j.vehicle, j.trial);
    const sure::Bands shown =
        sure::with_draws(linear, sure::draw(j.vehicle, j.trial, sure::tally(), 200, sure::draws_seed));
    for (std::size_t o = 0; o < outcome_count; ++o) {
        const sure::Sides sides = shown.sides(o);
        s(outcome_names[o].words, a.outcomes[o], linear.sigma[o], sides.below, sides.above);
        s.say("band", band_text(a.outcomes[o], sides, 3) + " | " + band_text(a.outcomes[o], linear.sides(o), 3));
    }
    for (const Outcome o : {RollGradient, FrontShare, LiftHeight, FrontRate, RearRate})
        for (const auto& [label, share] : sure::measure_next(linear, o, 4)) s("measure next, " + label, share);
    const sure::Bands limit = sure::limit_bands(j.vehicle, j.trial, Ground::Wet);
    s("limit's sigma", limit.sigma[0], limit.sigma[1]);
}

void of_proof(Sheet& s, const Job& j) {
    for (const PlannedTest& t : j.tests) {
        const proof::Protocol& p = proof::protocol(t.protocol);
        for (std::size_t i = 0; i < t.states.size(); ++i) {
            const auto now =
                proof::question(p, proof::settings_of(p, t)).ask({t.states[i].car.vehicle, t.states[i].car.setup});
            for (std::size_t c = 0; c < now.size(); ++c) {
                const proof::Verdict v = proof::compare(t, static_cast<int>(i), c);
                s("predicted, " + std::string(p.key), now[c], v.measured, v.measured_sigma, v.z, double(v.bound));
            }
        }
        for (int other = 1; other < static_cast<int>(t.states.size()) && !p.channels.empty(); ++other)
            if (const auto b = proof::back_to_back(t, 0, 0, other))
                s("back to back", b->difference, b->half_90, b->apart_half_90, b->predicted_sigma, b->z);
        if (t.predicted()) s.say("verdict", say::told(t, units::System::Metric).headline);
    }
    for (const units::System system : {units::System::Metric, units::System::Inch})
        for (const AxleSetup* a : {&j.trial.front, &j.trial.rear})
            if (const auto v = proof::judge(*a, rig_of(j, *a))) {
                s("rig", v->fit.rate, v->fit.sigma, v->fit.interval_90, v->fit.offset, v->predicted, v->predicted_sigma,
                  v->z, proof::rig_dial(*a, rig_of(j, *a), 5));
                for (const proof::Suspect& suspect : v->suspects)
                    s("suspect, " + say::words_of(suspect, rig_of(j, *a).both_arms, system), suspect.sigmas);
            }
}

/// Every choice made otherwise: what it changes, and what it then says of itself.
void of_choices(Sheet& s, const Job& j) {
    std::map<std::string, Measured> now;
    Job same = j;
    for (const FieldRef& f : fields(same)) now[f.path] = *f.value;
    for (const char* prefix : {"vehicle", "trial"})
        for (const ChoiceRef& c : choices(j, prefix))
            for (std::size_t w = 0; w < c.words.size(); ++w) {
                if (static_cast<int>(w) == c.chosen) continue;
                s.under(c.path + " " + c.words[w], [&] {
                    Job other = j;
                    edit::choose(other, c.path, static_cast<int>(w));
                    for (const FieldRef& f : fields(other))
                        if (const auto at = now.find(f.path); at == now.end() || at->second != *f.value)
                            s(f.path, f.value->value, f.value->sigma);
                    model::check(other);
                });
            }
}
} // namespace

std::string answers(const Job& job) {
    Sheet s;
    const Vehicle& v = job.vehicle;
    const Setup& t = job.trial;
    s.under("check", [&] { model::check(job); });
    const Assessment a = assess(v, t);
    s("handling", a.handling.roll_gradient, a.handling.front_share, a.handling.first_lift,
      double(a.handling.first_wheel));
    s("hand sum", hand_roll_gradient(a.car));
    for (const car::Axle* axle : {&a.car.front, &a.car.rear}) {
        const RollStiffness k = roll_stiffness(*axle);
        s("stiffness", k.springs, k.bar, k.parasitic, k.tyres, k.whole());
    }
    if (const auto m = smallest_link_margin(t, a)) of_margin(s, name_of(m->second), m->first);
    for (const auto& l : {car::first_lift(a.car), car::rollover_threshold(a.car)})
        if (l) s("lifts", l->acceleration, double(l->wheel), l->state.roll, l->state.heave, l->state.pitch);
    s.under("certainty", [&] { of_certainty(s, job, a); });
    for (const End end : both_ends)
        s.under(name_of(end), [&] {
            const AxleSetup& setup = t[end];
            const AxleData& axle = v[end];
            if (const auto& figures = a[end]) s.under("bar", [&] { of_bar(s, setup, setup, axle, *figures); });
            s.under("links", [&] { of_links(s, job, end, setup, axle); });
        });
    s.under("balance", [&] { of_balance(s, job, a); });
    s.under("flex", [&] { of_flex(s, job, a); });
    s.under("proof", [&] { of_proof(s, job); });
    for (const units::System system : {units::System::Metric, units::System::Inch})
        for (const Figure figure : all_figures) {
            const Working w = working(v, t, a, figure, system);
            s.say(w.figure, w.result + " | " + w.formula + " | " + w.remark);
            for (const WorkingLine& l : w.lines) s.say(l.what, l.value + " | " + l.from);
        }
    for (const Doubt& d : doubts(job)) s.say(d.path, d.words);
    s.under("choice", [&] { of_choices(s, job); });
    return s.text;
}

std::string typed_answers() {
    Sheet s;
    const char* texts[] = {"26.5",          "26,5",        "1 582,5",   "1.582,5",  "1,582",
                           "1.582",         "1/2",         "10 3/4",    "-3",       "+3",
                           "> 12",          "1 1/16 in",   "3 ft 2 in", "2*12.5",   "12;13;14,5",
                           "12 mm; 1/2 in", "(3 + 4) * 2", "10 - 3",    "5 kg",     "5 lb",
                           "5 stone",       "3 lbf/in",    "2 kgf/mm",  "7 N/mm",   "40 lbf ft/deg",
                           "30 N m/deg",    "1e3",         "1.5e-2",    "",         "x",
                           "1..2",          "1//2",        "1/0",       "10 mm mm", "½",
                           "2½ in",         "٣٫٥",         "１２",      "−4",       "4′",
                           "4 deg",         "4°",          "0.1 rad",   "30 km/h",  "20 mph",
                           "9 m/s",         "200 GPa",     "150 ksi",   "1100 MPa", "7850 kg/m³",
                           "1,000,000",     "1 000 000",   "1'000",     "12 %",     "0.4 g",
                           "5 bar",         "99999999",    "26.5 26.5", "26.5;",    ";26.5",
                           "2 * ",          "(2",          "2)",        "none",     "solid",
                           "0x10",          "1e400"};
    using enum units::Quantity;
    for (const units::Quantity quantity :
         {Length, Mass, Force, Rate, TorsionalRate, Angle, Stress, Share, Speed, Number})
        for (const units::System system : {units::System::Metric, units::System::Inch})
            for (const char* text : texts) {
                s.under(std::string(units::name_of(quantity)) +
                            (system == units::System::Metric ? " '" : ", inches '") + text + "'",
                        [&] {
                            const units::Entry e = units::read_entry(text, quantity, system);
                            s(e.more_than ? "more than" : "is", e.values);
                            s.say("shows", units::text(e.values.front(), quantity, system));
                        });
            }
    for (int q = 0; q <= static_cast<int>(Number); ++q)
        for (const units::System system :
             {units::System::Metric, units::System::Inch, units::System::InchMetricRates}) {
            const auto quantity = static_cast<units::Quantity>(q);
            s.under(
                std::string(units::name_of(quantity)) + " in system " + std::to_string(static_cast<int>(system)), [&] {
                    for (const double value : {0.04, 1.0, 12345.678}) {
                        const std::string shown = units::text(value, quantity, system, 6);
                        s.say("of " + units::trimmed(value, 3), units::text(value, quantity, system) + " | " + shown);
                        s("read again", units::read_entry(shown, quantity, system).values.front());
                    }
                });
        }
    for (const units::Named& n : units::named_units())
        s("unit " + n.spelling, double(static_cast<int>(n.quantity)), n.factor);
    return s.text;
}

} // namespace dervish::store
