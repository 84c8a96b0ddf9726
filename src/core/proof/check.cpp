#include "core/proof/check.h"

#include <algorithm>
#include <cmath>

namespace dervish::proof {
namespace {
void check_state(const PlannedTest& test, int state, const std::string& where) {
    const int count = static_cast<int>(test.states.size());
    if (state < 0 || state >= count)
        throw BadInput(where, std::to_string(state) + " is no state of this test",
                       "give 0 to " + std::to_string(count - 1));
}

void check_prediction(const Prediction& p, const Protocol* protocol, const std::string& where) {
    const std::size_t count = p.value.size();
    if (protocol && p.made && count != protocol->channels.size())
        throw BadInput(where + "/value_si", std::to_string(count) + " figures",
                       "this kind of test reads " + std::to_string(protocol->channels.size()));
    if (p.sigma.size() != count || p.tells.size() != count)
        throw BadInput(where, "lists of unlike length", "give as many sigma_si and tells as value_si");
    for (const double sigma : p.sigma)
        if (sigma < 0) throw BadInput(where + "/sigma_si", "a spread below 0", "give 0 or more");
    for (const int tells : p.tells)
        if (tells > PredictedNothing) throw BadInput(where + "/tells", std::to_string(tells), "give 0, 1 or 2");
    if (p.light_wheel > 3) throw BadInput(where + "/light_wheel", std::to_string(p.light_wheel), "give -1 to 3");
    for (const PredictedShare& share : p.shares)
        if (share.change.size() != count)
            throw BadInput(where + "/shares", "\"" + share.path + "\" has " + std::to_string(share.change.size()),
                           "give as many numbers as value_si");
}

void check_setting(const Protocol& protocol, const Amount& amount, const std::string& where) {
    const auto at = std::ranges::find_if(protocol.settings, [&](const Setting& s) { return s.spec.key == amount.of; });
    if (at == protocol.settings.end())
        throw BadInput(where, "\"" + amount.of + "\" is no setting of this kind of test", "take it out");
    const bool word = at->spec.word && amount.si == at->spec.word_value;
    const bool choice = !at->words.empty() && amount.si != std::floor(amount.si);
    if (!word && (choice || amount.si < at->spec.lowest || amount.si > at->spec.highest))
        throw BadInput(where, "\"" + amount.of + "\" of " + units::trimmed(amount.si, 6),
                       "give " + units::trimmed(at->spec.lowest, 6) + " to " + units::trimmed(at->spec.highest, 6) +
                           (at->words.empty() ? "" : ", a whole number"));
}
} // namespace

void check(const PlannedTest& test) {
    const Protocol* const protocol = protocol_of(test);
    const auto place = [](const char* list, std::size_t i) { return std::string(list) + "/" + std::to_string(i); };
    if (test.states.empty()) throw BadInput("states", "none", "a test is of one setup at least");
    for (std::size_t i = 0; i < test.states.size(); ++i)
        check_prediction(test.states[i].prediction, protocol, place("states", i) + "/prediction");
    for (std::size_t i = 0; i < test.order.size(); ++i) check_state(test, test.order[i], place("order", i));
    for (std::size_t i = 0; i < test.guesses.size(); ++i) {
        check_state(test, test.guesses[i].state, place("guesses", i) + "/state");
        check_state(test, test.guesses[i].than, place("guesses", i) + "/than");
    }
    for (std::size_t i = 0; protocol && i < test.settings.size(); ++i)
        check_setting(*protocol, test.settings[i], place("settings", i));
    for (std::size_t i = 0; i < test.read_to.size(); ++i)
        if (!(test.read_to[i].si > 0)) throw BadInput(place("read_to", i), "no spread", "give more than 0");
    for (std::size_t i = 0; i < test.runs.size(); ++i) {
        check_state(test, test.runs[i].state, place("runs", i) + "/state");
        for (std::size_t r = 0; protocol && r < test.runs[i].readings.size(); ++r)
            told_within(place("runs", i) + "/" + place("readings", r),
                        [&] { return channel_at(*protocol, test.runs[i].readings[r].channel); });
    }
}

} // namespace dervish::proof
