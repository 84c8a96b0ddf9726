#include "core/edit/tests.h"
#include "core/proof/predict.h"
#include "core/proof/verdict.h"
#include "store/job_file.h"

#include <cmath>
#include <cstdio>
#include <random>

/// Writes the made-up tests of the demo jobs: every reading is the model's answer for a car that differs from the job
/// by a stated fault or by its inputs drawn from half their spreads, with the tool's own spread, and where it says so a
/// drift from run to run. demo-tests FILE van|sprint, then save the screenshots and kept answers anew.
using namespace dervish;
using job::Setup;

namespace {
std::mt19937 luck(35);
double normal() { return std::normal_distribution<double>()(luck); }

struct Story {
    edit::TestPlan plan;
    std::vector<std::pair<std::string, double>> settings;
    std::vector<int> order; ///< empty: as planned
    bool shuffled = false;
    std::vector<std::string> drivers;
    std::vector<job::Guess> guesses = {};
    double drift = 0;                                          ///< a run, SI, of the first channel
    std::function<void(job::Snapshot&, int state)> truth = {}; ///< what the car was in fact
    std::string ground = "concrete yard, dry";
    std::vector<std::vector<std::pair<const char*, double>>> felt =
        {}; ///< of each state, for each driver a little apart
    int left_out = -1;
    std::string because = {};
    job::Decision decision = {};
};

/// A car within what the job says of itself.
job::Snapshot drawn(const job::Snapshot& of) {
    job::Job j;
    j.vehicle = of.vehicle;
    j.trial = of.setup;
    for (job::FieldRef& f : job::fields(j)) {
        if (f.path.starts_with("fitted/") || !(f.value->sigma > 0)) continue;
        const double to = f.value->value + 0.5 * f.value->sigma * normal();
        if (to >= f.spec.lowest && to <= f.spec.highest) f.value->value = to;
    }
    return {j.vehicle, j.trial};
}

void tell(job::Job& j, const Story& s) {
    edit::plan_test(j, s.plan);
    const int at = static_cast<int>(j.tests.size()) - 1;
    for (const auto& [key, si] : s.settings) edit::set_setting(j, at, key, si);
    if (!s.order.empty()) edit::set_order(j, at, s.order, s.shuffled);
    for (const job::Guess& g : s.guesses) edit::put_guess(j, at, g);
    job::PlannedTest frozen = j.tests.back();
    const proof::Protocol& p = proof::protocol(frozen.protocol);
    const auto all = proof::predict(frozen);
    for (std::size_t i = 0; i < all.size(); ++i) frozen.states[i].prediction = all[i];
    edit::freeze(j, at, frozen);
    // The same car in every run: what is not sure of it is drawn once, and each state is its setup on it.
    const auto car_seed = static_cast<unsigned>(luck());
    std::vector<std::vector<double>> true_values;
    for (int state = 0; state < static_cast<int>(frozen.states.size()); ++state) {
        const auto after = luck;
        luck.seed(car_seed);
        job::Snapshot car = drawn(frozen.states[static_cast<std::size_t>(state)].car);
        luck = after;
        if (s.truth) s.truth(car, state);
        true_values.push_back(p.answers(proof::settings_of(p, frozen))({car.vehicle, car.setup}));
    }
    for (std::size_t r = 0; r < j.tests.back().order.size(); ++r) {
        edit::begin_run(j, at, "", true);
        const int run = static_cast<int>(r), state = j.tests.back().runs.back().state;
        const std::string driver = s.drivers.empty() ? "" : s.drivers[r % s.drivers.size()];
        edit::set_run_words(j, at, run, edit::RunWords::Driver, driver);
        edit::set_run_words(j, at, run, edit::RunWords::Ground, s.ground);
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            const double truth = true_values[static_cast<std::size_t>(state)][c];
            if (!std::isfinite(truth)) continue;
            const double read = truth + (c == 0 ? s.drift * static_cast<double>(r) : 0) +
                                normal() * proof::read_to(j.tests.back(), p.channels[c], truth),
                         step = p.channels[c].read_to > 0 ? p.channels[c].read_to / 5 : 0.1;
            // Written down as far as the tool is read.
            const double shown = std::round(read / step) * step;
            j.tests.back().runs.back().readings.push_back(
                {p.channels[c].spec.key, units::rounded(shown), job::Bound::Exact, {}});
        }
        if (static_cast<std::size_t>(state) < s.felt.size())
            for (const auto& [scale, mark] : s.felt[static_cast<std::size_t>(state)])
                edit::put_mark(j, at, run, driver, scale, std::round(2 * (mark + 0.6 * normal())) / 2);
        if (run == s.left_out) edit::discard(j, at, run, "", s.because);
    }
    for (const job::Voice& voice : s.decision.voices) edit::put_voice(j, at, voice);
    edit::set_decision_words(j, at, s.decision.words, s.decision.ordered, s.decision.look_again);
    edit::decide(j, at, s.decision.kind, s.decision.date, j.book.back().odometer);
}

job::Guess number(const char* who, int state, double value, double span) {
    return {who, state, 0, job::Guess::Kind::Number, value, span};
}
job::Guess way(const char* who, int state, int than, job::Guess::Kind kind) { return {who, state, than, kind, 0, 0}; }

Setup called(Setup s, const char* name) {
    s.name = name;
    return s;
}
Setup without(Setup s, End end, const char* name) {
    s[end].connected = false;
    return called(std::move(s), name);
}
using Kind = job::Decision::Kind;

void van(job::Job& j) {
    const Setup fitted = j.fitted;
    tell(j, {.plan = {"Rear bar and the track",
                      "2031-05-14",
                      "Does the rear bar hold the track back?",
                      "diagonal_ramps",
                      job::Asks::Which,
                      {called(fitted, "both bars on"), without(fitted, End::Rear, "rear bar off")}},
             .settings = {},
             .order = {0, 1, 0, 1, 0, 1},
             .drivers = {"Oke", "Oke", "Marit", "Marit", "Oke", "Oke"},
             .guesses = {number("Oke", 0, 0.300, 0.030), number("Oke", 1, 0.345, 0.030),
                         number("Marit", 0, 0.320, 0.025), number("Marit", 1, 0.335, 0.025)},
             .drift = 0.0015,
             .ground = "boards on gravel, dry",
             .felt = {{{"accept", 4}}, {{"accept", 6.5}}},
             .left_out = 5,
             .because = "wheel slipped off the ramp",
             .decision = {Kind::Compromise,
                          "2031-05-14",
                          "Rear bar off for the track season, on again for the valley road.",
                          {{"Marit", "", true}, {"Oke", "not with the tank full on the road", false}},
                          "",
                          "1 September, when the road season begins"}});
    tell(j, {.plan = {"Somebody on the sill",
                      "2031-05-16",
                      "Is the front bar doing its work?",
                      "sill_lean",
                      job::Asks::SumOrCar,
                      {called(fitted, "as delivered")}},
             .settings = {{"person", 78.0}, {"out", 0.86}},
             .order = {0, 0, 0, 0, 0, 0},
             .drivers = {"Marit"},
             .guesses = {number("Oke", 0, 0.5 * units::deg, 0.15 * units::deg)},
             .truth = [](job::Snapshot& car, int) { car.setup.front.connected = false; },
             .decision = {Kind::Change,
                          "2031-05-16",
                          "Left front link found broken at its lower joint; new one fitted the same day.",
                          {{"Oke", "", true}, {"Marit", "", true}},
                          "two links",
                          "after 500 km"}});
    Setup firm = called(fitted, "rear tyres a tenth firmer");
    firm.rear.stand.pressure.value = 1.1;
    tell(j, {.plan = {"Pressures on the valley road",
                      "2031-05-21",
                      "Do firmer rear tyres lean less?",
                      "corner_lean",
                      job::Asks::Which,
                      {called(fitted, "as delivered"), firm}},
             .settings = {{"radius", 34.0}, {"speed", 11.0}},
             .order = {0, 1, 0, 1},
             .drivers = {"Oke"},
             .guesses = {way("Oke", 1, 0, job::Guess::Kind::Less), way("Marit", 1, 0, job::Guess::Kind::Same)},
             .ground = "closed valley bend, dry",
             .felt = {{{"roll", 7}, {"ride", 6}, {"confidence", 5}, {"accept", 5}},
                      {{"roll", 7}, {"ride", 5.5}, {"confidence", 5}, {"accept", 4.5}}},
             .decision = {
                 Kind::Keep, "2031-05-21", "Pressures stay: nobody can tell, and neither can this test.", {}, "", ""}});
    tell(j,
         {.plan = {"Slalom with the stiffer front",
                   "2031-05-28",
                   "Is the 26 mm front bar quicker between cones?",
                   "slalom",
                   job::Asks::Which,
                   {called(fitted, "as delivered"), called(j.trial, "26 mm front bar")}},
          .settings = {},
          .order = {0, 1, 0, 1, 0},
          .drivers = {"Marit", "Marit", "Oke", "Oke", "Marit"},
          .guesses = {way("Marit", 1, 0, job::Guess::Kind::Less), way("Oke", 1, 0, job::Guess::Kind::More)},
          // The front tyres on the day were worn to half their grip's reserve: a stiff front bar asks more of them.
          .truth =
              [](job::Snapshot& car, int state) {
                  if (state == 1) car.setup.front.tyres.grip.value *= 0.8;
              },
          .ground = "airstrip, dry",
          .felt = {{{"entry", 5}, {"middle", 5}, {"roll", 7.5}, {"confidence", 5.5}, {"accept", 5.5}},
                   {{"entry", 3}, {"middle", 2.5}, {"roll", 5}, {"confidence", 4.5}, {"accept", 3.5}}},
          .decision = {Kind::TestAgain,
                       "2031-05-28",
                       "Marit was right and the sum was not: the front tyres went off with the stiffer bar. Again with "
                       "new front tyres before anything is bought.",
                       {{"Marit", "", true}, {"Oke", "the tyres were already worn", false}},
                       "",
                       "with new tyres"}});
    tell(j, {.plan = {"Scales with links on and off",
                      "2031-05-30",
                      "Does the front bar load a wheel at rest?",
                      "corner_scales",
                      job::Asks::Unknown,
                      {called(fitted, "links on"), without(fitted, End::Front, "front links off")}},
             .settings = {},
             .order = {0, 1, 0},
             .drivers = {"Oke"},
             .guesses = {way("Oke", 1, 0, job::Guess::Kind::Same)}});
    edit::set_unknown(j, static_cast<int>(j.tests.size()) - 1, "vehicle/front_left_load");
}

void sprint(job::Job& j) {
    const Setup fitted = j.fitted, trial = j.trial;
    const std::vector<Setup> both{called(fitted, "last year's holes"), called(trial, "front out, rear in")};
    tell(j,
         {.plan = {"Circle at the hut", "2031-05-13", "Does the new pair of holes hold the circle faster?",
                   "constant_radius", job::Asks::Which, both},
          .settings = {{"radius", 18.0}, {"ground", 2.0}},
          .order = {0, 1, 1, 0, 1, 0},
          .shuffled = true,
          .drivers = {"Isa", "Tam"},
          .guesses = {way("Isa", 1, 0, job::Guess::Kind::More), number("Tam", 0, 11.5, 1), number("Tam", 1, 12.5, 1)},
          .drift = 0.02,
          .ground = "wetted yard",
          .felt = {{{"entry", 4}, {"middle", 2}, {"exit", 3}, {"steady", 7}, {"confidence", 4}, {"accept", 3}},
                   {{"entry", 5.5}, {"middle", 4.5}, {"exit", 5}, {"steady", 6.5}, {"confidence", 6}, {"accept", 7}}},
          .decision = {Kind::Change,
                       "2031-05-13",
                       "Front out, rear in for the wet day.",
                       {{"Isa", "", true}, {"Tam", "leave the front alone for the dry", false}},
                       "",
                       "after the wet day"}});
    tell(j, {.plan = {"Scales before the day",
                      "2031-05-13",
                      "Is it as heavy as the book says?",
                      "corner_scales",
                      job::Asks::Changed,
                      {called(fitted, "last year's holes")}},
             .settings = {},
             .order = {0, 0},
             .drivers = {"Tam"}});
    tell(j,
         {.plan = {"Front bar on the bench",
                   "2031-05-09",
                   "Is it the sum or the bar?",
                   "bench_rig",
                   job::Asks::SumOrCar,
                   {called(fitted, "front bar, outer hole")}},
          .settings = {{"mass", 20.0}},
          .order = {0, 0, 0},
          .drivers = {"Tam"},
          .guesses = {number("Tam", 0, 2.0e-3, 0.4e-3)},
          // Its mounts had gone hard and loose: an eighth of their rate.
          .truth =
              [](job::Snapshot& car, int) {
                  car.setup.front.mounts.vertical.value /= 8;
                  car.setup.front.mounts.fore_aft.value /= 8;
              },
          .decision = {
              Kind::Change, "2031-05-09", "Mounts found worn through; new ones fitted.", {{"Tam", "", true}}, "", ""}});
    tell(j, {.plan = {"S-bend below the hut", "2031-05-15", "Does it take its set sooner?", "s_bend", job::Asks::Which,
                      both},
             .settings = {},
             .order = {0, 1, 0},
             .drivers = {"Isa"},
             .guesses = {way("Isa", 1, 0, job::Guess::Kind::Same)},
             .ground = "closed hill road, dry"});
    tell(j, {.plan = {"Step of the steering", "2031-05-15", "Is it slower to answer?", "steering_step",
                      job::Asks::Which, both},
             .settings = {},
             .order = {0, 1, 0, 1},
             .drivers = {"Isa"},
             .guesses = {},
             .ground = "airstrip, dry"});
    tell(j,
         {.plan = {"The long bend, felt", "2031-05-17", "What do Isa and Tam feel?", "road_drive", job::Asks::Which,
                   both},
          .settings = {},
          .order = {0, 1, 0, 1},
          .drivers = {"Isa", "Isa", "Tam", "Tam"},
          .ground = "closed hill road, wet",
          .felt = {
              {{"entry", 4}, {"middle", 2}, {"exit", 3}, {"lifted", 3}, {"roll", 3}, {"ride", 4}, {"accept", 3}},
              {{"entry", 5}, {"middle", 5}, {"exit", 5}, {"lifted", 5}, {"roll", 3.5}, {"ride", 4}, {"accept", 7}}}});
}
} // namespace

int main(int argc, char** argv) {
    if (argc != 3) return 2;
    store::JobFile file = store::load(argv[1]);
    const bool is_van = std::string(argv[2]) == "van";
    std::erase_if(file.job.book.change(), [](const job::Entry& e) { return e.kind == job::EntryKind::Decided; });
    const std::size_t own = is_van ? 2 : 1; // the ramps that were there before
    if (file.job.tests.size() > own) file.job.tests.resize(own);
    is_van ? van(file.job) : sprint(file.job);
    for (job::PlannedTest& t : file.job.tests) {
        std::printf("%s: %d\n", t.name.c_str(), static_cast<int>(proof::compare(t).agreement));
        const proof::Protocol& p = proof::protocol(t.protocol);
        if (t.states.size() > 1 && !p.channels.empty())
            if (const auto b = proof::back_to_back(t, 0, 0, 1))
                std::printf("   difference %g +- %g, sum %g +- %g, z %.2f, agreement %d\n", b->difference, b->half_90,
                            b->predicted.value_or(NAN), 1.645 * b->predicted_sigma, b->z,
                            static_cast<int>(b->agreement));
    }
    store::save(file, argv[1]);
}
