#include "core/job/usual.h"
#include "core/proof/asking.h"

namespace dervish::proof {

Protocol one_step() {
    using enum units::Quantity;
    return {"one_step",
            "Kerb under one side",
            Sort::Driving,
            "How far the body rocks as the wheels of one side go over a low kerb, and how soon it is still.",
            {{{"kerb", "Kerb", Length, Tool::Tape, 1e-3, 0.3}, 0.04},
             {{"speed", "Speed", units::Quantity::Speed, Tool::Test, 1, 30}, 4}},
            {{{"lean", "Most lean", Angle, Tool::AngleGauge, -0.2, 0.6},
              0.15 * units::deg,
              0,
              0.1 * units::deg,
              false,
              nullptr,
              0.03},
             {{"settles", "Still after, s", Number, Tool::Test, 0, 20, "lean within a tenth of its most"},
              0.15,
              0,
              0.05,
              false,
              nullptr,
              0.1}},
            {"a board or kerb 4 m long", "camera on the body, or a gauge that keeps its most"},
            {"Drive straight, left wheels over the kerb, at the speed, no pedal.",
             "Read the most lean, and from the picture when the body is still."},
            "Both axles are over it.",
            "A closed place; nobody beside the car. Slow enough that no rim meets the edge.",
            {},
            [](const Settings& s) {
                return of_car(balance::DriveNear(), [s](const Asked& asked, const car::Car& car,
                                                        balance::DriveNear& drives) {
                    balance::Drive kerb{balance::Manoeuvre::Kerb, s.at("speed"), 0};
                    kerb.bump = s.at("kerb");
                    kerb.size = size_of(car.front.track);
                    const balance::Run run = drives.of(to_model(asked.vehicle, asked.setup, car), kerb, asked.part < 1);
                    std::vector<double> out(2, std::nan(""));
                    if (run.moments.size() < 2 || !run.stands || !run.followed) return out;
                    const double level = run.moments.front().roll;
                    double most = 0;
                    for (const auto& m : run.moments) most = std::max(most, std::abs(m.roll - level));
                    out[0] = most;
                    const auto off = [&](const balance::Moment& m) { return std::abs(m.roll - level) - most / 10; };
                    std::size_t last = 0;
                    for (std::size_t i = 0; i < run.moments.size(); ++i)
                        if (off(run.moments[i]) > 0) last = i;
                    if (run.moments[last].time >= run.moments.back().time - 0.1) return out;
                    const balance::Moment &before = run.moments[last], &after = run.moments[last + 1];
                    const double part = off(before) / (off(before) - off(after));
                    out[1] = before.time + part * (after.time - before.time) - 0.3; // from the first edge
                    return out;
                });
            },
            bears_on_drives,
            true};
}

} // namespace dervish::proof
