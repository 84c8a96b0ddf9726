#include "core/job/fields.h"
#include "core/model/acting.h"
#include "core/model/tyres.h"
#include "core/proof/predict.h"
#include "core/proof/verdict.h"
#include "core/study/cures.h"
#include "core/sure/draws.h"
#include "core/sure/parameters.h"

#include <cmath>
#include <cstdio>
#include <map>
#include <random>

/// Cars of every kind with numbers that are not the usual ones, as strangers bring them, against what Dervish says of
/// them: hunt-strangers CARS SEED. Of each car
/// - a Trial that differs by one to three things: how often the changes of cars drawn one by one, each solved from
///   nothing, lie within the change's 90 % band, and beyond it to each side;
/// - each cure of five aims: put on the car and solved anew it does what it says, costs what it says, and its dangers
///   are all that are found;
/// - a kind of test: how often a car drawn from what is not sure, read with the tool's and the driver's own spread,
///   agrees with what was predicted.
using namespace dervish;

namespace {
using Random = std::mt19937;

void move(job::Job& j, Random& random) {
    std::normal_distribution<double> normal;
    for (const job::FieldRef& f : job::fields(j)) {
        if (!(f.value->sigma > 0) || f.path.starts_with("trial/")) continue;
        f.value->value = units::as_filed(
            std::clamp(f.value->value + 0.7 * f.value->sigma * normal(random), f.spec.lowest, f.spec.highest),
            f.spec.quantity);
    }
}

job::Job stranger(std::size_t number, Random& random) {
    constexpr std::size_t kinds = std::size(job::all_car_kinds);
    for (;;) {
        job::NewCar asked;
        asked.kind = job::all_car_kinds[number % kinds];
        asked.driven = job::usual_drive(asked.kind);
        asked.suspension = job::usual_suspension(asked.kind);
        asked.bar.rear = random() % 3 > 0;
        job::Job j = job::new_car(asked);
        move(j, random);
        j.trial = j.fitted;
        try {
            if (std::isfinite(study::assess(j.vehicle, j.trial).outcomes[study::RollGradient])) return j;
        } catch (const BadInput&) { // drawn again
        }
    }
}

/// One to three things otherwise; what it was, in words.
std::string change(job::Setup& s, Random& random) {
    std::string told;
    std::uniform_real_distribution<double> some(0.8, 1.25);
    const double by = some(random);
    for (int left = 1 + static_cast<int>(random() % 3); left > 0; --left) {
        const End end = both_ends[random() % 2];
        job::AxleSetup& at = s[end];
        const auto scaled = [&](job::Measured& m, double factor) {
            m.value = units::as_filed(m.value * factor, units::Quantity::Length);
        };
        switch (random() % 7) {
        case 0:
            at.bar.id += "+";
            scaled(at.bar.outer_diameter, by);
            told += " bar";
            break;
        case 1:
            at.connected = false;
            told += " links off";
            break;
        case 2:
            at.springs.id += "+";
            at.springs.rate.value *= by;
            told += " springs";
            break;
        case 3:
            at.dampers.id += "+";
            at.dampers.bump_damping.value *= by;
            at.dampers.rebound_damping.value *= by;
            told += " dampers";
            break;
        case 4:
            at.tyres.id += "+";
            at.tyres.grip.value *= 0.9 * by;
            told += " tyres";
            break;
        case 5:
            at.stand.pressure.value *= by;
            told += " pressure";
            break;
        default:
            at.stand.camber.value -= 0.01;
            told += " camber";
        }
    }
    return told;
}

/// The figures of a car as drawn, solved from nothing; NaN where there is none.
std::vector<double> figures(const sure::Asked& car) {
    std::vector<double> out = sure::tally().ask(car);
    for (double& x : out)
        if (&x - out.data() == study::LiftHeight && x >= sure::tally().names[study::LiftHeight].ends_at)
            x = std::nan("");
    out.push_back(sure::limit(Ground::Dry).ask(car)[sure::LimitLateral]);
    out.push_back(sure::heads().ask(car)[0]);
    return out;
}

struct Tails {
    int below = 0, within = 0, above = 0;
    int count() const { return below + within + above; }
    void add(const Tails& o) {
        below += o.below;
        within += o.within;
        above += o.above;
    }
    double percent(int of) const { return 100.0 * of / std::max(1, count()); }
};

/// Two cars that are off alike in all that is the same in both.
void draw_pairs(const job::Job& j, const job::Setup& after, int pairs, Random& random,
                const std::vector<sure::Change>& told, std::vector<Tails>& tails) {
    const auto alike = sure::alike(j.trial, after);
    const PerWheel<double> friction = sure::friction_sigma(j.vehicle);
    std::normal_distribution<double> normal;
    for (int tries = 0, made = 0; made < pairs && tries < 10 * pairs; ++tries) {
        std::map<std::string, double> off;
        const double beam = normal(random);
        const auto of = [&](const job::Setup& setup, const char* whose) {
            sure::Parameters p(j.vehicle, setup);
            for (std::size_t i = 0; i < p.count(); ++i) {
                const bool own = p.path(i).starts_with("trial/") && !alike.contains(p.path(i));
                double& z = off.try_emplace(p.path(i) + (own ? whose : ""), std::nan("")).first->second;
                while (std::isnan(z) || !p.accepts(i, p.value(i) + z * p.sigma(i))) z = normal(random);
                p.set(i, p.value(i) + z * p.sigma(i));
            }
            sure::Asked car{p.vehicle(), p.setup(), 1 + beam * sure::beam_sigma(setup)};
            for (std::size_t w = 0; w < 4; ++w) car.stuck[w] = friction[w] * normal(random);
            return figures(car);
        };
        try {
            const std::vector<double> was = of(j.trial, " of the first"), is = of(after, " of the second");
            ++made;
            for (std::size_t f = 0; f < told.size(); ++f) {
                const double by = is[f] - was[f];
                if (!std::isfinite(by + told[f].by) || told[f].half() == 0) continue; // none, or nothing changes it
                const sure::Sides band = told[f].sides();
                const double slack = 1e-9 * (std::abs(is[f]) + std::abs(was[f]));
                if (by < told[f].by - band.below - slack)
                    ++tails[f].below;
                else if (by > told[f].by + band.above + slack)
                    ++tails[f].above;
                else
                    ++tails[f].within;
            }
        } catch (const BadInput&) { // sizes that do not fit
        }
    }
}

int wrong = 0;
void fault(const char* what, const std::string& car, double told, double found) {
    std::printf("WRONG: %s: %s: told %.6g, found %.6g\n", car.c_str(), what, told, found);
    ++wrong;
}

int cures_of(const job::Job& j, const std::string& name) {
    int put = 0;
    const balance::Model before = model::to_model(j.vehicle, j.trial, model::car_with(j.vehicle, j.trial), Ground::Dry);
    const study::Edges edges = study::edges_of(j.vehicle, j.trial, model::car_with(j.vehicle, j.trial), Ground::Dry);
    for (const auto& [aim, part] : {std::pair{study::Aim::Lean, 0.85},
                                    {study::Aim::Limit, 0.5},
                                    {study::Aim::Holds, 1.02},
                                    {study::Aim::RideFirst, 0.9},
                                    {study::Aim::FirstLift, 1.05}}) {
        const auto now = study::reading(aim, before);
        if (!now) continue;
        const study::Cures all = study::cures(j.vehicle, j.trial, Ground::Dry, aim, part * *now);
        for (const study::Cure& cure : all.ways) {
            if (!cure.helps() || !cure.to) continue;
            ++put;
            const car::Car car = model::car_with(j.vehicle, *cure.to);
            const balance::Model then = model::to_model(j.vehicle, *cure.to, car, Ground::Dry);
            const auto reads = study::reading(aim, then);
            const double does = reads ? (*reads - *now) / (part * *now - *now) : std::nan("");
            if (!(std::abs(does - cure.share) < 0.01)) fault("a cure's share", name, cure.share, does);
            const study::Costs costs = study::costs_of(j.vehicle, *cure.to, car);
            for (const auto& [what, told, found] : {std::tuple{"lean", cure.then.lean, costs.lean},
                                                    {"limit", cure.then.limit, costs.limit},
                                                    {"seat", cure.then.seat, costs.seat},
                                                    {"articulation", cure.then.articulation, costs.articulation}})
                if (!(std::abs(told - found) <= 1e-3 * std::abs(found) + 1e-9)) fault(what, name, told, found);
            const auto found = study::dangers(edges, study::edges_of(j.vehicle, *cure.to, car, Ground::Dry));
            if (found.size() != cure.dangers.size())
                fault("a cure's dangers", name, static_cast<double>(cure.dangers.size()),
                      static_cast<double>(found.size()));
        }
    }
    return put;
}
/// Verdicts on cars of known truth: within, those that agree with what was predicted of `j`.
void prove(const job::Job& j, const proof::Protocol& p, int cars, unsigned seed, Tails& tails) {
    job::PlannedTest test;
    test.protocol = p.key;
    test.states.push_back({"", {j.vehicle, j.trial}, {}});
    const auto settings = proof::settings_of(p, test);
    test.states[0].prediction = proof::predict(p, settings, test.states[0].car);
    std::vector<std::vector<double>> truths;
    proof::Question asked = proof::question(p, settings);
    asked.ask = [&truths, ask = asked.ask](const proof::Asked& of) mutable { return truths.emplace_back(ask(of)); };
    sure::draw(j.vehicle, j.trial, asked, cars, seed);
    Random random(seed + 1);
    std::normal_distribution<double> normal;
    for (std::size_t i = 1; i < truths.size(); ++i) // the first is the car itself
        for (std::size_t c = 0; c < p.channels.size(); ++c) {
            const proof::Channel& channel = p.channels[c];
            const double truth = truths[i][c];
            if (!std::isfinite(truth)) continue;
            const bool ended = channel.ends_at && truth >= settings.at(channel.ends_at) * (1 - 1e-9);
            const double read = ended ? truth
                                      : truth * (1 + channel.by_hand * normal(random)) +
                                            normal(random) * proof::read_to(test, channel, truth);
            test.runs = {{}};
            test.runs[0].readings.push_back({channel.spec.key, read, ended ? job::Bound::More : job::Bound::Exact, {}});
            const proof::Verdict v = proof::compare(test, 0, c);
            if (v.agreement == proof::Agreement::CannotTell || v.agreement == proof::Agreement::NothingRead) continue;
            const bool right = v.agreement == proof::Agreement::Agrees || v.agreement == proof::Agreement::TooWide;
            ++(right ? tails.within : v.z < 0 ? tails.below : tails.above);
        }
}
} // namespace

int main(int argc, char** argv) {
    if (argc != 3) return 2;
    const auto cars = static_cast<std::size_t>(std::atoi(argv[1]));
    Random random(static_cast<unsigned>(std::atoi(argv[2])));
    constexpr int pairs = 150;
    std::vector<std::string> names;
    for (const auto& o : study::outcome_names) names.emplace_back(o.words);
    names.insert(names.end(), {"limit", "heads"});
    std::vector<Tails> all(names.size());
    Tails proved;
    std::vector<proof::Protocol> kinds = proof::protocols();
    std::erase_if(kinds, [](const proof::Protocol& p) { return p.channels.empty(); });
    int put = 0;
    for (std::size_t c = 0; c < cars; ++c) {
        const job::Job j = stranger(c, random);
        job::Setup after = j.trial;
        const std::string name = std::string(job::name_of(job::all_car_kinds[c % std::size(job::all_car_kinds)])) +
                                 ":" + change(after, random);
        try {
            const sure::Figures was = sure::figures_of(j.vehicle, j.trial), is = sure::figures_of(j.vehicle, after);
            const auto told = sure::drawn_changes(j.vehicle, j.trial, was, after, is, sure::draws_for_many);
            std::vector<Tails> tails(names.size());
            draw_pairs(j, after, pairs, random, told, tails);
            for (std::size_t f = 0; f < names.size(); ++f) {
                all[f].add(tails[f]);
                if (tails[f].count() > 100 && (tails[f].percent(tails[f].within) < 80))
                    std::printf("  %s: %s: %.0f below, %.0f within, %.0f above\n", name.c_str(), names[f].c_str(),
                                tails[f].percent(tails[f].below), tails[f].percent(tails[f].within),
                                tails[f].percent(tails[f].above));
            }
            const int here = cures_of(j, name);
            put += here;
            const proof::Protocol& kind = kinds[(random() % kinds.size())];
            Tails verdicts;
            prove(j, kind, kind.in_time ? 40 : 200, static_cast<unsigned>(random()), verdicts);
            proved.add(verdicts);
            std::printf("%s: %d cures; %s: %.0f of 100 verdicts right of %d\n", name.c_str(), here, kind.name,
                        verdicts.percent(verdicts.within), verdicts.count());
        } catch (const BadInput& e) {
            std::printf("%s: none: %s\n", name.c_str(), e.what());
        }
        std::fflush(stdout);
    }
    Tails whole;
    for (std::size_t f = 0; f < names.size(); ++f) {
        if (all[f].count() == 0) continue;
        std::printf("%-24s %5d changes: %4.1f below, %4.1f within, %4.1f above\n", names[f].c_str(), all[f].count(),
                    all[f].percent(all[f].below), all[f].percent(all[f].within), all[f].percent(all[f].above));
        whole.add(all[f]);
    }
    std::printf("all: %.1f below, %.1f within, %.1f above of %d; %d cures put, %d wrong\n", whole.percent(whole.below),
                whole.percent(whole.within), whole.percent(whole.above), whole.count(), put, wrong);
    std::printf("verdicts: %.1f right of %d\n", proved.percent(proved.within), proved.count());
    const bool proves = proved.percent(proved.within) >= 86 && proved.percent(proved.within) <= 97;
    const bool covers = whole.percent(whole.within) >= 86 && whole.percent(whole.within) <= 94 &&
                        whole.percent(whole.below) >= 3 && whole.percent(whole.below) <= 7 &&
                        whole.percent(whole.above) >= 3 && whole.percent(whole.above) <= 7;
    return wrong > 0 || !covers || !proves;
}
