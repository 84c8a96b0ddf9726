#include "core/proof/predict.h"
#include "core/proof/asking.h"
#include "core/sure/questions.h"

#include <cmath>

namespace dervish::proof {
namespace {
/// A share of the variance below which an input is not kept.
constexpr double too_little = 1e-7;
} // namespace

Question question(const Protocol& p, const Settings& settings) {
    Question out;
    for (const Channel& c : p.channels) {
        OutcomeName name{c.spec.label, c.spec.quantity};
        if (c.ends_at) name.ends_at = settings.at(c.ends_at);
        out.names.push_back(name);
    }
    out.ask = p.answers(settings);
    out.bears = [bears = p.bears, settings](const std::string& path) { return bears(settings, path); };
    out.at_rest = p.sort == Sort::Ramps || p.sort == Sort::Standing;
    if (p.in_time) {
        out.part = part_in_time;
        out.screen = motion_screen(settings.contains("ground") ? ground_of(settings) : Ground::Dry);
    }
    return out;
}

Prediction predict(const Protocol& p, const Settings& settings, const Snapshot& car,
                   const std::function<bool()>& cancelled) {
    const Question asked = question(p, settings);
    Bands bands = propagate(car.vehicle, car.setup, asked, cancelled);
    const std::vector<double> values = bands.nominal;
    Share by_hand{"by hand", "how it is driven", Source::Assumed, std::vector(values.size(), 0.0)};
    Prediction out;
    out.made = true;
    out.model = model_version;
    out.light_wheel = p.light_wheel ? p.light_wheel(car, settings) : -1;
    for (std::size_t i = 0; i < values.size(); ++i) {
        const Channel& c = p.channels[i];
        const bool none = !std::isfinite(values[i]),
                   more = c.ends_at && values[i] >= settings.at(c.ends_at) * (1 - 1e-9);
        by_hand.change[i] = none ? 0 : c.by_hand * values[i];
        out.value.push_back(none ? 0 : units::rounded(values[i]));
        out.sigma.push_back(none ? 0 : units::rounded(std::hypot(bands.sigma[i], by_hand.change[i])));
        out.tells.push_back(none ? PredictedNothing : more ? PredictedMoreThan : PredictedValue);
    }
    bands.shares.push_back(by_hand);
    for (const Share& share : bands.shares) {
        bool counts = false;
        PredictedShare kept{share.path, share.label, {}};
        for (std::size_t i = 0; i < values.size(); ++i) {
            counts = counts || share.variance(i) > too_little * out.sigma[i] * out.sigma[i];
            kept.change.push_back(units::rounded(share.change[i]));
        }
        if (counts) out.shares.push_back(std::move(kept));
    }
    return out;
}

std::vector<Prediction> predict(const PlannedTest& test, const std::function<bool()>& cancelled) {
    const Protocol& p = protocol(test.protocol);
    std::vector<Prediction> out;
    for (const TestState& state : test.states) out.push_back(predict(p, settings_of(p, test), state.car, cancelled));
    return out;
}

PlannedTest predicted(PlannedTest test, const std::function<bool()>& cancelled) {
    const std::vector<Prediction> found = predict(test, cancelled);
    test = said(std::move(test));
    for (std::size_t s = 0; s < found.size(); ++s) test.states[s].prediction = found[s];
    return test;
}

} // namespace dervish::proof
