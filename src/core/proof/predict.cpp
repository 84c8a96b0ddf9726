#include "core/proof/predict.h"

#include <algorithm>

namespace dervish::proof {

job::Prediction predict(const PlannedTest& test) {
    const auto outcomes = [&](const Vehicle& v, const Setup& s, double bar_scale) {
        const job::Prediction p = proof::predict(car_with(v, s, bar_scale), test.ramp);
        Outcomes out{p.value};
        for (std::size_t w = 0; w < 4; ++w) out[w + 1] = p.travel.wheel[w].value_or(0);
        return out;
    };
    job::Prediction out = proof::predict(car_with(test.car.vehicle, test.car.setup), test.ramp);
    const Bands b = propagate(test.car.vehicle, test.car.setup, outcomes);
    out.sigma = b.sigma[0];
    for (std::size_t w = 0; w < 4; ++w) out.travel_sigma.wheel[w] = b.sigma[w + 1];
    return out;
}

} // namespace dervish::proof
