// Run: build/release/bench/dervish-bench. One core; the targets stand in docs/model.md, "Speed".
#include "core/balance/ride.h"
#include "core/bar/travel.h"
#include "core/linkage/linkage.h"
#include "core/model/acting.h"
#include "core/model/model.h"
#include "core/model/tyres.h"
#include "core/study/assess.h"
#include "core/study/balance.h"
#include "core/sure/draws.h"
#include "core/sure/questions.h"
#include "store/job_file.h"

#include <benchmark/benchmark.h>

using namespace dervish;

namespace {
const job::Job& demo() {
    static const job::Job job = store::load(DEMO).job;
    return job;
}

/// K, ledger and stress of the demo's front bar, straights divided to at most range(0) mm.
void bar_solver(benchmark::State& state) {
    const bar::Bar b = model::to_bar(demo().fitted.front);
    const double longest = static_cast<double>(state.range(0)) * units::mm;
    for (auto _ : state) {
        const bar::Solution s = bar::solve(b, longest);
        benchmark::DoNotOptimize(bar::ledger(s).energy + bar::worst(bar::stress(s, {-0.03, 0.03})).von_mises);
    }
    state.counters["elements"] = static_cast<double>(bar::solve(b, longest).elements.size());
}
BENCHMARK(bar_solver)->Arg(100000)->Arg(12)->Unit(benchmark::kMicrosecond);

/// Large travel of the demo's front bar through full roll, both ways, 41 positions with stress.
void nonlinear_sweep(benchmark::State& state) {
    const bar::Bar b = model::to_bar(demo().fitted.front);
    bar::Pull pull;
    for (std::size_t e = 0; e < 2; ++e)
        pull.rods[e] = bar::Rod{bar::upward(b.line.points[b.eyes[e]] - Eigen::Vector3d(0, 0, 0.2)), 0.2, 3e6};
    std::size_t positions = 0;
    for (auto _ : state) {
        const bar::Solution s = bar::solve(b, 0.12);
        const bar::Mesh mesh = bar::mesh(s);
        positions =
            bar::sweep(mesh, pull, {-0.07, 0.07}, 20).size() + bar::sweep(mesh, pull, {0.07, -0.07}, 20).size() - 1;
    }
    state.counters["positions"] = static_cast<double>(positions);
}
BENCHMARK(nonlinear_sweep)->Unit(benchmark::kMillisecond);

/// The ladder of four eyes a side.
void eye_ladder(benchmark::State& state) {
    job::AxleSetup a = demo().fitted.front;
    a.bar.eyes.resize(4, a.bar.eyes.back());
    for (std::size_t i = 1; i < 4; ++i) a.bar.eyes[i].arm_length.value = a.bar.eyes[i - 1].arm_length.value - 0.02;
    const job::AxleData axle = demo().vehicle.front;
    for (auto _ : state) benchmark::DoNotOptimize(study::eye_ladder(a, axle));
}
BENCHMARK(eye_ladder)->Unit(benchmark::kMillisecond);

/// The demo's handling curve of 40 points with its limit.
void handling_curve(benchmark::State& state) {
    const balance::Model m =
        model::to_model(demo().vehicle, demo().trial, model::car_with(demo().vehicle, demo().trial));
    for (auto _ : state) benchmark::DoNotOptimize(balance::handling_curve(m, 40));
}
BENCHMARK(handling_curve)->Unit(benchmark::kMillisecond);

/// A double lane change at 0.4 g.
void double_lane_change(benchmark::State& state) {
    const balance::Model m =
        model::to_model(demo().vehicle, demo().trial, model::car_with(demo().vehicle, demo().trial));
    for (auto _ : state)
        benchmark::DoNotOptimize(balance::drive(m, {balance::Manoeuvre::DoubleLaneChange, 20, 0.4 * units::g}));
}
BENCHMARK(double_lane_change)->Unit(benchmark::kMillisecond);

/// One end's links through 201 positions of roll, arm and link in space.
void rigid_sweep(benchmark::State& state) {
    linkage::BarEnd end{{Eigen::Vector3d(0.25, 0.35, 0.35), Eigen::Vector3d(0.25, -0.35, 0.35)},
                        {0, 0.5, 0.36},
                        0.18,
                        linkage::Arm{{Eigen::Vector3d(0.15, 0.3, 0.2), Eigen::Vector3d(-0.2, 0.3, 0.21)},
                                     {0, 0.52, 0.18},
                                     {0, 0.7, 0.17}}};
    end.link = *linkage::length_for(end, 0);
    const linkage::Branch branch = *linkage::branch_at_rest(end);
    for (auto _ : state) benchmark::DoNotOptimize(linkage::sweep(end, branch, linkage::Mode::Roll, -0.06, 0.06, 201));
    state.counters["positions"] =
        static_cast<double>(linkage::sweep(end, branch, linkage::Mode::Roll, -0.06, 0.06, 201).size());
}
BENCHMARK(rigid_sweep)->Unit(benchmark::kMicrosecond);

/// The bar's force at the wheels, once.
void force_law(benchmark::State& state) {
    const job::AxleSetup& a = demo().fitted.front;
    const linkage::Law law = model::to_law(a, demo().vehicle.front, model::solve(a));
    double s = 0;
    for (auto _ : state) {
        s = s > 0.06 ? -0.06 : s + 0.003;
        benchmark::DoNotOptimize(law({s, -s}).force);
    }
}
BENCHMARK(force_law)->Unit(benchmark::kNanosecond);

/// The ends and the law of one bar, from the job.
void law_built(benchmark::State& state) {
    const job::AxleSetup& a = demo().fitted.front;
    const bar::Solution solution = model::solve(a);
    for (auto _ : state) benchmark::DoNotOptimize(model::to_law(a, demo().vehicle.front, solution));
}
BENCHMARK(law_built)->Unit(benchmark::kMicrosecond);

void equilibrium_cold(benchmark::State& state) {
    const car::Car car = model::car_with(demo().vehicle, demo().fitted);
    for (auto _ : state) benchmark::DoNotOptimize(car::settle(car, {.lateral_acceleration = 6}));
}
BENCHMARK(equilibrium_cold)->Unit(benchmark::kMicrosecond);

void equilibrium_warm(benchmark::State& state) {
    const car::Car car = model::car_with(demo().vehicle, demo().fitted);
    car::State last = car::settle(car, {.lateral_acceleration = 4});
    double a = 4;
    for (auto _ : state) {
        a = a > 5 ? 4 : a + 0.05;
        last = car::settle(car, {.lateral_acceleration = a}, &last);
        benchmark::DoNotOptimize(last);
    }
}
BENCHMARK(equilibrium_warm)->Unit(benchmark::kMicrosecond);

void equilibrium_cold_on_ramps(benchmark::State& state) {
    const car::Car car = model::car_with(demo().vehicle, demo().fitted);
    for (auto _ : state) benchmark::DoNotOptimize(car::settle(car, flex::situation({}, 0.3)));
}
BENCHMARK(equilibrium_cold_on_ramps)->Unit(benchmark::kMicrosecond);

void diagonal_ramp_to_lift(benchmark::State& state) {
    const car::Car car = model::car_with(demo().vehicle, demo().fitted);
    for (auto _ : state) benchmark::DoNotOptimize(flex::climb(car, {}));
}
BENCHMARK(diagonal_ramp_to_lift)->Unit(benchmark::kMicrosecond);

/// As it is, front off, rear off, both off; both bars on (the demo's rear one is).
void diagonal_ramps_four_states(benchmark::State& state) {
    std::vector<car::Car> cars;
    for (const int off : {0, 1, 2, 3}) {
        job::Setup s = demo().fitted;
        if (off & 1) s.front.connected = false;
        if (off & 2) s.rear.connected = false;
        cars.push_back(model::car_with(demo().vehicle, s));
    }
    for (auto _ : state)
        for (const car::Car& car : cars) benchmark::DoNotOptimize(flex::climb(car, {}));
}
BENCHMARK(diagonal_ramps_four_states)->Unit(benchmark::kMillisecond);

/// Everything the window shows for one setup, nominal.
void assess(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(study::assess(demo().vehicle, demo().fitted));
}
BENCHMARK(assess)->Unit(benchmark::kMicrosecond);

/// Spreads of loads and travels, accelerations and what is felt, on one ground.
void ride_on_one_ground(benchmark::State& state) {
    const balance::Model m =
        model::to_model(demo().vehicle, demo().trial, model::car_with(demo().vehicle, demo().trial), Ground::Gravel);
    const car::State still = car::settle(m.car, {});
    for (auto _ : state) benchmark::DoNotOptimize(balance::Shaken(m, {}, still).on(m.road));
}
BENCHMARK(ride_on_one_ground)->Unit(benchmark::kMicrosecond);

/// The outright limit on each of the nine grounds, its roughness in it.
void limits_on_all_grounds(benchmark::State& state) {
    const car::Car car = model::car_with(demo().vehicle, demo().trial);
    for (auto _ : state)
        for (const Ground ground : all_grounds)
            benchmark::DoNotOptimize(
                balance::outright_limit(model::to_model(demo().vehicle, demo().trial, car, ground)));
}
BENCHMARK(limits_on_all_grounds)->Unit(benchmark::kMillisecond);

void bands(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(sure::bands(demo().vehicle, demo().fitted));
}
BENCHMARK(bands)->Unit(benchmark::kMillisecond);

void limit_bands(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(sure::limit_bands(demo().vehicle, demo().trial, Ground::Dry));
}
BENCHMARK(limit_bands)->Unit(benchmark::kMillisecond);

/// Of a lane change at 0.4 g.
void bands_in_time(benchmark::State& state) {
    const balance::Drive drive{balance::Manoeuvre::LaneChange, 20, 0.4 * units::g};
    for (auto _ : state)
        benchmark::DoNotOptimize(sure::propagate(demo().vehicle, demo().trial, sure::manoeuvre(drive, Ground::Dry)));
}
BENCHMARK(bands_in_time)->Unit(benchmark::kMillisecond);

void draws(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(sure::draw(demo().vehicle, demo().fitted, sure::tally(), 1000, 1));
}
BENCHMARK(draws)->Unit(benchmark::kMillisecond);
/// Files of 60 MB that mean nothing: how soon they are refused.
void hostile_file(benchmark::State& state) {
    constexpr std::size_t size = 60'000'000;
    std::string bytes;
    if (state.range(0) == 0) { // keys that nobody knows
        bytes = "{";
        for (int i = 0; bytes.size() < size; ++i) bytes += "\"k" + std::to_string(i) + "\":1,";
        bytes += "\"k\":1}";
    } else if (state.range(0) == 1) {
        bytes = "{\"name\":\"" + std::string(size, 'x') + "\"}";
    } else {
        bytes = std::string(size, '[');
    }
    for (auto _ : state) {
        try {
            store::read_job(bytes);
        } catch (const BadInput& e) {
            benchmark::DoNotOptimize(e.where());
        }
    }
}
BENCHMARK(hostile_file)->DenseRange(0, 2)->Unit(benchmark::kMillisecond);
} // namespace
