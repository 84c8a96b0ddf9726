#include "core/num/band.h"
#include "core/proof/predict.h"
#include "core/proof/verdict.h"
#include "core/sure/draws.h"
#include "store/job_file.h"

#include <chrono>
#include <cmath>
#include <cstdio>
#include <random>

/// Every protocol asked of many made-up cars: each job's Fitted with all that is not sure drawn from its spread is a
/// car of known truth; what its test would read, with the tool's and the driver's own spread, is set against the
/// prediction made of the job. hunt-prove CARS SEED JOB [PROTOCOL] prints how many in a hundred agree at 90 %.
using namespace dervish;

int main(int argc, char** argv) {
    if (argc < 4) return 2;
    const int cars = std::atoi(argv[1]);
    const auto seed = static_cast<unsigned>(std::atoi(argv[2]));
    const job::Job j = store::load(argv[3]).job;
    int bad = 0;
    for (const proof::Protocol& p : proof::protocols()) {
        if (argc > 4 && std::string(argv[4]) != p.key) continue;
        if (p.channels.empty()) continue;
        job::PlannedTest test;
        test.protocol = p.key;
        test.states.push_back({"", {j.vehicle, j.fitted}, {}});
        const auto settings = proof::settings_of(p, test);
        const auto begun = std::chrono::steady_clock::now();
        const job::Prediction prediction = proof::predict(p, settings, test.states[0].car);
        const double took = std::chrono::duration<double>(std::chrono::steady_clock::now() - begun).count();
        test.states[0].prediction = prediction;
        std::vector<std::vector<double>> truths;
        proof::Question asked = proof::question(p, settings);
        asked.ask = [&truths, ask = asked.ask](const proof::Asked& of) mutable {
            truths.push_back(ask(of));
            return truths.back();
        };
        std::vector<std::vector<double>>* const all = &truths;
        sure::draw(j.vehicle, j.fitted, asked, cars, seed);
        std::mt19937 random(seed + 1);
        std::normal_distribution<double> normal;
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            int agree = 0, count = 0;
            for (std::size_t i = 1; i < all->size(); ++i) {
                const double truth = (*all)[i][c];
                if (!std::isfinite(truth)) continue;
                const bool ended = p.channels[c].ends_at && truth >= settings.at(p.channels[c].ends_at) * (1 - 1e-9);
                const double read = ended ? truth
                                          : truth * (1 + p.channels[c].by_hand * normal(random)) +
                                                normal(random) * proof::read_to(test, p.channels[c], truth);
                test.runs = {{}};
                test.runs[0].readings.push_back(
                    {p.channels[c].spec.key, read, ended ? job::Bound::More : job::Bound::Exact, {}});
                const auto agreement = proof::compare(test, 0, c).agreement;
                if (agreement == proof::Agreement::CannotTell) continue;
                ++count;
                agree += agreement == proof::Agreement::Agrees;
            }
            const double rate = count ? 100.0 * agree / count : std::nan("");
            bad += count && (rate < 86 || rate > 97);
            std::printf("%-16s %-12s predicted %10.4g sigma %9.3g tells %d   cars %4d  agree %5.1f %%   %.2f s\n",
                        p.key, p.channels[c].spec.key, prediction.value[c], prediction.sigma[c], prediction.tells[c],
                        count, rate, took);
        }
        std::fflush(stdout);
    }
    return bad;
}
