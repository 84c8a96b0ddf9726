#include "core/sure/draws.h"
#include "core/sure/parameters.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace dervish::sure {
namespace {
constexpr int enough = 200; ///< draws, for sides

/// A car whose inputs are drawn.
class Drawing {
public:
    Drawing(const Vehicle& vehicle, const Setup& setup, const Question& question)
        : inputs(vehicle, setup, question.bears), ask_(question.ask), beam_(beam_sigma(setup)),
          friction_(question.at_rest ? friction_sigma(vehicle) : PerWheel<double>{}),
          answers(ask_({vehicle, setup}).size()) {} // all others are found from here

    /// One value of the input, or its own again when twenty draws all fall outside what it accepts.
    void draw(std::size_t i, std::mt19937& engine) {
        std::normal_distribution<double> around(inputs.value(i), inputs.sigma(i));
        double to = inputs.value(i);
        for (int tries = 0; tries < 20; ++tries)
            if (const double x = around(engine); inputs.accepts(i, x)) {
                to = x;
                break;
            }
        inputs.set(i, to);
    }
    /// By how many of its σ the input is off.
    double off(std::size_t i) const { return (inputs.now(i) - inputs.value(i)) / inputs.sigma(i); }
    void set_off(std::size_t i, double sigmas) {
        const double to = inputs.value(i) + sigmas * inputs.sigma(i);
        inputs.set(i, inputs.accepts(i, to) ? to : inputs.value(i));
    }
    /// Of the car as drawn, beam theory off by so many of its σ. Throws BadInput where it cannot be.
    std::vector<double> ask(double beam_off, std::mt19937& engine) {
        Asked car{inputs.vehicle(), inputs.setup(), 1 + beam_off * beam_};
        std::normal_distribution<double> normal;
        for (std::size_t w = 0; w < friction_.size(); ++w)
            if (friction_[w] > 0) car.stuck[w] = friction_[w] * normal(engine);
        return ask_(car);
    }

    Parameters inputs;

private:
    decltype(Question::ask) ask_;
    double beam_;
    PerWheel<double> friction_;

public:
    std::size_t answers;
};

/// What the drawn cars answer.
class Heap {
public:
    Heap(const Question& question, std::size_t answers) : question_(question), found_(answers), ended_(answers, 0) {}
    bool ends(std::size_t o, double value) const { return value >= question_.names[o].ends_at; }
    void put(const std::vector<double>& now) {
        for (std::size_t o = 0; o < found_.size(); ++o) {
            if (!std::isnan(now[o])) found_[o].push_back(now[o]); // a car that tips may have no such figure
            ended_[o] += ends(o, now[o]);
        }
        ++count_;
    }
    int count() const { return count_; }
    Draws done(int impossible) {
        Draws out;
        out.count = count_;
        out.impossible = impossible;
        out.ended = ended_;
        for (std::vector<double>& all : found_) {
            out.low.push_back(quantile(all, 0.05));
            out.median.push_back(quantile(all, 0.5));
            out.high.push_back(quantile(all, 0.95));
            out.above.push_back(static_cast<double>(std::ranges::count_if(all, [](double x) { return x > 0; })) /
                                static_cast<double>(std::max<std::size_t>(1, all.size())));
        }
        return out;
    }

private:
    double quantile(std::vector<double>& all, double part) const {
        if (count_ == 0) return 0;
        if (all.empty()) return std::nan("");
        const auto at = all.begin() + static_cast<std::ptrdiff_t>(part * static_cast<double>(all.size() - 1));
        std::nth_element(all.begin(), at, all.end());
        return *at;
    }
    const Question& question_;
    std::vector<std::vector<double>> found_;
    std::vector<int> ended_;
    int count_ = 0;
};

/// Calls `one` until `heap` has so many; the number that could not be.
int until(const Heap& heap, int count, const std::function<bool(int)>& go_on, const std::function<void()>& one) {
    int impossible = 0;
    while (heap.count() < count && impossible <= 10 * count && (!go_on || go_on(heap.count()))) try {
            one();
        } catch (const BadInput&) {
            ++impossible;
        }
    return impossible;
}
} // namespace

Draws draw(const Vehicle& vehicle, const Setup& setup, const Question& question, int count, unsigned seed,
           const std::function<bool(int)>& go_on) {
    Drawing car(vehicle, setup, question);
    Heap heap(question, car.answers);
    std::mt19937 engine(seed);
    std::normal_distribution<double> normal;
    const int impossible = until(heap, count, go_on, [&] {
        for (std::size_t i = 0; i < car.inputs.count(); ++i) car.draw(i, engine);
        heap.put(car.ask(normal(engine), engine));
    });
    return heap.done(impossible);
}

GoesOver goes_over(const Vehicle& vehicle, const Setup& setup, Ground ground, int count,
                   const std::function<bool(int)>& go_on) {
    const Draws drawn = draw(vehicle, setup, edge(ground), count, draws_seed, go_on);
    if (drawn.count == 0 || std::isnan(drawn.median[EdgeFront])) return {std::nan(""), std::nan("")};
    return {drawn.above[EdgeFront], drawn.above[EdgeSudden]};
}

ChangeDraws draw_change(const Asked& before, const Asked& after, const Question& question, int count, unsigned seed,
                        const std::function<bool(int)>& go_on) {
    Drawing was(before.vehicle, before.setup, question), is(after.vehicle, after.setup, question);
    const std::set<std::string> same = alike(before.setup, after.setup);
    std::map<std::string, std::size_t> place;
    for (std::size_t i = 0; i < is.inputs.count(); ++i)
        if (const std::string& path = is.inputs.path(i); !path.starts_with("trial/") || same.contains(path))
            place.emplace(path, i);
    std::vector<std::optional<std::size_t>> shared; // where each input of the first stands among the second's
    for (std::size_t i = 0; i < was.inputs.count(); ++i) {
        const auto there = place.find(was.inputs.path(i));
        shared.push_back(there == place.end() ? std::nullopt : std::optional(there->second));
    }
    Heap of_before(question, was.answers), of_after(question, is.answers), of_change(question, is.answers);
    std::mt19937 engine(seed);
    std::normal_distribution<double> normal;
    const int impossible = until(of_change, count, go_on, [&] {
        for (std::size_t i = 0; i < is.inputs.count(); ++i) is.draw(i, engine);
        for (std::size_t i = 0; i < was.inputs.count(); ++i)
            if (shared[i])
                was.set_off(i, is.off(*shared[i]));
            else
                was.draw(i, engine);
        const double beam_off = normal(engine);
        const std::vector<double> then = is.ask(beam_off, engine), first = was.ask(beam_off, engine);
        std::vector<double> change;
        for (std::size_t o = 0; o < then.size(); ++o)
            change.push_back(of_change.ends(o, then[o]) || of_change.ends(o, first[o]) ? std::nan("")
                                                                                       : then[o] - first[o]);
        of_before.put(first);
        of_after.put(then);
        of_change.put(change);
    });
    return {of_before.done(impossible), of_after.done(impossible), of_change.done(impossible)};
}

std::vector<Change> with_draws(std::vector<Change> changes, const Draws& draws) {
    if (draws.count < enough) return changes;
    for (std::size_t o = 0; o < std::min(changes.size(), draws.low.size()); ++o) {
        Change& c = changes[o];
        if (!std::isfinite(c.by + draws.low[o] + draws.high[o])) continue;
        c.drawn = {std::max(0.0, c.by - draws.low[o]), std::max(0.0, draws.high[o] - c.by)};
        c.as_told = c.by > 0 ? draws.above[o] : 1 - draws.above[o];
    }
    return changes;
}

std::vector<Change> drawn_changes(const Vehicle& vehicle, const Setup& before, const Figures& of_before,
                                  const Setup& after, const Figures& of_after, int count,
                                  const std::function<bool(int)>& go_on) {
    std::vector<Change> out =
        with_draws(changes(before, of_before, after, of_after),
                   draw_change({vehicle, before}, {vehicle, after}, tally(), count, draws_seed, go_on).change);
    for (const auto& [figure, question] : {std::pair{ComparedLimit, limit(Ground::Dry)}, {ComparedHeads, heads()}})
        out[figure] =
            with_draws({out[figure]},
                       draw_change({vehicle, before}, {vehicle, after}, question, count, draws_seed, go_on).change)[0];
    return out;
}

std::vector<Change> drawn_changes(const Vehicle& vehicle, const Setup& before, const Setup& after,
                                  const std::function<Question()>& question, int count,
                                  const std::function<bool()>& cancelled) {
    const auto go_on = [&](int) { return !cancelled || !cancelled(); };
    return with_draws(changes(vehicle, before, after, question, cancelled),
                      draw_change({vehicle, before}, {vehicle, after}, question(), count, draws_seed, go_on).change);
}

Bands with_draws(Bands bands, const Draws& draws) {
    if (draws.count < enough) return bands;
    std::vector<Sides> sides;
    for (std::size_t o = 0; o < bands.nominal.size(); ++o) {
        const double is = bands.nominal[o];
        const Sides drawn{std::max(0.0, is - draws.low[o]), std::max(0.0, draws.high[o] - is)};
        sides.push_back(std::isfinite(is + draws.low[o] + draws.high[o]) ? drawn : bands.sides(o));
    }
    bands.drawn = sides;
    return bands;
}

Bands with_draws(const Bands& bands, const Vehicle& vehicle, const Setup& setup, const Question& question,
                 const std::function<bool(int)>& go_on) {
    return with_draws(bands, draw(vehicle, setup, question, draws_for_sides, draws_seed, go_on));
}

} // namespace dervish::sure
