#include "core/proof/sum_and_driver.h"
#include "core/car/handling.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/study/use.h"

#include <cmath>
#include <map>

namespace dervish::proof {
namespace {
constexpr double a_mark = 0.5;

std::map<std::string, double> figures(const Snapshot& of) {
    const car::Car car = model::car_with(of.vehicle, of.setup);
    const balance::Model model = model::to_model(of.vehicle, of.setup, car);
    std::map<std::string, double> out;
    static constexpr const char* keys[] = {"entry", "middle", "exit", "lifted"};
    for (std::size_t p = 0; p < 4; ++p) out[keys[p]] = study::balance_of(balance::limit(model, balance::all_phases[p]));
    out["roll"] = car::roll_and_share(car).first;
    out["ride"] = -study::ride_in_use(of.vehicle, model).head;
    return out;
}

int way(double of, double least) { return std::abs(of) < least ? 0 : of > 0 ? 1 : -1; }
} // namespace

std::vector<SaidAndFelt> said_and_felt(const PlannedTest& test, int first, int second) {
    const auto before = figures(test.states.at(static_cast<std::size_t>(first)).car),
               after = figures(test.states.at(static_cast<std::size_t>(second)).car);
    std::vector<SaidAndFelt> out;
    for (const Scale& scale : drive_scales()) {
        const auto was = before.find(scale.key);
        if (was == before.end()) continue;
        const double now = after.at(scale.key);
        // A twentieth of the lean, a tenth of the ride, a hundredth of grip between the ends.
        const std::string key = scale.key;
        const double notice = key == "roll"   ? 0.05 * std::abs(was->second)
                              : key == "ride" ? 0.1 * std::abs(was->second)
                                              : 0.01;
        SaidAndFelt line{scale, now - was->second, notice, way(now - was->second, notice), {}};
        for (const std::string& person : people_of(test)) {
            const auto a = mark_of(test, first, person, scale.key), b = mark_of(test, second, person, scale.key);
            if (a && b) line.people.push_back({person, *b - *a, way(*b - *a, a_mark)});
        }
        out.push_back(std::move(line));
    }
    return out;
}

} // namespace dervish::proof
