#include "core/edit/edits.h"
#include "core/job/fields.h"
#include "core/job/stock.h"
#include "core/model/check.h"
#include "core/model/tyres.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/study/choices.h"
#include "core/study/cures.h"
#include "core/study/flex.h"
#include "core/study/launch.h"
#include "core/study/links.h"
#include "core/sure/bands.h"
#include "store/job_file.h"

#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <map>
#include <random>

using namespace dervish;

namespace {
/// Moves some numbers of a job anywhere in what their fields accept: over their logarithm where that spans decades.
void scatter(job::Job& job, std::mt19937& engine) {
    std::uniform_real_distribution<double> part(0, 1);
    const double share = std::array{0.02, 0.1, 0.5}[engine() % 3];
    for (const job::FieldRef& f : job::fields(job)) {
        if (part(engine) > share) continue;
        const double low = f.spec.lowest, high = f.spec.highest, u = part(engine);
        double value = low + u * (high - low);
        if (high > 1000 * std::max(low, 1e-12) && low >= 0) {
            const double from = std::max(low, high * 1e-9);
            value = from * std::pow(high / from, u);
        }
        f.value->value = units::as_filed(std::clamp(value, low, high), f.spec.quantity);
    }
    for (const job::ChoiceRef& c : job::choices(job, "vehicle"))
        if (part(engine) < share) edit::choose(job, c.path, static_cast<int>(engine() % c.words.size()));
}

/// The longest that each question took so far, s, and how often it took over 50 ms.
struct Cost {
    double most = 0;
    int over = 0;
};
std::map<std::string, Cost> costs;

/// What the stations work out of a job, one after the other; the longest of them in seconds.
double work_out(const job::Job& j, std::string& longest) {
    double most = 0;
    const auto timed = [&](const char* what, auto&& f) {
        const auto start = std::chrono::steady_clock::now();
        try {
            f();
        } catch (const BadInput&) { // an answer too
        }
        const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
        Cost& cost = costs[what];
        cost.most = std::max(cost.most, took);
        cost.over += took > 0.05;
        if (took > most) {
            most = took;
            longest = what;
        }
    };
    std::optional<study::Assessment> a;
    timed("assess", [&] { a = study::assess(j.vehicle, j.trial); });
    if (!a) return most;
    timed("limit", [&] { balance::outright_limit(model::to_model(j.vehicle, j.trial, a->car)); });
    timed("balance figures", [&] { study::balance_figures(j.vehicle, j.trial, a->car, Ground::Wet); });
    timed("schools", [&] {
        const balance::Model m = model::to_model(j.vehicle, j.trial, a->car);
        for (const study::Aim school : study::all_schools) study::reading(school, m);
    });
    timed("cures", [&] { study::cures(j.vehicle, j.trial, Ground::Dry, study::Aim::Limit, 0.02); });
    timed("launch", [&] { study::launch(j.vehicle, j.trial); });
    timed("bar sweeps", [&] {
        const balance::Model m = model::to_model(j.vehicle, j.trial, a->car);
        for (const End end : both_ends) study::sweep_bar(m, end);
    });
    for (const auto m : {balance::Manoeuvre::Step, balance::Manoeuvre::DoubleLaneChange, balance::Manoeuvre::Gust})
        timed(balance::name_of(m), [&] { balance::drive(model::to_model(j.vehicle, j.trial, a->car), {m, 20, 4}); });
    timed("flex", [&] { study::flex_all(study::flex_states(j, j.trial, nullptr), {}); });
    for (const End end : both_ends) {
        const job::AxleSetup& bar = j.trial[end];
        const job::AxleData& axle = j.vehicle[end];
        timed("eye ladder", [&] { study::eye_ladder(bar, axle); });
        timed("travel", [&] { study::travel_curve(bar, axle, 0.1); });
        timed("tubes", [&] { study::equal_rate_tubes(bar, {0.002, 0.003, 0.004}); });
        timed("stock", [&] { study::from_stock(bar, job::usual_stock()); });
        timed("rest", [&] { study::rest_state(j.vehicle, j.trial, end); });
        timed("links", [&] {
            if (const auto sides = study::link_sides(bar, axle))
                for (std::size_t side : {std::size_t{0}, std::size_t{1}}) {
                    study::link_limits((*sides)[side], side);
                    study::link_plan(bar, axle, side);
                }
        });
    }
    return most;
}
} // namespace

/// Random jobs anywhere within their fields' ranges, worked out as the stations do: counts those that take over 2 s.
/// Run by hand: build/release/tests/dervish-hunt-jobs DEMO [jobs [seed [first job]]]. Exit code 1 where one was too
/// slow.
int main(int argc, char** argv) {
    if (argc < 2) return 2;
    const job::Job demo = store::load(argv[1]).job;
    const int jobs = argc > 2 ? std::atoi(argv[2]) : 10000;
    const int seed = argc > 3 ? std::atoi(argv[3]) : 1;
    const int first = argc > 4 ? std::atoi(argv[4]) : 0;
    int slow = 0, stands = 0;
    double worst = 0;
    for (int i = first; i < first + jobs; ++i) {
        std::mt19937 engine(static_cast<unsigned>(seed * 1000003 + i));
        job::Job j = i % 2 ? demo : job::blank();
        try {
            scatter(j, engine);
            model::check(j);
        } catch (const BadInput&) {
            continue;
        }
        ++stands;
        std::string what;
        const double took = work_out(j, what);
        worst = std::max(worst, took);
        if (took <= 2) continue;
        ++slow;
        std::printf("job %d: %s took %.1f s\n", i, what.c_str(), took);
        std::fflush(stdout);
    }
    for (const auto& [what, cost] : costs)
        std::printf("  %-20s at most %6.3f s, over 50 ms %d times\n", what.c_str(), cost.most, cost.over);
    std::printf("%d jobs, %d of them cars that can be, the slowest %.2f s, %d over 2 s\n", jobs, stands, worst, slow);
    return slow ? 1 : 0;
}
