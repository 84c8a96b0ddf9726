#include "core/proof/protocol.h"
#include "core/job/usual.h"

#include <algorithm>
#include <cmath>

namespace dervish::proof {
#define DERVISH_PROTOCOL(name) Protocol name();
#include <all_protocols.inc>
#undef DERVISH_PROTOCOL

const std::vector<Protocol>& protocols() {
    static const std::vector<Protocol> all = [] {
        std::vector<Protocol> out{
#define DERVISH_PROTOCOL(name) name(),
#include <all_protocols.inc>
#undef DERVISH_PROTOCOL
        };
        std::ranges::stable_sort(out, {}, &Protocol::sort);
        return out;
    }();
    return all;
}

const Protocol* protocol_of(const PlannedTest& test) {
    const auto at = std::ranges::find_if(protocols(), [&](const Protocol& p) { return p.key == test.protocol; });
    return at == protocols().end() ? nullptr : &*at;
}

const Protocol& protocol(const std::string& key) {
    PlannedTest named;
    named.protocol = key;
    if (const Protocol* found = protocol_of(named)) return *found;
    std::string all;
    for (const Protocol& p : protocols()) all += (all.empty() ? "" : ", ") + std::string(p.key);
    throw BadInput("protocol", "\"" + key + "\" is no kind of test", "give one of " + all);
}

namespace {
double size_of(const PlannedTest& test) {
    const double track = test.states.empty() ? 0 : test.states[0].car.vehicle.front.track.value;
    return track > 0 ? job::size_of(track) : 1;
}

/// What a reading is good to by a tape goes with the size of the car; other tools stay what they are.
bool by_tape(const Channel& c) {
    return c.spec.quantity == units::Quantity::Length && c.spec.tool != job::Tool::Calliper;
}

/// What is usual of a car's size, of one of another.
double of_size(const FieldSpec& spec, double usual, double size) {
    using enum units::Quantity;
    const double by = spec.quantity == Length || spec.quantity == Distance ? size
                      : spec.quantity == Speed                             ? std::sqrt(size)
                      : spec.quantity == Force || spec.quantity == Mass    ? size * size * size
                                                                           : 1;
    if (by == 1 || usual == 0) return usual;
    const double round = std::pow(10, std::floor(std::log10(by * usual)) - 1); // to two figures
    return std::clamp(round * std::round(by * usual / round), spec.lowest, spec.highest);
}
} // namespace

Settings settings_of(const Protocol& protocol, const PlannedTest& test) {
    Settings out;
    for (const Setting& s : protocol.settings)
        out[s.spec.key] = of_size(s.spec, s.usual, test.predicted() ? 1 : size_of(test));
    for (const Amount& a : test.settings)
        if (const auto at = out.find(a.of); at != out.end()) at->second = a.si;
    return out;
}

double read_to(const PlannedTest& test, const Channel& channel, double value) {
    const auto at = std::ranges::find(test.read_to, std::string(channel.spec.key), &Amount::of);
    if (at != test.read_to.end()) return at->si;
    const double size = by_tape(channel) && !test.predicted() ? size_of(test) : 1;
    return std::hypot(size * channel.read_to, channel.read_share * value);
}

double apart(const PlannedTest& test, const Channel& channel) {
    return (by_tape(channel) ? size_of(test) : 1) * channel.apart;
}

PlannedTest said(PlannedTest test) {
    const Protocol& p = protocol(test.protocol);
    if (size_of(test) == 1 || test.predicted()) return test;
    const Settings settings = settings_of(p, test);
    for (const Setting& s : p.settings)
        if (std::ranges::find(test.settings, std::string(s.spec.key), &Amount::of) == test.settings.end())
            test.settings.push_back({s.spec.key, settings.at(s.spec.key)});
    for (const Channel& c : p.channels)
        if (by_tape(c) && c.read_share == 0 &&
            std::ranges::find(test.read_to, std::string(c.spec.key), &Amount::of) == test.read_to.end())
            test.read_to.push_back({c.spec.key, read_to(test, c, 0)});
    return test;
}

PlannedTest as_kind(PlannedTest test, const Protocol& protocol) {
    test.protocol = protocol.key;
    test.settings.clear();
    test.read_to.clear();
    test.runs.clear();
    for (TestState& state : test.states) state.prediction = {};
    return test;
}

std::size_t channel_at(const Protocol& protocol, const std::string& key) {
    for (std::size_t i = 0; i < protocol.channels.size(); ++i)
        if (protocol.channels[i].spec.key == key) return i;
    throw BadInput("channel", "\"" + key + "\" is not read in " + protocol.name, "give one of the test's own");
}

const std::vector<Scale>& drive_scales() {
    static const std::vector<Scale> all{{"entry", "Turning in", "pushes wide", "comes round"},
                                        {"middle", "Middle of the bend", "front slides", "rear slides"},
                                        {"exit", "Out, under power", "runs wide", "rear steps out"},
                                        {"lifted", "Throttle lifted", "nothing changes", "turns in hard"},
                                        {"steady", "Steadiness", "wanders", "runs straight"},
                                        {"roll", "Lean that is felt", "flat", "leans too much"},
                                        {"ride", "Ride", "rocks and jolts", "soft and quiet"},
                                        {"confidence", "Confidence", "none", "full"},
                                        {"accept", "Would live with it", "not at all", "fully"}};
    return all;
}

std::vector<Scale> scales_of(const Protocol& protocol) {
    std::vector<Scale> out = protocol.scales;
    if (protocol.sort == Sort::Driving || protocol.sort == Sort::Felt)
        out.insert(out.end(), drive_scales().begin(), drive_scales().end());
    else
        out.push_back(drive_scales().back());
    return out;
}

const std::vector<FieldSpec>& conditions() {
    using enum units::Quantity;
    static const std::vector<FieldSpec> all{{"cold_fl", "Front left, cold", Pressure, Tool::Test, 0, 1e6},
                                            {"cold_fr", "Front right, cold", Pressure, Tool::Test, 0, 1e6},
                                            {"cold_rl", "Rear left, cold", Pressure, Tool::Test, 0, 1e6},
                                            {"cold_rr", "Rear right, cold", Pressure, Tool::Test, 0, 1e6},
                                            {"hot_fl", "Front left, hot", Pressure, Tool::Test, 0, 1e6},
                                            {"hot_fr", "Front right, hot", Pressure, Tool::Test, 0, 1e6},
                                            {"hot_rl", "Rear left, hot", Pressure, Tool::Test, 0, 1e6},
                                            {"hot_rr", "Rear right, hot", Pressure, Tool::Test, 0, 1e6},
                                            {"temperature", "Temperature of the air, °C", Number, Tool::Test, -60, 70},
                                            {"fuel", "Fuel, litres", Number, Tool::Test, 0, 1000}};
    return all;
}

} // namespace dervish::proof
