#include "core/proof/predict.h"

#include <algorithm>

namespace dervish::proof {

job::Prediction predict(const PlannedTest& test) {
    Question asked{{{"the measured value", units::Quantity::Length}}, {}};
    for (const char* wheel : car::wheel_names) asked.names.push_back({wheel, units::Quantity::Length});
    asked.ask = [&](const Asked& c) {
        const job::Prediction p = proof::predict(car_with(c.vehicle, c.setup, c.bar_scale), test.ramp);
        std::vector<double> out{p.value};
        for (const auto& travel : p.travel.wheel) out.push_back(travel.value_or(0));
        return out;
    };
    job::Prediction out = proof::predict(car_with(test.car.vehicle, test.car.setup), test.ramp);
    const Bands b = propagate(test.car.vehicle, test.car.setup, asked);
    out.sigma = b.sigma[0];
    for (std::size_t w = 0; w < 4; ++w) out.travel_sigma.wheel[w] = b.sigma[w + 1];
    return out;
}

} // namespace dervish::proof
