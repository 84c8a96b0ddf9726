#include "core/proof/eye.h"
#include "core/balance/steady.h"
#include "core/job/fields.h"
#include "core/model/tyres.h"
#include "core/study/flex.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace dervish::proof {
namespace {
constexpr double near_enough = 0.2;

std::optional<double> read_of(const PlannedTest& test, int state) {
    const Protocol* p = protocol_of(test);
    if (!p || p->channels.empty() || state >= static_cast<int>(test.states.size())) return {};
    std::vector<double> values;
    for (const Taken& t : taken(test, state, p->channels[0].spec.key))
        if (t.bound == Bound::Exact) values.push_back(t.value);
    if (values.empty()) return {};
    return mean_of(values, 1).value;
}

/// −1 less, 0 the same as far as the readings tell, 1 more.
std::optional<int> direction(const PlannedTest& test, int state, int than) {
    const Protocol* p = protocol_of(test);
    if (!p || p->channels.empty() || std::max(state, than) >= static_cast<int>(test.states.size())) return {};
    const auto b = back_to_back(test, 0, than, state);
    if (!b) return {};
    return b->sure == sure::Sure::CannotSay ? 0 : b->difference > 0 ? 1 : -1;
}
} // namespace

std::optional<Guessed> guessed(const PlannedTest& test, const Guess& g) {
    if (g.kind == Guess::Kind::Number) {
        const auto read = read_of(test, g.state);
        if (!read) return {};
        const double within = g.span > 0 ? g.span : near_enough * std::abs(*read);
        return Guessed{std::abs(g.value - *read) <= within, *read};
    }
    const auto way = direction(test, g.state, g.than);
    if (!way) return {};
    return Guessed{*way == static_cast<int>(g.kind) - static_cast<int>(Guess::Kind::Same),
                   *read_of(test, g.state) - *read_of(test, g.than)};
}

std::vector<Eye> eyes(const Job& job) {
    std::map<std::string, Eye> all;
    std::map<std::string, std::pair<double, double>> slope; // Σ guessed × read, Σ read²
    for (const PlannedTest& test : job.tests) {
        for (const Guess& g : test.guesses) {
            const auto how = guessed(test, g);
            if (!how) continue;
            Eye& eye = all[g.person];
            if (g.kind != Guess::Kind::Number) {
                ++eye.directions;
                eye.directions_right += how->right;
                continue;
            }
            ++eye.sizes;
            eye.sizes_right += std::abs(g.value - how->read) <= near_enough * std::abs(how->read);
            if (g.span > 0) {
                ++eye.spans;
                eye.spans_hold += how->right;
            }
            // Against the same person's number for an earlier state.
            for (const Guess& o : test.guesses) {
                if (o.kind != Guess::Kind::Number || o.person != g.person || o.state >= g.state) continue;
                const auto way = direction(test, g.state, o.state);
                if (!way) continue;
                const double read = *read_of(test, g.state) - *read_of(test, o.state), thought = g.value - o.value;
                // Of what was read, since tests read in unlike units.
                const double scale = std::max(std::abs(*read_of(test, o.state)), 1e-12);
                slope[g.person].first += thought * read / (scale * scale);
                slope[g.person].second += read * read / (scale * scale);
                ++eye.directions;
                const double same = near_enough / 2 * std::abs(o.value);
                eye.directions_right += *way == (std::abs(thought) < same && *way == 0 ? 0 : thought > 0 ? 1 : -1);
            }
        }
    }
    std::vector<Eye> out;
    for (auto& [person, eye] : all) {
        eye.person = person;
        if (const auto at = slope.find(person); at != slope.end() && at->second.second > 0)
            eye.bold = at->second.first / at->second.second;
        out.push_back(eye);
    }
    return out;
}

Practice practice(unsigned seed) {
    std::mt19937 random(seed);
    // Draws by hand: the standard library's distributions are not the same everywhere.
    const auto part = [&] { return static_cast<double>(random()) / 4294967296.0; };
    for (int tries = 0;; ++tries) {
        const auto pick = [&](int of) { return static_cast<int>(part() * of); };
        job::NewCar asked;
        asked.kind = job::all_car_kinds[pick(6)];
        asked.driven = static_cast<Driven>(pick(3));
        if (part() < 0.5) asked.suspension.rear = AxleKind::Solid;
        Job j = job::new_car(asked);
        for (job::FieldRef& f : job::fields(j)) {
            const double to = f.value->value * (0.8 + 0.4 * part());
            if (f.path.starts_with("fitted/") && !(f.spec.word && f.value->value == f.spec.word_value) &&
                to >= f.spec.lowest && to <= f.spec.highest && f.path.find("links") == std::string::npos)
                f.value->value = to;
        }
        Practice out{static_cast<Practice::Kind>(pick(3)), {j.vehicle, j.fitted}, {}, {}, 0};
        try {
            const auto without = [&](bool front, bool rear) {
                Setup s = out.car.setup;
                s.front.connected = s.front.connected && !front;
                s.rear.connected = s.rear.connected && !rear;
                return s;
            };
            const std::pair<const char*, Setup> states[] = {{"both bars on", out.car.setup},
                                                            {"front bar off", without(true, false)},
                                                            {"rear bar off", without(false, true)}};
            if (out.kind == Practice::Kind::GivesUpFirst) {
                Setup changed = out.car.setup;
                const End end = pick(2) == 0 ? End::Front : End::Rear;
                changed[end].bar.outer_diameter.value *= 1.2;
                const balance::Limit l = balance::outright_limit(
                    model::to_model(out.car.vehicle, changed, model::car_with(out.car.vehicle, changed)));
                if (l.first != balance::Gives::Front && l.first != balance::Gives::Rear) continue;
                out.car.setup = changed;
                out.choices = {"the front", "the rear"};
                out.answer = l.first == balance::Gives::Front ? 0 : 1;
                out.figures = {out.answer == 0 ? 0 : l.left, out.answer == 1 ? 0 : l.left};
                if (l.left < 0.01) continue; // too near to be a fair question
                return out;
            }
            for (const auto& [name, setup] : states) {
                const car::Car car = model::car_with(out.car.vehicle, setup);
                out.choices.push_back(name);
                if (out.kind == Practice::Kind::FlexesMost) {
                    const flex::Ascent a = flex::climb(car, {.highest = 2});
                    out.figures.push_back(a.height);
                } else {
                    out.figures.push_back(car::roll_and_share(car).first);
                }
            }
            const auto best = out.kind == Practice::Kind::FlexesMost ? std::ranges::max_element(out.figures)
                                                                     : std::ranges::min_element(out.figures);
            out.answer = static_cast<std::size_t>(best - out.figures.begin());
            bool clear = true;
            for (std::size_t i = 0; i < out.figures.size(); ++i)
                clear = clear && std::isfinite(out.figures[i]) &&
                        (i == out.answer || std::abs(out.figures[i] / *best - 1) > 0.02);
            if (clear) return out;
        } catch (const BadInput&) { // no such car: the next one
        }
        if (tries > 500) throw BadInput("seed", "no fair question came of it", "take another");
    }
}

} // namespace dervish::proof
