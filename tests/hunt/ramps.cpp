#include "core/examples.h"
#include "core/flex/protocol.h"

#include <cstdio>
#include <cstdlib>

using namespace dervish;

/// Random plausible cars on random ground, to a wheel's lift: counts the equilibria that were not found. Run by hand:
/// build/release/tests/dervish-hunt [cars]. Exit code 1 where one was missed.
int main(int argc, char** argv) {
    const int cars = argc > 1 ? std::atoi(argv[1]) : 10000;
    examples::Random r;
    int missed = 0, solved = 0, lifted = 0;
    for (int i = 0; i < cars; ++i) {
        car::Car c = r.car();
        c.cg_left = r(-0.04, 0.04);
        for (car::Axle* a : {&c.front, &c.rear}) {
            a->left_bump = r(-0.02, 0.02);
            a->left_droop = r(-0.02, 0.02);
            if (r(0, 1) < 0.2) a->spring_table = {{-0.3, -0.2 * a->spring_rate}, {0, 0}, {0.1, 0.13 * a->spring_rate}};
        }
        flex::Protocol p{.kind = static_cast<flex::Kind>(i % 5),
                         .raised = r(0, 1) < 0.5 ? Diagonal::FrontLeftRearRight : Diagonal::FrontRightRearLeft,
                         .wheel = i / 5 % 4,
                         .second = r(0.3, 1.7),
                         .obstacle = r(0, 0.15),
                         .threshold_load = r(0, 1) < 0.5 ? 0 : r(0, 500),
                         .highest = 1.2};
        const flex::Ascent a = flex::climb(c, p);
        lifted += a.lifted;
        for (const double part : {0.25, 0.5, 0.75, 1.0}) {
            const double reach = part * a.height;
            const car::State s = flex::at_reach(c, p, reach);
            ++solved;
            if (s.converged && s.residual < 1e-7) continue;
            ++missed;
            std::printf("car %d, protocol %d, reach %.4f: residual %.2e, roll %.2f\n", i, i % 5, reach, s.residual,
                        s.roll[0]);
        }
    }
    std::printf("%d cars, %d with a wheel lifted, %d equilibria, %d not found\n", cars, lifted, solved, missed);
    return missed ? 1 : 0;
}
