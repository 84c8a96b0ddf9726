#include "core/proof/protocol.h"

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

Settings settings_of(const Protocol& protocol, const PlannedTest& test) {
    Settings out;
    for (const Setting& s : protocol.settings) out[s.spec.key] = s.usual;
    for (const Amount& a : test.settings)
        if (const auto at = out.find(a.of); at != out.end()) at->second = a.si;
    return out;
}

double read_to(const PlannedTest& test, const Channel& channel, double value) {
    const auto at = std::ranges::find(test.read_to, std::string(channel.spec.key), &Amount::of);
    return at == test.read_to.end() ? std::hypot(channel.read_to, channel.read_share * value) : at->si;
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
