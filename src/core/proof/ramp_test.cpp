#include "core/proof/ramp_test.h"

#include <algorithm>
#include <cmath>

namespace dervish::proof {
namespace {
constexpr double inside_99 = 2.5758293035489004;

/// Mean and its standard uncertainty: one reading's own, or the spread's when that is larger.
std::pair<double, double> mean_of(const std::vector<double>& values, double one) {
    double mean = 0, square = 0;
    for (double v : values) mean += v;
    const auto n = static_cast<double>(values.size());
    mean /= n;
    for (double v : values) square += (v - mean) * (v - mean);
    const double spread = n > 1 ? std::sqrt(square / (n - 1)) : 0;
    return {mean, std::max(one, spread) / std::sqrt(n)};
}

Verdict against(double measured, double measured_sigma, double predicted, double predicted_sigma) {
    Verdict v;
    v.measured = measured;
    v.measured_sigma = measured_sigma;
    v.difference = measured - predicted;
    v.z = v.difference / std::hypot(measured_sigma, predicted_sigma);
    v.agreement = judged(v.z);
    return v;
}

/// A verdict on a bound: only a difference on the wrong side of it speaks against the prediction.
Verdict one_sided(Verdict v, double wrong_side) {
    v.bound = true;
    if (v.z * wrong_side <= 0) v.agreement = Agreement::Agrees;
    return v;
}
} // namespace

Agreement judged(double z) {
    const double size = std::abs(z);
    return size <= band_90 ? Agreement::Agrees : size <= inside_99 ? Agreement::Doubtful : Agreement::Disagrees;
}

Prediction predict(const car::Car& car, const RampTest& test) {
    Prediction out;
    out.model = model_version;
    car::State state;
    if (test.method == Method::Growing) {
        const flex::Ascent a = flex::climb(car, {.raised = test.raised, .highest = test.ramp_height});
        out.value = a.height;
        out.lifted = a.lifted;
        out.light_wheel = a.light_wheel;
        state = a.state;
    } else {
        const flex::FixedRamps f = flex::on_fixed_ramps(car, test.raised, test.ramp_height);
        const auto hang = [&](int w) {
            return f.state.wheels[w].gap - f.state.wheels[w].load / car[end_of(w)].tyre_rate;
        };
        const auto low = flex::low_wheels(test.raised);
        out.light_wheel = hang(low[0]) >= hang(low[1]) ? low[0] : low[1];
        out.value = hang(out.light_wheel);
        out.lifted = out.value > 0;
        state = f.state;
    }
    for (std::size_t w = 0; w < 4; ++w) out.travel.wheel[w] = state.wheels[w].travel;
    return out;
}

Verdict compare(const RampTest& test) {
    const Prediction& p = test.prediction;
    std::vector<double> exact;
    std::optional<double> at_least;
    bool none_hung = false;
    for (const Reading& r : test.readings) {
        if (test.method == Method::Fixed && r.value <= 0)
            none_hung = true;
        else if (r.more_than)
            at_least = std::max(at_least.value_or(0), r.value);
        else
            exact.push_back(r.value);
    }
    if (!test.predicted) return {};
    if (!exact.empty()) {
        const auto [mean, sigma] = mean_of(exact, test.reading_sigma);
        const Verdict v = against(mean, sigma, p.value, p.sigma);
        // The prediction itself may be only a bound: the ramps end before a wheel lifts.
        return p.lifted || test.method == Method::Fixed ? v : one_sided(v, -1);
    }
    if (none_hung) return one_sided(against(0, test.reading_sigma, p.value, p.sigma), -1);
    if (at_least) {
        const Verdict v = against(*at_least, test.reading_sigma, p.value, p.sigma);
        return p.lifted ? one_sided(v, +1) : one_sided(v, 0);
    }
    return {};
}

Verdict compare_travel(const RampTest& test, int wheel) {
    const auto w = static_cast<std::size_t>(wheel);
    std::vector<double> read;
    for (const Reading& r : test.readings)
        if (r.travel.wheel[w]) read.push_back(*r.travel.wheel[w]);
    if (!test.predicted || read.empty() || !test.prediction.travel.wheel[w]) return {};
    const auto [mean, sigma] = mean_of(read, test.reading_sigma);
    return against(mean, sigma, *test.prediction.travel.wheel[w], test.prediction.travel_sigma.wheel[w].value_or(0));
}

} // namespace dervish::proof
