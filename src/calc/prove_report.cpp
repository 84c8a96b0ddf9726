#include "calc/report.h"
#include "core/edit/tests.h"
#include "core/proof/predict.h"
#include "core/say/proof_words.h"

#include <algorithm>
#include <cmath>

namespace dervish::calc {
namespace {
using store::Json;
using units::System;

double half(double sigma) { return units::rounded(band_90 * sigma); }
std::string symbol(const proof::Channel& c) { return std::string(units::filed(c.spec.quantity).symbol); }
double in_unit(const proof::Channel& c, double si) { return units::rounded(si / units::filed(c.spec.quantity).factor); }

Json channel(const job::PlannedTest& t, int state, const proof::Protocol& p, std::size_t at) {
    const proof::Channel& c = p.channels[at];
    const job::Prediction& pr = t.states[static_cast<std::size_t>(state)].prediction;
    Json out = {{"channel", c.spec.key}, {"unit", symbol(c)}};
    if (pr.made && pr.tells[at] != job::PredictedNothing) {
        out[pr.tells[at] == job::PredictedMoreThan ? "predicted_more_than" : "predicted"] = in_unit(c, pr.value[at]);
        out["predicted_half_90"] = in_unit(c, half(pr.sigma[at]));
    }
    const proof::Verdict v = proof::compare(t, state, at);
    out["verdict"] = say::words_of(v.agreement);
    if (v.agreement == proof::Agreement::NothingRead) return out;
    out["read"] = in_unit(c, v.measured);
    out["read_half_90"] = in_unit(c, half(v.measured_sigma));
    out["readings"] = v.count;
    out["z"] = units::rounded(v.z);
    return out;
}

Json difference(const job::PlannedTest& t, const proof::Protocol& p, int other) {
    const proof::Channel& c = p.channels[0];
    Json out = {
        {"of", t.states[static_cast<std::size_t>(other)].name}, {"less", t.states[0].name}, {"unit", symbol(c)}};
    if (const auto b = proof::back_to_back(t, 0, 0, other)) {
        out["read"] = in_unit(c, b->difference);
        out["read_half_90"] = in_unit(c, b->half_90);
        out["two_days_half_90"] = in_unit(c, b->apart_half_90);
        if (b->drift) out["drift_a_run"] = in_unit(c, *b->drift);
        out["verdict"] = say::words_of(b->agreement);
        out["words"] = say::told(*b, t, 0, 0, other, System::Metric).headline;
        Json unequal = Json::array();
        for (const proof::Unlike what : proof::unlike(t, 0, other)) unequal.push_back(say::words_of(what));
        out["not_equal"] = unequal;
    }
    if (const auto sum = proof::predicted_difference(t, 0, 0, other)) {
        out["predicted"] = in_unit(c, sum->first);
        out["predicted_half_90"] = in_unit(c, half(sum->second));
    }
    if (const auto power = proof::power(t, 0, 0, other)) {
        out["chance_to_tell"] = units::rounded(power->chance);
        out["smallest_shown"] = in_unit(c, power->smallest);
    }
    return out;
}

Json one(const job::Job& job, const job::PlannedTest& t) {
    Json out = {{"name", t.name}, {"date", t.date}, {"protocol", t.protocol}, {"question", t.question}};
    const proof::Protocol* p = proof::protocol_of(t);
    if (!p) {
        out["verdict"] = "a kind of test that this version does not know";
        return out;
    }
    if (t.guess_open()) {
        out["verdict"] = "the guess is open: predict first";
        return out;
    }
    Json states = Json::array(), differences = Json::array(), guesses = Json::array();
    std::vector<job::Setup> setups{job.fitted, job.trial};
    setups.insert(setups.end(), job.kept.begin(), job.kept.end());
    for (int s = 0; s < static_cast<int>(t.states.size()); ++s) {
        Json channels = Json::array(), explained = Json::array();
        bool wrong = false;
        for (std::size_t c = 0; c < p->channels.size(); ++c) {
            channels.push_back(channel(t, s, *p, c));
            const auto agreement = proof::compare(t, s, c).agreement;
            wrong = wrong ||
                    (c == 0 && (agreement == proof::Agreement::Disagrees || agreement == proof::Agreement::Doubtful));
        }
        if (wrong) {
            for (const proof::Fault& f : proof::faults(t, s, setups)) {
                const say::Told told = say::told(f, t, System::Metric);
                explained.push_back({{"what", told.headline}, {"check", told.detail}});
            }
            for (const proof::Culprit& c : proof::culprits(t, s, 0)) explained.push_back({{"what", say::words_of(c)}});
        }
        Json state = {{"name", t.states[static_cast<std::size_t>(s)].name}, {"channels", channels}};
        if (wrong) state["would_explain"] = explained;
        states.push_back(state);
        if (s > 0 && !p->channels.empty()) differences.push_back(difference(t, *p, s));
    }
    for (const job::Guess& guess : t.guesses) guesses.push_back(say::words_of(guess, t, System::Metric));
    const proof::Whole whole = proof::compare(t);
    out["verdict"] = say::words_of(whole.agreement);
    if (const auto told = say::unknown_told(t, System::Metric))
        out["unknown"] = {{"input", t.unknown}, {"words", told->headline}};
    out["figures"] = whole.count;
    out["chance_if_right"] = units::rounded(whole.chance);
    out["states"] = states;
    out["differences"] = differences;
    out["guesses"] = guesses;
    if (t.decision.kind != job::Decision::Kind::None)
        out["decision"] = {{"kind", say::words_of(t.decision.kind)}, {"words", t.decision.words}};
    return out;
}
} // namespace

Json prove(const job::Job& job, int test) {
    const auto count = static_cast<int>(job.tests.size());
    if (test < 0 || test > count)
        throw BadInput("test", std::to_string(test) + " is not there", "give 1 to " + std::to_string(count));
    Json tests = Json::array(), eyes = Json::array();
    for (int i = 0; i < count; ++i)
        if (test == 0 || test == i + 1) tests.push_back(one(job, job.tests[static_cast<std::size_t>(i)]));
    for (const proof::Eye& e : proof::eyes(job)) eyes.push_back(say::words_of(e));
    return {{"tests", tests}, {"eyes", eyes}};
}

namespace {
/// How far readings narrow what is not known, in the input's unit.
void tell_unknown(Json& out, const proof::Narrowed& found) {
    const units::Unit unit = units::filed(found.spec.quantity);
    out["unknown_unit"] = unit.symbol;
    out["unknown_half_90"] = units::rounded(half(found.sigma) / unit.factor);
    out["left_half_90"] = units::rounded(half(found.left) / unit.factor);
}
} // namespace

Json plan(const job::Job& job, const Planned& planned) {
    constexpr const char* kinds[] = {"sum", "which", "changed", "unknown"};
    job::PlannedTest t;
    t.asks = static_cast<job::Asks>(std::find(std::begin(kinds), std::end(kinds), planned.asks) - std::begin(kinds));
    t.unknown = planned.unknown;
    const bool which = t.asks == job::Asks::Which;
    for (const char letter : planned.order) {
        if (letter != 'A' && letter != 'B')
            throw BadInput("order", "\"" + planned.order + "\"", "give letters A and B, like ABABA");
        t.order.push_back(letter - 'A');
    }
    if (which && !proof::spread_of_difference(t.order, 0, 1))
        throw BadInput("order", "\"" + planned.order + "\" does not run both", "give letters A and B, like ABABA");
    for (const std::string& name : {planned.first, planned.second}) {
        const job::Setup& setup = job::setup_named(job, name);
        t.states.push_back({setup.name, {job.vehicle, setup}, {}});
    }
    if (t.asks == job::Asks::Unknown) {
        const auto all = proof::unknowns(job.vehicle, t.states[0].car.setup);
        if (std::ranges::find(all, t.unknown, &proof::Unknown::path) == all.end()) {
            std::string some;
            for (const proof::Unknown& u : all) some += (some.empty() ? "" : ", ") + u.path;
            throw BadInput("unknown", "\"" + t.unknown + "\" is no input that is not sure", "give one of " + some);
        }
    }
    Json tests = Json::array();
    std::size_t done = 0;
    for (const proof::Protocol& p : proof::protocols()) {
        tell_progress(++done, proof::protocols().size());
        if (p.channels.empty() || (!planned.protocol.empty() && planned.protocol != p.key)) continue;
        t = proof::as_kind(t, p);
        Json one = {{"protocol", p.key},
                    {"name", p.name},
                    {"channel", p.channels[0].spec.key},
                    {"unit", symbol(p.channels[0])}};
        t = proof::predicted(t);
        const auto worth = proof::worth(t);
        if (!which && worth) {
            one[t.asks == job::Asks::Unknown ? "share_that_stays" : "smallest_share_shown"] =
                units::rounded(worth->figure);
            if (const auto left = proof::narrowed_as_planned(t); left && t.asks == job::Asks::Unknown)
                tell_unknown(one, *left);
        } else if (const auto power = which ? proof::power(t, 0, 0, 1) : std::nullopt) {
            one["predicted"] = in_unit(p.channels[0], power->predicted);
            one["predicted_half_90"] = in_unit(p.channels[0], half(power->predicted_sigma));
            one["smallest_shown"] = in_unit(p.channels[0], power->smallest);
            one["chance_to_tell"] = units::rounded(power->none() ? 0 : power->chance);
        } else {
            one["cannot"] = which ? "this car has no such figure in both setups" : "it tells nothing of this";
        }
        tests.push_back(one);
    }
    if (tests.empty()) proof::protocol(planned.protocol); // says what there is
    return {{"question", planned.question}, {"asks", planned.asks},   {"A", t.states[0].name},
            {"B", t.states[1].name},        {"order", planned.order}, {"tests", tests}};
}

} // namespace dervish::calc
