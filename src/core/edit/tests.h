#pragma once
#include "core/edit/readings.h"

/// Tests: planned, guessed, predicted, run, decided. Places are indices into the job's lists; what is not there changes
/// nothing.
namespace dervish::edit {
using namespace job;

/// What a test is to be: of which protocol, of which setups by name, asked what.
struct TestPlan {
    std::string name, date, question, protocol;
    Asks asks = Asks::SumOrCar;
    std::vector<Setup> setups; ///< none: Fitted
};
/// A test of the car as it is now, not yet predicted; its order with, without, with again.
void plan_test(Job& job, const TestPlan& plan);

/// The runs planned of so many states: each in turn, back to the first at the end, `times` over. Of one state: `times`
/// runs. Example: with_and_without(2, 2) is 0 1 0 1 0.
std::vector<int> with_and_without(std::size_t states, int times);
/// The same runs in an order drawn by lot, each state before and after another where there are enough runs.
std::vector<int> drawn_by_lot(std::vector<int> order, unsigned seed);
void set_order(Job& job, int test, const std::vector<int>& order, bool shuffled);

/// Takes a test off, with what waits for it; what waits for later ones moves along with them.
void remove_test(Job& job, int test);

void name_test(Job& job, int test, const std::string& name);
void set_question(Job& job, int test, Asks asks, const std::string& words);
void set_unknown(Job& job, int test, const std::string& path); ///< the input that Asks::Unknown is about
/// Before the prediction only.
void set_protocol(Job& job, int test, const std::string& protocol);
void add_state(Job& job, int test, const Setup& setup);
void remove_state(Job& job, int test, int state); ///< one stays
void set_setting(Job& job, int test, const std::string& key, double si);
void set_blind(Job& job, int test, bool blind);

/// Settings and spreads as typed; "settings/ramp_height", "read_to/height" (emptied: the usual one again).
std::string setting_key(int test, const std::string& key);
void type_setting(Job& job, int test, const FieldSpec& spec, const Entry& entry);
std::string read_to_key(int test, const std::string& channel);
void type_read_to(Job& job, int test, const FieldSpec& channel, const Entry& entry);

/// A guess of a person about a state; another of the same person about the same state takes its place.
void put_guess(Job& job, int test, const Guess& guess);
void remove_guess(Job& job, int test, int guess);
/// An order of all states from the most to the least, as typed by their letters: "B, A = C". Throws BadInput at "order"
/// where a letter is none of theirs, comes twice or is missing.
std::vector<Guess> ranking(const std::string& typed, const std::string& person, std::size_t states);
/// In place of what the person said before of one state beside another.
void put_ranking(Job& job, int test, const std::vector<Guess>& order);

/// The predictions of all states, made of the cars in `frozen` (the test as it was when they were made).
void freeze(Job& job, int test, const PlannedTest& frozen);

/// A run of the next state of the order, with driver and ground as in the last, aboard what its setup has. `felt`:
/// there is nothing to feel in it, so that its numbers are shown at once.
void begin_run(Job& job, int test, const std::string& time, bool felt);
void remove_run(Job& job, int test, int run);
void set_run_state(Job& job, int test, int run, int state);
enum class RunWords { Driver, Time, Ground, Note };
void set_run_words(Job& job, int test, int run, RunWords which, const std::string& words);
void set_aids(Job& job, int test, int run, bool on);
/// Whether a load of the car, by its id, was aboard in this run.
void set_aboard(Job& job, int test, int run, const std::string& load, bool on);
std::string condition_key(int test, int run, const std::string& key);
void type_condition(Job& job, int test, int run, const FieldSpec& spec, const Entry& entry);
/// A channel of a run as typed: "326", "> 450", "< 20"; emptied it goes.
std::string reading_key(int test, int run, const std::string& channel);
void type_reading(Job& job, int test, int run, const FieldSpec& channel, const Entry& entry);
/// Why a run, or one reading of it, does not count; empty: it counts again.
void discard(Job& job, int test, int run, const std::string& channel, const std::string& reason);
/// What a person felt, 0 to 10; nothing takes it back. That there was nothing to feel, or that all is typed.
void put_mark(Job& job, int test, int run, const std::string& person, const std::string& scale,
              std::optional<double> mark);
void set_felt(Job& job, int test, int run, bool felt);

/// The decision in words, what is ordered, when to look again: kept as it is typed. Deciding puts it into the book with
/// who objects; a voice agrees or objects.
void set_decision_words(Job& job, int test, const std::string& words, const std::string& ordered,
                        const std::string& look_again);
void decide(Job& job, int test, Decision::Kind kind, const std::string& date, double odometer);
void put_voice(Job& job, int test, const Voice& voice);
void remove_voice(Job& job, int test, int voice);

} // namespace dervish::edit
