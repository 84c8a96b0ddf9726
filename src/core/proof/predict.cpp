#include "core/proof/predict.h"

#include <algorithm>

namespace dervish::proof {

job::Prediction predict(const Vehicle& vehicle, const PlannedTest& test) {
    Vehicle loaded = vehicle;
    for (Load& l : loaded.loads)
        l.aboard = std::find(test.aboard.begin(), test.aboard.end(), l.name) != test.aboard.end();
    const auto outcomes = [&](const Vehicle& v, const Setup& s, double bar_scale) {
        const job::Prediction p = proof::predict(car_with(v, s, bar_scale), test.ramp);
        Outcomes out{p.value};
        for (std::size_t w = 0; w < 4; ++w) out[w + 1] = p.travel.wheel[w].value_or(0);
        return out;
    };
    job::Prediction out = proof::predict(car_with(loaded, test.as_fitted), test.ramp);
    const Bands b = propagate(loaded, test.as_fitted, outcomes);
    out.sigma = b.sigma[0];
    for (std::size_t w = 0; w < 4; ++w) out.travel_sigma.wheel[w] = b.sigma[w + 1];
    return out;
}

} // namespace dervish::proof
