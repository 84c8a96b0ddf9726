#include "core/edit/tests.h"

#include "core/edit/edits.h"
#include "core/edit/typing.h"

#include <algorithm>
#include <charconv>
#include <random>

namespace dervish::edit {
namespace {
PlannedTest* at(Job& job, int test) {
    return test >= 0 && test < static_cast<int>(job.tests.size()) ? &job.tests[static_cast<std::size_t>(test)]
                                                                  : nullptr;
}
Run* at(Job& job, int test, int run) {
    PlannedTest* t = at(job, test);
    return t && run >= 0 && run < static_cast<int>(t->runs.size()) ? &t->runs[static_cast<std::size_t>(run)] : nullptr;
}
/// Written in place, or taken out where nothing is given.
void put(std::vector<Amount>& amounts, const std::string& of, std::optional<double> si) {
    const auto found = std::ranges::find(amounts, of, &Amount::of);
    if (!si) {
        if (found != amounts.end()) amounts.erase(found);
    } else if (found != amounts.end()) {
        found->si = units::rounded(*si);
    } else {
        amounts.push_back({of, units::rounded(*si)});
    }
}
void type_amount(Job& job, std::vector<Amount>& amounts, const std::string& key, const FieldSpec& spec,
                 const Entry& entry) {
    take_or_wait(job, key, entry, [&] {
        std::optional<double> si;
        if (!nothing_in(entry.text)) si = parse(entry.text, spec, entry.system, key);
        put(amounts, spec.key, si);
    });
}
bool open(const PlannedTest& t) { return !t.predicted() && t.runs.empty(); }

/// Drafts that stand at or below a place go; those of later places of the list move down by one.
void close_up(Job& job, const std::string& list, int gone) {
    std::map<std::string, Draft> drafts;
    for (const auto& [key, draft] : job.drafts) {
        int of = -1;
        if (key.starts_with(list)) std::from_chars(key.data() + list.size(), key.data() + key.size(), of);
        if (of < gone)
            drafts[key] = draft;
        else if (of > gone)
            drafts[list + std::to_string(of - 1) + key.substr(key.find('/', list.size()))] = draft;
    }
    job.drafts = std::move(drafts);
}
} // namespace

void plan_test(Job& job, const TestPlan& plan) {
    PlannedTest t;
    t.name = plan.name;
    t.date = plan.date;
    t.question = plan.question;
    t.asks = plan.asks;
    t.protocol = plan.protocol;
    t.lines_before = static_cast<int>(job.book.size());
    const std::vector<Setup> setups = plan.setups.empty() ? std::vector{job.fitted} : plan.setups;
    for (const Setup& setup : setups) t.states.push_back({setup.name, {job.vehicle, setup}, {}});
    t.order = with_and_without(setups.size(), setups.size() == 1 ? 3 : 1);
    job.tests.push_back(std::move(t));
}

std::vector<int> with_and_without(std::size_t states, int times) {
    std::vector<int> out;
    for (int i = 0; i < times; ++i)
        for (std::size_t s = 0; s < states; ++s) out.push_back(static_cast<int>(s));
    if (states > 1) out.push_back(0);
    return out;
}

std::vector<int> drawn_by_lot(std::vector<int> order, unsigned seed) {
    std::mt19937 random(seed);
    const auto good = [](const std::vector<int>& of) { // the first state is run again after another one
        const auto other = std::ranges::find_if(of, [&](int s) { return s != of.front(); });
        return other == of.end() || std::find(other, of.end(), of.front()) != of.end();
    };
    if (order.empty()) return order;
    for (int tries = 0; tries < 50; ++tries) {
        for (std::size_t i = order.size(); i > 1; --i) std::swap(order[i - 1], order[random() % i]);
        if (good(order)) break;
    }
    return order;
}

void set_order(Job& job, int test, const std::vector<int>& order, bool shuffled) {
    PlannedTest* t = at(job, test);
    if (!t) return;
    t->order = order;
    t->shuffled = shuffled;
}

void name_test(Job& job, int test, const std::string& name) {
    if (PlannedTest* t = at(job, test)) t->name = name;
}

void set_question(Job& job, int test, Asks asks, const std::string& words) {
    if (PlannedTest* t = at(job, test)) {
        t->asks = asks;
        t->question = words;
    }
}

void set_unknown(Job& job, int test, const std::string& path) {
    if (PlannedTest* t = at(job, test)) t->unknown = path;
}

void set_protocol(Job& job, int test, const std::string& protocol) {
    PlannedTest* t = at(job, test);
    if (!t || !open(*t) || t->protocol == protocol) return;
    t->protocol = protocol;
    t->settings.clear();
    t->read_to.clear();
    std::erase_if(t->guesses, [](const Guess& g) { return g.kind == Guess::Kind::Number; }); // of another figure
    std::erase_if(job.drafts, [&](const auto& d) { return d.first.starts_with(test_key(test, "")); });
}

void add_state(Job& job, int test, const Setup& setup) {
    PlannedTest* t = at(job, test);
    if (!t || !open(*t)) return;
    std::string name = setup.name;
    const auto taken = [&] {
        return std::ranges::any_of(t->states, [&](const TestState& s) { return s.name == name; });
    };
    for (int n = 2; taken(); ++n) name = setup.name + " " + std::to_string(n);
    t->states.push_back({name, {job.vehicle, setup}, {}});
    t->order = with_and_without(t->states.size(), 1);
    t->shuffled = false;
}

void remove_state(Job& job, int test, int state) {
    PlannedTest* t = at(job, test);
    if (!t || !open(*t) || t->states.size() < 2 || state < 0 || state >= static_cast<int>(t->states.size())) return;
    t->states.erase(t->states.begin() + state);
    std::erase_if(t->guesses, [&](const Guess& g) {
        return g.state == state || (g.kind != Guess::Kind::Number && g.than == state);
    });
    for (Guess& g : t->guesses) {
        if (g.state > state) --g.state;
        if (g.than > state) --g.than;
    }
    t->order = with_and_without(t->states.size(), t->states.size() == 1 ? 3 : 1);
    t->shuffled = false;
}

void set_setting(Job& job, int test, const std::string& key, double si) {
    PlannedTest* t = at(job, test);
    if (!t || !open(*t)) return;
    put(t->settings, key, si);
}

void set_blind(Job& job, int test, bool blind) {
    if (PlannedTest* t = at(job, test)) t->blind = blind;
}

std::string setting_key(int test, const std::string& key) { return test_key(test, "settings/" + key); }
void type_setting(Job& job, int test, const FieldSpec& spec, const Entry& entry) {
    PlannedTest* t = at(job, test);
    if (t && open(*t)) type_amount(job, t->settings, setting_key(test, spec.key), spec, entry);
}

std::string read_to_key(int test, const std::string& channel) { return test_key(test, "read_to/" + channel); }
void type_read_to(Job& job, int test, const FieldSpec& channel, const Entry& entry) {
    PlannedTest* t = at(job, test);
    if (!t) return;
    FieldSpec spread = channel;
    spread.lowest = 1e-9;
    spread.highest = channel.highest - std::min(0.0, channel.lowest);
    type_amount(job, t->read_to, read_to_key(test, channel.key), spread, entry);
}

void put_guess(Job& job, int test, const Guess& guess) {
    PlannedTest* t = at(job, test);
    if (!t || t->predicted()) return;
    Guess g = guess;
    g.value = units::rounded(g.value);
    g.span = units::rounded(g.span);
    const auto same = std::ranges::find_if(t->guesses, [&](const Guess& o) {
        return o.person == g.person && o.state == g.state &&
               (o.kind == Guess::Kind::Number) == (g.kind == Guess::Kind::Number);
    });
    if (same != t->guesses.end())
        *same = g;
    else
        t->guesses.push_back(g);
}

void remove_guess(Job& job, int test, int guess) {
    PlannedTest* t = at(job, test);
    if (t && !t->predicted() && guess >= 0 && guess < static_cast<int>(t->guesses.size()))
        t->guesses.erase(t->guesses.begin() + guess);
}

std::vector<Guess> ranking(const std::string& typed, const std::string& person, std::size_t states) {
    const std::string accepted = "give all letters from the most to the least, like B, A = C";
    std::vector<Guess> out;
    std::vector<int> named;
    bool same = false;
    for (const char c : typed) {
        if (c == '=' && !named.empty()) {
            same = true;
        } else if (std::isalpha(static_cast<unsigned char>(c))) {
            const int state = std::toupper(static_cast<unsigned char>(c)) - 'A';
            if (state >= static_cast<int>(states))
                throw BadInput("order", std::string(1, c) + " is none of the setups", accepted);
            if (std::ranges::find(named, state) != named.end())
                throw BadInput("order", std::string(1, c) + " comes twice", accepted);
            if (!named.empty()) {
                Guess guess;
                guess.person = person;
                guess.state = state;
                guess.than = named.back();
                guess.kind = same ? Guess::Kind::Same : Guess::Kind::Less;
                out.push_back(guess);
            }
            named.push_back(state);
            same = false;
        } else if (c != ' ' && c != ',' && c != ';' && c != '>') {
            throw BadInput("order", "\"" + typed + "\" is no order", accepted);
        }
    }
    for (std::size_t s = 0; s < states; ++s)
        if (std::ranges::find(named, static_cast<int>(s)) == named.end())
            throw BadInput("order", std::string(1, static_cast<char>('A' + s)) + " is missing", accepted);
    return out;
}

void put_ranking(Job& job, int test, const std::vector<Guess>& order) {
    PlannedTest* t = at(job, test);
    if (!t || t->predicted() || order.empty()) return;
    std::erase_if(t->guesses,
                  [&](const Guess& g) { return g.person == order[0].person && g.kind != Guess::Kind::Number; });
    for (const Guess& guess : order) put_guess(job, test, guess);
}

void freeze(Job& job, int test, const PlannedTest& frozen) {
    PlannedTest* t = at(job, test);
    if (!t || t->predicted() || frozen.states.size() != t->states.size()) return;
    t->states = frozen.states;
    t->settings = frozen.settings;
    t->read_to = frozen.read_to;
}

void begin_run(Job& job, int test, const std::string& time, bool felt) {
    PlannedTest* t = at(job, test);
    if (!t || !t->predicted()) return;
    Run run;
    if (!t->runs.empty()) {
        const Run& last = t->runs.back();
        run.driver = last.driver;
        run.ground = last.ground;
    }
    run.time = time;
    run.felt = felt;
    const std::size_t place = t->runs.size();
    if (place < t->order.size()) run.state = t->order[place];
    run.aboard = t->states[static_cast<std::size_t>(run.state)].car.setup.aboard;
    run.aids_on = t->states[static_cast<std::size_t>(run.state)].car.setup.stability_aid;
    t->runs.push_back(run);
}

void remove_run(Job& job, int test, int run) {
    if (!at(job, test, run)) return;
    PlannedTest& t = *at(job, test);
    t.runs.erase(t.runs.begin() + run);
    close_up(job, test_key(test, "runs/"), run);
}

void set_run_state(Job& job, int test, int run, int state) {
    Run* r = at(job, test, run);
    if (r && state >= 0 && state < static_cast<int>(at(job, test)->states.size())) {
        r->state = state;
        r->aboard = at(job, test)->states[static_cast<std::size_t>(state)].car.setup.aboard;
    }
}

void set_run_words(Job& job, int test, int run, RunWords which, const std::string& words) {
    Run* r = at(job, test, run);
    if (!r) return;
    std::string* const places[] = {&r->driver, &r->time, &r->ground, &r->note};
    *places[static_cast<std::size_t>(which)] = words;
}

void set_aboard(Job& job, int test, int run, const std::string& load, bool on) {
    Run* r = at(job, test, run);
    if (!r) return;
    std::erase(r->aboard, load);
    if (on) r->aboard.push_back(load);
}

void set_aids(Job& job, int test, int run, bool on) {
    if (Run* r = at(job, test, run)) r->aids_on = on;
}

std::string run_key(int test, int run, const std::string& what) {
    return test_key(test, "runs/" + std::to_string(run) + "/" + what);
}
std::string condition_key(int test, int run, const std::string& key) { return run_key(test, run, "conditions/" + key); }
void type_condition(Job& job, int test, int run, const FieldSpec& spec, const Entry& entry) {
    if (Run* r = at(job, test, run)) type_amount(job, r->conditions, condition_key(test, run, spec.key), spec, entry);
}

std::string reading_key(int test, int run, const std::string& channel) { return run_key(test, run, channel); }
void type_reading(Job& job, int test, int run, const FieldSpec& channel, const Entry& entry) {
    Run* r = at(job, test, run);
    if (!r) return;
    take_or_wait(job, reading_key(test, run, channel.key), entry, [&] {
        const auto found = std::ranges::find(r->readings, std::string(channel.key), &Reading::channel);
        if (nothing_in(entry.text)) {
            if (found != r->readings.end()) r->readings.erase(found);
            return;
        }
        Entry words = entry;
        const auto first = words.text.find_first_not_of(" \t");
        const bool less = words.text[first] == '<';
        if (less) words.text[first] = '>'; // one grammar: what is behind either sign is read alike
        const Typed typed = parse_entry(words.text, channel, entry.system, "reading", true);
        Reading& to = found != r->readings.end() ? *found : r->readings.emplace_back(Reading{channel.key, 0, {}, {}});
        to.value = units::rounded(typed.value);
        to.bound = !typed.more_than ? Bound::Exact : less ? Bound::Less : Bound::More;
    });
}

void discard(Job& job, int test, int run, const std::string& channel, const std::string& reason) {
    Run* r = at(job, test, run);
    if (!r) return;
    if (channel.empty()) r->discarded = reason;
    for (Reading& reading : r->readings)
        if (reading.channel == channel) reading.discarded = reason;
}

void put_mark(Job& job, int test, int run, const std::string& person, const std::string& scale,
              std::optional<double> mark) {
    Run* r = at(job, test, run);
    if (!r) return;
    const auto same = std::ranges::find_if(r->impressions,
                                           [&](const Impression& i) { return i.person == person && i.scale == scale; });
    if (!mark) {
        if (same != r->impressions.end()) r->impressions.erase(same);
    } else if (same != r->impressions.end()) {
        same->mark = units::rounded(std::clamp(*mark, 0.0, 10.0));
    } else {
        r->impressions.push_back({person, scale, units::rounded(std::clamp(*mark, 0.0, 10.0))});
    }
}

void set_felt(Job& job, int test, int run, bool felt) {
    if (Run* r = at(job, test, run)) r->felt = felt;
}

void set_decision_words(Job& job, int test, const std::string& words, const std::string& ordered,
                        const std::string& look_again) {
    PlannedTest* t = at(job, test);
    if (!t) return;
    t->decision.words = words;
    t->decision.ordered = ordered;
    t->decision.look_again = look_again;
}

void decide(Job& job, int test, Decision::Kind kind, const std::string& date, double odometer) {
    PlannedTest* t = at(job, test);
    if (!t || kind == Decision::Kind::None) return;
    t->decision.kind = kind;
    t->decision.date = date;
    const Decision& decision = t->decision;
    std::string line = decision.words + " (test: " + t->name + ")";
    for (const Voice& v : decision.voices)
        if (!v.agrees) line += "; " + v.person + " objects" + (v.why.empty() ? "" : ": " + v.why);
    if (!decision.ordered.empty()) line += "; already ordered: " + decision.ordered;
    if (!decision.look_again.empty()) line += "; look again: " + decision.look_again;
    job::Entry entry{date, EntryKind::Decided, line, odometer, {}, t->states.front().car};
    if (job.book.empty() || !(job.book.read().back() == entry)) job.book.push_back(std::move(entry)); // said once
}

void put_voice(Job& job, int test, const Voice& voice) {
    PlannedTest* t = at(job, test);
    if (!t) return;
    auto& all = t->decision.voices;
    const auto same = std::ranges::find(all, voice.person, &Voice::person);
    if (same != all.end())
        *same = voice;
    else
        all.push_back(voice);
}

void remove_voice(Job& job, int test, int voice) {
    PlannedTest* t = at(job, test);
    if (t && voice >= 0 && voice < static_cast<int>(t->decision.voices.size()))
        t->decision.voices.erase(t->decision.voices.begin() + voice);
}

void remove_test(Job& job, int test) {
    if (!at(job, test)) return;
    job.tests.erase(job.tests.begin() + test);
    close_up(job, "tests/", test);
}

} // namespace dervish::edit
